"""What lies behind a text once its place is known: gradients, tiles, pictures; and which layouts are believed."""

from __future__ import annotations

import base64
import copy
import io
import json
import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from glaucon.core.colour.contrast import relative_luminance
from glaucon.core.colour.value import TRANSPARENT
from glaucon.core.exchange.reports.audit import audit_site
from glaucon.core.known.site import KnownSite
from glaucon.core.layout.document import (
    Box,
    LayoutError,
    Measured,
    PageLayout,
    Spot,
    read_layouts,
    read_page_layout,
    write_layouts,
)
from glaucon.core.layout.tiling import Tiling
from glaucon.core.places.worst_spot import sights_of, worst_spot
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.pictures import _telling_colours
from glaucon.core.survey.site import SiteFiles
from glaucon.core.survey.survey import Surveyor, survey_site

HTML, BODY, DIV, P = (
    "html", "html>body:nth-child(2)", "html>body:nth-child(2)>div:nth-child(1)",
    "html>body:nth-child(2)>div:nth-child(1)>p:nth-child(1)",
)  # fmt: skip
# a box of 400 by 200 pixels at 100, 50, with borders of 10 and a padding of 20
BOX = [100, 50, 400, 200]
EDGES = [10, 10, 10, 10, 20, 20, 20, 20]


def picture(pixels: np.ndarray) -> str:
    out = io.BytesIO()
    Image.fromarray(pixels.astype(np.uint8)).save(out, "PNG")
    return f"url(data:image/png;base64,{base64.b64encode(out.getvalue()).decode()})"


