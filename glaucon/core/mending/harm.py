"""What a change makes worse: texts that end hard to read, or untold, with less contrast than they had.

A text is compared spot by spot with what it was: each layer that may lie behind it, each part of a gradient, each main
colour of a picture. Where no spot has less, neither the worst nor the median has. What a person cannot be told about
(a picture without a layout) keeps its colour, and so do logotypes and what is disabled, which no verdict speaks of.
"""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from glaucon.core.colour.contrast import contrast_ratios
from glaucon.core.colour.oklab import Floats
from glaucon.core.colour.value import Colour
from glaucon.core.known.site import KnownSite
from glaucon.core.mending.seen_rows import ratios_in_each
from glaucon.core.reading.findings import Numbers, SurveyIndex
from glaucon.core.reading.reading import LEVELS, PASS, CompiledPairings, Worn
from glaucon.core.study.fading import fades_of
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey

LESS = 0.99  # of the contrast that a text had
_SLACK = 1e-9
_SAME = 1 / 512  # of a channel

# A text in a context.
InContext = tuple[int, ContextKey]


@dataclass(frozen=True, slots=True)
class Spots:
    """The ratio at each spot of each pairing: those of pairing n at `starts[n] : starts[n] + lengths[n]`.

    `words` are the colours of the words themselves, with alpha, shape (pairings, 4). A pairing that cannot be known
    has no spot.
    """

    ratios: Floats
    starts: Numbers
    lengths: Numbers
    words: Floats
    needed: Floats

    def worst(self) -> Floats:
        """Return the least ratio of each pairing, 0 where none is known."""
        found = np.where(self.lengths > 0, np.inf, 0.0)
        np.minimum.at(found, np.repeat(np.arange(len(self.lengths)), self.lengths), self.ratios)
        return found

    def worst_and_median(self) -> Floats:
        """Return the least ratio of each pairing and the one half of its spots have, shape (pairings, 2)."""
        pairing = np.repeat(np.arange(len(self.lengths)), self.lengths)
        order = np.lexsort((self.ratios, pairing))
        found = np.zeros((len(self.lengths), 2))
        has = self.lengths > 0
        for place, at in enumerate((self.starts, self.starts + (self.lengths - 1) // 2)):
            found[has, place] = self.ratios[order[at[has]]]
        return found


def spots_of(compiled: CompiledPairings, worn: Worn, aim: str) -> Spots:
    """Return the ratio at every spot of some pairings."""
    owner, words, ground = compiled.rows(worn)
    order = np.argsort(owner, kind="stable")
    lengths = np.bincount(owner, minlength=compiled.size).astype(np.int64)
    ratios = np.nan_to_num(contrast_ratios(words, ground), nan=np.inf)[order]
    return Spots(ratios, np.cumsum(lengths) - lengths, lengths, compiled.words(worn), compiled.needed(*LEVELS[aim]))


def made_worse(before: Spots, after: Spots, old: Numbers, new: Numbers) -> NDArray[np.bool_]:
    """Return for pairs of pairings, `old` before and `new` after, of as many spots, whether the second is worse."""
    lengths = before.lengths[old]
    pair = np.repeat(np.arange(len(old)), lengths)
    within = np.arange(len(pair)) - np.repeat(np.cumsum(lengths) - lengths, lengths)
    was = before.ratios[before.starts[old][pair] + within]
    is_ = after.ratios[after.starts[new][pair] + within]
    less = np.zeros(len(old), dtype=bool)
    np.logical_or.at(less, pair, is_ < LESS * was - _SLACK)
    unread = after.worst()[new] < after.needed[new] - _SLACK
    recoloured = (np.abs(before.words[old] - after.words[new]) > _SAME).any(axis=1)
    return np.asarray(unread & np.where(lengths > 0, less, recoloured))


class AtRisk:
    """Pairings that may get more contrast in a search and not less, `guarded` by number, exempt ones among them."""

    def __init__(self, known: KnownSite, study: Study, guarded: Collection[int]) -> None:
        self._index = known.index
        self._own = np.array(sorted(guarded), dtype=np.int64)
        self._compiled = known.compiled(study).only(self._own)
        self._aim = study.aim
        self._start = spots_of(self._compiled, known.tokens.values(study), study.aim)

    def any_under(self, values: Floats) -> bool:
        """Return whether any is worse under some values of the tokens."""
        if not len(self._own):
            return False
        own = np.arange(len(self._own))
        return bool(made_worse(self._start, spots_of(self._compiled, values, self._aim), own, own).any())

    def by(self, values: Floats, tokens: frozenset[int], alphas: Floats, colours: Floats) -> NDArray[np.bool_]:
        """Return whether any is worse with some tokens in each of some colours, shape (colours,)."""
        found = np.zeros(len(colours), dtype=bool)
        mine = [place for place, one in enumerate(self._own.tolist()) if self._index.tokens_of(one) & tokens]
        if not mine or not len(colours):
            return found
        own = np.array(mine, dtype=np.int64)
        compiled = self._compiled.only(own)
        order, lengths = np.argsort(compiled.owner, kind="stable"), self._start.lengths[own]
        if len(order):
            ratios, _ = ratios_in_each(values, tokens, alphas, colours, compiled, order)
            place = np.repeat(self._start.starts[own] - (np.cumsum(lengths) - lengths), lengths) + np.arange(len(order))
            firsts = (np.cumsum(lengths) - lengths)[lengths > 0]
            less = np.logical_or.reduceat(ratios < LESS * self._start.ratios[place] - _SLACK, firsts, axis=1)
            unread = np.minimum.reduceat(ratios, firsts, axis=1) < self._start.needed[own[lengths > 0]] - _SLACK
            found |= (less & unread).any(axis=1)
        for at in own[lengths == 0].tolist():
            if self._index.text_token(int(self._own[at])) in tokens:
                found |= (np.abs(colours - self._start.words[at, :3]) > _SAME).any(axis=1)
        return found


class Guard:
    """A study before anything is changed, and what other studies of the same site make worse than it.

    `disabled`: whether what is disabled counts, of which nobody asks to be readable.
    """

    def __init__(self, known: KnownSite, study: Study, disabled: bool = True) -> None:
        self._known, self._before, self._disabled = known, study, disabled
        self._index, self._spots = self._spots_under(study)

    def holds(self, study: Study, now: Study) -> bool:
        """Return whether a study makes nothing worse that another does not make so already."""
        return self.worse(study) <= self.worse(now)

    def harder(self, study: Study) -> int:
        """Return how many texts that are hard to read or untold already are worse to read under a study."""
        readings = self._known.read(self._before).readings
        bad = {run for run, context in self.worse(study) if readings.verdict[self._row(run, context)] != PASS}
        return len(bad)

    def _row(self, run: int, context: ContextKey) -> int:
        sightings = self._index.survey.sightings[context]
        return sightings.pairings[sightings.runs.index(run)]

    def worse(self, study: Study) -> set[InContext]:
        """Return the texts that are worse to read under a study, each with where it is."""
        index, spots = self._spots_under(study)
        found: set[InContext] = set()
        size = len(spots.lengths)
        for context, sightings in index.survey.sightings.items():
            old = np.asarray(self._index.survey.sightings[context].pairings, dtype=np.int64)
            new = np.asarray(sightings.pairings, dtype=np.int64)
            pairs, which = np.unique(old * size + new, return_inverse=True)
            worse = made_worse(self._spots, spots, pairs // size, pairs % size)
            if not self._disabled:
                worse &= ~np.array([index.survey.pairings[row].exempt for row in (pairs % size).tolist()], dtype=bool)
            runs = np.asarray(sightings.runs)[worse[which]]
            found.update((run, context) for run in runs.tolist())
        return found

    def pairings(self, some: Collection[InContext]) -> set[int]:
        """Return the site's own pairings that some texts show."""
        found = set()
        for run, context in some:
            sightings = self._known.survey.sightings[context]
            found.add(sightings.pairings[sightings.runs.index(run)])
        return found

    def worse_in(self, other: KnownSite, study: Study) -> set[tuple[str, str]]:
        """Return the texts, by page and path, that are worse under a study in another survey of the site.

        What a veil or a rule lays behind a text are other spots: the worst and the median are compared.
        """
        index: SurveyIndex = other.dressed(study).index if study.worn else other.index
        spots = spots_of(index.compiled.faded(fades_of(study)), other.worn_colours(study), study.aim)
        was, now = self._spots.worst_and_median(), spots.worst_and_median()
        unread = spots.worst() < spots.needed - _SLACK
        found: set[tuple[str, str]] = set()
        for context, sightings in index.survey.sightings.items():
            first = self._index.survey.sightings.get(context)
            runs = self._index.survey.runs
            before = (
                {(runs[r].page, runs[r].path): row for r, row in zip(first.runs, first.pairings, strict=True)}
                if first
                else {}
            )
            for number, row in zip(sightings.runs, sightings.pairings, strict=True):
                run = index.survey.runs[number]
                old = before.get((run.page, run.path))
                if old is not None and unread[row] and (now[row] < LESS * was[old] - _SLACK).any():
                    found.add((run.page, run.path))
        return found

    def own_colour(self, run: int, context: ContextKey) -> Colour:
        """Return the colour that a text's words had."""
        return Colour(*self._spots.words[self._row(run, context)].tolist())

    def _spots_under(self, study: Study) -> tuple[SurveyIndex, Spots]:
        known = self._known
        index: SurveyIndex = known.dressed(study).index if study.worn else known.index
        return index, spots_of(index.compiled.faded(fades_of(study)), known.worn_colours(study), study.aim)
