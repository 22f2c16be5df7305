"""Mixtures made to read with what browsers round: layers are painted in 8 bits, and so up to a step beside a sum."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from glaucon.core.colour.contrast import contrast_ratios, relative_luminance
from glaucon.core.colour.oklab import Floats, delta_e_ok
from glaucon.core.mending.thorough.climbing import climbed
from glaucon.core.mending.thorough.impossible import worn
from glaucon.core.mending.thorough.joint import SLACK, Numbers, Problem, Solved, Spots, reads_beside, rows_of, solve
from glaucon.core.mending.thorough.turning import nearer_around, of_any_hue

_STEP = 1 / 255
_ROUNDS = 2
_MOST_CLIMBED = 2


def steadied(problem: Problem, solved: Solved, is_patient: bool = True) -> Solved:
    """Return colours under which mixtures that read do so a step of 8 bits darker or lighter, where no more need fail.

    One role of a row moves on where that is enough. For what is left the patient solve all anew, or try row by row in
    any hue, with most of a step where a whole one is too much. What cannot be had stays as it was solved.
    """
    required = problem.spots.required.copy()
    best = solved
    for _ in range(_ROUNDS):
        for row in _hanging(problem, best):
            stricter = _asked_more(problem, required, row, 1.0, best)
            if (found := _nudged(problem, stricter, row, best)) is not None:
                best, required = found, stricter
    left = _hanging(problem, best) if is_patient else []
    if left:
        stricter = required.copy()
        for row in left:
            stricter = _asked_more(problem, stricter, row, 1.0, best)
        if (found := _solved_again(problem, stricter, best)) is not None:
            return found
    for row in left[:_MOST_CLIMBED]:
        for share in (1.0, 0.8):
            stricter = _asked_more(problem, required, row, share, best)
            if (found := _climbed_to(problem, stricter, best)) is not None:
                best, required = found, stricter
                break
    return best


def _hanging(problem: Problem, solved: Solved) -> list[int]:
    """Return the rows that read and would not with a step of rounding, those that lack least first."""
    short = _shortfall(problem.spots, solved.colours)
    short[solved.failing] = 1.0
    return [int(row) for row in np.argsort(short) if short[row] > 1.0]


def _asked_more(problem: Problem, required: Floats, row: int, share: float, solved: Solved) -> Floats:
    """Return what is required with a share of a step of rounding more for one row."""
    more = required.copy()
    more[row] = problem.spots.required[row] * (1 + share * (_shortfall(problem.spots, solved.colours)[row] - 1))
    return more


def _nudged(problem: Problem, required: Floats, row: int, solved: Solved) -> Solved | None:
    """Return what is solved with the one role of a row moved that it costs least, all else still reading."""
    stricter = replace(problem, spots=replace(problem.spots, required=required))
    best: Solved | None = None
    reads = np.setdiff1d(np.arange(len(problem.spots)), solved.failing)
    for number, variable in enumerate(problem.variables):
        rows = rows_of(problem, number)
        if row not in rows:
            continue
        places = np.arange(len(variable.candidates))
        keeps = reads_beside(stricter, solved.colours, variable, places, np.intersect1d(rows, reads)).all(axis=1)
        if not keeps.any():
            continue
        place = int(np.argmin(np.where(keeps, variable.candidates.delta_e_ok, np.inf)))
        colours = solved.colours.copy()
        colours[list(variable.roles)] = variable.worn(np.array([place]))[0]
        moved = Solved(colours, _cost(problem, colours), _failing(problem, colours))
        if best is None or moved.cost < best.cost:
            best = moved
    return best


def _solved_again(problem: Problem, required: Floats, solved: Solved) -> Solved | None:
    """Return the problem solved with more required, if nothing fails that did not."""
    found = solve(replace(problem, spots=replace(problem.spots, required=required)), [solved.colours])
    if set(found.failing.tolist()) - set(solved.failing.tolist()):
        return None
    return replace(found, failing=_failing(problem, found.colours))


def _climbed_to(problem: Problem, required: Floats, solved: Solved) -> Solved | None:
    """Return what is solved with more required, in hues as turned as it takes, if nothing fails that did not."""
    stricter = replace(problem, spots=replace(problem.spots, required=required))
    others = np.setdiff1d(np.arange(len(problem.spots)), solved.failing)
    better = climbed(stricter.spots.only(others), problem.bounds, solved.colours)
    if better is None:
        return None
    turned, nearer = of_any_hue(stricter, worn(problem, better))
    found = nearer_around(stricter, turned, solve(turned, [nearer, solved.colours]))
    known = set(solved.failing.tolist())
    if set(found.failing.tolist()) - known:
        return None
    return replace(found, failing=_failing(problem, found.colours))


def _failing(problem: Problem, colours: Floats) -> Numbers:
    return np.nonzero(problem.spots.margins(colours) < SLACK)[0]


def _cost(problem: Problem, colours: Floats) -> float:
    firsts = [variable.roles[0] for variable in problem.variables]
    apart = delta_e_ok(problem.colours[firsts], colours[firsts])
    return float(sum(variable.weight * far for variable, far in zip(problem.variables, apart, strict=True)))


def _shortfall(spots: Spots, colours: Floats) -> Floats:
    """Return by how much more each row would have to be required to read when rounded against it, at least 1."""
    mixed = ((spots.share > 1e-9) & (spots.share < 1 - 1e-9)).any(axis=(2, 3))  # (2, rows)
    seen = spots.seen(colours)
    light = relative_luminance(seen)
    towards = np.where(light[0] >= light[1], -_STEP, _STEP) * np.array([[1], [-1]])
    rounded = np.clip(seen + (towards * mixed)[..., None], 0, 1)
    ratio = contrast_ratios(rounded[0], rounded[1])
    return np.asarray(np.where(mixed.any(axis=0), np.maximum(1.0, spots.required / ratio), 1.0))
