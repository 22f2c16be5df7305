"""Where a colour comes from, held against Chromium: python -m tests.oracle.origins [NAME …] [--count N] [--seed N]

For random elements of a site, what is named as giving a colour is written over with another: the element must change.
Then what is named as losing is written over instead: it must not.
"""

from __future__ import annotations

import argparse
import random
from collections.abc import Iterable
from dataclasses import dataclass, field
from pathlib import Path

from playwright.sync_api import Browser, Route, sync_playwright

from glaucon.core.cascade.text import decode_source
from glaucon.core.cascade.tokens import ColourToken
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.origins import Origin, Tracer
from glaucon.core.survey.site import SiteFiles, read_site
from tests import chromium
from tests.oracle import corpus
from tests.oracle.fresh import FRESH
from tests.oracle.server import serve

WIDTH = 1280
_VIVID = {"colour": "rgb(254 1 253)", "channels": "254, 1, 253"}
_LOOK = """([path, property]) => {
  const element = document.querySelector(path.replaceAll(">", " > "));
  return element ? getComputedStyle(element).getPropertyValue(property) : "gone";
}"""


@dataclass
class Outcome:
    """How many of the elements' colours came from where it was said, and how many of those named as losing lose."""

    name: str
    won: int = 0
    won_right: int = 0
    lost: int = 0
    lost_right: int = 0
    examples: list[str] = field(default_factory=list)


def prove(browser: Browser, folder: Path, count: int, seed: int) -> Outcome:
    """Return how what is said of random elements' text and background holds in Chromium."""
    site, outcome, dice = read_site(folder), Outcome(folder.name), random.Random(seed)
    tracer = Tracer(site)
    places = [(page, e) for page in site.pages for e in tracer.texts(page)]
    with serve(folder) as address:
        for page, path in dice.sample(places, min(count, len(places))):
            element = tracer.element(page, path)
            assert element is not None
            trace = tracer.trace(page, element, ContextKey(WIDTH, "rest"))
            asked: list[tuple[str, Origin]] = [("color", trace.text)]
            if trace.behind and not trace.behind[0].is_picture:
                asked.append(("background-color", trace.behind[0].origin))
            for name, origin in asked:
                own = path if name == "color" else origin.element.path()
                name = "fill" if name == "color" and element.foreign else name
                _hold(browser, site, address + page, own, name, origin, outcome)
    return outcome


def _hold(
    browser: Browser, site: SiteFiles, url: str, path: str, name: str, origin: Origin, outcome: Outcome
) -> None:  # fmt: skip
    before = _shown(browser, url, path, name, {})
    if before == "gone":
        return
    where = f"{url.rsplit('/', 1)[-1]} {path} {name}: {origin.said}"
    if winners := [token for token in origin.tokens if token.start >= 0]:
        outcome.won += 1
        right = _shown(browser, url, path, name, _written_over(site, winners)) != before
        outcome.won_right += right
        if not right:
            outcome.examples.append(f"does not change it: {where}")
    names = {(token.file, token.start) for token in origin.tokens}
    losers = [t for said in origin.loses for t in said.tokens if t.start >= 0 and (t.file, t.start) not in names]
    if losers:
        outcome.lost += 1
        right = _shown(browser, url, path, name, _written_over(site, losers)) == before
        outcome.lost_right += right
        if not right:
            outcome.examples.append(f"changes it: {where} {origin.loses}")


def _written_over(site: SiteFiles, tokens: Iterable[ColourToken]) -> dict[str, bytes]:
    """Return the files of some tokens with those in another colour."""
    new: dict[str, bytes] = {}
    by_file: dict[str, list[ColourToken]] = {}
    for token in tokens:
        by_file.setdefault(token.file, []).append(token)
    for path, some in by_file.items():
        text = decode_source(site.files[path]).text
        for token in sorted(some, key=lambda one: -one.start):
            vivid = "#fe01fd" if token.kind == "attribute" else _VIVID[token.form]
            text = text[: token.start] + vivid + text[token.end :]
        new[path] = text.encode()
    return new


def _shown(browser: Browser, url: str, path: str, name: str, new: dict[str, bytes]) -> str:
    context = browser.new_context(viewport={"width": WIDTH, "height": 800})
    try:
        page = context.new_page()

        def answer(route: Route) -> None:
            asked = route.request.url
            file = next((one for one in new if asked.split("?")[0].endswith(f"/{one}")), None)
            if file is not None:
                kind = "text/css" if file.endswith(".css") else "text/html"
                route.fulfill(body=new[file], content_type=f"{kind}; charset=utf-8")
            elif "127.0.0.1" in asked:
                route.continue_()
            else:
                route.abort()

        page.route("**/*", answer)
        page.goto(url, wait_until="load")
        page.add_style_tag(content="*, *::before, *::after { transition: none !important; animation: none !important }")
        return str(page.evaluate(_LOOK, [path, name]))
    finally:
        context.close()


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
            print(
                f"| {found.name} | {found.won_right} of {found.won} | {found.lost_right} of {found.lost} |", flush=True
            )
            print(*found.examples[:4], sep="\n    ", flush=True)
        browser.close()


if __name__ == "__main__":
    main()
