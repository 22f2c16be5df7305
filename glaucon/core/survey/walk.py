"""One page in one context: which texts are rendered, in what colour, on what stack of layers.

Paint order follows CSS 2.1, Appendix E, as far as boxes can be told apart without layout: every ancestor's
background lies behind a text; boxes that span their container are put into the stack by z-index and order.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from glaucon.core.cascade.colours import SYSTEM_COLOURS
from glaucon.core.cascade.computed import Cascade, Style
from glaucon.core.cascade.containers import Container, Containers, container_for
from glaucon.core.cascade.expression import Current, Expression, Literal, Unknown, resolve
from glaucon.core.cascade.hints import Hints
from glaucon.core.cascade.rules import PageMatcher
from glaucon.core.cascade.selectors import State, input_type, is_disabled
from glaucon.core.cascade.stylesheet import Block
from glaucon.core.cascade.tree import Document, Element
from glaucon.core.cascade.values import Keyword
from glaucon.core.colour.value import BLACK
from glaucon.core.survey.boxes import (
    Area,
    Surroundings,
    area_of,
    content_of,
    filters_of,
    inside,
    is_clipped_away,
    is_positioned,
    makes_stacking_context,
    reach,
)
from glaucon.core.survey.layers import LayerMaker, faded, is_clear, paints_background, partly
from glaucon.core.survey.model import Fill, Group, Layer, Pairing, Run, Shade, Stack, Unseen

_HEADINGS = frozenset({"h1", "h2", "h3", "h4", "h5", "h6"})
_PICTURES = frozenset({"img", "video", "picture", "canvas", "iframe", "object", "embed"})
_REPLACED = frozenset({"audio", "meter", "progress", "br", "wbr", *_PICTURES} - {"picture"})
_SVG_TEXT = frozenset(
    {"text", "tspan", "textPath", "a", "svg", "g", "switch", "foreignObject", "foreignobject", "textpath"}
)
_SVG_SHAPES = frozenset({"rect", "circle", "ellipse", "path", "polygon", "image", "use"})
_CONTROLS = frozenset({"input", "textarea", "select", "button"})
_BUTTON_LABELS = {"submit": "Submit", "reset": "Reset"}
_NO_TEXT_INPUTS = frozenset({"hidden", "range", "color", "checkbox", "radio", "image", "file"})
_DATE_INPUTS = frozenset({"date", "time", "datetime-local", "month", "week"})
# Generated text and own text of these alone is nothing to read: marks of no width.
_INVISIBLE = "\u200b\u200c\u200d\u2060\ufeff\u00ad"

Emit = Callable[[Run, Pairing, float, int], None]


@dataclass(slots=True)
class _Cover:
    """An out-of-flow box that reaches over its container: above or below a text by z-index and tree order."""

    layers: tuple[Layer, ...]
    z: int
    order: int


@dataclass(slots=True)
class _Frame:
    """What an element's children start from."""

    stack: Stack
    covers: tuple[_Cover, ...]
    around: Surroundings
    beside: Stack = ()  # without the element's own background: what a table's caption stands on
    containers: Containers = ()
    columns: tuple[int, tuple[tuple[Layer, ...], ...]] | None = None  # where in the stack columns go, and theirs


