"""One page in one context: which texts are rendered, in what colour, on what stack of layers.

Paint order follows CSS 2.1, Appendix E, as far as boxes can be told apart without layout: every ancestor's
background lies behind a text; boxes that span their container are put into the stack by z-index and order.

A page is walked whole at rest. In another state only those parts are walked again in which some rule that speaks of
the state matches; the rest is taken over.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from typing import Any

from glaucon.core.cascade.colours import DEFAULT_COLOURS
from glaucon.core.cascade.computed import Cascade, Style
from glaucon.core.cascade.expression import BESIDE, INHERITED, Current, Expression, Literal, Unknown, placed, resolve
from glaucon.core.cascade.hints import Hints
from glaucon.core.cascade.media import Container, Containers, container_for
from glaucon.core.cascade.rules import PageMatcher
from glaucon.core.cascade.selectors import State
from glaucon.core.cascade.stylesheet import Block
from glaucon.core.cascade.tree import Document, Element, whole_number
from glaucon.core.cascade.values import Keyword
from glaucon.core.colour.value import BLACK
from glaucon.core.layout.document import Box, Measured
from glaucon.core.survey.boxes import (
    Area,
    Place,
    filters_of,
    grid_cell,
    is_clipped_away,
    is_laid_along_top,
    reach,
    traits_of,
    z_of,
)
from glaucon.core.survey.laid_out import Groups, LaidOut, LaidText, PseudoBox, Standing, depends_on_place
from glaucon.core.survey.layers import (
    LayerMaker,
    faded,
    fills_words,
    inks_of,
    is_clear,
    paints_background,
    partly,
    placed_layer,
)
from glaucon.core.survey.marks import Pictured, drawn_inks, fills_drawing, picture_behind
from glaucon.core.survey.model import Fill, Ground, Group, Layer, Pairing, Photo, Shade, Sighting, Stack, Unseen
from glaucon.core.survey.regions import RegionsOfPage
from glaucon.core.survey.texts import (
    generated_words,
    has_words,
    is_dropdown,
    is_icon,
    is_told_beside,
    own_words,
    placeholder_words,
    shown_instead,
)

PICTURES = frozenset({"img", "video", "picture", "canvas", "iframe", "object", "embed"})
_REPLACED = frozenset({"audio", "meter", "progress", "br", "wbr", *PICTURES} - {"picture"})
_CONTROLS_WITHOUT_CONTENT = frozenset({"input", "textarea", "select"})
_SVG_TEXT = frozenset(
    {"text", "tspan", "textPath", "a", "svg", "g", "switch", "foreignObject", "foreignobject", "textpath"}
)
_SVG_SHAPES = frozenset({"rect", "circle", "ellipse", "path", "polygon", "image", "use"})
_GRIDS = ("grid", "inline-grid")
_MOST_IN_CELL = 16
_NOWHERE = Area(None, None)
_FILLED = "the text is filled with a background"
_MOST_DEPTH_OF_FLOOR = 4
_REST = State()
_MOST_BESIDE = 8  # chains of regions that one text is followed over
_MOST_DEPTH_OF_TOP = 8


@dataclass(slots=True)
class _Cover:
    """An out-of-flow box that reaches over its container: above or below a text by z-index and tree order."""

    layers: tuple[Layer, ...]
    z: int
    order: int


# by cell: when a box is painted (see `_painted_at`), and the box
_Cells = dict[tuple[str, ...], list[tuple[tuple[int, bool, int], _Cover]]]


@dataclass(slots=True, eq=False)
class _Frame:
    """What an element's children start from. `same` holds while everything is as it is at rest."""

    stack: Stack
    covers: tuple[_Cover, ...]
    place: Place
    beside: Stack = ()  # without the element's own background: what a table's caption stands on
    containers: Containers = ()
    columns: tuple[int, tuple[tuple[Layer, ...], ...]] | None = None  # where in the stack columns go, and theirs
    same: bool = False
    colour_at: int = 0  # how deep in regions the colour of text is said
    groups: Groups = ()
    adrift: bool = False  # in a box laid over others, with nothing opaque between it and them
    filled: tuple[Element, Style, Area, bool] | None = None  # whose background is cut to the words; of a pseudo-element


@dataclass(slots=True)
class Remembered:
    """What a page showed at rest, for its other states: where each element's sightings begin and end."""

    sightings: list[Sighting]
    spans: dict[int, tuple[int, int]]
    painted: list[tuple[Element, tuple[Layer, ...]]]  # each element with what it paints behind its content
    floating: set[int]  # elements with out-of-flow children: what is beside those colours them
    standing: dict[int, Standing]  # how elements stand, where the page was measured
    begun: dict[int, Style] = field(default_factory=dict)  # the styles of the elements that regions begin with
    pictured: list[Pictured] = field(default_factory=list)


@dataclass(slots=True)
class _Pending:
    """A text whose place was measured: what it lies on is known once all elements are."""

    at: int  # of its sighting
    text: LaidText
    words: str
    style: Style
    inks: tuple[Expression, ...]
    doubt: str


