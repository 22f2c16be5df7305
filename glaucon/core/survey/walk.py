"""One page in one context: which texts are rendered, in what colour, on what stack of layers.

Paint order follows CSS 2.1, Appendix E, as far as boxes can be told apart without layout: every ancestor's
background lies behind a text; boxes that span their container are put into the stack by z-index and order.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from glaucon.core.cascade.colours import SYSTEM_COLOURS
from glaucon.core.cascade.computed import Cascade, Style
from glaucon.core.cascade.expression import Current, Expression, Faded, Literal, Unknown, resolve
from glaucon.core.cascade.hints import Hints
from glaucon.core.cascade.images import Gradient, Picture
from glaucon.core.cascade.properties import Keyword
from glaucon.core.cascade.selectors import State, input_type, is_disabled
from glaucon.core.cascade.stylesheet import Block
from glaucon.core.cascade.tree import Document, Element
from glaucon.core.colour.value import BLACK
from glaucon.core.survey.boxes import (
    covers_its_container,
    is_clipped_away,
    is_positioned,
    makes_stacking_context,
    reason_not_composited,
)
from glaucon.core.survey.model import Fill, Group, Layer, Pairing, Run, Shade, Stack, Unseen

_HEADINGS = frozenset({"h1", "h2", "h3", "h4", "h5", "h6"})
_REPLACED = frozenset(
    {"iframe", "img", "video", "audio", "canvas", "object", "embed", "meter", "progress", "br", "wbr"}
)
_SVG_TEXT = frozenset(
    {"text", "tspan", "textPath", "a", "svg", "g", "switch", "foreignObject", "foreignobject", "textpath"}
)
_SVG_SHAPES = frozenset({"rect", "circle", "ellipse", "path", "polygon", "image", "use"})
_CONTROLS = frozenset({"input", "textarea", "select", "button"})
_BUTTON_LABELS = {"submit": "Submit", "reset": "Reset"}
_NO_TEXT_INPUTS = frozenset({"hidden", "range", "color", "checkbox", "radio", "image", "file"})

Emit = Callable[[Run, Pairing, float, int], None]


@dataclass(slots=True)
class _Cover:
    """A box that spans its container: above or below a text by z-index and tree order."""

    layers: tuple[Layer, ...]
    z: int
    order: int


@dataclass(slots=True)
class _Frame:
    """What an element's children start from."""

    stack: Stack
    covers: tuple[_Cover, ...]
    beside: Stack = ()  # the same without the element's own background: what a table's caption stands on


