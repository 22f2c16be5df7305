"""A site's pairings under the colours of its tokens, and what becomes of them when some tokens take another colour."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from glaucon.core.colour.contrast import contrast_ratios
from glaucon.core.colour.oklab import Floats
from glaucon.core.known.site import KnownSite
from glaucon.core.reading.reading import UNSURE, CompiledPairings
from glaucon.core.study.fading import fades_of
from glaucon.core.study.study import Study
from glaucon.core.survey.model import Photo

Numbers = NDArray[np.int64]
_SLACK = 1 - 1e-9
_OVER_PHOTO = 1.05  # a picture's pixels are told by some of its colours: what is changed on one has this to spare
_MOST_KEPT = 600
_LARGE = 100_000  # ratios


@dataclass(slots=True)
class _Kept:
    """What is worked out of a site's pairings once for all searches: searching asks the same again and again."""

    cuts: dict[frozenset[int], tuple[Numbers, CompiledPairings, Numbers, Numbers]] = field(default_factory=dict)
    shares: dict[frozenset[int], Floats] = field(default_factory=dict)  # how much of each row some tokens give
    tried: dict[tuple[frozenset[int], bytes], tuple[Numbers, Floats]] = field(default_factory=dict)


class SeenRows:
    """The pairings that count, each with the ratio it needs; a margin is a pairing's worst ratio through that.

    `needed` are the ratios for text of normal and large size. Pairings whose colours cannot be told are left out.
    """

    def __init__(self, known: KnownSite, study: Study, needed: tuple[float, float]) -> None:
        self.compiled = known.compiled(study)
        self._index = known.index
        fades = ("seen rows", *sorted(fades_of(study).items()))
        self._kept: _Kept = known.remembered.setdefault(fades, _Kept())
        size = self.compiled.size
        self.counts = np.array([known.index.counts(n) for n in range(size)], dtype=bool)
        # what only a browser's layout could tell asks for nothing
        self.counts &= self.compiled.read(known.tokens.values(study), study.aim).verdict != UNSURE
        self.at_rest = known.index.at_rest & self.counts
        self.needed = self.compiled.needed(*needed)
        # rows of one pairing together, so that its worst is found by one reduction
        self._loudness = np.argsort(self.compiled.owner, kind="stable")
        self._owner = self.compiled.owner[self._loudness]
        on_photo = np.array([any(isinstance(one, Photo) for one in p.below) for p in known.survey.pairings], dtype=bool)
        fails = on_photo & ~self.reads(self.ratios(known.tokens.values(study)))
        self.needed = np.where(fails, self.needed * _OVER_PHOTO, self.needed)

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
        return words[self._loudness], ground[self._loudness]

    def tried(self, values: Floats, tokens: frozenset[int], alphas: Floats, colours: Floats) -> tuple[Numbers, Floats]:
        """Return the pairings that some tokens show in, and their ratios with the tokens in each of some colours.

        `alphas` are the tokens' opacities then, `colours` has shape (n, 3); the ratios (n, pairings found). Source-over
        is linear in every colour, so black and white tell all others, but for mixtures in other spaces and blend modes:
        what is found of those has to be read again.
        """
        involved, _, _, beside = self._involving(tokens)
        if not len(involved):
            return involved, np.zeros((len(colours), 0))
        key = (tokens, b"".join((values[beside].tobytes(), alphas.tobytes(), colours.tobytes())))
        if key not in self._kept.tried:
            found = self._try(values, tokens, alphas, colours)
            if found[1].size > _LARGE:
                return found
            if len(self._kept.tried) > _MOST_KEPT:
                self._kept.tried.clear()
            self._kept.tried[key] = found
        return self._kept.tried[key]

    def _try(self, values: Floats, tokens: frozenset[int], alphas: Floats, colours: Floats) -> tuple[Numbers, Floats]:
        involved, compiled, order, _ = self._involving(tokens)
        share = self._kept.shares.get(tokens)
        ratios, self._kept.shares[tokens] = ratios_in_each(values, tokens, alphas, colours, compiled, order, share)
        owner = compiled.owner[order]
        starts = np.nonzero(np.diff(owner, prepend=-1))[0]
        return involved[owner[starts]], np.minimum.reduceat(ratios, starts, axis=1)

    def _involving(self, tokens: frozenset[int]) -> tuple[Numbers, CompiledPairings, Numbers, Numbers]:
        """Return the counted pairings that involve the tokens, compiled for reading, with their row numbers.

        The last element holds the other tokens in these pairings.
        """
        known = self._kept.cuts.get(tokens)
        if known is None:
            involved = np.array(self._index.involving(set(tokens)), dtype=np.int64)
            compiled = self.compiled.only(involved)
            beside = set[int]().union(*(self._index.tokens_of(p) for p in involved.tolist())) - tokens
            known = self._kept.cuts[tokens] = (
                involved, compiled, np.argsort(compiled.owner, kind="stable"), np.array(sorted(beside), dtype=np.int64)
            )  # fmt: skip
        return known


def ratios_in_each(
    values: Floats, tokens: frozenset[int], alphas: Floats, colours: Floats, compiled: CompiledPairings,
    order: Numbers, share: Floats | None = None,
) -> tuple[Floats, Floats]:  # fmt: skip
    """Return the ratios of the rows of some pairings, in `order`, with some tokens in each of some colours (n, rows).

    `share` is how much of each row the tokens give; it is worked out where it is not given, and returned.
    """
    own = sorted(tokens)
    levels = (0.0,) if share is not None else (0.0, 1.0)
    changed = [values.copy() for _ in levels]
    for one, level in zip(changed, levels, strict=True):
        one[own, :3], one[own, 3] = level, alphas
    black, *white = (np.stack([words[order], ground[order]]) for words, ground in compiled.rows_of_each(changed))
    share = white[0] - black if share is None else share
    seen = np.clip(black[None] + share[None] * colours[:, None, None, :], 0, 1)
    return np.nan_to_num(contrast_ratios(seen[:, 0], seen[:, 1]), nan=np.inf), share
