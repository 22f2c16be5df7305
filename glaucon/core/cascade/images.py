"""What a `background-image` layer may paint: nothing, a gradient, a picture."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from glaucon.core.cascade.colours import colour_expression, significant, split_commas
from glaucon.core.cascade.expression import Expression
from glaucon.core.cascade.tokens import TokenTable


@dataclass(frozen=True, slots=True)
class Gradient:
    """A gradient by its colour stops in order; where each falls is not kept yet."""

    stops: tuple[Expression, ...]


@dataclass(frozen=True, slots=True)
class Picture:
    """A picture by its address as written."""

    url: str


@dataclass(frozen=True, slots=True)
class UnknownImage:
    """An image that is valid CSS and not known here."""

    name: str


Image = Gradient | Picture | UnknownImage

_GRADIENTS = frozenset(
    f"{prefix}{repeat}{shape}-gradient"
    for prefix in ("", "-webkit-")
    for repeat in ("", "repeating-")
    for shape in ("linear", "radial", "conic")
)
_OTHER_IMAGES = frozenset(
    {"image-set", "-webkit-image-set", "cross-fade", "-webkit-cross-fade", "paint", "-webkit-gradient"}
)


def is_image(node: Any) -> bool:
    """Return whether a component value is an image of any kind."""
    return node.type == "url" or (
        node.type == "function" and (node.lower_name in _GRADIENTS | _OTHER_IMAGES or node.lower_name in ("url", "src"))
    )


def parse_image(node: Any, table: TokenTable) -> Image | None:
    """Return the image of a component value, or None where it is invalid."""
    if node.type == "url":
        return Picture(node.value)
    if node.type != "function":
        return None
    if node.lower_name in ("url", "src"):
        strings = [n for n in node.arguments if n.type == "string"]
        return Picture(strings[0].value) if strings else None
    if node.lower_name in _GRADIENTS:
        return _parse_gradient(node, table)
    if node.lower_name in _OTHER_IMAGES:
        return UnknownImage(node.lower_name)
    return None


def _parse_gradient(node: Any, table: TokenTable) -> Gradient | None:
    stops: list[Expression] = []
    for index, raw in enumerate(split_commas(node.arguments)):
        part = significant(raw)
        colours = [c for n in part if (c := colour_expression(n, table)) is not None]
        if len(colours) > 1 or not part:
            return None
        if colours:
            stops.append(colours[0])
        elif index > 0 and not all(n.type in ("percentage", "dimension", "number", "function") for n in part):
            return None
    return Gradient(tuple(stops)) if len(stops) >= 1 else None
