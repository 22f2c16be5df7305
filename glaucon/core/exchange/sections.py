"""The sections of a site and the parts in them, as data and as a table for people."""

from __future__ import annotations

import json
from typing import Any

from glaucon.core.known.site import KnownSite
from glaucon.core.scopes.coats_worn import coats_worn, runs_in
from glaucon.core.study.study import Study
from glaucon.core.survey.model import Region
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
