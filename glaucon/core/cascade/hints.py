"""Presentational attributes as the declarations they stand for (HTML, section 15.3)."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from typing import Any

from glaucon.core.cascade.expression import Current, Expression, Found, Literal
from glaucon.core.cascade.properties.colours import SYSTEM_COLOURS
from glaucon.core.cascade.properties.images import CssPicture
from glaucon.core.cascade.properties.lengths import LengthContext
from glaucon.core.cascade.properties.values import Keyword
from glaucon.core.cascade.selectors.state import State
from glaucon.core.cascade.source import Source
from glaucon.core.cascade.tokens import TokenTable
from glaucon.core.cascade.tree import Element
from glaucon.core.colour.value import TRANSPARENT, Colour, parse_css_colour

_BACKGROUND_TAGS = frozenset({"body", "table", "thead", "tbody", "tfoot", "tr", "td", "th"})
_FONT_SIZE = re.compile(r"\s*([+-]?)[0-9]{1,9}")  # HTML, rules for parsing a legacy font size
# <font size>: 1..7 to font-size keywords, in pixels at the usual medium of 16
_FONT_SIZES_PX = {1: 10.0, 2: 13.0, 3: 16.0, 4: 18.0, 5: 24.0, 6: 32.0, 7: 48.0}
_PAINTS: dict[str, Expression] = {"none": Literal(TRANSPARENT), "currentcolor": Current()}


def legacy_colour(text: str) -> Colour | None:
    """Return the colour of an attribute such as bgcolor (HTML, rules for parsing a legacy colour value)."""
    text = text.strip()
    if not text or text.lower() == "transparent":
        return None
    named = parse_css_colour(text) if text.isalpha() or (text[0] == "#" and len(text) == 4) else None
    if named is not None:
        return named
    text = "".join("00" if ord(c) > 0xFFFF else c for c in text)[:128].removeprefix("#")
    digits = "".join(c if c in "0123456789abcdefABCDEF" else "0" for c in text) or "0"
    digits += "0" * (-len(digits) % 3)
    third = len(digits) // 3
    parts = [digits[i * third : (i + 1) * third] for i in range(3)]
    if third > 8:
        parts, third = [p[third - 8 :] for p in parts], 8
    while third > 2 and all(p[0] == "0" for p in parts):
        parts, third = [p[1:] for p in parts], third - 1
    r, g, b = (int(p[:2], 16) / 255 for p in parts)
    return Colour(r, g, b)


class Hints:
    """Reads the presentational attributes of a page's elements, each colour a token of its own."""

    def __init__(self, file: str, source: str, table: TokenTable) -> None:
        self._source = Source(file, source)
        self._table = table
        self._colours: dict[tuple[int, str, str], Expression | None] = {}

    def of(
        self, element: Element, state: State, body: Element | None, body_colour: Expression | None = None
    ) -> dict[str, Any]:
        """Return the values an element's attributes set; empty for nearly all elements."""
        values: dict[str, Any] = {}
        attributes = element.attributes
        tag = element.tag
        if tag == "table" and element.quirky:
            # the quirks sheet of browsers: a table starts from the body's text colour
            values["color"] = body_colour or SYSTEM_COLOURS["canvastext"]
        if not attributes:
            return values
        if tag in _BACKGROUND_TAGS:
            if "bgcolor" in attributes:
                self._put(values, "background-color", element, "bgcolor")
            if attributes.get("background"):
                values["background-image"] = (CssPicture(attributes["background"]),)
        if tag == "body" and "text" in attributes:
            self._put(values, "color", element, "text")
        if tag == "font":
            self._font(values, element)
        if tag == "a" and "href" in attributes and body is not None:
            self._put(values, "color", body, "vlink" if state.visited else "link")
        if element.foreign:
            for name in ("fill", "stroke"):
                if name in attributes:
                    self._paint(values, name, element)
        return values

    def tokens_of(self, elements: Iterable[Element]) -> set[int]:
        """Return the tokens that the attributes of some elements are, as far as they were read."""
        found = (self._colours.get(_key(element, name)) for element in elements for name in element.attributes)
        return {colour.token for colour in found if isinstance(colour, Found)}

    def _put(self, values: dict[str, Any], name: str, element: Element, attribute: str) -> None:
        colour = self._colour(element, attribute)
        if colour is not None:
            values[name] = colour

    def _paint(self, values: dict[str, Any], name: str, element: Element) -> None:
        """Put what a shape is filled or drawn with (SVG 2, section 13.2); only fills are tokens of the palette."""
        text = element.attributes[name].strip().lower()
        if text in _PAINTS:
            values[name] = _PAINTS[text]
        elif text.startswith("url("):
            values[name] = Keyword("url")
        elif name == "fill":
            self._put(values, name, element, name)
        elif (colour := parse_css_colour(text)) is not None:
            values[name] = Literal(colour)

    def _font(self, values: dict[str, Any], element: Element) -> None:
        self._put(values, "color", element, "color")
        size = _FONT_SIZE.match(element.attributes.get("size", ""))
        if size is not None:
            number = int(size.group()) + (3 if size.group(1) else 0)
            px = _FONT_SIZES_PX[max(1, min(7, number))]
            values["font-size"] = _constant(px)

    def _colour(self, element: Element, attribute: str) -> Expression | None:
        text = element.attributes.get(attribute)
        if text is None:
            return None
        key = _key(element, attribute)
        if key not in self._colours:
            self._colours[key] = self._token(element, attribute, text)
        return self._colours[key]

    def _token(self, element: Element, attribute: str, text: str) -> Expression | None:
        colour = parse_css_colour(text) if element.foreign else legacy_colour(text)
        if colour is None:
            return None
        written = element.source.attribute(attribute) if element.source else None
        place = (self._source.file, -1, -1, 0, 0)
        if written is not None and written.raw == text:
            line = self._source.line_of(written.start)
            column = written.start - self._source.index(line, 1) + 1
            place = (self._source.file, written.start, written.end, line, column)
        number = self._table.add(
            text, colour, kind="attribute", prop=attribute, selector=f"<{element.tag}>", place=place
        )
        return Found(number)


def _key(element: Element, attribute: str) -> tuple[int, str, str]:
    """Return what an attribute's colour is known by: its tag in the source is the same with something opened."""
    return id(element.source or element), attribute, element.attributes[attribute]


def _constant(px: float) -> Callable[[LengthContext], float]:
    return lambda context: px
