"""The properties that decide a text's colour, size and background: grammar, shorthands, initial values.

A declaration that a browser would not accept gives None and is dropped, itself alone (CSS Syntax, section 2.2).
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from glaucon.core.cascade.colours import colour_expression, significant, split_commas
from glaucon.core.cascade.expression import Current, Literal
from glaucon.core.cascade.images import is_image, parse_image
from glaucon.core.cascade.lengths import parse_length
from glaucon.core.cascade.tokens import TokenTable
from glaucon.core.colour.value import BLACK, TRANSPARENT


@dataclass(frozen=True, slots=True)
class Keyword:
    """A keyword value, lower case."""

    name: str


@dataclass(frozen=True, slots=True)
class Pending:
    """A value with `var()` in it, parsed when the element's custom properties are known."""

    shorthand: str
    tokens: tuple[Any, ...]


WIDE_KEYWORDS = frozenset({"inherit", "initial", "unset", "revert", "revert-layer"})
Parse = Callable[[list[Any], TokenTable], Any]

INHERITED = frozenset(
    {
        "color", "visibility", "font-size", "font-weight", "font-family", "fill", "text-indent", "color-scheme",
        "-webkit-text-fill-color", "list-style-type",
    }
)  # fmt: skip

INITIAL: dict[str, Any] = {
    "color": Keyword("canvastext"),
    "background-color": Literal(TRANSPARENT),
    "background-image": (None,),
    "background-clip": (Keyword("border-box"),),
    "opacity": 1.0,
    "visibility": Keyword("visible"),
    "display": Keyword("inline"),
    "position": Keyword("static"),
    "float": Keyword("none"),
    "content": Keyword("normal"),
    "content-visibility": Keyword("visible"),
    "mix-blend-mode": Keyword("normal"),
    "filter": Keyword("none"),
    "font-size": Keyword("medium"),
    "font-weight": 400,
    "font-family": (),
    "fill": Literal(BLACK),
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
    "transform": Keyword("none"),
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


_BOXES = frozenset({"border-box", "padding-box", "content-box", "text", "border-area"})


def _clip_boxes(tokens: list[Any], table: TokenTable) -> Any:
    boxes = []
    for part in split_commas(tokens):
        words = [getattr(n, "lower_value", "") for n in significant(part)]
        if len(words) != 1 or words[0] not in _BOXES:
            return None
        boxes.append(Keyword(words[0]))
    return tuple(boxes)


_SIZE_WORDS = frozenset(
    "xx-small x-small small medium large x-large xx-large xxx-large smaller larger math -webkit-xxx-large".split()
)


def _font_size(tokens: list[Any], table: TokenTable) -> Any:
    if len(tokens) != 1:
        return None
    if tokens[0].type == "ident":
        return Keyword(tokens[0].lower_value) if tokens[0].lower_value in _SIZE_WORDS else None
    return parse_length(tokens[0])


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
        elif node.type == "function" and node.lower_name == "attr" and node.arguments:
            pieces.append(("attr", significant(node.arguments)[0].value))
        elif node.type == "function" and node.lower_name in ("counter", "counters"):
            pieces.append("1")
        elif node.type == "ident" and node.lower_value in ("open-quote", "close-quote"):
            pieces.append("“" if node.lower_value == "open-quote" else "”")
        elif (node.type == "ident" and node.lower_value in ("no-open-quote", "no-close-quote")) or is_image(node):
            pieces.append("")
        else:
            return None
    return tuple(pieces) if pieces else None


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

LONGHANDS: dict[str, Parse] = {
    "color": _colour,
    "background-color": _colour,
    "background-image": _images,
    "background-clip": _clip_boxes,
    "opacity": _opacity,
    "visibility": _keyword("visible", "hidden", "collapse"),
    "display": _display,
    "position": _keyword("static", "relative", "absolute", "fixed", "sticky", "-webkit-sticky"),
    "float": _keyword("none", "left", "right", "inline-start", "inline-end"),
    "content": _content,
    "content-visibility": _keyword("visible", "auto", "hidden"),
    "mix-blend-mode": _anything,
    "filter": _anything,
    "font-size": _font_size,
    "font-weight": _font_weight,
    "font-family": _font_family,
    "fill": _fill,
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
    "width": _length_or("auto", "min-content", "max-content", "fit-content"),
    "height": _length_or("auto", "min-content", "max-content", "fit-content"),
    "transform": _anything,
    "list-style-type": _anything,
}

SHORTHANDS: dict[str, tuple[str, ...]] = {
    "background": ("background-color", "background-image", "background-clip"),
    "font": ("font-size", "font-weight", "font-family"),
    "overflow": ("overflow-x", "overflow-y"),
    "inset": ("top", "right", "bottom", "left"),
    "inset-block": ("top", "bottom"),
    "inset-inline": ("left", "right"),
    "list-style": ("list-style-type",),
    "all": tuple(LONGHANDS),
}
ALIASES = {
    "-webkit-background-clip": "background-clip",
    "-webkit-opacity": "opacity",
    "-webkit-filter": "filter",
    "-webkit-transform": "transform",
    "-webkit-clip-path": "clip-path",
    "inset-inline-start": "left",
    "inset-inline-end": "right",
    "inset-block-start": "top",
    "inset-block-end": "bottom",
    "inline-size": "width",
    "block-size": "height",
}


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
        pending = Pending(name, tuple(tokens))
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


_POSITION_WORDS = frozenset({"left", "right", "top", "bottom", "center", "auto", "cover", "contain"})
_REPEAT_WORDS = frozenset({"repeat", "repeat-x", "repeat-y", "no-repeat", "space", "round"})
_ATTACHMENT_WORDS = frozenset({"scroll", "fixed", "local"})


def _expand_background(tokens: list[Any], table: TokenTable) -> dict[str, Any] | None:
    layers = [significant(part) for part in split_commas(tokens)]
    images: list[Any] = []
    clips: list[Keyword] = []
    colour: Any = Literal(TRANSPARENT)
    for index, layer in enumerate(layers):
        read = _background_layer(layer, table)
        if read is None:
            return None
        image, found_colour, boxes = read
        if found_colour is not None:
            if index != len(layers) - 1:
                return None
            colour = found_colour
        images.append(image)
        clips.append(boxes[-1] if boxes else Keyword("border-box"))
    return {"background-color": colour, "background-image": tuple(images), "background-clip": tuple(clips)}


def _background_layer(layer: list[Any], table: TokenTable) -> tuple[Any, Any, list[Keyword]] | None:
    image = colour = None
    seen_image = False
    boxes: list[Keyword] = []
    if not layer:
        return None
    for node in layer:
        word = node.lower_value if node.type == "ident" else ""
        if word == "none" and not seen_image:
            seen_image = True
        elif is_image(node) and not seen_image:
            image, seen_image = parse_image(node, table), True
            if image is None:
                return None
        elif word in _BOXES and len(boxes) < 2:
            boxes.append(Keyword(word))
        elif (
            word in _POSITION_WORDS | _REPEAT_WORDS | _ATTACHMENT_WORDS
            or (node.type == "literal" and node.value == "/")
            or parse_length(node) is not None
            or (colour is None and (colour := colour_expression(node, table)) is not None)
        ):
            continue
        else:
            return None
    return image, colour, boxes


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


_EXPAND: dict[str, Callable[[list[Any], TokenTable], dict[str, Any] | None]] = {
    "background": _expand_background,
    "font": _expand_font,
    "overflow": _expand_overflow,
    "inset": _expand_sides("top", "right", "bottom", "left"),
    "inset-block": _expand_sides("top", "bottom"),
    "inset-inline": _expand_sides("left", "right"),
    "list-style": _expand_list_style,
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