# Registers a text of an element (with the suffix of generated text) in a pairing; returns the text's and its number.
Register = Callable[[Element, str, str, Pairing], tuple[int, int]]
# What texts lie over without lying in it, by the text's element and suffix: the chain of regions, and the path of the
# element that the innermost of them begins with.
Beside = dict[tuple[int, str], list[tuple[tuple[int, ...], str]]]


@dataclass(slots=True)
class PageContext:
    """What all walks over one page share."""

    page: str
    document: Document
    matcher: PageMatcher
    inline: Callable[[Element], Block | None]
    hints: Hints
    layers: LayerMaker
    register: Register
    regions: RegionsOfPage
    beside: Beside = field(default_factory=dict)


class PageWalk:
    """Walks a page's tree in one state at one viewport and notes its texts in document order."""

    def __init__(
        self, context: PageContext, cascade: Cascade, state: State, rest: Remembered | None = None,
        laid: LaidOut | None = None,
    ) -> None:  # fmt: skip
        self._context = context
        self._cascade = cascade
        self._matcher = context.matcher
        self._layers = context.layers
        self._state = state
        self._rest = rest
        self._body = next((e for e in context.document.elements if e.tag == "body"), None)
        self._pseudos = cascade.index.pseudo_elements() & {"before", "after"}
        self._propagated: Style | None = None
        self._body_style: Style | None = None
        self._body_colour: Expression | None = None
        self._known: dict[tuple[int, str, int, int, int], tuple[int, int]] = {}
        self._cells: dict[int, _Cells] = {}
        self._placed_colours: dict[tuple[int, int], Expression] = {}
        self._kept: list[object] = []  # what is known by identity must outlive the walk
        self._touched = self._find_touched() if rest is not None else set()
        self._laid = laid
        self._pending: list[_Pending] = []
        self._column_layers: dict[int, tuple[Layer, ...]] = {}  # of a cell: what its column paints
        self._pseudo_boxes: dict[int, tuple[PseudoBox, ...]] = {}
        self.result = Remembered([], {}, [], set(), dict(rest.standing) if rest is not None else {})

    def run(self) -> Remembered:
        """Return every text of the page as this context shows it."""
        root = self._context.document.root
        style = self._style(root, None, ())
        if style is None or self._is_gone(style):
            return self.result
        viewport = Area(0.0, float(self._cascade.viewport.width))
        page = Place(None, None, "", viewport)
        same = self._rest is not None and root.order not in self._touched
        frame = _Frame(self._canvas(root, style, viewport), (), page, same=same)
        inner = self._enter(root, style, frame, is_root=True)
        if self._body is not None and self._body.order in self._touched:
            inner.same = False
        # An explicit stack of steps keeps document order without Python's recursion limit.
        steps: list[Callable[[], None]] = []
        self._visit_content(root, style, inner, steps)
        while steps:
            steps.pop()()
        if self._pending:
            self._lay_down()
        return self.result

    # which parts differ from rest

    def _find_touched(self) -> set[int]:
        """Return the elements in or at which a rule that speaks of the state matches otherwise than at rest."""
        assert self._rest is not None
        touched: set[int] = set()
        for element in self._matcher.touched(self._context.document.elements, self._state):
            touched.add(element.order)
            parent = element.parent
            if parent is not None and parent.order in self._rest.floating:
                touched.add(parent.order)
        self._inside = {a.order for order in touched for a in self._context.document.elements[order].ancestors()}
        return touched

    def _take_over(self, element: Element) -> bool:
        """Take over what an element showed at rest, if nothing in it differs; return whether that was so."""
        if self._rest is None or element.order in self._touched or element.order in self._inside:
            return False
        start, end = self._rest.spans.get(element.order, (0, 0))
        self.result.sightings.extend(self._rest.sightings[start:end])
        return True

    # styles

    def _style(self, element: Element, parent: Style | None, containers: Containers) -> Style:
        context = self._context
        hints = context.hints.of(element, self._state, self._body, self._body_colour)
        inline = context.inline(element)
        return self._cascade.style(self._matcher, element, self._state, parent, inline, hints, containers=containers)

    def _pseudo_style(self, element: Element, pseudo: str, style: Style) -> Style | None:
        return self._cascade.pseudo_style(self._matcher, element, self._state, pseudo, style)

    def _is_gone(self, style: Style) -> bool:
        return traits_of(style).display == "none" or style.values.get("opacity", 1.0) == 0

    def _canvas(self, root: Element, style: Style, viewport: Area) -> Stack:
        """Return the canvas: the viewport's own colour, then the background propagated to it."""
        base = Fill(resolve(DEFAULT_COLOURS["canvas"], Current(), style.dark))
        source = style
        if not paints_background(style) and self._body is not None:
            source = self._style(self._body, style, ())
            if traits_of(source).display == "none":
                source = style
        self._propagated = source
        self.result.painted.append((self._body or root, self._layers.background(source, viewport)))
        said = self._layers.background(source, viewport)
        return (base, *said) if "background-color" in source.says else (base, Ground(0), *said)

    # frames

    def _enter(self, element: Element, style: Style, frame: _Frame, is_root: bool = False, pseudo: str = "") -> _Frame:
        """Return the frame inside an element: its group, what it lies over, its own background."""
        stack, covers = frame.stack, frame.covers
        traits = traits_of(style)
        context = is_root or traits.makes_context
        if covers and (context or traits.is_positioned):
            stack, covers = self._settle(element, style, stack, covers)
        place = Place(frame.place, style, "" if pseudo else element.tag, frame.place.viewport)
        if is_root or (element is self._body and not pseudo):
            place.positioned = None  # as good as the page itself
        group = self._group(element, style, frame, pseudo)
        beside = (*stack, *group) if group else stack
        groups = frame.groups
        if group:
            groups = (*groups, (-element.order - 1 if pseudo else element.order, group[0]))
        if self._laid is not None and not pseudo:
            self.result.standing[element.order] = Standing(element, style, groups)
        own = self._own_layers(element, style, place, is_root)
        if own and not pseudo:
            self.result.painted.append((element, own))
        if not pseudo and element.order in self._context.regions.starts:
            self.result.begun[element.order] = style
            own = self._with_ground(element, style, own)
        spans: tuple[_Cover, ...] = ()
        if not pseudo and (traits.is_positioned or is_root):
            spans = self._covers_inside(element, style, place, frame)
        low = tuple(layer for cover in spans if cover.z < 0 for layer in cover.layers)
        # below zero a box goes under everything of its stacking context, so under this background unless it is one
        added = (*own, *low) if context else (*low, *own)
        stack = (*beside, *added) if added else beside
        return _Frame(
            stack,
            (*covers, *(cover for cover in spans if cover.z >= 0)) if spans else covers,
            place,
            beside,
            self._containers(style, place, frame),
            self._columns(element, style, len(stack), frame),
            frame.same and element.order not in self._touched,
            self._depth(element) if "color" in self._said(element, style) else frame.colour_at,
            groups,
            (frame.adrift or traits.is_out_of_flow) and not self._layers.is_opaque(style),
            (element, style, place.area, bool(pseudo)) if fills_words(style) else frame.filled,
        )

    def _said(self, element: Element, style: Style) -> frozenset[str]:
        """Return which colours a study's scope does not say anew for an element: its rules lie below the page's own.

        Over attributes and what browsers say themselves they win.
        """
        return style.firm if element.order in self._context.regions.starts else style.says

    def _depth(self, element: Element) -> int:
        return self._context.regions.depth(element.order)

    def _with_ground(self, element: Element, style: Style, own: tuple[Layer, ...]) -> tuple[Layer, ...]:
        """Return what a region paints, with the place of a background that a study may give it."""
        if style is self._propagated or "background-color" in style.firm or not traits_of(style).is_shown:
            return own
        if own and isinstance(own[0], Fill) and "background-color" in style.says:
            return (Ground(self._depth(element), own[0].colour), *own[1:])
        return (Ground(self._depth(element)), *own)

    def _background(self, element: Element, style: Style, box: Area) -> tuple[Layer, ...]:
        """Return what a box paints, its colours said at the depth it lies at."""
        depth = self._depth(element)
        layers = self._layers.background(style, box)
        return tuple(placed_layer(layer, depth) for layer in layers) if depth else layers

    def _own_layers(self, element: Element, style: Style, place: Place, is_root: bool) -> tuple[Layer, ...]:
        painted = style is not self._propagated and not is_root and traits_of(style).display != "contents"
        if not painted or not traits_of(style).is_shown or not paints_background(style) or _is_drawn(element):
            return ()
        return self._background(element, style, place.area)

    def _group(self, element: Element, style: Style, frame: _Frame, pseudo: str) -> tuple[Layer, ...]:
        opacity = style.values.get("opacity", 1.0)
        filters = filters_of(style)
        blend = style.keyword("mix-blend-mode") if "mix-blend-mode" in style.values else "normal"
        if opacity == 1 and not filters and blend == "normal":
            return ()
        if any(one.name == "unknown" for one in filters):
            return (Unseen("a filter changes the colours as painted"),)
        return (Group(opacity, filters, blend, self._faded_by(element, frame, pseudo) if opacity < 1 else ""),)

    def _faded_by(self, element: Element, frame: _Frame, pseudo: str) -> str:
        """Return the selector that fades an element in this state; "" where its style attribute does."""
        inline = self._context.inline(element)
        if inline is not None and not pseudo and ("opacity" in inline.normal or "opacity" in inline.important):
            return ""
        return self._cascade.source_of(self._matcher, element, self._state, pseudo or None, "opacity", frame.containers)

    def _containers(self, style: Style, place: Place, frame: _Frame) -> Containers:
        if "container-type" not in style.values or style.keyword("container-type") == "normal":
            return frame.containers
        names = style.values.get("container-name")
        words = names if isinstance(names, tuple) else ()
        known = frozenset(n.value for n in words if n.type == "ident") or (
            frozenset({names.name}) if isinstance(names, Keyword) else frozenset()
        )
        return (*frame.containers, Container(known, place.content.width))

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
            below = self._background(child, outer, _NOWHERE)
            for one in [c for c in child.children if c.tag == "col"] or [child]:
                own = () if one is child else self._style(one, outer, frame.containers)
                layers = (*below, *self._background(child, own, _NOWHERE)) if isinstance(own, Style) else below
                span = one.attributes.get("span", "1")
                columns.extend([layers] * (min(whole_number(span) or 1, 60)))
        return (depth, tuple(columns)) if any(columns) else None

    def _settle(
        self, element: Element, style: Style, stack: Stack, covers: tuple[_Cover, ...]
    ) -> tuple[Stack, tuple[_Cover, ...]]:
        """Put the covers that a positioned element stands over into its stack."""
        own = (z_of(style), element.order)
        under = [c for c in covers if own > (c.z, c.order)]
        over = tuple(c for c in covers if own <= (c.z, c.order))
        return (*stack, *(layer for cover in under for layer in cover.layers)), over

    # boxes laid over and under words

    def _covers_inside(self, element: Element, style: Style, place: Place, frame: _Frame) -> tuple[_Cover, ...]:
        covers: list[_Cover] = []
        if "before" in self._pseudos:
            self._cover_of_pseudo(element, style, "before", element.order, place, covers)
        for child in element.children:
            plain = not child.classes and not child.ident and not self._context.inline(child)
            if child.tag not in PICTURES and (plain or has_words(child)):
                continue
            child_style = self._style(child, style, frame.containers)
            if not traits_of(child_style).is_out_of_flow or not traits_of(child_style).is_shown:
                continue
            fixed = traits_of(child_style).position == "fixed"
            share = reach(child_style, place.viewport if fixed else place.area)
            if share and not self._is_gone(child_style):
                layers = self._cover_layers(child, child_style, share)
                if layers:
                    covers.append(_Cover(layers, z_of(child_style), child.order))
        if "after" in self._pseudos:
            self._cover_of_pseudo(element, style, "after", _last_order(element), place, covers)
        return tuple(sorted(covers, key=lambda cover: (cover.z, cover.order)))

    def _cover_of_pseudo(
        self, element: Element, style: Style, pseudo: str, order: int, place: Place, covers: list[_Cover]
    ) -> None:
        found = self._pseudo_style(element, pseudo, style)
        if found is None or found.values.get("content") is None or found.keyword("content") in ("none", "normal"):
            return
        share = reach(found, place.area)
        if share and not self._is_gone(found) and traits_of(found).is_shown:
            layers = faded(self._background(element, found, _NOWHERE), found.values.get("opacity", 1.0))
            if layers:
                covers.append(_Cover(layers if share == 1 else partly(layers), z_of(found), order))

    def _cover_layers(self, child: Element, style: Style, share: float) -> tuple[Layer, ...]:
        layers = self._background(child, style, _NOWHERE)
        if child.tag in PICTURES:
            layers = (*layers, *self._layers.of_picture(child, self._context.page))
        layers = faded(layers, style.values.get("opacity", 1.0))
        return layers if share == 1 else partly(layers)

    def _floor(self, element: Element, style: Style, parent: Style, frame: _Frame) -> tuple[Layer, ...]:
        """Return what an out-of-flow box without a ground of its own is laid over: its container's content.

        Without layout that is known where the container holds one thing besides, as a picture under its caption or a
        field under its label.
        """
        if element.parent is None or self._layers.is_opaque(style):
            return ()
        if frame.place.is_page_positioned:
            return self._page_top(frame) if is_laid_along_top(style) else ()
        shown: list[tuple[Element, Style]] = []
        for child in element.parent.children:
            if child is element:
                continue
            child_style = self._style(child, parent, frame.containers)
            if not self._is_gone(child_style) and not traits_of(child_style).is_out_of_flow:
                shown.append((child, child_style))
        if len(shown) > 1:
            shown = [one for one in shown if _holds_picture(one[0])][:1]
        return self._laid_under(*shown[0], frame, depth=0) if shown else ()

    def _page_top(self, frame: _Frame) -> tuple[Layer, ...]:
        """Return what the page begins with: a bar fixed along its top stands over that."""
        element, style = self._body, self._body_style
        for _ in range(_MOST_DEPTH_OF_TOP):
            if element is None or style is None:
                return ()
            first: tuple[Element, Style] | None = None
            for child in element.children:
                child_style = self._style(child, style, frame.containers)
                if not self._is_gone(child_style) and not traits_of(child_style).is_out_of_flow:
                    first = child, child_style
                    break
            if first is None:
                return ()
            element, style = first
            if layers := self._background(element, style, _NOWHERE):
                return layers
        return ()

    def _laid_under(self, element: Element, style: Style, frame: _Frame, depth: int) -> tuple[Layer, ...]:
        # a box further in that holds text, a card in the middle of a hero, does not fill what it lies in
        fills = depth == 0 or not has_words(element)
        layers = self._background(element, style, _NOWHERE) if fills else ()
        if element.tag in PICTURES:
            return (*layers, *self._layers.of_picture(element, self._context.page))
        inner = [c for c in element.children if c.tag not in ("script", "style")]
        if len(inner) == 1 and depth < _MOST_DEPTH_OF_FLOOR and not element.has_text:
            child_style = self._style(inner[0], style, frame.containers)
            if not self._is_gone(child_style) and not traits_of(child_style).is_out_of_flow:
                return (*layers, *self._laid_under(inner[0], child_style, frame, depth + 1))
        return layers

    # the walk

    def _visit_content(self, element: Element, style: Style, frame: _Frame, steps: list[Callable[[], None]]) -> None:
        """Note an element's own texts and queue its children, last first."""
        start = len(self.result.sightings)
        if "content-visibility" in style.values and style.keyword("content-visibility") == "hidden":
            self.result.spans[element.order] = (start, start)
            return
        if traits_of(style).is_shown and not frame.adrift and self._state == _REST:
            self._note_mark(element, style, frame)
        queue: list[Callable[[], None]] = []
        shut = element.tag == "details" and "open" not in element.attributes
        generates = (
            bool(self._pseudos) and element.tag not in _REPLACED and element.tag not in _CONTROLS_WITHOUT_CONTENT
        )
        if generates and "before" in self._pseudos:
            queue.append(lambda: self._visit_pseudo(element, style, frame, "before"))
        if element.tag not in _REPLACED and not shut:
            self._own_text(element, style, frame)
        if element.tag not in _REPLACED and element.tag != "textarea" and not is_dropdown(element):
            for child in element.children:
                queue.append(lambda child=child: self._visit(child, style, frame, steps))  # type: ignore[misc]
        if generates and "after" in self._pseudos:
            queue.append(lambda: self._visit_pseudo(element, style, frame, "after"))
        if queue:
            queue.append(lambda: self._close(element, start))
            steps.extend(reversed(queue))
        else:
            self._close(element, start)

    def _note_mark(self, element: Element, style: Style, frame: _Frame) -> None:
        """Note an element that shows a logo or an icon: a picture, one behind it alone, or a drawing."""
        if element.tag == "img":
            shown = shown_instead(style.values.get("content")) or element.attributes.get("src", "")
            self.result.pictured.append(Pictured(element, "picture", frame.stack, shown))
        elif element.tag == "svg" and (
            inks := drawn_inks(element, style, lambda one, parent: self._style(one, parent, frame.containers))
        ):
            # what takes the colour of the text around it takes that which a study gives the text
            own, around = self._depth(element), INHERITED + frame.colour_at
            placed_inks = tuple(self._placed(ink, around if ink == style.colour() else own) for ink in inks)
            self.result.pictured.append(Pictured(element, "drawing", frame.stack, inks=placed_inks))
        elif "background-image" in style.values and (address := picture_behind(element, style)):
            below = tuple(layer for layer in frame.stack if not isinstance(layer, Photo) or layer in frame.beside)
            self.result.pictured.append(Pictured(element, "background", below, address))

    def _close(self, element: Element, start: int) -> None:
        self.result.spans[element.order] = (start, len(self.result.sightings))

    def _visit(self, element: Element, parent: Style, frame: _Frame, steps: list[Callable[[], None]]) -> None:
        if element.foreign and element.tag not in _SVG_TEXT and not _in_mathml(element):
            if self._laid is not None and element.tag in _SVG_SHAPES:
                style = self._style(element, parent, frame.containers)
                if not self._is_gone(style):
                    group = self._group(element, style, frame, "")
                    groups = (*frame.groups, (element.order, group[0])) if group else frame.groups
                    self.result.standing[element.order] = Standing(element, style, groups)
            return
        if frame.same and self._take_over(element):
            return
        style = self._style(element, parent, frame.containers)
        if element is self._body:
            self._body_style, self._body_colour = style, style.colour()
        if self._is_gone(style):
            return
        traits = traits_of(style)
        if traits.may_be_away and is_clipped_away(
            Place(frame.place, style, element.tag, frame.place.viewport), frame.place
        ):
            return
        if traits.display == "table-caption":
            # a table's background does not reach under its caption
            frame = replace(frame, stack=frame.beside)
        elif frame.columns is not None and element.tag in ("td", "th"):
            frame = replace(frame, stack=self._on_column(element, frame))
        if traits.is_out_of_flow:
            if element.parent is not None:
                self.result.floating.add(element.parent.order)
            if floor := self._floor(element, style, parent, frame):
                frame = replace(frame, stack=(*frame.stack, *floor))
        elif element.parent is not None and traits_of(parent).display in _GRIDS and grid_cell(style):
            self.result.floating.add(element.parent.order)
            frame = self._in_cell(element, style, parent, frame)
        self._visit_content(element, style, self._enter(element, style, frame), steps)

    def _in_cell(self, element: Element, own: Style, parent: Style, frame: _Frame) -> _Frame:
        """Return the frame with the wordless boxes in a grid item's own cell, those it lies over and those over it."""
        assert element.parent is not None
        if element.parent.order not in self._cells:  # once for all items: there may be thousands
            self._cells[element.parent.order] = self._cells_of(element.parent, parent, frame)
        stack, covers = frame.stack, frame.covers
        for at, box in self._cells[element.parent.order].get(grid_cell(own), ()):
            if box.order == element.order:
                continue
            if at < _painted_at(element, own):
                stack = (*stack, *box.layers)
            else:
                covers = (*covers, box)
        return replace(frame, stack=stack, covers=covers)

    def _cells_of(self, grid: Element, parent: Style, frame: _Frame) -> _Cells:
        """Return the wordless boxes in the cells of a grid that paint something, and when they are painted."""
        cells: _Cells = {}
        for child in grid.children:
            if has_words(child):
                continue
            style = self._style(child, parent, frame.containers)
            traits, cell = traits_of(style), grid_cell(style)
            if not cell or not traits.is_shown or traits.is_out_of_flow or self._is_gone(style):
                continue
            layers = faded(self._laid_under(child, style, frame, depth=0), style.values.get("opacity", 1.0))
            some = cells.setdefault(cell, [])
            if layers and len(some) < _MOST_IN_CELL:
                some.append((_painted_at(child, style), _Cover(layers, z_of(style), child.order)))
        return cells

    def _on_column(self, cell: Element, frame: _Frame) -> Stack:
        assert frame.columns is not None
        depth, columns = frame.columns
        column = 0
        for other in cell.parent.children if cell.parent else ():
            if other is cell:
                break
            span = other.attributes.get("colspan", "1")
            column += min(whole_number(span) or 1, 1000)
        layers = columns[column] if column < len(columns) else ()
        if layers and self._laid is not None:
            self._column_layers[cell.order] = layers
        return (*frame.stack[:depth], *layers, *frame.stack[depth:])

    def _visit_pseudo(self, element: Element, style: Style, frame: _Frame, pseudo: str) -> None:
        found = self._pseudo_style(element, pseudo, style)
        if found is None:
            return
        text = generated_words(found.values.get("content"), element)
        if not text or self._is_gone(found) or not traits_of(found).is_shown or found.font_px == 0:
            return
        if is_clipped_away(Place(frame.place, found, "", frame.place.viewport), frame.place):
            return
        self._note(element, found, self._enter(element, found, frame, pseudo=pseudo), text, f"::{pseudo}")

    def _own_text(self, element: Element, style: Style, frame: _Frame) -> None:
        text = own_words(element)
        if not text and (text := placeholder_words(element)):
            style = self._cascade.style(self._matcher, element, self._state, style, None, {}, "placeholder")
            if self._is_gone(style):
                return
            # a placeholder may be faded on its own
            if (opacity := style.values.get("opacity", 1.0)) < 1:
                group = Group(opacity)
                groups = (*frame.groups, (-element.order - 1, group))
                frame = replace(frame, stack=(*frame.stack, group), groups=groups)
            frame = replace(frame, colour_at=self._depth(element))
        if not text or not traits_of(style).is_shown or style.font_px == 0:
            return
        if element.foreign and element.tag in ("svg", "g", "switch"):
            return
        self._note(element, style, frame, text, "")

    def _note(self, element: Element, style: Style, frame: _Frame, text: str, suffix: str) -> None:
        stack, covers = frame.stack, frame.covers
        why = self._doubt(element, frame, suffix)
        if why:
            stack = (*stack, Unseen(why))
        inks = self._inks(element, style, frame, suffix)
        if not inks:
            return  # the page hides these words: the hint of a field whose label lies over it, a button that waits
        if self._laid is not None and self._laid.knows(element, suffix):
            at = len(self.result.sightings)
            laid = LaidText(element, suffix, frame.groups)
            self._pending.append(_Pending(at, laid, text, style, inks, why))
            self.result.sightings.append(Sighting(-1, -1, style.font_px, style.weight))
            return
        drawn = element.foreign and not _in_mathml(element)
        if drawn:
            stack = (*stack, *self._shapes_behind(element, style, frame))
        key = (element.order, suffix, id(inks[0]), id(stack), id(covers))
        known = self._known.get(key)
        if known is None:
            above = tuple(layer for cover in covers for layer in cover.layers if not self._layers.hides(layer))
            icon = is_icon(text)
            exempt = element.is_exempt or (icon and is_told_beside(element))
            large = _is_large(style)
            pairing = Pairing(inks[0], stack, above, large, exempt, icon, adrift=frame.adrift, fill=inks[1:])
            known = self._known[key] = self._context.register(element, suffix, text, pairing)
            self._kept.append((inks, stack, covers))
        self.result.sightings.append(Sighting(*known, style.font_px, style.weight))

    # where the page was measured

    def _lay_down(self) -> None:
        """Give the texts whose place is known what they lie on; those that something hides are texts no more."""
        assert self._laid is not None
        sightings = self.result.sightings
        hidden: list[int] = []
        for one in self._pending:
            stacks = self._laid.stacks(one.text, self.result.standing, self)
            if not stacks:
                hidden.append(one.at)
                continue
            if one.text.suffix and (own := self._background(one.text.element, one.style, _NOWHERE)):
                # generated text stands on its own background, which no element is met for
                stacks = [((*below, *own), above) for below, above in stacks]
            if one.doubt:
                stacks = [((*below, Unseen(one.doubt)), above) for below, above in stacks]
            (below, above), *others = stacks
            element = one.text.element
            icon = is_icon(one.words)
            exempt = element.is_exempt or (icon and is_told_beside(element))
            pairing = Pairing(
                one.inks[0], below, above, _is_large(one.style), exempt, icon,
                depends_on_place(stacks) or len(one.inks) > 1, others=tuple(others), fill=one.inks[1:],
            )  # fmt: skip
            found = self._context.register(element, one.text.suffix, one.words, pairing)
            sightings[one.at] = Sighting(*found, one.style.font_px, one.style.weight)
        if hidden:
            gone = set(hidden)
            kept_before = [0]
            for at in range(len(sightings)):
                kept_before.append(kept_before[-1] + (at not in gone))
            spans = {order: (kept_before[a], kept_before[b]) for order, (a, b) in self.result.spans.items()}
            self.result.spans = spans
            self.result.sightings = [one for at, one in enumerate(sightings) if at not in gone]

    def canvas_at(self, places: list[Box]) -> Stack:
        """Return what the page itself paints at some places: its background is laid out from the root's box."""
        root, source = self._context.document.root, self._propagated
        base = Fill(resolve(DEFAULT_COLOURS["canvas"], Current(), source.dark if source is not None else False))
        measured = self._laid.measured(root) if self._laid is not None else None
        if source is None or measured is None or self._laid is None:
            return (base,)
        said = self._layers.background_at(source, measured, places, self._laid.screen, is_canvas=True)
        return (base, *said) if "background-color" in source.says else (base, Ground(0), *said)

    def layers_at(self, standing: Standing, places: list[Box]) -> tuple[Layer, ...]:
        """Return what an element paints behind its content at some places."""
        element, style = standing.element, standing.style
        if style is self._propagated or element.parent is None or not traits_of(style).is_shown or self._laid is None:
            return ()
        measured = self._laid.measured(element)
        if measured is None:
            return ()
        if element.foreign and element.tag in _SVG_SHAPES:
            return self._shape_at(element, style)
        if _is_drawn(element):
            return ()
        depth = self._depth(element)
        layers = self._layers.background_at(style, measured, places, self._laid.screen)
        if depth:
            layers = tuple(placed_layer(layer, depth) for layer in layers)
        if element.order in self._context.regions.starts:
            layers = self._with_ground(element, style, layers)
        if element.tag in PICTURES:
            layers = (*layers, *self._layers.of_picture_at(element, style, self._context.page, measured, places))
        return layers

    def as_seen_from(self, text: LaidText, element: Element, layers: tuple[Layer, ...]) -> tuple[Layer, ...]:
        """Return what an element paints, its colours said where a text that may lie in other regions finds them."""
        regions = self._context.regions
        theirs, own = (regions.chains[one.order] if regions.chains else () for one in (element, text.element))
        if theirs == own[: len(theirs)]:
            return layers
        around = (element, *element.ancestors())
        begins = next((one for one in around if one.order in regions.starts), element)
        some = self._context.beside.setdefault((text.element.order, text.suffix), [])
        entry = (theirs, begins.path())
        if entry not in some:
            if len(some) == _MOST_BESIDE:
                return layers
            some.append(entry)
        at = BESIDE + some.index(entry) * INHERITED + len(theirs)
        return tuple(placed_layer(layer, at) for layer in layers)

    def column_layers(self, cell: Element) -> tuple[Layer, ...]:
        """Return what the column of a table's cell paints."""
        return self._column_layers.get(cell.order, ())

    def _shape_at(self, shape: Element, style: Style) -> tuple[Layer, ...]:
        if shape.tag in ("image", "use"):
            return (Unseen("a drawing (SVG) lies behind it"),)
        fill: Any = style.values.get("fill", Literal(BLACK))
        if isinstance(fill, Keyword):
            return (Unseen("a drawing (SVG) lies behind it"),)
        if is_clear(fill):
            return ()
        return (Fill(fill),) if "fill-opacity" not in shape.attributes else (Shade((fill,), partial=True),)

    def pseudo_boxes(self, standing: Standing) -> tuple[PseudoBox, ...]:
        """Return the pseudo-elements of an element that are taken out of the flow."""
        element, style = standing.element, standing.style
        known = self._pseudo_boxes.get(element.order)
        if known is None:
            found = []
            for pseudo in ("before", "after"):
                own = self._pseudo_style(element, pseudo, style) if pseudo in self._pseudos else None
                if own is None or self._is_gone(own) or not traits_of(own).is_shown:
                    continue
                if traits_of(own).is_out_of_flow and own.keyword("content") not in ("none", "normal"):
                    found.append(PseudoBox(pseudo, own, z_of(own) < 0))
            known = self._pseudo_boxes[element.order] = tuple(found)
        return known

    def pseudo_layers_at(
        self, standing: Standing, one: PseudoBox, box: Box | None, places: list[Box]
    ) -> tuple[Layer, ...]:
        """Return what such a pseudo-element paints at some places; without a box, wherever it is."""
        assert self._laid is not None
        if box is None:
            layers = self._layers.background(one.style, _NOWHERE)
        else:
            layers = self._layers.background_at(one.style, Measured(box), places, self._laid.screen)
        depth = self._depth(standing.element)
        if depth:
            layers = tuple(placed_layer(layer, depth) for layer in layers)
        return faded(layers, one.style.values.get("opacity", 1.0))

    def hides(self, layer: Layer) -> bool:
        """Return whether a layer above words hides them wholly."""
        return self._layers.hides(layer)

    def _placed(self, colour: Expression, at: int) -> Expression:
        """Return a colour said at a depth, the same object for the same colour and depth."""
        known = self._placed_colours.get((id(colour), at))
        if known is None:
            known = self._placed_colours[id(colour), at] = placed(colour, at)
            self._kept.append(colour)
        return known

    def _doubt(self, element: Element, frame: _Frame, suffix: str) -> str:
        """Return why a text's colours hang on a container whose width is not known, or an empty text."""
        if not self._cascade.index.has_containers or not frame.containers:
            return ""
        for number in self._matcher.matching(element, self._state, suffix.removeprefix("::") or None):
            for query in self._cascade.index.rules[number].rule.containers:
                container = container_for(query, frame.containers)
                if container is not None and container.width is None:
                    return "its colours depend on the width of a container, which only a browser knows"
        return ""

    def _text_colour(self, element: Element, style: Style) -> Expression:
        if element.foreign and not _in_mathml(element) and not _in_foreign_object(element):
            fill = style.values.get("fill")
            if isinstance(fill, Keyword):
                return Unknown("the text is filled with a pattern")
            return fill if fill is not None else Literal(BLACK)
        fill = style.values.get("-webkit-text-fill-color", Current())
        return style.colour() if isinstance(fill, Current) else fill

    def _inks(self, element: Element, style: Style, frame: _Frame, suffix: str) -> tuple[Expression, ...]:
        """Return the colours the words show: one, or those of the background that is cut to them; none: hidden."""
        colour = self._text_colour(element, style)
        hidden = isinstance(colour, Literal) and colour.colour.alpha == 0
        alpha = self._layers.alpha_of(colour) if frame.filled is not None else 1.0
        if frame.filled is None or alpha == 1:
            return () if hidden else (self._placed(colour, INHERITED + frame.colour_at),)
        if alpha is None or alpha > 0:
            return (Unknown(_FILLED),)  # of what is cut to the words some shows through them
        owner, said, area, is_pseudo = frame.filled
        measured = self._laid.measured(owner) if self._laid is not None and not is_pseudo else None
        if measured is None or self._laid is None or not self._laid.knows(element, suffix):
            layers = self._layers.in_words(said, area)
        else:
            places = self._laid.places(element, suffix)
            layers = self._layers.in_words(said, area, measured, places, self._laid.screen)
        found = tuple(self._placed(one, self._depth(owner)) for one in inks_of(layers))
        return found or (Unknown(_FILLED),)

    # drawings

    def _shapes_behind(self, element: Element, style: Style, frame: _Frame) -> tuple[Layer, ...]:
        """Return what is drawn ahead of a text within its drawing."""
        drawing = next((a for a in element.ancestors() if a.tag == "svg"), None)
        if drawing is None:
            return ()
        layers: list[Layer] = []
        colours: list[Expression] = []
        for shape in drawing.descendants():
            if shape.order >= element.order or shape.tag not in _SVG_SHAPES:
                continue
            if shape.tag in ("image", "use"):
                return (Unseen("a drawing (SVG) lies behind it"),)
            fill = self._fill_of(shape, drawing, style, frame)
            if isinstance(fill, Keyword):
                return (Unseen("a drawing (SVG) lies behind it"),)
            if fill is None or is_clear(fill):
                continue
            if shape.tag == "rect" and fills_drawing(shape, drawing):
                layers.append(Fill(fill))
            elif fill not in colours:
                colours.append(fill)
        return (*layers, Shade(tuple(colours), partial=True)) if colours else tuple(layers)

    def _fill_of(self, shape: Element, drawing: Element, style: Style, frame: _Frame) -> Expression | Keyword | None:
        """Return the fill of a shape, inherited through the groups it stands in; a keyword for what is no colour."""
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
        fill: Expression | Keyword | None = inherited.values.get("fill", Literal(BLACK))
        return fill


def _is_large(style: Style) -> bool:
    return style.font_px >= 24 or (style.font_px >= 18.66 and style.weight >= 700)


def _is_drawn(element: Element) -> bool:
    """Return whether an element is part of a drawing, where backgrounds are not painted."""
    return element.foreign and element.tag != "svg" and not _in_mathml(element)


def _in_mathml(element: Element) -> bool:
    return element.foreign and any(a.tag == "math" for a in (element, *element.ancestors()))


def _in_foreign_object(element: Element) -> bool:
    return any(a.tag in ("foreignObject", "foreignobject") for a in element.ancestors())


def _holds_picture(element: Element) -> bool:
    """Return whether an element shows a picture and nothing else."""
    while len(element.children) == 1 and not element.has_text:
        element = element.children[0]
    return element.tag in PICTURES


def _painted_at(item: Element, style: Style) -> tuple[int, bool, int]:
    """Return when a grid item is painted among the others: by z-index, what is raised after what is not, by order."""
    traits = traits_of(style)
    return z_of(style), traits.is_positioned or traits.makes_context, item.order


def _last_order(element: Element) -> int:
    while element.children:
        element = element.children[-1]
    return element.order
