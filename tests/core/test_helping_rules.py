"""Rules of CSS for what no colour of the palette makes readable: they help, and harm nothing."""

from __future__ import annotations

import base64
import io
from collections.abc import Collection

import numpy as np
import pytest
from PIL import Image

from glaucon.core.cascade.tree import parse_document
from glaucon.core.errors import StudyError
from glaucon.core.exchange.backdrops import backdrops_of, survey_with
from glaucon.core.known.site import KnownSite
from glaucon.core.layout.document import Layouts, read_page_layout
from glaucon.core.mending.fixed import Fixed, fix_all
from glaucon.core.mending.helping_rules import HelpingRule, helping_rules
from glaucon.core.study.own_css import own_css, with_more_css
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import SiteFiles

HERE = tuple(ContextKey(1280, state) for state in ("rest", "hover", "focus"))
MANY = "<p>Words enough that the page has a text that everybody reads.</p>" * 8
BODY = "body { background: #fff; color: #222 } "


def grain() -> str:
    pixels = np.tile(np.array([[0x60, 0xA0], [0xA0, 0x60]], dtype=np.uint8), (8, 8))
    out = io.BytesIO()
    Image.fromarray(pixels).convert("RGB").save(out, "PNG")
    return f"data:image/png;base64,{base64.b64encode(out.getvalue()).decode()}"


GRAIN = grain()


class Desk:
    """A site of one page, fixed, and the rules that are found for what is left."""

    def __init__(self, page: str, css: str, layouts: Layouts | None = None) -> None:
        self.text = f"<!doctype html><title>x</title><link rel=stylesheet href=a.css>{page}"
        self._site = SiteFiles({"index.html": self.text.encode(), "a.css": (BODY + css).encode()})
        self._layouts = layouts
        self.known = self._survey(None)
        self.fixed: Fixed = fix_all(self.known, self.known.first_study("First"))

    def _survey(self, study: Study | None) -> KnownSite:
        regions = self.known.survey.regions if study is not None else []
        bare = study if study is not None else Study(name="Bare", roles=(), mapping={})
        behind = backdrops_of(bare, regions, lambda path: None)
        return KnownSite(survey_with(self._site, behind, HERE, self._layouts, own_css(bare)))

    def rules(self) -> list[HelpingRule]:
        def seen(css: str, pages: Collection[str]) -> KnownSite:
            return self._survey(with_more_css(self.fixed.study, [css]))

        left = [number for one in self.fixed.left for number in one.texts]
        return helping_rules(self.known, self.fixed.study, left, {"index.html": parse_document(self.text)}, seen)

    def hard_with(self, rules: list[HelpingRule]) -> int:
        study = with_more_css(self.fixed.study, [rule.css for rule in rules])
        return self._survey(study).read(study).hard


# page, stylesheet, what is left before, why, the rules as (selector, ways), what is left after
CASES: dict[str, tuple[str, str, int, set[str], list[tuple[str, list[str]]], int]] = {
    "the browser's grey": (
        f"{MANY}<p class=a>Tied up till March</p>", ".a { color: GrayText }", 1, {"outside"},
        [("p.a", ["colour"])], 0,
    ),
    "a background of the words' own colour": (
        f"{MANY}<p class=a>White on white</p>", ".a { color: #fff; background: currentColor }", 1, {"shared"},
        [("p.a", ["background"])], 0,
    ),
    "faded by a filter": (
        f"{MANY}<p class=a>In the mist</p>", ".a { filter: opacity(50%) }", 1, {"shared"}, [("p.a", ["clear"])], 0,
    ),
    "under a half-clear sheet": (
        f"{MANY}<div class=a><p>Under the sheet</p></div>",
        ".a { position: relative; background: #9bd } "
        ".a::after { content: ''; position: absolute; inset: 0; background: rgba(255, 255, 255, .6) }",
        1, {"covered"}, [("div.a p", ["lift"])], 0,
    ),
    "under a dark one, where it needs a colour too": (
        f"{MANY}<div class=a><p>Under the sheet</p></div>",
        ".a { position: relative; background: #9bd } "
        ".a::after { content: ''; position: absolute; inset: 0; background: rgba(0, 0, 0, .7) }",
        1, {"covered"}, [("div.a p", ["lift", "colour"])], 0,
    ),
    "what is like it and readable is left alone": (
        f"{MANY}<div><p class=a>On white</p></div><div class=d><p class=a>On black</p></div>",
        ".a { color: GrayText } .d { background: #111 }", 1, {"outside"},
        [("html > body:nth-child(2) > div:nth-child(9) > p:nth-child(1)", ["colour"])], 0,
    ),
    "in one state alone": (
        f"{MANY}<a class=a href=#>Tied up</a>", ".a { color: #222 } .a:focus { color: GrayText }", 1, {"outside"},
        [("a.a:focus", ["colour"])], 0,
    ),
    "on a picture a veil is for it": (
        f"{MANY}<p class=a>Grain</p>",
        f".a {{ color: GrayText; background: url({GRAIN}) }}", 1, {"picture"}, [], 1,
    ),
    "nothing is left": (MANY, "", 0, set(), [], 0),
}  # fmt: skip


