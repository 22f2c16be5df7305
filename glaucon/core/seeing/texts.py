"""Every text of a site with its verdict: filtered, sorted, a part at a time. One row a text, told by its worst.

Asked for one width and state, the rows are the audit report's runs of that context.
"""

from __future__ import annotations

import unicodedata
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from glaucon.core.reading.findings import RANK, Numbers, SiteReading
from glaucon.core.reading.reading import VERDICTS, Verdict
from glaucon.core.survey.model import ContextKey, Region, Run, Survey

TextKind = Literal["text", "heading", "link", "control", "icon"]
SortedBy = Literal["worst", "ratio", "place", "words", "size"]
KINDS: tuple[TextKind, ...] = ("text", "heading", "link", "control", "icon")


@dataclass(frozen=True, slots=True)
class TextsWanted:
    """Which texts are wanted, and in which order; what is None or "" leaves out nothing.

    `section` and `part` are keys of regions, `words` a piece of the text.
    """

    page: str | None = None
    section: str | None = None
    part: str | None = None
    state: str | None = None
    width: int | None = None
    is_large: bool | None = None
    kind: TextKind | None = None
    verdict: str | None = None
    words: str = ""
    by: SortedBy = "worst"
    is_backwards: bool = False


@dataclass(frozen=True, slots=True)
class TextRow:
    """One text as it is worst among the widths and states asked for; `states` and `widths` are where it is so.

    `section` is the outermost section it lies in, as in the audit report, `part` the innermost part.
    """

    run: Run
    kind: TextKind
    section: Region | None
    part: Region | None
    size_px: float
    weight: int
    is_large: bool
    verdict: Verdict
    states: tuple[str, ...]
    widths: tuple[int, ...]


