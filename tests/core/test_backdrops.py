"""Backdrops in the core: layers as CSS, patterns, pictures, the library, what makes text readable on them."""

from __future__ import annotations

import io
import re
from dataclasses import replace
from typing import Any
from xml.etree import ElementTree

import numpy as np
import pytest
from PIL import Image

from glaucon.core.backdrops import library
from glaucon.core.backdrops.bases import readable_base
from glaucon.core.backdrops.css import written
from glaucon.core.backdrops.patterns import PATTERNS, drawn
from glaucon.core.backdrops.picture_colours import main_colours
from glaucon.core.backdrops.pictures import edge_colour, is_seamless, made, size_of, small, take_in
from glaucon.core.backdrops.room import bare_of, room_of
from glaucon.core.backdrops.stops import readable_stops
from glaucon.core.backdrops.trying import Before, at_focus, best_focus, texts_on
from glaucon.core.cascade.tree import parse_document
from glaucon.core.colour.value import read_colour
from glaucon.core.errors import ColourError, StudyError
from glaucon.core.exchange.backdrops import backdrops_of, source_of, survey_with, with_least_veils
from glaucon.core.known.site import KnownSite
from glaucon.core.layout.document import Box, Layouts, Measured, read_page_layout
from glaucon.core.layout.drawing import cleaned
from glaucon.core.study.backdrops import Backdrop, Picture
from glaucon.core.study.study import Study, read_study
from glaucon.core.survey.drawings import read_drawing
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import SiteFiles
from glaucon.core.survey.survey import survey_site
from tests.core.test_layout import measured

PAGE = b"<!doctype html><title>Quay</title><link rel=stylesheet href=a.css><div><p>Words on the water</p></div>"
CSS = b"body { background: #fff; color: #222 } p { margin: 0; color: #f4f4f4 }"
SITE = SiteFiles({"index.html": PAGE, "a.css": CSS})
HERE = [ContextKey(1280, "rest")]


@pytest.fixture(scope="module")
def layouts() -> Layouts:
    return {("index.html", 1280): read_page_layout(measured([150, 100, 40, 20]))}


@pytest.fixture(scope="module")
def known(layouts: Layouts) -> KnownSite:
    return KnownSite(survey_site(SITE, HERE, layouts))


def halves(dark_first: bool = True) -> bytes:
    """Return a picture twice as high as wide, of a dark and a light half."""
    rows = np.repeat([30, 220] if dark_first else [220, 30], 100)
    out = io.BytesIO()
    Image.fromarray(np.repeat(rows[:, None], 100, axis=1).astype(np.uint8)).convert("RGB").save(out, "PNG")
    return out.getvalue()


def on(study: Study, layers: list[dict[str, Any]], **more: Any) -> Study:
    document = study.model_dump(mode="json") | {"backdrops": [{"layers": layers, **more}]}
    return read_study(document)


