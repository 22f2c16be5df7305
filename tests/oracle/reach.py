"""How far a choice reaches, held against Chromium: python -m tests.oracle.reach [NAME …] [--count N] [--seed N]

For random texts of a site and each width of a choice there, what is said to be reached is counted in Chromium: the
elements that the selector finds, and the texts that change when every kind of colour is set to one of its own there.
"""

from __future__ import annotations

import argparse
import random
from dataclasses import dataclass, field
from pathlib import Path

from playwright.sync_api import Browser, Page, Route, sync_playwright

from glaucon.core.exchange.recolour import recolour_site
from glaucon.core.places.widening import Reach, reaches_of
from glaucon.core.proposal.known import KnownSite
from glaucon.core.study.scopes import Scope
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey, Sightings
from glaucon.core.survey.origins import Tracer
from glaucon.core.survey.site import SiteFiles, read_site
from glaucon.core.survey.survey import survey_site
from tests import chromium
from tests.oracle import corpus
from tests.oracle.fresh import FRESH
from tests.oracle.server import serve

WIDTH = 1280
# what each text shows: its colour, and the backgrounds behind it as far as boxes in boxes tell
_LOOK = """(paths) => Object.fromEntries(paths.map((path) => {
  const [plain, pseudo] = path.split("::");
  const own = document.querySelector(plain.replaceAll(">", " > "));
  if (!own) return [path, "gone"];
  const style = getComputedStyle(own, pseudo && `::${pseudo}`);
  const seen = [style.color, style.fill];
  if (pseudo) seen.push(style.backgroundColor);
  for (let one = own; one; one = one.parentElement) {
    const style = getComputedStyle(one);
    seen.push(style.backgroundColor);
    if (!/^(transparent|rgba\\(.*, 0\\))$/.test(style.backgroundColor)) break;
  }
  return [path, seen.join("|")];
}))"""


@dataclass
class Outcome:
    """How many reaches were counted, and how many counts of elements and of texts were exact."""

    name: str
    reaches: int = 0
    elements_right: int = 0
    texts_right: int = 0
    examples: list[str] = field(default_factory=list)


class _Shown:
    """A site as Chromium shows it, some files replaced; what texts show is asked once for a page as it came."""

    def __init__(self, browser: Browser, address: str, paths: dict[str, list[str]]) -> None:
        self._browser, self._address, self._paths = browser, address, paths
        self._before: dict[str, dict[str, str]] = {}

    def changed(self, page: str, new: dict[str, bytes]) -> int:
        """Return how many texts of a page show something else."""
        if page not in self._before:
            self._before[page] = self._look(page, {})
        before, after = self._before[page], self._look(page, new)
        return sum(after[path] != seen for path, seen in before.items())

    def found(self, page: str, selector: str) -> int:
        """Return how many elements of a page a selector finds."""
        with self._browser.new_context(viewport={"width": WIDTH, "height": 800}) as context:
            opened = self._open(context.new_page(), page, {})
            return int(opened.evaluate("selector => document.querySelectorAll(selector).length", selector))

    def _look(self, page: str, new: dict[str, bytes]) -> dict[str, str]:
        with self._browser.new_context(viewport={"width": WIDTH, "height": 800}) as context:
            seen: dict[str, str] = self._open(context.new_page(), page, new).evaluate(_LOOK, self._paths[page])
            return seen

    def _open(self, opened: Page, page: str, new: dict[str, bytes]) -> Page:
        def answer(route: Route) -> None:
            asked = route.request.url.split("?")[0]
            file = asked.removeprefix(self._address)
            if file in new:
                kind = "text/css" if file.endswith(".css") else "text/html"
                route.fulfill(body=new[file], content_type=f"{kind}; charset=utf-8")
            elif asked.startswith(self._address):
                route.continue_()
            else:
                route.abort()

        opened.route("**/*", answer)
        opened.goto(self._address + page, wait_until="load")
        opened.add_style_tag(content="*, *::before, *::after { transition: none !important }")
        return opened


def prove(browser: Browser, folder: Path, count: int, seed: int, most_pages: int = 5) -> Outcome:
    """Return how the counts of some random reaches hold in Chromium."""
    site, dice, outcome = read_site(folder), random.Random(seed), Outcome(folder.name)
    for page in site.pages[most_pages:]:
        del site.files[page]
    known = KnownSite(survey_site(site, [ContextKey(WIDTH, "rest")]))
    study, tracer = known.first_study("Reached"), Tracer(site)
    paths: dict[str, list[str]] = {page: [] for page in site.pages}
    for sighting in _at_rest(known):
        run = known.survey.runs[sighting.run]
        paths[run.page].append(run.path)
    with serve(folder) as address:
        look = _Shown(browser, address, paths)
        for _ in range(count):
            page = dice.choice([one for one in site.pages if paths[one]])
            element = tracer.element(page, dice.choice(paths[page]).split("::")[0])
            assert element is not None
            lineage = tracer.lineage(page, element, known.survey.regions)
            reach = dice.choice(
                [one for one in reaches_of(known, study, page, lineage, WIDTH) if one.where is not None]
            )
            _hold(look, site, known, study, reach, paths, outcome)
    return outcome


def _at_rest(known: KnownSite) -> Sightings:
    return known.survey.sightings[ContextKey(WIDTH, "rest")]


def _hold(
    look: _Shown, site: SiteFiles, known: KnownSite, study: Study, reach: Reach, paths: dict[str, list[str]],
    outcome: Outcome,
) -> None:  # fmt: skip
    outcome.reaches += 1
    elements = sum(look.found(page, reach.selector) for page in reach.pages)
    uses = dict.fromkeys(["text", "background"])
    uses.update(dict.fromkeys(f"{r.kind}.{r.state}" if r.state != "rest" else str(r.kind) for r in study.roles))
    vivid = {use: f"#fe{number:02x}fd" for number, use in enumerate(uses)}
    scope = Scope.model_validate({"in": reach.where, "set": vivid})
    scoped = study.model_copy(update={"worn": (scope,)})
    new = recolour_site(site, known.survey.tokens, scoped, regions=known.survey.regions).files
    texts = sum(look.changed(page, new) for page in reach.pages if paths[page])
    others = sum(look.changed(page, new) for page in site.pages if page not in reach.pages and paths[page])
    outcome.elements_right += elements == reach.elements
    outcome.texts_right += texts == reach.texts and not others
    if elements != reach.elements or texts != reach.texts or others:
        said = f"{reach.what} ({reach.selector}): {reach.elements} and {reach.texts}"
        outcome.examples.append(f"{said}, in Chromium {elements} and {texts}, elsewhere {others}")


def main() -> None:
    """Run it."""
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("names", nargs="*")
    options.add_argument("--count", type=int, default=12)
    options.add_argument("--seed", type=int, default=1)
    chosen = options.parse_args()
    own = [path for path in sorted(corpus.OWN.iterdir()) if path.is_dir()]
    folders = [corpus.ROOT / "samples" / "otterlock", *own, *(corpus.FETCHED / site.name for site in FRESH)]
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium.executable(), args=chromium.ARGUMENTS)
        for folder in folders:
            if (chosen.names and folder.name not in chosen.names) or not folder.exists():
                continue
            found = prove(browser, folder, chosen.count, chosen.seed)
            print(f"| {found.name} | {found.elements_right} and {found.texts_right} of {found.reaches} |", flush=True)
            print(*found.examples[:6], sep="\n    ", flush=True)
        browser.close()


if __name__ == "__main__":
    main()