class PageWalk:
    """Walks a page's tree once and emits its runs in document order."""

    def __init__(
        self,
        page: str,
        document: Document,
        cascade: Cascade,
        inline: Callable[[Element], Block | None],
        hints: Hints,
        state: State,
        emit: Emit,
    ) -> None:
        self._page = page
        self._document = document
        self._cascade = cascade
        self._inline = inline
        self._hints = hints
        self._state = state
        self._emit = emit
        self._body = next((e for e in document.elements if e.tag == "body"), None)
        self._pseudos = cascade.index.pseudo_elements() & {"before", "after"}
        self._propagated: Style | None = None

    def run(self) -> None:
        """Emit every run of the page."""
        root = self._document.root
        style = self._style(root, None)
        if self._is_gone(style):
            return
        frame = _Frame(self._canvas(root, style), ())
        # An explicit stack of steps keeps document order without Python's recursion limit.
        steps: list[Callable[[], None]] = []
        self._visit_content(root, style, self._enter(root, style, frame, is_root=True), steps)
        while steps:
            steps.pop()()

    def _style(self, element: Element, parent: Style | None) -> Style:
        hints = self._hints.of(element, self._state, self._body)
        return self._cascade.style(element, parent, self._inline(element), hints)

    def _is_gone(self, style: Style) -> bool:
        return style.keyword("display") == "none" or style.values.get("opacity", 1.0) == 0

    def _canvas(self, root: Element, style: Style) -> Stack:
        """Return the canvas: the viewport's own colour, then the background propagated to it."""
        base = Fill(resolve(SYSTEM_COLOURS["canvas"], Current(), style.dark))
        source = style
        if not _paints_background(style) and self._body is not None:
            source = self._style(self._body, style)
            if source.keyword("display") == "none":
                source = style
        self._propagated = source
        return (base, *self._background_layers(source))

    def _background_layers(self, style: Style) -> tuple[Layer, ...]:
        clips = style.values.get("background-clip", (Keyword("border-box"),))
        images = style.values.get("background-image", (None,))
        layers: list[Layer] = []
        colour = style.colour("background-color")
        if clips[-1 if len(clips) < len(images) else len(images) - 1].name != "text" and not _is_clear(colour):
            layers.append(Fill(colour))
        for index in range(len(images) - 1, -1, -1):
            if images[index] is not None and clips[index % len(clips)].name != "text":
                layers.append(self._image_layer(images[index]))
        return tuple(layers)

    def _image_layer(self, image: Any) -> Layer:
        if isinstance(image, Gradient):
            return Shade(image.stops)
        if isinstance(image, Picture):
            name = image.url if len(image.url) < 60 and not image.url.startswith("data:") else "a picture"
            return Unseen(f"a picture lies behind it ({name})")
        return Unseen("an image lies behind it that is not read")

    def _enter(self, element: Element, style: Style, frame: _Frame, is_root: bool = False) -> _Frame:
        """Return the frame inside an element: its group, what it lies over, its own background."""
        stack, covers = frame.stack, frame.covers
        positioned = is_positioned(style) or makes_stacking_context(style)
        if positioned and covers:
            stack, covers = self._settle(element, style, stack, covers)
        layers: list[Layer] = []
        opacity = style.values.get("opacity", 1.0)
        if opacity < 1:
            layers.append(Group(opacity))
        if why := reason_not_composited(style):
            layers.append(Unseen(why))
        beside = (*stack, *layers)
        display = style.keyword("display")
        painted = style is not self._propagated and not is_root and display != "contents"
        if painted and style.keyword("visibility") == "visible" and element.tag != "head":
            layers.extend(self._background_layers(style))
        own = self._covers_inside(element, style) if is_positioned(style) or is_root else ()
        below = tuple(layer for cover in own if cover.z < 0 for layer in cover.layers)
        stack = (*stack, *layers, *below)
        return _Frame(stack, (*covers, *(cover for cover in own if cover.z >= 0)), beside)

    def _settle(
        self, element: Element, style: Style, stack: Stack, covers: tuple[_Cover, ...]
    ) -> tuple[Stack, tuple[_Cover, ...]]:
        """Put the covers that a positioned element stands over into its stack."""
        value = style.values.get("z-index")
        z = value if isinstance(value, int) else 0
        under = [c for c in covers if (z, element.order) > (c.z, c.order)]
        over = tuple(c for c in covers if (z, element.order) <= (c.z, c.order))
        return (*stack, *(layer for cover in under for layer in cover.layers)), over

    def _covers_inside(self, element: Element, style: Style) -> tuple[_Cover, ...]:
        covers: list[_Cover] = []
        if "before" in self._pseudos:
            self._cover_of_pseudo(element, style, "before", element.order, covers)
        for child in element.children:
            inline = self._inline(child)
            plain = not child.classes and not inline and "id" not in child.attributes
            if (child.children or child.has_text or plain) and child.tag not in ("img", "video", "picture"):
                continue
            child_style = self._style(child, style)
            if covers_its_container(child_style) and not self._is_gone(child_style):
                layers = self._cover_layers(child, child_style)
                if layers:
                    covers.append(_Cover(layers, _z(child_style), child.order))
        if "after" in self._pseudos:
            last = _last_order(element)
            self._cover_of_pseudo(element, style, "after", last, covers)
        return tuple(sorted(covers, key=lambda cover: (cover.z, cover.order)))

    def _cover_of_pseudo(self, element: Element, style: Style, pseudo: str, order: int, covers: list[_Cover]) -> None:
        found = self._cascade.pseudo_style(element, pseudo, style)
        if found is None or found.values.get("content") is None or found.keyword("content") in ("none", "normal"):
            return
        if covers_its_container(found) and not self._is_gone(found) and found.keyword("visibility") == "visible":
            layers = _faded(self._background_layers(found), found.values.get("opacity", 1.0))
            if layers:
                covers.append(_Cover(layers, _z(found), order))

    def _cover_layers(self, child: Element, style: Style) -> tuple[Layer, ...]:
        layers = self._background_layers(style)
        if child.tag in ("img", "video", "picture"):
            layers = (*layers, Unseen("a picture lies behind it"))
        return _faded(layers, style.values.get("opacity", 1.0))

    def _visit_content(self, element: Element, style: Style, frame: _Frame, steps: list[Callable[[], None]]) -> None:
        """Emit an element's own texts and queue its children, last first."""
        if is_clipped_away(style) or style.keyword("content-visibility") == "hidden":
            return
        queue: list[Callable[[], None]] = []
        if "before" in self._pseudos:
            queue.append(lambda: self._visit_pseudo(element, style, frame, "before"))
        if element.tag not in _REPLACED and not (element.tag == "details" and "open" not in element.attributes):
            self._own_text(element, style, frame)
        if element.tag not in _REPLACED and element.tag != "textarea" and not _is_dropdown(element):
            for child in element.children:
                queue.append(lambda child=child: self._visit(child, style, frame, steps))  # type: ignore[misc]
        if "after" in self._pseudos:
            queue.append(lambda: self._visit_pseudo(element, style, frame, "after"))
        steps.extend(reversed(queue))

    def _visit(self, element: Element, parent: Style, frame: _Frame, steps: list[Callable[[], None]]) -> None:
        if element.foreign and element.tag not in _SVG_TEXT and not self._in_mathml(element):
            return
        style = self._style(element, parent)
        if self._is_gone(style):
            return
        if style.keyword("display") == "table-caption":
            frame = _Frame(frame.beside, frame.covers)  # a table's background does not reach under its caption
        self._visit_content(element, style, self._enter(element, style, frame), steps)

    def _in_mathml(self, element: Element) -> bool:
        return any(a.tag == "math" for a in (element, *element.ancestors()))

    def _visit_pseudo(self, element: Element, style: Style, frame: _Frame, pseudo: str) -> None:
        if element.tag in _REPLACED or element.tag in ("input", "textarea", "select"):
            return
        found = self._cascade.pseudo_style(element, pseudo, style)
        if found is None:
            return
        content = found.values.get("content")
        if not isinstance(content, tuple) or self._is_gone(found) or is_clipped_away(found):
            return
        text = "".join(piece if isinstance(piece, str) else element.attributes.get(piece[1], "") for piece in content)
        if not text.strip() or found.keyword("visibility") != "visible" or found.font_px == 0:
            return
        inner = self._enter(element, found, frame)
        self._emit_run(element, found, inner, text.strip(), suffix=f"::{pseudo}")

    def _own_text(self, element: Element, style: Style, frame: _Frame) -> None:
        text, painted = self._text_of(element, style)
        if painted is not style:
            # a placeholder may be faded on its own
            if (opacity := painted.values.get("opacity", 1.0)) < 1:
                frame = _Frame((*frame.stack, Group(opacity)), frame.covers)
            style = painted
        if not text or style.keyword("visibility") != "visible" or style.font_px == 0:
            return
        if element.foreign and element.tag in ("svg", "g", "switch"):
            return
        self._emit_run(element, style, frame, text)

    def _text_of(self, element: Element, style: Style) -> tuple[str, Style]:
        """Return an element's own text and the style it is painted in (a placeholder has its own)."""
        tag = element.tag
        if tag == "input":
            kind = input_type(element)
            if kind in _NO_TEXT_INPUTS:
                return "", style
            value = element.attributes.get("value", "")
            if kind in ("submit", "reset", "button"):
                return (value if "value" in element.attributes else _BUTTON_LABELS.get(kind, "")).strip(), style
            if value.strip():
                return value.strip(), style
            if kind in ("date", "time", "datetime-local", "month", "week"):
                return "dd/mm/yyyy" if kind == "date" else "--:--", style
            return self._placeholder(element, style)
        if tag == "textarea":
            return (element.own_text, style) if element.has_text else self._placeholder(element, style)
        if tag == "select" and _is_dropdown(element):
            options = [e for e in _descendants(element) if e.tag == "option"]
            chosen = next((o for o in reversed(options) if "selected" in o.attributes), None)
            chosen = chosen or next((o for o in options if "disabled" not in o.attributes), None)
            return (chosen.own_text if chosen else ""), style
        return (element.own_text if element.has_text else ""), style

    def _placeholder(self, element: Element, style: Style) -> tuple[str, Style]:
        text = element.attributes.get("placeholder", "").strip()
        if not text:
            return "", style
        found = self._cascade.style(element, style, None, {}, "placeholder")
        return ("" if self._is_gone(found) else text), found

    def _emit_run(self, element: Element, style: Style, frame: _Frame, text: str, suffix: str = "") -> None:
        stack = frame.stack
        above = tuple(layer for cover in frame.covers for layer in cover.layers)
        colour = self._text_colour(element, style)
        if element.foreign and self._svg_has_shapes(element):
            stack = (*stack, Unseen("a drawing (SVG) lies behind it"))
        large = style.font_px >= 24 or (style.font_px >= 18.66 and style.weight >= 700)
        nearest = next((a for a in (element, *element.ancestors()) if a.tag in _FORM_OR_LABEL), None)
        exempt = nearest is not None and nearest.tag in _CONTROLS | {"option"} and is_disabled(nearest)
        chain = (element, *element.ancestors())
        run = Run(
            page=self._page,
            path=element.path() + suffix,
            text=text[:80],
            characters=len(text),
            tag=element.tag,
            is_link=any(a.tag == "a" and "href" in a.attributes for a in chain),
            is_heading=any(a.tag in _HEADINGS for a in chain),
            is_control=element.tag in _CONTROLS,
        )
        self._emit(run, Pairing(colour, stack, above, large, exempt), style.font_px, style.weight)

    def _text_colour(self, element: Element, style: Style) -> Expression:
        if element.foreign and not any(a.tag in ("foreignObject", "foreignobject") for a in element.ancestors()):
            return style.colour("fill") if "fill" in style.values else Literal(BLACK)
        fill = style.values.get("-webkit-text-fill-color", Current())
        colour = style.colour() if isinstance(fill, Current) else fill
        clips = style.values.get("background-clip", ())
        if any(clip.name == "text" for clip in clips) and _is_see_through(colour):
            return Unknown("the words are painted with a background")
        return colour

    def _svg_has_shapes(self, element: Element) -> bool:
        svg = next((a for a in element.ancestors() if a.tag == "svg"), None)
        return svg is not None and any(e.tag in _SVG_SHAPES for e in _descendants(svg))


