"""Declarations: what a browser would take of them as values of longhands; shorthands and aliases written out.

A declaration that a browser would not accept gives None and is dropped, itself alone (CSS Syntax, section 2.2).
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from glaucon.core.cascade.properties.backgrounds import expand_background, parse_layers, parse_position
from glaucon.core.cascade.properties.colours import significant
from glaucon.core.cascade.properties.lines import LINE_ALIASES, LINE_EXPAND, LINE_SHORTHANDS
from glaucon.core.cascade.properties.longhands import (
    LONGHANDS,
    OVERFLOW,
    WIDE_KEYWORDS,
    PendingValue,
    parse_font_family,
    parse_font_size,
    parse_font_weight,
    parse_length_or,
)
from glaucon.core.cascade.properties.values import Keyword
from glaucon.core.cascade.tokens import TokenTable

_BACKGROUND = tuple(name for name in LONGHANDS if name.startswith("background-") and name != "background-blend-mode")
_SIDES = ("top", "right", "bottom", "left")
SHORTHANDS: dict[str, tuple[str, ...]] = {
    "background": _BACKGROUND,
    "background-position": ("background-position-x", "background-position-y"),
    "font": ("font-size", "font-weight", "font-family"),
    "overflow": ("overflow-x", "overflow-y"),
    "inset": _SIDES,
    "inset-block": ("top", "bottom"),
    "inset-inline": ("left", "right"),
    "list-style": ("list-style-type",),
    "flex": ("flex-basis",),
    "container": ("container-name", "container-type"),
    **LINE_SHORTHANDS,
    "all": tuple(LONGHANDS),
}
for _box in ("margin", "padding"):
    SHORTHANDS[_box] = tuple(f"{_box}-{side}" for side in _SIDES)
    SHORTHANDS[f"{_box}-block"] = (f"{_box}-top", f"{_box}-bottom")
    SHORTHANDS[f"{_box}-inline"] = (f"{_box}-left", f"{_box}-right")
ALIASES = {
    "-webkit-background-clip": "background-clip",
    "-webkit-opacity": "opacity",
    "-webkit-filter": "filter",
    "-webkit-transform": "transform",
    "-webkit-clip-path": "clip-path",
    "-webkit-box-shadow": "box-shadow",
    "-webkit-background-size": "background-size",
    "-webkit-background-origin": "background-origin",
    "-webkit-mask-image": "mask-image",
    "-webkit-mask": "mask-image",
    "mask": "mask-image",
    "-webkit-flex": "flex",
    "-webkit-flex-basis": "flex-basis",
    "-webkit-box-sizing": "box-sizing",
    "-webkit-perspective": "perspective",
    "inset-inline-start": "left",
    "inset-inline-end": "right",
    "inset-block-start": "top",
    "inset-block-end": "bottom",
    "inline-size": "width",
    "block-size": "height",
    "max-inline-size": "max-width",
    "max-block-size": "max-height",
    "min-inline-size": "min-width",
    "min-block-size": "min-height",
    **LINE_ALIASES,
}
for _box in ("margin", "padding"):
    for _logical, _side in (
        ("inline-start", "left"),
        ("inline-end", "right"),
        ("block-start", "top"),
        ("block-end", "bottom"),
    ):
        ALIASES[f"{_box}-{_logical}"] = f"{_box}-{_side}"


def parse_declaration(name: str, tokens: list[Any], table: TokenTable) -> dict[str, Any] | None:
    """Return the longhand values a declaration sets, {} where it is of no interest, None where invalid."""
    name = ALIASES.get(name, name)
    if name not in LONGHANDS and name not in SHORTHANDS:
        return {}
    longhands = SHORTHANDS.get(name, (name,))
    tokens = significant(tokens)
    if not tokens:
        return None
    if has_var(tokens):
        pending = PendingValue(name, tuple(tokens), table.base)
        return dict.fromkeys(longhands, pending)
    if len(tokens) == 1 and tokens[0].type == "ident" and tokens[0].lower_value in WIDE_KEYWORDS:
        return dict.fromkeys(longhands, Keyword(tokens[0].lower_value))
    if name in LONGHANDS:
        value = LONGHANDS[name](tokens, table)
        return None if value is None else {name: value}
    return _EXPAND[name](tokens, table) if name in _EXPAND else None


def has_var(tokens: list[Any]) -> bool:
    """Return whether component values contain a `var()` or `env()`, at any depth."""
    for node in tokens:
        if node.type == "function":
            if node.lower_name in ("var", "env") or has_var(node.arguments):
                return True
        elif node.type in ("() block", "[] block", "{} block") and has_var(node.content):
            return True
    return False


_SYSTEM_FONTS = frozenset({"caption", "icon", "menu", "message-box", "small-caption", "status-bar"})
_FONT_WORDS = frozenset(
    "normal italic oblique small-caps ultra-condensed extra-condensed condensed semi-condensed semi-expanded "
    "expanded extra-expanded ultra-expanded".split()
)


def _expand_font(tokens: list[Any], table: TokenTable) -> dict[str, Any] | None:
    if len(tokens) == 1 and getattr(tokens[0], "lower_value", "") in _SYSTEM_FONTS:
        return {"font-size": parse_system_font_size(), "font-weight": 400, "font-family": ("system-ui",)}
    weight: Any = 400
    for index, node in enumerate(tokens):
        size = parse_font_size([node], table)
        is_size = size is not None and not (node.type == "number" and node.value == 0)
        if is_size and not (node.type == "ident" and node.lower_value in _FONT_WORDS):
            rest = tokens[index + 1 :]
            if rest and rest[0] == "/":
                rest = rest[2:]
            family = parse_font_family(rest, table) if rest else None
            if family is None:
                return None
            return {"font-size": size, "font-weight": weight, "font-family": family}
        found = parse_font_weight([node], table)
        if found is not None and getattr(node, "lower_value", "") != "normal":
            weight = found
        elif not (node.type == "ident" and node.lower_value in _FONT_WORDS):
            return None
    return None


def parse_system_font_size() -> Any:
    """Return the size of the system fonts in Chromium on Linux."""
    return lambda context: 16.0


def _expand_overflow(tokens: list[Any], table: TokenTable) -> dict[str, Any] | None:
    values = [OVERFLOW([t], table) for t in tokens]
    if len(values) not in (1, 2) or None in values:
        return None
    return {"overflow-x": values[0], "overflow-y": values[-1]}


def _expand_sides(*sides: str) -> Callable[[list[Any], TokenTable], dict[str, Any] | None]:
    one = parse_length_or("auto")

    def expand(tokens: list[Any], table: TokenTable) -> dict[str, Any] | None:
        values = [one([t], table) for t in tokens]
        if not 1 <= len(values) <= len(sides) or any(v is None for v in values):
            return None
        picks = {1: (0, 0, 0, 0), 2: (0, 1, 0, 1), 3: (0, 1, 2, 1), 4: (0, 1, 2, 3)}[len(values)]
        return {side: values[pick] for side, pick in zip(sides, picks, strict=False)}

    return expand


def _expand_list_style(tokens: list[Any], table: TokenTable) -> dict[str, Any] | None:
    words = [t for t in tokens if t.type == "ident" and t.lower_value not in ("inside", "outside")]
    return {"list-style-type": Keyword(words[-1].lower_value) if words else Keyword("disc")}


def _expand_position(tokens: list[Any], table: TokenTable) -> dict[str, Any] | None:
    both = parse_layers(tokens, parse_position)
    if both is None:
        return None
    return {
        "background-position-x": tuple(position[0] for position in both),
        "background-position-y": tuple(position[1] for position in both),
    }


def _expand_flex(tokens: list[Any], table: TokenTable) -> dict[str, Any] | None:
    """Return the basis of `flex: 1 1 25%`; a flexible width of 0 and of `auto` both depend on layout."""
    for node in reversed(tokens):
        basis = LONGHANDS["flex-basis"]([node], table) if node.type != "number" else None
        if basis is not None:
            return {"flex-basis": basis}
    return {"flex-basis": Keyword("auto")}


def _expand_container(tokens: list[Any], table: TokenTable) -> dict[str, Any] | None:
    slash = next((i for i, t in enumerate(tokens) if t == "/"), len(tokens))
    kind = LONGHANDS["container-type"](tokens[slash + 1 :], table) if slash < len(tokens) else Keyword("normal")
    return None if kind is None else {"container-name": tuple(tokens[:slash]), "container-type": kind}


_EXPAND: dict[str, Callable[[list[Any], TokenTable], dict[str, Any] | None]] = {
    "background": expand_background,
    "background-position": _expand_position,
    "flex": _expand_flex,
    "container": _expand_container,
    "font": _expand_font,
    "overflow": _expand_overflow,
    "inset": _expand_sides("top", "right", "bottom", "left"),
    "inset-block": _expand_sides("top", "bottom"),
    "inset-inline": _expand_sides("left", "right"),
    "list-style": _expand_list_style,
    **LINE_EXPAND,
    **{box: _expand_sides(*SHORTHANDS[box]) for box in SHORTHANDS if box.startswith(("margin", "padding"))},
}

# Where a colour name is a colour: the properties whose grammar takes one (custom properties are read apart).
COLOUR_PROPERTIES = frozenset(
    {
        "color", "background", "background-color", "background-image", "border", "border-color", "border-top",
        "border-right", "border-bottom", "border-left", "border-top-color", "border-right-color",
        "border-bottom-color", "border-left-color", "border-block", "border-inline", "border-block-color",
        "border-inline-color", "border-block-start", "border-block-end", "border-inline-start", "border-inline-end",
        "border-block-start-color", "border-block-end-color", "border-inline-start-color", "border-inline-end-color",
        "border-image", "border-image-source", "outline", "outline-color", "box-shadow", "text-shadow",
        "text-decoration", "text-decoration-color", "text-emphasis", "text-emphasis-color", "column-rule",
        "column-rule-color", "caret-color", "accent-color", "fill", "stroke", "stop-color", "flood-color",
        "lighting-color", "scrollbar-color", "list-style", "list-style-image", "filter", "backdrop-filter",
        "-webkit-text-fill-color", "-webkit-text-stroke", "-webkit-text-stroke-color", "-webkit-tap-highlight-color",
        "-webkit-box-shadow",
    }
)  # fmt: skip
