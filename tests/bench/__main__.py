"""Speed and memory of the core. Times are of this machine; what counts are the ratios within one run."""

from __future__ import annotations

import argparse
import platform
import statistics
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np
from playwright.sync_api import sync_playwright

from glaucon.core.colour.value import Colour
from glaucon.core.palette.known import KnownSite
from glaucon.core.palette.mending import nearest_for_role
from glaucon.core.palette.proposal import propose
from glaucon.core.reading.counterparts import Counterparts
from glaucon.core.reading.nearest import nearest_readable
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import SiteFiles
from glaucon.core.survey.site import read_site as bring_site
from glaucon.core.survey.survey import survey_site
from tests import chromium
from tests.oracle.chromium_truth import read_computed
from tests.oracle.server import serve

ROOT = Path(__file__).parents[2]
OTTERLOCK = ROOT / "samples" / "otterlock"
STATES = ("rest", "hover", "focus", "active")
WIDTHS = (1280, 390)


def timed(step: Callable[[], object], times: int) -> float:
    """Return the median seconds of some runs of a step."""
    found = []
    for _ in range(times):
        start = time.perf_counter()
        step()
        found.append(time.perf_counter() - start)
    return statistics.median(found)


def survey_rows(name: str, folder: Path) -> list[tuple[str, str]]:
    """Survey a site in the states and widths Chromium is asked for too, and compare the two."""
    site = bring_site(folder)
    contexts = [ContextKey(width, state) for width in WIDTHS for state in STATES]
    survey = survey_site(site, contexts)
    ours = timed(lambda: survey_site(site, contexts), 3)
    theirs, texts = chromium_seconds(folder, survey.pages)
    elements = survey.elements * len(contexts)
    return [
        (f"survey of {name}: elements a second", f"{elements / ours:,.0f}"),
        (f"survey of {name}: {len(survey.pages)} pages, {len(contexts)} states and widths", f"{ours:.2f} s"),
        (f"the same asked of headless Chromium ({texts:,} texts)", f"{theirs:.2f} s"),
        (f"survey of {name} against Chromium", f"{theirs / ours:.1f} times faster"),
    ]


def chromium_seconds(folder: Path, pages: list[str]) -> tuple[float, int]:
    """Return how long Chromium takes for the same pages, states and widths, and how many texts it told of."""
    with sync_playwright() as playwright, serve(folder) as address:
        browser = playwright.chromium.launch(executable_path=chromium.executable(), args=chromium.ARGUMENTS)
        start = time.perf_counter()
        texts = 0
        for width in WIDTHS:
            for page in pages:
                texts += read_computed(browser, address + page, width, STATES)
        seconds = time.perf_counter() - start
        browser.close()
    return seconds, texts


def reading_rows(name: str, site: SiteFiles) -> list[tuple[str, str]]:
    """Time what follows a palette edit: the reading, and the nearest readable colour."""
    survey = survey_site(site)
    known = KnownSite(survey)
    study = propose(survey).study(survey, "bench").with_values({"background": "#e8e0d0"})
    role = study.roles[2].name
    return [
        (
            f"reading {name} after an edit: {len(survey.runs):,} texts, {len(survey.pairings):,} pairings",
            ms(timed(lambda: known.read(study), 15)),
        ),
        (f"nearest readable for {role} of {name}", ms(timed(lambda: nearest_for_role(known, study, role), 9))),
    ]


def nearest_rows() -> list[tuple[str, str]]:
    """Time the search alone against 40 grounds, over many starting colours."""
    rng = np.random.default_rng(7)
    grounds = np.clip(0.85 + rng.normal(0, 0.05, (40, 3)), 0, 1)
    one, none = np.ones_like(grounds), np.zeros_like(grounds)
    some = Counterparts(one, none, none, grounds, np.full(40, 4.5), np.arange(40))
    starts = [Colour(*rng.random(3)) for _ in range(60)]
    return [
        (
            "nearest readable against 40 counterparts (mean of 60)",
            ms(timed(lambda: [nearest_readable(c, some) for c in starts], 3) / 60),
        )
    ]


def ms(seconds: float) -> str:
    return f"{seconds * 1000:.1f} ms"


def main() -> None:
    """Print the table; with --write keep it."""
    options = argparse.ArgumentParser()
    options.add_argument("--write", action="store_true")
    rows = survey_rows("the sample site", OTTERLOCK)
    rows += reading_rows("the sample site", bring_site(OTTERLOCK))
    rows += nearest_rows()
    table = "\n".join(["| what | figure |", "|---|---|", *(f"| {what} | {figure} |" for what, figure in rows)])
    print(table)
    if options.parse_args().write:
        head = (
            "# Speed and memory\n\nPrinted by `bin/bench` and kept by `bin/bench --write`. "
            f"Seen with Python {platform.python_version()} on 2 cores; ratios are of one run.\n\n"
        )
        (ROOT / "docs" / "performance.md").write_text(head + table + "\n", encoding="utf-8")


main()
