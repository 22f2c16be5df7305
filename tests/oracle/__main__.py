"""Holds the engine against Chromium and prints the tables of docs/accuracy.md: python -m tests.oracle [--real] [NAME …]

With --write the tables are put into docs/accuracy.md between their marks. Chromium is asked afresh every time.
"""

from __future__ import annotations

import argparse
import re
from collections.abc import Iterable
from pathlib import Path

from playwright.sync_api import Browser, sync_playwright

from glaucon.core.exchange.reports.audit import audit_survey
from glaucon.core.layout.document import Layouts
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import read_site
from glaucon.core.survey.survey import survey_site
from tests import chromium
from tests.oracle import corpus
from tests.oracle.agreement import HEADINGS, Example, Tally, compare_page, row_of
from tests.oracle.chromium_truth import true_runs
from tests.oracle.fresh import FRESH
from tests.oracle.measured import layouts_of
from tests.oracle.pictured import PICTURED
from tests.oracle.server import serve

DOCUMENT = corpus.ROOT / "docs" / "accuracy.md"
CORPORA: dict[str, tuple[corpus.RealSite, ...]] = {"real": corpus.REAL, "fresh": FRESH, "pictured": PICTURED}
WIDTHS, STATES = (1280, 390), ("rest", "hover")


def hold(
    browser: Browser, folder: Path, widths: Iterable[int] = WIDTHS, states: Iterable[str] = STATES,
    measured: bool = False,
) -> Tally:  # fmt: skip
    """Return how the engine's report on a site agrees with what Chromium paints; `measured`: given the layout."""
    (tally,) = hold_both(browser, folder, widths, states, [measured])
    return tally


def hold_both(
    browser: Browser, folder: Path, widths: Iterable[int], states: Iterable[str], ways: list[bool]
) -> list[Tally]:
    """Return a tally for each way of reading, without (False) or with (True) a layout; Chromium is asked once."""
    states, widths = list(states), list(widths)
    contexts = [ContextKey(width, state) for width in widths for state in states]
    site = read_site(folder)
    reports, tallies = [], [Tally() for _ in ways]
    for measured in ways:
        layouts: Layouts = {}
        if measured:
            layouts = layouts_of(browser, site, widths)
        survey = survey_site(site, contexts, layouts)
        reports.append({context: audit_survey(survey, context, "AA")["runs"] for context in contexts})
    with serve(folder) as address:
        for page in site.pages:
            for width in sorted(widths):
                truth = true_runs(browser, address + page, width, states)
                for state in states:
                    for report, tally in zip(reports, tallies, strict=True):
                        found = compare_page(report[ContextKey(width, state)], truth[state], page)
                        for example in found.examples:
                            example.page = f"{page} at {width} px, {state}"
                        tally.add(found)
    return tallies


def table(rows: Iterable[tuple[str, Tally]]) -> str:
    """Return tallies as a table with their sum at the end."""
    total, rows = Tally(), list(rows)
    lines = [f"| {' | '.join(HEADINGS)} |", f"|{'---|' * len(HEADINGS)}"]
    for name, tally in rows:
        lines.append(f"| {' | '.join(row_of(name, tally))} |")
        total.add(tally)
    lines.append(f"| {' | '.join(f'**{cell}**' for cell in row_of('all', total))} |")
    verdicts, rights = means_of(tally for _, tally in rows)
    means = ["**mean over sites**", *[""] * 4, f"**{verdicts:.1f}**", "", "", f"**{rights:.1f}**", *[""] * 4]
    lines.append(f"| {' | '.join(means)} |")
    left_out = ", ".join(f"{reason}: {count}" for reason, count in total.left_out.most_common())
    return "\n".join(lines) + f"\n\nLeft out, in texts: {left_out or 'none'}. Disabled controls: {total.exempt}.\n"


def means_of(tallies: Iterable[Tally]) -> tuple[float, float]:
    """Return the means over sites of verdicts right and of what is called hard to read and is, in per cent."""
    judged = list(tallies)
    verdicts = [Tally.share(one.verdict_right, one.verdict_judged) for one in judged if one.verdict_judged]
    rights = [Tally.share(one.failing_reported_right, one.failing_reported) for one in judged if one.failing_reported]
    return tuple(sum(some) / len(some) if some else 100.0 for some in (verdicts, rights))  # type: ignore[return-value]


def explained(examples: list[Example], most: int = 12) -> str:
    """Return examples by what is wrong with them, for a person to look into."""
    groups: dict[tuple[str, str, str], list[Example]] = {}
    for one in examples:
        groups.setdefault((one.kind, one.ours, one.theirs), []).append(one)
    lines = []
    for (kind, ours, theirs), members in sorted(groups.items(), key=lambda item: -len(item[1]))[:most]:
        first = members[0]
        where = f"{first.page}: {first.path} “{first.text[:40]}”"
        lines.append(f"  {len(members):>4} {kind}: ours {ours}; Chromium {theirs}; {where}")
    return "\n".join(lines)


def write(mark: str, text: str, document: Path = DOCUMENT) -> None:
    """Put a table into a document between its marks."""
    before = document.read_text("utf-8")
    pattern = re.compile(rf"(<!-- {mark} -->\n).*?(<!-- /{mark} -->)", re.S)
    document.write_text(pattern.sub(lambda found: found[1] + text + found[2], before), "utf-8")


def main() -> None:
    """Run it."""
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("names", nargs="*")
    options.add_argument("--real", action="store_true", help="the real sites, not the own ones")
    options.add_argument("--fresh", action="store_true", help="the sites nothing was built against")
    options.add_argument("--pictured", action="store_true", help="the sites that are mostly pictures and gradients")
    options.add_argument("--layout", action="store_true", help="measure the pages first, and read them so")
    options.add_argument("--write", action="store_true", help="put the table into docs/accuracy.md")
    chosen = options.parse_args()
    name, fetched = next(((name, sites) for name, sites in CORPORA.items() if getattr(chosen, name)), ("own", ()))
    folders = [corpus.fetch(site) for site in fetched] if fetched else corpus.own_sites()
    folders = [folder for folder in folders if not chosen.names or folder.name in chosen.names]
    rows: list[tuple[str, Tally]] = []
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium.executable(), args=chromium.ARGUMENTS)
        for folder in folders:
            tally = hold(browser, folder, measured=chosen.layout)
            rows.append((folder.name, tally))
            print(" | ".join(row_of(folder.name, tally)), flush=True)
            print(explained(tally.examples))
        browser.close()
    text = table(rows)
    print(text)
    if chosen.write:
        write(f"{name}-laid" if chosen.layout else name, text)


if __name__ == "__main__":
    main()