class TextList:
    """All texts of a reading, in document order."""

    def __init__(self, reading: SiteReading) -> None:
        self._reading = reading
        self._survey: Survey = reading.index.survey
        self._contexts = list(self._survey.sightings)

    def rows(self, wanted: TextsWanted, start: int = 0, most: int | None = None) -> tuple[int, list[TextRow]]:
        """Return how many texts are as wanted, and some of them: `most` from `start`, all if left out."""
        contexts = [key for key in self._contexts if _is_in(key, wanted)]
        runs, pairings = self._worst_of_each(contexts, wanted)
        order = self._order(runs, pairings, wanted, contexts)
        shown = order[start:] if most is None else order[start : start + most]
        return len(order), list(self._told(runs[shown], pairings[shown], contexts))

    def counts(self, wanted: TextsWanted) -> dict[str, int]:
        """Return how many texts have which verdict, whatever verdict is wanted."""
        contexts = [key for key in self._contexts if _is_in(key, wanted)]
        runs, pairings = self._worst_of_each(contexts, wanted)
        found = np.bincount(self._reading.readings.verdict[pairings], minlength=len(VERDICTS)).tolist()
        return dict(zip(VERDICTS, found, strict=True)) if len(runs) else dict.fromkeys(VERDICTS, 0)

    def _worst_of_each(self, contexts: Sequence[ContextKey], wanted: TextsWanted) -> tuple[Numbers, Numbers]:
        """Return the texts that are as wanted, their verdict aside, and the pairing each is worst with."""
        runs, pairings = self._pairs(contexts)
        keep = self._are_wanted(wanted)[runs]
        survey = self._survey.pairings
        if wanted.is_large is not None:
            keep &= np.array([one.large for one in survey], dtype=bool)[pairings] == wanted.is_large
        if wanted.kind is not None:
            is_icon = np.array([one.icon for one in survey], dtype=bool)
            keep &= is_icon[pairings] if wanted.kind == "icon" else ~is_icon[pairings]
        runs, pairings = runs[keep], pairings[keep]
        ratio, rank = self._worth()
        order = np.lexsort((ratio[pairings], rank[pairings], runs))
        _, first = np.unique(runs[order], return_index=True)
        worst = order[first]
        return runs[worst], pairings[worst]

    def _pairs(self, contexts: Sequence[ContextKey]) -> tuple[Numbers, Numbers]:
        if len(contexts) == len(self._contexts):
            return self._reading.index.pairs()
        both = [self._survey.sightings[key] for key in contexts]
        none = [np.zeros(0, dtype=np.int64)]
        runs = np.concatenate([*none, *(np.asarray(one.runs, dtype=np.int64) for one in both)])
        return runs, np.concatenate([*none, *(np.asarray(one.pairings, dtype=np.int64) for one in both)])

    def _worth(self) -> tuple[NDArray[np.float64], Numbers]:
        """Return of each pairing its share of the contrast it needs (0 where not known), and its verdict's rank."""
        readings = self._reading.readings
        needed = np.where(np.isnan(readings.required), 1.0, readings.required)
        return np.nan_to_num(readings.ratio / needed, nan=0.0), RANK[readings.verdict]

    def _are_wanted(self, wanted: TextsWanted) -> NDArray[np.bool_]:
        words = _plain(wanted.words)
        chains = self._chains_in([one for one in (wanted.section, wanted.part) if one is not None])
        kind = None if wanted.kind == "icon" else wanted.kind
        return np.array([
            (wanted.page is None or run.page == wanted.page)
            and (chains is None or run.chain in chains)
            and (kind is None or kind_of(run) == kind)
            and (not words or words in _plain(run.text))
            for run in self._survey.runs
        ], dtype=bool)  # fmt: skip

    def _chains_in(self, keys: Sequence[str]) -> set[int] | None:
        """Return the chains that go through all of some regions; None: none is asked for."""
        if not keys:
            return None
        regions = self._survey.regions
        return {
            number for number, chain in enumerate(self._survey.chains)
            if all(any(regions[one].key == key for one in chain) for key in keys)
        }  # fmt: skip

    def _order(self, runs: Numbers, pairings: Numbers, wanted: TextsWanted, contexts: Sequence[ContextKey]) -> Numbers:
        readings = self._reading.readings
        if wanted.verdict is None:
            some = np.arange(len(runs))
        else:
            some = np.nonzero(readings.verdict[pairings] == VERDICTS.index(wanted.verdict))[0]
        ratio, rank = self._worth()
        of = pairings[some]
        if wanted.by == "worst":
            order = np.lexsort((runs[some], ratio[of], rank[of]))
        elif wanted.by == "ratio":
            order = np.lexsort((runs[some], np.nan_to_num(readings.ratio[of], nan=0.0)))
        elif wanted.by == "size":
            order = np.lexsort((runs[some], self._sizes(runs, pairings, contexts)[some]))
        elif wanted.by == "words":
            words = [_plain(self._survey.runs[run].text) for run in runs[some].tolist()]
            order = np.array(sorted(range(len(words)), key=words.__getitem__), dtype=np.int64)
        else:
            order = np.arange(len(some))
        found = some[order]
        return found[::-1] if wanted.is_backwards else found

    def _sizes(self, runs: Numbers, pairings: Numbers, contexts: Sequence[ContextKey]) -> NDArray[np.float64]:
        """Return the size of each text, in CSS pixels, where it is first seen with its pairing."""
        own, sizes = np.full(len(self._survey.runs), -1), np.zeros(len(self._survey.runs))
        own[runs] = pairings
        for key in reversed(contexts):
            sightings = self._survey.sightings[key]
            seen = np.asarray(sightings.runs, dtype=np.int64)
            is_it = own[seen] == np.asarray(sightings.pairings, dtype=np.int64)
            sizes[seen[is_it]] = np.asarray(sightings.sizes_px)[is_it]
        return sizes[runs]

    def _told(self, runs: Numbers, pairings: Numbers, contexts: Sequence[ContextKey]) -> Iterator[TextRow]:
        readings, survey = self._reading.readings, self._survey
        same: dict[int, list[ContextKey]] = {run: [] for run in runs.tolist()}
        worst = dict(zip(runs.tolist(), readings.verdict[pairings].tolist(), strict=True))
        own = dict(zip(runs.tolist(), pairings.tolist(), strict=True))
        sized: dict[int, tuple[float, int]] = {}
        for key in contexts:
            sightings = survey.sightings[key]
            seen = np.asarray(sightings.runs, dtype=np.int64)
            for place in np.nonzero(np.isin(seen, runs))[0].tolist():
                one, pairing = int(seen[place]), sightings.pairings[place]
                if readings.verdict[pairing] == worst[one]:
                    same[one].append(key)
                if pairing == own[one]:
                    sized.setdefault(one, (sightings.sizes_px[place], sightings.weights[place]))
        for number, pairing in own.items():
            run = survey.runs[number]
            section, part = self._regions_of(run)
            size_px, weight = sized[number]
            yield TextRow(
                run, "icon" if survey.pairings[pairing].icon else kind_of(run), section, part, size_px, weight,
                survey.pairings[pairing].large, readings[pairing],
                tuple(dict.fromkeys(key.state for key in same[number])),
                tuple(sorted({key.width for key in same[number]}, reverse=True)),
            )  # fmt: skip

    def _regions_of(self, run: Run) -> tuple[Region | None, Region | None]:
        around = [self._survey.regions[number] for number in self._survey.chains[run.chain]]
        sections = [one for one in around if one.is_section]
        parts = [one for one in around if not one.is_section]
        return (sections[0] if sections else None), (parts[-1] if parts else None)


def kind_of(run: Run) -> TextKind:
    """Return what a text is; a link in a heading is a link."""
    return "link" if run.is_link else "heading" if run.is_heading else "control" if run.is_control else "text"


def _is_in(key: ContextKey, wanted: TextsWanted) -> bool:
    return wanted.state in (None, key.state) and wanted.width in (None, key.width)


def _plain(text: str) -> str:
    """Return a text as it is looked for: without accents, in small letters."""
    return "".join(c for c in unicodedata.normalize("NFKD", text.casefold()) if not unicodedata.combining(c))