STOPS = [{"at": 0.2, "colour": "#000"}, {"at": 1, "colour": {"role": "background"}}]
LAYERS: dict[str, tuple[dict[str, Any], list[str]]] = {
    "a colour of the palette": (
        {"colour": {"role": "background"}}, ["background-color: var(--gl-background, #ffffff)"],
    ),
    "a straight gradient": (
        {"gradient": {"angle": 90, "stops": STOPS}},
        ["linear-gradient(90deg, #000000 20%, var(--gl-background, #ffffff) 100%)"],
    ),
    "a round one, reaching half": (
        {"gradient": {"kind": "radial", "reach": 0.5, "place": [0, 1], "stops": STOPS}},
        ["radial-gradient(circle farthest-corner at 0% 100%, #000000 10%, var(--gl-background, #ffffff) 50%)"],
    ),
    "a turning one": (
        {"gradient": {"kind": "conic", "angle": 45, "stops": STOPS}}, ["conic-gradient(from 45deg at 50% 50%, #000000"],
    ),
    "a veil of the palette": (
        {"veil": {"colour": {"role": "background"}, "opacity": 0.25}},
        ["linear-gradient(color-mix(in srgb, var(--gl-background, #ffffff) 25%, transparent), color-mix("],
    ),
    "a glow": (
        {"glow": {"at": [0.5, 0], "colour": "#ffcc00", "reach": 0.8, "opacity": 0.5}},
        ["radial-gradient(circle farthest-corner at 50% 0%, rgb(255 204 0 / 0.5), rgb(255 204 0 / 0) 80%)"],
    ),
    "a picture that fills": (
        {"picture": {"file": "p.png", "at": [0.5, 0.3]}},
        ['url("backdrops/p-', "background-size: cover", "background-position: 50% 30%", "background-repeat: no-repeat"],
    ),
    "a picture in tiles, that stays": (
        {"picture": {"file": "p.png", "fit": "tile", "scale": 2, "fixed": True, "blend": "multiply"}},
        ["background-size: 200px auto", "background-repeat: repeat", "background-attachment: fixed",
         "background-blend-mode: multiply"],
    ),
    "a pattern that drifts": (
        {"pattern": {"name": "rope", "colour": "#123456", "drift": {"towards": 90, "seconds": 30}}},
        ['url("backdrops/rope-', "background-position: var(--gl-drift-x, 0px) var(--gl-drift-y, 0px)"],
    ),
    "a turned pattern fills": (
        {"pattern": {"name": "rope", "colour": "#123456", "turn": 30}}, ["background-size: 100% 100%"],
    ),
    "what is off": ({"veil": {"colour": "#000", "opacity": 0.5}, "off": True}, ["background-image: none"]),
}  # fmt: skip


def test_a_veil_alone_lies_over_what_the_site_has_there() -> None:
    css = b"body { background: #fff; color: #222 } header { background-image: url(a.png); color: #f4f4f4 }"
    page = f"<!doctype html><link rel=stylesheet href=a.css><header><h1>Quay</h1><p>{'words ' * 30}</header>"
    site = SiteFiles({"index.html": page.encode(), "a.css": css, "a.png": halves()})
    layouts = {("index.html", 1280): read_page_layout(measured([0, 0, 1000, 1000]))}
    known = KnownSite(survey_site(site, HERE))
    layers = [{"veil": {"colour": "#000000", "opacity": 0.6}}]
    study = on(known.first_study("x"), layers, **{"in": {"section": "header"}})
    behind = backdrops_of(study, known.survey.regions, source_of(site, {}))
    assert (
        behind.css("index.html") == (":root header { box-shadow: inset 0 0 0 9999px rgb(0 0 0 / 0.6) !important }")
        and not behind.files()
    )
    veiled = KnownSite(survey_with(site, behind, HERE, layouts)).read(study)
    lightest = veiled.readings.lightest[~np.isnan(veiled.readings.lightest).any(axis=1)].max(axis=0)
    assert lightest * 255 == pytest.approx([0.4 * 220] * 3, abs=1), "the picture is still there, under the veil"


BOXES = (
    b"<!doctype html><link rel=stylesheet href=a.css><main><h1>Quay</h1><section class=band><h2>Slots</h2>"
    b"<div class=box>one</div><div class='box low'>two</div><div class=bare>three</div><p class=b2>four</p>"
    b"<button class=box>five</button></section><p>words</p></main>"
)
BOXES_CSS = b""".band { background: #112233; color: #fff } .box { background: white; color: #333 }
.low { background: rgb(1 2 3 / .5) } :root { --ink: 4, 5, 6 } .b2 { background: rgba(var(--ink), .4) }
.bare { color: red }"""


@pytest.mark.parametrize(
    ("place", "wanted", "red"),  # how red what lies behind “one” is
    [
        ({"section": "slots"}, {"div.box", "div.box.low", "p.b2"}, (255 + 128) / 2),
        (None, {"", "div.box", "div.box.low", "p.b2"}, (255 + (17 + 128) / 2) / 2),
        ({"page": "index.html", "part": "band", "at": "html>body>main>section:nth-child(2)"}, set(), 255),
    ],
)
def test_the_boxes_on_a_backdrop_let_it_through_and_nothing_else(
    place: dict[str, str] | None, wanted: set[str], red: float
) -> None:
    site = SiteFiles({"index.html": BOXES, "a.css": BOXES_CSS})
    known = KnownSite(survey_site(site, HERE))
    where = {"in": place} if place is not None else {}
    study = on(known.first_study("x"), [{"colour": "#808080"}], panels=0.5, **where)
    behind = backdrops_of(study, known.survey.regions, source_of(site, {}))
    rules = [line for line in behind.css("index.html").splitlines() if "color-mix" in line]
    assert {line.partition(":is(")[2].partition(")")[0] for line in rules} == wanted
    seen = KnownSite(survey_with(site, behind, HERE)).read(study).readings
    assert min(abs(ground[0] * 255 - red) for ground in seen.lightest) < 1


