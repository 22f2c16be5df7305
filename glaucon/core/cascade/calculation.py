"""CSS math on plain numbers, with names that stand for channels (CSS Values 4, section 10; CSS Color 5, section 4).

A calculation is a nested tuple, so that it can be kept in a survey: ("n", 3.0), ("c", "l"), ("+", a, b) and so on.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from typing import Any

Calculation = tuple[Any, ...]

_CONSTANTS = {"pi": math.pi, "e": math.e, "infinity": math.inf, "nan": math.nan}
_ANGLES = {"deg": 1.0, "grad": 0.9, "rad": 180 / math.pi, "turn": 360.0}
_FUNCTIONS = frozenset({"calc", "-webkit-calc", "min", "max", "clamp", "abs", "sign", "round", "mod", "rem"})


def parse_calculation(node: Any, channels: frozenset[str], percent_is: float = 1.0) -> Calculation | None:
    """Return the calculation of a component value, or None where it is none.

    `channels` are the names that may stand for channel values; a percentage counts as a share of `percent_is`.
    """
    if node.type == "number":
        return ("n", float(node.value))
    if node.type == "percentage":
        return ("n", float(node.value) / 100 * percent_is)
    if node.type == "dimension" and node.lower_unit in _ANGLES:
        return ("n", float(node.value) * _ANGLES[node.lower_unit])
    if node.type == "ident":
        if node.lower_value in channels:
            return ("c", node.lower_value)
        if node.lower_value in _CONSTANTS:
            return ("n", _CONSTANTS[node.lower_value])
        return ("n", 0.0) if node.lower_value == "none" else None
    if node.type == "() block":
        return _sum(_spaced(node.content), channels, percent_is)
    if node.type == "function" and node.lower_name in _FUNCTIONS:
        return _function(node, channels, percent_is)
    return None


def evaluate_calculation(calculation: Calculation, channels: Mapping[str, float]) -> float:
    """Return the number a calculation comes to."""
    kind = calculation[0]
    if kind == "n":
        return float(calculation[1])
    if kind == "c":
        return channels[calculation[1]]
    values = [evaluate_calculation(one, channels) for one in calculation[1:]]
    return _OPERATIONS[kind](values)


def _divided(values: list[float]) -> float:
    return values[0] / values[1] if values[1] else math.copysign(math.inf, values[0])


_OPERATIONS: dict[str, Callable[[list[float]], float]] = {
    "+": lambda v: v[0] + v[1],
    "-": lambda v: v[0] - v[1],
    "*": lambda v: v[0] * v[1],
    "/": _divided,
    "min": min,
    "max": max,
    "clamp": lambda v: max(v[0], min(v[1], v[2])),
    "abs": lambda v: abs(v[0]),
    "sign": lambda v: math.copysign(1.0, v[0]) if v[0] else 0.0,
    "round": lambda v: (
        math.floor(v[0] / (v[1] if len(v) > 1 and v[1] else 1) + 0.5) * (v[1] if len(v) > 1 and v[1] else 1)
    ),
    "mod": lambda v: v[0] % v[1] if v[1] else math.nan,
    "rem": lambda v: math.fmod(v[0], v[1]) if v[1] else math.nan,
}


def _spaced(nodes: list[Any]) -> list[Any]:
    return [n for n in nodes if n.type not in ("whitespace", "comment")]


def _function(node: Any, channels: frozenset[str], percent_is: float) -> Calculation | None:
    parts: list[list[Any]] = [[]]
    for child in _spaced(node.arguments):
        if child.type == "literal" and child.value == ",":
            parts.append([])
        else:
            parts[-1].append(child)
    terms = [_sum(part, channels, percent_is) for part in parts]
    if any(term is None for term in terms):
        return None
    if node.lower_name in ("calc", "-webkit-calc"):
        return terms[0] if len(terms) == 1 else None
    if node.lower_name == "clamp" and len(terms) != 3:
        return None
    return (node.lower_name, *terms)


def _sum(tokens: list[Any], channels: frozenset[str], percent_is: float) -> Calculation | None:
    result: Calculation | None = None
    sign, part = "+", list[Any]()
    for token in [*tokens, None]:
        if token is not None and not (token.type == "literal" and token.value in ("+", "-")):
            part.append(token)
            continue
        term = _product(part, channels, percent_is)
        if term is None:
            return None
        result = term if result is None else (sign, result, term)
        sign, part = (token.value if token is not None else "+"), []
    return result


def _product(tokens: list[Any], channels: frozenset[str], percent_is: float) -> Calculation | None:
    if len(tokens) % 2 == 0:
        return None
    result = parse_calculation(tokens[0], channels, percent_is)
    for operator, token in zip(tokens[1::2], tokens[2::2], strict=True):
        factor = parse_calculation(token, channels, percent_is)
        if result is None or factor is None or getattr(operator, "value", "") not in ("*", "/"):
            return None
        result = (operator.value, result, factor)
    return result
