"""Borders, outlines and the lines of text decoration: the grammar of their longhands and shorthands.

Sources: CSS Backgrounds and Borders Level 3, section 3; CSS Basic User Interface Level 4, section 3 (outlines); CSS
Text Decoration Level 3, section 2.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from glaucon.core.cascade.expression import Current
from glaucon.core.cascade.properties.colours import colour_expression
from glaucon.core.cascade.properties.lengths import parse_length
from glaucon.core.cascade.properties.values import Keyword
from glaucon.core.cascade.tokens import TokenTable

Parse = Callable[[list[Any], TokenTable], Any]
Expand = Callable[[list[Any], TokenTable], dict[str, Any] | None]

SIDES = ("top", "right", "bottom", "left")
_STYLES = frozenset("none hidden dotted dashed solid double groove ridge inset outset".split())
_WIDTHS = {"thin": 1.0, "medium": 3.0, "thick": 5.0}
_LINES = frozenset("none underline overline line-through blink".split())
_DECORATION_STYLES = frozenset("solid double dotted dashed wavy".split())
_NONE, _MEDIUM = Keyword("none"), lambda context: _WIDTHS["medium"]
# of each side of a box, the property that a logical name stands for where text runs from left to right
LOGICAL = {"block-start": "top", "block-end": "bottom", "inline-start": "left", "inline-end": "right"}


def _style(*more: str) -> Parse:
    allowed = _STYLES | set(more)

    def parse(tokens: list[Any], table: TokenTable) -> Any:
        word = getattr(tokens[0], "lower_value", "") if len(tokens) == 1 else ""
        return Keyword(word) if word in allowed else None

    return parse


def _width(tokens: list[Any], table: TokenTable) -> Any:
    if len(tokens) != 1:
        return None
    if getattr(tokens[0], "lower_value", None) in _WIDTHS:
        px = _WIDTHS[tokens[0].lower_value]
        return lambda context: px
    return None if tokens[0].type == "percentage" else parse_length(tokens[0])


def _colour(tokens: list[Any], table: TokenTable) -> Any:
    if len(tokens) != 1:
        return None
    if getattr(tokens[0], "lower_value", "") in ("auto", "invert"):
        return Current()  # of an outline that the browser draws
    return colour_expression(tokens[0], table)


def _decoration_line(tokens: list[Any], table: TokenTable) -> Any:
    words = [getattr(token, "lower_value", "") for token in tokens]
    if not words or not _LINES.issuperset(words):
        return None
    return _NONE if words == ["none"] else tuple(words)


LINE_LONGHANDS: dict[str, Parse] = {
    **{f"border-{side}-style": _style() for side in SIDES},
    **{f"border-{side}-width": _width for side in SIDES},
    **{f"border-{side}-color": _colour for side in SIDES},
    "outline-style": _style("auto"),
    "outline-width": _width,
    "outline-color": _colour,
    "outline-offset": _width,
    "text-decoration-line": _decoration_line,
    "text-decoration-color": _colour,
}
LINE_INITIAL: dict[str, Any] = {
    **{f"border-{side}-style": _NONE for side in SIDES},
    **{f"border-{side}-width": _MEDIUM for side in SIDES},
    **{f"border-{side}-color": Current() for side in SIDES},
    "outline-style": _NONE,
    "outline-width": _MEDIUM,
    "outline-color": Current(),
    "outline-offset": lambda context: 0.0,
    "text-decoration-line": _NONE,
    "text-decoration-color": Current(),
}
LINE_COLOURS = frozenset(name for name in LINE_LONGHANDS if name.endswith("-color"))
_EDGES = {"border": SIDES, "border-block": ("top", "bottom"), "border-inline": ("left", "right"),
          **{f"border-{side}": (side,) for side in SIDES}}  # fmt: skip


def _edge(*names: str, auto: bool = False) -> Expand:
    """Return what reads `<width> || <style> || <colour>` for the lines of some names: `border-top`, `outline`."""
    style_of = _style("auto") if auto else _style()

    def expand(tokens: list[Any], table: TokenTable) -> dict[str, Any] | None:
        found: dict[str, Any] = {}
        for token in tokens:
            for part, parse in (("width", _width), ("style", style_of), ("color", _colour)):
                value = parse([token], table) if part not in found else None
                if value is not None:
                    found[part] = value
                    break
            else:
                return None
        every = {"width": _MEDIUM, "style": _NONE, "color": Current(), **found}
        return {f"{name}-{part}": value for name in names for part, value in every.items()}

    return expand


def _around(part: str, sides: tuple[str, ...]) -> Expand:
    """Return what reads one to four values for the sides of a box."""
    parse = {"width": _width, "style": _style(), "color": _colour}[part]

    def expand(tokens: list[Any], table: TokenTable) -> dict[str, Any] | None:
        values = [parse([token], table) for token in tokens]
        if not 1 <= len(values) <= len(sides) or None in values:
            return None
        picks = {1: (0, 0, 0, 0), 2: (0, 1, 0, 1), 3: (0, 1, 2, 1), 4: (0, 1, 2, 3)}[len(values)]
        return {f"border-{side}-{part}": values[pick] for side, pick in zip(sides, picks, strict=False)}

    return expand


def _decoration(tokens: list[Any], table: TokenTable) -> dict[str, Any] | None:
    lines: list[str] = []
    colour: Any = Current()
    for token in tokens:
        word = getattr(token, "lower_value", "")
        if word in _LINES:
            lines.append(word)
        elif word in _DECORATION_STYLES or word in ("auto", "from-font") or parse_length(token) is not None:
            continue
        elif (found := colour_expression(token, table)) is not None:
            colour = found
        else:
            return None
    shown = tuple(line for line in lines if line != "none")
    return {"text-decoration-line": shown or _NONE, "text-decoration-color": colour}


LINE_EXPAND: dict[str, Expand] = {
    **{name: _edge(*(f"border-{side}" for side in sides)) for name, sides in _EDGES.items()},
    **{f"border-{part}": _around(part, SIDES) for part in ("width", "style", "color")},
    **{f"border-block-{part}": _around(part, ("top", "bottom")) for part in ("width", "style", "color")},
    **{f"border-inline-{part}": _around(part, ("left", "right")) for part in ("width", "style", "color")},
    "outline": _edge("outline", auto=True),
    "text-decoration": _decoration,
}
_PARTS = ("width", "style", "color")
LINE_SHORTHANDS: dict[str, tuple[str, ...]] = {
    **{name: tuple(f"border-{side}-{part}" for side in sides for part in _PARTS) for name, sides in _EDGES.items()},
    **{f"border-{part}": tuple(f"border-{side}-{part}" for side in SIDES) for part in _PARTS},
    **{f"border-block-{part}": (f"border-top-{part}", f"border-bottom-{part}") for part in _PARTS},
    **{f"border-inline-{part}": (f"border-left-{part}", f"border-right-{part}") for part in _PARTS},
    "outline": tuple(f"outline-{part}" for part in _PARTS),
    "text-decoration": ("text-decoration-line", "text-decoration-color"),
}
LINE_ALIASES = {
    **{f"border-{logical}": f"border-{side}" for logical, side in LOGICAL.items()},
    **{f"border-{logical}-{part}": f"border-{side}-{part}" for logical, side in LOGICAL.items() for part in _PARTS},
    "-webkit-text-decoration": "text-decoration",
    "-webkit-text-decoration-line": "text-decoration-line",
    "-webkit-text-decoration-color": "text-decoration-color",
}
