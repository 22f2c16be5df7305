"""Speed and memory of the core. Times are of this machine; what counts are the ratios within one run."""

from __future__ import annotations

import argparse
import platform
import random
import statistics
import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np
from playwright.sync_api import Browser, sync_playwright

from glaucon.core.colour.value import Colour
from glaucon.core.known.site import KnownSite
from glaucon.core.layout.document import read_page_layout
from glaucon.core.mending.offers import nearest_for_role
from glaucon.core.reading.counterparts import Counterparts
from glaucon.core.reading.nearest import nearest_readable
from glaucon.core.study.scopes import Scope, Where
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey, Survey
from glaucon.core.survey.site import SiteFiles
from glaucon.core.survey.site import read_site as bring_site
from glaucon.core.survey.survey import survey_site
from glaucon.measuring import measure_with
from tests import chromium
from tests.made_sites import many_pages
from tests.oracle import corpus
from tests.oracle.chromium_truth import read_computed
from tests.oracle.server import serve

ROOT = Path(__file__).parents[2]
OTTERLOCK = ROOT / "samples" / "otterlock"
STATES = ("rest", "hover", "focus", "active")
WIDTHS = (1280, 390)
Row = tuple[str, str]
_SEE = "\n\nDragging with the pages on the bench: [dragging](dragging.md).\n"


def timed(step: Callable[[], object], times: int) -> float:
    """Return the median seconds of some runs of a step."""
    found = []
    for _ in range(times):
        start = time.perf_counter()
        step()
        found.append(time.perf_counter() - start)
    return statistics.median(found)


def survey_rows(name: str, folder: Path) -> list[Row]:
    """Survey a site in the states and widths Chromium is asked for too, and compare the two."""
    site = bring_site(folder)
    contexts = [ContextKey(width, state) for width in WIDTHS for state in STATES]
    survey = survey_site(site, contexts)
    ours = timed(lambda: survey_site(site, contexts), 3)
    theirs, texts = chromium_seconds(folder, survey.pages)
    elements = survey.elements * len(contexts)
    questions = len(survey.pages) * len(contexts)
    return [
        (f"survey of {name}: {len(survey.pages)} pages, {len(contexts)} states and widths", f"{ours:.2f} s"),
        (f"survey of {name}: elements a second", f"{elements / ours:,.0f}"),
        (
            f"the same of headless Chromium ({texts:,} texts, {theirs / questions:.2f} s a page and state)",
            f"{theirs:.1f} s",
        ),
        (f"**survey of {name} against Chromium**", f"**{theirs / ours:.0f} times faster**"),
    ]


def chromium_seconds(folder: Path, pages: list[str]) -> tuple[float, int]:
    """Return how long Chromium takes for the same pages, states and widths, and how many texts it told of.

    Each page is loaded once for each width; its computed styles are read in every state, no picture is taken.
    """
    with sync_playwright() as playwright, serve(folder) as address:
        browser = playwright.chromium.launch(executable_path=chromium.executable(), args=chromium.ARGUMENTS)
        read_computed(browser, address + pages[0], WIDTHS[0], STATES[:1])  # the browser's own start does not count
        start = time.perf_counter()
        texts = sum(read_computed(browser, address + page, width, STATES) for width in WIDTHS for page in pages)
        seconds = time.perf_counter() - start
        browser.close()
    return seconds, texts


def with_scopes(known: KnownSite, study: Study) -> Study:
    """Return the study with coats on some thirty random sections and parts, on one page or on all."""
    dice, coats = random.Random(3), [coat.id for coat in study.coats]
    scopes: dict[Where, Scope] = {}
    for region in dice.choices(known.survey.regions, k=30):
        page = dice.choice([None, *sorted(region.pages)[:40]])
        where = Where(**{"section" if region.is_section else "part": region.key}, page=page)
        scopes[where] = Scope.model_validate({"in": where, "coat": dice.choice(coats)})
    return study.model_copy(update={"worn": tuple(scopes.values())})


def reading_rows(name: str, site: SiteFiles) -> list[Row]:
    """Time what follows a palette edit: the reading, and the nearest readable colour."""
    survey = survey_site(site)
    known = KnownSite(survey)
    study = KnownSite(survey).first_study("bench")
    role = study.roles[2].id
    edits = iter(range(10_000))
    texts = sum(len(sightings) for sightings in survey.sightings.values())

    def read() -> object:
        return known.read(study.with_values({"background": f"#e8e0{next(edits) % 256:02x}"}))

    worn = with_scopes(known, study)

    def read_worn() -> object:
        return known.read(worn.with_values({"background": f"#e8e0{next(edits) % 256:02x}"}))

    read()
    read_worn()
    plain, dressed = timed(read, 25), timed(read_worn, 25)
    size = f"{len(survey.pages):,} pages, {len(survey.runs):,} texts ({texts:,} over all states and widths)"
    return [
        (f"**reading {name} after an edit**: {size}, {len(survey.pairings):,} pairings", f"**{ms(plain)}**"),
        (f"the same with {len(worn.worn)} scopes", f"{ms(dressed)}, **{dressed / plain:.2f} times**"),
        (f"nearest readable for {role} of {name}", ms(timed(lambda: nearest_for_role(known, study, role), 9))),
    ]


