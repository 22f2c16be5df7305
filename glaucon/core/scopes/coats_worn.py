"""Which coat the regions of a site wear: as the site came, and under a study."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Hashable, Iterator, Mapping
from typing import Any, Protocol

from glaucon.core.reading.findings import SurveyIndex
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study
from glaucon.core.study.wearing import Wearing
from glaucon.core.survey.model import ContextKey, Region, Survey


class OfSite(Protocol):
    """What is asked of a site here; `known.site.KnownSite` has it."""

    survey: Survey
    remembered: dict[Hashable, Any]

    @property
    def index(self) -> SurveyIndex:
        """Return the survey's pairings, ready for reading."""

    @property
    def tokens(self) -> Wearing:
        """Return the survey's tokens, ready for studies."""

    def sections_of(self, study: Study, coat: str) -> int:
        """Return how many sections of the site have a coat."""


def runs_in(known: OfSite) -> Counter[int]:
    """Return how many texts lie in each region of a site, by its number."""
    survey = known.survey
    counts: Counter[int] = Counter()
    for run in survey.runs:
        counts.update(survey.chains[run.chain])
    return counts


def coats_worn(known: OfSite, study: Study) -> dict[int, str | None]:
    """Return the coat that each region wears: given by a scope on every page, else what most of its text stands on.

    None: the site's own colours.
    """
    given = {s.where.region: s.coat for s in study.worn if s.coat is not None and s.where.page is None}
    came = _coats_that_came(known, study)
    return {n: given.get(region.key) or came.get(n) for n, region in enumerate(known.survey.regions)}


def came_with(known: OfSite, study: Study, where: Where) -> str | None:
    """Return the coat that a place wears as the site came, None for the site's own colours."""
    number = next((n for n, region in enumerate(known.survey.regions) if region.key == where.region), None)
    return _coats_that_came(known, study).get(number) if number is not None else None


def came_plain(known: OfSite, study: Study, where: Where) -> bool:
    """Return whether a place came with the page's own colours."""
    number = next((n for n, region in enumerate(known.survey.regions) if region.key == where.region), None)
    return came_with(known, study, where) is None and number not in came_apart(known, study)


def came_apart(known: OfSite, study: Study) -> frozenset[int]:
    """Return the regions that came with a background of their own, neither the page's nor a coat's."""
    return _came(known, study)[1]


def _coats_that_came(known: OfSite, study: Study) -> dict[int, str | None]:
    """Return the coat of what most text of each region stands on."""
    return _came(known, study)[0]


def _came(known: OfSite, study: Study) -> tuple[dict[int, str | None], frozenset[int]]:
    """Return the coats regions came with and which came with a background of their own, kept for the last roles."""
    roles, coat_of = known.tokens.roles(study), {role.id: role.coat for role in study.roles}
    held = known.remembered.get("coats that came")
    if held is None or held[0] is not roles or held[1] != coat_of:
        page = study.first("background", None)
        grounds = _grounds_by_text(known, roles)
        coats = {n: _most(ground, lambda role: coat_of.get(role or "")) for n, ground in grounds.items()}
        mostly = {n: _most(ground, lambda role: role) for n, ground in grounds.items() if coats[n] is None}
        apart = frozenset(n for n, role in mostly.items() if role is not None and (page is None or role != page.id))
        held = known.remembered["coats that came"] = (roles, coat_of, (coats, apart))
    found: tuple[dict[int, str | None], frozenset[int]] = held[2]
    return found


def _most(weights: Counter[str | None], what: Callable[[str | None], str | None]) -> str | None:
    of: Counter[str | None] = Counter()
    for role, weight in weights.items():
        of[what(role)] += weight
    return of.most_common(1)[0][0]


def _grounds_by_text(known: OfSite, roles: Mapping[int, str]) -> dict[int, Counter[str | None]]:
    """Return how much text of each region stands on each role: "" for none, None where no colour lies behind."""
    survey = known.survey
    weights: dict[int, Counter[str | None]] = {}
    widest = max(key.width for key in survey.sightings)
    for sighting in survey.sightings.get(ContextKey(widest, "rest"), ()):
        token = _background(known.index, sighting.pairing)
        role = roles.get(token, "") if token is not None else None
        run = survey.runs[sighting.run]
        for region in survey.chains[run.chain]:
            weights.setdefault(region, Counter())[role] += run.characters
    return weights


def told_apart(known: OfSite, worn: Mapping[int, str | None]) -> Iterator[tuple[int, Region]]:
    """Yield the regions a person tells apart by their coats: sections, and parts that wear another than theirs."""
    regions = known.survey.regions
    of_section = {one.key: worn.get(number) for number, one in enumerate(regions) if one.is_section}
    for number, one in enumerate(regions):
        if one.is_section or worn.get(number) != of_section.get(one.within):
            yield number, one


def wearers_of(known: OfSite, study: Study) -> Counter[str]:
    """Return how many sections and parts of the site wear each coat; boxes that are neither, where only those do."""
    worn = coats_worn(known, study)
    counts = Counter(name for number, _ in told_apart(known, worn) if (name := worn.get(number)) is not None)
    in_regions = set(_coats_that_came(known, study).values())
    for coat in study.coats:
        if coat.came and coat.id not in in_regions and not counts[coat.id]:
            counts[coat.id] = known.sections_of(study, coat.id)
    return counts


def pages_with_a_rest(known: OfSite) -> set[str]:
    """Return the pages that have texts in no section."""
    survey = known.survey
    sections = {number for number, one in enumerate(survey.regions) if one.is_section}
    bare = {number for number, chain in enumerate(survey.chains) if not sections & set(chain)}
    return {run.page for run in survey.runs if run.chain in bare}


def _background(index: SurveyIndex, pairing: int) -> int | None:
    tokens = index.background_tokens(pairing)
    return tokens[0] if tokens else None