@pytest.mark.parametrize("name", LAYERS)
def test_a_layer_is_written_as_css(known: KnownSite, name: str) -> None:
    layer, wanted = LAYERS[name]
    backdrop = Backdrop.model_validate({"layers": [layer]})
    done = written(backdrop, known.first_study("x"), lambda path: (100, 200))
    said = "; ".join(done.wide)
    assert all(one in said for one in wanted), said
    assert said.count("!important") == len(done.wide)


def test_layers_lie_from_the_page_up_and_phones_have_their_own(known: KnownSite) -> None:
    layers = [{"colour": "#000"}, {"picture": {"file": "p.png"}}, {"veil": {"colour": "#fff", "opacity": 0.5}}]
    study = known.first_study("x")
    size = lambda path: (3000, 2000)  # noqa: E731
    done = written(Backdrop.model_validate({"layers": layers}), study, size)
    image = next(one for one in done.wide if one.startswith("background-image"))
    assert image.index("linear-gradient") < image.index("url(")
    assert len(done.files) == 2 and done.phone  # smaller for a phone
    none = written(Backdrop.model_validate({"layers": layers, "phone": {"picture": None}}), study, size)
    assert not any("url(" in one for one in none.phone)
    assert not written(Backdrop.model_validate({"layers": layers}), study, size, with_pictures=False).files


def test_two_dozen_patterns_are_drawn_in_one_colour() -> None:
    assert len(PATTERNS) == 24 and {tile.family for tile in PATTERNS.values()} == {"tiles", "weaves", "waves", "grains"}
    for name, tile in PATTERNS.items():
        for turn in (0.0, 30.0):
            data = drawn(name, read_colour("#12345680"), 2, turn)
            ElementTree.fromstring(data)
            shown = {colour.hex() for colour in read_drawing(data).seen()}
            assert shown == {"#12345680", "#00000000"}, (name, shown)
        assert read_drawing(drawn(name, read_colour("#000"), 2)).size == (tile.width * 2, tile.height * 2)
    with pytest.raises(StudyError, match="no pattern"):
        drawn("nobody", read_colour("#000"))


def test_pictures_are_made_as_they_are_shown() -> None:
    data = halves()
    taken = take_in(data, "C:\\Bilder\\Große Schleuse.PNG")
    assert (taken.name, taken.width, taken.height) == ("backdrops/gro-e-schleuse.webp", 100, 200)
    assert size_of(data) == (100, 200) and edge_colour(data) in {(30, 30, 30), (125, 125, 125), (220, 220, 220)}

    def middle(**look: Any) -> list[int]:
        shown = Image.open(io.BytesIO(made(data, Picture(file="p.png", **look), 100))).convert("RGBA")
        pixel = shown.getpixel((20, 20))
        assert isinstance(pixel, tuple)
        return [round(channel) for channel in pixel]

    assert middle()[0] == pytest.approx(30, abs=4)
    assert middle(lightness=0.5)[0] == pytest.approx(142, abs=4)
    assert middle(opacity=0.5)[3] == pytest.approx(128, abs=2)
    assert middle(scale=2, at=(0.5, 1))[0] == pytest.approx(220, abs=4)  # cut into its lower half


