"""The grammar of backgrounds: where an image is put, how large, how often (CSS Backgrounds Level 3, section 2)."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from glaucon.core.cascade.expression import Literal
from glaucon.core.cascade.properties.colours import colour_expression, significant, split_commas
from glaucon.core.cascade.properties.images import is_image, parse_image
from glaucon.core.cascade.properties.lengths import Extent, Length, LengthContext, extent, parse_length
from glaucon.core.cascade.properties.values import Keyword
from glaucon.core.cascade.tokens import TokenTable
from glaucon.core.colour.value import TRANSPARENT


@dataclass(frozen=True, slots=True)
class Offset:
    """A position along one axis: an extent from the start, or from the end where `from_end`."""

    length: Length | None = None
    share: float = 0.0
    from_end: bool = False

    def computed(self, context: LengthContext) -> Extent | None:
        """Return share and pixels from the start: `share * (box - image) + px`."""
        if self.length is None:
            return Extent(0.0, self.share)
        found = extent(self.length, context)
        if found is None:
            return None
        return Extent(-found.px, 1 - found.share) if self.from_end else found


@dataclass(frozen=True, slots=True)
class Size:
    """A background size: a keyword, or a width and a height of which None is `auto`."""

    keyword: str = ""
    width: Length | None = None
    height: Length | None = None


BOXES = frozenset({"border-box", "padding-box", "content-box", "text", "border-area"})
_REPEATS = frozenset({"repeat", "repeat-x", "repeat-y", "no-repeat", "space", "round"})
_ATTACHMENTS = frozenset({"scroll", "fixed", "local"})
_EDGES = {"left": ("x", 0.0), "right": ("x", 1.0), "top": ("y", 0.0), "bottom": ("y", 1.0), "center": ("", 0.5)}

Position = tuple[Offset, Offset]
Repeat = tuple[str, str]

INITIAL_POSITION: Position = (Offset(), Offset())
INITIAL_SIZE = Size()
INITIAL_REPEAT: Repeat = ("repeat", "repeat")


def parse_position(tokens: list[Any]) -> Position | None:
    """Return the position of 1 to 4 component values (`center`, `right 4px top`, `10% 50%`)."""
    if not 1 <= len(tokens) <= 4:
        return None
    words: list[tuple[str, Any]] = []
    for token in tokens:
        if token.type == "ident" and token.lower_value in _EDGES:
            words.append(("edge", token.lower_value))
        elif (length := parse_length(token)) is not None:
            words.append(("length", length))
        else:
            return None
    return _pair(words) if len(words) <= 2 else _from_edges(words)


def _pair(words: list[tuple[str, Any]]) -> Position | None:
    if len(words) == 1:
        words = [*words, ("edge", "center")] if words[0][1] not in ("top", "bottom") else [("edge", "center"), *words]
    (kind_one, one), (kind_two, two) = words
    if (kind_one == "edge" and _EDGES[one][0] == "y") or (kind_two == "edge" and _EDGES[two][0] == "x"):
        (kind_one, one), (kind_two, two) = (kind_two, two), (kind_one, one)
    if (kind_one == "edge" and _EDGES[one][0] == "y") or (kind_two == "edge" and _EDGES[two][0] == "x"):
        return None
    return _offset(kind_one, one), _offset(kind_two, two)


def _offset(kind: str, value: Any) -> Offset:
    return Offset(value) if kind == "length" else Offset(share=_EDGES[value][1])


def _from_edges(words: list[tuple[str, Any]]) -> Position | None:
    """Return `right 4px bottom 10%`: each length counts from the edge ahead of it."""
    found: dict[str, Offset] = {}
    index = 0
    while index < len(words):
        kind, edge = words[index]
        if kind != "edge":
            return None
        length = words[index + 1][1] if index + 1 < len(words) and words[index + 1][0] == "length" else None
        axis, share = _EDGES[edge]
        axis = axis or ("y" if "x" in found or index else "x")
        if axis in found:
            return None
        found[axis] = Offset(share=share) if length is None else Offset(length, from_end=share == 1.0)
        index += 1 if length is None else 2
    return (found["x"], found["y"]) if len(found) == 2 else None


def parse_size(tokens: list[Any]) -> Size | None:
    """Return the size of 1 or 2 component values."""
    words = [getattr(t, "lower_value", "") if t.type == "ident" else "" for t in tokens]
    if len(tokens) == 1 and words[0] in ("cover", "contain"):
        return Size(words[0])
    if not 1 <= len(tokens) <= 2:
        return None
    sides: list[Length | None] = []
    for token, word in zip(tokens, words, strict=True):
        length = None if word == "auto" else parse_length(token)
        if word != "auto" and length is None:
            return None
        sides.append(length)
    return Size("", sides[0], sides[1] if len(sides) == 2 else None)


def parse_repeat(tokens: list[Any]) -> Repeat | None:
    """Return the repetition along x and y."""
    words = [getattr(t, "lower_value", "") for t in tokens]
    if not words or any(word not in _REPEATS for word in words) or len(words) > 2:
        return None
    if words == ["repeat-x"]:
        return "repeat", "no-repeat"
    if words == ["repeat-y"]:
        return "no-repeat", "repeat"
    return words[0], words[-1]


def parse_layers(tokens: list[Any], parse: Any) -> tuple[Any, ...] | None:
    """Return one value for each comma-separated layer, None where any is invalid."""
    layers = [parse(significant(part)) for part in split_commas(tokens)]
    return None if any(layer is None for layer in layers) else tuple(layers)


def keyword_of(allowed: frozenset[str]) -> Any:
    """Return a parser of one keyword of some."""

    def parse(tokens: list[Any]) -> Keyword | None:
        word = getattr(tokens[0], "lower_value", "") if len(tokens) == 1 else ""
        return Keyword(word) if word in allowed else None

    return parse


_SCROLL, _PADDING_BOX, _BORDER_BOX = Keyword("scroll"), Keyword("padding-box"), Keyword("border-box")


@dataclass(slots=True)
class _Layer:
    image: Any = None
    colour: Any = None
    position: Position = INITIAL_POSITION
    size: Size = INITIAL_SIZE
    repeat: Repeat = INITIAL_REPEAT
    attachment: Keyword = _SCROLL
    origin: Keyword = _PADDING_BOX
    clip: Keyword = _BORDER_BOX


def expand_background(tokens: list[Any], table: TokenTable) -> dict[str, Any] | None:
    """Return the longhands that a `background` shorthand sets."""
    layers: list[_Layer] = []
    parts = split_commas(tokens)
    for index, part in enumerate(parts):
        nodes = significant(part)
        layer = _LayerReader(nodes, table).read() if nodes else None
        if layer is None or (layer.colour is not None and index != len(parts) - 1):
            return None
        layers.append(layer)
    return {
        "background-color": layers[-1].colour if layers[-1].colour is not None else Literal(TRANSPARENT),
        "background-image": tuple(layer.image for layer in layers),
        "background-position-x": tuple(layer.position[0] for layer in layers),
        "background-position-y": tuple(layer.position[1] for layer in layers),
        "background-size": tuple(layer.size for layer in layers),
        "background-repeat": tuple(layer.repeat for layer in layers),
        "background-attachment": tuple(layer.attachment for layer in layers),
        "background-origin": tuple(layer.origin for layer in layers),
        "background-clip": tuple(layer.clip for layer in layers),
    }


@dataclass(slots=True)
class _LayerReader:
    """Reads one layer of the shorthand, component value by component value, in whatever order."""

    tokens: list[Any]
    table: TokenTable
    layer: _Layer = field(default_factory=_Layer)
    boxes: list[Keyword] = field(default_factory=list)
    repeats: list[Any] = field(default_factory=list)
    has_image: bool = False

    def read(self) -> _Layer | None:
        index = 0
        while index < len(self.tokens):
            end = self._word(index) or self._position(index)
            if end is None:
                return None
            index = end
        if self.repeats:
            repeat = parse_repeat(self.repeats)
            if repeat is None:
                return None
            self.layer.repeat = repeat
        if self.boxes:
            self.layer.origin, self.layer.clip = self.boxes[0], self.boxes[-1]
        return self.layer

    def _word(self, index: int) -> int | None:
        """Take an image, a keyword or a colour; return where to go on."""
        node = self.tokens[index]
        word = node.lower_value if node.type == "ident" else ""
        if word == "none" and not self.has_image:
            self.has_image = True
        elif is_image(node) and not self.has_image:
            self.layer.image, self.has_image = parse_image(node, self.table), True
            if self.layer.image is None:
                return None
        elif word in BOXES and len(self.boxes) < 2:
            self.boxes.append(Keyword(word))
        elif word in _REPEATS and len(self.repeats) < 2:
            self.repeats.append(node)
        elif word in _ATTACHMENTS:
            self.layer.attachment = Keyword(word)
        elif self.layer.colour is None and (colour := colour_expression(node, self.table)) is not None:
            self.layer.colour = colour
        else:
            return None
        return index + 1

    def _position(self, index: int) -> int | None:
        """Take a position and, after a slash, a size; return where to go on."""
        end = _end_of_position(self.tokens, index)
        position = parse_position(self.tokens[index:end])
        if position is None:
            return None
        self.layer.position = position
        if end < len(self.tokens) and self.tokens[end] == "/":
            start, end = end + 1, _end_of_size(self.tokens, end + 1)
            size = parse_size(self.tokens[start:end])
            if size is None:
                return None
            self.layer.size = size
        return end


def _end_of_position(tokens: list[Any], start: int) -> int:
    end = start
    while end < len(tokens) and end - start < 4:
        node = tokens[end]
        if not ((node.type == "ident" and node.lower_value in _EDGES) or parse_length(node) is not None):
            break
        end += 1
    return end


def _end_of_size(tokens: list[Any], start: int) -> int:
    end = start
    while end < len(tokens) and end - start < 2:
        node = tokens[end]
        word = node.lower_value if node.type == "ident" else ""
        if word not in ("auto", "cover", "contain") and parse_length(node) is None:
            break
        end += 1
        if word in ("cover", "contain"):
            break
    return end
