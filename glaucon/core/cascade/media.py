"""Media queries, answered for the screen the reading is made for (Media Queries Level 5), and container queries.

Container queries are answered where the container's width is known (CSS Containment Level 3, section 6).
"""

from __future__ import annotations

import operator
import re
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from glaucon.core.cascade.properties.colours import significant, split_commas
from glaucon.core.cascade.properties.lengths import LengthContext, parse_length

VIEWPORT_HEIGHT_PX = 800


@dataclass(frozen=True, slots=True)
class Viewport:
    """The screen: width in CSS pixels and what `prefers-color-scheme` answers."""

    width: int = 1280
    scheme: str = "light"
    height: int = VIEWPORT_HEIGHT_PX


_DISCRETE = {
    "hover": "hover", "any-hover": "hover", "pointer": "fine", "any-pointer": "fine",
    "prefers-reduced-motion": "no-preference", "prefers-reduced-transparency": "no-preference",
    "prefers-reduced-data": "no-preference", "prefers-contrast": "no-preference", "forced-colors": "none",
    "inverted-colors": "none", "display-mode": "browser", "scripting": "enabled", "update": "fast",
    "overflow-block": "scroll", "overflow-inline": "scroll", "scan": "progressive", "dynamic-range": "standard",
    "video-dynamic-range": "standard", "color-gamut": "srgb", "nav-controls": "back",
}  # fmt: skip
_UNITS_PX = {"px": 1.0, "em": 16.0, "rem": 16.0, "pt": 4 / 3, "pc": 16.0, "in": 96.0, "cm": 96 / 2.54, "mm": 9.6 / 2.54}
_UNITS_DPPX = {"dppx": 1.0, "x": 1.0, "dpi": 1 / 96, "dpcm": 2.54 / 96}
_COMPARE: dict[str, Callable[[float, float], bool]] = {
    "<": operator.lt, "<=": operator.le, ">": operator.gt, ">=": operator.ge, "=": operator.eq,
}  # fmt: skip
_MIRROR = {"<": ">", "<=": ">=", ">": "<", ">=": "<=", "=": "="}


def media_matches(prelude: list[Any], viewport: Viewport) -> bool:
    """Return whether a media query list holds; a query that is not understood does not."""
    parts = [significant(part) for part in split_commas(prelude)]
    if parts == [[]]:
        return True
    return any(_query(part, viewport) is True for part in parts)


def width_thresholds(prelude: list[Any]) -> set[float]:
    """Return the widths in pixels at which a media query list may change its answer."""
    found: set[float] = set()
    for node in prelude:
        if node.type == "() block":
            words = {getattr(n, "lower_value", "") for n in node.content}
            if any("width" in str(word) or "aspect" in str(word) for word in words) or not words:
                found |= {px for n in node.content if (px := _pixels(n)) is not None}
            found |= width_thresholds(node.content)
    return found


def _query(tokens: list[Any], viewport: Viewport) -> bool | None:
    tokens = list(tokens)
    negate = False
    result: bool | None = True
    if tokens and tokens[0].type == "ident":
        word = tokens[0].lower_value
        if word in ("not", "only") and len(tokens) > 1 and tokens[1].type == "ident":
            negate = word == "not"
            tokens = tokens[1:]
            word = tokens[0].lower_value
        if word not in ("not",):
            result = word in ("all", "screen")
            tokens = tokens[1:]
            if tokens:
                if getattr(tokens[0], "lower_value", "") != "and":
                    return None
                rest = _condition(tokens[1:], viewport)
                result = None if rest is None else result and rest
            return None if result is None else result != negate
    return _condition(tokens, viewport)


def _condition(tokens: list[Any], viewport: Viewport) -> bool | None:
    """Return the truth of `a and b`, `a or b`, `not a`; None where it is not understood."""
    if not tokens:
        return None
    if getattr(tokens[0], "lower_value", "") == "not":
        inner = _term(tokens[1], viewport) if len(tokens) == 2 else None
        return None if inner is None else not inner
    joins = {getattr(t, "lower_value", "?") for t in tokens[1::2]}
    terms = [_term(t, viewport) for t in tokens[0::2]]
    if len(joins) > 1 or joins - {"and", "or"}:
        return None
    if joins == {"or"}:
        return True if True in terms else (None if None in terms else False)
    return False if False in terms else (None if None in terms else True)


def _term(node: Any, viewport: Viewport) -> bool | None:
    if node.type != "() block":
        return None
    content = significant(node.content)
    if not content:
        return None
    if content[0].type == "() block" or getattr(content[0], "lower_value", "") == "not":
        return _condition(content, viewport)
    return _feature(content, viewport)


def _feature(content: list[Any], viewport: Viewport) -> bool | None:
    if len(content) == 1 and content[0].type == "ident":
        return _boolean_feature(content[0].lower_value, viewport)
    if content[0].type == "ident" and len(content) > 2 and content[1] == ":":
        return _plain_feature(content[0].lower_value, content[2:], viewport)
    return _range_feature(content, viewport)