@pytest.mark.parametrize("name", CASES)
def test_a_rule_helps_what_the_palette_cannot(name: str) -> None:
    page, css, left, why, wanted, after = CASES[name]
    desk = Desk(page, css)
    assert (desk.fixed.after, {one.why for one in desk.fixed.left}) == (left, why)
    rules = desk.rules()
    assert [(one.selector, list(one.ways)) for one in rules] == wanted
    assert desk.hard_with(rules) == after


def test_a_colour_of_the_palette_is_taken_where_it_is_about_as_near() -> None:
    page = f"{MANY}<small>{'Quiet words at the foot of it. ' * 9}</small><p class=a>Tied up till March</p>"
    (rule,) = Desk(page, "small { color: #6a6a6a } .a { color: GrayText }").rules()
    assert (rule.role, rule.css) == ("quiet", "p.a { color: var(--gl-quiet) !important }")


HTML, ONE, PARA = "html", "html>body:nth-child(2)", "html>body:nth-child(2)>div:nth-child(1)>p:nth-child(1)"
COVER = "html>body:nth-child(2)>div:nth-child(1)>i:nth-child(2)"


@pytest.mark.parametrize(("z", "ways"), [("auto", [["lift", "colour"]]), ("7", [])])
def test_what_was_measured_before_the_rule_does_not_keep_words_under_their_cover(z: str, ways: list[list[str]]) -> None:
    layout = {
        "width": 1280, "viewport": 800, "height": 200, "isWhole": True, "paths": [HTML, ONE, PARA, COVER],
        "boxes": [[0, 0, 0, 1280, 200], [1, 0, 0, 1280, 200], [2, 8, 20, 400, 20], [3, 8, 0, 400, 60]],
        "pseudos": [], "lists": [[[2, 1, 0], [3], []]], "runs": [[2, 0, [[8, 20, 160, 18, 0]]]],
    }  # fmt: skip
    css = f"div {{ position: relative }} i {{ position: absolute; inset: 0; background: #002b; z-index: {z} }}"
    layouts = {("index.html", 1280): read_page_layout(layout)}
    desk = Desk("<div><p>Under the sheet</p><i></i></div>", css, layouts)
    assert [one.why for one in desk.fixed.left] == ["covered"]
    assert [one.ways for one in desk.rules()] == ways


def test_rules_go_after_what_the_owner_wrote_and_never_into_what_is_broken() -> None:
    study = Study(name="x", roles=(), mapping={})
    more = with_more_css(with_more_css(study, ["b { color: red }"]), ["i { color: #123456 !important }"])
    assert own_css(more) == "b { color: red }\ni { color: #123456 !important }"
    for css, rule in (("b { color: red", "i { color: red }"), ("", "i { color: red")):
        with pytest.raises(StudyError, match="does not parse"):
            with_more_css(study.model_copy(update={"extra_css": css}), [rule])
