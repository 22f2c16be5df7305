"""Whether what is said to be readable is, as Chromium paints it: python -m tests.oracle.promises [--sites N] [NAME …]

Of each site two pages, measured at two widths: three palettes made of seeded random colours and kept, and *Fix all*
with all that is offered. What is said of each text at rest, hovered and focused is held against Chromium's pixels;
"everything is readable" is broken by one text that Chromium shows to be hard to read.
"""

from __future__ import annotations

import argparse
import random
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path

from playwright.sync_api import Browser, sync_playwright

from glaucon.core.acts.any_act import applied
from glaucon.core.acts.at_hand import ReadSite
from glaucon.core.acts.whole.find_fixes import FindFixes
from glaucon.core.colour.value import Colour
from glaucon.core.exchange.recolour import recolour_site
from glaucon.core.exchange.reports.audit import context_report
from glaucon.core.layout.document import read_page_layout
from glaucon.core.making.making import make_studies
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import read_site
from glaucon.measuring import measure_with
from tests import chromium
from tests.oracle import corpus
from tests.oracle.agreement import NEAR_A_THRESHOLD
from tests.oracle.chromium_truth import true_runs
from tests.oracle.fresh import FRESH
from tests.oracle.handing_back import as_folder
from tests.oracle.harm import WORST, at_share, can_be_seen, needed

WIDTHS, STATES = (1280, 390), ("rest", "hover", "focus")
MOST_PAGES, PALETTES = 2, 3
OWN_SITES = (corpus.ROOT / "samples" / "otterlock",)


@dataclass(slots=True)
class Promise:
    """What is said of one study, and the texts said to be readable that Chromium shows to be hard to read."""

    what: str
    texts: int
    hard: int
    unsure: int
    seen: int = 0
    broken: list[str] = field(default_factory=list)

    def __str__(self) -> str:
        said = "everything is readable" if not self.hard + self.unsure else f"{self.hard} hard, {self.unsure} unsure"
        return (
            f"| {self.what} | {self.texts} | {said} | {self.seen} | {len(self.broken)} | {'; '.join(self.broken[:3])}"
        )


def hold(browser: Browser, folder: Path) -> Iterator[Promise]:
    """Yield what is promised of each study of a site."""
    site = read_site(folder)
    for page in site.pages[MOST_PAGES:]:
        del site.files[page]
    layouts = {key: read_page_layout(one) for key, one in measure_with(browser, site, list(WIDTHS)).items()}
    contexts = [ContextKey(width, state) for width in WIDTHS for state in STATES]
    at_hand = ReadSite(site, layouts, contexts)
    for what, study in _studies(at_hand, random.Random(folder.name)):
        yield _held(browser, folder, at_hand, study, f"{folder.name}: {what}")


def _studies(at_hand: ReadSite, seeded: random.Random) -> Iterator[tuple[str, Study]]:
    study = at_hand.known.first_study("Proposed")
    given = [Colour(seeded.random(), seeded.random(), seeded.random()) for _ in range(seeded.randint(1, 3))]
    for made in make_studies(at_hand.known, study, given, most=PALETTES):
        yield made.about, made.study
    found = FindFixes(search="fix-all").find(at_hand, study)
    yield "Fix all", applied(at_hand, study, [found.taken(None)])


def _held(browser: Browser, folder: Path, at_hand: ReadSite, study: Study, what: str) -> Promise:
    reading = at_hand.under(study).read(study)
    said = list(reading.readings)
    promise = Promise(what, reading.texts, reading.hard, reading.unsure)
    files = recolour_site(at_hand.files(), at_hand.known.survey, study, None, at_hand.backdrops(study)).files
    with as_folder(folder, files) as address:
        for page in at_hand.known.survey.pages:
            for width in WIDTHS:
                shown = true_runs(browser, address + page, width, STATES, as_read=True)
                for state in STATES:
                    report = context_report(reading.index.survey, ContextKey(width, state), "AA", said)
                    rows = {row["path"]: row for row in report["runs"] if row["page"] == page}
                    for path, run in shown[state].items():
                        row = rows.get(path)
                        if row is None or row["verdict"] == "exempt" or not can_be_seen(run):
                            continue
                        promise.seen += 1
                        ratio = at_share(run, WORST)
                        if row["verdict"] == "pass" and ratio < needed(run) - NEAR_A_THRESHOLD:
                            said_so = f"“{run.text[:24]}” said {row['ratio']}, shown {ratio:.2f}"
                            promise.broken.append(f"{page} {width} {state} {said_so} {path}")
    return promise


def main() -> None:
    """Run it."""
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("names", nargs="*")
    options.add_argument("--folder", type=Path, action="append", default=[], help="a site of one's own beside them")
    chosen = options.parse_args()
    sites = [corpus.fetch(one) for one in (*FRESH, *corpus.REAL) if not chosen.names or one.name in chosen.names]
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium.executable(), args=chromium.ARGUMENTS)
        for folder in [*([] if chosen.names else OWN_SITES), *chosen.folder, *sites]:
            for promise in hold(browser, folder):
                print(promise, flush=True)
        browser.close()


if __name__ == "__main__":
    main()
