"""The focal point proposed, held against a search by pixels: python -m tests.oracle.focus [--count N] [--seed N]

Made pages of sections on random pictures, some filled along their width and some along their height, some in their own
size. Chromium shows each picture at 9 by 9 places; the one proposed is to read as well as the best of them, within 5 %.
"""

from __future__ import annotations

import argparse
import io
from itertools import product
from typing import Any

import numpy as np
from PIL import Image
from playwright.sync_api import Browser, sync_playwright

from glaucon.core.backdrops.pictures import FOLDER
from glaucon.core.backdrops.trying import FOCAL_STEPS, best_focus
from glaucon.core.exchange.backdrops import Backdrops, backdrops_of, source_of, survey_with
from glaucon.core.exchange.recolour import recolour_site
from glaucon.core.known.site import KnownSite
from glaucon.core.study.backdrops import Backdrop
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.survey import survey_site
from tests import chromium
from tests.oracle.__main__ import write
from tests.oracle.backdrops import DOCUMENT
from tests.oracle.handing_back import folder_of
from tests.oracle.measured import layouts_of
from tests.oracle.veils import SECTIONS, WIDTH, boxes_of, made_page, random_picture, share_of

_MOVE = """to => { for (const one of document.querySelectorAll("section"))
  one.style.setProperty("background-position", to, "important") }"""
HEIGHTS = (60, 180, 420, 640)  # pixels beside the text: the lower sections are cut along one axis, the higher the other


def prove(browser: Browser, count: int, seed: int) -> list[tuple[float, float]]:
    """Return, for that many backdrops, what is read at the place proposed and at the best one, over what is needed."""
    dice = np.random.default_rng(seed)
    found: list[tuple[float, float]] = []
    while len(found) < count:
        found += _page(browser, dice)
    return found[:count]


def _page(browser: Browser, dice: np.random.Generator) -> list[tuple[float, float]]:
    site = made_page(dice)
    high = "".join(f"#part-{n} {{ padding-bottom: {int(dice.choice(HEIGHTS))}px }}" for n in range(SECTIONS))
    site.files["a.css"] += high.encode()
    contexts = [ContextKey(WIDTH, "rest")]
    layouts = layouts_of(browser, site, [WIDTH])
    known = KnownSite(survey_site(site, contexts, layouts))
    study = known.first_study("Moved")
    sections = [region for region in known.survey.regions if region.is_section and "#part-" in region.selector]
    source = source_of(site, {f"{FOLDER}{n}.webp": random_picture(dice) for n in range(len(sections))})

    def laid(*some: Backdrop) -> tuple[Study, Backdrops]:
        on = study.model_copy(update={"backdrops": some})
        return on, backdrops_of(on, known.survey.regions, source)

    def seen(other: Backdrop) -> KnownSite:
        return KnownSite(survey_with(site, laid(other)[1], contexts, layouts))

    backdrops = []
    for number, region in enumerate(sections):
        fit = "natural" if dice.random() < 0.2 else "cover"
        picture: dict[str, Any] = {"file": f"{FOLDER}{number}.webp", "fit": fit}
        layers = [{"colour": "#777777"}, {"picture": picture}]
        backdrops.append(Backdrop.model_validate({"in": {"section": region.key}, "layers": layers}))
    boxes = boxes_of(known, layouts[("index.html", WIDTH)])

    proposed = [best_focus(seen, study, one, lambda done, total: None) for one in backdrops]
    on, behind = laid(*backdrops)
    new = recolour_site(site, known.survey, on, backdrops=behind)
    files = {**site.files, **new.files}
    clear = b"p { -webkit-text-fill-color: transparent }"
    levels = [n / (FOCAL_STEPS - 1) for n in range(FOCAL_STEPS)]
    every = list(product(levels, levels))
    with folder_of({**files, "a.css": files["a.css"] + clear}) as address:
        looks = _at_places(browser, address + "index.html", every)
    read = np.array([[share_of(look, *box) for box in boxes] for look in looks])
    mine = [read[every.index(at), number] for number, at in enumerate(proposed)]
    return list(zip(mine, read.max(axis=0).tolist(), strict=True))


def _at_places(browser: Browser, url: str, places: list[tuple[float, float]]) -> list[np.ndarray]:
    """Return a page's pixels with all pictures moved to each place in turn."""
    page = browser.new_page(viewport={"width": WIDTH, "height": 800})
    try:
        page.goto(url)
        found = []
        for across, down in places:
            page.evaluate(_MOVE, f"{across * 100}% {down * 100}%")
            found.append(np.asarray(Image.open(io.BytesIO(page.screenshot(full_page=True))).convert("RGB")))
        return found
    finally:
        page.close()


def main() -> None:
    """Run it."""
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--count", type=int, default=30)
    options.add_argument("--seed", type=int, default=1)
    options.add_argument("--write", action="store_true", help="put what was found into docs/backdrops.md")
    asked = options.parse_args()
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium.executable(), args=chromium.ARGUMENTS)
        found = prove(browser, asked.count, asked.seed)
    near = sum(one >= 0.95 * best for one, best in found)
    same = sum(one >= best - 1e-9 for one, best in found)
    said = f"{len(found)} focal points: {same} the best of 81 by pixels, {near} the best or within 5 % of it.\n"
    print(said)
    print(*(f"{one:.3f} of {best:.3f}" for one, best in found if one < 0.95 * best), sep="\n")
    if asked.write:
        write("focus", said, DOCUMENT)


if __name__ == "__main__":
    main()
