"""The properties that decide a text's colour, size and background: grammar, shorthands, initial values.

A declaration that a browser would not accept gives None and is dropped, itself alone (CSS Syntax, section 2.2).
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from glaucon.core.cascade.backgrounds import (
    BOXES,
    INITIAL_POSITION,
    INITIAL_REPEAT,
    INITIAL_SIZE,
    expand_background,
    keyword_of,
    parse_layers,
    parse_position,
    parse_repeat,
    parse_size,
)
from glaucon.core.cascade.colours import colour_expression, significant, split_commas
from glaucon.core.cascade.effects import Move, parse_filter, parse_shadows, parse_transform
from glaucon.core.cascade.expression import Current, Literal
from glaucon.core.cascade.images import is_image, parse_image
from glaucon.core.cascade.lengths import parse_length
from glaucon.core.cascade.tokens import TokenTable
from glaucon.core.cascade.values import Keyword
from glaucon.core.colour.value import BLACK, TRANSPARENT


@dataclass(frozen=True, slots=True)
class Pending:
    """A value with `var()` in it, parsed when the element's custom properties are known.

    `base` is the file it stands in: addresses in it are relative to that.
    """

    shorthand: str
    tokens: tuple[Any, ...]
    base: str = ""


WIDE_KEYWORDS = frozenset({"inherit", "initial", "unset", "revert", "revert-layer"})
Parse = Callable[[list[Any], TokenTable], Any]

INHERITED = frozenset(
    {
        "color", "visibility", "font-size", "font-weight", "font-family", "fill", "stroke", "text-indent",
        "color-scheme", "-webkit-text-fill-color", "list-style-type",
    }
)  # fmt: skip

INITIAL: dict[str, Any] = {
    "color": Keyword("canvastext"),
    "background-color": Literal(TRANSPARENT),
    "background-image": (None,),
    "background-clip": (Keyword("border-box"),),
    "background-origin": (Keyword("padding-box"),),
    "background-attachment": (Keyword("scroll"),),
    "background-position-x": (INITIAL_POSITION[0],),
    "background-position-y": (INITIAL_POSITION[1],),
    "background-size": (INITIAL_SIZE,),
    "background-repeat": (INITIAL_REPEAT,),
    "background-blend-mode": (Keyword("normal"),),
    "box-shadow": (),
    "opacity": 1.0,
    "visibility": Keyword("visible"),
    "display": Keyword("inline"),
    "position": Keyword("static"),
    "float": Keyword("none"),
    "content": Keyword("normal"),
    "content-visibility": Keyword("visible"),
    "mix-blend-mode": Keyword("normal"),
    "filter": (),
    "isolation": Keyword("auto"),
    "will-change": Keyword("auto"),
    "contain": Keyword("none"),
    "perspective": Keyword("none"),
    "backdrop-filter": Keyword("none"),
    "mask-image": Keyword("none"),
    "container-type": Keyword("normal"),
    "container-name": Keyword("none"),
    "font-size": Keyword("medium"),
    "font-weight": 400,
    "font-family": (),
    "fill": Literal(BLACK),
    "stroke": Literal(TRANSPARENT),
    "-webkit-text-fill-color": Current(),
    "color-scheme": (),
    "clip": Keyword("auto"),
    "clip-path": Keyword("none"),
    "overflow-x": Keyword("visible"),
    "overflow-y": Keyword("visible"),
    "text-indent": None,
    "z-index": Keyword("auto"),
    "top": Keyword("auto"),
    "right": Keyword("auto"),
    "bottom": Keyword("auto"),
    "left": Keyword("auto"),
    "width": Keyword("auto"),
    "height": Keyword("auto"),
    "min-width": Keyword("auto"),
    "min-height": Keyword("auto"),
    "max-width": Keyword("none"),
    "max-height": Keyword("none"),
    **{f"margin-{side}": None for side in ("top", "right", "bottom", "left")},
    **{f"padding-{side}": None for side in ("top", "right", "bottom", "left")},
    "box-sizing": Keyword("content-box"),
    "flex-basis": Keyword("auto"),
    "grid-area": Keyword("auto"),
    "grid-row": Keyword("auto"),
    "grid-column": Keyword("auto"),
    "transform": Move(),
    "translate": Keyword("none"),
    "scale": Keyword("none"),
    "object-fit": Keyword(""),
    "object-position": (),
    "list-style-type": Keyword("disc"),
}


def _keyword(*names: str) -> Parse:
    allowed = frozenset(names)

    def parse(tokens: list[Any], table: TokenTable) -> Any:
        if len(tokens) == 1 and tokens[0].type == "ident" and tokens[0].lower_value in allowed:
            return Keyword(tokens[0].lower_value)
        return None

    return parse


def _colour(tokens: list[Any], table: TokenTable) -> Any:
    return colour_expression(tokens[0], table) if len(tokens) == 1 else None


def _opacity(tokens: list[Any], table: TokenTable) -> Any:
    if len(tokens) != 1:
        return None
    if tokens[0].type == "number":
        return max(0.0, min(1.0, float(tokens[0].value)))
    if tokens[0].type == "percentage":
        return max(0.0, min(1.0, float(tokens[0].value) / 100))
    return None


_INSIDE = frozenset({"flow", "flow-root", "table", "flex", "grid", "ruby", "block", "inline", "list-item", "run-in"})
_DISPLAY = _keyword(
    "none", "contents", "block", "inline", "inline-block", "list-item", "flex", "inline-flex", "grid", "inline-grid",
    "table", "inline-table", "table-row", "table-cell", "table-row-group", "table-header-group", "table-footer-group",
    "table-column", "table-column-group", "table-caption", "flow-root", "ruby", "ruby-text", "-webkit-box",
    "-webkit-inline-box", "-webkit-flex", "-webkit-inline-flex", "math",
)  # fmt: skip


def _display(tokens: list[Any], table: TokenTable) -> Any:
    if len(tokens) == 2 and all(t.type == "ident" and t.lower_value in _INSIDE for t in tokens):
        return Keyword(" ".join(t.lower_value for t in tokens))
    return _DISPLAY(tokens, table)


def _images(tokens: list[Any], table: TokenTable) -> Any:
    layers: list[Any] = []
    for part in split_commas(tokens):
        part = significant(part)
        if len(part) != 1:
            return None
        if part[0].type == "ident" and part[0].lower_value == "none":
            layers.append(None)
            continue
        image = parse_image(part[0], table)
        if image is None:
            return None
        layers.append(image)
    return tuple(layers)


_SIZE_WORDS = frozenset(
    "xx-small x-small small medium large x-large xx-large xxx-large smaller larger math -webkit-xxx-large".split()
)


def _font_size(tokens: list[Any], table: TokenTable) -> Any:
    if len(tokens) != 1:
        return None
    if tokens[0].type == "ident":
        return Keyword(tokens[0].lower_value) if tokens[0].lower_value in _SIZE_WORDS else None
    return None if _is_negative(tokens[0]) else parse_length(tokens[0])


def _is_negative(node: Any) -> bool:
    return node.type in ("number", "percentage", "dimension") and node.value < 0


def _font_weight(tokens: list[Any], table: TokenTable) -> Any:
    if len(tokens) != 1:
        return None
    if tokens[0].type == "number" and 1 <= tokens[0].value <= 1000:
        return int(tokens[0].value)
    words = {"normal": 400, "bold": 700, "bolder": Keyword("bolder"), "lighter": Keyword("lighter")}
    return words.get(getattr(tokens[0], "lower_value", ""))


def _font_family(tokens: list[Any], table: TokenTable) -> Any:
    names = []
    for part in split_commas(tokens):
        part = significant(part)
        if not part or not all(n.type in ("ident", "string") for n in part):
            return None
        names.append(" ".join(n.value for n in part).lower())
    return tuple(names)


def _length_or(*words: str) -> Parse:
    keyword = _keyword(*words)

    def parse(tokens: list[Any], table: TokenTable) -> Any:
        if len(tokens) != 1:
            return None
        return keyword(tokens, table) or parse_length(tokens[0])

    return parse


def _integer_or_auto(tokens: list[Any], table: TokenTable) -> Any:
    if len(tokens) == 1 and tokens[0].type == "number" and tokens[0].is_integer:
        return int(tokens[0].value)
    return _keyword("auto")(tokens, table)


def _content(tokens: list[Any], table: TokenTable) -> Any:
    if len(tokens) == 1 and getattr(tokens[0], "lower_value", "") in ("none", "normal"):
        return Keyword(tokens[0].lower_value)
    pieces: list[Any] = []
    for node in tokens:
        if node.type == "literal" and node.value == "/":
            break  # what follows is alternative text, not painted
        if node.type == "string":
            pieces.append(node.value)
        elif node.type == "function" and node.lower_name == "attr" and (name := _first_ident(node.arguments)):
            pieces.append(("attr", name))
        elif node.type == "function" and node.lower_name in ("counter", "counters"):
            pieces.append("1")
        elif node.type == "ident" and node.lower_value in ("open-quote", "close-quote"):
            pieces.append("“" if node.lower_value == "open-quote" else "”")
        elif is_image(node):
            address = _address(node)
            pieces.append(("url", address) if address.startswith("data:") else "")
        elif node.type == "ident" and node.lower_value in ("no-open-quote", "no-close-quote"):
            pieces.append("")
        else:
            return None
    return tuple(pieces) if pieces else None


def _address(node: Any) -> str:
    """Return what a `url()` holds, "" for other images."""
    if node.type == "url":
        return str(node.value)
    first = next(iter(significant(node.arguments)), None) if node.lower_name == "url" else None
    return str(first.value) if first is not None and first.type == "string" else ""


def _first_ident(arguments: list[Any]) -> str:
    """Return the name that a function's arguments begin with, "" where they begin with anything else."""
    first = next(iter(significant(arguments)), None)
    return str(first.value) if first is not None and first.type == "ident" else ""


