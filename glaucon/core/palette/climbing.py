"""Colours of any hue under which rows read, come upon by climbing: cheap, and no proof where it finds none."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from glaucon.core.colour.contrast import relative_luminance
from glaucon.core.colour.oklab import Floats
from glaucon.core.palette import mixtures
from glaucon.core.palette.boxes import CLOSE
from glaucon.core.palette.joint import Spots

_CLIMBERS = 96
_STEPS = 240


def climbed(spots: Spots, bounds: Floats, start: Floats | None = None) -> Floats | None:
    """Return 8-bit colours of any hue under which all rows read, if climbing from many starts comes upon some."""
    dice = np.random.default_rng(0)
    used = np.nonzero(np.abs(spots.share).max(axis=(0, 1, 3)) > 0)[0]
    at = dice.random((_CLIMBERS, spots.share.shape[2], 3))
    at[::2] = at[::2].round()
    at = np.floor(at * 255 + 0.5) / 255
    others = np.setdiff1d(np.arange(at.shape[1]), used)
    at[:, others] = mixtures.grey(bounds[others].mean(axis=1))
    if start is not None:
        at[::3] = start
    wrong, step = _wrong(spots, bounds, used, at), 0.4
    members = np.arange(_CLIMBERS)
    for _ in range(_STEPS):
        if wrong.min() <= 0:
            found = at[wrong <= 0]
            reads = all_read(spots, found, bounds)
            if reads.any():
                return np.asarray(found[int(np.argmax(reads))])
        tried = at.copy()
        role = used[dice.integers(len(used), size=_CLIMBERS)]
        change = dice.normal(0, step, (_CLIMBERS, 3)) * (dice.random((_CLIMBERS, 3)) < 0.6)
        tried[members, role] = np.floor(np.clip(tried[members, role] + change, 0, 1) * 255 + 0.5) / 255
        now = _wrong(spots, bounds, used, tried)
        better = now <= wrong
        at[better], wrong = tried[better], np.where(better, now, wrong)
        step = max(0.01, step * 0.985)
    return None


def _wrong(spots: Spots, bounds: Floats, used: NDArray[np.int64], colours: Floats) -> Floats:
    """Return by how much rows fall short and roles leave their bounds, in log contrast, shape (n,)."""
    seen = np.einsum("sirc,nrc->nsic", spots.share, colours) + spots.still
    light = np.log(relative_luminance(np.clip(seen, 0, 1)) + 0.05)
    short = (np.log(spots.required) - np.abs(light[:, 0] - light[:, 1])).clip(0).sum(axis=1)
    own = np.log(relative_luminance(colours[:, used]) + 0.05)
    low, high = (np.log(bounds[used, end] + 0.05) for end in (0, 1))
    return np.asarray(short + 3 * ((low - own).clip(0) + (own - high).clip(0)).sum(axis=1))


def all_read(spots: Spots, colours: Floats, bounds: Floats) -> NDArray[np.bool_]:
    """Return under which colours, shape (n, roles, 3), all rows read and all roles keep to their bounds."""
    seen = np.einsum("sirc,brc->bsic", spots.share, colours) + spots.still
    light = relative_luminance(np.clip(seen, 0, 1)) + 0.05
    ratio = np.maximum(light[:, 0], light[:, 1]) / np.minimum(light[:, 0], light[:, 1])
    own = relative_luminance(colours)
    kept = ((own >= bounds[:, 0] - 1e-9) & (own <= bounds[:, 1] + 1e-9)).all(axis=1)
    return kept & np.asarray((ratio >= spots.required * CLOSE).all(axis=1))
