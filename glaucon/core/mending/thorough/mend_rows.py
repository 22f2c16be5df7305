"""A problem mended as far as it can be: solved, what is left proved impossible, or tried again where it is not."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from itertools import islice

import numpy as np

from glaucon.core.mending.thorough.impossible import MOST_BOXES, Impossible, can_read, prove
from glaucon.core.mending.thorough.joint import Problem, Solved, solve
from glaucon.core.mending.thorough.turning import nearer_around, of_any_hue

_TRIES = 4
_MOST_PROOFS = 400
_INSISTED = 3
_FEW_BOXES = 1_000


@dataclass(slots=True)
class Mended:
    """The colours, the rows proved impossible, and rows that fail without a proof."""

    solved: Solved
    impossible: list[Impossible] = field(default_factory=list)
    unproved: list[int] = field(default_factory=list)


def mend_rows(problem: Problem, most_boxes: int = MOST_BOXES) -> Mended:
    """Return a problem's colours with a proof for each row that stays hard to read, where one was found.

    `most_boxes` is how long a proof is looked for; with 0 none is, and heavy rows are insisted on instead. Where that
    search comes upon colours under which more reads, solving starts from those again; where they read only in another
    hue, that hue is allowed.
    """
    solved = solve(problem)
    if most_boxes == 0:
        solved = _insisted(problem, solved)
        return Mended(solved, [], solved.failing.tolist())
    for _ in range(_TRIES):
        mended, better = _proved(problem, solved, most_boxes)
        if better is None or problem.is_late:
            return mended
        again = solve(problem, [better, solved.colours])
        if _rank(problem, again) >= _rank(problem, solved):
            turned, nearer = of_any_hue(problem, better)
            again = nearer_around(problem, turned, solve(turned, [nearer, solved.colours]))
            problem = turned
        if _rank(problem, again) >= _rank(problem, solved):
            return mended
        solved = again
    return mended


def _insisted(problem: Problem, solved: Solved) -> Solved:
    """Return what is solved, or more than it: some rows that fail weigh so much in turn that they are seen to first."""
    spots = problem.spots
    heaviest = sorted(solved.failing.tolist(), key=lambda row: -spots.weight[row])
    worth = (row for row in heaviest if can_read(spots.only([row]), problem.bounds, _FEW_BOXES) is not False)
    for row in islice(worth, _INSISTED):
        weight = spots.weight.copy()
        weight[row] += spots.weight.sum()
        tried = solve(replace(problem, spots=replace(spots, weight=weight)), [solved.colours], is_rough=True)
        if _rank(problem, tried)[0] < _rank(problem, solved)[0]:
            solved = min(solve(problem, [tried.colours]), tried, key=lambda one: _rank(problem, one))
    return solved


def _rank(problem: Problem, solved: Solved) -> tuple[float, float]:
    return round(float(problem.spots.weight[solved.failing].sum()), 9), solved.cost


def _proved(problem: Problem, solved: Solved, most_boxes: int) -> tuple[Mended, np.ndarray | None]:
    mended = Mended(solved)
    proofs: dict[bytes, Impossible] = {}
    for row in solved.failing.tolist():
        if len(proofs) >= _MOST_PROOFS or problem.is_late:
            mended.unproved.append(row)
            continue
        same = problem.spots.only([row])
        key = b"".join(part.tobytes() for part in (same.share, same.still, same.required))
        if key in proofs:
            mended.impossible.append(Impossible(row, (row, *proofs[key].rows[1:])))
            continue
        found = prove(problem, solved, row, most_boxes)
        if isinstance(found, Impossible):
            proofs[key] = found
            mended.impossible.append(found)
        elif found is None:
            mended.unproved.append(row)
        else:
            mended.unproved.append(row)
            return mended, found
    return mended, None
