"""The colours of a gradient at a place: where along its line a place lies (CSS Images Level 4, section 3)."""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Any

import numpy as np

from glaucon.core.cascade.expression import Expression
from glaucon.core.cascade.properties.backgrounds import Position, parse_position
from glaucon.core.cascade.properties.images import CssStop, WrittenGradient, between, place_stops
from glaucon.core.cascade.properties.lengths import LengthContext, extent, parse_length
from glaucon.core.layout.document import Box

_TURNS = {"deg": 1 / 360, "grad": 1 / 400, "rad": 1 / math.tau, "turn": 1.0}
_SIDES = {"left": (-1, 0), "right": (1, 0), "top": (0, -1), "bottom": (0, 1)}
_STEPS = 8  # between two stops: what is linear in one space is not in luminance
_GRID = 9  # points along each side of a place, for gradients whose line is not straight
_LEAST = 1e-6
# a turn or a repetition of the line that a place spans in part may begin anywhere in it
_WHOLE = (0.0, 1.0)


def colours_at(
    written: WrittenGradient, size: tuple[float, float], places: list[Box], context: LengthContext
) -> tuple[Expression, ...] | None:
    """Return the colours that a gradient shows in some places of a tile, None where its geometry is not understood.

    `size` is the tile's in CSS pixels, places count from its corner. Between two stops the ends of what is seen and
    some colours between are returned, so that none seen is darker or lighter by more than a step of the space.
    """
    line = _line(written, size, context)
    if line is None:
        return None
    length, along = line
    stops = _stops(written, length, context)
    if stops is None:
        return None
    found: dict[Expression, None] = {}
    for place in places:
        for low, high in _ranges(along(place), stops, "repeating" in written.name):
            found.update(dict.fromkeys(_between_stops(stops, low, high, written.space, written.hue)))
    return tuple(found)


def _stops(written: WrittenGradient, length: float, context: LengthContext) -> list[CssStop] | None:
    stops: list[CssStop] = []
    for one in written.stops:
        at = one.turn
        if one.length is not None:
            reach = extent(one.length, context)
            if reach is None:
                return None
            at = reach.share + reach.px / max(length, _LEAST)
        stops.append(CssStop(one.colour, at))
    if not stops:
        return None
    place_stops(stops)
    return stops


def _ranges(seen: tuple[float, float], stops: list[CssStop], repeats: bool) -> list[tuple[float, float]]:
    """Return the stretches of the line, as its stops count, that are seen."""
    low, high = seen
    first, last = stops[0].at or 0.0, stops[-1].at or 0.0
    period = last - first
    if not repeats:
        return [(low, high)]
    if period < _LEAST or high - low >= period:
        return [(first, last)]
    shift = math.floor((low - first) / period) * period
    low, high = low - shift, high - shift
    return [(low, high)] if high <= last else [(low, last), (first, high - period)]


def _between_stops(stops: list[CssStop], low: float, high: float, space: str, hue: str) -> list[Expression]:
    found = []
    if low <= (stops[0].at or 0.0):
        found.append(stops[0].colour)
    if high >= (stops[-1].at or 0.0):
        found.append(stops[-1].colour)
    for one, other in pairwise(stops):
        start, end = one.at or 0.0, other.at or 0.0
        if end - start < _LEAST:
            continue
        near, far = max(low, start), min(high, end)
        if far < near:
            continue
        shares = ((near - start) / (end - start), (far - start) / (end - start))
        steps = max(1, math.ceil(_STEPS * (shares[1] - shares[0])))
        for step in range(steps + 1):
            share = shares[0] + (shares[1] - shares[0]) * step / steps
            found.append(between(one.colour, other.colour, round(share, 3), space, hue))
    return found


# the line, and where along it a place lies


def _line(written: WrittenGradient, size: tuple[float, float], context: LengthContext) -> Any:
    """Return the length of a gradient's line and what tells the stretch of it that a place shows; None: not known."""
    width, height = size
    if width < _LEAST or height < _LEAST:
        return None
    words = list(written.geometry)
    if "linear" in written.name:
        direction = _direction(words, written.name.startswith("-webkit-"), size)
        return None if direction is None else _linear(direction, size)
    at = _centre(words, size, context)
    if at is None:
        return None
    return _conic(words, at) if "conic" in written.name else _radial(words, at, size, context)


def _is_word(node: Any, *names: str) -> bool:
    return node.type == "ident" and node.lower_value in names


def _turn(node: Any) -> float | None:
    if node.type == "dimension" and node.lower_unit in _TURNS:
        return float(node.value) * _TURNS[node.lower_unit]
    return 0.0 if node.type == "number" and node.value == 0 else None


