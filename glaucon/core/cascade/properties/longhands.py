"""The properties that decide a text's colour, size and background: the grammar and initial value of each."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from glaucon.core.cascade.expression import Current, Literal
from glaucon.core.cascade.properties.backgrounds import (
    BOXES,
    INITIAL_POSITION,
    INITIAL_REPEAT,
    INITIAL_SIZE,
    keyword_of,
    parse_layers,
    parse_position,
    parse_repeat,
    parse_size,
)
from glaucon.core.cascade.properties.colours import colour_expression, significant, split_commas
from glaucon.core.cascade.properties.effects import Move, parse_filter, parse_shadows, parse_transform
from glaucon.core.cascade.properties.images import is_image, parse_image
from glaucon.core.cascade.properties.lengths import parse_length
from glaucon.core.cascade.properties.lines import LINE_INITIAL, LINE_LONGHANDS
from glaucon.core.cascade.properties.values import Keyword
from glaucon.core.cascade.tokens import TokenTable
from glaucon.core.colour.value import BLACK, TRANSPARENT


@dataclass(frozen=True, slots=True)
class PendingValue:
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
    **LINE_INITIAL,
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


def parse_font_size(tokens: list[Any], table: TokenTable) -> Any:
    if len(tokens) != 1:
        return None
    if tokens[0].type == "ident":
        return Keyword(tokens[0].lower_value) if tokens[0].lower_value in _SIZE_WORDS else None
    return None if _is_negative(tokens[0]) else parse_length(tokens[0])


def _is_negative(node: Any) -> bool:
    return node.type in ("number", "percentage", "dimension") and node.value < 0


def parse_font_weight(tokens: list[Any], table: TokenTable) -> Any:
    if len(tokens) != 1:
        return None
    if tokens[0].type == "number" and 1 <= tokens[0].value <= 1000:
        return int(tokens[0].value)
    words = {"normal": 400, "bold": 700, "bolder": Keyword("bolder"), "lighter": Keyword("lighter")}
    return words.get(getattr(tokens[0], "lower_value", ""))


def parse_font_family(tokens: list[Any], table: TokenTable) -> Any:
    names = []
    for part in split_commas(tokens):
        part = significant(part)
        if not part or not all(n.type in ("ident", "string") for n in part):
            return None
        names.append(" ".join(n.value for n in part).lower())
    return tuple(names)


def parse_length_or(*words: str) -> Parse:
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


OVERFLOW = _keyword("visible", "hidden", "clip", "scroll", "auto", "overlay")

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
    "font-size": parse_font_size,
    "font-weight": parse_font_weight,
    "font-family": parse_font_family,
    "fill": _fill,
    "stroke": _fill,
    "-webkit-text-fill-color": _colour,
    "color-scheme": _scheme,
    "clip": _anything,
    "clip-path": _anything,
    "overflow-x": OVERFLOW,
    "overflow-y": OVERFLOW,
    "text-indent": parse_length_or(),
    "z-index": _integer_or_auto,
    "top": parse_length_or("auto"),
    "right": parse_length_or("auto"),
    "bottom": parse_length_or("auto"),
    "left": parse_length_or("auto"),
    "width": parse_length_or(*_SIZE_KEYWORDS),
    "height": parse_length_or(*_SIZE_KEYWORDS),
    "min-width": parse_length_or(*_SIZE_KEYWORDS),
    "min-height": parse_length_or(*_SIZE_KEYWORDS),
    "max-width": parse_length_or(*_SIZE_KEYWORDS, "none"),
    "max-height": parse_length_or(*_SIZE_KEYWORDS, "none"),
    **{f"margin-{side}": parse_length_or("auto") for side in ("top", "right", "bottom", "left")},
    **{f"padding-{side}": parse_length_or() for side in ("top", "right", "bottom", "left")},
    "box-sizing": _keyword("content-box", "border-box"),
    "flex-basis": parse_length_or("auto", "content", *_SIZE_KEYWORDS),
    "grid-area": _anything,
    "grid-row": _anything,
    "grid-column": _anything,
    "transform": parse_transform,
    "translate": _anything,
    "scale": _anything,
    "object-fit": _keyword("fill", "contain", "cover", "none", "scale-down"),
    "object-position": lambda tokens, table: parse_position(tokens),
    "list-style-type": _anything,
    **LINE_LONGHANDS,
}
