"""The report of `glaucon mend`: what failed, what was moved for it, and what stays impossible."""

from __future__ import annotations

import json
from typing import Any

from glaucon.core.mending.fixed import Fixed
from glaucon.core.proposal.known import KnownSite
from glaucon.core.wording import counted, listed, plural

FORMAT = 1


def report(site: KnownSite, fixed: Fixed, level: str) -> dict[str, Any]:
    """Return the report, format 1. A part of a role that got a colour of its own says which role it is `of`.

    What one place alone wears says which place it is `in`.
    """
    runs = site.survey.runs
    return {
        "format": FORMAT, "level": level, "failing_before": fixed.before, "failing_after": fixed.after,
        "moved": [
            {
                "role": fixed.study.mapping[one.tokens[0]] if one.tokens else one.role,
                **({"of": one.role} if one.tokens else {}),
                "from": one.before.hex(), "to": one.after.hex(),
                "delta_e_ok": round(one.delta_e_ok, 3), "runs": one.texts,
            }
            for one in fixed.changes
        ] + [
            {
                "role": one.role, "in": one.where.model_dump(exclude_none=True),
                "from": one.before.hex(), "to": one.after.hex(),
                "delta_e_ok": round(one.delta_e_ok, 3), "runs": one.texts,
            }
            for one in fixed.places
        ],
        "impossible": [
            {
                "locks": list(one.locks), "pairings": len(one.pairings), "least_to_give": None,
                "runs": [{"page": runs[n].page, "path": runs[n].path} for n in one.texts],
            }
            for one in fixed.left
        ],
    }  # fmt: skip


def as_json(found: dict[str, Any]) -> str:
    """Return the report as JSON."""
    return json.dumps(found, indent=1, ensure_ascii=False) + "\n"


def as_table(found: dict[str, Any]) -> str:
    """Return the report for people."""
    before, after = found["failing_before"], found["failing_after"]
    was = "was" if before == 1 else "were"
    lines = [f"{counted(before, 'text')} {was} hard to read, {after} still {plural(after, 'is')}."]
    lines += [
        f"{one['role']:<24} {one['from']} → {one['to']}  ({one['delta_e_ok']:.3f}, {counted(one['runs'], 'text')})"
        for one in found["moved"]
    ]
    for one in found["impossible"]:
        count = len(one["runs"])
        what = f"{counted(count, 'text')} {plural(count, 'stays')} hard to read"
        if one["locks"]:
            what += f", because of the locked {listed(one['locks'])}"
        lines.append(f"{what}.")
    return "\n".join(lines) + "\n"
