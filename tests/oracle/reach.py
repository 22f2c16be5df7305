"""How far a choice reaches, as Chromium counts: python -m tests.oracle.reach [NAME …] [--layout] [--count N] [--seed N]

For random texts of a site and each width of a choice there, what is said to be reached is counted in Chromium: the
elements that the selector finds, and the texts painted otherwise when every kind of colour is set to one of its own.
"""

from __future__ import annotations

import argparse
import random
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np
from playwright.sync_api import Browser, sync_playwright

from glaucon.core.exchange.recolour import recolour_site
from glaucon.core.known.site import KnownSite
from glaucon.core.places.widening import WiderReach, reaches_of
from glaucon.core.study.scopes import Scope
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey, Sightings
from glaucon.core.survey.origins import Tracer
from glaucon.core.survey.site import SiteFiles, read_site
from glaucon.core.survey.survey import survey_site
from tests import chromium
from tests.oracle import corpus
from tests.oracle.chromium_truth import TrueRun, opened, true_runs
from tests.oracle.fresh import FRESH
from tests.oracle.handing_back import as_folder
from tests.oracle.measured import layouts_of

WIDTH = 1280


@dataclass
class Outcome:
    """How many reaches were counted, and how many counts of elements and of texts were exact."""

    name: str
    reaches: int = 0
    elements_right: int = 0
    texts_right: int = 0
    examples: list[str] = field(default_factory=list)


# a colour of this step apart is another one: what is set here is never nearer to what a site has
_APART = 3.0


class _Shown:
    """A site as Chromium paints it, some files replaced; what texts show is asked once for a page as it came."""

    def __init__(self, browser: Browser, folder: Path, paths: dict[str, list[str]]) -> None:
        self._browser, self._folder, self._paths = browser, folder, paths
        self._before: dict[str, dict[str, TrueRun]] = {}

    def changed(self, page: str, new: dict[str, bytes]) -> set[str]:
        """Return the texts of a page, by path, whose words or whose background are painted otherwise."""
        if page not in self._before:
            self._before[page] = self._painted(page, {})
        before, after = self._before[page], self._painted(page, new)
        both = [path for path in self._paths[page] if path in before and path in after]
        return {path for path in both if _differ(before[path], after[path])}

    def unseen(self, page: str) -> int:
        """Return of how many of a page's texts pixels tell nothing, once it was asked what changes there.

        Chromium paints them nowhere, or they are generated words of no colour cut out of a background.
        """
        before = self._before[page]
        blind = {path for path, run in before.items() if not run.colour[3] and not len(run.ground)}
        return len(set(self._paths[page]) - (set(before) - blind))

    def found(self, page: str, selector: str) -> int:
        """Return how many elements of a page a selector finds."""
        with as_folder(self._folder, {}) as address, opened(self._browser, address + page, WIDTH) as shown:
            return int(shown.evaluate("selector => document.querySelectorAll(selector).length", selector))

    def _painted(self, page: str, new: dict[str, bytes]) -> dict[str, TrueRun]:
        with as_folder(self._folder, new) as address:
            return true_runs(self._browser, address + page, WIDTH, ["rest"])["rest"]


def _differ(one: TrueRun, other: TrueRun) -> bool:
    if one.colour[3] and np.abs(np.subtract(one.colour[:3], other.colour[:3])).max() > _APART:
        return True
    if not len(one.ground) or not len(other.ground):
        return False
    behind = [(run.ground * run.counts[:, None]).sum(axis=0) / run.counts.sum() for run in (one, other)]
    return bool(np.abs(behind[0] - behind[1]).max() > _APART)


def prove(
    browser: Browser, folder: Path, count: int, seed: int, most_pages: int = 5, measured: bool = False
) -> Outcome:  # fmt: skip
    """Return how the counts of some random reaches hold in Chromium."""
    site, dice, outcome = read_site(folder), random.Random(seed), Outcome(folder.name)
    for page in site.pages[most_pages:]:
        del site.files[page]
    layouts = layouts_of(browser, site, [WIDTH]) if measured else {}
    known = KnownSite(survey_site(site, [ContextKey(WIDTH, "rest")], layouts))
    study, tracer = known.first_study("Reached"), Tracer(site)
    paths: dict[str, list[str]] = {page: [] for page in site.pages}
    for sighting in _at_rest(known):
        run = known.survey.runs[sighting.run]
        paths[run.page].append(run.path)
    look = _Shown(browser, folder, paths)
    for _ in range(count):
        page = dice.choice([one for one in site.pages if paths[one]])
        element = tracer.element(page, dice.choice(paths[page]).split("::")[0])
        assert element is not None
        lineage = tracer.lineage(page, element, known.survey.regions)
        reaches = reaches_of(known, study, page, lineage, WIDTH, (element, "text"), known.read(study))
        reach = dice.choice([one for one in reaches if one.where is not None])
        _hold(look, site, known, study, reach, paths, outcome)
    return outcome


def _at_rest(known: KnownSite) -> Sightings:
    return known.survey.sightings[ContextKey(WIDTH, "rest")]


def _hold(
    look: _Shown, site: SiteFiles, known: KnownSite, study: Study, reach: WiderReach, paths: dict[str, list[str]],
    outcome: Outcome,
) -> None:  # fmt: skip
    outcome.reaches += 1
    elements = sum(look.found(page, reach.selector) for page in reach.pages)
    uses = dict.fromkeys(["text", "background"])
    uses.update(dict.fromkeys(f"{r.kind}.{r.state}" if r.state != "rest" else str(r.kind) for r in study.roles))
    vivid = {use: f"#fe{number:02x}fd" for number, use in enumerate(uses)}
    worn = tuple(Scope.model_validate({"in": one, "set": vivid}) for one in (reach.where, *reach.also))
    scoped = study.model_copy(update={"worn": worn})
    new = recolour_site(site, known.survey, scoped).files
    texts = sum(len(look.changed(page, new)) for page in reach.pages if paths[page])
    others = sum(len(look.changed(page, new)) for page in site.pages if page not in reach.pages and paths[page])
    outcome.elements_right += elements == reach.elements
    # of a text that is nowhere to be seen pixels do not tell whether it changes
    unseen = sum(look.unseen(page) for page in reach.pages if paths[page])
    is_right = texts <= reach.texts <= texts + unseen and not others
    outcome.texts_right += is_right
    if elements != reach.elements or not is_right:
        said = f"{reach.what} ({reach.selector}): {reach.elements} and {reach.texts}"
        outcome.examples.append(f"{said}, in Chromium {elements} and {texts}, elsewhere {others}")


def main() -> None:
    """Run it."""
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("names", nargs="*")
    options.add_argument("--count", type=int, default=12)
    options.add_argument("--seed", type=int, default=1)
    options.add_argument("--layout", action="store_true", help="measure the pages first, and read them so")
    chosen = options.parse_args()
    own = [path for path in sorted(corpus.OWN.iterdir()) if path.is_dir()]
    folders = [corpus.ROOT / "samples" / "otterlock", *own, *(corpus.FETCHED / site.name for site in FRESH)]
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium.executable(), args=chromium.ARGUMENTS)
        for folder in folders:
            if (chosen.names and folder.name not in chosen.names) or not folder.exists():
                continue
            found = prove(browser, folder, chosen.count, chosen.seed, measured=chosen.layout)
            print(f"| {found.name} | {found.elements_right} and {found.texts_right} of {found.reaches} |", flush=True)
            print(*found.examples[:6], sep="\n    ", flush=True)
        browser.close()


if __name__ == "__main__":
    main()
