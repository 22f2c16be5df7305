"""The report of `glaucon palette`: the made studies, a description of each, and its failing texts."""

from __future__ import annotations

import json
from collections.abc import Iterable

from glaucon.core.colour.value import Colour
from glaucon.core.making.making import Made
from glaucon.core.wording import hard_to_read

FORMAT = 1


def as_json(made: Iterable[Made], given: Iterable[Colour]) -> str:
    """Return the report as JSON."""
    report = {
        "format": FORMAT,
        "from": [colour.hex() for colour in given],
        "studies": [
            {
                "name": one.study.name, "about": one.about, "given": one.given, "failing": one.failing,
                "roles": {role.id: role.value for role in one.study.roles},
            }
            for one in made
        ],
    }  # fmt: skip
    return json.dumps(report, indent=1, ensure_ascii=False) + "\n"


def as_table(made: Iterable[Made]) -> str:
    """Return the report for people."""
    lines = []
    for one in made:
        reads = hard_to_read(one.failing)
        lines += [f"{one.study.name}: {one.about} ({reads})"]
        lines += [f"  {role.id:<22} {role.value}" for role in one.study.roles]
    return "\n".join(lines) + "\n"
