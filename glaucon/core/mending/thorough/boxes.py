"""Boxes of colours, and bounds on the ratios in them: what a proof that rows cannot all read halves and throws away.

A role that only ever shows as itself counts by its luminance alone, so an axis is its contrast; one that is faded or
mixed counts by its channels too where two rows want it in different colours of one luminance.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from glaucon.core.colour.contrast import relative_luminance
from glaucon.core.colour.oklab import Floats, linear_from_srgb, srgb_from_linear
from glaucon.core.mending.thorough import mixtures
from glaucon.core.mending.thorough.joint import Spots

CLOSE = 1 - 1e-9
_LEAF = LATE = 0.01
_MOST_CORNERED = 2
_STRETCHES = 8
_DARKEST, _LIGHTEST = math.log(0.05), math.log(1.05)
_NOWHERE = 9.0  # beyond all contrasts

Yes = NDArray[np.bool_]


@dataclass(frozen=True, slots=True)
class ByLuminance:
    """Rows whose sides are plain mixtures, bounded by luminance; an axis is log(luminance + 0.05) of a role.

    A mixture's luminance is at most that of the greys (Minkowski's inequality for the curve's exponent), and at least
    what its parts at their corners give (`mixtures`). Only roles of mixtures, and such as between them are in every
    row of two, are halved: what is left for the others follows from those.
    """

    share: Floats  # (2, rows, parts): the roles, then what stays
    still: Floats  # (2, rows): luminance of what stays
    stays: Floats  # (2, rows, 3): its colour
    required: Floats
    halved: Yes
    bounds: Floats
    rows_of: list[list[tuple[int, int]]]  # for each role, the sides and rows it is on, alone or with what stays
    mixed: list[int]  # rows with a mixture
    over: dict[tuple[int, int], tuple[float, Floats]]  # sides and rows faded over their other side (see `_faded_over`)
    late: float = 1.0  # how much halving tells of a role on both sides of a single row

    @classmethod
    def of(cls, spots: Spots, bounds: Floats) -> ByLuminance | None:
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
        mixed = np.nonzero((on & (share < 1 - 1e-9)).any(axis=(0, 2)))[0].tolist()
        stays = np.clip(colour, 0, 1)
        halved = _cover(np.any(on, axis=0)) | on[:, mixed].any(axis=(0, 1))
        over = {
            (side, row): found
            for side in (0, 1)
            for row in mixed
            if (found := _faded_over(parts[side, row], parts[1 - side, row], stays[:, row])) is not None
        }
        return cls(parts, light, stays, spots.required, halved, bounds, rows_of, mixed, over)

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
            found.append(mixtures.grey(np.exp(np.clip(ends[end], _DARKEST, _LIGHTEST)) - 0.05))
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
        dark, light = self.sides(1 - side, row, low, high)
        share = self.share[side, row]
        others = np.nonzero(share[:-1])[0]
        others = others[others != role]
        part, required = share[role], self.required[row]
        toe = 0.0 if part > 1 - 1e-9 else mixtures.TOE
        floor, top = ((np.exp(end[:, others]) - 0.05).clip(0) for end in (low, high))
        given_least = mixtures.alone(share[others], floor).sum(axis=1)
        given_least = given_least + mixtures.alone(share[-1], self.still[side, row])
        given_most = (share[others] * (top + toe) ** (1 / mixtures.GAMMA)).sum(axis=1)
        given_most = given_most + share[-1] * (self.still[side, row] + toe) ** (1 / mixtures.GAMMA)
        darker = (light / required - 0.05 - given_least) / mixtures.alone(part, 1 + toe) + toe
        root = (dark * required - 0.05).clip(0) ** (1 / mixtures.GAMMA)
        lighter = ((root - given_most) / part).clip(0) ** mixtures.GAMMA - toe
        at_most = np.where(darker < -1e-12, -np.inf, np.log(darker.clip(0) + 0.05) + 1e-9)
        return at_most, np.log(lighter.clip(0) + 0.05) - 1e-9

    def sides(self, side: int, row: int, low: Floats, high: Floats, is_close: bool = False) -> tuple[Floats, Floats]:
        """Return the least and most of luminance + 0.05 of a side of a row, shape (boxes,) each."""
        share = self.share[side, row]
        used = np.nonzero(share[:-1])[0]
        floor, top = ((np.exp(end[:, used]) - 0.05).clip(0, 1) for end in (low, high))
        if share.max() > 1 - 1e-9:
            if not len(used):
                return np.full(len(low), self.still[side, row] + 0.05), np.full(len(low), self.still[side, row] + 0.05)
            return floor[:, 0] + 0.05, top[:, 0] + 0.05
        still = np.full((len(low), 1), self.still[side, row])
        parts = np.append(share[used], share[-1])
        most = mixtures.most(parts, np.concatenate([top, still], axis=1))
        if is_close and len(used) <= 2:
            least = mixtures.least(share[used], floor, float(share[-1]), self.stays[side, row])
        else:
            least = mixtures.alone(parts, np.concatenate([floor, still], axis=1)).sum(axis=1)
        return np.clip(least, 0, 1) + 0.05, np.clip(most, 0, 1) + 0.05

    def may_read(self, low: Floats, high: Floats) -> tuple[Yes, Yes]:
        """Return whether some colours in each box might let all rows read, and which rows all of them let read."""
        may = np.ones(len(low), dtype=bool)
        sure = np.zeros((len(low), len(self.required)), dtype=bool)
        for is_close in (False, True):  # the close bounds take longer: only for boxes the others leave, and mixtures
            for row in self.mixed if is_close else range(len(self.required)):
                left = np.nonzero(may)[0]
                if not len(left):
                    return may, sure
                one, other = (self.sides(side, row, low[left], high[left], is_close) for side in (0, 1))
                may[left], sure[left, row] = _between(one, other, self.required[row])
                if is_close:
                    may[left] &= self.may_over(row, (one, other), high[left])
        return may, sure

    def may_over(self, row: int, two: Sequence[tuple[Floats, Floats]], high: Floats) -> Yes:
        """Return whether a row may come to its ratio where one side is faded over the other; True where none is.

        What lightens such words lightens their ground: in each of some stretches of the ground's luminance the words
        are at most as light as its end allows. `two` are the least and most of both sides.
        """
        found = np.ones(len(high), dtype=bool)
        for side in (0, 1):
            if (side, row) not in self.over:
                continue
            share, rest = self.over[side, row]
            top = np.concatenate([np.exp(high) - 0.05, np.full((len(high), 1), self.still[side, row])], axis=1)
            own = (rest * (top.clip(0, 1) + mixtures.TOE) ** (1 / mixtures.GAMMA)).sum(axis=1)
            words, ground = two[side], two[1 - side]
            ends = np.geomspace(ground[0], ground[1], _STRETCHES + 1)
            under = (ends[1:] - 0.05 + mixtures.TOE).clip(0) ** (1 / mixtures.GAMMA)
            most = np.minimum((share * under + own) ** mixtures.GAMMA + 0.05, words[1])
            best = np.maximum((most / ends[:-1]).max(axis=0), ground[1] / words[0])
            found &= best >= self.required[row] * CLOSE
        return found

    def matters(self, rows: Yes) -> Floats:
        """Return, by box and axis, how much halving a role tells about some rows, shape (boxes, rows).

        One that is on a single side of a single row reads there at one of its ends: it is halved last. One on both
        sides of a single row is halved as soon as others, or later where `late` is small.
        """
        on = self.share[..., :-1] > 0
        places, sides = rows @ on.any(axis=0).astype(np.int64), rows @ on.sum(axis=0)
        return np.asarray(np.select([places == 0, sides == 1, places == 1], [0.0, _LEAF, self.late], 1.0))

    def ends(self, low: Floats, high: Floats) -> tuple[Yes, Yes]:
        """Return the roles, shape (boxes, roles), that are best as light, and as dark, as they may be in each box.

        Those are on the lighter sides of rows alone, or on the darker ones, where it is settled which is which.
        """
        on = self.share[..., :-1] > 0
        lighter, darker = (np.zeros((len(low), on.shape[2]), dtype=bool) for _ in (0, 1))
        for row in range(len(self.required)):
            one, other = (self.sides(side, row, low, high) for side in (0, 1))
            words = one[1] >= other[0] * self.required[row] * CLOSE
            ground = other[1] >= one[0] * self.required[row] * CLOSE
            for side, may in ((0, words), (1, ground)):
                lighter |= may[:, None] & on[side, row]
                darker |= may[:, None] & on[1 - side, row]
        return lighter & ~darker, darker & ~lighter


def _between(one: tuple[Floats, Floats], other: tuple[Floats, Floats], required: float) -> tuple[Yes, Yes]:
    """Return whether two sides, each from least to most, may come to a ratio, and whether they must."""
    may = np.maximum(one[1] / other[0], other[1] / one[0]) >= required * CLOSE
    return may, np.maximum(one[0] / other[1], other[0] / one[1]) >= required


def _faded_over(share: Floats, under: Floats, stays: Floats) -> tuple[float, Floats] | None:
    """Return how much of a side is its other side, by the shares of both, and the shares of the rest; None for none.

    What stays (the last share) is the same on both sides, or not on the other one; its colours are `stays`.
    """
    if under[-1] > 0 and np.abs(stays[0] - stays[1]).max() > 1e-9:
        return None
    on = under > 0
    part = float((share[on] / under[on]).min())
    return (part, np.maximum(share - part * under, 0)) if 1e-3 < part < 1 - 1e-9 else None


def _cover(on: Yes) -> Yes:
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
class ByBoth:
    """Plain mixtures again, the roles that make up most of one by their channels too: what is left by luminance alone.

    Two rows may want the same words in two colours of one luminance; only their channels tell that apart. The axes
    are those of `ByLuminance`, then three channels for each such role.
    """

    by_light: ByLuminance
    spots: Spots
    open: list[int]

    @classmethod
    def of(cls, by_light: ByLuminance, spots: Spots) -> ByBoth:
        """Return the rows made ready."""
        share = by_light.share[:, by_light.mixed, :-1].reshape(-1, by_light.share.shape[2] - 1)
        share = share[(share.max(axis=1) > 0) & (share.max(axis=1) < 1 - 1e-9)]
        often = (by_light.share[..., :-1] > 0).any(axis=0).sum(axis=0) > 1  # one row wants one colour of one luminance
        return cls(by_light, spots, [role for role in sorted(set(np.argmax(share, axis=1).tolist())) if often[role]])

    def _parted(self, axes: Floats) -> tuple[Floats, Floats]:
        """Return the contrasts, shape (n, roles), and the colours of the open roles, shape (n, open, 3)."""
        roles = axes.shape[1] - 3 * len(self.open)
        return axes[:, :roles], axes[:, roles:].reshape(len(axes), -1, 3)

    def everything(self) -> tuple[Floats, Floats]:
        """Return the box of all colours within the bounds."""
        low, high = self.by_light.everything()
        size = 3 * len(self.open)
        return np.concatenate([low, np.zeros((1, size))], axis=1), np.concatenate([high, np.ones((1, size))], axis=1)

    def tightened(self, low: Floats, high: Floats) -> tuple[Floats, Floats]:
        """Return boxes without the ends that some row cannot do with, open roles as light as their channels."""
        (low_light, low_open), (high_light, high_open) = self._parted(low), self._parted(high)
        low_light, high_light = low_light.copy(), high_light.copy()
        own = [np.log(relative_luminance(one) + 0.05) for one in (low_open, high_open)]
        low_light[:, self.open] = np.maximum(low_light[:, self.open], own[0] - 1e-9)
        high_light[:, self.open] = np.minimum(high_light[:, self.open], own[1] + 1e-9)
        low_light, high_light = self.by_light.tightened(low_light, high_light)
        white, black = self.by_light.ends(low_light, high_light)
        low_light = np.where(white & (high_light > _LIGHTEST - 1e-9), high_light, low_light)
        high_light = np.where(black & (low_light < _DARKEST + 1e-9), low_light, high_light)
        low_open, high_open = self._channels_within(low_open, high_open, low_light, high_light)
        flat = (len(low), -1)
        return (
            np.concatenate([low_light, low_open.reshape(flat)], axis=1),
            np.concatenate([high_light, high_open.reshape(flat)], axis=1),
        )

    def _channels_within(
        self, low: Floats, high: Floats, low_light: Floats, high_light: Floats
    ) -> tuple[Floats, Floats]:
        """Return the channels of open roles without what makes them darker or lighter than they may be."""
        least, most = (linear_from_srgb(end) * mixtures.WEIGHTS for end in (low, high))
        dark, light = (np.exp(end[:, self.open])[..., None] - 0.05 for end in (low_light, high_light))
        floor = (dark - (most.sum(axis=2, keepdims=True) - most)) / mixtures.WEIGHTS
        top = (light - (least.sum(axis=2, keepdims=True) - least)) / mixtures.WEIGHTS
        return (
            np.maximum(low, srgb_from_linear(floor.clip(0, 1)) - 1e-9),
            np.minimum(high, srgb_from_linear(top.clip(0, 1)) + 1e-9),
        )

    def may_read(self, low: Floats, high: Floats) -> tuple[Yes, Yes]:
        """Return whether some colours in each box might let all rows read, and which rows all of them let read."""
        (low_light, low_open), (high_light, high_open) = self._parted(low), self._parted(high)
        may, sure = self.by_light.may_read(low_light, high_light)
        for row in self.by_light.mixed:
            left = np.nonzero(may)[0]
            if not len(left):
                break
            ends = (low_light[left], high_light[left], low_open[left], high_open[left])
            one, other = (self._bounds(side, row, *ends) for side in (0, 1))
            may[left], sure[left, row] = _between(one, other, self.spots.required[row])
            may[left] &= self.by_light.may_over(row, (one, other), high_light[left])
        return may, sure

    def matters(self, rows: Yes) -> Floats:
        """Return, by box and axis, how much halving a role tells about some rows, shape (boxes, rows)."""
        roles = self.by_light.matters(rows)
        return np.concatenate([roles, np.repeat(roles[:, self.open], 3, axis=1)], axis=1)

    def _bounds(
        self, side: int, row: int, low: Floats, high: Floats, low_open: Floats, high_open: Floats
    ) -> tuple[Floats, Floats]:
        share = self.by_light.share[side, row]
        if share.max() > 1 - 1e-9:
            return self.by_light.sides(side, row, low, high)
        known = share[self.open]
        others = [role for role in np.nonzero(share[:-1])[0] if role not in self.open]
        rest = float(known.sum() + share[-1])
        fixed = share[-1] * self.by_light.stays[side, row]
        mixed = [(np.einsum("r,nrc->nc", known, one) + fixed) for one in (low_open, high_open)]
        if not others:
            least, most = (relative_luminance(np.clip(one, 0, 1)) for one in mixed)
        elif rest < 1e-9:
            return self.by_light.sides(side, row, low, high, is_close=True)
        else:
            others.sort(key=lambda role: -share[role])
            floor, top = ((np.exp(end[:, others]) - 0.05).clip(0, 1) for end in (low, high))
            # corners multiply: what has least part in it may as well be black
            known_rest = rest + float(share[others[_MOST_CORNERED:]].sum())
            cornered = share[others[:_MOST_CORNERED]]
            least = mixtures.least(cornered, floor[:, :_MOST_CORNERED], known_rest, mixed[0] / known_rest)
            own = relative_luminance(np.clip(mixed[1] / rest, 0, 1))[:, None]
            greys = mixtures.most(np.append(share[others], rest), np.concatenate([top, own], axis=1))
            # no channel of the others is more than full, or than all of their luminance
            full = srgb_from_linear((top[..., None] / mixtures.WEIGHTS).clip(0, 1))
            whole = mixed[1] + np.einsum("r,nrc->nc", share[others], full)
            most = np.minimum(greys, relative_luminance(np.clip(whole, 0, 1)) + 1e-12)
        return np.clip(least, 0, 1) + 0.05, np.clip(most, 0, 1) + 0.05

    def spread(self, low: Floats, high: Floats) -> Floats:
        """Return how far apart the ends of each axis lie that is halved, in contrast."""
        (low_light, low_open), (high_light, high_open) = self._parted(low), self._parted(high)
        light = self.by_light.spread(low_light, high_light)
        light[:, self.open] = 0
        least = np.exp(low_light[:, self.open])[..., None]
        # an empty channel tells little of its own and much where it is mixed with a full one
        apart = np.maximum(linear_from_srgb(high_open) - linear_from_srgb(low_open), high_open - low_open)
        channels = apart * mixtures.WEIGHTS / least
        return np.concatenate([light, channels.reshape(len(low), -1)], axis=1)

    def tries(self, low: Floats, high: Floats) -> list[Floats]:
        """Return colours worth a try in each box: open roles in the middle, greys for the others."""
        (low_light, low_open), (high_light, high_open) = self._parted(low), self._parted(high)
        found = self.by_light.tries(low_light, high_light)
        for colours in found:
            colours[:, self.open] = (low_open + high_open) / 2
        return found


@dataclass(frozen=True, slots=True)
class ByChannel:
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

    def may_read(self, low: Floats, high: Floats) -> tuple[Yes, Yes]:
        """Return whether some colours in each box might let all rows read, and which rows all of them let read."""
        share, still = self.spots.share, self.spots.still
        up, down = np.maximum(share, 0), np.minimum(share, 0)
        low, high = self.colours(low), self.colours(high)
        least = np.einsum("sirc,brc->bsic", up, low) + np.einsum("sirc,brc->bsic", down, high) + still
        most = np.einsum("sirc,brc->bsic", up, high) + np.einsum("sirc,brc->bsic", down, low) + still
        dark, light = (relative_luminance(np.clip(end, 0, 1)) + 0.05 for end in (least, most))
        best = np.maximum(light[:, 0] / dark[:, 1], light[:, 1] / dark[:, 0])
        sure = np.maximum(dark[:, 0] / light[:, 1], dark[:, 1] / light[:, 0]) >= self.spots.required
        kept = ~(relative_luminance(high) < self.bounds[:, 0] - 1e-9).any(axis=1)
        kept &= ~(relative_luminance(low) > self.bounds[:, 1] + 1e-9).any(axis=1)
        kept &= (best >= self.spots.required * CLOSE).all(axis=1)
        return np.asarray(kept), np.asarray(sure)

    def matters(self, rows: Yes) -> Floats:
        """Return ones: a channel counts for its role's bounds too."""
        return np.ones((len(rows), 3 * self.spots.share.shape[2]))