class PageWalk:
    """Walks a page's tree once and emits its runs in document order."""

    def __init__(
        self,
        page: str,
        document: Document,
        cascade: Cascade,
        matcher: PageMatcher,
        inline: Callable[[Element], Block | None],
        hints: Hints,
        state: State,
        layers: LayerMaker,
        emit: Emit,
    ) -> None:
        self._page = page
        self._document = document
        self._cascade = cascade
        self._matcher = matcher
        self._inline = inline
        self._hints = hints
        self._state = state
        self._layers = layers
        self._emit = emit
        self._body = next((e for e in document.elements if e.tag == "body"), None)
        self._pseudos = cascade.index.pseudo_elements() & {"before", "after"}
        self._propagated: Style | None = None
        self._body_colour: Expression | None = None

    def run(self) -> None:
        """Emit every run of the page."""
        root = self._document.root
        style = self._style(root, None, ())
        if self._is_gone(style):
            return
        page = Area(0.0, float(self._cascade.viewport.width))
        frame = _Frame(self._canvas(root, style), (), Surroundings(page, page, page))
        # An explicit stack of steps keeps document order without Python's recursion limit.
        steps: list[Callable[[], None]] = []
        self._visit_content(root, style, self._enter(root, style, frame, is_root=True), steps)
        while steps:
            steps.pop()()

    def _style(self, element: Element, parent: Style | None, containers: Containers) -> Style:
        hints = self._hints.of(element, self._state, self._body, self._body_colour)
        return self._cascade.style(self._matcher, element, parent, self._inline(element), hints, containers=containers)

    def _is_gone(self, style: Style) -> bool:
        return style.keyword("display") == "none" or style.values.get("opacity", 1.0) == 0

    def _canvas(self, root: Element, style: Style) -> Stack:
        """Return the canvas: the viewport's own colour, then the background propagated to it."""
        base = Fill(resolve(SYSTEM_COLOURS["canvas"], Current(), style.dark))
        source = style
        if not paints_background(style) and self._body is not None:
            source = self._style(self._body, style, ())
            if source.keyword("display") == "none":
                source = style
        self._propagated = source
        return (base, *self._layers.background(source, Area(0.0, float(self._cascade.viewport.width))))

    def _enter(self, element: Element, style: Style, frame: _Frame, is_root: bool = False) -> _Frame:
        """Return the frame inside an element: its group, what it lies over, its own background."""
        stack, covers = frame.stack, frame.covers
        context = is_root or makes_stacking_context(style)
        if (context or is_positioned(style)) and covers:
            stack, covers = self._settle(element, style, stack, covers)
        box = area_of(style, frame.around, element.tag)
        group = self._group(style)
        beside = (*stack, *group)
        own: tuple[Layer, ...] = ()
        painted = style is not self._propagated and not is_root and style.keyword("display") != "contents"
        if painted and style.keyword("visibility") == "visible" and not self._is_drawing(element):
            own = self._layers.background(style, box)
        spans = self._covers_inside(element, style, box, frame) if is_positioned(style) or is_root else ()
        low = tuple(layer for cover in spans if cover.z < 0 for layer in cover.layers)
        # below zero a box goes under everything of its stacking context, so under this background unless it is one
        stack = (*beside, *own, *low) if context else (*beside, *low, *own)
        return _Frame(
            stack,
            (*covers, *(cover for cover in spans if cover.z >= 0)),
            inside(style, box, frame.around, is_root),
            beside,
            self._containers(style, box, frame),
            self._columns(element, style, len(stack), frame),
        )

    def _group(self, style: Style) -> tuple[Layer, ...]:
        opacity = style.values.get("opacity", 1.0)
        filters = filters_of(style)
        blend = style.keyword("mix-blend-mode") or "normal"
        if opacity == 1 and not filters and blend == "normal":
            return ()
        if any(one.name == "unknown" for one in filters):
            return (Unseen("a filter changes the colours as painted"),)
        return (Group(opacity, filters, blend),)

    def _is_drawing(self, element: Element) -> bool:
        return element.foreign and element.tag != "svg" and not _in_mathml(element)

    def _containers(self, style: Style, box: Area, frame: _Frame) -> Containers:
        if style.keyword("container-type") in ("", "normal"):
            return frame.containers
        names = style.values.get("container-name")
        words = names if isinstance(names, tuple) else ()
        known = frozenset(n.value for n in words if n.type == "ident") or (
            frozenset({names.name}) if isinstance(names, Keyword) else frozenset()
        )
        return (*frame.containers, Container(known, content_of(style, box).width))

    def _columns(
        self, element: Element, style: Style, depth: int, frame: _Frame
    ) -> tuple[int, tuple[tuple[Layer, ...], ...]] | None:
        """Return the backgrounds of a table's columns, which lie between its own and its rows'."""
        if element.tag != "table":
            return frame.columns if element.tag in ("tbody", "thead", "tfoot", "tr") else None
        columns: list[tuple[Layer, ...]] = []
        for child in element.children:
            if child.tag not in ("colgroup", "col"):
                continue
            outer = self._style(child, style, frame.containers)
            below = self._layers.background(outer, Area(None, None))
            inner = [c for c in child.children if c.tag == "col"] or [child]
            for one in inner:
                own = (
                    ()
                    if one is child
                    else self._layers.background(self._style(one, outer, frame.containers), Area(None, None))
                )
                span = one.attributes.get("span", "1")
                columns.extend([(*below, *own)] * (min(int(span), 60) if span.isdigit() else 1))
        return (depth, tuple(columns)) if any(columns) else None

    def _settle(
        self, element: Element, style: Style, stack: Stack, covers: tuple[_Cover, ...]
    ) -> tuple[Stack, tuple[_Cover, ...]]:
        """Put the covers that a positioned element stands over into its stack."""
        place = (_z(style), element.order)
        under = [c for c in covers if place > (c.z, c.order)]
        over = tuple(c for c in covers if place <= (c.z, c.order))
        return (*stack, *(layer for cover in under for layer in cover.layers)), over

    def _covers_inside(self, element: Element, style: Style, box: Area, frame: _Frame) -> tuple[_Cover, ...]:
        covers: list[_Cover] = []
        if "before" in self._pseudos:
            self._cover_of_pseudo(element, style, "before", element.order, box, covers)
        for child in element.children:
            inline = self._inline(child)
            plain = not child.classes and not inline and not child.ident
            if child.tag not in _PICTURES and (plain or _has_words(child)):
                continue
            child_style = self._style(child, style, frame.containers)
            share = reach(child_style, box)
            if share and not self._is_gone(child_style) and child_style.keyword("visibility") == "visible":
                layers = self._cover_layers(child, child_style, share)
                if layers:
                    covers.append(_Cover(layers, _z(child_style), child.order))
        if "after" in self._pseudos:
            self._cover_of_pseudo(element, style, "after", _last_order(element), box, covers)
        return tuple(sorted(covers, key=lambda cover: (cover.z, cover.order)))

    def _cover_of_pseudo(
        self, element: Element, style: Style, pseudo: str, order: int, box: Area, covers: list[_Cover]
    ) -> None:
        found = self._cascade.pseudo_style(self._matcher, element, pseudo, style)
        if found is None or found.values.get("content") is None or found.keyword("content") in ("none", "normal"):
            return
        share = reach(found, box)
        if share and not self._is_gone(found) and found.keyword("visibility") == "visible":
            layers = faded(self._layers.background(found, Area(None, None)), found.values.get("opacity", 1.0))
            if layers:
                covers.append(_Cover(layers if share == 1 else partly(layers), _z(found), order))

    def _cover_layers(self, child: Element, style: Style, share: float) -> tuple[Layer, ...]:
        layers = self._layers.background(style, Area(None, None))
        if child.tag in _PICTURES:
            layers = (*layers, *self._layers.of_picture(child, self._page))
        layers = faded(layers, style.values.get("opacity", 1.0))
        return layers if share == 1 else partly(layers)

    def _visit_content(self, element: Element, style: Style, frame: _Frame, steps: list[Callable[[], None]]) -> None:
        """Emit an element's own texts and queue its children, last first."""
        if style.keyword("content-visibility") == "hidden":
            return
        queue: list[Callable[[], None]] = []
        shut = element.tag == "details" and "open" not in element.attributes
        if "before" in self._pseudos:
            queue.append(lambda: self._visit_pseudo(element, style, frame, "before"))
        if element.tag not in _REPLACED and not shut:
            self._own_text(element, style, frame)
        if element.tag not in _REPLACED and element.tag != "textarea" and not _is_dropdown(element):
            for child in element.children:
                queue.append(lambda child=child: self._visit(child, style, frame, steps))  # type: ignore[misc]
        if "after" in self._pseudos:
            queue.append(lambda: self._visit_pseudo(element, style, frame, "after"))
        steps.extend(reversed(queue))

    def _visit(self, element: Element, parent: Style, frame: _Frame, steps: list[Callable[[], None]]) -> None:
        if element.foreign and element.tag not in _SVG_TEXT and not _in_mathml(element):
            return
        style = self._style(element, parent, frame.containers)
        if element is self._body:
            self._body_colour = style.colour()
        if self._is_gone(style):
            return
        box = area_of(style, frame.around, element.tag)
        if is_clipped_away(style, box, frame.around):
            return
        display = style.keyword("display")
        if display == "table-caption":
            # a table's background does not reach under its caption
            frame = replace(frame, stack=frame.beside)
        elif frame.columns is not None and element.tag in ("td", "th"):
            frame = replace(frame, stack=self._on_column(element, frame))
        self._visit_content(element, style, self._enter(element, style, frame), steps)

    def _on_column(self, cell: Element, frame: _Frame) -> Stack:
        assert frame.columns is not None
        depth, columns = frame.columns
        column = 0
        for other in cell.parent.children if cell.parent else ():
            if other is cell:
                break
            span = other.attributes.get("colspan", "1")
            column += min(int(span), 1000) if span.isdigit() else 1
        return (*frame.stack[:depth], *(columns[column] if column < len(columns) else ()), *frame.stack[depth:])

    def _visit_pseudo(self, element: Element, style: Style, frame: _Frame, pseudo: str) -> None:
        if element.tag in _REPLACED or element.tag in ("input", "textarea", "select"):
            return
        found = self._cascade.pseudo_style(self._matcher, element, pseudo, style)
        if found is None:
            return
        content = found.values.get("content")
        if not isinstance(content, tuple) or self._is_gone(found):
            return
        if is_clipped_away(found, area_of(found, frame.around, ""), frame.around):
            return
        text = "".join(
            piece if isinstance(piece, str) else element.attributes.get(piece[1], "") for piece in content
        ).strip(_INVISIBLE)
        if not text.strip() or found.keyword("visibility") != "visible" or found.font_px == 0:
            return
        inner = self._enter(element, found, frame)
        self._emit_run(element, found, inner, text.strip(), suffix=f"::{pseudo}")

    def _own_text(self, element: Element, style: Style, frame: _Frame) -> None:
        text, painted = self._text_of(element, style)
        if painted is not style:
            # a placeholder may be faded on its own
            if (opacity := painted.values.get("opacity", 1.0)) < 1:
                frame = replace(frame, stack=(*frame.stack, Group(opacity)))
            style = painted
        text = text.strip(_INVISIBLE)
        if not text.strip() or style.keyword("visibility") != "visible" or style.font_px == 0:
            return
        if element.foreign and element.tag in ("svg", "g", "switch"):
            return
        self._emit_run(element, style, frame, text)

    def _text_of(self, element: Element, style: Style) -> tuple[str, Style]:
        """Return an element's own text and the style it is painted in (a placeholder has its own)."""
        tag = element.tag
        if tag == "input":
            return self._text_of_input(element, style)
        if tag == "textarea":
            return (element.own_text, style) if element.has_text else self._placeholder(element, style)
        if tag == "select" and _is_dropdown(element):
            options = [e for e in _descendants(element) if e.tag == "option"]
            chosen = next((o for o in reversed(options) if "selected" in o.attributes), None)
            chosen = chosen or next((o for o in options if "disabled" not in o.attributes), None)
            return (chosen.own_text if chosen else ""), style
        return (element.own_text if element.has_text else ""), style

    def _text_of_input(self, element: Element, style: Style) -> tuple[str, Style]:
        kind = input_type(element)
        if kind in _NO_TEXT_INPUTS:
            return "", style
        value = element.attributes.get("value", "")
        if kind in ("submit", "reset", "button"):
            return (value if "value" in element.attributes else _BUTTON_LABELS.get(kind, "")).strip(), style
        if value:
            return value.strip(), style
        if kind in _DATE_INPUTS:
            return "dd/mm/yyyy" if kind == "date" else "--:--", style
        return self._placeholder(element, style)

    def _placeholder(self, element: Element, style: Style) -> tuple[str, Style]:
        text = element.attributes.get("placeholder", "").strip()
        if not text:
            return "", style
        found = self._cascade.style(self._matcher, element, style, None, {}, "placeholder")
        return ("" if self._is_gone(found) else text), found

    def _emit_run(self, element: Element, style: Style, frame: _Frame, text: str, suffix: str = "") -> None:
        stack = frame.stack
        above = tuple(layer for cover in frame.covers for layer in cover.layers if not self._layers.hides(layer))
        if why := self._doubt(element, frame, suffix):
            stack = (*stack, Unseen(why))
        if element.foreign and not _in_mathml(element):
            stack = (*stack, *self._shapes_behind(element, style, frame))
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
        pairing = Pairing(self._text_colour(element, style), stack, above, large, exempt)
        self._emit(run, pairing, style.font_px, style.weight)

    def _doubt(self, element: Element, frame: _Frame, suffix: str) -> str:
        """Return why a text's colours hang on a container whose width is not known, or an empty text."""
        if not self._cascade.index.has_containers or not frame.containers:
            return ""
        for number in self._matcher.matching(element, self._state, suffix.removeprefix("::") or None):
            for query in self._cascade.index.rules[number].rule.containers:
                container = container_for(query, frame.containers)
                if container is not None and container.width is None:
                    return "its colours hang on the width of a container, which is not known without layout"
        return ""

    def _text_colour(self, element: Element, style: Style) -> Expression:
        if element.foreign and not _in_mathml(element) and not _in_foreign_object(element):
            fill = style.values.get("fill")
            if isinstance(fill, Keyword):
                return Unknown("the words are drawn with a pattern")
            return fill if fill is not None else Literal(BLACK)
        fill = style.values.get("-webkit-text-fill-color", Current())
        colour = style.colour() if isinstance(fill, Current) else fill
        clips = style.values.get("background-clip", ())
        if any(clip.name == "text" for clip in clips) and _is_see_through(colour):
            return Unknown("the words are painted with a background")
        return colour

    def _shapes_behind(self, element: Element, style: Style, frame: _Frame) -> tuple[Layer, ...]:
        """Return what is drawn ahead of a text within its drawing."""
        drawing = next((a for a in element.ancestors() if a.tag == "svg"), None)
        if drawing is None:
            return ()
        layers: list[Layer] = []
        colours: list[Expression] = []
        for shape in _descendants(drawing):
            if shape.order >= element.order or shape.tag not in _SVG_SHAPES:
                continue
            if shape.tag in ("image", "use"):
                return (Unseen("a drawing (SVG) lies behind it"),)
            fill = self._fill_of(shape, drawing, style, frame)
            if fill is None or is_clear(fill):
                continue
            if shape.tag == "rect" and _spans(shape, drawing):
                layers.append(Fill(fill))
            elif fill not in colours:
                colours.append(fill)
        return (*layers, Shade(tuple(colours), partial=True)) if colours else tuple(layers)

    def _fill_of(self, shape: Element, drawing: Element, style: Style, frame: _Frame) -> Expression | None:
        """Return the fill of a shape, inherited through the groups it stands in."""
        chain = [shape]
        for ancestor in shape.ancestors():
            if ancestor is drawing:
                break
            chain.append(ancestor)
        inherited = style
        for one in reversed(chain):
            inherited = self._style(one, inherited, frame.containers)
            if self._is_gone(inherited):
                return None
        fill = inherited.values.get("fill")
        return fill if not isinstance(fill, Keyword) else None


_FORM_OR_LABEL = _CONTROLS | {"option", "label", "fieldset"}


def _in_mathml(element: Element) -> bool:
    return element.foreign and any(a.tag == "math" for a in (element, *element.ancestors()))


def _in_foreign_object(element: Element) -> bool:
    return any(a.tag in ("foreignObject", "foreignobject") for a in element.ancestors())


def _spans(shape: Element, drawing: Element) -> bool:
    """Return whether a rectangle fills its drawing."""
    box = drawing.attributes.get("viewBox", drawing.attributes.get("viewbox", "")).replace(",", " ").split()
    for place, side in ((2, "width"), (3, "height")):
        own = shape.attributes.get(side, "")
        whole = {drawing.attributes.get(side, ""), box[place] if len(box) == 4 else ""}
        if own != "100%" and own not in whole:
            return False
    return True


def _has_words(element: Element) -> bool:
    return element.has_text or any(_has_words(child) for child in element.children)


def _is_see_through(colour: Expression) -> bool:
    return not isinstance(colour, Literal) or colour.colour.alpha < 1


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
