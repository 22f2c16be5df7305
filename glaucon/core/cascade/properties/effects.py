"""Transforms, filters and inset shadows, as far as they move words or colour what lies behind them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from glaucon.core.cascade.expression import Current, Expression
from glaucon.core.cascade.properties.colours import colour_expression, significant, split_commas
from glaucon.core.cascade.properties.lengths import Extent, Length, LengthContext, extent, parse_length
from glaucon.core.cascade.tokens import TokenTable


@dataclass(frozen=True, slots=True)
class Shadow:
    """A shadow: offsets, blur and spread as lengths."""

    colour: Expression
    lengths: tuple[Length, ...]
    is_inset: bool

    def computed(self, context: LengthContext) -> BoxShadow:
        """Return the shadow with its lengths in pixels."""
        px = [length(context) or 0.0 for length in self.lengths]
        x, y, blur, spread = (*px, 0.0, 0.0)[:4]
        return BoxShadow(self.colour, x, y, blur, spread, self.is_inset)


@dataclass(frozen=True, slots=True)
class BoxShadow:
    """A computed shadow, in pixels; inset ones lie over the background, the others around the box."""

    colour: Expression
    x: float
    y: float
    blur: float
    spread: float
    is_inset: bool


def parse_shadows(tokens: list[Any], table: TokenTable) -> tuple[Shadow, ...] | None:
    """Return the shadows of a `box-shadow`, first on top."""
    if len(tokens) == 1 and getattr(tokens[0], "lower_value", "") == "none":
        return ()
    found: list[Shadow] = []
    for part in split_commas(tokens):
        nodes = significant(part)
        colours = [c for n in nodes if (c := colour_expression(n, table)) is not None]
        lengths = [length for n in nodes if (length := parse_length(n)) is not None]
        insets = [n for n in nodes if getattr(n, "lower_value", "") == "inset"]
        if len(colours) > 1 or not 2 <= len(lengths) <= 4 or len(colours) + len(lengths) + len(insets) != len(nodes):
            return None
        found.append(Shadow(colours[0] if colours else Current(), tuple(lengths), bool(insets)))
    return tuple(found)


@dataclass(frozen=True, slots=True)
class Filter:
    """One filter function that changes colours, with its amount; `name` "unknown" holds what is not computed here."""

    name: str
    amount: float = 1.0


_AMOUNTS = frozenset({"brightness", "contrast", "grayscale", "invert", "opacity", "saturate", "sepia"})
_CAPPED = frozenset({"grayscale", "invert", "opacity", "sepia"})
_ANGLES = {"deg": 1.0, "grad": 0.9, "rad": 57.29577951308232, "turn": 360.0}


def parse_filter(tokens: list[Any], table: TokenTable) -> tuple[Filter, ...] | None:
    """Return the functions of a `filter` in order (Filter Effects Level 1, section 6)."""
    if len(tokens) == 1 and getattr(tokens[0], "lower_value", "") == "none":
        return ()
    found: list[Filter] = []
    for node in tokens:
        if node.type == "url":
            found.append(Filter("unknown"))
        elif node.type != "function":
            return None
        elif node.lower_name in _AMOUNTS:
            amount = _amount(significant(node.arguments))
            if amount is None:
                return None
            found.append(Filter(node.lower_name, min(1.0, amount) if node.lower_name in _CAPPED else amount))
        elif node.lower_name == "hue-rotate":
            found.append(Filter("hue-rotate", _angle(significant(node.arguments))))
        elif node.lower_name == "blur":
            if any(n.type == "dimension" and n.value > 1 for n in node.arguments):
                found.append(Filter("unknown"))
        elif node.lower_name != "drop-shadow":
            return None
    return tuple(found)


def _amount(arguments: list[Any]) -> float | None:
    if not arguments:
        return 1.0
    if len(arguments) != 1 or arguments[0].type not in ("number", "percentage"):
        return None
    value = float(arguments[0].value) / (100 if arguments[0].type == "percentage" else 1)
    return value if value >= 0 else None


def _angle(arguments: list[Any]) -> float:
    if arguments and arguments[0].type == "dimension" and arguments[0].lower_unit in _ANGLES:
        return float(arguments[0].value) * _ANGLES[arguments[0].lower_unit]
    return 0.0


@dataclass(frozen=True, slots=True)
class Move:
    """What transforms do to a box, in order of no account: moved by shares of itself and pixels, and scaled."""

    x: Length | None = None
    y: Length | None = None
    scale: float = 1.0
    turned: bool = False

    def computed(self, context: LengthContext) -> Moved:
        """Return the move with its lengths computed."""
        nothing = Extent(0.0)
        x = extent(self.x, context) if self.x is not None else nothing
        y = extent(self.y, context) if self.y is not None else nothing
        return Moved(x or nothing, y or nothing, self.scale, self.turned)


@dataclass(frozen=True, slots=True)
class Moved:
    """A computed move: shares are of the box's own size."""

    x: Extent
    y: Extent
    scale: float
    turned: bool


def parse_transform(tokens: list[Any], table: TokenTable) -> Move | None:
    """Return what a `transform` does, None where it is invalid."""
    if len(tokens) == 1 and getattr(tokens[0], "lower_value", "") == "none":
        return Move()
    x: Length | None = None
    y: Length | None = None
    scale, turned = 1.0, False
    for node in tokens:
        if node.type != "function":
            return None
        parts = [significant(p) for p in split_commas(node.arguments)]
        name = node.lower_name
        if any(len(part) != 1 for part in parts):
            return None
        if name.startswith("translate") and name != "translatez":
            lengths = [parse_length(part[0]) for part in parts]
            if name != "translatey":
                x = lengths[0]
            if name == "translatey":
                y = lengths[0]
            elif name != "translatex" and len(lengths) > 1:
                y = lengths[1]
        elif name in ("scale", "scalex", "scaley", "scale3d"):
            factors = [float(part[0].value) for part in parts if part[0].type in ("number", "percentage")]
            scale *= min((abs(f) for f in factors), default=1.0)
        elif name.startswith("rotate") and parts and parts[0][0].type == "dimension" and parts[0][0].value % 360:
            turned = True
    return Move(x, y, scale, turned)
