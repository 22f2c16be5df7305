"""Which coat the regions of a site wear: as the site came, and under a study."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping

from glaucon.core.proposal.known import KnownSite
from glaucon.core.reading.findings import SurveyIndex
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey


def runs_in(known: KnownSite) -> Counter[int]:
    """Return how many texts lie in each region of a site, by its number."""
    survey = known.survey
    counts: Counter[int] = Counter()
    for run in survey.runs:
        counts.update(survey.chains[run.chain])
    return counts


def coats_worn(known: KnownSite, study: Study) -> dict[int, str | None]:
    """Return the coat that each region wears: given by a scope on every page, else what most of its text stands on.

    None: the site's own colours.
    """
    given = {s.where.region: s.coat for s in study.worn if s.coat is not None and s.where.page is None}
    came = _coats_that_came(known, study)
    return {n: given.get(region.key) or came.get(n) for n, region in enumerate(known.survey.regions)}


def came_with(known: KnownSite, study: Study, where: Where) -> str | None:
    """Return the coat that a place wears as the site came, None for the site's own colours."""
    number = next((n for n, region in enumerate(known.survey.regions) if region.key == where.region), None)
    return _coats_that_came(known, study).get(number) if number is not None else None


def _coats_that_came(known: KnownSite, study: Study) -> dict[int, str | None]:
    """Return the coat of what most text of each region stands on, remembered for the last roles."""
    roles, coat_of = known.tokens.roles(study), {role.id: role.coat for role in study.roles}
    held = known.remembered.get("coats that came")
    if held is None or held[0] is not roles or held[1] != coat_of:
        held = known.remembered["coats that came"] = (roles, coat_of, _coats_by_text(known, roles, coat_of))
    found: dict[int, str | None] = held[2]
    return found


def _coats_by_text(
    known: KnownSite, roles: Mapping[int, str], coat_of: Mapping[str, str | None]
) -> dict[int, str | None]:  # fmt: skip
    survey = known.survey
    weights: dict[int, Counter[str | None]] = {}
    widest = max(key.width for key in survey.sightings)
    for sighting in survey.sightings.get(ContextKey(widest, "rest"), ()):
        token = _background(known.index, sighting.pairing)
        coat = coat_of.get(roles.get(token, "")) if token is not None else None
        run = survey.runs[sighting.run]
        for region in survey.chains[run.chain]:
            weights.setdefault(region, Counter())[coat] += run.characters
    return {region: weight.most_common(1)[0][0] for region, weight in weights.items()}


def wearers_of(known: KnownSite, study: Study) -> Counter[str]:
    """Return how many sections and parts of the site wear each coat; boxes that are neither, where only those do."""
    counts = Counter(coat for coat in coats_worn(known, study).values() if coat is not None)
    in_regions = set(_coats_that_came(known, study).values())
    for coat in study.coats:
        if coat.came and coat.id not in in_regions and not counts[coat.id]:
            counts[coat.id] = known.sections_of(study, coat.id)
    return counts


def _background(index: SurveyIndex, pairing: int) -> int | None:
    tokens = index.background_tokens(pairing)
    return tokens[0] if tokens else None
