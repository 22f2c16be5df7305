"""Nothing that can be read is ever called impossible, by the core or by the checker of its proofs."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from glaucon.core.colour.contrast import relative_luminance
from glaucon.core.mending.thorough.boxes import ByBoth, ByLuminance
from glaucon.core.mending.thorough.impossible import can_read
from glaucon.core.mending.thorough.joint import Spots
from tests import checking_proofs
from tests.checking_proofs import is_impossible

_ROLES = 4


def made_to_read(seed: int) -> tuple[Spots, np.ndarray, np.ndarray]:
    """Return rows that some colours just let read, bounds those keep to, and the colours.

    Sides are plain colours, mixtures, and words faded over their own ground.
    """
    dice = np.random.default_rng(seed)
    colours = dice.random((_ROLES, 3))
    colours = np.where(dice.random((_ROLES, 1)) < 0.5, colours.round(), colours)  # corners are where bounds bite
    light = relative_luminance(colours)
    bounds = np.stack([light * dice.choice([0, 0.8], _ROLES), light + (1 - light) * dice.choice([0.2, 1], _ROLES)], 1)
    rows = int(dice.integers(2, 5))
    share, still = np.zeros((2, rows, _ROLES, 3)), np.zeros((2, rows, 3))
    for row in range(rows):
        for side in (1, 0):
            parts = dice.choice(_ROLES, size=int(dice.integers(1, 4)), replace=False)
            amounts = dice.dirichlet(np.ones(len(parts))) if dice.random() < 0.7 else np.eye(len(parts))[0]
            rest = dice.choice([0.0, 0.3])
            share[side, row, parts] = (amounts * (1 - rest))[:, None]
            still[side, row] = rest * dice.random(3)
        if dice.random() < 0.5:
            share[0, row], still[0, row] = 0.2 * share[1, row], 0.2 * still[1, row]
            share[0, row, parts[0]] += 0.8
    spots = Spots(share, still, np.ones(rows), np.ones(rows), np.arange(rows))
    return replace(spots, required=spots.margins(colours)), bounds, colours


@pytest.mark.parametrize("seeds", [range(10), pytest.param(range(10, 40), marks=pytest.mark.prove)], ids=str)
def test_no_box_is_left_out_that_holds_what_reads(seeds: range) -> None:
    """Boxes are halved towards colours that just read: each must be kept, however it is brought in.

    Where a role is brought in to white or black, that must read too.
    """
    kept = 0
    for seed in seeds:
        spots, bounds, colours = made_to_read(seed)
        by_light = ByLuminance.of(spots, bounds)
        assert by_light is not None
        search = ByBoth.of(by_light, spots)
        dice = np.random.default_rng(seed)
        low, high = search.everything()
        for _ in range(25):
            low, high = search.tightened(low, high)
            ends = {1.0: low[0, :_ROLES] > np.log(1.05) - 1e-9, 0.0: high[0, :_ROLES] < np.log(0.05) + 1e-9}
            for level, roles in ends.items():
                colours = np.where(roles[:, None], level, colours)
            at = np.concatenate([np.log(relative_luminance(colours) + 0.05), colours[search.open].ravel()])
            assert (low[0] <= at + 1e-7).all() and (at <= high[0] + 1e-7).all(), f"seed {seed}"
            assert (spots.margins(colours) >= 1 - 1e-9).all(), f"seed {seed}"
            assert search.may_read(low, high)[0].all(), f"seed {seed}"
            axis = int(dice.choice(np.nonzero(high[0] - low[0] > 1e-9)[0])) if (high - low).max() > 1e-9 else 0
            middle = dice.uniform(low[0, axis], high[0, axis])
            (low if at[axis] >= middle else high)[0, axis] = middle
            kept += 1
    assert kept == len(seeds) * 25


@pytest.mark.parametrize("seed", range(12))
def test_what_just_reads_is_not_called_impossible(seed: int, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(checking_proofs, "_MOST", 3_000)
    spots, bounds, _ = made_to_read(seed)
    assert can_read(spots, bounds, 1_000) is not False
    assert not is_impossible(spots, bounds)


@pytest.mark.prove
def test_what_is_a_little_too_much_is_proved() -> None:
    """A faded row whose best is known: half black over a page, on that page, and words that fade over their ground."""
    proved = 0
    for seed in range(5):
        dice = np.random.default_rng(seed)
        share = np.zeros((2, 2, 3, 3))
        part = dice.uniform(0.3, 0.7)
        share[0, 0, 0], share[0, 0, 1], share[1, 0, 0] = part, 1 - part, 1.0
        share[0, 1, 0], share[0, 1, 2], share[1, 1, 0] = 0.2, 0.8, 1.0
        bounds = np.array([[0.5, 1.0], [0.0, 1.0], [0.0, 1.0]])
        spots = Spots(share, np.zeros((2, 2, 3)), np.ones(2), np.ones(2), np.arange(2))
        # darker words on the lightest page there is; lighter ones never come near
        best = float(spots.margins(np.array([[1.0] * 3, [0.0] * 3, [0.0] * 3]))[0])
        for more, is_too_much in ((0.98, False), (1.02, True)):
            tried = Spots(share, spots.still, np.array([best * more, 1.5]), spots.weight, spots.pairing)
            assert (can_read(tried, bounds) is False) == is_too_much
            assert is_impossible(tried, bounds) == is_too_much
            proved += is_too_much
    assert proved == 5
