"""CSS colour component values to expressions."""

from __future__ import annotations

import re
from typing import Any

import tinycss2
import tinycss2.ast

from glaucon.core.cascade.calculation import Calculation, evaluate_calculation, parse_calculation
from glaucon.core.cascade.expression import (
    Current,
    Expression,
    Faded,
    Found,
    LightDark,
    Literal,
    Mix,
    Relative,
    channels_of,
    colour_of_channels,
)
from glaucon.core.cascade.tokens import TokenTable, default_token
from glaucon.core.colour.value import BLACK, TRANSPARENT, WHITE, Colour, parse_css_colour

COLOUR_FUNCTIONS = frozenset({"rgb", "rgba", "hsl", "hsla", "hwb", "lab", "lch", "oklab", "oklch", "color"})
MIX_SPACES = {
    "srgb": "srgb",
    "srgb-linear": "srgb-linear",
    "lab": "lab",
    "oklab": "oklab",
    "xyz": "xyz-d65",
    "xyz-d65": "xyz-d65",
    "xyz-d50": "xyz-d50",
    "hsl": "hsl",
    "hwb": "hwb",
    "lch": "lch",
    "oklch": "oklch",
    "display-p3": "display-p3",
    "a98-rgb": "a98-rgb",
    "rec2020": "rec2020",
    "prophoto-rgb": "prophoto-rgb",
}
_PREDEFINED_SPACES = {"xyz": "xyz-d65"}


def _grey(level: int) -> Literal:
    return Literal(Colour(level / 255, level / 255, level / 255))


