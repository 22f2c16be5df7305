"""The colours and size of an SVG picture, read by an XML parser that follows no entities and nothing outside.

What is not well-formed XML a browser does not draw as a picture (SVG 2, section 3.1), so what comes before its first
error counts for colours only.
"""

from __future__ import annotations

import contextlib
import re
from dataclasses import dataclass, field
from xml.parsers import expat

from glaucon.core.colour.value import TRANSPARENT, Colour, parse_css_colour

_SHAPES = frozenset("path rect circle ellipse polygon polyline line use text image".split())
_PAINTS = frozenset("fill stroke stop-color color".split())
_DECLARED = re.compile(r"(?:fill|stroke|stop-color|color)\s*:\s*([^;}\"']{1,100})")
_LENGTH = re.compile(r"\s*(\d{1,9}(?:\.\d{1,9})?)(?:px)?\s*")
_MOST_BYTES = 2_000_000
_MOST_COLOURS = 12


class _TooMuch(Exception):
    """The drawing declares entities, or is larger than is looked at."""


@dataclass(slots=True)
class Drawing:
    """What a drawing shows: its colours, the last few, and its own size in pixels where it says one."""

    colours: list[Colour] = field(default_factory=list)
    shapes: int = 0
    size: tuple[float, float] | None = None
    has_ground: bool = False
    _box: tuple[float, float] | None = None
    _elements: int = 0
    _is_style: bool = False

    def begin(self, name: str, attributes: dict[str, str]) -> None:
        """Take up an element."""
        tag = name.rpartition(":")[2]
        self._elements += 1
        self._is_style = tag == "style"
        if self._elements == 1:
            width, height = (_length(attributes.get(side, "")) for side in ("width", "height"))
            self._box = _box_of(attributes.get("viewBox", ""))
            if self._box is not None and min(self._box) > 0:  # one side follows from the other
                across, down = self._box
                width = height * across / down if width is None and height is not None else width
                height = width * down / across if height is None and width is not None else height
            self.size = (width, height) if width is not None and height is not None else None
        elif self._elements == 2 and tag == "rect" and self._box is not None:
            self.has_ground = all(_is_whole(attributes.get(s, ""), b) for s, b in zip(_SIDES, self._box, strict=True))
        self.shapes += tag in _SHAPES
        for key, value in attributes.items():
            if key in _PAINTS:
                self._add(value)
            elif key == "style":
                self.declare(value)

    def write(self, text: str) -> None:
        """Read character data: CSS if inside a `style` element, ignored elsewhere."""
        if self._is_style:
            self.declare(text)

    def declare(self, css: str) -> None:
        """Take up the colours of declarations."""
        for value in _DECLARED.findall(css):
            self._add(value)

    def _add(self, value: str) -> None:
        colour = parse_css_colour(value.strip()) if len(value) <= 100 else None
        if colour is not None and colour.alpha > 0:
            self.colours.append(colour)
            del self.colours[:-_MOST_COLOURS]

    @property
    def ratio(self) -> tuple[float, float] | None:
        """Return its proportions where it says no size, None where it says none."""
        return self._box if self.size is None and self._box is not None and min(self._box) > 0 else None

    def seen(self) -> tuple[Colour, ...]:
        """Return the colours that may be seen, and transparency where it need not fill its box."""
        colours = self.colours or ([Colour(0.0, 0.0, 0.0)] if self.shapes else [])  # black is the initial fill
        if colours and not self.has_ground:
            colours = [*colours, TRANSPARENT]
        return tuple(dict.fromkeys(colours[-_MOST_COLOURS:]))


_SIDES = ("width", "height")


def _refuse(*declared: object) -> None:
    raise _TooMuch


def read_drawing(data: bytes) -> Drawing:
    """Return what an SVG file shows."""
    drawing = Drawing()
    parser = expat.ParserCreate()
    parser.StartElementHandler = drawing.begin
    parser.CharacterDataHandler = drawing.write
    parser.EndElementHandler = lambda name: setattr(drawing, "_is_style", False)
    parser.EntityDeclHandler = _refuse
    parser.ExternalEntityRefHandler = lambda *asked: 0
    parser.SetParamEntityParsing(expat.XML_PARAM_ENTITY_PARSING_NEVER)
    with contextlib.suppress(expat.ExpatError, _TooMuch, ValueError):
        parser.Parse(data[:_MOST_BYTES], len(data) <= _MOST_BYTES)
    return drawing


def _length(text: str) -> float | None:
    found = _LENGTH.fullmatch(text)
    return float(found.group(1)) if found is not None else None


def _box_of(text: str) -> tuple[float, float] | None:
    parts = text.replace(",", " ").split(maxsplit=4)
    if len(parts) != 4:
        return None
    width, height = _length(parts[2]), _length(parts[3])
    return (width, height) if width is not None and height is not None else None


def _is_whole(text: str, side: float) -> bool:
    return text.strip() == "100%" or _length(text) == side
