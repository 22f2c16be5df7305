"""Each stage of the cascade by itself, so that a fault shows where it is: what goes in, what a browser makes of it.

Expected values are the standards' own (the section stands beside them), worked out by hand.
"""

from __future__ import annotations

from collections.abc import Callable
from types import SimpleNamespace
from typing import Any

import pytest
import tinycss2

from glaucon.core.cascade import calculation, expression, nesting, source, substitution, supports, text, tokens, tree
from glaucon.core.cascade.hints import Hints
from glaucon.core.cascade.markup import read_markup
from glaucon.core.cascade.media import Viewport, media_matches, width_thresholds
from glaucon.core.cascade.properties import backgrounds, declarations, effects, images, lengths, longhands
from glaucon.core.cascade.properties.colours import colour_expression, split_commas
from glaucon.core.cascade.properties.values import Keyword
from glaucon.core.cascade.selectors import controls, pseudo_classes, remembered
from glaucon.core.cascade.selectors.selectors import compile_selectors
from glaucon.core.cascade.selectors.state import State
from glaucon.core.colour.value import Colour

VALUES = tinycss2.parse_component_value_list
PAGE = """<html lang=en-GB><body><form><fieldset disabled><legend><input id=in-legend></legend><input id=shut></fieldset>
<input id=mail type=email value=nobody required><input id=far type=number min=1 max=3 value=9><input id=hint placeholder=x>
<input id=ticked type=checkbox checked></form><a id=to href=/x>x</a><a id=name>y</a><p id=p dir=rtl><b id=one>1</b><i>2</i>
<b id=two lang=de>3</b></p></body></html>"""
DOCUMENT = tree.parse_document(PAGE)
OF_ID = {one.ident: one for one in DOCUMENT.elements if one.ident}
CONTEXT = lengths.LengthContext(20.0, 16.0, 1280, 800)
VARIABLES = {"--a": "1px solid"}


def values(css: str) -> list[Any]:
    return [one for one in VALUES(css) if one.type != "whitespace"]


def look_up(name: str) -> list[Any] | None:
    return VALUES(VARIABLES[name]) if name in VARIABLES else None


def substituted(css: str) -> str | None:
    found = substitution.substitute(VALUES(css), look_up)
    return None if found is None else tinycss2.serialize(found).strip()


def colour(css: str, dark: bool = False) -> str | None:
    table = tokens.TokenTable()
    found = colour_expression(values(css)[0], table)
    if found is None:
        return None
    told = expression.resolve(found, expression.Literal(Colour(1, 0, 0)), dark)
    seen = expression.evaluate(told, lambda one: table.tokens[one.token].colour)
    return seen.hex() if seen is not None else "unknown"


def declared(css: str) -> dict[str, Any] | None:
    name, value = css.split(":", 1)
    return declarations.parse_declaration(name, values(value), tokens.TokenTable())


def matching(selector: str, **state: bool) -> list[str]:
    found = compile_selectors(VALUES(selector))
    return [name for name, one in OF_ID.items() if any(each.matches(one, State(**state)) for each in found)]


def calculated(css: str) -> float | None:
    found = calculation.parse_calculation(values(css)[0], frozenset({"l"}))
    return None if found is None else calculation.evaluate_calculation(found, {"l": 0.5})


def media(css: str, **screen: Any) -> bool:
    return media_matches(VALUES(css), Viewport(**screen))


def nested(own: str, parent: str) -> str | None:
    found = nesting.nested_prelude(VALUES(own), VALUES(parent))
    return None if found is None else tinycss2.serialize(found).strip()


def hinted(html: str) -> dict[str, str]:
    page = tree.parse_document(html)
    body = next(one for one in page.elements if one.tag == "body")
    table = tokens.TokenTable()
    hints = Hints("p.html", page.markup.source, table)
    last = page.elements[-1]
    return {name: type(value).__name__ for name, value in hints.of(last, State(), body, None).items()}


def px(css: str) -> float | None:
    length = lengths.parse_length(values(css)[0])
    found = lengths.extent(length, CONTEXT) if length is not None else None
    return None if found is None else found.px