def test_seams_are_told() -> None:
    slope = io.BytesIO()
    Image.linear_gradient("L").convert("RGB").save(slope, "PNG")
    wave = (np.sin(np.arange(256) / 256 * 2 * np.pi * 4) * 100 + 128).astype(np.uint8)
    even = io.BytesIO()
    Image.fromarray(np.add.outer(wave // 2, wave // 2).astype(np.uint8)).convert("RGB").save(even, "PNG")
    assert not is_seamless(slope.getvalue()) and is_seamless(even.getvalue())


SVG = "http://www.w3.org/2000/svg"
NESTED = "<g opacity='.9'>"  # so often within each other that the process that draws them ends
DRAWINGS = {  # what it holds, and how many things are left out of it
    "plain": ("", 0),
    "a script": ("<script>alert(1)</script>", 1),
    "what listens": ("<g onclick='alert(1)'/>", 1),
    "a page in it": ("<foreignObject><p xmlns='http://www.w3.org/1999/xhtml'>x</p></foreignObject>", 1),
    "a picture elsewhere": ("<image href='file:///etc/hosts'/><image href='//x.test/a.png'/>", 2),
    "a fill from elsewhere": ("<rect fill='url(https://x.test/a#b)'/><style>@import 'https://x.test'</style>", 2),
    "links inside": ("<defs><g id='a'/></defs><use href='#a'/><a href='https://x.test'/>", 0),
}


@pytest.mark.parametrize("name", DRAWINGS)
def test_a_drawing_is_cleaned_and_painted(name: str) -> None:
    inside, left_out = DRAWINGS[name]
    start = f"<svg xmlns='{SVG}' viewBox='0 0 30 20'><rect width='30' height='20' fill='#123456'/>"
    data = f"{start}{inside}</svg>".encode()
    clean, count = cleaned(data)
    assert count == left_out and not re.search(rb"alert|x\.test/|etc|@import", clean)
    taken = take_in(data, "Mooring.svg")
    assert (taken.width, taken.height) == size_of(data) == (1600, 1067) and taken.name == "backdrops/mooring.webp"
    assert Image.open(io.BytesIO(taken.data)).convert("RGB").getpixel((800, 500)) == pytest.approx((18, 52, 86), abs=3)


@pytest.mark.parametrize(
    "data",
    [b"<svg", f"<svg xmlns='{SVG}'><rect></svg>".encode(),
     f"<!DOCTYPE svg [<!ENTITY a 'x'>]><svg xmlns='{SVG}'/>".encode(),
     f"<svg xmlns='{SVG}'>{'<g/>' * 20_001}</svg>".encode(), f"<svg xmlns='{SVG}'/>{' ' * 2_000_001}".encode(),
     f"<svg xmlns='{SVG}'>{NESTED * 400}<path d='M0 0h9z'/>{'</g>' * 400}</svg>".encode()],
)  # fmt: skip
def test_what_is_no_drawing_is_refused_in_a_sentence(data: bytes) -> None:
    with pytest.raises(ColourError, match=r"^[A-Z][^.]+\. [^.]+\.$"):
        take_in(data, "a.svg")


def test_the_library_is_searched_by_word_and_colour() -> None:
    assert library.search("water lamps") == ["night-mooring"]
    assert library.search("nothing of the kind") == []
    orange = library.search(colours=[read_colour("#f2b48a")])
    assert orange and orange[0] == "dawn" and "slate" not in orange
    assert library.draw("slate") is library.draw("slate")


@pytest.mark.parametrize(
    "name", [pytest.param(n, marks=[] if n == "mist" else pytest.mark.prove) for n in library.LIBRARY]
)
def test_what_ships_of_a_library_picture_is_as_it_is_drawn(name: str) -> None:
    drawn_in = main_colours(library.draw(name), 6)
    assert [one.hex() for one in library.colours_in(name)] == [one.colour.hex() for one in drawn_in]
    shipped, made = (
        np.asarray(Image.open(io.BytesIO(one)).convert("RGB"), dtype=int)
        for one in (library.small_picture(name), small(library.draw(name)))
    )
    assert np.abs(shipped - made).max() <= 4


def test_the_picture_is_moved_to_where_the_text_reads_best(known: KnownSite, layouts: Layouts) -> None:
    study = known.first_study("x")
    source = source_of(SITE, {"backdrops/a.png": halves(dark_first=False)})
    backdrop = Backdrop.model_validate({"layers": [{"picture": {"file": "backdrops/a.png", "at": [0.5, 0]}}]})

    def seen(other: Backdrop) -> KnownSite:
        laid = study.model_copy(update={"backdrops": (other,)})
        return KnownSite(survey_with(SITE, backdrops_of(laid, known.survey.regions, source), HERE, layouts))

    def lowest(at: tuple[float, float]) -> float:
        (one,) = texts_on(seen(at_focus(backdrop, at)), study, backdrop, Before(known, study))
        assert one.ratio is not None
        return one.ratio

    # pale words on the pale half above, on the dark one below
    assert lowest((0.5, 0)) < 1.5 and lowest((0.5, 1)) > 10
    steps: list[int] = []
    found = best_focus(seen, study, backdrop, lambda done, total: steps.append(done), Before(known, study))
    assert lowest(found) == pytest.approx(lowest((0.5, 1))) and steps == list(range(1, 19))


def test_a_least_veil_in_a_document_is_found(known: KnownSite) -> None:
    laid = on(known.first_study("x"), [{"colour": "#bbbbbb"}, {"veil": {"colour": "#000000", "opacity": "least"}}])
    found = with_least_veils(SITE, laid, known.survey.regions, source_of(SITE, {}))
    veil = found.backdrops[0].layers[1].veil
    assert veil is not None and isinstance(veil.opacity, float)
    assert read_study(found.model_dump(mode="json")) == found


@pytest.mark.parametrize(("text", "wanted"), [("#111111", 0.0), ("#eeeeee", 0.4)])
def test_the_least_veil_knows_what_is_worn(known: KnownSite, text: str, wanted: float) -> None:
    worn = [{"in": {"page": "index.html"}, "set": {"text": text}}]
    layers = [{"colour": "#bbbbbb"}, {"veil": {"colour": "#000000", "opacity": "least"}}]
    study = read_study(on(known.first_study("x"), layers).model_dump(mode="json") | {"worn": worn})
    found = with_least_veils(SITE, study, known.survey.regions, source_of(SITE, {}))
    veil = found.backdrops[0].layers[1].veil
    # #eeeeee on #bbbbbb under black: 4.5 is reached where the ground is #6b6b6b
    assert veil is not None and veil.opacity == pytest.approx(wanted, abs=0.04)


# (the base colour, a veil over it, the nearest greys on which words of #f4f4f4 are readable: 4.5 is reached at #707070)
@pytest.mark.parametrize(
    ("own", "veil", "greys"),
    [("#aaaaaa", 0.0, (0x6D, 0x70)), ("#aaaaaa", 0.3, (0x9C, 0xA0)), ("#404040", 0.0, (0x40, 0x40))],
)
def test_a_base_colour_is_found_that_reads_without_the_pictures(
    known: KnownSite, layouts: Layouts, own: str, veil: float, greys: tuple[int, int]
) -> None:
    study = known.first_study("x")
    source = source_of(SITE, {"backdrops/a.png": halves()})
    picture = {"picture": {"file": "backdrops/a.png"}}
    layers = [{"colour": own}, picture, {"veil": {"colour": "#000000", "opacity": veil}}]

    def seen(other: Backdrop) -> KnownSite:
        laid = study.model_copy(update={"backdrops": (other,)})
        behind = backdrops_of(laid, known.survey.regions, source)
        return KnownSite(survey_with(SITE, replace(behind, with_pictures=False), HERE, layouts))

    found = readable_base(seen, study, Backdrop.model_validate({"layers": layers}), Before(known, study))
    colour = found.backdrop.layers[0].colour
    assert isinstance(colour, str) and not found.hard
    assert greys[0] <= read_colour(colour).bytes[0] <= greys[1]
    assert [layer.kinds for layer in found.backdrop.layers] == [["colour"], ["picture"], ["veil"]]


# words of #f4f4f4 lie from 0.117 to 0.148 of the way; 4.5 is reached at #707070: (stops, which move, their greys)
@pytest.mark.parametrize(
    ("stops", "moved"),
    [
        ([(0, "#aaaaaa"), (1, {"role": "background"})], {0: (0x54, 0x59)}),
        ([(0, "#bbbbbb"), (0.1, "#bbbbbb"), (1, "#bbbbbb")], {1: (0x68, 0x6D)}),
        ([(0.12, "#bbbbbb"), (0.145, "#bbbbbb")], {0: (0x6C, 0x70), 1: (0x6C, 0x70)}),
        ([(0, "#303030"), (1, "#ffffff")], {}),
    ],
)
def test_the_stop_that_is_in_the_way_takes_another_colour(
    known: KnownSite, layouts: Layouts, stops: list[tuple[float, Any]], moved: dict[int, tuple[int, int]]
) -> None:
    study = known.first_study("x")
    gradient = {"angle": 90, "stops": [{"at": at, "colour": colour} for at, colour in stops]}
    backdrop = Backdrop.model_validate({"layers": [{"gradient": gradient}]})

    def seen(other: Backdrop) -> KnownSite:
        laid = study.model_copy(update={"backdrops": (other,)})
        behind = backdrops_of(laid, known.survey.regions, source_of(SITE, {}))
        return KnownSite(survey_with(SITE, behind, HERE, layouts))

    found = readable_stops(seen, study, backdrop, Before(known, study))
    if not moved:
        assert found is None
        return
    assert found is not None and sorted(found.moved) == sorted(moved) and not found.hard
    shown = found.backdrop.layers[0].gradient
    assert shown is not None
    for n, stop in enumerate(shown.stops):
        if n in moved:
            assert isinstance(stop.colour, str) and moved[n][0] <= read_colour(stop.colour).bytes[0] <= moved[n][1]
        else:
            assert stop == backdrop.layers[0].gradient.stops[n]  # type: ignore[union-attr]
    (text,) = texts_on(seen(found.backdrop), study, found.backdrop, Before(known, study))
    assert text.ratio is not None and 4.5 <= text.ratio < 4.7


WRONG: dict[str, tuple[dict[str, Any], str]] = {
    "a colour that no role has": ({"layers": [{"colour": {"role": "nobody"}}]}, "nobody"),
    "one place twice": ({"layers": []}, "two backdrops"),
    "a pattern turned and drifting": (
        {"layers": [{"pattern": {"name": "rope", "colour": "#000", "turn": 5, "drift": {}}}]}, "turned pattern",
    ),
    "thirteen layers": ({"layers": [{"veil": {"colour": "#000", "opacity": 0.1}}] * 13}, "12"),
}  # fmt: skip


@pytest.mark.parametrize("name", WRONG)
def test_what_no_study_can_hold(known: KnownSite, name: str) -> None:
    backdrop, said = WRONG[name]
    document = known.first_study("x").model_dump(mode="json")
    document["backdrops"] = [backdrop, backdrop] if name == "one place twice" else [backdrop]
    with pytest.raises(StudyError, match=said):
        read_study(document)


BARE: dict[str, tuple[dict[str, Any], str, list[str], bool]] = {
    "the whole of it, at the left": ({"fit": "contain", "at": [0, 0.5]}, "div", ["right"], False),
    "the whole of it, in the middle": ({"fit": "contain"}, "div", ["right", "left"], False),
    "half as large": ({"fit": "natural", "at": [1, 0], "scale": 0.5}, "div", ["foot", "left"], False),
    "large enough": ({"fit": "natural", "scale": 4}, "div", [], False),
    "as large as it is, staying": ({"fit": "natural", "fixed": True, "scale": 8}, "div", ["right", "left"], False),
    "behind the page": ({"fit": "contain"}, "", ["right", "left"], False),
    "filling it": ({"fit": "cover"}, "div", [], False),
    "in a thin place": ({"fit": "tile"}, "i", [], True),
}


@pytest.mark.parametrize("name", BARE)
def test_where_a_picture_leaves_its_place_bare(name: str, layouts: Layouts) -> None:
    look, selector, sides, is_small = BARE[name]
    layout = replace(layouts["index.html", 1280], boxes=dict(layouts["index.html", 1280].boxes))
    document = parse_document("<!doctype html><title>x</title><div><p>Words</p><i></i></div>")
    layout.boxes["html>body:nth-child(2)>div:nth-child(1)>i:nth-child(2)"] = Measured(Box(0, 0, 300, 12))
    room = room_of(layout, document, selector)
    # the div is 400 by 200, the picture 100 by 200
    backdrop = Backdrop.model_validate({"layers": [{"colour": "#fff"}, {"picture": {"file": "a.png", **look}}]})
    assert room is not None and room.is_small == is_small
    assert bare_of(backdrop, {"a.png": (100, 200)}, room) == sides
