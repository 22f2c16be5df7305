"""Mixtures made to read with what browsers round: layers are painted in 8 bits, and so up to a step beside a sum."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from glaucon.core.colour.contrast import relative_luminance
from glaucon.core.colour.oklab import Floats
from glaucon.core.palette.climbing import climbed
from glaucon.core.palette.impossible import worn
from glaucon.core.palette.joint import SLACK, Problem, Solved, Spots, solve
from glaucon.core.palette.turning import nearer_around, of_any_hue

_STEP = 1 / 255
_ROUNDS = 2
_MOST_CLIMBS = 3


def steadied(problem: Problem, solved: Solved, is_patient: bool = True) -> Solved:
    """Return colours under which mixtures that read do so a step of 8 bits darker or lighter, where no more need fail.

    Where not all can be had the rows are tried one after the other, with most of a step where a whole one is too much.
    What cannot be had stays as it was solved; other hues are looked for by the patient alone.
    """
    required = problem.spots.required
    best, climbs = solved, _MOST_CLIMBS if is_patient else 0
    for _ in range(_ROUNDS):
        short = _shortfall(problem.spots, best.colours)
        short[best.failing] = 1.0
        rows = np.nonzero(short > 1)[0]
        if not len(rows):
            break
        found = _kept(problem, required * short, best, is_patient=False)
        if found is not None:
            best, required = found, required * short
            continue
        for row in sorted(rows.tolist(), key=lambda row: short[row]):
            for share in (1.0, 0.8):
                tried = required.copy()
                tried[row] *= 1 + share * (short[row] - 1)
                found = _kept(problem, tried, best, is_patient=climbs > 0)
                climbs -= 1
                if found is not None:
                    best, required = found, tried
                    break
        break
    return best


def _kept(problem: Problem, required: Floats, solved: Solved, is_patient: bool) -> Solved | None:
    """Return the problem solved with more required, if nothing fails that did not."""
    failing = set(solved.failing.tolist())
    stricter = replace(problem, spots=replace(problem.spots, required=required))
    tried = solve(stricter, [solved.colours])
    if set(tried.failing.tolist()) - failing and is_patient:
        others = np.setdiff1d(np.arange(len(problem.spots)), solved.failing)
        better = climbed(stricter.spots.only(others), problem.bounds, solved.colours)
        if better is None:
            return None
        turned, nearer = of_any_hue(stricter, worn(problem, better))
        tried = nearer_around(stricter, turned, solve(turned, [nearer, solved.colours]))
    if set(tried.failing.tolist()) - failing:
        return None
    left = np.nonzero(problem.spots.margins(tried.colours) < SLACK)[0]
    return None if set(left.tolist()) - failing else replace(tried, failing=left)


def _shortfall(spots: Spots, colours: Floats) -> Floats:
    """Return by how much more each row would have to be required to read when rounded against it, at least 1."""
    mixed = ((spots.share > 1e-9) & (spots.share < 1 - 1e-9)).any(axis=(2, 3))  # (2, rows)
    seen = spots.seen(colours)
    light = relative_luminance(seen)
    towards = np.where(light[0] >= light[1], -_STEP, _STEP) * np.array([[1], [-1]])
    rounded = relative_luminance(np.clip(seen + (towards * mixed)[..., None], 0, 1)) + 0.05
    ratio = np.maximum(rounded[0], rounded[1]) / np.minimum(rounded[0], rounded[1])
    return np.asarray(np.where(mixed.any(axis=0), np.maximum(1.0, spots.required / ratio), 1.0))
