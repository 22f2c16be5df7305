"""Backdrops held against Chromium: python -m tests.oracle.backdrops [NAME …] [--count N] [--seed N] [--failed]

Random backdrops of every kind of layer, each alone on a site that is handed back and shown by Chromium; the verdict and
the ratio of every text that lies on it are compared with what the reading says, with the site's layout measured. With
`--failed` its pictures are not there: what is compared is the base colour under what else there is.
"""

from __future__ import annotations

import argparse
import random
from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Any

import numpy as np
from playwright.sync_api import Browser, sync_playwright

from glaucon.core.backdrops import library
from glaucon.core.backdrops.patterns import PATTERNS
from glaucon.core.backdrops.pictures import FOLDER
from glaucon.core.exchange.backdrops import backdrops_of, source_of, survey_with
from glaucon.core.exchange.recolour import recolour_site
from glaucon.core.exchange.reports.audit import context_report
from glaucon.core.known.site import KnownSite
from glaucon.core.study.backdrops import Backdrop
from glaucon.core.study.study import Study, read_study
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import read_site
from glaucon.core.survey.survey import survey_site
from tests import chromium
from tests.oracle import corpus
from tests.oracle.__main__ import write
from tests.oracle.agreement import Tally, compare_page, ratios_of
from tests.oracle.chromium_truth import TrueRun, true_runs
from tests.oracle.fresh import FRESH
from tests.oracle.handing_back import as_folder
from tests.oracle.measured import layouts_of

DOCUMENT = corpus.ROOT / "docs" / "backdrops.md"
LAYERS = ("gradient", "picture", "pattern", "glow", "veil")
FITS = ("cover", "contain", "tile", "stretch", "natural")
BLENDS = ("multiply", "screen", "overlay", "soft-light", "darken", "lighten", "luminosity")
PICTURES = ("still-water", "brick-wall", "dawn", "slate", "meadow", "night-mooring")


@dataclass
class Outcome:
    """What was compared for one site, over all its backdrops: verdicts, and ratios as ours over Chromium's.

    A picture that stays while the page scrolls is read wherever the page has scrolled to, and Chromium shows but one
    such place: there only what is called readable and is not counts.
    """

    name: str
    backdrops: int = 0
    false_on_fixed: int = 0
    tally: Tally = field(default_factory=Tally)
    ratios: list[float] = field(default_factory=list)
    examples: list[str] = field(default_factory=list)

    @property
    def off(self) -> tuple[float, float]:
        """Return by how much ratios differ, in per cent: the median, and the 95th of a hundred."""
        away = np.abs(np.array(self.ratios or [1.0]) - 1) * 100
        return float(np.median(away)), float(np.quantile(away, 0.95))


def colour(dice: random.Random) -> str:
    return "#{:02x}{:02x}{:02x}".format(*(dice.randrange(256) for _ in range(3)))


def random_layer(kind: str, study: Study, dice: random.Random) -> dict[str, Any]:
    """Return a layer of a kind; every third colour is one of the palette."""

    def paint() -> Any:
        return {"role": dice.choice(study.short_roles()).id} if dice.random() < 0.33 else colour(dice)

    share = lambda: round(dice.random(), 2)  # noqa: E731
    if kind == "gradient":
        stops = sorted(share() for _ in range(dice.randint(2, 6)))
        return {"gradient": {
            "kind": dice.choice(["linear", "radial", "conic"]), "angle": dice.randrange(360),
            "place": [share(), share()], "reach": round(0.3 + dice.random(), 2),
            "stops": [{"at": at, "colour": paint()} for at in stops],
        }}  # fmt: skip
    if kind == "picture":
        return {"picture": {
            "file": f"{FOLDER}{dice.choice(PICTURES)}.webp", "fit": dice.choice(FITS), "at": [share(), share()],
            "scale": dice.choice([1, 1, 0.3, 1.7]), "fixed": dice.random() < 0.25,
            "opacity": dice.choice([1, 1, 0.5]), "strength": dice.choice([1, 0.4, 0]),
            "lightness": dice.choice([0, 0, -0.5, 0.5]), "blend": dice.choice(["normal", dice.choice(BLENDS)]),
        }}  # fmt: skip
    if kind == "pattern":
        drift = {"towards": dice.randrange(360), "seconds": 30} if dice.random() < 0.3 else None
        turn = 0 if drift else dice.choice([0, 0, 30])
        return {"pattern": {"name": dice.choice(list(PATTERNS)), "colour": paint(), "scale": dice.choice([1, 2]),
                            "opacity": round(0.1 + dice.random() * 0.5, 2), "turn": turn, "drift": drift}}  # fmt: skip
    if kind == "glow":
        return {"glow": {"at": [share(), share()], "colour": paint(), "reach": share() + 0.2, "opacity": share()}}
    return {"veil": {"colour": paint(), "opacity": share()}}


