"""Fields, focus and links as Chromium shows them, against what is said of them: python -m tests.oracle.things [NAME …]

A field's edge is looked for in the pixels around its box, the sign of focus in the pixels that change when it comes;
how a link is told from the words around it is asked of computed styles. Three pages of a site, forty things of a kind
on each.
"""

from __future__ import annotations

import argparse
import io
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np
from PIL import Image
from playwright.sync_api import Browser, ElementHandle, Page, sync_playwright

from glaucon.core.colour.contrast import ratio_of_luminances, relative_luminance
from glaucon.core.known.site import KnownSite
from glaucon.core.seeing.beyond import BeyondText, judged_things
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import read_site
from glaucon.core.survey.survey import survey_site
from tests import chromium
from tests.oracle import corpus
from tests.oracle.chromium_truth import opened
from tests.oracle.fresh import FRESH
from tests.oracle.server import serve

WIDTH, MOST_PAGES, MOST_OF_A_KIND, MARGIN = 1280, 3, 40, 8
NEEDED, NEAR = 3.0, 0.12  # as drawn: lines are smoothed
AXE = (Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js").read_text("utf-8")
_ASKED = """async () => { const told = await axe.run(document, { runOnly: ['link-in-text-block'] });
  const paths = some => some.flatMap(one => one.nodes.map(node => node.target[0]))
    .filter(one => typeof one === 'string');
  return { violations: paths(told.violations), passes: paths(told.passes) } }"""
_IS_AT = "([theirs, mine]) => document.querySelector(theirs) === document.querySelector(mine)"
LEAST_PIXELS = 12  # of one colour, that show anything
_LINK = """e => { const told = (one, around) => { const s = getComputedStyle(one);
    return /underline|overline/.test(s.textDecorationLine) && !/, 0\\)$/.test(s.textDecorationColor)
      || ['Top', 'Right', 'Bottom', 'Left'].some(side => parseFloat(s[`border${side}Width`]) > 0
        && !/, 0\\)$/.test(s[`border${side}Color`]))
      || Math.abs(s.fontWeight - around.fontWeight) >= 200
      || parseFloat(s.fontSize) >= 1.15 * parseFloat(around.fontSize)
      || !/, 0\\)$/.test(s.backgroundColor) || s.backgroundImage !== 'none' };
  const around = getComputedStyle(e.parentElement);
  return { told: told(e, around) || !!e.querySelector('u, b, strong, img, svg'),
           colour: getComputedStyle(e).color, around: around.color } }"""


@dataclass(slots=True)
class Agreement:
    """How many things were judged as Chromium shows them, by kind; those that were not."""

    name: str
    same: Counter[str] = field(default_factory=Counter)
    other: list[str] = field(default_factory=list)
    beside: Counter[str] = field(default_factory=Counter)  # what axe-core says of links in sentences, and we

    def note(self, one: BeyondText, shown: float) -> None:
        """Take up one thing, given the contrast that is seen of it."""
        if abs(shown - NEEDED) <= NEAR or one.verdict not in ("pass", "fail"):
            return
        if (shown >= NEEDED) == (one.verdict == "pass"):
            self.same[one.what] += 1
        else:
            self.other.append(
                f"{one.page} {one.what} said {one.ratio} {one.verdict}, shown {shown:.2f} {one.path[-70:]}"
            )


def _beside(page: Page, said: list[BeyondText], found: Agreement) -> None:
    """Hold what is said of links in sentences against axe-core's rule for the same criterion, where both judge."""
    page.evaluate(AXE)
    told = page.evaluate(_ASKED)
    mine = [one for one in said if one.what == "link-in-text" and one.state == "rest"]
    for kind, paths in told.items():
        theirs = {page.evaluate(_IS_AT, [path, one.path]) and one.path for path in paths for one in mine} - {False}
        for one in mine:
            if one.path in theirs:
                agrees = (kind == "violations") == (one.verdict == "fail")
                found.beside["as axe" if agrees else f"axe {kind}, we {one.verdict}"] += 1
                if not agrees:
                    found.other.append(f"axe {kind}, we {one.verdict} {one.ratio} {one.page} {one.path[-80:]}")


def hold(browser: Browser, folder: Path) -> Agreement:
    """Return how what is said of a site's things agrees with what Chromium shows."""
    site = read_site(folder)
    for page in site.pages[MOST_PAGES:]:
        del site.files[page]
    known = KnownSite(survey_site(site, [ContextKey(WIDTH, "rest")]))
    said = judged_things(known, known.first_study("As it came"))
    found = Agreement(folder.name)
    with serve(folder) as address:
        for name in known.survey.pages:
            own = [one for one in said if one.page == name]
            with opened(browser, address + name, WIDTH) as page:
                _beside(page, own, found)
                for one, element in in_sight(page, own):
                    shown = contrast_shown(page, one, element)
                    # what hover and focus add to a link in a sentence is not asked here
                    if shown is not None and (one.what != "link-in-text" or not NEEDED <= shown < 21):
                        found.note(one, shown)
    return found


def in_sight(page: Page, said: list[BeyondText]) -> Iterator[tuple[BeyondText, ElementHandle]]:
    """Yield the things that can be seen, with their elements; a few of each kind."""
    seen: Counter[str] = Counter()
    for one in said:
        if one.state not in ("rest", "focus") or (one.what == "field" and one.state != "rest"):
            continue
        element = page.query_selector(one.path)
        if element is not None and seen[one.what] < MOST_OF_A_KIND and element.is_visible():
            seen[one.what] += 1
            yield one, element


def contrast_shown(page: Page, one: BeyondText, element: ElementHandle) -> float | None:
    """Return the contrast that Chromium shows of a thing, 21 where other than colour tells it; None: not to be told."""
    page.evaluate("document.activeElement.blur()")
    if one.what == "link-in-text":
        told = element.evaluate(_LINK)
        if told["told"]:
            return 21.0
        return _ratio(_rgb(told["colour"]), _rgb(told["around"])) if one.ratio is not None else None
    element.scroll_into_view_if_needed()
    before = _around(page, element)
    if one.what == "field" and before is not None:
        return _edge(before)
    if one.what == "focus" and before is not None:
        page.keyboard.press("Shift")  # what comes by keyboard shows its ring
        element.focus()
        after = _around(page, element)
        if after is not None and after.shape == before.shape:
            return _change(before, after)
    return None


def _around(page: Page, element: ElementHandle) -> np.ndarray | None:
    """Return the pixels of an element and a margin around it; None where it is out of sight."""
    box = element.bounding_box()
    if box is None or box["width"] < 4 or box["height"] < 4:
        return None
    left, top = max(0, round(box["x"]) - MARGIN), max(0, round(box["y"]) - MARGIN)
    clip = {"x": left, "y": top, "width": round(box["width"]) + 2 * MARGIN, "height": round(box["height"]) + 2 * MARGIN}
    shot = page.screenshot(clip=clip, animations="disabled", caret="hide")  # type: ignore[arg-type]
    return np.asarray(Image.open(io.BytesIO(shot)).convert("RGB")).astype(float) / 255


def _edge(pixels: np.ndarray) -> float:
    """Return the contrast of what tells a box from around it, or its line from its inside."""
    high, wide = pixels.shape[:2]
    best = 1.0
    outside = _mode(np.concatenate([pixels[2:5].reshape(-1, 3), pixels[-5:-2].reshape(-1, 3)]))
    inside = _mode(pixels[MARGIN + 5 : high - MARGIN - 5, MARGIN + 5 : MARGIN + 9].reshape(-1, 3))
    for side in (
        pixels[MARGIN - 1 : MARGIN + 3, MARGIN + 6 : -MARGIN - 6],
        pixels[-MARGIN - 3 : -MARGIN + 1, MARGIN + 6 : -MARGIN - 6],
    ):
        for line in side:
            colour = _mode(line)
            best = max(best, _ratio(colour, outside), _ratio(colour, inside))
    return max(best, _ratio(inside, outside)) if wide > 4 * MARGIN else best


def _change(before: np.ndarray, after: np.ndarray) -> float:
    """Return the most contrast that enough pixels change by."""
    moved = np.abs(before - after).max(axis=2) > 2 / 255
    if moved.sum() < LEAST_PIXELS:
        return 1.0
    pairs = np.round(np.concatenate([before[moved], after[moved]], axis=1) * 255).astype(int)
    different, counts = np.unique(pairs, axis=0, return_counts=True)
    some = different[counts >= min(LEAST_PIXELS, counts.max())] / 255
    return float(ratio_of_luminances(relative_luminance(some[:, :3]), relative_luminance(some[:, 3:])).max())


def _mode(pixels: np.ndarray) -> np.ndarray:
    colours, counts = np.unique(np.round(pixels * 255).astype(int), axis=0, return_counts=True)
    return np.asarray(colours[counts.argmax()] / 255)


def _ratio(one: np.ndarray, other: np.ndarray) -> float:
    return float(ratio_of_luminances(relative_luminance(one), relative_luminance(other)))


def _rgb(css: str) -> np.ndarray:
    return np.array([float(part) for part in css[css.index("(") + 1 : -1].split(",")[:3]]) / 255


def main() -> None:
    """Run it."""
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("names", nargs="*")
    chosen = options.parse_args()
    sites = [corpus.fetch(one) for one in (*FRESH, *corpus.REAL) if not chosen.names or one.name in chosen.names]
    every: Counter[str] = Counter()
    axe: Counter[str] = Counter()
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium.executable(), args=chromium.ARGUMENTS)
        for folder in [*([] if chosen.names else [corpus.ROOT / "samples" / "otterlock"]), *sites]:
            found = hold(browser, folder)
            same = sum(found.same.values())
            every["same"] += same
            every["all"] += same + len(found.other)
            axe.update(found.beside)
            print(
                f"{found.name}: {dict(found.same)}, {len(found.other)} otherwise, {dict(found.beside)}",
                *found.other[:6],
                sep="\n    ",
                flush=True,
            )
        browser.close()
    print("links in sentences beside axe-core:", dict(axe))
    print(f"{every['same']} of {every['all']} as shown")


if __name__ == "__main__":
    main()
