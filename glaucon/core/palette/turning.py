"""Another hue for what reads in none of its own: faded words may need a colour that is dark for its luminance."""

from __future__ import annotations

from dataclasses import replace
from itertools import product

import numpy as np
from numpy.typing import NDArray

from glaucon.core.colour.oklab import Floats
from glaucon.core.palette.candidates import with_colours
from glaucon.core.palette.joint import SLACK, Numbers, Problem, Variable, kept_to, reads_beside, rows_of

_ALL_HUES = np.array(list(product(np.arange(0, 256, 15) / 255, repeat=3)))


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


def _read_by(problem: Problem, colours: Floats, variable: Variable, rows: Numbers) -> NDArray[np.bool_]:
    """Return by which candidates of a variable some rows all read, all else as in some colours."""
    places = np.arange(len(variable.candidates))
    return np.asarray(reads_beside(problem, colours, variable, places, rows).all(axis=1))