# CSS Color 4, section 6.2, with the values Chromium gives them on Linux.
SYSTEM_COLOURS: dict[str, Expression] = {
    "canvas": LightDark(Literal(WHITE), _grey(18)),
    "canvastext": LightDark(Literal(BLACK), Literal(WHITE)),
    "linktext": LightDark(Literal(Colour(0.0, 0.0, 238 / 255)), Literal(Colour(158 / 255, 158 / 255, 1.0))),
    "visitedtext": LightDark(
        Literal(Colour(85 / 255, 26 / 255, 139 / 255)), Literal(Colour(208 / 255, 173 / 255, 240 / 255))
    ),
    "activetext": LightDark(Literal(Colour(1.0, 0.0, 0.0)), Literal(Colour(1.0, 158 / 255, 158 / 255))),
    "buttonface": LightDark(_grey(239), _grey(107)),
    "buttontext": LightDark(Literal(BLACK), Literal(WHITE)),
    "buttonborder": LightDark(Literal(BLACK), Literal(WHITE)),
    "-webkit-focus-ring-color": LightDark(_grey(16), Literal(WHITE)),
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


def _default(token: str, system: str) -> LightDark:
    of_system = SYSTEM_COLOURS[system]
    assert isinstance(of_system, LightDark)
    return LightDark(Found(default_token(token)), of_system.dark)


# What the browser gives where no rule of the site speaks: a palette may change these, unlike the keywords.
DEFAULT_COLOURS: dict[str, Expression] = {
    "canvas": _default("default-canvas", "canvas"),
    "canvastext": _default("default-text", "canvastext"),
    "linktext": _default("default-link", "linktext"),
    "visitedtext": _default("default-visited", "visitedtext"),
}
_LINK_WORDS = frozenset({"linktext", "visitedtext"})
_AS_SYSTEM = {default: SYSTEM_COLOURS[name] for name, default in DEFAULT_COLOURS.items()}


def as_system(value: Any) -> Any:
    """Return a browser default as the plain colour it is, which a rule that asks for it by `revert` gets."""
    return _AS_SYSTEM.get(value, value) if isinstance(value, LightDark) else value


def significant(nodes: list[Any]) -> list[Any]:
    """Return component values without white space and comments."""
    return [n for n in nodes if n.type not in ("whitespace", "comment")]


# where quirks pages take hexadecimal digits without # for a colour (Quirks Mode Standard, section 3.1)
HASHLESS = frozenset("color background-color border-color".split()) | {
    f"border-{side}-color" for side in ("top", "right", "bottom", "left")
}
_HEX = re.compile(r"[0-9a-fA-F]{3}(?:[0-9a-fA-F]{3})?")


def with_hashes(nodes: list[Any]) -> list[Any]:
    """Return component values, those being hashes that quirks pages take for colours."""
    return [_with_hash(node) for node in nodes]


def _with_hash(node: Any) -> Any:
    digits = ""
    if node.type == "ident":
        digits = node.value
    elif node.type in ("number", "dimension") and node.is_integer and node.int_value >= 0:
        digits = f"{node.int_value}{getattr(node, 'unit', '')}".rjust(6, "0")
    if not _HEX.fullmatch(digits):
        return node
    return tinycss2.ast.HashToken(node.source_line, node.source_column, digits, True)


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
        plain = parse_css_colour(tinycss2.serialize([node]))
        arguments = significant(node.arguments)
        # one that is made from another colour is never plain: that other is not to be looked at here and there again
        is_relative = bool(arguments) and getattr(arguments[0], "lower_value", "") == "from"
        if plain is None and not is_relative and any(a.type == "function" for a in arguments):
            computed = _computed_expression(node.lower_name, arguments, TokenTable())
            return computed.colour if isinstance(computed, Literal) else None
        return plain
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
        if not table.base and node.lower_value in _LINK_WORDS:
            return DEFAULT_COLOURS[node.lower_value]  # the browser's own stylesheet, which has no file
        if node.lower_value in SYSTEM_COLOURS:
            return SYSTEM_COLOURS[node.lower_value]
    channels = _found_channels(node, table)
    if channels is not None:
        return channels
    plain = is_plain_colour(node)
    if plain is not None:
        return Literal(plain)
    if node.type == "function":
        return _function_expression(node, table)
    return None


def _found_channels(node: Any, table: TokenTable) -> Expression | None:
    """Return the expression of `rgb()` whose channels are one found token, put in by `var()`."""
    if node.type != "function" or node.lower_name not in ("rgb", "rgba"):
        return None
    arguments = [n for n in significant(node.arguments) if not (n.type == "literal" and n.value in ",/")]
    if len(arguments) not in (3, 4) or (number := table.number_of(arguments[0])) is None:
        return None
    if len(arguments) == 3:
        return Found(number)
    alpha = parse_calculation(arguments[3], frozenset(), 1.0)
    value = evaluate_calculation(alpha, {}) if alpha is not None else None
    if value is None:
        return None
    return Found(number) if value >= 1 else Faded(Found(number), max(0.0, value), False)


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
        return _computed_expression(name, arguments, table)
    return None


# The space a colour function speaks of, and what 100 % is of each channel (CSS Color 4, sections 4 to 10).
_FUNCTION_SPACES = {
    "rgb": ("srgb", (255.0, 255.0, 255.0)),
    "rgba": ("srgb", (255.0, 255.0, 255.0)),
    "hsl": ("hsl", (360.0, 100.0, 100.0)),
    "hsla": ("hsl", (360.0, 100.0, 100.0)),
    "hwb": ("hwb", (360.0, 100.0, 100.0)),
    "lab": ("lab", (100.0, 125.0, 125.0)),
    "lch": ("lch", (100.0, 150.0, 360.0)),
    "oklab": ("oklab", (1.0, 0.4, 0.4)),
    "oklch": ("oklch", (1.0, 0.4, 360.0)),
}


def _computed_expression(name: str, arguments: list[Any], table: TokenTable) -> Expression | None:
    """Return a colour function whose channels are computed: `rgb(calc(…) …)` or `oklch(from C l c h)`."""
    origin: Expression | None = None
    if arguments and arguments[0].type == "ident" and arguments[0].lower_value == "from":
        origin = colour_expression(arguments[1], table) if len(arguments) > 1 else None
        if origin is None:
            return None
        arguments = arguments[2:]
    space, full = _FUNCTION_SPACES.get(name, ("", (1.0, 1.0, 1.0)))
    if name == "color":
        word = getattr(arguments[0], "lower_value", "") if arguments else ""
        if word not in MIX_SPACES:
            return None
        space, arguments = f"color:{_PREDEFINED_SPACES.get(word, word)}", arguments[1:]
    arguments = [a for a in arguments if not (a.type == "literal" and a.value == ",")]
    names = frozenset((*channels_of(space.removeprefix("color:"))[0], "alpha")) if origin is not None else frozenset()
    slash = next((i for i, a in enumerate(arguments) if a.type == "literal" and a.value == "/"), None)
    alpha_nodes = arguments[slash + 1 :] if slash is not None else arguments[3:4]
    channels = [parse_calculation(a, names, whole) for a, whole in zip(arguments[:3], full, strict=False)]
    alpha: Calculation | None = ("c", "alpha") if origin is not None else ("n", 1.0)
    if alpha_nodes:
        alpha = parse_calculation(alpha_nodes[0], names, 1.0) if len(alpha_nodes) == 1 else None
    one, two, three = (*channels, None, None, None)[:3]
    expected = 3 + (len(alpha_nodes) + (slash is not None))
    if one is None or two is None or three is None or alpha is None or len(arguments) != expected:
        return None
    if origin is None:
        values = [evaluate_calculation(channel, {}) for channel in (one, two, three)]
        return Literal(colour_of_channels(space, values, evaluate_calculation(alpha, {})))
    return Relative(space, origin, (one, two, three), alpha)


def _mix_expression(node: Any, table: TokenTable) -> Expression | None:
    parts = [significant(p) for p in split_commas(node.arguments)]
    space, hue = "oklab", "shorter"
    if parts and parts[0] and parts[0][0].type == "ident" and parts[0][0].lower_value == "in":
        words = [getattr(n, "lower_value", "") for n in parts.pop(0)[1:]]
        if not words or words[0] not in MIX_SPACES:
            return None
        space = MIX_SPACES[words[0]]
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
