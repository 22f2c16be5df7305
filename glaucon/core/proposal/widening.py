"""How far a choice may go from an element of a page: this part, those alike, its section, its page, the site."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from glaucon.core.cascade.tree import Element
from glaucon.core.proposal.known import KnownSite
from glaucon.core.reading.findings import Numbers
from glaucon.core.study.scopes import Where
from glaucon.core.survey.model import ContextKey, Region
from glaucon.core.wording import counted

Lineage = Sequence[tuple[Region, Element]]


@dataclass(frozen=True, slots=True)
class Reach:
    """One width of a choice: what it is called, where it holds, what is in it. `where` is None for the whole site.

    `elements` are those that its selector finds, on `pages`; `texts` those that lie in them, at rest. What is counted
    first for a person is `unit`; `label` is what the region or page is called.
    """

    what: str
    label: str
    where: Where | None
    selector: str
    elements: int
    texts: int
    pages: tuple[str, ...]
    unit: str = "texts"

    @property
    def count(self) -> str:
        """Return what it reaches, as a person would say it."""
        if self.unit == "elements":
            return f"{self.elements:,}" if len(self.pages) == 1 else f"{self.elements:,} on {len(self.pages)} pages"
        return counted(self.texts, "text")


class TextCounts:
    """How many texts lie where, at rest at one width."""

    def __init__(self, known: KnownSite, width: int) -> None:
        self._survey = survey = known.survey
        sightings = survey.sightings.get(ContextKey(width, "rest"))
        runs = np.asarray(sightings.runs, dtype=np.int64) if sightings is not None else np.zeros(0, dtype=np.int64)
        self._runs: Numbers = np.unique(runs)
        chains = np.array([run.chain for run in survey.runs], dtype=np.int64)
        pages = {page: number for number, page in enumerate(survey.pages)}
        self._chain = chains[self._runs]
        self._page = np.array([pages[run.page] for run in survey.runs], dtype=np.int64)[self._runs]
        self._pages = pages

    @cached_property
    def total(self) -> int:
        """Return how many there are."""
        return len(self._runs)

    def on_page(self, page: str) -> int:
        """Return how many are on a page."""
        return int((self._page == self._pages[page]).sum())

    def in_region(self, region: int, page: str | None = None) -> int:
        """Return how many lie in a region, on one page or on all."""
        inside = np.array([region in chain for chain in self._survey.chains], dtype=bool)[self._chain]
        return int((inside & (self._page == self._pages[page])).sum() if page is not None else inside.sum())

    def in_element(self, page: str, path: str) -> int:
        """Return how many lie in one element."""
        here = self._runs[self._page == self._pages[page]]
        return sum(is_inside(self._survey.runs[n].path, path) for n in here.tolist())


def is_inside(path: str, outer: str) -> bool:
    """Return whether a text's path leads through an element or is its own."""
    return path == outer or path.startswith((f"{outer}>", f"{outer}::"))


def reaches_of(known: KnownSite, page: str, lineage: Lineage, width: int) -> Iterator[Reach]:
    """Yield how far a choice may go, the narrowest first; `lineage` are the regions around it, outermost first."""
    counts = TextCounts(known, width)
    numbers = {region.key: number for number, region in enumerate(known.survey.regions)}
    part = next(((r, e) for r, e in reversed(lineage) if not r.is_section), None)
    if part is not None:
        yield from _of_part(known, counts, numbers[part[0].key], page, part[1])
    section = next((region for region, _ in reversed(lineage) if region.is_section), None)
    if section is not None:
        number, name = numbers[section.key], f"the section “{section.label}”"
        where = Where(section=section.key, page=page if len(section.pages) > 1 else None)
        here = f"{name}, here" if len(section.pages) > 1 else name
        yield Reach(here, section.label, where, section.selector, 1, counts.in_region(number, page), (page,))
        if len(section.pages) > 1:
            pages = tuple(sorted(section.pages))
            elements = known.survey.elements_of[number].total()
            every = f"{name}, on {len(pages)} pages"
            yield Reach(
                every, section.label, Where(section=section.key), section.selector, elements, counts.in_region(number), pages
            )  # fmt: skip
    yield Reach(f"the page {page}", page, Where(page=page), "html", 1, counts.on_page(page), (page,))
    yield Reach(
        "the whole site", "The site", None, "html", len(known.survey.pages), counts.total, tuple(known.survey.pages)
    )


def _of_part(known: KnownSite, counts: TextCounts, number: int, page: str, element: Element) -> Iterator[Reach]:
    region, on = known.survey.regions[number], known.survey.elements_of[number]
    path, noun = element.path(), region.kind if region.kind != "current" else "menu item"
    here = on[page]
    yield Reach(
        f"this {noun}", region.label, Where(part=region.key, page=page, at=path), path.replace(">", " > "), 1,
        counts.in_element(page, path), (page,), "elements",
    )  # fmt: skip
    if here > 1:
        yield Reach(
            "all like it, on this page", region.label, Where(part=region.key, page=page), region.selector, here,
            counts.in_region(number, page), (page,), "elements",
        )  # fmt: skip
    if len(region.pages) > 1:
        yield Reach(
            "all like it, on every page", region.label, Where(part=region.key), region.selector, on.total(),
            counts.in_region(number), tuple(sorted(region.pages)), "elements",
        )  # fmt: skip