def _numeric(name: str, viewport: Viewport) -> float | None:
    return {
        "width": float(viewport.width),
        "device-width": float(viewport.width),
        "inline-size": float(viewport.width),
        "height": float(viewport.height),
        "device-height": float(viewport.height),
        "aspect-ratio": viewport.width / viewport.height,
        "device-aspect-ratio": viewport.width / viewport.height,
        "resolution": 1.0,
        "-webkit-device-pixel-ratio": 1.0,
        "color": 8.0,
        "color-index": 0.0,
        "monochrome": 0.0,
        "grid": 0.0,
    }.get(name)


def _discrete(name: str, viewport: Viewport) -> str | None:
    if name == "orientation":
        return "portrait" if viewport.height >= viewport.width else "landscape"
    if name == "prefers-color-scheme":
        return viewport.scheme
    return _DISCRETE.get(name)


def _boolean_feature(name: str, viewport: Viewport) -> bool | None:
    number, word = _numeric(name, viewport), _discrete(name, viewport)
    if number is not None:
        return number != 0
    if word is not None:
        return word not in ("none", "no-preference")
    return None


def _plain_feature(name: str, value: list[Any], viewport: Viewport) -> bool | None:
    word = _discrete(name, viewport)
    if word is not None:
        return getattr(value[0], "lower_value", None) == word
    compare = "="
    base = re.sub(r"^(-webkit-)?(min|max)-", r"\1", name)
    if base != name:
        compare = ">=" if "min-" in name else "<="
    have, want = _numeric(base, viewport), _number(value)
    if have is None or want is None:
        return None
    return _COMPARE[compare](have, want)


def _range_feature(content: list[Any], viewport: Viewport) -> bool | None:
    """Return `(width >= 600px)`, `(600px <= width)` or `(400px < width <= 700px)`."""
    sides: list[list[Any]] = [[]]
    signs: list[str] = []
    for node in content:
        if node.type == "literal" and node.value in ("<", ">", "=", "<=", ">="):
            if node.value == "=" and signs and not sides[-1]:
                signs[-1] += "="
            else:
                signs.append(node.value)
                sides.append([])
        else:
            sides[-1].append(node)
    index = next((i for i, s in enumerate(sides) if len(s) == 1 and s[0].type == "ident"), None)
    if index is None or not signs or len(sides) != len(signs) + 1:
        return None
    have = _numeric(sides[index][0].lower_value, viewport)
    if have is None:
        return None
    answers: list[bool] = []
    for side, want_nodes in enumerate(sides):
        if side == index:
            continue
        want = _number(want_nodes)
        sign = signs[min(side, index)]
        if want is None or sign not in _COMPARE:
            return None
        answers.append(_COMPARE[sign if side > index else _MIRROR[sign]](have, want))
    return all(answers)


def _number(nodes: list[Any]) -> float | None:
    if len(nodes) == 3 and nodes[1] == "/":
        top, bottom = _number(nodes[:1]), _number(nodes[2:])
        return top / bottom if top is not None and bottom else None
    if len(nodes) != 1:
        return None
    node = nodes[0]
    if node.type == "number":
        return float(node.value)
    if node.type == "dimension" and node.lower_unit in _UNITS_DPPX:
        return float(node.value) * _UNITS_DPPX[node.lower_unit]
    return _pixels(node)


def _pixels(node: Any) -> float | None:
    if node.type == "dimension" and node.lower_unit in _UNITS_PX:
        return float(node.value) * _UNITS_PX[node.lower_unit]
    if node.type == "function" and (length := parse_length(node)) is not None:
        # font-relative units in a query are of the initial font size (Media Queries 4, section 1.3)
        return length(LengthContext(16.0, 16.0, 0, 0))
    return None


# container queries


@dataclass(frozen=True, slots=True)
class Container:
    """An ancestor that may be asked: its names, and its content width in pixels where that is known."""

    names: frozenset[str]
    width: float | None


Containers = tuple[Container, ...]  # outermost first


@dataclass(frozen=True, slots=True, eq=False)
class ContainerQuery:
    """The prelude of a `@container` rule."""

    name: str
    prelude: tuple[Any, ...]

    @classmethod
    def read(cls, prelude: list[Any]) -> ContainerQuery:
        """Return the query of a prelude."""
        words = [n for n in prelude if n.type not in ("whitespace", "comment")]
        named = bool(words) and words[0].type == "ident" and words[0].lower_value not in ("not", "none", "and", "or")
        return cls(words[0].value if named else "", tuple(words[1:] if named else words))


def container_for(query: ContainerQuery, containers: Containers) -> Container | None:
    """Return the nearest container that a query speaks of."""
    return next((c for c in reversed(containers) if not query.name or query.name in c.names), None)


def holds_in(query: ContainerQuery, containers: Containers) -> bool:
    """Return whether a query holds; without a container, or where its width is not known, it does not."""
    container = container_for(query, containers)
    if container is None or container.width is None:
        return False
    return media_matches(list(query.prelude), Viewport(int(container.width)))
