"""Where each told change shows: on how many texts, which of them it makes readable, on which pages and in what."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

import numpy as np

from glaucon.core.changes.told import ToldChange
from glaucon.core.known.site import KnownSite
from glaucon.core.reading.findings import SiteReading
from glaucon.core.scopes.cascade import is_inside
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study
from glaucon.core.survey.model import PaintGroup, Survey

Place = tuple[str, str]  # a page and an element's path
_MOST_SECTIONS = 12


@dataclass(frozen=True, slots=True)
class ChangePlaces:
    """On how many texts a change shows, how many of those become readable, and how many lie on each page.

    `pages` holds those too on which it shows in no text, with 0; it is empty where only a browser can tell. `sections`
    are what the texts lie in, the most first.
    """

    texts: int
    mended: int
    pages: Mapping[str, int]
    sections: tuple[str, ...]


def hard_places(survey: Survey, reading: SiteReading) -> frozenset[Place]:
    """Return where texts are hard to read, in any state and width."""
    return frozenset((survey.runs[n].page, survey.runs[n].path) for n in reading.failing_texts())


def places_of(
    known: KnownSite, study: Study, reading: SiteReading, was_hard: frozenset[Place], changes: Iterable[ToldChange]
) -> dict[str, ChangePlaces]:
    """Return, by the key of each change, where it shows; `was_hard` is where texts were hard to read before."""
    survey, is_hard = known.survey, hard_places(known.survey, reading)
    mended = np.array([(run.page, run.path) in was_hard - is_hard for run in survey.runs], dtype=bool)
    finder = _Finder(known, study, reading)
    found = {}
    for one in changes:
        runs = sorted(finder.runs(one))
        pages = Counter(survey.runs[n].page for n in runs)
        pages.update(dict.fromkeys(finder.pages(one), 0))
        found[one.key] = ChangePlaces(
            texts=len(runs), mended=int(mended[runs].sum()) if runs else 0,
            pages={page: pages[page] for page in survey.pages if page in pages}, sections=_sections(survey, runs),
        )  # fmt: skip
    return found


def _sections(survey: Survey, runs: Iterable[int]) -> tuple[str, ...]:
    found: Counter[str] = Counter()
    for number in runs:
        chain = survey.chains[survey.runs[number].chain]
        found.update([next((survey.regions[n].label for n in chain if survey.regions[n].is_section), "The page")])
    return tuple(label for label, _ in found.most_common(_MOST_SECTIONS))


class _Finder:
    """Finds the texts that changes show on."""

    def __init__(self, known: KnownSite, study: Study, reading: SiteReading) -> None:
        self._known, self._study, self._reading = known, study, reading
        roles = reading.groups.roles
        self._involved = dict(zip(roles.names, roles.involved, strict=True))

    def runs(self, change: ToldChange) -> set[int]:
        if change.kind in ("colour", "part", "moved"):
            pairings = self._involved.get(change.role or "")
            return set(self._reading.index.runs_of(pairings).tolist()) if pairings is not None else set()
        if change.kind == "fade":
            return self._faded(change.selector)
        if change.kind == "coat":
            id_ = change.key.removeprefix("coat:")
            worn = [scope.where for scope in self._study.worn if scope.coat == id_]
            return set[int]().union(*(self._inside(where) for where in worn))
        if change.kind in ("place", "backdrop"):
            return self._inside(change.where)
        return set()

    def pages(self, change: ToldChange) -> set[str]:
        """Return the pages that it shows on beside those of its texts."""
        if change.where is not None and change.where.page is not None:
            return {change.where.page}
        known = self._known
        numbers = known.tokens.tokens_of(self._study).get(change.role or "", [])
        return set[str]().union(*(known.uses[number].pages for number in numbers if number < len(known.uses)))

    def _inside(self, where: Where | None) -> set[int]:
        survey = self._known.survey
        if where is None:
            return set(range(len(survey.runs)))
        keys = [region.key for region in survey.regions]
        number = keys.index(where.region) if where.region in keys else -1
        return {
            n for n, run in enumerate(survey.runs)
            if where.page in (None, run.page) and (where.region is None or number in survey.chains[run.chain])
            and (where.at is None or is_inside(run.path, where.at))
        }  # fmt: skip

    def _faded(self, selector: str) -> set[int]:
        pairings = [
            n for n, pairing in enumerate(self._reading.index.survey.pairings)
            if any(isinstance(layer, PaintGroup) and layer.by == selector for layer in pairing.all_layers())
        ]  # fmt: skip
        return set(self._reading.index.runs_of(pairings).tolist())
