"""What mixtures come to when each of their sides is painted a step of 8 bits darker or lighter."""

from __future__ import annotations

from itertools import product

import numpy as np
import pytest

from glaucon.core.colour.contrast import relative_luminance
from glaucon.core.mending.thorough.joint import Problem, solve
from glaucon.core.mending.thorough.rounding import steadied
from tests.core.test_mend_studies import made_study


def rows_that_hang_on_rounding(problem: Problem, colours: np.ndarray) -> set[int]:
    """Return the rows that read as they are, and fail with some channels of their mixed sides a step off."""
    spots = problem.spots
    seen, share = spots.seen(colours), spots.share
    mixed = ((share > 0) & (share < 1 - 1e-9)).any(axis=(2, 3))
    found = set()
    for steps in product((-1, 0, 1), repeat=2):
        off = np.clip(seen + (np.array(steps)[:, None] * mixed)[..., None] / 255, 0, 1)
        light = relative_luminance(off) + 0.05
        ratio = np.maximum(*light) / np.minimum(*light)
        found |= set(np.nonzero((ratio < spots.required) & (spots.margins(colours) >= 1 - 1e-9))[0].tolist())
    return {row for row in found if mixed[:, row].any()}


@pytest.mark.prove
def test_mixtures_read_with_what_browsers_round() -> None:
    before = after = 0
    for seed in range(9):
        problem = made_study(seed)
        solved = solve(problem)
        steady = steadied(problem, solved, is_patient=False)
        assert set(steady.failing.tolist()) <= set(solved.failing.tolist()), f"study {seed}"
        assert set(steady.failing.tolist()) == set(np.nonzero(problem.spots.margins(steady.colours) < 1 - 1e-9)[0])
        assert steady.cost <= solved.cost + 0.15, f"study {seed}: steps of 8 bits do not turn a palette over"
        before += len(rows_that_hang_on_rounding(problem, solved.colours))
        after += len(rows_that_hang_on_rounding(problem, steady.colours))
    assert before >= 6 and after <= before / 2, (before, after)
