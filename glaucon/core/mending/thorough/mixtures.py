"""The least and most luminance of a mixture, when only its parts' luminances are known.

Colours are mixed in gamma space. sRGB's curve is h ^ 2.4 of h = (v + 0.055) / 1.055 but for its straight start, which
lies under that by less than `TOE`. A weighted power mean of exponent 1 / 2.4 is concave in its parts (Minkowski), and
so is what the straight start takes off it, as a falling convex function of something concave, but for the last of it
(`_BEND`). A mixture is therefore lightest when its parts are greys, and darkest at a corner of what their luminances
allow: in each part all channels but one are empty or full.
"""

from __future__ import annotations

from itertools import product

import numpy as np
from numpy.typing import NDArray

from glaucon.core.colour.oklab import Floats, linear_from_srgb, srgb_from_linear

GAMMA = 2.4
TOE = 8.5e-4
_BEND = 2e-6
WEIGHTS = np.array([0.2126, 0.7152, 0.0722])
_EMPTY = (0.055 / 1.055) ** GAMMA
# which channel is free, and what the other two are: the corners of all colours of one luminance
_CORNERS = [(free, ends) for free in range(3) for ends in product((False, True), repeat=2)]


def alone(share: Floats, light: Floats | float) -> Floats:
    """Return the least luminance that a part of a mixture gives over black, by its own luminance.

    What is over black's is superadditive in the parts, and concave in each part's luminance, so that a share of it is
    at least in proportion.
    """
    full = ((0.055 + share) / 1.055) ** GAMMA - _EMPTY
    return np.asarray(np.where(share > 1 - 1e-9, light, full * np.maximum(np.asarray(light) - TOE, 0)))


def most(share: Floats, light: Floats) -> Floats:
    """Return the most luminance of mixtures: of greys as light as the parts, on the last axis of both."""
    return np.asarray((share * (light + TOE) ** (1 / GAMMA)).sum(axis=-1) ** GAMMA)


def least(share: Floats, light: Floats, rest: float, still: Floats) -> Floats:
    """Return the least luminance of mixtures of one or two parts, whose luminances are `light` or more.

    Shapes: `share` (parts,), `light` (n, parts); `rest` is the share of a colour that is known, `still` (3,) or (n, 3).
    """
    fixed = rest * (np.broadcast_to(still, (len(light), 3)) + 0.055) / 1.055
    found = fixed[:, None]
    may = np.ones((len(light), 1), dtype=bool)
    for part, amount in enumerate(share):
        corners, is_real = _corners(np.maximum(light[:, part], _EMPTY), _EMPTY)
        found = (found[:, :, None] + amount * corners[:, None] ** (1 / GAMMA)).reshape(len(light), -1, 3)
        may = (may[:, :, None] & is_real[:, None]).reshape(len(light), -1)
    mixed = np.asarray(linear_from_srgb(np.clip(found * 1.055 - 0.055, 0, 1))) @ WEIGHTS
    return np.asarray(np.where(may, mixed, 2.0).min(axis=1) - _BEND).clip(0, 1)


def grey(light: Floats) -> Floats:
    """Return the greys of some luminances, shape (..., 3)."""
    level = np.clip(srgb_from_linear(np.clip(light, 0, 1)), 0, 1)
    return np.asarray(np.repeat(level[..., None], 3, axis=-1))


def _corners(light: Floats, empty: float) -> tuple[Floats, NDArray[np.bool_]]:
    """Return linear colours, shape (n, 12, 3), whose weighted sum is `light`, and which of them there are."""
    found = np.empty((len(light), len(_CORNERS), 3))
    for number, (free, ends) in enumerate(_CORNERS):
        others = [channel for channel in range(3) if channel != free]
        level = [1.0 if is_full else empty for is_full in ends]
        found[:, number, others] = level
        found[:, number, free] = (light - WEIGHTS[others] @ level) / WEIGHTS[free]
    is_real = ((found >= empty - 1e-9) & (found <= 1 + 1e-9)).all(axis=2)
    return np.clip(found, empty, 1), np.asarray(is_real)
