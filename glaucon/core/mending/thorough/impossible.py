"""Proofs that some rows cannot all read whatever colours their roles take.

Boxes of colours are halved until in each some row is shown to fail: luminance rises with every channel, so the corners
of a box bound every ratio in it. A role that only ever shows as itself counts by its luminance alone, so greys stand
for all its colours. A proof is a set of rows from which none can be left out as far as could be shown.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from glaucon.core.colour.oklab import Floats
from glaucon.core.mending.thorough import mixtures
from glaucon.core.mending.thorough.boxes import CLOSE, LATE, ByBoth, ByChannel, ByLuminance
from glaucon.core.mending.thorough.climbing import all_read, climbed
from glaucon.core.mending.thorough.joint import Numbers, Problem, Solved, Spots, solve

_FINEST = 1.5e-4
MOST_BOXES = 20_000
_PATIENT = 2_000
_BATCH = 512
_MOST_ROWS = 24

# colours, or that there are none, or that it was not found out
Answer = Floats | Literal[False] | None


@dataclass(frozen=True, slots=True)
class Impossible:
    """A row that cannot read, and the rows (itself among them) that cannot all read at once."""

    row: int
    rows: tuple[int, ...]


def can_read(spots: Spots, bounds: Floats, most_boxes: int = MOST_BOXES) -> Answer:
    """Return colours, shape (roles, 3), under which all rows read; False if there are none; None if not found out."""
    found: Floats | None = mixtures.grey(bounds.mean(axis=1))
    for rows, roles in _parts(spots):
        part = _can_read(spots.only(rows), bounds, most_boxes)
        if part is False:
            return False
        if part is None or found is None:
            found = None
        else:
            found[roles] = part[roles]
    return found


def _parts(spots: Spots) -> list[tuple[Numbers, Numbers]]:
    """Return the rows and roles of each part that shares no role with the others."""
    on = np.abs(spots.share).max(axis=(0, 3)) > 0  # (rows, roles)
    left, parts = np.ones(len(spots), dtype=bool), []
    while left.any():
        rows = np.arange(len(spots)) == np.argmax(left)
        size = 0
        while rows.sum() > size:
            size = int(rows.sum())
            rows |= (on & on[rows].any(axis=0)).any(axis=1)
        parts.append((np.nonzero(rows)[0], np.nonzero(on[rows].any(axis=0))[0]))
        left &= ~rows
    return parts


def _can_read(spots: Spots, bounds: Floats, most_boxes: int) -> Answer:
    by_light = ByLuminance.of(spots, bounds)
    found = _search(spots, bounds, by_light, min(most_boxes, _PATIENT)) if by_light is not None else None
    if found is not None or most_boxes < _PATIENT:
        return found
    found = climbed(spots, bounds)
    if found is None and by_light is not None:
        found = _search(spots, bounds, by_light, most_boxes)
    if found is not None:
        return found
    if by_light is not None and by_light.mixed:
        # some rows are settled by one order of halving and some by the other
        orders = (ByBoth.of(one, spots) for one in (by_light, replace(by_light, late=LATE)))
        return next((one for order in orders if (one := _search(spots, bounds, order, most_boxes)) is not None), None)
    few = int((np.abs(spots.share).max(axis=(0, 1, 3)) > 0).sum()) <= 2
    return _search(spots, bounds, ByChannel(spots, bounds), most_boxes) if few else None


def _search(spots: Spots, bounds: Floats, search: ByLuminance | ByBoth | ByChannel, most_boxes: int) -> Answer:
    boxes = [search.everything()]
    done, is_open = 0, False
    while boxes:
        low, high = boxes.pop()
        done += len(low)
        if done > most_boxes:
            return None
        low, high = search.tightened(low, high)
        keep: NDArray[np.bool_] = np.all(low <= high, axis=1)
        if not keep.any():
            continue
        low, high = low[keep], high[keep]
        may, sure = search.may_read(low, high)
        low, high, sure = low[may], high[may], sure[may]
        if not len(low):
            continue
        for colours in search.tries(low, high):
            reads = all_read(spots, colours, bounds)
            if reads.any():
                return np.asarray(colours[int(np.argmax(reads))])
        spread, matters = search.spread(low, high), search.matters(~sure)
        decided = (spread * (matters > 0)).max(axis=1) > _FINEST
        spread *= matters
        is_open |= not decided.all()
        low, high, spread = low[decided], high[decided], spread[decided]
        rows, widest = np.arange(len(low)), np.argmax(spread, axis=1)
        upper, lower = low.copy(), high.copy()
        lower[rows, widest] = upper[rows, widest] = (low + high)[rows, widest] / 2
        both = (np.concatenate([low, upper]), np.concatenate([lower, high]))
        for start in range(0, len(both[0]), _BATCH):
            boxes.append((both[0][start : start + _BATCH], both[1][start : start + _BATCH]))
    return None if is_open else False


def prove(problem: Problem, solved: Solved, row: int, most_boxes: int = MOST_BOXES) -> Impossible | Floats | None:
    """Return the proof that a failing row cannot read beside the others, or colours under which more read; else None.

    Rows are taken in one by one: those that fail once the rows so far are made to read.
    """
    spots = problem.spots
    wanted = [row]
    failing = set(solved.failing.tolist())
    colours = solved.colours
    is_climbed = False
    while len(wanted) <= _MOST_ROWS:
        some = solve(Problem(colours, problem.variables, spots.only(wanted), problem.bounds))
        if len(some.failing):
            found = can_read(spots.only(wanted), problem.bounds, most_boxes)
            if found is False:
                return Impossible(row, _least(spots, problem.bounds, wanted))
            if most_boxes >= _PATIENT and not is_climbed:
                is_climbed = True
                others = np.setdiff1d(np.arange(len(spots)), sorted(failing - {row}))
                every = climbed(spots.only(others), problem.bounds, colours)
                if every is not None:
                    return worn(problem, every)
            if found is None:
                return None
            moved = worn(problem, found)
        else:
            moved = some.colours
        margins = spots.margins(moved)
        broken = [n for n in np.argsort(margins).tolist() if margins[n] < CLOSE and n not in failing]
        if not broken:
            return moved
        wanted += [n for n in broken[:1] if n not in wanted]
    return None


def worn(problem: Problem, found: Floats) -> Floats:
    """Return the problem's colours with those found for the roles that may move."""
    moved = problem.colours.copy()
    free = [role for variable in problem.variables for role in variable.roles]
    moved[free] = found[free]
    return moved


def _least(spots: Spots, bounds: Floats, rows: list[int]) -> tuple[int, ...]:
    """Return rows that still cannot all read, each tried to be left out once (never the first)."""
    kept = list(rows)
    for row in rows[1:]:
        fewer = [one for one in kept if one != row]
        if can_read(spots.only(fewer), bounds) is False:
            kept = fewer
    return tuple(kept)
