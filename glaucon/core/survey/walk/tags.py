"""Which elements show pictures, draw, or hold no words of their own."""

from __future__ import annotations

from glaucon.core.cascade.tree import Element

PICTURES = frozenset({"img", "video", "picture", "canvas", "iframe", "object", "embed"})
REPLACED = frozenset({"audio", "meter", "progress", "br", "wbr", *PICTURES} - {"picture"})
CONTROLS_WITHOUT_CONTENT = frozenset({"input", "textarea", "select"})
SVG_TEXT = frozenset(
    {"text", "tspan", "textPath", "a", "svg", "g", "switch", "foreignObject", "foreignobject", "textpath"}
)
SVG_SHAPES = frozenset({"rect", "circle", "ellipse", "path", "polygon", "image", "use"})


def is_drawn(element: Element) -> bool:
    """Return whether an element is part of a drawing, where backgrounds are not painted."""
    return element.foreign and element.tag != "svg" and not in_mathml(element)


def in_mathml(element: Element) -> bool:
    return element.foreign and any(a.tag == "math" for a in (element, *element.ancestors()))


def in_foreign_object(element: Element) -> bool:
    return any(a.tag in ("foreignObject", "foreignobject") for a in element.ancestors())


def holds_picture(element: Element) -> bool:
    """Return whether an element shows a picture and nothing else."""
    while len(element.children) == 1 and not element.has_text:
        element = element.children[0]
    return element.tag in PICTURES


def last_order(element: Element) -> int:
    while element.children:
        element = element.children[-1]
    return element.order
