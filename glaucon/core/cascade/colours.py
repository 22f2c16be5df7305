"""CSS colour component values to expressions."""

from __future__ import annotations

from typing import Any

import tinycss2

from glaucon.core.cascade.expression import (
    Current,
    Expression,
    Faded,
    Found,
    LightDark,
    Literal,
    Mix,
    Unknown,
)
from glaucon.core.cascade.tokens import TokenTable, default_token
from glaucon.core.colour.value import BLACK, TRANSPARENT, WHITE, Colour, parse_css_colour

COLOUR_FUNCTIONS = frozenset({"rgb", "rgba", "hsl", "hsla", "hwb", "lab", "lch", "oklab", "oklch", "color"})
_MIX_SPACES = {
    "srgb": "srgb",
    "srgb-linear": "srgb-linear",
    "lab": "lab-d65",
    "oklab": "oklab",
    "xyz": "xyz-d65",
    "xyz-d65": "xyz-d65",
    "xyz-d50": "xyz-d50",
    "hsl": "hsl",
    "hwb": "hwb",
    "lch": "lch-d65",
    "oklch": "oklch",
    "display-p3": "display-p3",
    "a98-rgb": "a98-rgb",
    "rec2020": "rec2020",
    "prophoto-rgb": "prophoto-rgb",
}


def _grey(level: int) -> Literal:
    return Literal(Colour(level / 255, level / 255, level / 255))


# CSS Color 4, section 6.2, with the values Chromium gives them on Linux.
SYSTEM_COLOURS: dict[str, Expression] = {
    "canvas": LightDark(Found(default_token("default-canvas")), _grey(18)),
    "canvastext": LightDark(Found(default_token("default-text")), Literal(WHITE)),
    "linktext": LightDark(Found(default_token("default-link")), Literal(Colour(158 / 255, 158 / 255, 1.0))),
    "visitedtext": LightDark(Found(default_token("default-visited")), Literal(Colour(208 / 255, 173 / 255, 240 / 255))),
    "activetext": LightDark(Literal(Colour(1.0, 0.0, 0.0)), Literal(Colour(1.0, 158 / 255, 158 / 255))),
    "buttonface": LightDark(_grey(239), _grey(107)),
    "buttontext": LightDark(Literal(BLACK), Literal(WHITE)),
    "buttonborder": LightDark(Literal(BLACK), Literal(WHITE)),
    "field": LightDark(Literal(WHITE), _grey(59)),
    "fieldtext": LightDark(Literal(BLACK), Literal(WHITE)),
    "highlight": LightDark(
        Literal(Colour(25 / 255, 103 / 255, 210 / 255, 0.8)), Literal(Colour(25 / 255, 103 / 255, 210 / 255, 0.8))
    ),
    "highlighttext": LightDark(Literal(BLACK), Literal(WHITE)),
    "mark": Literal(Colour(1.0, 1.0, 0.0)),
    "marktext": Literal(BLACK),
    "graytext": LightDark(_grey(128), _grey(128)),
    "selecteditem": Literal(Colour(25 / 255, 103 / 255, 210 / 255)),
    "selecteditemtext": Literal(WHITE),
    "accentcolor": Literal(Colour(0.0, 117 / 255, 1.0)),
    "accentcolortext": Literal(WHITE),
}


def significant(nodes: list[Any]) -> list[Any]:
    """Return component values without white space and comments."""
    return [n for n in nodes if n.type not in ("whitespace", "comment")]


def split_commas(nodes: list[Any]) -> list[list[Any]]:
    """Return the comma-separated parts of component values."""
    parts: list[list[Any]] = [[]]
    for node in nodes:
        if node.type == "literal" and node.value == ",":
            parts.append([])
        else:
            parts[-1].append(node)
    return parts


def is_plain_colour(node: Any) -> Colour | None:
    """Return the colour of a token that stands for itself: hex, name or colour function with numbers."""
    if node.type == "hash":
        return parse_css_colour(f"#{node.value}")
    if node.type == "ident":
        lowered = node.lower_value
        if lowered in SYSTEM_COLOURS or lowered in ("currentcolor", "transparent"):
            return None
        return parse_css_colour(lowered)
    if node.type == "function" and node.lower_name in COLOUR_FUNCTIONS:
        return parse_css_colour(tinycss2.serialize([node]))
    return None


