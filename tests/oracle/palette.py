"""How much of a site its short palette colours, by Chromium's pixels: python -m tests.oracle.palette [--write] [NAME …]

A text counts, by its characters times the square of its size, where one set of colours, the site's or a section's with
the site's, has both the colour its words come out in and that of the pixels under them within ΔE OK 0.03. Words over
pictures and gradients are counted apart: no palette colours those.
"""

from __future__ import annotations

import argparse
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from playwright.sync_api import Browser, sync_playwright

from glaucon.core.known.site import KnownSite
from glaucon.core.proposal.covering import is_covered
from glaucon.core.proposal.found import found_colours
from glaucon.core.survey.site import read_site
from glaucon.core.survey.survey import survey_site
from tests import chromium
from tests.oracle import corpus
from tests.oracle.__main__ import write
from tests.oracle.chromium_truth import TrueRun, true_runs
from tests.oracle.fresh import FRESH
from tests.oracle.server import serve

WIDTH = 1280
MOST_SITE, MOST_COATS = 9, 6
# roles that the palette before this one had, of forty and more: proposed by commit b982486
ROLES_BEFORE = {
    "clean-blog-6": 56, "agency-7": 63, "creative-7": 54, "shop-homepage-5": 56, "freelancer-7": 53,
    "material-kit-2": 82, "bamboo-css": 12, "landing-page-6": 55, "spectre-docs": 49, "flask-doc": 31,
    "requests-doc": 30, "sqlite3-doc": 14, "gentelella-1": 87, "modern-business-4": 74, "modern-business-5": 58,
    "sb-admin-2": 83, "admin-lte-3": 66, "octave-doc": 6, "sqlalchemy-doc": 33, "exim-doc": 14,
}  # fmt: skip
DOCUMENT = corpus.ROOT / "docs" / "palette.md"


@dataclass(slots=True)
class Cover:
    """What was seen of one site: its colours, its short palette, and how much of the painted text that colours."""

    name: str
    colours: int
    site: int
    coats: list[str]
    details: int
    unseen: int
    texts: int
    on_pictures: float
    share: float
    missed: list[str]


def measure(browser: Browser, folder: Path) -> Cover:
    """Return how much of a site, painted by Chromium at rest on a wide screen, its first palette covers."""
    known = KnownSite(survey_site(read_site(folder)))
    study = known.first_study("Proposed")
    weights, words, grounds, names = [], [], [], []
    pictures = 0.0
    with serve(folder) as address:
        for page in known.survey.pages:
            for run in true_runs(browser, address + page, WIDTH, ("rest",))["rest"].values():
                if run.scrolled_out or run.covered or not len(run.ground):
                    continue
                weight = len(run.text) * run.size_px**2
                if not run.is_uniform:
                    pictures += weight
                    continue
                ground = run.ground[run.counts.argmax()].astype(float)
                weights.append(weight)
                words.append(_seen(run, ground) / 255)
                grounds.append(ground / 255)
                names.append(f"{page} “{run.text[:30]}”")
    weight = np.array(weights)
    covered = is_covered(study, np.array(words), np.array(grounds))
    order = np.argsort(-weight * ~covered)
    tiers = [role.tier for role in study.roles]
    return Cover(
        folder.name, len(found_colours(known.survey.tokens, known.uses)), len(study.short_roles()),
        [coat.label for coat in study.short_coats()], tiers.count("detail"), tiers.count("unseen"), len(weight),
        pictures / (pictures + weight.sum()), float(weight[covered].sum() / weight.sum()),
        [f"{names[n]} {weight[n] / weight.sum():.1%}" for n in order[:4] if not covered[n]],
    )  # fmt: skip


def _seen(run: TrueRun, ground: np.ndarray) -> np.ndarray:
    if run.seen is not None:
        return np.asarray(run.seen, dtype=float)
    alpha = run.colour[3] * run.opacity
    return np.array(run.colour[:3]) * alpha + ground * (1 - alpha)


HEADINGS = (
    "site", "colours found", "roles before", "site colours", "sections", "details", "on no page", "texts painted",
    "on pictures %", "covered %",
)  # fmt: skip


def row_of(cover: Cover) -> tuple[str, ...]:
    """Return a site as a row under HEADINGS."""
    return (
        cover.name, str(cover.colours), str(ROLES_BEFORE[cover.name]), str(cover.site), str(len(cover.coats)),
        str(cover.details), str(cover.unseen),
        str(cover.texts), f"{100 * cover.on_pictures:.0f}", f"{100 * cover.share:.1f}",
    )  # fmt: skip


def main() -> None:
    """Run it."""
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("names", nargs="*")
    options.add_argument("--write", action="store_true", help="put the tables into docs/palette.md")
    chosen = options.parse_args()
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium.executable(), args=chromium.ARGUMENTS)
        for table, sites in (("fresh", FRESH), ("known", corpus.REAL)):
            lines = [f"| {' | '.join(HEADINGS)} |", f"|{'---|' * len(HEADINGS)}"]
            for site in sites:
                if chosen.names and site.name not in chosen.names:
                    continue
                cover = measure(browser, corpus.fetch(site))
                lines.append(f"| {' | '.join(row_of(cover))} |")
                print(lines[-1], *cover.missed, sep="\n    ", flush=True)
            if chosen.write:
                write(table, "\n".join(lines) + "\n", DOCUMENT)
        browser.close()


if __name__ == "__main__":
    main()