# stage, what is asked, what a browser says
STAGES: list[tuple[str, Callable[[], Any], Any]] = [
    # CSS Values 4, 10: precedence, nesting, min and max; a percentage is a share
    ("calculation", lambda: calculated("calc(1 + 2 * 3)"), 7.0),
    ("calculation", lambda: calculated("calc((l + 50%) / 2)"), 0.5),
    ("calculation", lambda: calculated("max(1, min(5, 3))"), 3.0),
    ("calculation", lambda: calculated("calc(1 +)"), None),
    # Media Queries 4: ranges, not, lists; what is not understood does not hold
    ("media", lambda: media("(min-width: 600px) and (max-width: 1280px)"), True),
    ("media", lambda: media("(400px <= width < 1280px)"), False),
    ("media", lambda: media("not print, (width: 1px)"), True),
    ("media", lambda: media("(prefers-color-scheme: dark)", scheme="dark"), True),
    ("media", lambda: media("(nonsense: 1)"), False),
    ("media", lambda: sorted(width_thresholds(VALUES("(min-width: 40em) and (width < 900px)"))), [640.0, 900.0]),
    # CSS Conditional Rules 4, 2
    ("supports", lambda: supports.supports(values("(color: red) and (not (color: blurple))")), True),
    ("supports", lambda: supports.supports(values("(display: nothing)")), False),
    # CSS Nesting 3: & is the parent as a whole; without it a descendant
    ("nesting", lambda: nested("&:hover", "a, b"), ":is(a, b):hover"),
    ("nesting", lambda: nested(".x", "a"), ":is(a) .x"),
    # CSS Custom Properties 1, 3: within functions and fallbacks; none of both is no value
    ("substitution", lambda: substituted("f(var(--a)) var(--none, var(--a))"), "f(1px solid)  1px solid"),
    ("substitution", lambda: substituted("var(--none, blue)"), "blue"),
    ("substitution", lambda: substituted("var(--none)"), None),
    # CSS Color 4 and 5: notations, currentColor (red here), light-dark, mixing in sRGB, relative colours
    ("colours", lambda: colour("hsl(120 100% 25%)"), "#008000"),
    ("colours", lambda: colour("color-mix(in srgb, white, black)"), "#808080"),
    ("colours", lambda: colour("currentColor"), "#ff0000"),
    ("colours", lambda: colour("light-dark(#fff, #000)", dark=True), "#000000"),
    ("colours", lambda: colour("rgb(from #204060 r g b / 50%)"), "#20406080"),
    ("colours", lambda: colour("rgb(1, 2)"), None),
    ("colours", lambda: len(split_commas(VALUES("a, b c, d"))), 3),
    ("expression", lambda: list(expression.tokens_in(expression.Found(7))), [7]),
    ("expression", lambda: expression.placed(expression.Found(7), 2), expression.Found(7, 2)),
    # CSS Values 4, 6: of the font (20 px), the root (16 px), the viewport
    ("lengths", lambda: [px(one) for one in ("2em", "2rem", "10vw", "1in", "0")], [40.0, 32.0, 128.0, 96.0, 0.0]),
    ("lengths", lambda: lengths.parse_length(values("3")[0]), None),
    # CSS Backgrounds 3, 2.10: the shorthand sets all, and two colours are none
    ("backgrounds", lambda: (declared("background: url(a.png) no-repeat, #fff") or {}).keys() >= {"background-color"}, True),
    ("backgrounds", lambda: declared("background: red blue"), None),
    ("backgrounds", lambda: backgrounds.parse_size(values("cover")) is not None, True),
    ("declarations", lambda: sorted(declared("overflow: hidden") or {}), ["overflow-x", "overflow-y"]),
    ("declarations", lambda: sorted(declared("margin-inline: 1px") or {}), ["margin-left", "margin-right"]),
    ("declarations", lambda: declared("color: inherit"), {"color": Keyword("inherit")}),
    ("declarations", lambda: (declared("color: blurple"), declared("widows: 2")), (None, {})),
    ("declarations", lambda: declarations.has_var(values("calc(1px + var(--a))")), True),
    ("longhands", lambda: (declared("opacity: 150%") or {})["opacity"], 1.0),
    ("longhands", lambda: (declared("font-weight: bold") or {})["font-weight"], longhands.LONGHANDS["font-weight"](values("700"), tokens.TokenTable())),
    ("longhands", lambda: declared("font-size: -1px"), None),
    # CSS Images 3, 3.4: stops without a place lie evenly between
    ("images", lambda: [round(stop.at, 3) for stop in _stops("linear-gradient(red, lime, blue)")], [0.0, 0.5, 1.0]),
    ("images", lambda: images.is_image(values("url(a.png)")[0]), True),
    ("images", lambda: images.parse_image(values("linear-gradient()")[0], tokens.TokenTable()), None),
    # CSS Backgrounds 3, 3.4; CSS UI 4, 3; Text Decoration 3, 2: parts in any order, the rest as it is at first
    ("lines", lambda: sorted(declared("border-top: red solid 2px") or {}), ["border-top-color", "border-top-style", "border-top-width"]),
    ("lines", lambda: [one.name for one in (declared("border-style: solid none") or {}).values()], ["solid", "none", "solid", "none"]),
    ("lines", lambda: (declared("outline: 0") or {})["outline-style"], Keyword("none")),
    ("lines", lambda: (declared("text-decoration: underline wavy red") or {})["text-decoration-line"], ("underline",)),
    ("lines", lambda: (declared("border: red blue"), declared("border-width: -1%")), (None, None)),
    ("effects", lambda: [one.name for one in effects.parse_filter(values("grayscale(1) blur(2px)"), tokens.TokenTable()) or ()], ["grayscale", "unknown"]),
    ("effects", lambda: len(effects.parse_shadows(values("inset 0 0 0 9px red, 0 1px red"), tokens.TokenTable()) or ()), 2),
    ("effects", lambda: effects.parse_transform(values("scale(2) scale(3)"), tokens.TokenTable()).scale, 6.0),
    # bytes: a mark wins over what is declared, and all comes back to the byte
    ("text", lambda: text.decode_source(b"\xef\xbb\xbfa\xc3\xa9").encode("aé"), b"\xef\xbb\xbfa\xc3\xa9"),
    ("text", lambda: text.decode_source(b"caf\xe9", "iso-8859-1").text, "café"),
    ("source", lambda: source.Source("a.css", "p {\n  color: red }").line_of(6), 2),
    ("tokens", lambda: len({tokens.default_token(one) for one in tokens.DEFAULTS}), len(tokens.DEFAULTS)),
    # where start tags stand, attributes as written; what a script says is no markup
    ("markup", lambda: [tag.name for tag in read_markup("<p a='>'><script>'<b>'</script><i>").tags], ["p", "script", "i"]),
    ("markup", lambda: read_markup('<a href="x&amp;y">').tags[0].attribute("href").value, "x&y"),  # type: ignore[union-attr]
    ("tree", lambda: [one.tag for one in tree.parse_document("<p>a<p>b").elements if one.tag == "p"], ["p", "p"]),
    ("tree", lambda: OF_ID["two"].path().endswith("p:nth-child(4)>b:nth-child(3)"), True),
    ("tree", lambda: [tree.whole_number(one) for one in ("12", "3px", "x")], [12, None, None]),
    # HTML, 15.3: attributes as rules that weigh nothing
    ("hints", lambda: hinted("<body text=#123456><table bgcolor=#fff><tr><td bgcolor=red>x"), {"background-color": "Found"}),
    # HTML, 4.10.18.5: a field in the first legend of a disabled fieldset is not disabled
    ("controls", lambda: [one for one in ("in-legend", "shut") if controls.is_disabled(OF_ID[one])], ["shut"]),
    ("controls", lambda: controls.is_valid(OF_ID["mail"]), False),
    ("controls", lambda: (controls.has_range(OF_ID["far"]), controls.is_out_of_range(OF_ID["far"])), (True, True)),
    ("controls", lambda: controls.placeholder_shown(OF_ID["hint"]), True),
    ("pseudo_classes", lambda: pseudo_classes.language_matches(OF_ID["one"], ["en"]), True),
    ("pseudo_classes", lambda: pseudo_classes.direction(OF_ID["one"]), "rtl"),
    ("pseudo_classes", lambda: matching("a:any-link"), ["to"]),
    ("remembered", lambda: remembered.last_among(lambda e, s: e.tag == "b")(OF_ID["p"], State()), 3),
    ("remembered", lambda: remembered.earlier_sibling(lambda e, s: e.tag == "i")(OF_ID["two"], State()), True),
    # Selectors 4: of types, :has, :is, an+b of a selector; states as they are asked for
    ("selectors", lambda: matching("b:last-of-type"), ["two"]),
    ("selectors", lambda: matching("p:has(> b[lang=de])"), ["p"]),
    ("selectors", lambda: matching(":is(i, b):nth-child(1 of b)"), ["one"]),
    ("selectors", lambda: (matching("#to:hover"), matching("#to:hover", hover=True)), ([], ["to"])),
    ("selectors", lambda: [one.specificity for one in compile_selectors(VALUES("#a .b:is(c, #d)"))], [(2, 1, 0)]),
    ("selectors", lambda: compile_selectors(VALUES("p::nothing")), []),
]  # fmt: skip


def _stops(css: str) -> list[Any]:
    table = tokens.TokenTable()
    found = images.parse_image(values(css)[0], table)
    assert isinstance(found, images.CssGradient) and found.written is not None
    stops = [images.CssStop(SimpleNamespace(), None) for _ in found.written.stops]  # type: ignore[arg-type]
    for stop, written in zip(stops, found.written.stops, strict=True):
        stop.at = getattr(written, "at", None)
    images.place_stops(stops)
    return stops


@pytest.mark.parametrize(
    ("stage", "ask", "expected"), [pytest.param(*one, id=f"{one[0]}-{n}") for n, one in enumerate(STAGES)]
)
def test_a_stage_of_the_cascade(stage: str, ask: Callable[[], Any], expected: Any) -> None:
    assert ask() == expected, stage