def random_backdrop(known: KnownSite, study: Study, dice: random.Random) -> Backdrop:
    """Return a backdrop of one to four layers on a base colour, behind the site, a page, a section or a part."""
    survey = known.survey
    where: dict[str, Any] | None = dice.choice([None, {"page": dice.choice(survey.pages)}])
    kind = dice.choice(["wide", "section", "section", "part"])
    some = [region for region in survey.regions if region.is_section == (kind == "section")]
    if kind != "wide" and some:
        where = {kind: dice.choice(some).key}
    layers: list[dict[str, Any]] = [{"colour": colour(dice)}] if dice.random() < 0.8 else []
    kinds = dice.sample(LAYERS, dice.randint(1, 3))
    layers += [random_layer(one, study, dice) for one in sorted(kinds, key=LAYERS.index)]
    phone = {"picture": dice.choice([None, {"at": [0.2, 0.8]}])} if dice.random() < 0.3 else None
    panels = round(dice.random(), 2) if dice.random() < 0.4 else 1
    return Backdrop.model_validate({"in": where, "layers": layers, "phone": phone, "panels": panels})


def prove(
    browser: Browser, folder: Path, count: int, seed: int, widths: Iterable[int] = (1280, 390), has_failed: bool = False
) -> Outcome:
    """Return how a site on random backdrops, each alone, is shown by Chromium, against what the reading says."""
    site = read_site(folder)
    for page in site.pages[3:]:
        del site.files[page]
    widths = list(widths)
    layouts = layouts_of(browser, site, widths)
    contexts = [ContextKey(width, "rest") for width in widths]
    known = KnownSite(survey_site(site, contexts, layouts))
    study, dice = known.first_study("Laid"), random.Random(seed)
    own = {f"{FOLDER}{name}.webp": library.draw(name) for name in PICTURES}
    outcome = Outcome(folder.name)
    for _ in range(count):
        backdrop = random_backdrop(known, study, dice)
        while has_failed and not list(backdrop.pictures):
            backdrop = random_backdrop(known, study, dice)
        laid = read_study(study.model_copy(update={"backdrops": (backdrop,)}).model_dump(mode="json"))
        behind = backdrops_of(laid, known.survey.regions, source_of(site, own))
        new = recolour_site(site, known.survey, laid, backdrops=behind)
        if has_failed:
            kept = {path: data for path, data in new.files.items() if not path.endswith(".webp")}
            new = replace(new, files=kept)
            behind = replace(behind, with_pictures=False)
        seen = KnownSite(survey_with(site, behind, contexts, layouts))
        reading = seen.read(laid)
        outcome.backdrops += 1
        with as_folder(folder, new.files) as address:
            for page in sorted(behind.pages_of(backdrop, site.pages))[:1]:
                for key in contexts:
                    report = context_report(seen.survey, key, "AA", list(reading.readings))["runs"]
                    truth = _on_it(
                        seen, backdrop, page, true_runs(browser, address + page, key.width, ["rest"])["rest"]
                    )
                    rows = [row for row in report if row["page"] == page and row["path"] in truth]
                    if any(picture.fixed for picture in backdrop.pictures) and not has_failed:
                        outcome.false_on_fixed += compare_page(rows, truth, page).false_pass
                        continue
                    compared = compare_page(rows, truth, page)
                    outcome.tally.add(compared)
                    said = backdrop.model_dump(mode="json", exclude_defaults=True)
                    outcome.examples += [
                        f"{page} {key.width}: {e} {said}"
                        for e in compared.examples
                        if "verdict" in e.kind or "false" in e.kind
                    ]
                    _compare_ratios(outcome, rows, truth)
    return outcome


