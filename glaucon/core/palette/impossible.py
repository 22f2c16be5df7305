"""Proofs that some rows cannot all read whatever colours their roles take.

Boxes of colours are halved until in each some row is shown to fail: luminance rises with every channel, so the corners
of a box bound every ratio in it. A role that only ever shows as itself counts by its luminance alone, so greys stand
for all its colours. A proof is a set of rows from which none can be left out as far as could be shown.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from glaucon.core.colour.contrast import relative_luminance
from glaucon.core.colour.oklab import Floats, linear_from_srgb, srgb_from_linear
from glaucon.core.palette.joint import Problem, Solved, Spots, solve

_FINEST = 1.5e-4
MOST_BOXES = 20_000
_BATCH = 512
_MOST_ROWS = 24
_CLOSE = 1 - 1e-9
_GAMMA = 2.4
_DARKEST, _LIGHTEST = math.log(0.05), math.log(1.05)
_NOWHERE = 9.0  # beyond all contrasts
# by how much the straight start of sRGB's curve lies under ((v + 0.055) / 1.055) ^ 2.4 at most
_TOE = 8.5e-4


@dataclass(frozen=True, slots=True)
class Impossible:
    """A row that cannot read, and the rows (itself among them) that cannot all read at once."""

    row: int
    rows: tuple[int, ...]


def can_read(spots: Spots, bounds: Floats, most_boxes: int = MOST_BOXES) -> Floats | bool | None:
    """Return colours, shape (roles, 3), under which all rows read; False if there are none; None if not found out."""
    by_light = _ByLuminance.of(spots, bounds)
    found = _search(spots, bounds, by_light, most_boxes) if by_light is not None else None
    few = int((np.abs(spots.share).max(axis=(0, 1, 3)) > 0).sum()) <= 2
    return _search(spots, bounds, _ByChannel(spots, bounds), most_boxes) if found is None and few else found


def _search(spots: Spots, bounds: Floats, search: _ByLuminance | _ByChannel, most_boxes: int) -> Floats | bool | None:
    boxes = [search.everything()]
    done, is_open = 0, False
    while boxes:
        low, high = boxes.pop()
        done += len(low)
        if done > most_boxes:
            return None
        low, high = search.tightened(low, high)
        keep: NDArray[np.bool_] = np.all(low <= high, axis=1)
        keep[keep] = search.may_read(low[keep], high[keep])
        low, high = low[keep], high[keep]
        if not len(low):
            continue
        for colours in search.tries(low, high):
            reads = _read(spots, colours, bounds)
            if reads.any():
                return np.asarray(colours[int(np.argmax(reads))])
        spread = search.spread(low, high)
        decided = spread.max(axis=1) > _FINEST
        is_open |= not decided.all()
        low, high, spread = low[decided], high[decided], spread[decided]
        rows, widest = np.arange(len(low)), np.argmax(spread, axis=1)
        upper, lower = low.copy(), high.copy()
        lower[rows, widest] = upper[rows, widest] = (low + high)[rows, widest] / 2
        both = (np.concatenate([low, upper]), np.concatenate([lower, high]))
        for start in range(0, len(both[0]), _BATCH):
            boxes.append((both[0][start : start + _BATCH], both[1][start : start + _BATCH]))
    return None if is_open else False


@dataclass(frozen=True, slots=True)
class _ByLuminance:
    """Rows whose sides are plain mixtures, bounded by luminance; an axis is log(luminance + 0.05) of a role.

    A mixture's luminance is at most that of the greys (Minkowski's inequality for the curve's exponent), and at least
    the sum of what each part gives alone over black (see `_alone`). Only roles that between them are in every row
    of two are halved: what is left for the others follows from those.
    """

    share: Floats  # (2, rows, parts): the roles, then what stays
    still: Floats  # (2, rows): luminance of what stays
    required: Floats
    halved: NDArray[np.bool_]
    bounds: Floats
    rows_of: list[list[tuple[int, int]]]  # for each role, the sides and rows it is on, alone or with what stays

    @classmethod
    def of(cls, spots: Spots, bounds: Floats) -> _ByLuminance | None:
        """Return the rows made ready, None where one is no plain mixture."""
        share = spots.share[..., 0]
        rest = 1 - share.sum(axis=2)
        if (
            np.abs(spots.share - share[..., None]).max(initial=0) > 1e-9
            or share.min(initial=0) < 0
            or rest.min() < -1e-9
        ):
            return None
        rest = np.where(rest < 1e-9, 0.0, rest)
        colour = spots.still / np.where(rest > 0, rest, 1.0)[..., None]
        if colour.min() < -1e-9 or colour.max() > 1 + 1e-9 or np.abs(spots.still[rest == 0]).max(initial=0) > 1e-9:
            return None
        parts = np.concatenate([share, rest[..., None]], axis=2)
        light = relative_luminance(np.clip(colour, 0, 1))
        on = share > 0
        rows_of = [
            [
                (side, row)
                for side in (0, 1)
                for row in np.nonzero(on[side, :, role] & ~on[1 - side, :, role])[0].tolist()
            ]
            for role in range(share.shape[2])
        ]
        return cls(parts, light, spots.required, _cover(np.any(on, axis=0)), bounds, rows_of)

    def everything(self) -> tuple[Floats, Floats]:
        """Return the box of all contrasts within the bounds."""
        return np.log(self.bounds[None, :, 0] + 0.05), np.log(self.bounds[None, :, 1] + 0.05)

    def spread(self, low: Floats, high: Floats) -> Floats:
        """Return how far apart the ends of each axis lie that is halved."""
        return np.asarray((high - low) * self.halved)

    def tries(self, low: Floats, high: Floats) -> list[Floats]:
        """Return colours worth a try in each box: greys in the middle, the roles that follow at either end."""
        found = []
        for end in (0, 1):
            ends = [np.where(self.halved, (low + high) / 2, one) for one in (low, high)]
            ends = list(self.tightened(*ends))
            axes = np.clip(ends[end], _DARKEST, _LIGHTEST)
            grey = np.clip(srgb_from_linear(np.clip(np.exp(axes) - 0.05, 0, 1)), 0, 1)
            found.append(np.repeat(grey[..., None], 3, axis=2))
        return found

    def tightened(self, low: Floats, high: Floats) -> tuple[Floats, Floats]:
        """Return boxes without the ends that some row cannot do with; low above high where nothing is left."""
        low, high = low.copy(), high.copy()
        for _ in range(3):
            before = (high - low).sum()
            for role, places in enumerate(self.rows_of):
                if places:
                    self._tighten(role, places, low, high)
            if not before - (high - low).sum() > 1e-6:
                break
        return low, high

    def _tighten(self, role: int, places: list[tuple[int, int]], low: Floats, high: Floats) -> None:
        """Bring a role in to the least and most that each of its rows allows: not between two limits."""
        limits = [self._limits(role, side, row, low, high) for side, row in places]
        most, least = (np.stack([one[n] for one in limits], axis=1) for n in (0, 1))  # (boxes, rows)
        for end, ends, better in ((low, least, np.min), (high, most, np.max)):
            some = np.concatenate([end[:, role : role + 1], ends], axis=1)
            allowed = ((some[:, :, None] <= most[:, None] + 1e-9) | (some[:, :, None] >= least[:, None] - 1e-9)).all(
                axis=2
            )
            allowed &= (some >= low[:, role : role + 1] - 1e-9) & (some <= high[:, role : role + 1] + 1e-9)
            nothing = _NOWHERE if better is np.min else -_NOWHERE
            end[:, role] = better(np.where(allowed, some, nothing), axis=1)

    def _limits(self, role: int, side: int, row: int, low: Floats, high: Floats) -> tuple[Floats, Floats]:
        """Return the contrasts at most and at least one of which a role must keep to for a row to read."""
        dark, light = self._bounds(1 - side, row, low, high)
        share = self.share[side, row]
        others = np.nonzero(share[:-1])[0]
        others = others[others != role]
        part, required = share[role], self.required[row]
        toe = 0.0 if part > 1 - 1e-9 else _TOE
        floor, top = ((np.exp(end[:, others]) - 0.05).clip(0) for end in (low, high))
        given_least = _alone(share[others], floor).sum(axis=1) + _alone(share[-1], self.still[side, row])
        given_most = (share[others] * (top + toe) ** (1 / _GAMMA)).sum(axis=1)
        given_most = given_most + share[-1] * (self.still[side, row] + toe) ** (1 / _GAMMA)
        darker = (light / required - 0.05 - given_least) / _alone(part, 1 + toe) + toe
        root = (dark * required - 0.05).clip(0) ** (1 / _GAMMA)
        lighter = ((root - given_most) / part).clip(0) ** _GAMMA - toe
        at_most = np.where(darker < -1e-12, -np.inf, np.log(darker.clip(0) + 0.05) + 1e-9)
        return at_most, np.log(lighter.clip(0) + 0.05) - 1e-9

    def _bounds(self, side: int, row: int, low: Floats, high: Floats) -> tuple[Floats, Floats]:
        """Return the least and most of luminance + 0.05 of a side of a row, shape (boxes,) each."""
        share = self.share[side, row]
        used = np.nonzero(share[:-1])[0]
        floor, top = ((np.exp(end[:, used]) - 0.05).clip(0, 1) for end in (low, high))
        if share.max() > 1 - 1e-9:
            if not len(used):
                return np.full(len(low), self.still[side, row] + 0.05), np.full(len(low), self.still[side, row] + 0.05)
            return floor[:, 0] + 0.05, top[:, 0] + 0.05
        least = _alone(share[used], floor).sum(axis=1) + _alone(share[-1], self.still[side, row])
        most = (share[used] * (top + _TOE) ** (1 / _GAMMA)).sum(axis=1)
        most = (most + share[-1] * (self.still[side, row] + _TOE) ** (1 / _GAMMA)) ** _GAMMA
        return np.clip(least, 0, 1) + 0.05, np.clip(most, 0, 1) + 0.05

    def may_read(self, low: Floats, high: Floats) -> NDArray[np.bool_]:
        """Return whether some colours in each box might let all rows read."""
        may = np.ones(len(low), dtype=bool)
        for row in range(len(self.required)):
            (one_least, one_most), (other_least, other_most) = (self._bounds(side, row, low, high) for side in (0, 1))
            best = np.maximum(one_most / other_least, other_most / one_least)
            may &= best >= self.required[row] * _CLOSE
        return may


def _alone(share: Floats, light: Floats | float) -> Floats:
    """Return the least luminance that a part of a mixture gives over black, by its own luminance.

    With h = (v + 0.055) / 1.055 the curve is h ^ 2.4 less what the toe takes; what is over black's is superadditive in
    the parts, and concave in each part's luminance, so that a share of it is at least in proportion.
    """
    black = (0.055 / 1.055) ** _GAMMA
    full = ((0.055 + share) / 1.055) ** _GAMMA - black
    return np.asarray(np.where(share > 1 - 1e-9, light, full * np.maximum(np.asarray(light) - _TOE, 0)))


def _cover(on: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Return roles that between them are in every row of two roles or more; `on` has shape (rows, roles)."""
    left = on[on.sum(axis=1) > 1].copy()
    cover = np.zeros(on.shape[1], dtype=bool)
    while len(left):
        role = int(np.argmax(left.sum(axis=0)))
        cover[role] = True
        # a row of three still has two that are not halved
        left = (
            left[~left[:, role]] if on.sum(axis=1).max() <= 2 else np.where(np.arange(on.shape[1]) == role, False, left)
        )
        left = left[left.sum(axis=1) > 1]
    return cover


