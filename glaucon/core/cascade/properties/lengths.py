"""CSS lengths, as far as font sizes and boxes need them (CSS Values and Units Level 4)."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

_ABSOLUTE_PX = {"px": 1.0, "pt": 4 / 3, "pc": 16.0, "in": 96.0, "cm": 96 / 2.54, "mm": 9.6 / 2.54, "q": 2.4 / 2.54}
# Without font files: the x-height and the width of "0" are taken as half an em.
_FONT_RELATIVE = {"em": 1.0, "ex": 0.5, "ch": 0.5, "cap": 0.7, "ic": 1.0, "lh": 1.2}


@dataclass(frozen=True, slots=True)
class LengthContext:
    """What relative lengths are resolved against, all in CSS pixels."""

    em: float
    rem: float
    width: int
    height: int
    percent_of: float | None = None


Length = Callable[[LengthContext], float | None]


@dataclass(frozen=True, slots=True)
class Extent:
    """A computed length: pixels, and a share of something whose size layout would tell."""

    px: float
    share: float = 0.0

    def of(self, whole: float | None) -> float | None:
        """Return the pixels it comes to, None where it is a share of something unknown."""
        if self.share == 0:
            return self.px
        return None if whole is None else self.px + self.share * whole


def extent(length: Length, context: LengthContext) -> Extent | None:
    """Return a length computed in a context, percentages kept as shares."""
    fixed = length(replace(context, percent_of=0.0))
    some = length(replace(context, percent_of=1000.0))
    if fixed is None or some is None:
        return None
    return Extent(fixed, (some - fixed) / 1000)


def parse_length(node: Any) -> Length | None:
    """Return a function from context to pixels, or None where the value is no length or percentage.

    The function gives None where a percentage has nothing to be of.
    """
    if node.type == "number":
        value = float(node.value)
        return (lambda c: 0.0) if value == 0 else None
    if node.type == "percentage":
        share = float(node.value) / 100
        return lambda c: None if c.percent_of is None else share * c.percent_of
    if node.type == "dimension":
        return _dimension(float(node.value), node.lower_unit)
    if node.type == "function":
        return _maths(node)
    return None


def _dimension(value: float, unit: str) -> Length | None:
    if unit in _ABSOLUTE_PX:
        px = value * _ABSOLUTE_PX[unit]
        return lambda c: px
    if unit in _FONT_RELATIVE:
        ems = value * _FONT_RELATIVE[unit]
        return lambda c: ems * c.em
    if unit in ("rem", "rlh"):
        return lambda c: value * c.rem * (1.2 if unit == "rlh" else 1)
    bare = unit[1:] if unit[0] in "sld" and unit[1:2] == "v" else unit
    if bare in ("vw", "vi"):
        return lambda c: value * c.width / 100
    if bare in ("vh", "vb"):
        return lambda c: value * c.height / 100
    if bare == "vmin":
        return lambda c: value * min(c.width, c.height) / 100
    if bare == "vmax":
        return lambda c: value * max(c.width, c.height) / 100
    if unit in ("cqw", "cqi", "cqmin"):
        return lambda c: value * c.width / 100
    return None


def _arguments(node: Any) -> list[Any]:
    parts: list[list[Any]] = [[]]
    for child in node.arguments:
        if child.type == "literal" and child.value == ",":
            parts.append([])
        elif child.type not in ("whitespace", "comment"):
            parts[-1].append(child)
    return parts


def _maths(node: Any) -> Length | None:
    name = node.lower_name
    parts = _arguments(node)
    if name in ("calc", "-webkit-calc"):
        return _sum(parts[0]) if len(parts) == 1 else None
    if name not in ("min", "max", "clamp"):
        return None
    terms = [_sum(part) for part in parts]
    if not terms or any(term is None for term in terms) or (name == "clamp" and len(terms) != 3):
        return None
    known = [term for term in terms if term is not None]

    def evaluate(c: LengthContext) -> float | None:
        values = [term(c) for term in known]
        numbers = [v for v in values if v is not None]
        if len(numbers) != len(values):
            return None
        if name == "clamp":
            return max(numbers[0], min(numbers[1], numbers[2]))
        return min(numbers) if name == "min" else max(numbers)

    return evaluate


def _sum(tokens: list[Any]) -> Length | None:
    """Return the value of a calc() sum; numbers stand as plain factors inside products."""
    terms: list[tuple[int, list[Any]]] = [(1, [])]
    for token in tokens:
        if token.type == "literal" and token.value in "+-":
            terms.append((1 if token.value == "+" else -1, []))
        else:
            terms[-1][1].append(token)
    products = [(sign, _product(part)) for sign, part in terms]
    if any(product is None for _, product in products):
        return None

    def evaluate(c: LengthContext) -> float | None:
        total = 0.0
        for sign, product in products:
            value = product(c) if product is not None else None
            if value is None:
                return None
            total += sign * value
        return total

    return evaluate


def _product(tokens: list[Any]) -> Length | None:
    if not tokens or len(tokens) % 2 == 0:
        return None
    factors = [_factor(token) for token in tokens[0::2]]
    signs = [getattr(token, "value", "") for token in tokens[1::2]]
    if any(f is None for f in factors) or any(sign not in ("*", "/") for sign in signs):
        return None

    def evaluate(c: LengthContext) -> float | None:
        result: float | None = None
        for index, factor in enumerate(factors):
            value = factor(c) if factor is not None else None
            if value is None:
                return None
            if result is None:
                result = value
            elif signs[index - 1] == "*":
                result *= value
            elif value == 0:
                return None
            else:
                result /= value
        return result

    return evaluate


def _factor(node: Any) -> Length | None:
    if node.type == "number":
        value = float(node.value)
        return lambda c: value
    if node.type == "() block":
        return _sum([n for n in node.content if n.type not in ("whitespace", "comment")])
    return parse_length(node)