def _on_it(known: KnownSite, backdrop: Backdrop, page: str, truth: dict[str, TrueRun]) -> dict[str, TrueRun]:
    """Return the texts that lie in a backdrop's place."""
    region = backdrop.where.region if backdrop.where is not None else None
    if region is None:
        return truth
    survey = known.survey
    inside = {
        run.path for run in survey.runs
        if run.page == page and region in (survey.regions[n].key for n in survey.chains[run.chain])
    }  # fmt: skip
    return {path: true for path, true in truth.items() if path in inside}


def _compare_ratios(outcome: Outcome, rows: list[dict[str, Any]], truth: dict[str, TrueRun]) -> None:
    for row in rows:
        true = truth[row["path"]]
        if (
            len(true.ground)
            and not true.covered
            and not true.scrolled_out
            and row.get("ratio")
            and "::" not in row["path"]
        ):
            outcome.ratios.append(row["ratio"] / float(ratios_of(true).min()))


HEADINGS = (
    "site", "backdrops", "texts judged", "verdicts right %", "unsure", "false passes", "of those that stay",
    "ratio off, median %", "95th of 100 %",
)  # fmt: skip


def row_of(found: Outcome) -> tuple[str, ...]:
    """Return an outcome as a row under HEADINGS."""
    tally, (median, most) = found.tally, found.off
    share = Tally.share(tally.verdict_right, tally.verdict_judged)
    return (
        found.name, str(found.backdrops), str(tally.verdict_judged), f"{share:.1f}", str(tally.unsure),
        str(tally.false_pass), str(found.false_on_fixed), f"{median:.1f}", f"{most:.1f}",
    )  # fmt: skip


def table(all_found: list[Outcome]) -> str:
    """Return outcomes as a table with their sum at the end."""
    whole = Outcome("all")
    for found in all_found:
        whole.tally.add(found.tally)
        whole.backdrops += found.backdrops
        whole.false_on_fixed += found.false_on_fixed
        whole.ratios += found.ratios
    lines = [f"| {' | '.join(HEADINGS)} |", f"|{'---|' * len(HEADINGS)}"]
    return "\n".join(lines + [f"| {' | '.join(row_of(found))} |" for found in [*all_found, whole]]) + "\n"


def main() -> None:
    """Run it."""
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("names", nargs="*")
    options.add_argument("--count", type=int, default=3)
    options.add_argument("--seed", type=int, default=1)
    options.add_argument("--write", action="store_true", help="put the table into docs/backdrops.md")
    options.add_argument("--failed", action="store_true", help="with its pictures not there")
    asked = options.parse_args()
    fresh = {site.name: site for site in FRESH}
    everywhere = ["otterlock", *sorted(path.name for path in corpus.own_sites()), *fresh]
    done: list[Outcome] = []
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium.executable(), args=chromium.ARGUMENTS)
        for name in asked.names or everywhere:
            own = corpus.ROOT / "samples" / name if name == "otterlock" else corpus.OWN / name
            folder = corpus.fetch(fresh[name]) if name in fresh else own
            done.append(prove(browser, folder, asked.count, asked.seed, has_failed=asked.failed))
            print(" | ".join(row_of(done[-1])), flush=True)
            for example in done[-1].examples[:6]:
                print("   ", example)
    if asked.write:
        write("backdrops", table(done), DOCUMENT)
    else:
        print(table(done))


if __name__ == "__main__":
    main()
