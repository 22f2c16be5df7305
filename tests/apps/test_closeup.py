"""The close-up and the owner's own CSS, as the API tells them."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from glaucon.core.survey.origins import Tracer
from glaucon.core.survey.site import read_site
from tests.apps.conftest import Api, folder_files, zipped

YARD = "yard"
SITE = f"/sites/{YARD}"


@pytest.fixture
def yard(wren: Api, otterlock: Path) -> Api:
    assert wren.bring(zipped(folder_files(otterlock))).status_code == 200
    return wren


def path_of(otterlock: Path, page: str, words: str) -> str:
    tracer = Tracer(read_site(otterlock))
    return next(p for p in tracer.texts(page) if (e := tracer.element(page, p)) and e.own_text.startswith(words))


def part(api: Api, page: str, path: str, state: str = "rest") -> Any:
    return api.client.get(f"/api{SITE}/part", {"page": page, "path": path, "state": state})


# page, words of an element; what is told of it: label, reaches with their counts, who says its text and background
PARTS = [
    ("prices.html", "Prices", "Current menu item",
     {"this menu item": "1", "all like it, on every page": "8 on 8 pages"},
     ".nav a[aria-current]", ".top", "This is a link, so Text does not colour it. Change Link (current page) here."),
    ("index.html", "Book a day", "Button", {"this button": "1", "the section “Welcome area”": "4 texts"},
     ".welcome a.button", ".button", "The background of “Welcome area” does not show here: “Button” covers it."),
    ("boats/heron.html", "Sixty feet", "Text", {"the whole site": "283 texts"}, ".lead", "body", ""),
]  # fmt: skip


@pytest.mark.parametrize(("page", "words", "label", "reaches", "text", "background", "note"), PARTS)
def test_a_part_tells_its_reach_and_where_its_colours_come_from(
    yard: Api, otterlock: Path, page: str, words: str, label: str, reaches: dict[str, str], text: str,
    background: str, note: str,
) -> None:  # fmt: skip
    found = part(yard, page, path_of(otterlock, page, words)).json()
    assert found["label"] == label
    assert reaches.items() <= {one["what"]: one["count"] for one in found["reaches"]}.items()
    assert f"The rule {text} (" in found["because"][0]["says"]
    assert f"The rule {background} (" in found["because"][1]["says"]
    assert not note or note in found["because"][0]["notes"] + found["because"][1]["notes"]


def test_a_choice_for_a_place_is_told_as_what_decides(yard: Api, otterlock: Path) -> None:
    path = path_of(otterlock, "prices.html", "Prices")
    reach = next(
        r for r in part(yard, "prices.html", path).json()["reaches"] if r["what"].startswith("all like it, on every")
    )
    values = {"link.current": "#f08000"}
    assert yard.act(YARD, {"act": "wear", "places": [reach["where"]], "set": values}).status_code == 200
    found = part(yard, "prices.html", path).json()
    assert "decides here, not the palette" in found["because"][0]["notes"][0]
    colours = {row["role"]: row["states"][0]["colour"] for row in found["colours"]}
    assert colours["link.current"] == "#f08000"
    assert next(r for r in found["reaches"] if r["what"] == reach["what"])["own"] == values


def test_what_is_made_see_through_is_not_said_to_cover(yard: Api, otterlock: Path) -> None:
    path = path_of(otterlock, "index.html", "From the towpath")

    def notes() -> str:
        return " ".join(part(yard, "index.html", path).json()["because"][1]["notes"])

    assert "“From the towpath” covers it" in notes()
    place = {"section": "from-the-towpath"}
    assert yard.act(YARD, {"act": "wear", "places": [place], "set": {"background": "#00000000"}}).status_code == 200
    assert "see-through here: the page shows behind it" in notes() and "covers it" not in notes()


def test_a_hover_that_wears_the_text_colour_becomes_a_knob_of_its_own(wren: Api, otterlock: Path) -> None:
    files = folder_files(otterlock)
    files["css/site.css"] += b"\nheader a.brand:hover { color: #22302b }"
    assert wren.bring(zipped(files)).status_code == 200
    path = path_of(otterlock, "boats/index.html", "Otterlock Boats")

    def hovered() -> Any:
        rows = part(wren, "boats/index.html", path).json()["colours"]
        return next(s for row in rows if row["kind"] == "link" for s in row["states"] if s["state"] == "hover")

    one = hovered()
    assert (one["role"], one["use"], one["colour"]) == ("text", "text", "#22302b") and len(one["apart"]) == 1
    move = {"act": "move-colours", "keys": one["apart"], "from_role": "link", "new_label": "Link (hover)"}
    assert wren.act(YARD, {**move, "new_state": "hover"}).status_code == 200
    parted = hovered()
    assert (parted["use"], parted["colour"], parted["apart"]) == ("link.hover", "#22302b", [])
    # now the place's hover turns alone, and its words at rest stay
    reach = part(wren, "boats/index.html", path).json()["reaches"][0]["where"]
    wren.act(YARD, {"act": "wear", "places": [reach], "set": {"link.hover": "#7a2fb0"}})
    assert hovered()["colour"] == "#7a2fb0"
    wren.act(YARD, {"act": "set-colour", "role": "text", "value": "#003300", "merge": False})
    assert hovered()["colour"] == "#7a2fb0"


@pytest.mark.parametrize(
    ("page", "path", "code"), [("gone.html", "html", "no-page"), ("index.html", "html>body>nowhere", "no-part")]
)
def test_what_is_not_there_is_refused(yard: Api, page: str, path: str, code: str) -> None:
    answer = part(yard, page, path)
    assert answer.status_code == 422 and answer.json()["code"] == code


def own_css(api: Api) -> Any:
    return api.get(f"{SITE}/own-css").json()


def test_own_css_wins_is_read_and_goes_out(yard: Api) -> None:
    """It is read with the site, reads the palette, is told where it wins, stands in what goes out, and is undone."""
    before = yard.get(f"{SITE}/study").json()["reading"]
    css = "h2 { color: var(--gl-quiet) }\n.foot { background: #ffffff }"
    saved = yard.act(YARD, {"act": "write-css", "css": css}).json()
    assert saved["waiting"] == 1 and saved["reading"]["hard_texts"] > before["hard_texts"]
    by_own = {one["own"] for one in saved["reading"]["findings"]}
    assert by_own == {"", "background"} and not any(one["own"] for one in before["findings"])
    told = own_css(yard)
    assert not told["problems"]
    assert told["pages"] == 9 and "Heading" in [one["label"] for one in told["over"]]
    # the palette's colour is followed without another survey
    changed = yard.colour(YARD, {"quiet": "#202020"}).json()
    plain = yard.act(YARD, {"act": "write-css", "css": ""}).json()
    assert changed["reading"]["roles"]["quiet"]["places"] >= plain["reading"]["roles"]["quiet"]["places"] + 13
    yard.move(YARD, "undo")
    out = yard.client.get(f"/api{SITE}/hand-back/variables/file").content.decode()
    assert out.index("--gl-quiet: #202020") < out.index(css)
    yard.move(YARD, "undo")
    undone = yard.move(YARD, "undo").json()
    assert undone["reading"]["hard_texts"] == before["hard_texts"] and own_css(yard)["css"] == ""


BROKEN = [
    ("h2 { color: red", 1, "never closed", True),
    ("h1 { color: red }\np { color red }", 2, "Something is missing here", True),
    (
        "a { text-decoration: underline; border-color: red }\n\nh2 { color: redd }",
        3,
        "“redd” is nothing that color can be.",
        False,
    ),
    ("h1 { color: 'red\n }", 1, "A quote is opened here", False),
    ("a { background: url(x'y) }", 1, "The address in “url(…)”", False),
    ("a::hovver { color: red }", 1, "No browser understands the selector", False),
    ("p { color: var(--gl-headin) }", 1, "Did you mean --gl-heading?", False),
]


@pytest.mark.parametrize(("css", "line", "said", "stops"), BROKEN)
def test_css_that_does_not_parse_is_kept_and_told_by_its_line(
    yard: Api, css: str, line: int, said: str, stops: bool
) -> None:
    saved = yard.act(YARD, {"act": "write-css", "css": css}).json()
    told = own_css(yard)
    assert told["css"] == css
    assert any(one["line"] == line and said in one["message"] for one in told["problems"])
    assert (css in saved["extra_css"]) is not stops


LOGO = (
    b"<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 40 20' width='40' height='20'>"
    b"<path d='M0 0h9v9z' fill='#143d33'/></svg>"
)
LOGO_PAGE = (
    b"<!doctype html><title>Marlstone</title><style>body { background: #fdf9f0 }</style>"
    b"<header><img src=img/logo.svg alt=Marlstone> <a href=#>Berths</a></header><main><p>Forty along it.</p></main>"
)


@pytest.mark.parametrize("kind", ["picture", "drawing"])
def test_a_lost_logo_is_brought_back_by_a_rule_of_the_owners_own(wren: Api, kind: str) -> None:
    page = LOGO_PAGE.replace(b"<img src=img/logo.svg alt=Marlstone>", LOGO) if kind == "drawing" else LOGO_PAGE
    assert wren.bring(zipped({"index.html": page, "img/logo.svg": LOGO})).status_code == 200
    worn = {"act": "wear", "places": [{"section": "header"}], "set": {"background": "#0f2f27"}}
    (lost,) = wren.act(YARD, worn).json()["reading"]["lost"]
    source = "svg" if kind == "drawing" else "img/logo.svg"
    assert (lost["kind"], lost["source"], lost["place"]) == (kind, source, "Header")
    assert lost["ways"] == ["plate", "light"] and lost["colours"] == ["#143d33"]
    assert kind == "drawing" or wren.client.get(lost["address"]).status_code == 200
    asked = {"act": "bring-back-mark", "kind": kind, "source": source, "section": lost["section"], "way": "light"}
    brought = wren.act(YARD, asked).json()
    assert brought["reading"]["lost"] == [] and "invert(1)" in own_css(wren)["css"]
    refused = wren.act(YARD, asked)
    assert refused.status_code == 422 and "not lost any more" in refused.json()["message"]
    assert len(wren.move(YARD, "undo").json()["reading"]["lost"]) == 1


def test_a_section_keeps_its_colours_when_its_heading_is_called_otherwise(yard: Api, otterlock: Path) -> None:
    place = {"section": "from-the-towpath"}
    assert yard.act(YARD, {"act": "wear", "places": [place], "coat": "lamp-evenings"}).status_code == 200
    files = folder_files(otterlock)
    files["index.html"] = files["index.html"].replace(b"From the towpath", b"Along the bank")
    upload = SimpleUploadedFile("yard.zip", zipped(files))
    assert yard.client.post(f"/api{SITE}/again/zip", {"archive": upload}).status_code == 200
    told = yard.get(f"{SITE}/found").json()["changes"]
    assert "“From the towpath” is now “Along the bank”. It keeps its colours." in told, told
    path = path_of(otterlock, "index.html", "From the towpath")
    rows = part(yard, "index.html", path).json()["colours"]
    assert rows[0]["states"][0]["colour"] == "#f2c14e"