@dataclass(frozen=True, slots=True)
class _ByChannel:
    """Rows of any build, bounded by the channels of each role: an axis is a channel."""

    spots: Spots
    bounds: Floats

    def everything(self) -> tuple[Floats, Floats]:
        """Return the box of all colours."""
        axes = self.spots.share.shape[2] * 3
        return np.zeros((1, axes)), np.ones((1, axes))

    def tightened(self, low: Floats, high: Floats) -> tuple[Floats, Floats]:
        """Return the boxes as they are."""
        return low, high

    def colours(self, axes: Floats) -> Floats:
        """Return colours, shape (n, roles, 3)."""
        return axes.reshape(len(axes), -1, 3)

    def tries(self, low: Floats, high: Floats) -> list[Floats]:
        """Return the middle of each box."""
        return [self.colours((low + high) / 2)]

    def spread(self, low: Floats, high: Floats) -> Floats:
        """Return how much luminance each channel leaves open."""
        used = np.abs(self.spots.share).max(axis=(0, 1)) > 0
        open_ = (linear_from_srgb(high) - linear_from_srgb(low)).reshape(len(low), -1, 3)
        return np.asarray((open_ * np.array([0.2126, 0.7152, 0.0722]) * used).reshape(len(low), -1))

    def may_read(self, low: Floats, high: Floats) -> NDArray[np.bool_]:
        """Return whether some colours in each box might let all rows read."""
        share, still = self.spots.share, self.spots.still
        up, down = np.maximum(share, 0), np.minimum(share, 0)
        low, high = self.colours(low), self.colours(high)
        least = np.einsum("sirc,brc->bsic", up, low) + np.einsum("sirc,brc->bsic", down, high) + still
        most = np.einsum("sirc,brc->bsic", up, high) + np.einsum("sirc,brc->bsic", down, low) + still
        dark, light = (relative_luminance(np.clip(end, 0, 1)) + 0.05 for end in (least, most))
        best = np.maximum(light[:, 0] / dark[:, 1], light[:, 1] / dark[:, 0])
        kept = ~(relative_luminance(high) < self.bounds[:, 0] - 1e-9).any(axis=1)
        kept &= ~(relative_luminance(low) > self.bounds[:, 1] + 1e-9).any(axis=1)
        return kept & np.asarray((best >= self.spots.required * _CLOSE).all(axis=1))


