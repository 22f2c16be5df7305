"""The report of `glaucon mend`: what failed, what was moved for it, and what stays impossible."""

from __future__ import annotations

import json
from collections.abc import Iterable, Sequence
from typing import Any

from glaucon.core.colour.value import Colour
from glaucon.core.mending.fixed import Fixed
from glaucon.core.mending.thorough.mend_all import MendedAll
from glaucon.core.proposal.known import KnownSite
from glaucon.core.wording import counted, listed, plural

FORMAT = 1


def report(site: KnownSite, fixed: Fixed, level: str) -> dict[str, Any]:
    """Return the report, format 1. A part of a role that got a colour of its own says which role it is `of`.

    What one place alone wears says which place it is `in`.
    """
    return _report(
        site, level, (fixed.before, fixed.after),
        [
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
        [(one.locks, one.pairings, None, one.texts) for one in fixed.left],
    )  # fmt: skip


def thorough_report(site: KnownSite, mended: MendedAll, level: str) -> dict[str, Any]:
    """Return the report of the search that looks for proofs of what is impossible."""
    return _report(
        site, level, (mended.failing_before, mended.failing_after),
        [
            {
                "role": move.role, "from": move.before.hex(), "to": move.after.hex(),
                "delta_e_ok": round(move.delta_e_ok, 3), "runs": move.runs,
            }
            for move in mended.moved
        ],
        [(one.locks, one.pairings, one.give, one.runs) for one in mended.left],
    )  # fmt: skip


def _report(
    site: KnownSite,
    level: str,
    counts: tuple[int, int],
    moved: list[dict[str, Any]],
    left: Iterable[tuple[Sequence[str], Sequence[int], tuple[str, Colour] | None, Sequence[int]]],
) -> dict[str, Any]:
    runs = site.survey.runs
    return {
        "format": FORMAT, "level": level, "failing_before": counts[0], "failing_after": counts[1], "moved": moved,
        "impossible": [
            {
                "locks": list(locks), "pairings": len(pairings),
                "least_to_give": None if give is None else {"role": give[0], "to": give[1].hex()},
                "runs": [{"page": runs[n].page, "path": runs[n].path} for n in texts],
            }
            for locks, pairings, give, texts in left
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
