"""A role against everything it is read with: how each pairing's seen colours follow the role's colour."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from glaucon.core.colour.contrast import contrast_ratios, relative_luminance
from glaucon.core.colour.oklab import Floats
from glaucon.core.reading.reading import LEVELS, CompiledPairings, Worn

# The level that tells whether a pairing follows its colour straight; one that eight bits hold exactly.
BETWEEN = 51 / 255


@dataclass(frozen=True, slots=True)
class Counterparts:
    """Seen words and grounds as functions of one colour c: `words = a * c + b`, per channel.

    Compositing in sRGB is linear in each colour, so two readings (c black, c white) give both coefficients;
    a `color-mix()` in another space is not, and its pairings are named in `left_out`. Shapes (rows, 3); `required`
    (rows,); `pairing` holds each row's index.
    """

    words_a: Floats
    words_b: Floats
    ground_a: Floats
    ground_b: Floats
    required: Floats
    pairing: NDArray[np.int64]
    left_out: tuple[int, ...] = ()

    def __len__(self) -> int:
        return len(self.required)

    def lowest_ratio_margin(self, colours: Floats) -> Floats:
        """Return, for colours of shape (n, 3), the smallest ratio divided by what is required, shape (n,)."""
        if not len(self):
            return np.full(len(colours), np.inf)
        words = colours[:, None, :] * self.words_a + self.words_b
        ground = colours[:, None, :] * self.ground_a + self.ground_b
        ratios = contrast_ratios(words, ground)
        return np.asarray((ratios / self.required).min(axis=1))

    def passes(self, colours: Floats) -> NDArray[np.bool_]:
        """Return whether each colour reads against every counterpart."""
        return self.lowest_ratio_margin(colours) >= 1 - 1e-9

    def only(self, rows: Sequence[int]) -> Counterparts:
        """Return these counterparts with some rows kept."""
        keep = np.array(rows, dtype=np.int64)
        return Counterparts(
            self.words_a[keep], self.words_b[keep], self.ground_a[keep], self.ground_b[keep], self.required[keep],
            self.pairing[keep], self.left_out,
        )  # fmt: skip

    def distinct(self) -> Counterparts:
        """Return these counterparts with equal rows once."""
        rows = np.concatenate(
            [self.words_a, self.words_b, self.ground_a, self.ground_b, self.required[:, None]], axis=1
        )
        first = np.unique(np.round(rows, 12), axis=0, return_index=True)[1]
        return self.only(np.sort(first).tolist())

    def may_pass(self, low: Floats, high: Floats) -> NDArray[np.bool_]:
        """Return whether some colour between the corners `low` and `high`, shape (n, 3), could pass.

        Luminance rises with every channel, so the corners bound it; a False is a proof that none passes.
        """
        if not len(self):
            return np.ones(len(low), dtype=bool)
        words_low = relative_luminance(low[:, None, :] * self.words_a + self.words_b)
        words_high = relative_luminance(high[:, None, :] * self.words_a + self.words_b)
        ground_low = relative_luminance(low[:, None, :] * self.ground_a + self.ground_b)
        ground_high = relative_luminance(high[:, None, :] * self.ground_a + self.ground_b)
        best = np.maximum((words_high + 0.05) / (ground_low + 0.05), (ground_high + 0.05) / (words_low + 0.05))
        return np.asarray((best >= self.required * (1 - 1e-9)).all(axis=1))


def find_counterparts(
    compiled: CompiledPairings, numbers: Sequence[int], values_with: Callable[[float], Worn], level: str = "AA"
) -> Counterparts:
    """Return what a role is read with.

    `numbers` are the pairings that involve the role and count (not exempt); rows name them by place in that list.
    `values_with` gives the token values, shape (tokens, 4), when the role wears the grey of that level in [0, 1].
    Pairings that cannot be known have no rows.
    """
    place = np.full(compiled.size, -1)
    place[list(numbers)] = np.arange(len(numbers))
    owners, words_0, ground_0 = compiled.rows(values_with(0.0))
    _, words_1, ground_1 = compiled.rows(values_with(1.0))
    _, words_m, ground_m = compiled.rows(values_with(BETWEEN))
    owner = place[owners]
    straight = np.ones(len(owner), dtype=bool)
    for start, end, middle in ((words_0, words_1, words_m), (ground_0, ground_1, ground_m)):
        straight &= np.abs(start + BETWEEN * (end - start) - middle).max(axis=1, initial=0.0) < 1e-6
    ours = (owner >= 0) & ~np.isnan(words_0).any(axis=1)
    bent = set(owner[ours & ~straight].tolist())
    normal, large = LEVELS[level]
    required = compiled.needed(normal, large)[owners]
    rows = np.concatenate([words_1 - words_0, words_0, ground_1 - ground_0, ground_0, required[:, None]], axis=1)
    keep = ours & ~np.isin(owner, list(bent))
    keep &= (np.abs(rows[:, :3]).max(axis=1, initial=0) > 1e-9) | (np.abs(rows[:, 6:9]).max(axis=1, initial=0) > 1e-9)
    rows = rows[keep]
    return Counterparts(
        rows[:, 0:3], rows[:, 3:6], rows[:, 6:9], rows[:, 9:12], rows[:, 12], owner[keep], tuple(sorted(bent))
    )
