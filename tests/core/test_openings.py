"""What a click opens, as data in the head of a page, and trees in the shadow: the texts read, and their colours."""

from __future__ import annotations

import json
from typing import Any

import pytest

from glaucon.core.cascade.opened import openings_of, with_opened
from glaucon.core.cascade.tree import parse_document
from glaucon.core.survey.model import ContextKey, Survey
from glaucon.core.survey.site import SiteFiles
from glaucon.core.survey.survey import survey_site
from glaucon.core.survey.walk.openings import opened_states

CSS = b"""body { background: #fff; color: #222 } .menu { display: none; background: #234 } .menu.open { display: block }
.menu a { color: #456 } .menu a:hover { color: #fff } .on { background: #111 } .dark p { color: #333 }
.tabs:has(.on) p { color: #070 } .mark + p { color: #0a0 }"""
BODY = """<button data-gl-at=1>Menu</button><ul class=menu data-gl-at=2><li><a href=a>Boats</a></li></ul>
<div class=tabs><i data-gl-at=3></i><p>Rates</p></div><p data-gl-at=4>Words</p>
<details data-gl-at=5><summary>More</summary>
<p>Inside</p></details>"""
NEW = {"tag": "div", "attributes": {"class": "pop", "style": "color: #b00"}, "children": ["New words"]}
# what is opened, as changes; with the texts that are other then at rest, and their own colours
OPENED: dict[str, tuple[list[dict[str, Any]], dict[str, str]]] = {
    "a menu": ([{"at": 2, "attributes": {"class": "menu open"}}], {"Boats": "#445566"}),
    "a dark switch": ([{"at": 6, "attributes": {"class": "dark"}}], {"Rates": "#333333", "Words": "#333333"}),
    "a fold": ([{"at": 5, "attributes": {"open": ""}}], {"Inside": "#222222"}),
    "a box put in": ([{"at": 6, "children": [1, NEW, 2, 4]}], {"New words": "#bb0000"}),
    "a sibling marked": ([{"at": 3, "attributes": {"class": "mark"}}], {"Rates": "#00aa00"}),
    "what is inside": ([{"at": 3, "attributes": {"class": "on"}}], {"Rates": "#007700"}),
    "the scroll held": ([{"at": 6, "attributes": {"style": "overflow: hidden; padding-right: 15px"}}], {}),
    "nothing that shows": ([{"at": 1, "attributes": {"aria-expanded": "true"}}], {}),
}


def _site(openings: Any, body: str = BODY) -> SiteFiles:
    data = json.dumps(openings).replace("<", "\\u003c")
    head = f"<link rel=stylesheet href=a.css><script type=application/json data-gl-opened>{data}</script>"
    page = f"<!doctype html><html><head>{head}</head><body data-gl-at=6>{body}</body></html>"
    return SiteFiles({"index.html": b"<p>File", "a.css": CSS}, stood={"index.html": page})


def _colours(survey: Survey, state: str) -> dict[str, str]:
    found = {}
    for one in survey.sightings[ContextKey(1280, state)]:
        token = next(survey.pairings[one.pairing].word_tokens(), None)
        found[survey.runs[one.run].text] = "" if token is None else survey.tokens[token].colour.hex()
    return found


@pytest.mark.parametrize("name", OPENED)
def test_what_is_opened_is_read_where_it_is_other(name: str) -> None:
    changes, other = OPENED[name]
    survey = survey_site(_site([{"label": name, "by": 1, "changes": changes}]))
    found = _colours(survey, f"opened: {name}")
    assert {text: colour for text, colour in found.items() if text in other} == other
    if name != "a box put in":  # what stands beside what is new is looked at again, and is as it was
        assert found.keys() == other.keys()
    assert list(opened_states(survey)) == ([f"opened: {name}"] if other else [])


def test_an_opened_menu_is_read_when_hovered_too_and_its_texts_count_once() -> None:
    changes = [{"at": 2, "attributes": {"class": "menu open"}}]
    survey = survey_site(_site([{"label": "Menu", "changes": changes}, {"label": "Menu 2", "changes": changes}]))
    boats = [run for run in survey.runs if run.text == "Boats"]
    assert [one.opened for one in boats] == ["Menu"]
    assert _colours(survey, "hover")["Boats"] == "#ffffff"
    assert "Boats" not in _colours(survey, "rest")


def test_a_colour_is_one_colour_however_often_it_shows() -> None:
    changes = [{"at": 6, "attributes": {"class": "dark"}}]
    plain = survey_site(_site([]))
    opened = survey_site(_site([{"label": str(n), "changes": changes} for n in range(4)]))
    assert [one.start for one in opened.tokens] == [one.start for one in plain.tokens]


@pytest.mark.parametrize(
    "given",
    [
        "no list", [3], [{}], [{"label": "", "changes": []}], [{"label": "x", "changes": [{}]}],
        [{"label": "x", "changes": [{"at": 1, "attributes": {"class": 5}}]}],
        [{"label": "x", "changes": [{"at": 6, "children": [NEW] * 20_001}]}],
    ],
)  # fmt: skip
def test_what_is_no_opening_is_left_out(given: Any) -> None:
    assert openings_of(parse_document(_site(given).page_text("index.html"))) == []


def test_a_tree_cannot_be_put_into_itself() -> None:
    site = _site([{"label": "x", "changes": [{"at": 2, "children": [6, 2, 1]}]}])
    document = parse_document(site.page_text("index.html"))
    opened = with_opened(document, openings_of(document)[0]).document
    assert sum(1 for _ in opened.root.descendants()) < 30


SHADOW = """<style>p { color: #f00 } .x { color: #080 } my-card { color: #00f }</style><p>Page</p><my-card class=big>
<template shadowrootmode=open>
<style>:host { display: block; background: #111; --c: #eee } :host(.big) h2 { color: #abc }
p { color: var(--c) } ::slotted(b) { color: #fa0 } b { color: #f0f }</style><h2>Head</h2><p>Inside</p><b>Own</b>
<slot name=t>Fallback</slot><div><slot></slot></div></template><b>Given</b><i slot=t>Title</i> loose <p class=x>Para</p>
</my-card>"""


def test_shadow_trees_are_read_as_they_are_shown_each_by_its_own_rules() -> None:
    survey = survey_site(SiteFiles({"index.html": f"<!doctype html><body>{SHADOW}".encode()}))
    assert _colours(survey, "rest") == {
        "Page": "#ff0000", "Head": "#aabbcc", "Inside": "#eeeeee", "Own": "#ff00ff", "Title": "#0000ff",
        "loose": "#0000ff", "Given": "#ffaa00", "Para": "#008800",
    }  # fmt: skip
