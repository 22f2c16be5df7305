"""Logos and icons: pictures in the page, behind wordless boxes and drawn inline, with the colours they are made of."""

from __future__ import annotations

import re
from collections.abc import Callable, Container, Iterator
from dataclasses import dataclass

from glaucon.core.cascade.computed import Style
from glaucon.core.cascade.expression import Expression
from glaucon.core.cascade.properties.images import CssPicture
from glaucon.core.cascade.properties.values import Keyword
from glaucon.core.cascade.tree import Element
from glaucon.core.survey.boxes import traits_of
from glaucon.core.survey.layers import is_clear
from glaucon.core.survey.model import MarkKind, Stack
from glaucon.core.survey.texts import has_words, is_told_beside

_SHAPES = frozenset("path rect circle ellipse polygon polyline line".split())
_GROUPS = frozenset("svg g a switch".split())
_MOST_ELEMENTS, _MOST_INKS = 60, 4
_WIDEST = 12  # times its height: what is wider is a line or an edge, no logo
_NAME = re.compile(r"[A-Za-z_][\w-]*")
_MOST_UP = 4


@dataclass(frozen=True, slots=True)
class Pictured:
    """A logo or icon as shown on a page: the layers below it, and its `picture` or the `inks` of its drawing."""

    element: Element
    kind: MarkKind
    stack: Stack
    picture: str = ""
    inks: tuple[Expression, ...] = ()


def picture_behind(element: Element, style: Style) -> str:
    """Return the address of the one picture behind a box without words that shows it once, "" elsewhere."""
    images = [image for image in style.values.get("background-image", ()) if image is not None]
    if len(images) != 1 or not isinstance(images[0], CssPicture) or has_words(element):
        return ""
    (across, down), *_ = style.values.get("background-repeat") or (("repeat", "repeat"),)
    return images[0].url if across == down == "no-repeat" else ""


def drawn_inks(drawing: Element, style: Style, style_of: Callable[[Element, Style], Style]) -> tuple[Expression, ...]:
    """Return the fill colours of an inline SVG that is a logo or icon; empty for illustrations of many colours.

    What fills its box brings its own background; what words beside it say the same as may be missed (WCAG 2.2, 1.4.11).
    """
    if not _may_be_a_mark(drawing):
        return ()
    found: list[Expression] = []
    shapes = list(_shapes_in(drawing, style, style_of))
    if len(shapes) > _MOST_ELEMENTS:
        return ()
    for place, (shape, own) in enumerate(shapes):
        if shape.tag == "use" and _has_own_colours(shape):
            return ()
        paints = [own.values.get(name) for name in ("fill", "stroke")]
        if any(isinstance(paint, Keyword) for paint in paints):
            return ()  # a gradient or a pattern of its own
        shown = [paint for paint in paints if paint is not None and not is_clear(paint)]
        if place == 0 and shape.tag == "rect" and shown and fills_drawing(shape, drawing):
            return ()
        found += [paint for paint in shown if paint not in found]
    return tuple(found) if len(found) <= _MOST_INKS else ()


def _may_be_a_mark(drawing: Element) -> bool:
    if drawing.attributes.get("preserveAspectRatio", drawing.attributes.get("preserveaspectratio")) == "none":
        return False  # stretched: the edge of a section
    box = _numbers(drawing)
    is_long = len(box) == 4 and not 1 / _WIDEST <= box[2] / max(box[3], 1e-9) <= _WIDEST
    return not is_long and not is_told_beside(drawing) and not any(one.tag == "image" for one in drawing.descendants())


def _shapes_in(
    around: Element, style: Style, style_of: Callable[[Element, Style], Style]
) -> Iterator[tuple[Element, Style]]:
    """Yield the shapes that are shown in a drawing, in the order they are painted; one more than are looked at."""
    left = [(child, style) for child in reversed(around.children)]
    seen = 0
    while left and seen <= _MOST_ELEMENTS:
        element, parent = left.pop()
        seen += 1
        if element.tag not in _SHAPES | _GROUPS | {"use"}:
            continue
        own = style_of(element, parent)
        if traits_of(own).display == "none" or own.values.get("opacity", 1.0) == 0:
            continue
        if element.tag in _GROUPS:
            left += [(child, own) for child in reversed(element.children)]
        elif traits_of(own).is_shown:
            yield element, own


def _has_own_colours(use: Element) -> bool:
    """Return whether what a `use` shows says colours of its own, or is not in this page."""
    name = use.attributes.get("href", use.attributes.get("xlink:href", ""))
    root = next((one for one in use.ancestors() if one.parent is None), use)
    shown = next((one for one in root.descendants() if name[:1] == "#" and one.ident == name[1:]), None)
    if shown is None:
        return True
    return any({"fill", "stroke", "style"} & one.attributes.keys() for one in (shown, *shown.descendants()))


def fills_drawing(shape: Element, drawing: Element) -> bool:
    """Return whether a rectangle fills its drawing."""
    box = _view_box(drawing)
    for place, side in ((2, "width"), (3, "height")):
        own = shape.attributes.get(side, "")
        whole = {drawing.attributes.get(side, ""), box[place] if len(box) == 4 else ""}
        if own != "100%" and own not in whole:
            return False
    return True


def _numbers(drawing: Element) -> list[float]:
    try:
        return [float(one) for one in _view_box(drawing)]
    except ValueError:
        return []


def _view_box(drawing: Element) -> list[str]:
    return drawing.attributes.get("viewBox", drawing.attributes.get("viewbox", "")).replace(",", " ").split()


def selector_of(element: Element, begins: Container[int]) -> str:
    """Return what finds an element within its section: by its id, by its classes, or down from what has such.

    `begins` holds the orders of the elements that sections begin with.
    """
    steps: list[str] = []
    for one in [element, *element.ancestors()][:_MOST_UP]:
        if steps and (one.order in begins or one.tag == "body"):
            break
        if _NAME.fullmatch(one.ident):
            return " > ".join([f"#{one.ident}", *reversed(steps)])
        classes = sorted(name for name in one.classes if _NAME.fullmatch(name))
        if classes:
            return " > ".join([one.tag + "".join(f".{name}" for name in classes), *reversed(steps)])
        beside = one.parent.children if one.parent is not None else []
        is_only = sum(other.tag == one.tag for other in beside) <= 1
        steps.append(one.tag if is_only else f"{one.tag}:nth-child({one.position})")
    return " > ".join(reversed(steps))


def words_of(element: Element) -> str:
    """Return what a mark is called where it stands: by itself, or by the link it is all of."""
    for one in [element, *element.ancestors()][:_MOST_UP]:
        title = next((child.own_text for child in one.children if child.tag == "title"), "")
        said = one.attributes.get("alt") or one.attributes.get("aria-label") or title or one.attributes.get("title")
        if said and said.strip():
            return " ".join(said.split())[:80]
        if one is not element and (one.has_text or len(one.children) > 1):
            break
    return ""