def halves(width: int = 40, height: int = 20) -> str:
    """Return a picture whose left half is black, its right half white."""
    pixels = np.zeros((height, width, 3))
    pixels[:, width // 2 :] = 255
    return picture(pixels)


def measured(*spots: list[float], above: list[int] | None = None) -> dict[str, Any]:
    """Return a layout of the page below, whose text stands in some places."""
    return {
        "width": 1280, "viewport": 800, "height": 900, "isWhole": True, "paths": [HTML, BODY, DIV, P],
        "boxes": [[0, 0, 0, 1280, 900], [1, 0, 0, 1280, 900], [2, *BOX, *EDGES], [3, 130, 80, 340, 140]],
        "pseudos": [], "lists": [[[3, 2, 1, 0], above or [], []]], "runs": [[3, 0, [[*spot, 0] for spot in spots]]],
    }  # fmt: skip


def site(css: str, words: str = "Words on the water") -> SiteFiles:
    page = f"<!doctype html><title>x</title><style>div {{ {css} }}</style><div><p>{words}</p></div>"
    return SiteFiles({"index.html": page.encode()})


def row(css: str, *spots: list[float]) -> dict[str, Any]:
    layouts = {("index.html", 1280): read_page_layout(measured(*spots))}
    return dict(audit_site(site(css), layouts=layouts)["runs"][0])


# (background of the box, where the text stands, the darkest and the lightest grey behind it, 0..255)
BEHIND = [
    # padding box 380 wide from 110: its middle is at 300
    ("background: linear-gradient(90deg, #000, #fff)", [110, 100, 380, 20], 0, 255),
    ("background: linear-gradient(90deg, #000, #fff)", [300, 100, 95, 20], 127.5, 191.25),
    ("background: linear-gradient(#000, #fff)", [150, 60, 100, 45], 0, 63.75),
    ("background: linear-gradient(to left, #000, #fff 50%)", [110, 100, 190, 20], 255, 255),
    ("background: linear-gradient(45deg, #000, #fff)", [110, 60, 2, 2], 82, 82),
    ("background: linear-gradient(to top right, #000, #fff)", [488, 60, 2, 2], 250, 255),
    ("background: -webkit-linear-gradient(left, #000, #fff)", [300, 100, 95, 20], 127.5, 191.25),
    ("background: repeating-linear-gradient(90deg, #000 0, #fff 20px)", [131, 100, 8, 20], 12, 116),
    ("background: radial-gradient(circle 100px, #000, #fff)", [295, 145, 10, 10], 0, 20),
    ("background: radial-gradient(circle closest-side at 110px 90px, #000, #fff)", [215, 145, 10, 10], 0, 22),
    ("background: conic-gradient(#000, #fff)", [330, 149, 150, 2], 62, 66),
    ("background: linear-gradient(90deg, #000 100px, #fff 100px)", [110, 100, 95, 20], 0, 0),
    ("background: linear-gradient(90deg, #000, #fff) fixed", [320, 100, 180, 20], 63.75, 99.6),
    # the page scrolls by 100: what stands at its top never meets the foot of what stays
    ("background: linear-gradient(#000, #fff) fixed", [320, 150, 100, 50], 15.9, 63.75),
    ("background: linear-gradient(#000, #000) 0 0 / 50% 100% no-repeat, #fff", [300, 100, 90, 20], 255, 255),
    ("background: linear-gradient(#000, #000) 0 0 / 50% 100% no-repeat, #fff", [280, 100, 90, 20], 0, 255),
    (f"background: {halves()} 0 0 / cover", [110, 100, 180, 20], 0, 0),
    (f"background: {halves()} 0 0 / cover", [310, 100, 150, 20], 255, 255),
    (f"background: {halves()} 0 0 / cover", [250, 100, 100, 20], 0, 255),
    (f"background: {halves()} 100% 100% no-repeat, #777", [451, 221, 17, 10], 0, 0),  # the tile ends at 490, 240
    (f"background: {halves()} 0 0", [111, 100, 17, 10], 0, 0),
    (f"background: {halves()} 0 0", [171, 100, 18, 10], 255, 255),
    (f"background: {halves()} 0 0 / contain content-box", [140, 100, 120, 20], 0, 0),
    (f"background: linear-gradient(#0008, #0008), {halves()} 0 0 / cover", [310, 100, 150, 20], 119, 119),
]


@pytest.mark.parametrize(("css", "spot", "darkest", "lightest"), BEHIND)
def test_what_lies_behind_a_place(css: str, spot: list[float], darkest: float, lightest: float) -> None:
    background = row(css, spot)["background"]
    ends = [background.get(name) or background["colour"] for name in ("darkest", "lightest")]
    found = [int(end[1:3], 16) for end in ends]
    # drawn in steps of an eighth between two stops, and rounded
    assert found == [pytest.approx(darkest, abs=4), pytest.approx(lightest, abs=4)]


def test_without_a_place_nothing_is_hard_to_read_on_a_guess() -> None:
    guessed = audit_site(site("background: linear-gradient(90deg, #222, #fff)"))["runs"][0]
    assert guessed["verdict"] == "unsure" and "measured" in guessed["why"]
    assert audit_site(site("background: linear-gradient(90deg, #222, #333)"))["runs"][0]["verdict"] == "fail"
    assert audit_site(site("position: absolute; top: 0"))["runs"][0]["verdict"] == "pass"
    over = site("position: absolute; top: 0; color: #eee")
    assert audit_site(over)["runs"][0]["verdict"] == "unsure"
    # lines on different things: the worst counts
    css = "background: linear-gradient(90deg, #222, #fff)"
    assert row(css, [400, 100, 80, 20])["verdict"] == "pass"
    assert row(css, [400, 100, 80, 20], [120, 130, 80, 20])["verdict"] == "fail"


# (rules for the words in the box, where they stand): the verdict without and with a place
CUT_TO_WORDS = [
    ("p { background: linear-gradient(90deg, #8a1538, #f2e6c8) } p { CUT }", [140, 100, 20, 20], "unsure", "pass"),
    ("p { background: linear-gradient(90deg, #8a1538, #f2e6c8) } p { CUT }", [420, 100, 20, 20], "unsure", "fail"),
    ("div { background: linear-gradient(90deg, #8a1538, #f2e6c8); CUT }", [140, 100, 20, 20], "unsure", "pass"),
    ("p { background: #f2e6c8; CUT }", [140, 100, 20, 20], "fail", "fail"),
    ("p { background: #8a1538; CUT }", [140, 100, 20, 20], "pass", "pass"),
    ("p { background: #f2e6c8; CUT } p { color: #123 }", [140, 100, 20, 20], "pass", "pass"),
]


@pytest.mark.parametrize(("css", "spot", "without", "placed"), CUT_TO_WORDS)
def test_a_background_may_be_cut_to_the_words(css: str, spot: list[float], without: str, placed: str) -> None:
    said = css.replace("CUT", "-webkit-background-clip: text; color: transparent")
    page = f"<!doctype html><title>x</title><style>{said}</style><div><p>Words on the water</p></div>"
    files = SiteFiles({"index.html": page.encode()})
    layouts = {("index.html", 1280): read_page_layout(measured(spot))}
    found = [audit_site(files, layouts=known)["runs"][0]["verdict"] for known in (None, layouts)]
    assert found == [without, placed]


def test_the_worst_spot_is_where_it_is_darkest_for_dark_words() -> None:
    files = site("background: linear-gradient(90deg, #000, #fff)")
    layout = read_page_layout(measured([150, 100, 300, 20], [150, 130, 320, 20]))
    known = KnownSite(survey_site(files, [ContextKey(1280, "rest")], {("index.html", 1280): layout}))
    study = known.first_study("Spots")
    (finding,) = (one for one in known.read(study).findings if one.verdict == "fail")
    (sight,) = sights_of(known, finding, {("index.html", 1280)})
    found = worst_spot(Surveyor(files), layout, sight, study)
    assert found is not None and finding.on == "gradient"
    assert found.spot.left < 165 and found.spot.width < 20
    assert found.ratio == pytest.approx(finding.ratio, abs=0.02)
    assert sights_of(known, finding, set()) == []


SIDE = st.floats(2, 90, allow_nan=False)


@settings(max_examples=150, deadline=None)
@given(first=SIDE, tile=SIDE, gap=st.floats(0, 20), start=SIDE, length=SIDE, repeats=st.booleans())
def test_tiles_are_where_counting_pixels_finds_them(
    first: float, tile: float, gap: float, start: float, length: float, repeats: bool
) -> None:
    step = tile + gap if repeats else 0.0
    clip = Box(0, 0, 200, 10)
    pieces, fills = Tiling(Box(first, 0, tile, 10), (step, 0.0), clip).pieces(Box(start, 0, length, 10))
    at = np.arange(start + 0.01, min(start + length, 200), 0.05)
    within = (at - first) % step if repeats else at - first
    painted = within[(within >= 0) & (within < tile)]
    assert fills == (len(painted) == len(at)) or abs(len(painted) - len(at)) * 0.05 < 1.1  # a rim of a pixel is let be
    for place in painted:
        assert any(one.left - 0.1 <= place <= one.left + one.width + 0.1 for one in pieces)
    if len(pieces) < 9 and not (repeats and length >= step):
        covered = sum(one.width for one in pieces)
        assert covered == pytest.approx(len(painted) * 0.05, abs=0.3 + 0.1 * len(pieces))


def broken(change: Any) -> dict[str, Any]:
    given = copy.deepcopy(measured([150, 100, 300, 20]))
    change(given)
    return given


FORGED = {
    "NaN": lambda one: one["boxes"][0].__setitem__(1, math.nan),
    "a giant number": lambda one: one["boxes"][0].__setitem__(1, 1e30),
    "an integer of 400 digits": lambda one: one["boxes"][0].__setitem__(1, 10**400),
    "less than nothing": lambda one: one["boxes"][2].__setitem__(3, -5),
    "a text for a number": lambda one: one["boxes"][2].__setitem__(3, "5"),
    "true for a number": lambda one: one.__setitem__("height", True),
    "a path with markup": lambda one: one["paths"].__setitem__(3, "html>body><script>alert(1)</script>"),
    "a path without end": lambda one: one["paths"].__setitem__(3, "html" + ">p" * 9000),
    "an index out of range": lambda one: one["lists"][0][0].append(99),
    "an index below zero": lambda one: one["lists"][0][0].append(-1),
    "a million boxes": lambda one: one.__setitem__("boxes", [[0, 0, 0, 1, 1]] * 1_000_000),
    "no lists": lambda one: one.pop("lists"),
    "lists for paths": lambda one: one.__setitem__("paths", [["html"]]),
    "something else altogether": lambda one: one.clear(),
}


@pytest.mark.parametrize("change", FORGED.values(), ids=FORGED)
def test_what_no_browser_measured_is_not_believed(change: Any) -> None:
    with pytest.raises(LayoutError, match="Measure the page again"):
        read_page_layout(broken(change))


def test_layouts_go_through_a_file() -> None:
    raw = {("index.html", 1280): measured([150, 100, 300, 20])}
    found = read_layouts(write_layouts(raw))
    assert isinstance(found["index.html", 1280], PageLayout)
    assert found["index.html", 1280].runs[P][0].below == (P, DIV, BODY, HTML)
    for text, told in (
        ("{", "no measured layout"),
        ('{"format": 2, "pages": []}', "newer format"),
        ("[]", "no measured"),
    ):
        with pytest.raises(LayoutError, match=told):
            read_layouts(text)
    assert json.loads(write_layouts(raw))["format"] == 1


@pytest.mark.parametrize(("raised", "seen"), [("z-index: 1", "#808080"), ("z-index: 2", "#808080"), ("", "#404040")])
def test_words_raised_as_high_as_a_cast_lie_over_it(raised: str, seen: str) -> None:
    """Over both stands an empty ::after, through which alone the browser meets the box a second time."""
    css = (
        "position: relative; background: #fff } div::before, div::after { content: ''; position: absolute; inset: 0; "
        "z-index: 1 } div::before { background: rgb(0 0 0 / 50%) } "
        f"p {{ position: relative; color: #808080; {raised}"
    )
    box = Box(100.0, 50.0, 400.0, 200.0)
    spot = Spot(Box(150.0, 100.0, 60.0, 20.0), (P, DIV, BODY, HTML), (), (DIV, P, DIV, BODY, HTML))
    layout = PageLayout(
        1280, 800, 900, boxes={path: Measured(box) for path in (HTML, BODY, DIV, P)}, runs={P: (spot,)},
        pseudos={f"{DIV}::before": box, f"{DIV}::after": box},
    )  # fmt: skip
    assert audit_site(site(css), layouts={("index.html", 1280): layout})["runs"][0]["colour"] == seen


@pytest.mark.parametrize("edge", [0.0, 0.02])
@pytest.mark.parametrize("alphas", [[255], [0, 100, 255]])
def test_what_a_picture_shows_is_told_by_the_ranks_of_its_luminance(edge: float, alphas: list[int]) -> None:
    dice = np.random.default_rng(7)
    pixels = dice.integers(0, 256, (5000, 4), dtype=np.uint8)
    pixels[:, 3] = dice.choice(alphas, 5000)
    told = _telling_colours(pixels, edge)
    for alpha in filter(None, alphas):
        ours = [colour.rgb for colour in told if round(colour.alpha * 255) == alpha]
        members = pixels[pixels[:, 3] == alpha][:, :3] / 255
        for cover in (None, 0.0, 1.0):
            shares = (edge, 0.25, 0.5, 0.75, 1 - edge) if cover is None else (edge, 1 - edge)
            every, few = (some if cover is None else (some + cover) / 2 for some in (members, np.array(ours)))
            ranked, own = np.sort(relative_luminance(every)), relative_luminance(few)
            for share in shares:
                assert np.abs(own - ranked[int(share * (len(ranked) - 1))]).min() < 1e-12
    assert (TRANSPARENT in told) == (0 in alphas)
