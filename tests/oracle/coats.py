"""Any coat on any section, held against Chromium's pixels: python -m tests.oracle.coats [--count N] [--seed N]

Each pair of a section of the sample and a coat is worn alone; every text in the section must be readable on the pixels
that it stands on. Text that the page itself fades or lays on a picture is counted apart: no coat reaches that.
"""

from __future__ import annotations

import argparse
import random
from dataclasses import dataclass, field
from itertools import product
from pathlib import Path

import numpy as np
from playwright.sync_api import Browser, sync_playwright

from glaucon.core.colour.contrast import contrast_ratios
from glaucon.core.exchange.recolour import recolour_site
from glaucon.core.known.site import KnownSite
from glaucon.core.study.coats import add_coat, wear
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import read_site
from glaucon.core.survey.survey import survey_site
from tests import chromium
from tests.oracle import corpus
from tests.oracle.chromium_truth import TrueRun, true_runs
from tests.oracle.handing_back import as_folder

WIDTH = 1280
MADE = {"Night": "#101820", "Paper": "#ffffff", "Brick": "#a03c28", "Moss": "#6f7f4f", "Mustard": "#d9a520"}


@dataclass
class Outcome:
    """How many texts in how many pairs were looked at, how many were hard to read, how many no coat reaches."""

    pairs: int = 0
    pairs_readable: int = 0
    texts: int = 0
    hard: int = 0
    apart: int = 0
    examples: list[str] = field(default_factory=list)


def prove(browser: Browser, folder: Path, count: int, seed: int) -> Outcome:
    """Return how readable the texts of sections are, each under some coat."""
    site, dice, outcome = read_site(folder), random.Random(seed), Outcome()
    known = KnownSite(survey_site(site, [ContextKey(WIDTH, "rest")]))
    study = known.first_study("Coated")
    for label, background in MADE.items():
        study, _ = add_coat(study, label, background)
    places = [(r.key, page) for r in known.survey.regions if r.is_section for page in sorted(r.pages)]
    pairs = list(product(places, [coat.id for coat in study.coats]))
    for (key, page), coat in dice.sample(pairs, min(count, len(pairs))):
        scoped = wear(study, [Where(section=key, page=page)], coat, {})
        new = recolour_site(site, known.survey, scoped)
        with as_folder(folder, new.files) as address:
            runs = true_runs(browser, address + page, WIDTH, ["rest"])["rest"]
        _note(known, scoped, key, page, coat, runs, outcome)
    return outcome


def _note(
    known: KnownSite, study: Study, key: str, page: str, coat: str, runs: dict[str, TrueRun], outcome: Outcome
) -> None:
    survey, hard = known.survey, 0
    reading = known.read(study)
    index = reading.index.survey
    doubts = {
        index.runs[s.run].path for s in index.sightings[ContextKey(WIDTH, "rest")]
        if reading.index.fading(s.pairing) < 1 or reading.readings.varied[s.pairing]
    }  # fmt: skip
    inside = [
        r for r in survey.runs if r.page == page and key in [survey.regions[n].key for n in survey.chains[r.chain]]
    ]
    for run in inside:
        seen = runs.get(run.path)
        if seen is None or seen.covered or not len(seen.ground):
            continue
        if run.path in doubts or not seen.is_uniform or seen.colour[3] < 1:
            outcome.apart += 1
            continue
        outcome.texts += 1
        ground = seen.ground[seen.counts.argmax()] / 255
        ratio = float(contrast_ratios(np.array(seen.colour[:3]) / 255, ground))
        large = seen.size_px >= 24 or (seen.size_px >= 18.66 and seen.weight >= 700)
        if ratio < (3.0 if large else 4.5) - 0.01:
            hard += 1
            outcome.examples.append(f"{coat} on {key}, {page}: {run.text[:30]!r} {ratio:.2f} {run.path}")
    outcome.pairs += 1
    outcome.pairs_readable += hard == 0
    outcome.hard += hard


def main() -> None:
    """Run it."""
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--count", type=int, default=300)
    options.add_argument("--seed", type=int, default=1)
    chosen = options.parse_args()
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium.executable(), args=chromium.ARGUMENTS)
        found = prove(browser, corpus.ROOT / "samples" / "otterlock", chosen.count, chosen.seed)
        print(f"{found.pairs_readable} of {found.pairs} pairs, {found.hard} of {found.texts} texts hard to read")
        print(f"{found.apart} texts apart")
        print(*found.examples[:40], sep="\n")
        browser.close()


if __name__ == "__main__":
    main()