def _scheme(tokens: list[Any], table: TokenTable) -> Any:
    if not all(t.type == "ident" for t in tokens):
        return None
    return tuple(t.lower_value for t in tokens if t.lower_value in ("light", "dark"))


def _anything(tokens: list[Any], table: TokenTable) -> Any:
    """Keep a value whose grammar does not matter here: only `none` and `auto` are told apart."""
    if not tokens:
        return None
    if len(tokens) == 1 and tokens[0].type == "ident":
        return Keyword(tokens[0].lower_value)
    return tuple(tokens)


def _fill(tokens: list[Any], table: TokenTable) -> Any:
    if tokens and getattr(tokens[0], "lower_value", "") == "none":
        return Literal(TRANSPARENT)
    if tokens and tokens[0].type == "url":
        return Keyword("url")
    return _colour(tokens, table)


_OVERFLOW = _keyword("visible", "hidden", "clip", "scroll", "auto", "overlay")

_SIZE_KEYWORDS = (
    "auto", "min-content", "max-content", "fit-content", "stretch", "-webkit-fill-available", "-webkit-min-content",
    "-webkit-max-content", "-webkit-fit-content",
)  # fmt: skip
BLEND_MODES = frozenset(
    "normal multiply screen overlay darken lighten color-dodge color-burn hard-light soft-light difference exclusion "
    "hue saturation color luminosity".split()
)
_ATTACHMENTS = frozenset({"scroll", "fixed", "local"})


