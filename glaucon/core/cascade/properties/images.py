"""What a `background-image` layer may paint: nothing, a gradient, a picture (CSS Images Level 4)."""

from __future__ import annotations

from dataclasses import dataclass, field
from itertools import pairwise
from typing import Any

from glaucon.core.cascade.expression import Expression, Found, Literal, Mix
from glaucon.core.cascade.properties.colours import MIX_SPACES, colour_expression, significant, split_commas
from glaucon.core.cascade.properties.lengths import Length, LengthContext, extent, parse_length
from glaucon.core.cascade.tokens import TokenTable

_SAMPLES_A_SEGMENT = 8
# Where a stop in pixels falls is known only with layout: stops are ordered along a line of this length.
_LINE_PX = 600.0
_CONTEXT = LengthContext(16.0, 16.0, 1280, 800)


@dataclass(frozen=True, slots=True)
class WrittenStop:
    """A colour of a gradient and where it stands: a length along the line, a share of a turn, or neither."""

    colour: Expression
    length: Length | None = None
    turn: float | None = None


@dataclass(frozen=True, slots=True)
class WrittenGradient:
    """A gradient as written, for those who know the box it is painted in.

    `geometry` are the component values ahead of the first colour, `name` the function's; `space` and `hue` say how
    colours between stops are found.
    """

    name: str
    geometry: tuple[Any, ...]
    stops: tuple[WrittenStop, ...]
    space: str
    hue: str


@dataclass(frozen=True, slots=True)
class CssGradient:
    """A gradient by the colours along it, from its first to its last; hard edges have nothing between."""

    samples: tuple[Expression, ...]
    written: WrittenGradient | None = field(default=None, compare=False)


@dataclass(frozen=True, slots=True)
class CssPicture:
    """A picture by its address as written, and the file the address stands in."""

    url: str
    base: str = ""


@dataclass(frozen=True, slots=True)
class UnknownImage:
    """An image that is valid CSS and not known here."""

    name: str


Image = CssGradient | CssPicture | UnknownImage

_GRADIENTS = frozenset(
    f"{prefix}{repeat}{shape}-gradient"
    for prefix in ("", "-webkit-")
    for repeat in ("", "repeating-")
    for shape in ("linear", "radial", "conic")
)
_OLD_GRADIENT = "-webkit-gradient"
_SETS = frozenset({"image-set", "-webkit-image-set"})
_OTHER_IMAGES = frozenset({"cross-fade", "-webkit-cross-fade", "paint", "element"})
_ANGLE_UNITS = {"deg": 1 / 360, "grad": 1 / 400, "rad": 1 / 6.283185307179586, "turn": 1.0}


def is_image(node: Any) -> bool:
    """Return whether a component value is an image of any kind."""
    return node.type == "url" or (
        node.type == "function"
        and (node.lower_name in _GRADIENTS | _OTHER_IMAGES | _SETS | {_OLD_GRADIENT, "url", "src"})
    )


def parse_image(node: Any, table: TokenTable) -> Image | None:
    """Return the image of a component value, or None where it is invalid."""
    if node.type == "url":
        return CssPicture(node.value, table.base)
    if node.type != "function":
        return None
    name = node.lower_name
    if name in ("url", "src"):
        strings = [n for n in node.arguments if n.type == "string"]
        return CssPicture(strings[0].value, table.base) if strings else None
    if name in _GRADIENTS:
        return _parse_gradient(node, table)
    if name == _OLD_GRADIENT:
        return _parse_old_gradient(node, table)
    if name in _SETS:
        return _first_of_set(node, table)
    return UnknownImage(name) if name in _OTHER_IMAGES else None


def _first_of_set(node: Any, table: TokenTable) -> Image | None:
    """Return the image of an `image-set()` for a screen of one device pixel to a CSS pixel."""
    for part in split_commas(node.arguments):
        words = significant(part)
        density = [n for n in words if n.type == "dimension"]
        if words and (not density or density[0].value >= 1):
            if words[0].type == "string":
                return CssPicture(words[0].value, table.base)
            return parse_image(words[0], table)
    return None


@dataclass(slots=True)
class CssStop:
    """A colour of a gradient and where along its line it stands, 0 to 1."""

    colour: Expression
    at: float | None


def _parse_gradient(node: Any, table: TokenTable) -> CssGradient | None:
    stops: list[CssStop] = []
    written: list[WrittenStop] = []
    geometry: list[Any] = []
    space, hue = "", "shorter"
    parts = [significant(raw) for raw in split_commas(node.arguments)]
    conic = "conic" in node.lower_name
    for index, part in enumerate(parts):
        if not part:
            return None
        colours = [c for n in part if (c := colour_expression(n, table)) is not None]
        if index == 0 and (not colours or _names_space(part)):
            space, hue = _interpolation(part)
            if not _is_geometry(part):
                return None
            geometry = part
            continue
        if len(colours) > 1:
            return None
        places = [n for n in part if colour_expression(n, table) is None]
        positions = [_position(n, conic) for n in places]
        if any(p is None for p in positions):
            return None
        if colours:
            stops.extend(CssStop(colours[0], at) for at in positions or [None])
            written.extend(_written(colours[0], place, conic) for place in places or [None])
        elif len(positions) != 1:
            return None
    if not stops:
        return None
    space = space or default_space(stops)
    samples = _along(stops, space, hue, repeating="repeating" in node.lower_name)
    return CssGradient(samples, WrittenGradient(node.lower_name, tuple(geometry), tuple(written), space, hue))


