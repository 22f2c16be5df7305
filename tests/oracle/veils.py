"""The least veil, and the least plate, held against Chromium's pixels: python -m tests.oracle.veils [--plates] …

Made pages of ten sections, each on a random picture with a text of a random colour and size. With the least veil all
text is readable by the pixels; with a hundredth less some is not.
"""

from __future__ import annotations

import argparse
import io
from dataclasses import dataclass, field
from math import ceil
from typing import Any

import numpy as np
from PIL import Image
from playwright.sync_api import Browser, sync_playwright

from glaucon.core.backdrops.pictures import FOLDER
from glaucon.core.backdrops.plates import least_plate
from glaucon.core.backdrops.trying import Before
from glaucon.core.backdrops.veils import Least, least_veil, with_veil
from glaucon.core.cascade.expression import evaluate
from glaucon.core.colour.contrast import ratio_of_luminances, relative_luminance
from glaucon.core.exchange.backdrops import Backdrops, backdrops_of, source_of, survey_with
from glaucon.core.exchange.recolour import recolour_site
from glaucon.core.known.site import KnownSite
from glaucon.core.layout.document import PageLayout
from glaucon.core.study.backdrops import Backdrop
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import SiteFiles
from glaucon.core.survey.survey import survey_site
from tests import chromium
from tests.oracle.__main__ import write
from tests.oracle.backdrops import DOCUMENT
from tests.oracle.chromium_truth import picture_of
from tests.oracle.handing_back import folder_of
from tests.oracle.measured import layouts_of

SECTIONS, WIDTH = 10, 900
CSS = "body { margin: 0; font: 16px/1.5 serif } section { padding: 30px } p { margin: 0 } .l { font-size: 26px }"


@dataclass
class Veils:
    """How many veils were looked for; with how many all was readable, and with how many a hundredth less was not."""

    count: int = 0
    readable: int = 0
    tight: int = 0
    already: int = 0
    examples: list[str] = field(default_factory=list)


def random_picture(dice: np.random.Generator) -> bytes:
    """Return a picture of blocks, slopes and noise."""
    across, down = dice.integers(2, 7, 2)
    small = dice.integers(0, 256, (int(down), int(across), 3)).astype(np.uint8)
    way = dice.choice([Image.Resampling.NEAREST, Image.Resampling.BICUBIC])
    large = np.asarray(Image.fromarray(small).resize((640, 400), Image.Resampling(int(way))), dtype=float)
    out = io.BytesIO()
    noisy = large + dice.normal(0, float(dice.choice([0, 12])), large.shape)
    Image.fromarray(noisy.clip(0, 255).astype(np.uint8)).save(out, "PNG")
    return out.getvalue()


def made_page(dice: np.random.Generator) -> SiteFiles:
    """Return a site of one page; a text is clearly dark or clearly light, so that some veil helps it."""
    rows = []
    for number in range(SECTIONS):
        level = dice.integers(0, 60, 3) if dice.random() < 0.5 else dice.integers(200, 256, 3)
        colour = "#{:02x}{:02x}{:02x}".format(*level)
        size = ' class="l"' if dice.random() < 0.3 else ""
        rows.append(
            f'<section id="part-{number}"><p{size} style="color:{colour}">Words at mooring {number}, along the bank '
            "as far as the second bridge and back again before it is dark</p></section>"
        )
    page = f"<!doctype html><title>Moorings</title><link rel=stylesheet href=a.css><main>{''.join(rows)}</main>"
    return SiteFiles({"index.html": page.encode(), "a.css": CSS.encode()})


def prove(browser: Browser, count: int, seed: int, by_plate: bool = False) -> Veils:
    """Return what was seen of that many veils, or plates right behind the words."""
    dice = np.random.default_rng(seed)
    found = Veils()
    while found.count < count:
        _page(browser, dice, found, by_plate)
    return found