def _position_axis(tokens: list[Any], axis: int) -> Any:
    """Return one axis of each layer's position: `background-position-x` takes what a one-value position does."""
    both = parse_layers(tokens, parse_position)
    return None if both is None else tuple(position[axis if len(tokens) > 1 else 0] for position in both)


LONGHANDS: dict[str, Parse] = {
    "color": _colour,
    "background-color": _colour,
    "background-image": _images,
    "background-clip": lambda tokens, table: parse_layers(tokens, keyword_of(BOXES)),
    "background-origin": lambda tokens, table: parse_layers(tokens, keyword_of(BOXES)),
    "background-attachment": lambda tokens, table: parse_layers(tokens, keyword_of(_ATTACHMENTS)),
    "background-position-x": lambda tokens, table: _position_axis(tokens, 0),
    "background-position-y": lambda tokens, table: _position_axis(tokens, 1),
    "background-size": lambda tokens, table: parse_layers(tokens, parse_size),
    "background-repeat": lambda tokens, table: parse_layers(tokens, parse_repeat),
    "background-blend-mode": lambda tokens, table: parse_layers(tokens, keyword_of(BLEND_MODES)),
    "box-shadow": parse_shadows,
    "opacity": _opacity,
    "visibility": _keyword("visible", "hidden", "collapse"),
    "display": _display,
    "position": _keyword("static", "relative", "absolute", "fixed", "sticky", "-webkit-sticky"),
    "float": _keyword("none", "left", "right", "inline-start", "inline-end"),
    "content": _content,
    "content-visibility": _keyword("visible", "auto", "hidden"),
    "mix-blend-mode": _keyword(*BLEND_MODES, "plus-lighter", "plus-darker"),
    "filter": parse_filter,
    "isolation": _keyword("auto", "isolate"),
    "will-change": _anything,
    "contain": _anything,
    "perspective": _anything,
    "backdrop-filter": _anything,
    "mask-image": _anything,
    "container-type": _keyword("normal", "size", "inline-size"),
    "container-name": _anything,
    "font-size": _font_size,
    "font-weight": _font_weight,
    "font-family": _font_family,
    "fill": _fill,
    "stroke": _fill,
    "-webkit-text-fill-color": _colour,
    "color-scheme": _scheme,
    "clip": _anything,
    "clip-path": _anything,
    "overflow-x": _OVERFLOW,
    "overflow-y": _OVERFLOW,
    "text-indent": _length_or(),
    "z-index": _integer_or_auto,
    "top": _length_or("auto"),
    "right": _length_or("auto"),
    "bottom": _length_or("auto"),
    "left": _length_or("auto"),
    "width": _length_or(*_SIZE_KEYWORDS),
    "height": _length_or(*_SIZE_KEYWORDS),
    "min-width": _length_or(*_SIZE_KEYWORDS),
    "min-height": _length_or(*_SIZE_KEYWORDS),
    "max-width": _length_or(*_SIZE_KEYWORDS, "none"),
    "max-height": _length_or(*_SIZE_KEYWORDS, "none"),
    **{f"margin-{side}": _length_or("auto") for side in ("top", "right", "bottom", "left")},
    **{f"padding-{side}": _length_or() for side in ("top", "right", "bottom", "left")},
    "box-sizing": _keyword("content-box", "border-box"),
    "flex-basis": _length_or("auto", "content", *_SIZE_KEYWORDS),
    "grid-area": _anything,
    "grid-row": _anything,
    "grid-column": _anything,
    "transform": parse_transform,
    "translate": _anything,
    "scale": _anything,
    "object-fit": _keyword("fill", "contain", "cover", "none", "scale-down"),
    "object-position": lambda tokens, table: parse_position(tokens),
    "list-style-type": _anything,
}

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
        pending = Pending(name, tuple(tokens), table.base)
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
        size = _font_size([node], table)
        is_size = size is not None and not (node.type == "number" and node.value == 0)
        if is_size and not (node.type == "ident" and node.lower_value in _FONT_WORDS):
            rest = tokens[index + 1 :]
            if rest and rest[0] == "/":
                rest = rest[2:]
            family = _font_family(rest, table) if rest else None
            if family is None:
                return None
            return {"font-size": size, "font-weight": weight, "font-family": family}
        found = _font_weight([node], table)
        if found is not None and getattr(node, "lower_value", "") != "normal":
            weight = found
        elif not (node.type == "ident" and node.lower_value in _FONT_WORDS):
            return None
    return None


def parse_system_font_size() -> Any:
    """Return the size of the system fonts in Chromium on Linux."""
    return lambda context: 16.0


def _expand_overflow(tokens: list[Any], table: TokenTable) -> dict[str, Any] | None:
    values = [_OVERFLOW([t], table) for t in tokens]
    if len(values) not in (1, 2) or None in values:
        return None
    return {"overflow-x": values[0], "overflow-y": values[-1]}


def _expand_sides(*sides: str) -> Callable[[list[Any], TokenTable], dict[str, Any] | None]:
    one = _length_or("auto")

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