def _written(colour: Expression, place: Any, conic: bool) -> WrittenStop:
    if place is None:
        return WrittenStop(colour)
    if conic:
        return WrittenStop(colour, turn=_position(place, conic))
    return WrittenStop(colour, parse_length(place))


_GEOMETRY_WORDS = frozenset(
    "to at from in top bottom left right center circle ellipse closest-side closest-corner farthest-side "
    "farthest-corner contain cover shorter longer increasing decreasing hue".split()
)


def _is_geometry(part: list[Any]) -> bool:
    return all(
        n.type in ("percentage", "dimension", "number", "function")
        or getattr(n, "lower_value", "") in _GEOMETRY_WORDS | MIX_SPACES.keys()
        for n in part
    )


def _names_space(part: list[Any]) -> bool:
    return any(getattr(n, "lower_value", "") == "in" for n in part)


def _interpolation(part: list[Any]) -> tuple[str, str]:
    words = [getattr(n, "lower_value", "") for n in part]
    if "in" not in words:
        return "", "shorter"
    after = words[words.index("in") + 1 :]
    space = MIX_SPACES.get(after[0], "") if after else ""
    hue = after[1] if len(after) > 2 and after[2] == "hue" else "shorter"
    return space, hue


def _position(node: Any, conic: bool) -> float | None:
    if node.type == "percentage":
        return float(node.value) / 100
    if conic and node.type == "dimension" and node.lower_unit in _ANGLE_UNITS:
        return float(node.value) * _ANGLE_UNITS[node.lower_unit]
    length = parse_length(node)
    found = extent(length, _CONTEXT) if length is not None else None
    return None if found is None else found.px / _LINE_PX + found.share


def default_space(stops: list[CssStop]) -> str:
    """Return the space that colours between stops are found in where none is named (CSS Color 4, section 12)."""
    return "srgb" if all(_is_legacy(stop.colour) for stop in stops) else "oklab"


def _along(stops: list[CssStop], space: str, hue: str, repeating: bool) -> tuple[Expression, ...]:
    """Return colours along a gradient line, its hard edges kept (CSS Images 3, section 3.4.3)."""
    place_stops(stops)
    samples: list[Expression] = [stops[0].colour]
    for one, other in pairwise(stops):
        low, high = one.at or 0.0, other.at or 0.0
        start, end = 0.0, 1.0
        if high > low and not repeating:
            # what lies before the line's start or after its end is not painted
            start, end = max(0.0, (0 - low) / (high - low)), min(1.0, (1 - low) / (high - low))
        if high <= low or start >= end:
            samples.append(other.colour if high <= 1 or repeating else one.colour)
            continue
        for step in range(_SAMPLES_A_SEGMENT + 1):
            samples.append(
                between(one.colour, other.colour, start + (end - start) * step / _SAMPLES_A_SEGMENT, space, hue)
            )
    return tuple(dict.fromkeys(samples))


def place_stops(stops: list[CssStop]) -> None:
    """Give every stop its place: ends at 0 and 1, no stop before the one ahead of it, others spread evenly."""
    stops[0].at = 0.0 if stops[0].at is None else stops[0].at
    if stops[-1].at is None:
        stops[-1].at = max(1.0, stops[0].at)
    highest = stops[0].at
    for stop in stops:
        if stop.at is not None:
            stop.at = highest = max(stop.at, highest)
    index = 0
    while index < len(stops):
        if stops[index].at is None:
            end = next(i for i in range(index, len(stops)) if stops[i].at is not None)
            before, after = stops[index - 1].at or 0.0, stops[end].at or 0.0
            for place in range(index, end):
                stops[place].at = before + (after - before) * (place - index + 1) / (end - index + 1)
            index = end
        index += 1


def _is_legacy(colour: Expression) -> bool:
    """Return whether a colour interpolates in sRGB by default (CSS Color 4, section 12)."""
    return isinstance(colour, Found | Literal)


def between(one: Expression, other: Expression, share: float, space: str, hue: str) -> Expression:
    """Return the colour a share (0 to 1) of the way from one colour to another."""
    if one == other or share <= 0:
        return one
    return other if share >= 1 else Mix(space, one, other, share, 1.0, hue)


def _parse_old_gradient(node: Any, table: TokenTable) -> CssGradient | None:
    """Return the gradient of `-webkit-gradient(linear, …, from(C), color-stop(50%, C), to(C))`."""
    stops: list[CssStop] = []
    for part in split_commas(node.arguments):
        words = significant(part)
        if len(words) != 1 or words[0].type != "function":
            continue
        inner = [significant(p) for p in split_commas(words[0].arguments)]
        colours = [c for p in inner for n in p if (c := colour_expression(n, table)) is not None]
        numbers = [n for p in inner for n in p if n.type in ("number", "percentage")]
        at = {"from": 0.0, "to": 1.0}.get(words[0].lower_name)
        if at is None and numbers:
            at = float(numbers[0].value) / (100 if numbers[0].type == "percentage" else 1)
        if len(colours) == 1:
            stops.append(CssStop(colours[0], at))
    stops.sort(key=lambda stop: stop.at or 0.0)
    return CssGradient(_along(stops, "srgb", "shorter", repeating=False)) if stops else None