def _page(browser: Browser, dice: np.random.Generator, found: Veils, by_plate: bool) -> None:
    site = made_page(dice)
    contexts = [ContextKey(WIDTH, "rest")]
    layouts = layouts_of(browser, site, [WIDTH])
    known = KnownSite(survey_site(site, contexts, layouts))
    study = known.first_study("Veiled")
    sections = [region for region in known.survey.regions if region.is_section and "#part-" in region.selector]
    own = {f"{FOLDER}{n}.webp": random_picture(dice) for n in range(len(sections))}
    source = source_of(site, own)

    def laid(*some: Backdrop) -> tuple[Study, Backdrops]:
        on = study.model_copy(update={"backdrops": some})
        return on, backdrops_of(on, known.survey.regions, source)

    def seen(other: Backdrop) -> KnownSite:
        return KnownSite(survey_with(site, laid(other)[1], contexts, layouts))

    least = []
    for number, region in enumerate(sections):
        layers: list[dict[str, Any]] = [{"colour": "#777777"}, {"picture": {"file": f"{FOLDER}{number}.webp"}}]
        backdrop = Backdrop.model_validate({"in": {"section": region.key}, "layers": layers})
        if by_plate:
            bare = Before(seen(backdrop), laid(backdrop)[0])
            plated = least_plate(seen, study, backdrop, ["p"], bare)
            assert plated is not None
            least.append(plated)
        else:
            least.append((backdrop, least_veil(seen, study, backdrop)))

    boxes = boxes_of(known, layouts[("index.html", WIDTH)])

    def shown(less: float) -> list[float]:
        """Return for each section's text its lowest ratio by the pixels of its lines, over the ratio it needs."""
        veiled = [_at(study, b, one, max(0.0, round(one.opacity - less, 4))) for b, one in least]
        on, behind = laid(*veiled)
        new = recolour_site(site, known.survey, on, backdrops=behind)
        files = {**site.files, **new.files}
        with folder_of({**files, "a.css": files["a.css"] + b"p { -webkit-text-fill-color: transparent }"}) as address:
            pixels = still(browser, address + "index.html")
        return [share_of(pixels, colour, size, lines) for colour, size, lines in boxes]

    exact, less = shown(0.0), shown(0.01)
    for (_, one), share, before in zip(least, exact, less, strict=True):
        found.count += 1
        found.readable += share >= 1 and not one.hard
        found.already += one.opacity == 0
        found.tight += before < 1 or one.opacity == 0
        if share < 1 or one.hard or (before >= 1 and one.opacity > 0):
            said = f"veil {one.opacity} of {one.colour}: {share:.4f} of what is needed, {before:.4f} with less"
            found.examples.append(said)


def _at(study: Study, backdrop: Backdrop, least: Least, opacity: float) -> Backdrop:
    """Return a backdrop with its veil, or its plate, at an opacity."""
    if backdrop.plate is None:
        return with_veil(study, backdrop, opacity, least.colour)
    return backdrop.model_copy(update={"plate": backdrop.plate.model_copy(update={"opacity": opacity})})


def still(browser: Browser, url: str) -> np.ndarray:
    """Return a page's pixels once two pictures of it are the same: large backgrounds may be decoded late."""
    before = picture_of(browser, url, WIDTH)
    for _ in range(6):
        after = picture_of(browser, url, WIDTH)
        if before.shape == after.shape and (before == after).all():
            break
        before = after
    return before


def boxes_of(known: KnownSite, layout: PageLayout) -> list[tuple[Any, float, list[Any]]]:
    """Return each text's colour, size and the boxes of its lines, in the order of the sections."""
    survey = known.survey
    found = []
    for one in survey.sightings[ContextKey(WIDTH, "rest")]:
        colour = evaluate(survey.pairings[one.pairing].colour, lambda token: survey.tokens[token.token].colour)
        assert colour is not None
        lines = [spot.box for spot in layout.runs[survey.runs[one.run].path]]
        found.append((survey.runs[one.run].text, np.array(colour.rgb), one.size_px, lines))
    return [row[1:] for row in sorted(found, key=lambda row: row[0])]


def share_of(pixels: np.ndarray, colour: Any, size: float, lines: list[Any]) -> float:
    """Return the lowest ratio of a text to the pixels of its lines, over what it needs."""
    ground = np.concatenate([
        pixels[int(b.top) : ceil(b.top + b.height), int(b.left) : ceil(b.left + b.width)].reshape(-1, 3) for b in lines
    ])  # fmt: skip
    ratio = ratio_of_luminances(relative_luminance(colour), relative_luminance(ground / 255)).min()
    return float(ratio) / (3.0 if size >= 24 else 4.5)


def main() -> None:
    """Run it."""
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--count", type=int, default=100)
    options.add_argument("--seed", type=int, default=1)
    options.add_argument("--plates", action="store_true", help="plates right behind the words")
    options.add_argument("--write", action="store_true", help="put what was found into docs/backdrops.md")
    asked = options.parse_args()
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium.executable(), args=chromium.ARGUMENTS)
        found = prove(browser, asked.count, asked.seed, asked.plates)
        what = "plates" if asked.plates else "veils"
        said = (
            f"{found.count} {what}, {found.already} of them not needed: with {found.readable} all the text is "
            f"readable; with a hundredth less it is not for {found.tight - found.already}.\n"
        )
        print(said)
        if asked.write:
            write(what, said, DOCUMENT)
        print(*found.examples[:12], sep="\n")


if __name__ == "__main__":
    main()
