"""`glaucon mend`: the site with every text readable, by the same act and search as on the screen."""

from __future__ import annotations

import argparse
import sys

from glaucon.cli.files import as_json, pictures_beside, read_measured, study_bytes, study_or_proposed, write_out
from glaucon.cli.mend_report import as_table, failing_texts, report
from glaucon.cli.parser import NOTHING_FAILS, SOMETHING_FAILS, STATES
from glaucon.core.acts.any_act import applied
from glaucon.core.acts.at_hand import ReadSite
from glaucon.core.acts.whole.find_fixes import FindFixes, FoundFixes
from glaucon.core.errors import StudyError
from glaucon.core.exchange.hand_back import hand_back
from glaucon.core.survey.model import ContextKey

_WIDTHS = (1280, 390)


def run(options: argparse.Namespace) -> int:
    """Write the mended site, its study where it is asked for, and a report."""
    files, layouts = read_measured(options.path, options.layout)
    contexts = [ContextKey(width, state) for width in _WIDTHS for state in options.states] if options.states else None
    site = ReadSite(files, layouts, contexts, pictures_beside(options.study, files))
    study = study_or_proposed(options.study, site.known, "Mended").model_copy(update={"aim": options.level})
    found, fixed = FindFixes(search="fix-all", locks=tuple(options.locks)).find_both(site, study)
    names = _names(options.take, found)
    mended = applied(site, study, [found.taken(names)])
    behind = site.backdrops(mended) if mended.backdrops else None
    handed = hand_back(files, site.known.survey, mended, "site", backdrops=behind)
    write_out(options.out, handed.data)
    if options.out_study is not None:
        write_out(options.out_study, study_bytes(mended))
    states = options.states or STATES
    before, after = (failing_texts(site.under(one).read(one), states, _WIDTHS) for one in (study, mended))
    told = report(site.known, mended, fixed, found, options.level, (before, after), names)
    sys.stdout.write(as_json(told) if options.form == "json" else as_table(told))
    return SOMETHING_FAILS if after else NOTHING_FAILS


def _names(take: str, found: FoundFixes) -> list[str] | None:
    """Return the names of the offers that are taken, None for all. Raises: StudyError: there is no such offer."""
    if take in ("all", "none"):
        return None if take == "all" else []
    # a rule holds commas: the longest names that are there come first
    rest, names = take, list[str]()
    for name, *_ in sorted(found.offers, key=lambda one: -len(one[0])):
        if name in rest:
            rest, names = rest.replace(name, "", 1), [*names, name]
    if rest.strip(", "):
        known = ", ".join(name for name, *_ in found.offers) or "nothing"
        raise StudyError(f"“{rest.strip(', ')}” is not offered. There is: {known}.")
    return names