def _direction(words: list[Any], old: bool, size: tuple[float, float]) -> tuple[float, float] | None:
    """Return the unit vector along which a linear gradient runs, y downwards (section 3.1.1)."""
    sides = [_SIDES[n.lower_value] for n in words if n.type == "ident" and n.lower_value in _SIDES]
    if sides:
        x, y = (sum(side[axis] for side in sides) for axis in (0, 1))
        x, y = (-x, -y) if old else (x, y)
        if x and y:  # towards a corner: the line's middle colour runs through the two corners beside it
            steep = math.hypot(size[1], size[0])
            return x * size[1] / steep, y * size[0] / steep
        return float(x), float(y)
    for node in words:
        turn = _turn(node)
        if turn is not None:
            turn = 0.25 - turn if old else turn
            return math.sin(turn * math.tau), -math.cos(turn * math.tau)
    return 0.0, 1.0


def _corners(place: Box) -> list[tuple[float, float]]:
    right, bottom = place.left + place.width, place.top + place.height
    return [(place.left, place.top), (right, place.top), (place.left, bottom), (right, bottom)]


def _linear(direction: tuple[float, float], size: tuple[float, float]) -> Any:
    x, y = direction
    length = abs(size[0] * x) + abs(size[1] * y)

    def along(place: Box) -> tuple[float, float]:
        shares = [((left - size[0] / 2) * x + (top - size[1] / 2) * y) / length + 0.5 for left, top in _corners(place)]
        return min(shares), max(shares)

    return (length, along) if length > _LEAST else None


def _centre(words: list[Any], size: tuple[float, float], context: LengthContext) -> tuple[float, float] | None:
    at = next((i for i, n in enumerate(words) if _is_word(n, "at")), None)
    if at is None:
        return size[0] / 2, size[1] / 2
    rest = words[at + 1 :]
    end = next((i for i, n in enumerate(rest) if _is_word(n, "in")), len(rest))
    position: Position | None = parse_position(rest[:end])
    if position is None:
        return None
    found = [offset.computed(context) for offset in position]
    if found[0] is None or found[1] is None:
        return None
    return found[0].px + found[0].share * size[0], found[1].px + found[1].share * size[1]


def _points(place: Box) -> tuple[np.ndarray, np.ndarray]:
    across = np.linspace(place.left, place.left + place.width, _GRID)
    down = np.linspace(place.top, place.top + place.height, _GRID)
    x, y = np.meshgrid(across, down)
    return x, y


def _radial(words: list[Any], at: tuple[float, float], size: tuple[float, float], context: LengthContext) -> Any:
    radii = _radii(words, at, size, context)
    if radii is None:
        return None
    across, down = (max(one, _LEAST) for one in radii)

    def along(place: Box) -> tuple[float, float]:
        x, y = _points(place)
        shares = np.hypot((x - at[0]) / across, (y - at[1]) / down)
        holds = place.left <= at[0] <= place.left + place.width and place.top <= at[1] <= place.top + place.height
        return 0.0 if holds else float(shares.min()), float(shares.max())

    return across, along


def _radii(
    words: list[Any], at: tuple[float, float], size: tuple[float, float], context: LengthContext
) -> tuple[float, float] | None:
    """Return the radii of the ending shape (section 3.2.1)."""
    end = next((i for i, n in enumerate(words) if _is_word(n, "at", "in")), len(words))
    ahead = words[:end]
    lengths = [length for n in ahead if (length := parse_length(n)) is not None]
    extents = [extent(length, context) for length in lengths]
    if any(one is None for one in extents):
        return None
    known = [one for one in extents if one is not None]
    if len(known) == 1:
        return known[0].px, known[0].px
    if len(known) == 2:
        return known[0].px + known[0].share * size[0], known[1].px + known[1].share * size[1]
    circle = any(_is_word(n, "circle") for n in ahead)
    reach = next((n.lower_value for n in ahead if n.type == "ident" and "-" in n.lower_value), "farthest-corner")
    near, far = _reaches(at, size)
    sides = near if "closest" in reach else far
    if circle:
        if "side" in reach:
            radius = min(sides) if "closest" in reach else max(sides)
        else:
            radius = math.hypot(*sides)
        return radius, radius
    if "side" in reach:
        return sides
    # an ellipse through a corner has the proportions of the one to the sides
    return sides[0] * math.sqrt(2), sides[1] * math.sqrt(2)


def _reaches(at: tuple[float, float], size: tuple[float, float]) -> tuple[tuple[float, float], tuple[float, float]]:
    x, y = (abs(at[0]), abs(size[0] - at[0])), (abs(at[1]), abs(size[1] - at[1]))
    return (min(x), min(y)), (max(x), max(y))


def _conic(words: list[Any], at: tuple[float, float]) -> Any:
    start = next((turn for n in words if (turn := _turn(n)) is not None), 0.0)

    def along(place: Box) -> tuple[float, float]:
        if place.left <= at[0] <= place.left + place.width and place.top <= at[1] <= place.top + place.height:
            return _WHOLE
        x, y = _points(place)
        turns = (np.arctan2(x - at[0], at[1] - y) / math.tau - start) % 1.0
        low, high = float(turns.min()), float(turns.max())
        return (low, high) if high - low < 0.5 else _WHOLE  # across the seam

    return 1.0, along
