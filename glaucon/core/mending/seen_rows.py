"""A site's pairings under the colours of its tokens, and what becomes of them when some tokens take another colour."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray

from glaucon.core.colour.contrast import contrast_ratios
from glaucon.core.colour.oklab import Floats
from glaucon.core.proposal.known import KnownSite
from glaucon.core.study.study import Study

Numbers = NDArray[np.int64]
_SLACK = 1 - 1e-9


class SeenRows:
    """The pairings that count, each with the ratio it needs; a margin is a pairing's worst ratio through that.

    `needed` are the ratios for text of normal and large size. Pairings whose colours cannot be told are left out.
    """

    def __init__(self, known: KnownSite, study: Study, needed: tuple[float, float]) -> None:
        self.compiled = known.compiled(study)
        size = self.compiled.size
        self.counts = np.array([known.index.counts(n) for n in range(size)], dtype=bool)
        self.at_rest = known.index.at_rest & self.counts
        self.needed = np.where(self.compiled.large, needed[1], needed[0])
        # rows of one pairing together, so that its worst is found by one reduction
        self._order = np.argsort(self.compiled.owner, kind="stable")
        self._owner = self.compiled.owner[self._order]

    def ratios(self, values: Floats) -> Floats:
        """Return each pairing's worst ratio, shape (pairings,); infinite where it does not count or cannot be told."""
        words, ground = self._sides(values)
        found = np.full(self.compiled.size, np.inf)
        np.minimum.at(found, self._owner, np.nan_to_num(contrast_ratios(words, ground), nan=np.inf))
        found[~self.counts] = np.inf
        return found

    def reads(self, ratios: Floats) -> NDArray[np.bool_]:
        """Return which pairings are readable at some ratios, shape (…, pairings)."""
        return np.asarray(ratios >= self.needed * _SLACK)

    def _sides(self, values: Floats) -> tuple[Floats, Floats]:
        _, words, ground = self.compiled.rows(values)
        return words[self._order], ground[self._order]

    def tried(self, values: Floats, tokens: Iterable[int], alphas: Floats, colours: Floats) -> tuple[Numbers, Floats]:
        """Return the pairings that some tokens show in, and their ratios with the tokens in each of some colours.

        `alphas` are the tokens' opacities then, `colours` has shape (n, 3); the ratios (n, pairings found). Source-over
        is linear in every colour, so black and white tell all others, but for mixtures in other spaces and blend modes:
        what is found of those has to be read again.
        """
        own = list(tokens)
        sides = []
        for level in (0.0, 1.0):
            changed = values.copy()
            changed[own, :3], changed[own, 3] = level, alphas
            sides.append(np.stack(self._sides(changed)))
        black, share = sides[0], sides[1] - sides[0]
        moved = np.abs(share).max(axis=(0, 2)) > 1e-9
        untold = np.isnan(black).any(axis=(0, 2))
        pairings = np.setdiff1d(np.unique(self._owner[moved]), self._owner[untold])
        pairings = pairings[self.counts[pairings]]
        rows = np.nonzero(np.isin(self._owner, pairings))[0]
        if not len(rows):
            return pairings, np.zeros((len(colours), 0))
        seen = np.clip(black[None, :, rows] + share[None, :, rows] * colours[:, None, None, :], 0, 1)
        ratios = contrast_ratios(seen[:, 0], seen[:, 1])
        starts = np.searchsorted(self._owner[rows], pairings)
        return pairings, np.minimum.reduceat(ratios, starts, axis=1)
