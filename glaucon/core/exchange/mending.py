"""The report of `glaucon mend`: what failed, what was moved for it, and what stays impossible."""

from __future__ import annotations

import json
from typing import Any

from glaucon.core.mending.mend_all import MendedAll
from glaucon.core.proposal.known import KnownSite
from glaucon.core.wording import counted, listed, plural

FORMAT = 1


def report(site: KnownSite, mended: MendedAll, level: str) -> dict[str, Any]:
    """Return the report, format 1."""
    runs = site.survey.runs
    return {
        "format": FORMAT,
        "level": level,
        "failing_before": mended.failing_before,
        "failing_after": mended.failing_after,
        "moved": [
            {
                "role": move.role, "from": move.before.hex(), "to": move.after.hex(),
                "delta_e_ok": round(move.delta_e_ok, 3), "runs": move.runs,
            }
            for move in mended.moved
        ],
        "impossible": [
            {
                "locks": list(one.locks), "pairings": len(one.pairings),
                "least_to_give": None if one.give is None else {"role": one.give[0], "to": one.give[1].hex()},
                "runs": [{"page": runs[n].page, "path": runs[n].path} for n in one.runs],
            }
            for one in mended.left
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
            if one["least_to_give"]:
                what += f"; changing {one['least_to_give']['role']} to {one['least_to_give']['to']} would help"
        lines.append(f"{what}.")
    return "\n".join(lines) + "\n"