def _read(spots: Spots, colours: Floats, bounds: Floats) -> NDArray[np.bool_]:
    seen = np.einsum("sirc,brc->bsic", spots.share, colours) + spots.still
    light = relative_luminance(np.clip(seen, 0, 1)) + 0.05
    ratio = np.maximum(light[:, 0], light[:, 1]) / np.minimum(light[:, 0], light[:, 1])
    own = relative_luminance(colours)
    kept = ((own >= bounds[:, 0] - 1e-9) & (own <= bounds[:, 1] + 1e-9)).all(axis=1)
    return kept & np.asarray((ratio >= spots.required * _CLOSE).all(axis=1))


def prove(problem: Problem, solved: Solved, row: int, most_boxes: int = MOST_BOXES) -> Impossible | Floats | None:
    """Return the proof that a failing row cannot read beside the others, or colours under which more read; else None.

    Rows are taken in one by one: those that fail once the rows so far are made to read.
    """
    spots = problem.spots
    wanted = [row]
    failing = set(solved.failing.tolist())
    colours = solved.colours
    while len(wanted) <= _MOST_ROWS:
        some = solve(Problem(colours, problem.variables, spots.only(wanted), problem.bounds))
        if len(some.failing):
            found = can_read(spots.only(wanted), problem.bounds, most_boxes)
            if found is False:
                return Impossible(row, _least(spots, problem.bounds, wanted))
            if found is None or isinstance(found, bool):
                return None
            moved = problem.colours.copy()
            free = [role for variable in problem.variables for role in variable.roles]
            moved[free] = found[free]
        else:
            moved = some.colours
        margins = spots.margins(moved)
        broken = [n for n in np.argsort(margins).tolist() if margins[n] < _CLOSE and n not in failing]
        if not broken:
            return moved
        wanted += [n for n in broken[:1] if n not in wanted]
    return None


def _least(spots: Spots, bounds: Floats, rows: list[int]) -> tuple[int, ...]:
    """Return rows that still cannot all read, each tried to be left out once (never the first)."""
    kept = list(rows)
    for row in rows[1:]:
        fewer = [one for one in kept if one != row]
        if can_read(spots.only(fewer), bounds) is False:
            kept = fewer
    return tuple(kept)
