"""A small checker of proofs that some rows cannot all read, apart from the core's own search.

It halves boxes of luminances, one a role, and bounds each row by itself: a mixture in gamma space is never lighter than
the mixture of greys as light as its parts, and never darker than its parts one by one. Up to two roles it may halve
the channels instead, where the corners of a box bound a ratio exactly.
"""

from __future__ import annotations

from itertools import product

import numpy as np

from glaucon.core.palette.joint import Spots

_MOST = 400_000


def light_of(channels: np.ndarray) -> np.ndarray:
    linear = np.where(channels <= 0.04045, channels / 12.92, ((channels + 0.055) / 1.055) ** 2.4)
    return linear @ np.array([0.2126, 0.7152, 0.0722])


def is_impossible(spots: Spots, bounds: np.ndarray) -> bool:
    """Return whether no colours let every row read, every role within its bounds of luminance."""
    used = [r for r in range(spots.share.shape[2]) if np.abs(spots.share[:, :, r]).max() > 0]
    if not used:
        return bool((spots.margins(np.zeros((spots.share.shape[2], 3))) < 1 - 1e-9).any())
    return _by_light(spots, used, bounds[used]) or (len(used) <= 2 and _by_channel(spots, used, bounds[used]))


def _by_light(spots: Spots, used: list[int], bounds: np.ndarray) -> bool:
    share = spots.share[..., 0]
    if np.abs(spots.share - share[..., None]).max() > 1e-9 or share.min() < 0:
        return False
    share = share[:, :, used]
    rest = (1 - share.sum(axis=2)).clip(0)
    fixed = light_of(np.clip(spots.still / np.where(rest > 1e-9, rest, 1)[..., None], 0, 1))
    stack = [(bounds[:, 0].copy(), bounds[:, 1].copy())]
    for _ in range(_MOST):
        if not stack:
            return True
        low, high = stack.pop()
        bounds = [_side(share[side], rest[side], fixed[side], low, high) for side in (0, 1)]
        best = np.maximum(bounds[0][1] / bounds[1][0], bounds[1][1] / bounds[0][0])
        if (best < spots.required * (1 - 1e-9)).any():
            continue
        width = np.log((high + 0.05) / (low + 0.05))
        wide = int(np.argmax(width))
        if width[wide] < 2e-4:
            return False
        middle = np.sqrt((low[wide] + 0.05) * (high[wide] + 0.05)) - 0.05
        lower, upper = high.copy(), low.copy()
        lower[wide] = upper[wide] = middle
        stack += [(low, lower), (upper, high)]
    return False


def _side(share: np.ndarray, rest: np.ndarray, fixed: np.ndarray, low: np.ndarray, high: np.ndarray):  # type: ignore[no-untyped-def]
    pure = np.maximum(share.max(axis=1), rest) > 1 - 1e-9
    toe = np.where(pure, 0.0, 8.5e-4)
    over_black = [np.where(a < 1, ((0.055 + a) / 1.055) ** 2.4 - (0.055 / 1.055) ** 2.4, 1.0) for a in (share, rest)]
    least = np.where(share > 0, over_black[0], 0) * (low[None] - toe[:, None]).clip(0)
    least = least.sum(axis=1) + np.where(rest > 0, over_black[1], 0) * (fixed - toe).clip(0)
    most = ((share * (high[None] + toe[:, None]) ** (1 / 2.4)).sum(axis=1) + rest * (fixed + toe) ** (1 / 2.4)) ** 2.4
    return least.clip(0, 1) + 0.05, most.clip(0, 1) + 0.05


def _by_channel(spots: Spots, used: list[int], bounds: np.ndarray) -> bool:
    share = spots.share[:, :, used]
    size = len(used) * 3
    low, high = np.zeros((1, size)), np.ones((1, size))
    done = 0
    while len(low):
        done += len(low)
        if done > _MOST:
            return False
        alive = np.ones(len(low), dtype=bool)
        ends = []
        for one, other in ((low, high), (high, low)):
            a, b = (part.reshape(-1, len(used), 3) for part in (one, other))
            seen = np.einsum("sirc,nrc->nsic", share.clip(0), a) + np.einsum("sirc,nrc->nsic", share.clip(None, 0), b)
            ends.append(light_of(np.clip(seen + spots.still, 0, 1)) + 0.05)
        best = np.maximum(ends[1][:, 0] / ends[0][:, 1], ends[1][:, 1] / ends[0][:, 0])
        alive = (best >= spots.required * (1 - 1e-9)).all(axis=1)
        least, most = (light_of(end.reshape(-1, len(used), 3)) for end in (low, high))
        alive &= ~(most < bounds[:, 0]).any(axis=1) & ~(least > bounds[:, 1]).any(axis=1)
        low, high = low[alive], high[alive]
        if not len(low):
            return True
        weight = np.tile([0.2126, 0.7152, 0.0722], len(used))
        wide = np.argmax((high**2.4 - low**2.4) * weight, axis=1)
        rows = np.arange(len(low))
        if (high - low)[rows, wide].max() < 1 / 512:
            return False
        lower, upper = high.copy(), low.copy()
        lower[rows, wide] = upper[rows, wide] = ((low + high) / 2)[rows, wide]
        low, high = np.concatenate([low, upper]), np.concatenate([lower, high])
    return True


def by_brute_force(spots: Spots, bounds: np.ndarray, used: list[int], steps: int = 18) -> bool:
    """Return whether no colours of a grid let all rows read: for proofs about a role or two greys."""
    levels = np.linspace(0, 1, steps)
    colours = np.zeros((spots.share.shape[2], 3))
    for some in product(levels, repeat=3 * len(used)):
        colours[used] = np.array(some).reshape(-1, 3)
        light = light_of(colours[used])
        within = (light >= bounds[used, 0]) & (light <= bounds[used, 1])
        if within.all() and (spots.margins(colours) >= 1 - 1e-9).all():
            return False
    return True
