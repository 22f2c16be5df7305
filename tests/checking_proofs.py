"""A small checker of proofs that some rows cannot all read, apart from the core's own search.

It halves boxes of luminances, one a role, and of the channels of roles that make up most of a mixture, and bounds each
row by itself: a mixture in gamma space is lightest of greys as light as its parts, and darkest where all but one
channel of a part are empty or full. Which side of a row is the lighter one is taken case by case. With up to two roles
it may halve all channels instead, where the corners of a box bound a ratio exactly.
"""

from __future__ import annotations

from itertools import product

import numpy as np

from glaucon.core.mending.thorough.joint import Spots

_MOST = 1_000_000
_AT_ONCE = 2_048
_FEW_ROWS = 6
_RED_GREEN_BLUE = np.array([0.2126, 0.7152, 0.0722])
_EMPTY = (0.055 / 1.055) ** 2.4
# a channel that is free, the other two empty or full
_CORNERS = [(free, full) for free in range(3) for full in product((False, True), repeat=3) if not full[free]]


def light_of(channels: np.ndarray) -> np.ndarray:
    return _linear(channels) @ _RED_GREEN_BLUE


def _linear(channels: np.ndarray) -> np.ndarray:
    return np.where(channels <= 0.04045, channels / 12.92, ((channels + 0.055) / 1.055) ** 2.4)


def _channel(linear: np.ndarray) -> np.ndarray:
    linear = linear.clip(0, 1)
    return np.where(linear <= 0.0031308, linear * 12.92, 1.055 * linear ** (1 / 2.4) - 0.055)


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
    # which side is the lighter one: with few rows each way by itself, which settles what is best white or black
    few = len(spots) <= _FEW_ROWS
    ways = product((0, 1), repeat=len(spots)) if few else [(None,) * len(spots)]
    return all(_is_ruled_out(spots, share, _settled(share, way, bounds), way) for way in ways)


def _settled(share: np.ndarray, way: tuple[int | None, ...], bounds: np.ndarray) -> np.ndarray:
    """Return the bounds where a role on none but lighter sides is white if it may be, on none but darker ones black."""
    if None in way:
        return bounds
    rows = np.arange(len(way))
    lighter, darker = ((share[side, rows] > 0).any(axis=0) for side in (np.array(way), 1 - np.array(way)))
    low = np.where(lighter & ~darker & (bounds[:, 1] >= 1), 1.0, bounds[:, 0])
    return np.stack([low, np.where(darker & ~lighter & (bounds[:, 0] <= 0), 0.0, bounds[:, 1])], axis=1)


def _is_ruled_out(spots: Spots, share: np.ndarray, bounds: np.ndarray, way: tuple[int | None, ...]) -> bool:
    """Return whether no colours within the bounds let every row read with its lighter side as in `way` (None: any)."""
    roles = share.shape[2]
    faded = (share > 0) & (share < 1 - 1e-9)
    rows_of, sides_of = (share > 0).any(axis=0).astype(int), (share > 0).sum(axis=0)
    # what is in one row alone is wanted in one colour of one luminance
    often = rows_of.sum(axis=0) > 1
    mostly = np.argmax(share, axis=2)[faded.any(axis=2)]
    opened = sorted({r for r in mostly.tolist() if often[r]})
    low = np.concatenate([bounds[:, 0], np.zeros(3 * len(opened))])[None]
    stack, done = [(low, np.concatenate([bounds[:, 1], np.ones(3 * len(opened))])[None])], 0
    while stack:
        low, high = (end.copy() for end in stack.pop())
        done += len(low)
        if done > _MOST:
            return False
        _bring_in(low, high, opened, roles)
        parted = [(end[:, :roles], end[:, roles:].reshape(len(end), -1, 3)) for end in (low, high)]
        alive = (low <= high + 1e-9).all(axis=1)
        open_rows = np.zeros((len(low), len(spots)), bool)
        for row, lighter in enumerate(way):
            one, other = (
                _side(share[side, row], spots.still[side, row], opened, *parted[0], *parted[1]) for side in (0, 1)
            )
            best, worst = (one[1] / other[0], other[1] / one[0]), (one[0] / other[1], other[0] / one[1])
            alive &= (np.maximum(*best) if lighter is None else best[lighter]) >= spots.required[row] * (1 - 1e-9)
            open_rows[:, row] = (np.maximum(*worst) if lighter is None else worst[lighter]) < spots.required[row]
        low, high, open_rows = low[alive], high[alive], open_rows[alive]
        if not len(low):
            continue
        width = _widths(low, high, opened, *(open_rows.astype(int) @ of for of in (rows_of, sides_of)))
        wide, boxes = np.argmax(width, axis=1), np.arange(len(low))
        if width[boxes, wide].min() < 1e-5:
            return False
        lower, upper = high.copy(), low.copy()
        middle = np.sqrt((low[boxes, wide] + 0.05) * (high[boxes, wide] + 0.05)) - 0.05
        lower[boxes, wide] = upper[boxes, wide] = middle
        ends = np.concatenate([low, upper]), np.concatenate([lower, high])
        stack += [(ends[0][at : at + _AT_ONCE], ends[1][at : at + _AT_ONCE]) for at in range(0, len(ends[0]), _AT_ONCE)]
    return True


