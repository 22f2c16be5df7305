"""The report of `glaucon colours`: what a site uses and the palette proposed for it."""

from __future__ import annotations

import json
from typing import Any

from glaucon.core.known.site import KnownSite
from glaucon.core.study.study import Study
from glaucon.core.wording import counted, plural, spelled

FORMAT = 2


def report_of(known: KnownSite) -> dict[str, Any]:
    """Return the report of a surveyed site, format 2: found colours with places, roles, coats, the short palette."""
    tokens = known.survey.tokens
    study = known.first_study("Proposed")
    found = [
        {
            "colour": one.colour,
            "runs": len(one.runs),
            "use": one.use,
            "seen": one.is_seen,
            "places": [
                {"file": t.file, "line": t.line, "column": t.column, "property": t.property, "selector": t.selector}
                for t in (tokens[n] for n in one.tokens)
                if t.kind != "default"
            ],
        }
        for one in known.found
    ]
    shares = _shares(known, study)
    proposal = known.proposal()
    unmapped = list(dict.fromkeys(tokens[n].colour.hex() for n in proposal.unmapped))
    return {
        "format": FORMAT,
        "found": found,
        "roles": [_role(known, study, role.id, shares) for role in study.roles],
        "coats": [_coat(known, study, coat.id, shares) for coat in study.coats],
        "short": {
            "roles": [role.id for role in study.short_roles()],
            "coats": [coat.id for coat in study.short_coats()],
        },
        "covers": round(known.covers(study), 4),
        "unmapped": unmapped,
    }


def _role(known: KnownSite, study: Study, id_: str, shares: dict[str, float]) -> dict[str, Any]:
    tokens = known.tokens.tokens_of(study).get(id_, [])
    fields = study.role(id_).model_dump(mode="json")
    fields["found"] = list(dict.fromkeys(known.survey.tokens[n].colour.hex() for n in tokens))
    runs = {run for n in tokens for run in known.uses[n].runs}
    return {**fields, "runs": len(runs), "share": round(shares.get(id_, 0.0), 4)}


def _coat(known: KnownSite, study: Study, id_: str, shares: dict[str, float]) -> dict[str, Any]:
    background = study.first("background", id_)
    coat = next(coat for coat in study.coats if coat.id == id_)
    share = shares.get(background.id, 0.0) if background is not None else 0.0
    return {
        **coat.model_dump(mode="json"), "sections": known.sections_of(study, id_), "share": round(share, 4),
    }  # fmt: skip


def _shares(known: KnownSite, study: Study) -> dict[str, float]:
    """Return each role's share of the site: of all text for a text role, of all text backgrounds for a background."""
    total = sum(use.background for use in known.uses) or 1.0
    return {
        id_: sum(max(known.uses[n].background, known.uses[n].text) for n in numbers) / total
        for id_, numbers in known.tokens.tokens_of(study).items()
    }


def as_json(report: dict[str, Any]) -> str:
    """Return the report as JSON."""
    return json.dumps(report, indent=1, ensure_ascii=False) + "\n"


def as_table(report: dict[str, Any]) -> str:
    """Return the report for people: the short palette first, then what is folded, then all colours found."""
    seen = len({one["colour"] for one in report["found"] if one["places"] and one["seen"]})
    roles, coats = report["short"]["roles"], report["short"]["coats"]
    would = f"{spelled(len(roles)).capitalize()} would do"
    if coats:
        would += f", and {spelled(len(coats))} for sections"
    lines = [
        f"{counted(seen, 'colour')}. {would}: they cover {100 * report['covers']:.0f} % of the text as painted.",
        "",
    ]
    by_tier: dict[str, list[dict[str, Any]]] = {"main": [], "detail": [], "unseen": []}
    for role in report["roles"]:
        by_tier[role["tier"]].append(role)
    titles = {"main": "The palette", "detail": "Details", "unseen": "In the files, on no page"}
    for tier, some in by_tier.items():
        if some:
            lines += [f"{titles[tier]}", f"  {'id':<30} {'colour':<9} {'texts':>6}  name"]
            lines += [f"  {r['id']:<30} {_hex(r):<9} {r['runs']:>6}  {r['label']}" for r in some]
            lines.append("")
    lines += ["All colours found", f"  {'use':<11} {'colour':<10} {'texts':>6} {'places':>7}"]
    lines += [
        f"  {one['use']:<11} {one['colour']:<10} {one['runs']:>6} {len(one['places']):>7}"
        for one in report["found"] if one["seen"]
    ]  # fmt: skip
    if report["unmapped"]:
        some = report["unmapped"]
        lines += ["", f"{counted(len(some), 'colour')} {plural(len(some), 'is')} in no group: {', '.join(some)}"]
    return "\n".join(lines) + "\n"


def _hex(role: dict[str, Any]) -> str:
    return str(role["value"]) if str(role["value"]).startswith("#") else str(role["value"]).split("/")[0].strip()
