"""Another hue for what reads in none of its own: faded words may need a colour that is dark for its luminance."""

from __future__ import annotations

from dataclasses import replace
from itertools import product

import numpy as np
from numpy.typing import NDArray

from glaucon.core.colour.oklab import Floats, oklab_from_srgb, oklch_from_oklab
from glaucon.core.mending.thorough.joint import (
    SLACK,
    Numbers,
    Problem,
    Solved,
    Variable,
    kept_to,
    reads_beside,
    rows_of,
    solve,
)
from glaucon.core.reading.candidates import Candidates, with_colours
from glaucon.core.reading.nearest import GREY_CHROMA, HUE_TOLERANCE_DEGREES

_ALL_HUES = np.array(list(product(np.arange(0, 256, 15) / 255, repeat=3)))
_AROUND = np.array(list(product(range(-2, 3), repeat=3))) / 255
_ROUNDS = 4


def of_any_hue(problem: Problem, colours: Floats) -> tuple[Problem, Floats]:
    """Return the problem with a colour of another hue for each variable that must turn to read.

    What is to read does under `colours`; returned as well: colours nearer to the problem's where it still does.
    """
    variables = list(problem.variables)
    reading = problem.spots.margins(colours) >= SLACK
    for number, variable in sorted(enumerate(problem.variables), key=lambda one: -one[1].weight):
        rows = rows_of(problem, number)
        rows = rows[reading[rows]]
        if variable.follow is not None or not len(rows):
            continue
        role = variable.roles[0]
        wide = with_colours(variable.candidates, problem.colours[role], np.concatenate([colours[[role]], _ALL_HUES]))
        wide = kept_to(wide, problem.bounds[role])
        for candidates in (variable.candidates, wide):
            keeps = _read_by(problem, colours, replace(variable, candidates=candidates), rows)
            if keeps.any():
                chosen = candidates.colours[int(np.argmin(np.where(keeps, candidates.delta_e_ok, np.inf)))]
                colours = colours.copy()
                colours[role] = chosen
                break
        added = with_colours(variable.candidates, problem.colours[role], colours[[role]])
        variables[number] = replace(variable, candidates=added)
    return replace(problem, variables=variables), colours


def nearer_around(problem: Problem, turned: Problem, solved: Solved) -> Solved:
    """Return what is solved with colours brought nearer that turned, and those of faded words and grounds with them.

    All colours around such a one are tried beside the rest, since where it was come upon is not where it reads best;
    what has not turned keeps its hue unless it is a grey.
    """
    for _ in range(_ROUNDS):
        is_turned = [_has_turned(variable, solved.colours) for variable in problem.variables]
        variables = list(turned.variables)
        for number, variable in enumerate(problem.variables):
            beside = _mixed_with(problem, number)
            if variable.follow is None and (is_turned[number] or any(is_turned[other] for other in beside)):
                around = _around(variable, problem.colours, solved.colours, is_turned[number])
                variables[number] = replace(variable, candidates=kept_to(around, problem.bounds[variable.roles[0]]))
        again = solve(replace(turned, variables=variables), [solved.colours])
        if not set(again.failing.tolist()) <= set(solved.failing.tolist()) or again.cost >= solved.cost - 1e-9:
            break
        solved = again
    return solved


def _has_turned(variable: Variable, colours: Floats) -> bool:
    """Return whether a variable wears a colour that was none of its candidates."""
    return bool(np.abs(variable.candidates.colours - colours[variable.roles[0]]).max(axis=1).min() > 1e-9)


def _mixed_with(problem: Problem, number: int) -> list[int]:
    """Return the variables that share a row with one in which something is mixed."""
    share = np.abs(problem.spots.share).max(axis=3)
    mixed = ((share > 0) & (share < 1 - 1e-9)).any(axis=(0, 2))
    rows = rows_of(problem, number)
    roles = set(np.nonzero(share[:, rows[mixed[rows]]].max(axis=(0, 1), initial=0) > 0)[0].tolist())
    return [other for other, one in enumerate(problem.variables) if other != number and roles & set(one.roles)]


def _around(variable: Variable, before: Floats, now: Floats, has_turned: bool) -> Candidates:
    """Return the colours around a variable's, and the one it came from."""
    role = variable.roles[0]
    colours = np.clip(now[role] + _AROUND, 0, 1)
    if not has_turned:
        lch = oklch_from_oklab(oklab_from_srgb(np.concatenate([before[[role]], colours])))
        turn = np.abs((lch[:, 2] - lch[0, 2] + 180) % 360 - 180)
        colours = colours[((turn <= HUE_TOLERANCE_DEGREES) | (lch[:, 1] < GREY_CHROMA) | (lch[0, 1] < GREY_CHROMA))[1:]]
    itself = variable.candidates.only(np.array([int(np.argmin(variable.candidates.delta_e_ok))]))
    return with_colours(itself, before[role], np.concatenate([now[[role]], colours]))


def _read_by(problem: Problem, colours: Floats, variable: Variable, rows: Numbers) -> NDArray[np.bool_]:
    """Return by which candidates of a variable some rows all read, all else as in some colours."""
    places = np.arange(len(variable.candidates))
    return np.asarray(reads_beside(problem, colours, variable, places, rows).all(axis=1))