def _bring_in(low: np.ndarray, high: np.ndarray, opened: list[int], roles: int) -> None:
    """Let luminances and channels of opened roles limit each other."""
    for place, role in enumerate(opened):
        own = slice(roles + 3 * place, roles + 3 * place + 3)
        least, most = _linear(low[:, own]) * _RED_GREEN_BLUE, _linear(high[:, own]) * _RED_GREEN_BLUE
        low[:, role] = np.maximum(low[:, role], least.sum(axis=1) - 1e-12)
        high[:, role] = np.minimum(high[:, role], most.sum(axis=1) + 1e-12)
        floor = (low[:, [role]] - (most.sum(axis=1, keepdims=True) - most)) / _RED_GREEN_BLUE
        top = (high[:, [role]] - (least.sum(axis=1, keepdims=True) - least)) / _RED_GREEN_BLUE
        low[:, own] = np.maximum(low[:, own], _channel(floor) - 1e-9)
        high[:, own] = np.minimum(high[:, own], _channel(top) + 1e-9)


def _widths(low: np.ndarray, high: np.ndarray, opened: list[int], rows: np.ndarray, sides: np.ndarray) -> np.ndarray:
    """Return how much halving each axis tells; a role is in some rows and sides not settled, shape (boxes, roles)."""
    roles = rows.shape[1]
    width = np.log((high + 0.05) / (low + 0.05))
    width[:, opened] = 0
    ends = [end[:, roles:].reshape(len(end), -1, 3) for end in (low, high)]
    apart = np.maximum(_linear(ends[1]) - _linear(ends[0]), ends[1] - ends[0])
    part = apart * _RED_GREEN_BLUE / (low[:, opened, None] + 0.05)
    width[:, roles:] = part.reshape(len(low), -1)
    tells = np.select([rows == 0, sides == 1, rows == 1], [0.0, 0.02, 0.1], 1.0)
    return width * np.concatenate([tells, np.repeat(tells[:, opened], 3, axis=1)], axis=1)


def _side(share, still, opened, low, low_open, high, high_open):  # type: ignore[no-untyped-def]
    """Return the least and most of luminance + 0.05 of a side of a row, shape (boxes,) each."""
    on = np.nonzero(share)[0].tolist()
    if len(on) == 1 and share[on[0]] > 1 - 1e-9:
        return low[:, on[0]] + 0.05, high[:, on[0]] + 0.05
    known = [(opened.index(r), share[r]) for r in on if r in opened]
    mixed = [still + sum((a * end[:, r] for r, a in known), np.zeros((len(low), 3))) for end in (low_open, high_open)]
    others = sorted((r for r in on if r not in opened), key=lambda r: -share[r])
    if not others:
        return tuple(light_of(np.clip(end, 0, 1)) + 0.05 for end in mixed)
    # the weights of all parts sum to one; h = (v + 0.055) / 1.055 is a power of what the curve gives without its toe;
    # a third part may be black where the least is asked for
    cornered = others[:2]
    least = np.full(len(low), np.inf)
    for corner in product(_CORNERS, repeat=len(cornered)):
        whole = (mixed[0] + 0.055 * (1 - sum(share[r] for r in cornered))) / 1.055
        real = np.ones(len(low), bool)
        for r, (free, full) in zip(cornered, corner, strict=True):
            level = np.tile(np.where(full, 1.0, _EMPTY), (len(low), 1))
            two = level @ np.where(np.arange(3) == free, 0, _RED_GREEN_BLUE)
            level[:, free] = (np.maximum(low[:, r], _EMPTY) - two) / _RED_GREEN_BLUE[free]
            real &= (level[:, free] > _EMPTY - 1e-9) & (level[:, free] < 1 + 1e-9)
            whole += share[r] * level.clip(_EMPTY, 1) ** (1 / 2.4)
        least = np.where(real, np.minimum(least, light_of(np.clip(whole * 1.055 - 0.055, 0, 1))), least)
    rest = 1 - sum(share[r] for r in others)
    own = light_of(np.clip(mixed[1] / rest, 0, 1)) if rest > 1e-9 else np.zeros(len(low))
    most = rest * (own + 8.5e-4) ** (1 / 2.4) + (share[others] * (high[:, others] + 8.5e-4) ** (1 / 2.4)).sum(axis=1)
    full = mixed[1] + sum(share[r] * _channel(high[:, [r]] / _RED_GREEN_BLUE) for r in others)
    most = np.minimum(most**2.4, light_of(np.clip(full, 0, 1)) + 1e-9)
    return (least - 2e-6).clip(0) + 0.05, most.clip(0, 1) + 0.05


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
