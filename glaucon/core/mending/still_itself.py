"""What a colour may become when it is fixed so that the site is still itself: the limits, stated once.

A colourful colour keeps its hue and most of its colour, and moves little where it did not fail itself; nothing turns
nearly black or nearly white that was not; wide backgrounds hardly move, and panels still differ from the page. All
distances are ΔE OK, all lightness and chroma OKLCH.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from glaucon.core.colour.oklab import Floats, oklab_from_srgb, oklch_from_oklab
from glaucon.core.reading.candidates import Candidates, candidates_of

COLOURFUL = 0.06  # chroma from which a colour is one by which a site is known
KEPT_CHROMA = 0.7  # of a colourful colour's own
KEPT_HUE = 8.0  # degrees
FARTHEST = 0.15  # that a colourful colour moves which does not fail itself, and any button's background
FARTHEST_WIDE = 0.05  # that the background of a page or a wide section moves
BESIDE, KEPT_APART = 0.1, 0.5  # how near to the page's a background is a panel; what it keeps of that distance
STANDS_OUT = 0.04  # that a state differs from rest, where it did
LOUDER = 1.25  # contrast by which one text is louder than another on the same background
HARDLY = 0.99  # of a contrast: less of a difference nobody sees
NUDGE = 0.05  # that a text may move only to stay louder than another
BLACK, WHITE = 0.2, 0.95  # lightness beyond which a colour is nearly black, or nearly white
_COARSE = 72


@dataclass(frozen=True, slots=True)
class Choices:
    """Colours that one colour may become, shape (n, 3) of sRGB, how far each is, and which of them leave its nature."""

    colours: Floats
    delta_e_ok: Floats
    is_other: NDArray[np.bool_]

    def __len__(self) -> int:
        return len(self.delta_e_ok)

    def only(self, keep: NDArray[np.bool_]) -> Choices:
        """Return some of the choices."""
        return Choices(self.colours[keep], self.delta_e_ok[keep], self.is_other[keep])


@lru_cache(maxsize=1024)
def choices_of(rgb: tuple[float, float, float], farthest: float = np.inf) -> Choices:
    """Return what a colour (sRGB) may become, no farther than `farthest`, the colour itself among it.

    `is_other` marks those that give its nature up: nearly black or white where it was not, or with too little of its
    colour left. They are for text that nothing else makes readable.
    """
    some = _spread(candidates_of(rgb))
    own = oklch_from_oklab(oklab_from_srgb(np.array([rgb])))[0]
    lch = oklch_from_oklab(oklab_from_srgb(some.colours))
    other = ((lch[:, 0] < BLACK) & (own[0] >= BLACK)) | ((lch[:, 0] > WHITE) & (own[0] <= WHITE))
    if own[1] >= COLOURFUL:
        turned = np.abs((lch[:, 2] - own[2] + 180) % 360 - 180)
        other |= (lch[:, 1] < KEPT_CHROMA * own[1] - 1e-6) | (turned > KEPT_HUE)
    other &= some.delta_e_ok > 0
    found = Choices(some.colours, some.delta_e_ok, other)
    return found.only(found.delta_e_ok <= farthest + 1e-9)


def is_colourful(rgb: tuple[float, float, float]) -> bool:
    """Return whether a colour is one by which a site is known."""
    return float(oklch_from_oklab(oklab_from_srgb(np.array([rgb])))[0, 1]) >= COLOURFUL


def _spread(some: Candidates) -> Candidates:
    """Return candidates evenly spread in contrast, denser near the colour itself."""
    if len(some) <= _COARSE * 2:
        return some
    contrast = np.log(some.luminance + 0.05)
    own = int(np.argmin(some.delta_e_ok))
    far = np.searchsorted(contrast, np.linspace(contrast[0], contrast[-1], _COARSE)).clip(0, len(some) - 1)
    near = np.arange(max(0, own - _COARSE), min(len(some), own + _COARSE), 2)
    return some.only(np.unique(np.concatenate([far, near, [own]])))