def colour_expression(node: Any, table: TokenTable) -> Expression | None:
    """Return the expression of one component value, or None where it is no valid colour."""
    if node.type not in ("hash", "ident", "function"):
        return None
    number = table.number_of(node)
    if number is not None:
        return Found(number)
    if node.type == "ident":
        if node.lower_value == "currentcolor":
            return Current()
        if node.lower_value == "transparent":
            return Literal(TRANSPARENT)
        if node.lower_value in SYSTEM_COLOURS:
            return SYSTEM_COLOURS[node.lower_value]
    plain = is_plain_colour(node)
    if plain is not None:
        return Literal(plain)
    if node.type == "function":
        return _function_expression(node, table)
    return None


def _function_expression(node: Any, table: TokenTable) -> Expression | None:
    name = node.lower_name
    if name == "light-dark":
        parts = [significant(p) for p in split_commas(node.arguments)]
        if len(parts) != 2 or any(len(p) != 1 for p in parts):
            return None
        light, dark = (colour_expression(p[0], table) for p in parts)
        return LightDark(light, dark) if light is not None and dark is not None else None
    if name == "color-mix":
        return _mix_expression(node, table)
    if name in COLOUR_FUNCTIONS:
        arguments = significant(node.arguments)
        if arguments and arguments[0].type == "ident" and arguments[0].lower_value == "from":
            return _relative_expression(name, arguments[1:], table)
        if any(a.type == "function" for a in arguments):
            return Unknown("a colour computed by a function inside another is not read")
    return None


def _relative_expression(name: str, arguments: list[Any], table: TokenTable) -> Expression | None:
    """Return `rgb(from C r g b / a)`; relative colours that change channels are told as unknown."""
    origin = colour_expression(arguments[0], table) if arguments else None
    if origin is None:
        return None
    rest = arguments[1:]
    channels = [getattr(a, "lower_value", "") if a.type == "ident" else "" for a in rest[:3]]
    kept = {
        "rgb": "rgb",
        "rgba": "rgb",
        "hsl": "hsl",
        "hsla": "hsl",
        "hwb": "hwb",
        "oklch": "lch",
        "lch": "lch",
        "oklab": "lab",
        "lab": "lab",
    }.get(name, "")
    if len(rest) == 3 and channels == list(kept):
        return origin
    slash = len(rest) == 5 and rest[3].type == "literal" and rest[3].value == "/"
    if slash and channels == list(kept):
        if rest[4].type == "number":
            return Faded(origin, max(0.0, min(1.0, rest[4].value)))
        if rest[4].type == "percentage":
            return Faded(origin, max(0.0, min(1.0, rest[4].value / 100)))
    return Unknown("a relative colour that changes channels is not read")


def _mix_expression(node: Any, table: TokenTable) -> Expression | None:
    parts = [significant(p) for p in split_commas(node.arguments)]
    space, hue = "oklab", "shorter"
    if parts and parts[0] and parts[0][0].type == "ident" and parts[0][0].lower_value == "in":
        words = [getattr(n, "lower_value", "") for n in parts.pop(0)[1:]]
        if not words or words[0] not in _MIX_SPACES:
            return None
        space = _MIX_SPACES[words[0]]
        hue = words[1] if len(words) == 3 and words[2] == "hue" else "shorter"
    if len(parts) != 2:
        return None
    sides: list[tuple[Expression, float | None]] = []
    for part in parts:
        shares = [n.value / 100 for n in part if n.type == "percentage"]
        others = [n for n in part if n.type != "percentage"]
        if len(others) != 1 or len(shares) > 1:
            return None
        colour = colour_expression(others[0], table)
        if colour is None:
            return None
        sides.append((colour, shares[0] if shares else None))
    (one, p1), (other, p2) = sides
    p1, p2 = _shares(p1, p2)
    total = p1 + p2
    if total <= 0:
        return None
    return Mix(space, one, other, p2 / total, min(1.0, total), hue)


def _shares(p1: float | None, p2: float | None) -> tuple[float, float]:
    """Return both percentages as CSS Color 5, section 2.1, fills them in."""
    if p1 is None and p2 is None:
        return 0.5, 0.5
    if p1 is None:
        assert p2 is not None
        return 1 - p2, p2
    if p2 is None:
        return p1, 1 - p1
    return p1, p2