_FORM_OR_LABEL = _CONTROLS | {"option", "label", "fieldset"}


def _paints_background(style: Style) -> bool:
    images = style.values.get("background-image", (None,))
    return not _is_clear(style.colour("background-color")) or any(image is not None for image in images)


def _is_clear(colour: Expression) -> bool:
    return isinstance(colour, Literal) and colour.colour.alpha == 0


def _is_see_through(colour: Expression) -> bool:
    return not isinstance(colour, Literal) or colour.colour.alpha < 1


def _faded(layers: tuple[Layer, ...], opacity: float) -> tuple[Layer, ...]:
    """Return a cover's layers at its opacity; exact for one layer, which covers are made of."""
    if opacity >= 1:
        return layers
    faded: list[Layer] = []
    for layer in layers:
        if isinstance(layer, Fill):
            faded.append(Fill(Faded(layer.colour, opacity, scale=True)))
        elif isinstance(layer, Shade):
            faded.append(Shade(tuple(Faded(stop, opacity, scale=True) for stop in layer.stops)))
        else:
            faded.append(layer)
    return tuple(faded)


def _z(style: Style) -> int:
    value = style.values.get("z-index")
    return value if isinstance(value, int) else 0


def _descendants(element: Element) -> list[Element]:
    found: list[Element] = []
    pending = list(reversed(element.children))
    while pending:
        node = pending.pop()
        found.append(node)
        pending.extend(reversed(node.children))
    return found


def _last_order(element: Element) -> int:
    while element.children:
        element = element.children[-1]
    return element.order


def _is_dropdown(element: Element) -> bool:
    if element.tag != "select":
        return False
    size = element.attributes.get("size", "1")
    return "multiple" not in element.attributes and not (size.isdigit() and int(size) > 1)
