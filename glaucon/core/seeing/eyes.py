"""Colours as other eyes see them: weak colour vision, none, glare, a dimmed screen.

Each is a matrix on linear sRGB. Colour weakness: G. M. Machado, M. M. Oliveira, L. A. F. Fernandes, "A
physiologically-based model for simulation of color vision deficiency", IEEE TVCG 15(6), 2009, whose tables are taken
from `coloraide`. Grey keeps luminance (WCAG's); sun adds reflected light, which no colour is darker than; night takes
most of the light away and leaves that of the room.
"""

from __future__ import annotations

from functools import lru_cache
from typing import Literal, get_args

import numpy as np
from coloraide import Color
from numpy.typing import NDArray

from glaucon.core.colour.oklab import Floats, linear_from_srgb, srgb_from_linear

Eye = Literal["protan", "deutan", "tritan", "grey", "blurred", "sun", "night"]
EYES: tuple[Eye, ...] = get_args(Eye)
_LUMINANCE = np.array([0.2126, 0.7152, 0.0722])
_GLARE = 0.3  # light of the sun on a screen, as a share of the screen's own white
_DIMMED, _ROOM = 0.92, 0.006
_BLUR_PX = 4.0  # about what an acuity of 0.2 leaves of text of 16 pixels


@lru_cache(maxsize=256)
def matrix_of(eye: Eye, strength: float) -> NDArray[np.float64]:
    """Return the simulation of an eye on linear sRGB, shape (3, 4): a 3 by 3 matrix and a column that is added.

    `strength` is 0 (no effect) to 1.
    """
    strength = min(1.0, max(0.0, strength))
    if eye in ("protan", "deutan", "tritan"):
        units = (Color("srgb-linear", unit) for unit in np.eye(3).tolist())
        seen = [
            one.filter(eye, strength, method="machado", space="srgb-linear", out_space="srgb-linear") for one in units
        ]
        return np.column_stack([*(one.coords() for one in seen), np.zeros(3)])
    whole = np.column_stack([np.eye(3), np.zeros(3)])
    if eye == "grey":
        grey = np.column_stack([np.tile(_LUMINANCE, (3, 1)), np.zeros(3)])
        return (1 - strength) * whole + strength * grey
    if eye == "sun":
        glare = _GLARE * strength
        return np.column_stack([np.eye(3), np.full(3, glare)]) / (1 + glare)
    if eye == "night":
        return np.column_stack([(1 - _DIMMED * strength) * np.eye(3), np.full(3, _ROOM * strength)])
    return whole


def blur_px(eye: Eye, strength: float) -> float:
    """Return how much a page is blurred for an eye, the standard deviation in CSS pixels."""
    return _BLUR_PX * strength if eye == "blurred" else 0.0


def seen(srgb: Floats, eye: Eye, strength: float) -> Floats:
    """Return sRGB colours, shape (n, 3), as an eye sees them."""
    matrix = matrix_of(eye, round(float(strength), 3))
    light = linear_from_srgb(srgb) @ matrix[:, :3].T + matrix[:, 3]
    return srgb_from_linear(np.clip(light, 0, 1))
