"""Each module of the survey by itself, on a page small enough to see what it should come to."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Callable
from functools import cache
from typing import Any

import pytest

from glaucon.core.cascade.expression import Literal
from glaucon.core.cascade.tree import Document, Element, parse_document
from glaucon.core.colour.value import Colour
from glaucon.core.survey import drawings, kinds, layers, marks, model, painters, readable, regions, site, texts
from glaucon.core.survey.model import ContextKey, Survey
from glaucon.core.survey.pointing import simple_name, ways_to
from glaucon.core.survey.survey import survey_site, width_bands

REST = ContextKey(1280, "rest")
HEAD = "<!doctype html><title>Quay</title><link rel=stylesheet href=a.css>"
PAGE = """<body><header class=top><h1>Quay</h1></header><nav><ul><li><a href=#>One</a><li><a href=#>Two</a></ul></nav>
<main><section class=sand><h2>Sand</h2><p class=card>Card one</p><p class=card>Card two</p><p class=card>Card three</p></section>
<section class=hull><h2>Hull</h2><button class=go>Go</button><p class=lost>x</p></section></main><footer><p>Foot</p></footer>"""
CSS = """body { background: #fff; color: #222 } .sand { background: #e4d3b0; --edge: #0b5c7a } .hull { background: #143d33; color: #f3ead9 }
.card { background: #fafafa; border-color: var(--edge) } .go { background: #c8452b; color: #fff6ea } .go:hover { background: #a93621 }
footer { background: #eee; opacity: .8 } .never { color: #010203 } @media (min-width: 600px) { h2 { color: #123456 } }
@media (max-width: 599px) { h2 { color: #654321 } } .lost { display: none }"""


@cache
def surveyed(page: str = PAGE, css: str = CSS, *contexts: ContextKey) -> Survey:
    files = site.SiteFiles({"index.html": (HEAD + page).encode(), "a.css": css.encode()})
    return survey_site(files, contexts or [REST])


def document(html: str) -> Document:
    return parse_document(html)


def element(html: str, tag: str) -> Element:
    return next(one for one in document(html).elements if one.tag == tag)


def token_of(colour: str, survey: Survey | None = None) -> int:
    return next(one.number for one in (survey or surveyed()).tokens if one.text == colour)


def words(survey: Survey, context: ContextKey = REST) -> dict[str, str]:
    """Return the text colour of each text in a context."""
    return {
        survey.runs[one.run].text: survey.tokens[next(survey.pairings[one.pairing].word_tokens())].text
        for one in survey.sightings[context]
    }


def archive(names: dict[str, bytes]) -> io.BytesIO:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as packed:
        for name, data in names.items():
            packed.writestr(name, data)
    out.seek(0)
    return out


def region(label: str, survey: Survey | None = None) -> model.Region:
    return next(one for one in (survey or surveyed()).regions if one.label == label)


SVG = b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 20 10"><style>.a{fill:#00f}</style><path fill="red" d="M0 0"/><g class="a"><path d="M0 0"/></g></svg>'
ONE = Literal(Colour(1, 1, 1))
MODULES: list[tuple[str, Callable[[], Any], Any]] = [
    ("survey", lambda: words(surveyed())["Quay"], "#222"),
    ("survey", lambda: "x" in words(surveyed()), False),
    ("survey", lambda: words(surveyed(PAGE, CSS, ContextKey(390, "rest")), ContextKey(390, "rest"))["Sand"], "#654321"),
    ("survey", lambda: any(one < 600 for one in width_bands({600.0})) and any(one > 600 for one in width_bands({600.0})), True),
    ("walk", lambda: [one.tag for one in _order("<p>a</p><script>b</script><p hidden>c</p><i>d</i>")], ["p", "i"]),
    ("sheets", lambda: [one.file for one in surveyed().tokens if one.text == "#e4d3b0"], ["a.css"]),
    ("sheets", lambda: words(surveyed("<style media=print>p{color:red}</style><style>p{color:#00f}</style><p>z"))["z"], "#00f"),
    ("site", lambda: site.SiteFiles({"a/b.html": b"", "c.css": b""}).resolve("../c.css?x#y", "a/b.html"), "c.css"),
    ("site", lambda: site.SiteFiles({}, origin="https://boats.example").without_origin("https://boats.example/a"), "/a"),
    ("site", lambda: [site.is_page(one) for one in ("a.html", "B.HTM", "a.css")], [True, True, False]),
    ("site", lambda: site.read_archive(archive({"yard/index.html": b"<p>", "yard/a.css": b""})).pages, ["index.html"]),
    ("texts", lambda: texts.own_words(element("<p>a <b>b</b>  c", "p")), "a c"),
    ("texts", lambda: texts.placeholder_words(element("<input placeholder='Your name'>", "input")), "Your name"),
    ("texts", lambda: (texts.is_icon("\ue001"), texts.is_icon("a")), (True, False)),
    ("texts", lambda: texts.is_dropdown(element("<select><option>a</select>", "select")), True),
    ("kinds", lambda: kinds.words_of("site-header", "leftCol") >= {"site", "header", "left"}, True),
    ("kinds", lambda: [kinds.is_sectioning(element(f"<{tag}>", tag)) for tag in ("section", "div")], [True, False]),
    ("readable", lambda: readable.readable("price-list_item"), "Price list"),
    ("regions", lambda: {"Sand", "Hull", "Footer"} <= {one.label for one in surveyed().regions}, True),
    ("regions", lambda: regions.slug("What’s on?"), "what-s-on"),
    ("regions", lambda: surveyed().regions[_chain("Card one")[0]].label, "Sand"),
    ("pointing", lambda: region("Sand").selector.endswith(".sand"), True),
    ("pointing", lambda: simple_name(element("<p class='b a'>", "p"), "a"), "p.a"),
    ("pointing", lambda: any(".sand" in way for way in ways_to(element("<section class=sand>", "section"))), True),
    ("painters", lambda: {one.tag for one in surveyed().painters[token_of("#e4d3b0")]}, {"section"}),
    ("painters", lambda: [painters.landmark_of(element(one, "footer")) for one in ("<footer>", "<article><footer>")], ["footer", ""]),
    ("panels", lambda: any("card" in str(one) for one in region("Sand").panels), True),
    ("part_uses", lambda: token_of("#e4d3b0") in region("Sand").grounds and token_of("#123456") in region("Sand").texts, True),
    ("part_uses", lambda: token_of("#143d33") in region("Sand").grounds, False),
    ("handed_down", lambda: [one.name for one in region("Sand", surveyed(PAGE, CSS + "body { --edge: #0b5c7a }")).handed_down], ["--edge"]),
    ("reach", lambda: token_of("#010203") in surveyed().reached, False),
    ("reach", lambda: token_of("#222") in surveyed().reached, True),
    ("layers", lambda: layers.faded((model.Fill(ONE),), 1.0), (model.Fill(ONE),)),
    ("layers", lambda: layers.is_clear(Literal(Colour(0, 0, 0, 0))), True),
    ("layers", lambda: [type(one).__name__ for one in _stack("Foot")].count("PaintGroup"), 1),
    ("model", lambda: model.layer_tokens(model.Fill(ONE)), []),
    ("model", lambda: {surveyed().tokens[n].text for n in _pairing("Go").word_tokens()}, {"#fff6ea"}),
    ("marks", lambda: marks.words_of(element("<img alt='Otter' src=a.png>", "img")), "Otter"),
    ("marks", lambda: marks.fills_drawing(*_in_drawing("<svg viewBox='0 0 9 9'><rect width=100% height=100% /></svg>")), True),
    ("drawings", lambda: {one.hex() for one in drawings.read_drawing(SVG).seen() if one.alpha}, {"#ff0000", "#0000ff"}),
    ("drawings", lambda: drawings.read_drawing(SVG).ratio, (20.0, 10.0)),
    ("boxes", lambda: [type(one).__name__ for one in _stack("over", OVER)].count("Fill") > 1, True),
    ("pictures", lambda: [one.why for one in _stack("far", FAR) if isinstance(one, model.Unseen)] != [], True),
    ("origins", lambda: _origin("#c8452b"), (".go", "background")),
]  # fmt: skip
OVER = "<style>div{position:relative;background:#fff}i{position:absolute;inset:0;background:#00f}b{position:relative}</style><div><i></i><b>over</b></div>"
FAR = "<style>p{background:url(https://far.example/a.png)}</style><p>far"


def _order(html: str) -> list[Element]:
    survey = surveyed(html, "p { color: red }")
    found = document(HEAD + html)
    by_path = {one.path(): one for one in found.elements}
    return [by_path[survey.runs[one.run].path] for one in survey.sightings[REST]]


def _run(text: str, survey: Survey) -> int:
    return next(n for n, one in enumerate(survey.runs) if one.text == text)


def _chain(text: str) -> tuple[int, ...]:
    survey = surveyed()
    return survey.chains[survey.runs[_run(text, survey)].chain]


def _pairing(text: str, page: str = PAGE) -> model.Pairing:
    survey = surveyed(page) if page == PAGE else surveyed(page, "")
    run = _run(text, survey)
    return survey.pairings[next(one.pairing for one in survey.sightings[REST] if one.run == run)]


def _stack(text: str, page: str = PAGE) -> tuple[Any, ...]:
    return _pairing(text, page).below


def _in_drawing(html: str) -> tuple[Element, Element]:
    return element(html, "rect"), element(html, "svg")


def _origin(colour: str) -> tuple[str, str]:
    token = surveyed().tokens[token_of(colour)]
    return token.selector, token.property


@pytest.mark.parametrize(
    ("module", "ask", "expected"), [pytest.param(*one, id=f"{one[0]}-{n}") for n, one in enumerate(MODULES)]
)
def test_a_module_of_the_survey(module: str, ask: Callable[[], Any], expected: Any) -> None:
    assert ask() == expected, module


MOVED = [
    ("a row of slides, moved on", "display: flex; transform: translate3d(-1200px, 0, 0)", "<p>One<p>Two", {"One", "Two"}),
    ("a drawer, shut", "display: flex; position: absolute; left: 0; width: 250px; transform: translateX(-250px)", "<p>One", set()),
    ("a box out of sight", "width: 600px; transform: translateX(-1200px)", "<p>One", set()),
]  # fmt: skip


@pytest.mark.parametrize(("what", "css", "inside", "seen"), MOVED, ids=[one[0] for one in MOVED])
def test_what_is_moved_sideways_is_seen_where_it_is_slides(what: str, css: str, inside: str, seen: set[str]) -> None:
    survey = surveyed(
        f"<body><div class=moved>{inside}</div>", f"body {{ margin: 0; width: 1200px }} .moved {{ {css} }}"
    )
    assert {survey.runs[one.run].text for one in survey.sightings[REST]} == seen
