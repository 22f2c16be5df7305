"""The search for cheap choices beside trying every one of them, and climbing beside what is known to be possible."""

from __future__ import annotations

from itertools import product

import numpy as np
import pytest

from glaucon.core.mending.thorough.climbing import climbed
from glaucon.core.mending.thorough.joint import Spots
from glaucon.core.mending.thorough.searching import Search


def made(seed: int) -> tuple[list[np.ndarray], dict[tuple[int, int], np.ndarray]]:
    """Return columns and tables as mending has them: nearness, and rows that fail for most of what two may be."""
    dice = np.random.default_rng(seed)
    sizes = dice.integers(3, 7, 5)
    column = [np.abs(np.arange(size) - dice.integers(size)) * dice.random() for size in sizes]
    pairs = [(a, b) for a in range(5) for b in range(a + 1, 5) if dice.random() < 0.6] or [(0, 1)]
    return column, {(a, b): 1000.0 * (dice.random((sizes[a], sizes[b])) < 0.4) for a, b in pairs}


def test_what_is_found_is_nearly_always_the_cheapest_there_is() -> None:
    missed, excess = 0, []
    for seed in range(60):
        column, table = made(seed)
        search = Search(column, table)
        best = min(search.total(at) for at in product(*(range(len(one)) for one in column)))
        found = search.total(search.cheapest([[0] * 5], by_twos=True))
        assert found >= best - 1e-9
        missed += found >= best + 1000 - 1e-6  # a row fails that need not
        excess.append(found - best if found < best + 1000 else 0.0)
    assert missed == 0 and np.mean(np.array(excess) > 1e-9) < 0.05


@pytest.mark.parametrize("by_twos", [True, False])
def test_two_grounds_move_at_once_with_the_words_between_them(by_twos: bool) -> None:
    # both words stand on both grounds and read only if all four are at 0 or all at 1; 1 is dearer for three of them
    column = [np.array([3.0, 0.0]), np.array([0.0, 1.0]), np.array([0.0, 1.0]), np.array([3.0, 0.0])]
    apart = 1000.0 * (1 - np.eye(2))
    table = {(0, 1): apart, (0, 2): apart, (1, 3): apart, (2, 3): apart}
    found = Search(column, table).cheapest([[0, 0, 0, 0]], by_twos)
    assert found == [int(by_twos)] * 4


def test_climbing_finds_the_one_hue_in_which_faded_words_read() -> None:
    """Words of luminance 0.16 or more (the first row), at 85 % on white, read in a red alone: green adds too much."""
    share, still = np.zeros((2, 2, 1, 3)), np.zeros((2, 2, 3))
    share[0, 0] = 1.0
    still[1, 0] = np.array([41, 39, 28]) / 255
    share[0, 1] = 0.85
    still[:, 1] = [[0.15] * 3, [1.0] * 3]
    spots = Spots(share, still, np.array([3.0, 4.5]), np.ones(2), np.arange(2))
    found = climbed(spots, np.array([[0.0, 1.0]]))
    assert found is not None and (spots.margins(found) >= 1 - 1e-9).all()
    red, green, blue = found[0]
    assert red > 2 * max(green, blue)
