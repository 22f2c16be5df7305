"""The report of `glaucon mend`: failing texts before and after, changes, offers, and reasons for what is left."""

from __future__ import annotations

from collections.abc import Collection
from typing import Any

import numpy as np

from glaucon.core.acts.whole.changes import ChangeTold
from glaucon.core.acts.whole.find_fixes import FoundFixes
from glaucon.core.colour.oklab import delta_e_ok
from glaucon.core.colour.value import read_colour
from glaucon.core.known.site import KnownSite
from glaucon.core.mending.fixed import Fixed
from glaucon.core.reading.findings import SiteReading
from glaucon.core.study.study import Study
from glaucon.core.wording import counted, listed, plural

FORMAT = 1
Text = tuple[str, str]  # its page and path


def failing_texts(reading: SiteReading, states: Collection[str], widths: Collection[int]) -> set[Text]:
    """Return the texts, by page and path, that are hard to read in some states at some widths in CSS pixels."""
    runs = reading.index.survey.runs
    failing = reading.failing_in(lambda key: key.width in widths and key.state in states)
    return {(runs[number].page, runs[number].path) for number, _ in failing}


def report(
    known: KnownSite, mended: Study, fixed: Fixed, found: FoundFixes, level: str, failing: tuple[set[Text], set[Text]],
    names: Collection[str] | None,
) -> dict[str, Any]:  # fmt: skip
    """Return the report, format 1; `failing` are texts hard to read before and after, `names` the offers taken.

    A part of a role that got a colour of its own says which role it is `of`. What one place alone wears says which
    place it is `in`.
    """
    runs = known.survey.runs
    return {
        "format": FORMAT, "level": level, "failing_before": len(failing[0]), "failing_after": len(failing[1]),
        "moved": [_moved(mended, one) for one in found.changes],
        "offers": [
            {"name": name, "kind": kind, "where": where, "fixes": fixes, "taken": names is None or name in names}
            for name, kind, where, fixes in found.offers
        ],
        "impossible": [
            {
                "locks": list(one.locks), "pairings": len(one.pairings), "least_to_give": None,
                "runs": [{"page": runs[n].page, "path": runs[n].path} for n in texts],
            }
            for one in fixed.left
            if (texts := [n for n in one.texts if (runs[n].page, runs[n].path) in failing[1]])
        ],
    }  # fmt: skip


def _moved(mended: Study, one: ChangeTold) -> dict[str, Any]:
    colours = np.array([read_colour(text).rgb for text in (one.before, one.after)])
    place = {"in": one.there.place.model_dump(exclude_none=True)} if one.there is not None else {}
    part = {"of": one.role} if one.tokens else {}
    return {
        "role": mended.mapping[one.tokens[0]] if one.tokens else one.role, **part, **place, "from": one.before,
        "to": one.after, "delta_e_ok": round(float(delta_e_ok(colours[0], colours[1])), 3), "runs": one.texts,
    }  # fmt: skip


def as_table(found: dict[str, Any]) -> str:
    """Return the report for people."""
    before, after = found["failing_before"], found["failing_after"]
    was = "was" if before == 1 else "were"
    lines = [f"{counted(before, 'text')} {was} hard to read, {after} still {plural(after, 'is')}."]
    lines += [
        f"{one['role']:<24} {one['from']} → {one['to']}  ({one['delta_e_ok']:.3f}, {counted(one['runs'], 'text')})"
        for one in found["moved"]
    ]
    for one in found["offers"]:
        fixes = f"fixes {counted(one['fixes'], 'more text')}"
        lines.append(f"{one['kind']}, {'taken' if one['taken'] else '--take to take it'}: {one['name']}  ({fixes})")
    for one in found["impossible"]:
        count = len(one["runs"])
        locked = f", because of the locked {listed(one['locks'])}" if one["locks"] else ""
        lines.append(f"{counted(count, 'text')} {plural(count, 'stays')} hard to read{locked}.")
    return "\n".join(lines) + "\n"