def layout_rows() -> list[Row]:
    """Time measuring against loading, and reading a large site that is measured against one that is not."""
    rows = []
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium.executable(), args=chromium.ARGUMENTS)
        for name, folder in (("the sample site", OTTERLOCK), (corpus.REAL[0].name, corpus.fetch(corpus.REAL[0]))):
            site = bring_site(folder)
            measure_with(browser, site, [1280])  # the browser's own start does not count
            loading, measuring = (_per_page(browser, site, is_measured) for is_measured in (False, True))
            what = f"**measuring {name}**: {len(site.pages)} pages at 1280 px, with loading ({ms(loading)} without)"
            rows.append((what, f"{ms(measuring)} a page, **{measuring / loading:.2f} times loading**"))
        made = many_pages(OTTERLOCK, 500, words=6)
        some = {
            name: data for name, data in made.items() if not name.startswith("page-") or len(name) < len("page-10.html")
        }
        measured = measure_with(browser, SiteFiles(some), [1280])
        browser.close()
    layouts = {(page, 1280): read_page_layout(measured[_like(page), 1280]) for page in made if page.endswith(".html")}
    plain, laid = (survey_site(SiteFiles(made), [ContextKey(1280, "rest")], given) for given in ({}, layouts))
    seconds = [timed(_reading_of(survey), 25) for survey in (plain, laid)]
    count = sum(one.laid for one in laid.pairings)
    size = f"{len(laid.runs):,} texts, {len(laid.pairings):,} pairings, layout decides {count:,} of them"
    what = f"**reading a made site with its layout**: {size} ({ms(seconds[0])} without)"
    rows.append((what, f"{ms(seconds[1])}, **{seconds[1] / seconds[0]:.2f} times**"))
    return rows


def _per_page(browser: Browser, site: SiteFiles, is_measured: bool) -> float:
    return timed(lambda: measure_with(browser, site, [1280], is_measured=is_measured), 3) / len(site.pages)


_ORIGINALS = 5  # pages of the sample that made ones repeat


def _like(page: str) -> str:
    """Return a measured page that a made one is built like."""
    number = page.removeprefix("page-").removesuffix(".html")
    return f"page-{int(number) % _ORIGINALS}.html" if number.isdigit() and len(number) > 1 else page


def _reading_of(survey: Survey) -> Callable[[], object]:
    known = KnownSite(survey)
    study = known.first_study("bench")
    edits = iter(range(10_000))
    known.read(study)
    return lambda: known.read(study.with_values({"background": f"#e8e0{next(edits) % 256:02x}"}))


def nearest_rows() -> list[Row]:
    """Time the search alone against 40 grounds, over many starting colours."""
    rng = np.random.default_rng(7)
    grounds = np.clip(0.85 + rng.normal(0, 0.05, (40, 3)), 0, 1)
    one, none = np.ones_like(grounds), np.zeros_like(grounds)
    some = Counterparts(one, none, none, grounds, np.full(40, 4.5), np.arange(40))
    starts = [Colour(*rng.random(3)) for _ in range(60)]
    seconds = timed(lambda: [nearest_readable(start, some) for start in starts], 3) / len(starts)
    return [("nearest readable against 40 counterparts (mean of 60)", ms(seconds))]


_LARGE = """
import pickle, resource, sys, time
from pathlib import Path
from glaucon.core.survey.site import SiteFiles
from glaucon.core.survey.survey import survey_site
from tests.made_sites import many_pages
site = SiteFiles(many_pages(Path(sys.argv[1]), 500))
start = time.perf_counter()
survey = survey_site(site)
first = time.perf_counter() - start
kept = pickle.dumps(survey, protocol=pickle.HIGHEST_PROTOCOL)
start = time.perf_counter()
pickle.loads(kept)
print(first, time.perf_counter() - start, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024)
"""


def large_rows() -> list[Row]:
    """Survey 500 pages in a process of its own, to see its memory; and take the kept survey up again."""
    command = [sys.executable, "-c", _LARGE, str(OTTERLOCK)]
    said = subprocess.run(command, capture_output=True, text=True, check=True, cwd=ROOT).stdout
    first, second, megabytes = (float(v) for v in said.split())
    return [
        ("survey of 500 pages, all states and width bands", f"{first:.1f} s"),
        ("memory of that", f"{megabytes:.0f} MB"),
        (
            "**the same site again, unchanged**: the kept survey",
            f"{second:.2f} s, **{first / second:.0f} times faster**",
        ),
    ]


def ms(seconds: float) -> str:
    return f"{seconds * 1000:.1f} ms"


def main() -> None:
    """Print the table; with --write keep it."""
    options = argparse.ArgumentParser()
    options.add_argument("--write", action="store_true")
    options.add_argument("--quick", action="store_true", help="the sample site only")
    chosen = options.parse_args()
    rows = survey_rows("the sample site", OTTERLOCK)
    if not chosen.quick:
        for site in corpus.REAL[:2] + corpus.REAL[5:6]:
            rows += survey_rows(site.name, corpus.fetch(site))
    rows += reading_rows("the sample site", bring_site(OTTERLOCK))
    if not chosen.quick:
        rows += reading_rows("a made site", SiteFiles(many_pages(OTTERLOCK, 500, words=6)))
        rows += large_rows()
        rows += layout_rows()
    rows += nearest_rows()
    table = "\n".join(["| what | figure |", "|---|---|", *(f"| {what} | {figure} |" for what, figure in rows)])
    print(table)
    if chosen.write:
        head = (
            "# Speed and memory\n\nPrinted by `bin/bench` and kept by `bin/bench --write`. "
            f"Seen with Python {platform.python_version()} on 2 cores; ratios are of one run. Chromium is asked for "
            "its computed styles only: each page loaded once a width, each element forced into each state.\n\n"
        )
        (ROOT / "docs" / "performance.md").write_text(head + table + _SEE, encoding="utf-8")


main()
