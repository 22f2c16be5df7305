"""The nearest readable colour for one role, against all its counterparts at once, exact over 8-bit colours.

The RGB cube is halved again and again. A box is dropped when no colour in it can pass (luminance rises with
every channel), none has the hue, or none is nearer than the best found; what is left at single colours is
tried. So the answer is the nearest, and an empty search is a proof that no 8-bit colour passes.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from glaucon.core.colour.contrast import contrast_ratios
from glaucon.core.colour.gamut import levels
from glaucon.core.colour.oklab import (
    LMS_TO_LAB,
    RGB_TO_LMS,
    Floats,
    linear_from_srgb,
    oklab_from_oklch,
    oklab_from_srgb,
    oklch_from_oklab,
    srgb_from_oklab,
)
from glaucon.core.colour.value import Colour
from glaucon.core.reading.counterparts import Counterparts

HUE_TOLERANCE_DEGREES = 2.0
GREY_CHROMA = 0.02  # below it a colour is a grey, with a tint at most
TINGE = 0.002  # that a grey may leave its tint by: beside its neighbours more is seen as another colour
_NEUTRAL_CHROMA = 1e-4  # r = g = b; its hue is powerless (CSS Color 4, section 4.4)
_CHUNK = 4096


@dataclass(frozen=True, slots=True)
class Nearest:
    """The answer. `colour` is None where no 8-bit colour passes; then `split` says how to part the counterparts.

    `other_hue` is True where only another hue passes. `split` is two tuples of pairing indices: those that a
    dark colour serves and those that a light one does.
    """

    colour: Colour | None
    delta_e_ok: float | None
    other_hue: bool = False
    split: tuple[tuple[int, ...], tuple[int, ...]] | None = None


def nearest_readable(current: Colour, counterparts: Counterparts) -> Nearest:
    """Return the colour of least ΔE OK from `current` that reads against every counterpart.

    Within 2° of the hue first (a grey stays a grey), then any hue, flagged.
    """
    everything, counterparts = counterparts, counterparts.distinct()
    rounded = np.array(current.rounded().rgb)
    if bool(counterparts.passes(rounded[None])[0]):
        return Nearest(current.rounded().with_alpha(1.0), 0.0)
    lab = oklab_from_srgb(np.array(current.rgb))
    lch = oklch_from_oklab(lab)
    grey = lch[1] < GREY_CHROMA
    same_hue = _Search(lab, None if grey else float(lch[2]), counterparts, is_grey=bool(grey)).run()
    if same_hue is not None:
        return Nearest(same_hue[0], same_hue[1])
    any_hue = _Search(lab, None, counterparts).run()
    if any_hue is not None:
        return Nearest(any_hue[0], any_hue[1], other_hue=True)
    return Nearest(None, None, split=split_counterparts(everything))


class _Search:
    def __init__(
        self, lab: Floats, hue: float | None, counterparts: Counterparts, is_grey: bool = False
    ) -> None:  # fmt: skip
        self._lab = lab
        self._is_grey = is_grey
        self._counterparts = counterparts
        self._tangent = math.tan(math.radians(HUE_TOLERANCE_DEGREES))
        self._hue = hue
        angle = math.radians(hue or 0.0)
        # OKLab with a and b turned so that the hue lies along the second axis
        turn = np.array([[1, 0, 0], [0, math.cos(angle), math.sin(angle)], [0, -math.sin(angle), math.cos(angle)]])
        self._lms_to_turned = turn @ LMS_TO_LAB
        self._target = turn @ lab
        self._best: tuple[float, tuple[int, int, int]] | None = None

    def run(self) -> tuple[Colour, float] | None:
        """Return the nearest passing colour and its ΔE OK, or None."""
        self._first_guess()
        low = np.zeros((1, 3), dtype=np.int64)
        self._descend(low, 256)
        if self._best is None:
            return None
        distance, (r, g, b) = self._best
        return Colour(r / 255, g / 255, b / 255), distance

    def _first_guess(self) -> None:
        """Try greys and a coarse grid, so that far boxes are dropped early."""
        greys = np.repeat(np.arange(256)[:, None], 3, axis=1)
        self._offer(greys)
        lch = oklch_from_oklab(self._lab)
        lightness = np.clip(np.linspace(0, 1, 129), 0, 1)
        chroma = lch[1] * np.array([1.0, 0.95, 0.85, 0.7, 0.5, 0.25]) if lch[1] > 0 else np.array([0.0])
        grid = np.stack(np.meshgrid(lightness, chroma), axis=-1).reshape(-1, 2)
        full = np.concatenate([grid, np.full((len(grid), 1), lch[2])], axis=1)
        srgb = srgb_from_oklab(oklab_from_oklch(full))
        inside = srgb[((srgb >= 0) & (srgb <= 1)).all(axis=1)]
        self._offer(levels(inside).astype(np.int64))

    def _offer(self, levels: NDArray[np.int64]) -> None:
        """Keep the nearest of some 8-bit colours that have the hue and pass."""
        if not len(levels):
            return
        srgb = levels / 255
        turned = np.cbrt(linear_from_srgb(srgb) @ RGB_TO_LMS.T) @ self._lms_to_turned.T
        distance = np.linalg.norm(turned - self._target, axis=1)
        keep = self._has_hue(turned)
        if self._best is not None:
            keep &= distance < self._best[0]
        order = np.nonzero(keep)[0]
        order = order[np.argsort(distance[order], kind="stable")]
        for start in range(0, len(order), 64):
            some = order[start : start + 64]
            passing = self._counterparts.passes(srgb[some])
            if passing.any():
                first = some[int(np.argmax(passing))]
                r, g, b = (int(v) for v in levels[first])
                self._best = (float(distance[first]), (r, g, b))
                return

    def _has_hue(self, turned: Floats) -> NDArray[np.bool_]:
        if self._is_grey:
            return tinge_beyond(turned[:, 1:], self._target[1:]) <= TINGE
        if self._hue is None:
            return np.ones(len(turned), dtype=bool)
        along, across = turned[:, 1], np.abs(turned[:, 2])
        return np.asarray((across <= along * self._tangent) | (np.hypot(along, across) < _NEUTRAL_CHROMA))

    def _descend(self, low: NDArray[np.int64], size: int) -> None:
        """Go through boxes of one size, nearest first, halving what may hold a better colour."""
        low, bound = self._prune(low, size)
        if not len(low):
            return
        order = np.argsort(bound, kind="stable")
        low, bound = low[order], bound[order]
        if size == 1:
            self._offer(low)
            return
        half = size // 2
        corners = np.array([[r, g, b] for r in (0, half) for g in (0, half) for b in (0, half)])
        # Small sizes go all at once; large ones in nearest-first chunks so that a find drops the rest.
        chunk = 32 if size >= 16 else _CHUNK
        for start in range(0, len(low), chunk):
            part, part_bound = low[start : start + chunk], bound[start : start + chunk]
            if self._best is not None:
                part = part[part_bound < self._best[0]]
            if len(part):
                self._descend((part[:, None, :] + corners).reshape(-1, 3), half)

    def _prune(self, low: NDArray[np.int64], size: int) -> tuple[NDArray[np.int64], Floats]:
        high = low + (size - 1)
        lms_low = np.cbrt(linear_from_srgb(low / 255) @ RGB_TO_LMS.T)
        lms_high = np.cbrt(linear_from_srgb(high / 255) @ RGB_TO_LMS.T)
        matrix = self._lms_to_turned.T
        up, down = np.maximum(matrix, 0), np.minimum(matrix, 0)
        least, most = lms_low @ up + lms_high @ down, lms_high @ up + lms_low @ down
        gap = np.maximum(np.maximum(least - self._target, self._target - most), 0)
        bound = np.linalg.norm(gap, axis=1)
        keep = np.ones(len(low), dtype=bool)
        if self._best is not None:
            keep &= bound < self._best[0]
        if self._hue is not None:
            reach = np.maximum(most[:, 1], 0) * self._tangent
            slack = _NEUTRAL_CHROMA
            keep &= (least[:, 2] <= reach + slack) & (most[:, 2] >= -reach - slack) & (most[:, 1] >= -slack)
        if self._is_grey:
            ends = np.array([self._target[1:], np.zeros(2)])
            off = np.maximum(np.maximum(least[:, 1:] - ends.max(axis=0), ends.min(axis=0) - most[:, 1:]), 0)
            keep &= np.hypot(off[:, 0], off[:, 1]) <= TINGE
        kept = np.nonzero(keep)[0]
        may = self._counterparts.may_pass(low[kept] / 255, high[kept] / 255)
        kept = kept[may]
        return low[kept], bound[kept]


def tinge_beyond(ab: Floats, own: Floats) -> Floats:
    """Return how far OKLab's a and b, shape (n, 2), are from those of a grey and all that are greyer, shape (2,)."""
    length = float(own @ own)
    share = np.clip(ab @ own / length, 0, 1) if length > 0 else np.zeros(len(ab))
    return np.asarray(np.linalg.norm(ab - share[:, None] * own, axis=1))


def split_counterparts(counterparts: Counterparts) -> tuple[tuple[int, ...], tuple[int, ...]]:
    """Return which pairings a dark colour serves, and which of the others a light one does.

    Used where no colour serves all: giving one of the two a colour of its own is the way out.
    """
    greys = np.repeat(np.linspace(0, 1, 256)[:, None], 3, axis=1)
    words = greys[:, None, :] * counterparts.words_a + counterparts.words_b
    ground = greys[:, None, :] * counterparts.ground_a + counterparts.ground_b
    ratios = contrast_ratios(words, ground) / counterparts.required
    served = ratios >= 1 - 1e-9  # (greys, rows)
    dark, light = served[:128].sum(axis=1), served[128:].sum(axis=1)
    by_dark = served[:128][int(np.argmax(dark))]
    by_light = served[128:][int(np.argmax(light))]
    first = sorted({int(p) for p in counterparts.pairing[by_dark]})
    second = sorted({int(p) for p in counterparts.pairing[by_light]} - set(first))
    return tuple(first), tuple(second)
