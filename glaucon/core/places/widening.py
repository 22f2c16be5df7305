"""How far a choice may go from an element of a page: this part, those alike, its section, its page, the site."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Hashable, Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from glaucon.core.cascade.selectors.state import OPENED
from glaucon.core.cascade.tree import Element
from glaucon.core.known.site import KnownSite
from glaucon.core.places.look_alikes import look_alikes
from glaucon.core.reading.findings import SiteReading
from glaucon.core.scopes.cascade import Dress, Dresser, ScopesByPlace
from glaucon.core.study.scopes import Scope, Where
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey, Region, Survey
from glaucon.core.wording import counted, listed

LiesOver = tuple[tuple[int, str], ...]  # as in `Survey.beside`
Lineage = Sequence[tuple[Region, Element]]


@dataclass(frozen=True, slots=True)
class WiderReach:
    """How far a choice reaches: its name, place and content. `where` is None for the whole site.

    `elements` are those that its selector finds, on `pages`; `texts` those that a change there changes, at
    rest. What is counted first for a person is `unit`; `label` is what the region or page is called. `also` are
    further places that are reached with it.
    """

    what: str
    label: str
    where: Where | None
    selector: str
    elements: int
    texts: int
    pages: tuple[str, ...]
    unit: str = "texts"
    also: tuple[Where, ...] = ()

    @property
    def count(self) -> str:
        """Return the reach in words, such as “12 texts on 3 pages”."""
        if self.unit == "elements":
            return f"{self.elements:,}" if len(self.pages) == 1 else f"{self.elements:,} on {len(self.pages)} pages"
        return counted(self.texts, "text")


class TextCounts:
    """Counts of the texts that a choice changes if it sets every kind of colour, at rest at one screen width.

    What shows only once something is opened is counted as it shows then.
    What no token of the palette colours, neither the text nor what it stands on, is not reached.
    """

    def __init__(self, known: KnownSite, study: Study, width: int) -> None:
        survey = known.survey
        self._known, self._study = known, study
        self._keys = [tuple(survey.regions[region].key for region in chain) for chain in survey.chains]
        # texts that lie in the same regions of the same page wear the same
        self._alike: dict[tuple[str, int, LiesOver], list[tuple[int, int]]] = defaultdict(list)
        for run, pairing in sorted(_shown(survey, width)):
            one = survey.runs[run]
            self._alike[one.page, one.chain, survey.beside.get(run, ())].append((run, pairing))

    @cached_property
    def total(self) -> int:
        """Return how many the palette changes on the whole site."""
        study = self._study
        vivid = study.with_values({role.id: _vivid(number) for number, role in enumerate(study.roles)})
        return self._changed(vivid, None)

    def reached(self, where: Where, *also: Where) -> int:
        """Return how many a choice for a place, or for several, changes."""
        values = {name: _vivid(number) for number, name in enumerate(self._uses)}
        scopes = [Scope.model_validate({"in": one, "set": values}) for one in (where, *also)]
        then = self._study.model_copy(update={"worn": (*self._study.worn, *scopes)})
        return self._changed(then, None if also else where)

    @cached_property
    def _uses(self) -> list[str]:
        uses = dict.fromkeys(("text", "background"))
        uses.update(dict.fromkeys(role.use for role in self._study.roles))
        return list(uses)[:80]

    def _changed(self, study: Study, where: Where | None) -> int:
        now, then = ScopesByPlace(self._study), ScopesByPlace(study)
        ways: dict[Hashable, int] = {}
        dresses: list[tuple[Dress, Dress]] = []
        rows: Counter[tuple[int, int]] = Counter()
        for (page, chain, over), some in self._alike.items():
            keys, beside = self._keys[chain], [(self._keys[theirs], at) for theirs, at in over]
            met = {"", *keys, *(key for theirs, _ in beside for key in theirs)}
            if where is not None and (where.page not in (None, page) or (where.region or "") not in met):
                continue
            for run, pairing in some:
                path = self._known.survey.runs[run].path
                one, other = now.dress(page, keys, path, beside), then.dress(page, keys, path, beside)
                number = ways.setdefault((_ids(one), _ids(other)), len(ways))
                if number == len(dresses):
                    dresses.append((one, other))
                rows[pairing, number] += 1
        return self._count(study, dresses, rows) if rows else 0

    def _count(self, study: Study, dresses: list[tuple[Dress, Dress]], rows: Counter[tuple[int, int]]) -> int:
        pairings, ways = np.array(list(rows), dtype=np.int64).T
        compiled = self._known.compiled(self._study).worn(pairings, ways)
        before, after = (Dresser(one, self._known.tokens, self._known.survey) for one in (self._study, study))
        now = compiled.read([before.colours(one) for one, _ in dresses], self._study.aim)
        then = compiled.read([after.colours(other) for _, other in dresses], self._study.aim)
        differs = np.zeros(len(pairings), dtype=bool)
        for one, other in ((now.words, then.words), (now.ground, then.ground)):
            differs |= ~np.isclose(one, other, atol=1e-9, equal_nan=True).all(axis=-1)
        return int(np.array(list(rows.values()))[differs].sum())


def _shown(survey: Survey, width: int) -> set[tuple[int, int]]:
    """Return the texts that show at a width, at rest or when something is opened, with their pairings."""
    at_rest = {(one.run, one.pairing) for one in survey.sightings.get(ContextKey(width, "rest"), ())}
    known = {run for run, _ in at_rest}
    opened: dict[int, int] = {}
    for key, some in survey.sightings.items():
        if key.width == width and key.state.startswith(OPENED):
            for one in some:
                if one.run not in known:
                    opened.setdefault(one.run, one.pairing)
    return at_rest | set(opened.items())


def _ids(dress: Dress) -> Hashable:
    chains = (dress.levels, *dress.beside)
    return tuple(tuple(tuple(map(id, level)) for level in levels) for levels in chains)


def _vivid(number: int) -> str:
    return f"#fe{number % 256:02x}fd"


def reaches_of(
    known: KnownSite, study: Study, page: str, lineage: Lineage, width: int,
    alone: tuple[Element, str] | None = None, reading: SiteReading | None = None,
) -> Iterator[WiderReach]:  # fmt: skip
    """Yield how far a choice may go, the narrowest first; `lineage` are the regions around it, outermost first.

    `alone` is the element itself with what it is called; where it is no region by itself the choice may end there.
    With the study's `reading`, parts of another class that look like it are offered beside those alike.
    """
    counts = TextCounts(known, study, width)
    numbers = {region.key: number for number, region in enumerate(known.survey.regions)}
    if alone is not None and alone[0].parent is not None and alone[0].tag != "body":
        element, name = alone
        if not lineage or lineage[-1][1] is not element:
            yield _of_one(counts, page, element, lineage[-1][0] if lineage else None, name)
    part = next(((r, e) for r, e in reversed(lineage) if not r.is_section), None)
    if part is not None:
        yield from _of_part(known, counts, numbers[part[0].key], page, part[1])
        if reading is not None and (others := look_alikes(known, reading, part[0], width)):
            yield _with_look_alikes(known, counts, part[0], others)
    section = next((region for region, _ in reversed(lineage) if region.is_section), None)
    if section is not None:
        number, name = numbers[section.key], f"the section “{section.label}”"
        where = Where(section=section.key, page=page if len(section.pages) > 1 else None)
        here = f"{name}, here" if len(section.pages) > 1 else name
        yield WiderReach(here, section.label, where, section.selector, 1, counts.reached(where), (page,))
        if len(section.pages) > 1:
            pages = tuple(sorted(section.pages))
            elements = known.survey.elements_of[number].total()
            every = f"{name}, on {len(pages)} pages"
            where = Where(section=section.key)
            yield WiderReach(every, section.label, where, section.selector, elements, counts.reached(where), pages)
    where = Where(page=page)
    yield WiderReach(f"the page {page}", page, where, "html", 1, counts.reached(where), (page,))
    yield WiderReach(
        "the whole site", "The site", None, "html", len(known.survey.pages), counts.total, tuple(known.survey.pages)
    )


def _with_look_alikes(known: KnownSite, counts: TextCounts, region: Region, others: Sequence[Region]) -> WiderReach:
    """Return the reach of a part's like on every page and of all that looks like it."""
    keys = {one.key for one in (region, *others)}
    elements = sum(known.survey.elements_of[n].total() for n, one in enumerate(known.survey.regions) if one.key in keys)
    where, *also = (Where(part=one.key) for one in (region, *others))
    pages = tuple(sorted(set().union(*(one.pages for one in (region, *others)))))
    names = list(dict.fromkeys(one.label for one in others if one.label != region.label))
    what = f"all that looks like it, {listed(names)} too" if names else "all that looks like it"
    selector = ", ".join(one.selector for one in (region, *others))
    return WiderReach(
        what, region.label, where, selector, elements,
        counts.reached(where, *also), pages, "elements", tuple(also),
    )  # fmt: skip


