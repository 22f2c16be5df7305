"""The sections of a site and the parts in them, as data and as a table for people."""

from __future__ import annotations

import json
from collections import Counter
from typing import Any

from glaucon.core.proposal.known import KnownSite
from glaucon.core.reading.findings import SurveyIndex
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey, Region
from glaucon.core.wording import counted


def report_of(known: KnownSite, study: Study) -> dict[str, Any]:
    """Return every section with its parts: what it is, where, and which coat it wears under a study."""
    runs = runs_in(known)
    coats = coats_worn(known, study)
    sections: list[dict[str, Any]] = []
    parts: dict[str, list[dict[str, Any]]] = {}
    for number, region in enumerate(known.survey.regions):
        row = _row(region, runs[number], coats.get(number))
        if region.is_section:
            sections.append({**row, "parts": parts.setdefault(region.key, [])})
        else:
            parts.setdefault(region.within, []).append(row)
    loose = parts.get("", [])
    return {"format": 1, "sections": sections, "parts": loose}


def _row(region: Region, runs: int, coat: str | None) -> dict[str, Any]:
    return {
        "key": region.key, "label": region.label, "kind": region.kind, "selector": region.selector,
        "pages": sorted(region.pages), "runs": runs, "wears": coat,
    }  # fmt: skip


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
    survey = known.survey
    given = {s.where.region: s.coat for s in study.worn if s.coat is not None and s.where.page is None}
    weights: dict[int, Counter[str | None]] = {}
    widest = max(key.width for key in survey.sightings)
    roles, of = known.tokens.roles(study), {role.id: role for role in study.roles}
    for sighting in survey.sightings.get(ContextKey(widest, "rest"), ()):
        token = _background(known.index, sighting.pairing)
        role = of.get(roles.get(token, "")) if token is not None else None
        run = survey.runs[sighting.run]
        for region in survey.chains[run.chain]:
            weights.setdefault(region, Counter())[role.coat if role is not None else None] += run.characters
    return {
        number: given.get(region.key) or (weights[number].most_common(1)[0][0] if number in weights else None)
        for number, region in enumerate(survey.regions)
    }


def came_with(known: KnownSite, study: Study, where: Where) -> str | None:
    """Return the coat that a place wears as the site came, None for the site's own colours."""
    number = next((n for n, region in enumerate(known.survey.regions) if region.key == where.region), None)
    worn = coats_worn(known, study.model_copy(update={"worn": ()})) if number is not None else {}
    return worn.get(number) if number is not None else None


def _background(index: SurveyIndex, pairing: int) -> int | None:
    tokens = index.background_tokens(pairing)
    return tokens[0] if tokens else None


def as_json(report: dict[str, Any]) -> str:
    """Return the report as JSON."""
    return json.dumps(report, indent=1, ensure_ascii=False) + "\n"


def as_table(report: dict[str, Any]) -> str:
    """Return the report for people."""
    lines = []
    for section in report["sections"]:
        wears = f", wears {section['wears']}" if section["wears"] else ""
        lines.append(
            f"{section['label']} ({section['key']}): {counted(section['runs'], 'text')} on "
            f"{counted(len(section['pages']), 'page')}{wears}; {section['selector']}"
        )
        lines += [
            f"    {p['label']} ({p['key']}): {counted(p['runs'], 'text')}; {p['selector']}" for p in section["parts"]
        ]
    return "\n".join(lines or ["No section was found on these pages."]) + "\n"
