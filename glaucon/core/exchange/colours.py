"""The report of `glaucon colours`: what a site uses and the palette proposed for it."""

from __future__ import annotations

import json
from typing import Any

from glaucon.core.palette.known import KnownSite
from glaucon.core.palette.proposal import propose
from glaucon.core.survey.site import SiteFiles
from glaucon.core.survey.survey import survey_site

FORMAT = 1
_USE_NAMES = {"words": "text"}


def colours_report(site: SiteFiles) -> dict[str, Any]:
    """Return the report, format 1: the found colours with their places, the proposal, and what is left unmapped."""
    known = KnownSite(survey_site(site))
    tokens = known.survey.tokens
    proposal = propose(known.survey)
    found = [
        {
            "colour": one.colour,
            "runs": len(one.runs),
            "use": _USE_NAMES.get(one.use, one.use),
            "places": [
                {"file": t.file, "line": t.line, "column": t.column, "property": t.property, "selector": t.selector}
                for t in (tokens[n] for n in one.tokens)
                if t.kind != "default"
            ],
        }
        for one in known.found
    ]
    roles = [
        {
            "role": role.name,
            "value": role.colour.hex(),
            "found": list(dict.fromkeys(tokens[n].colour.hex() for n in proposal.tokens[role.name])),
            "reason": role.reason,
        }
        for role in proposal.roles
    ]
    unmapped = list(dict.fromkeys(tokens[n].colour.hex() for n in proposal.unmapped))
    return {"format": FORMAT, "found": found, "proposal": roles, "unmapped": unmapped}


def as_json(report: dict[str, Any]) -> str:
    """Return the report as JSON."""
    return json.dumps(report, indent=1, ensure_ascii=False) + "\n"


def as_table(report: dict[str, Any]) -> str:
    """Return the report for people."""
    found, proposal = report["found"], report["proposal"]
    colours = len({one["colour"] for one in found if one["places"]})
    lines = [f"{colours} colours found; {len(proposal)} roles proposed.", "", "use       colour     texts  places"]
    lines += [f"{one['use']:<9} {one['colour']:<10} {one['runs']:>5} {len(one['places']):>7}" for one in found]
    lines += ["", "role                     value      of  why"]
    lines += [
        f"{one['role']:<24} {one['value']:<10} {len(one['found']):>2}  {one['reason']}".rstrip() for one in proposal
    ]
    if report["unmapped"]:
        lines += ["", f"under no role: {', '.join(report['unmapped'])}"]
    return "\n".join(lines) + "\n"
