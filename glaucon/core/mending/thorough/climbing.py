"""Colours of any hue under which rows read, come upon by climbing: cheap, and no proof where it finds none.

Many climbers follow the gradient of how far rows fall short (Adam, Kingma and Ba 2015). Every so often the worse half
takes the places of the better half with one role thrown anew, which is how a row changes from dark on light to light
on dark.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from glaucon.core.colour.contrast import contrast_ratios, relative_luminance
from glaucon.core.colour.gamut import eight_bit
from glaucon.core.colour.oklab import Floats
from glaucon.core.mending.thorough import mixtures
from glaucon.core.mending.thorough.boxes import CLOSE
from glaucon.core.mending.thorough.joint import Spots

_CLIMBERS = 192
_STEPS = 320
_SELECTED_EVERY = 40
_FASTEST, _SLOWEST = 0.08, 0.01  # of a channel, in a step
_SPARE = 2e-3  # log contrast beyond what is required, so that rounding to 8 bits keeps it


def climbed(spots: Spots, bounds: Floats, start: Floats | None = None) -> Floats | None:
    """Return 8-bit colours of any hue under which all rows read, if climbing from many starts comes upon some."""
    dice = np.random.default_rng(0)
    slope = _Slope.of(spots, bounds)
    at = dice.random((_CLIMBERS, len(slope.used), 3))
    at[::2] = at[::2].round()
    if start is not None:
        at[::3] = start[slope.used]
    whole = np.repeat(mixtures.grey(bounds.mean(axis=1))[None], _CLIMBERS, axis=0)
    mean, square = np.zeros_like(at), np.zeros_like(at)
    for step in range(_STEPS):
        whole[:, slope.used] = eight_bit(at)
        reads = all_read(spots, whole, bounds)
        if reads.any():
            return np.asarray(whole[int(np.argmax(reads))])
        wrong, gradient = slope.at(at)
        since = step % _SELECTED_EVERY
        if step and since == 0:
            worse, anew = _selected(at, wrong, dice)
            at[worse], mean[worse], square[worse] = anew, 0, 0
            _, gradient = slope.at(at)
        mean, square = 0.9 * mean + 0.1 * gradient, 0.98 * square + 0.02 * gradient**2
        pace = _FASTEST + (_SLOWEST - _FASTEST) * since / _SELECTED_EVERY
        at = np.clip(at - pace * mean / (np.sqrt(square) + 1e-8), 0, 1)
    return None


def _selected(at: Floats, wrong: Floats, dice: np.random.Generator) -> tuple[NDArray[np.int64], Floats]:
    """Return which climbers give up, and where they go on: where better ones are, but for one role."""
    order = np.argsort(wrong)
    half = len(order) // 2
    anew = at[order[:half]]
    role = dice.integers(at.shape[1], size=half)
    thrown = dice.random((half, 3))
    anew[np.arange(half), role] = np.where(dice.random((half, 1)) < 0.5, thrown, thrown.round())
    return order[-half:], anew


@dataclass(frozen=True, slots=True)
class _Slope:
    """By how much rows fall short and roles leave their bounds, in log contrast, and which way is up."""

    spots: Spots
    used: NDArray[np.int64]
    share: Floats
    low: Floats
    high: Floats

    @classmethod
    def of(cls, spots: Spots, bounds: Floats) -> _Slope:
        """Return the rows made ready for the roles they use."""
        used = np.nonzero(np.abs(spots.share).max(axis=(0, 1, 3)) > 0)[0]
        low, high = (np.log(bounds[used, end] + 0.05) for end in (0, 1))
        return cls(spots, used, spots.share[:, :, used], low, high)

    def at(self, colours: Floats) -> tuple[Floats, Floats]:
        """Return what is wrong with colours, shape (n, used, 3), as (n,), and its gradient by each channel."""
        seen = np.clip(np.einsum("sirc,nrc->nsic", self.share, colours) + self.spots.still, 0, 1)
        light, own = relative_luminance(seen) + 0.05, relative_luminance(colours) + 0.05
        apart = np.log(light[:, 0]) - np.log(light[:, 1])
        short = np.log(self.spots.required) + _SPARE - np.abs(apart)
        under, over = self.low - np.log(own), np.log(own) - self.high
        wrong = short.clip(0).sum(axis=1) + 3 * (under.clip(0) + over.clip(0)).sum(axis=1)
        toward = ((short > 0) * np.where(apart < 0, -1.0, 1.0))[..., None]
        steep = _steepness(seen) / light[..., None]
        each = np.stack([-toward * steep[:, 0], toward * steep[:, 1]], axis=1)
        gradient = np.einsum("sirc,nsic->nrc", self.share, each)
        gradient += 3 * ((over > 0).astype(float) - (under > 0))[..., None] * _steepness(colours) / own[..., None]
        return wrong, gradient


def _steepness(channels: Floats) -> Floats:
    """Return how luminance rises with each channel: the derivative of sRGB's curve, weighted."""
    curve = np.where(channels <= 0.04045, 1 / 12.92, 2.4 / 1.055 * ((channels + 0.055) / 1.055) ** 1.4)
    return np.asarray(curve * mixtures.WEIGHTS)


def all_read(spots: Spots, colours: Floats, bounds: Floats) -> NDArray[np.bool_]:
    """Return under which colours, shape (n, roles, 3), all rows read and all roles keep to their bounds."""
    seen = np.einsum("sirc,brc->bsic", spots.share, colours) + spots.still
    seen = np.clip(seen, 0, 1)
    ratio = contrast_ratios(seen[:, 0], seen[:, 1])
    own = relative_luminance(colours)
    kept = ((own >= bounds[:, 0] - 1e-9) & (own <= bounds[:, 1] + 1e-9)).all(axis=1)
    return kept & np.asarray((ratio >= spots.required * CLOSE).all(axis=1))
