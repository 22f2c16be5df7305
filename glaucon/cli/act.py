"""`glaucon act`: acts done to a study, as the application does them; and which there are."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Sequence

from glaucon.cli.files import (
    as_json,
    pictures_beside,
    read_json,
    read_measured,
    study_bytes,
    study_or_proposed,
    write_out,
)
from glaucon.cli.parser import NOTHING_FAILS
from glaucon.core.acts.act import Act
from glaucon.core.acts.any_act import ACTS, applied, label_of, read_acts
from glaucon.core.acts.any_search import SEARCHES
from glaucon.core.acts.at_hand import ReadSite
from glaucon.core.errors import StudyError
from glaucon.core.study.study import Study


def run(options: argparse.Namespace) -> int:
    """Write the study after the acts, or the table of all acts and searches."""
    if options.list:
        sys.stdout.write(as_json(table()) if options.form == "json" else as_table())
        return NOTHING_FAILS
    if options.path is None or options.acts is None or options.out_study is None:
        raise StudyError("Name the site, --acts FILE and --out-study FILE; or ask with --list which acts there are.")
    files, layouts = read_measured(options.path, options.layout)
    site = ReadSite(files, layouts, pictures=pictures_beside(options.study, files))
    before = study_or_proposed(options.study, site.known)
    acts = read_acts(read_json(options.acts, "acts"))
    after = applied(site, before, acts)
    write_out(options.out_study, study_bytes(after))
    report = _report(acts, before, after, site.under(after).read(after).hard)
    sys.stdout.write(as_json(report) if options.form == "json" else f"{report['what']}.\n")
    return NOTHING_FAILS


def _report(acts: Sequence[Act], before: Study, after: Study, hard: int) -> dict[str, object]:
    touches = frozenset[str]().union(*(act.touches(before, after) for act in acts))
    return {"format": 1, "what": label_of(acts, before, after), "touches": sorted(touches), "failing": hard}


def table() -> list[dict[str, str]]:
    """Return all acts and searches: what each is called and does, who may do it, how much work it is."""
    return [
        {"kind": kind, "name": name, "does": one.says(), "may": one.may, "effort": one.effort}
        for kind, some in (("act", ACTS), ("search", SEARCHES))
        for name, one in some.items()
    ]


def as_table() -> str:
    """Return the table for people."""
    return "".join(f"{row['kind']:<7} {row['name']:<15} {row['effort']:<6} {row['does']}\n" for row in table())