def _of_one(counts: TextCounts, page: str, element: Element, around: Region | None, name: str) -> WiderReach:
    key, is_section = (around.key, around.is_section) if around is not None else (None, False)
    section, part = (key, None) if is_section else (None, key)
    where = Where(page=page, at=element.path(), section=section, part=part)
    selector = element.path().replace(">", " > ")
    return WiderReach(f"this {name.lower()} alone", name, where, selector, 1, counts.reached(where), (page,))


def _of_part(known: KnownSite, counts: TextCounts, number: int, page: str, element: Element) -> Iterator[WiderReach]:
    region, on = known.survey.regions[number], known.survey.elements_of[number]
    path, noun = element.path(), region.kind if region.kind != "current" else "menu item"
    one = Where(part=region.key, page=page, at=path)
    selector = path.replace(">", " > ")
    yield WiderReach(f"this {noun}", region.label, one, selector, 1, counts.reached(one), (page,), "elements")
    alike: list[tuple[str, Where, tuple[str, ...]]] = []
    if on[page] > 1:
        alike.append(("on this page", Where(part=region.key, page=page), (page,)))
    if len(region.pages) > 1:
        alike.append(("on every page", Where(part=region.key), tuple(sorted(region.pages))))
    for which, where, pages in alike:
        elements = sum(on[one] for one in pages)
        what = f"all like it, {which}"
        yield WiderReach(what, region.label, where, region.selector, elements, counts.reached(where), pages, "elements")
