"""One page in one context: which texts are rendered, in what colour, on what stack of layers.

Paint order follows CSS 2.1, Appendix E, as far as boxes can be told apart without layout: every ancestor's
background lies behind a text; boxes that span their container are put into the stack by z-index and order.

A page is walked whole at rest. In another state only those parts are walked again in which some rule that speaks of
the state matches; the rest is taken over.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from glaucon.core.cascade.computed import Cascade, Style
from glaucon.core.cascade.expression import Current, resolve
from glaucon.core.cascade.properties.colours import DEFAULT_COLOURS
from glaucon.core.cascade.selectors.state import State
from glaucon.core.cascade.tree import Element
from glaucon.core.survey.boxes import Area, Place, grid_cell, is_clipped_away, traits_of
from glaucon.core.survey.layers import fills_words, paints_background
from glaucon.core.survey.model import Fill, Ground, Layer, PaintGroup, Pairing, Sighting, Stack, Unseen
from glaucon.core.survey.texts import (
    generated_words,
    is_dropdown,
    is_icon,
    is_told_beside,
    own_words,
    placeholder_words,
)
from glaucon.core.survey.walk.cells import Cells
from glaucon.core.survey.walk.covers import Covers
from glaucon.core.survey.walk.frame import Cover, Frame, PageContext, Remembered, groups_with
from glaucon.core.survey.walk.inks import Inks
from glaucon.core.survey.walk.laid_out import Groups, LaidOut, LaidText, Standing
from glaucon.core.survey.walk.measured import MeasuredGround, PendingText
from glaucon.core.survey.walk.styles import PageStyles, is_large
from glaucon.core.survey.walk.tags import CONTROLS_WITHOUT_CONTENT, REPLACED, SVG_SHAPES, SVG_TEXT, in_mathml, is_drawn
from glaucon.core.survey.walk.things import may_be_a_thing, neighbours_of, things_of

_REST = State()
_GRIDS = ("grid", "inline-grid")


class PageWalk:
    """Walks a page's tree in one state at one viewport and notes its texts in document order."""

    def __init__(
        self, context: PageContext, cascade: Cascade, state: State, rest: Remembered | None = None,
        laid: LaidOut | None = None, changed: frozenset[int] | None = None,
    ) -> None:  # fmt: skip
        """`rest` is what the page showed at rest; `changed` are the elements that may look otherwise by now, where it
        is not by its state that they do.
        """
        self._page = PageStyles(context, cascade, state, laid)
        self._covers = Covers(self._page)
        self._cells = Cells(self._page, self._covers)
        self._inks = Inks(self._page)
        self._rest = rest
        self._touched = self._find_touched(changed) if rest is not None else set()
        self._known: dict[tuple[int, str, int, int, int], tuple[int, int]] = {}
        self._kept: list[object] = []  # what is known by identity must outlive the walk
        self._pending: list[PendingText] = []
        self.result = Remembered([], {}, [], set(), dict(rest.standing) if rest is not None else {})

    def run(self) -> Remembered:
        """Return every text of the page as this context shows it."""
        root = self._page.context.document.root
        style = self._page.style(root, None, ())
        if style is None or self._page.is_gone(style):
            return self.result
        viewport = Area(0.0, float(self._page.cascade.viewport.width))
        page = Place(None, None, "", viewport)
        same = self._rest is not None and root.order not in self._touched
        frame = Frame(self._canvas(root, style, viewport), (), page, same=same)
        inner = self._enter(root, style, frame, is_root=True)
        if self._page.body is not None and self._page.body.order in self._touched:
            inner.same = False
        # An explicit stack of steps keeps document order without Python's recursion limit.
        steps: list[Callable[[], None]] = []
        self._visit_content(root, style, inner, steps)
        while steps:
            steps.pop()()
        if self._pending and self._page.laid is not None:
            MeasuredGround(self._page, self._page.laid, self._cells).lay_down(self._pending, self.result)
        return self.result

    def _find_touched(self, changed: frozenset[int] | None) -> set[int]:
        """Return the elements in or at which a rule that speaks of the state matches otherwise than at rest."""
        assert self._rest is not None
        touched: set[int] = set()
        elements = self._page.context.document.elements
        other = (
            self._page.matcher.touched(elements, self._page.state)
            if changed is None
            else map(elements.__getitem__, changed)
        )
        for element in other:
            touched.add(element.order)
            parent = element.parent
            if parent is not None and parent.order in self._rest.floating:
                touched.add(parent.order)
        self._inside = {a.order for order in touched for a in self._page.context.document.elements[order].ancestors()}
        return touched

    def _take_over(self, element: Element) -> bool:
        """Take over what an element showed at rest, if nothing in it differs; return whether that was so."""
        if self._rest is None or element.order in self._touched or element.order in self._inside:
            return False
        start, end = self._rest.spans.get(element.order, (0, 0))
        self.result.sightings.extend(self._rest.sightings[start:end])
        return True

    def _canvas(self, root: Element, style: Style, viewport: Area) -> Stack:
        """Return the canvas: the viewport's own colour, then the background propagated to it."""
        base = Fill(resolve(DEFAULT_COLOURS["canvas"], Current(), style.dark))
        source = style
        if not paints_background(style) and self._page.body is not None:
            source = self._page.style(self._page.body, style, ())
            if traits_of(source).display == "none":
                source = style
        self._page.propagated = source
        self.result.painted.append((self._page.body or root, self._page.layers.background(source, viewport)))
        said = self._page.layers.background(source, viewport)
        return (base, *said) if "background-color" in source.says else (base, Ground(0), *said)

    def _enter(self, element: Element, style: Style, frame: Frame, is_root: bool = False, pseudo: str = "") -> Frame:
        """Return the frame inside an element: its group, what it lies over, its own background."""
        stack, covers = frame.stack, frame.covers
        traits = traits_of(style)
        context = is_root or traits.makes_context
        if covers and (context or traits.is_positioned):
            stack, covers = self._covers.settle(element, style, stack, covers)
        place = Place(frame.place, style, "" if pseudo else element.tag, frame.place.viewport)
        if is_root or (element is self._page.body and not pseudo):
            place.positioned = None  # as good as the page itself
        group = self._page.group(element, style, frame, pseudo)
        beside = (*stack, *group) if group else stack
        own = self._own_layers(element, style, place, is_root)
        if not pseudo:
            own = self._bring_home(element, style, own, groups_with(frame, element, group))
        spans: tuple[Cover, ...] = ()
        if not pseudo and (traits.is_positioned or is_root):
            spans = self._covers.inside(element, style, place, frame)
        low = tuple(layer for cover in spans if cover.z < 0 for layer in cover.layers)
        # below zero a box goes under everything of its stacking context, so under this background unless it is one
        added = (*own, *low) if context else (*low, *own)
        stack = (*beside, *added) if added else beside
        return Frame(
            stack,
            (*covers, *(cover for cover in spans if cover.z >= 0)) if spans else covers,
            place,
            beside,
            self._page.containers(style, place, frame),
            self._cells.columns(element, style, len(stack), frame),
            frame.same and element.order not in self._touched,
            self._page.depth(element) if "color" in self._page.said(element, style) else frame.colour_at,
            groups_with(frame, element, group, pseudo),
            (frame.adrift or traits.is_out_of_flow) and not self._page.layers.is_opaque(style),
            (element, style, place.area, bool(pseudo)) if fills_words(style) else frame.filled,
        )

    def _bring_home(
        self, element: Element, style: Style, own: tuple[Layer, ...], groups: Groups
    ) -> tuple[Layer, ...]:  # fmt: skip
        """Note what an element is and paints; return that, with the place of a ground where a region begins."""
        if self._page.laid is not None:
            self.result.standing[element.order] = Standing(element, style, groups)
        if own:
            self.result.painted.append((element, own))
        if element.order not in self._page.context.regions.starts:
            return own
        self.result.begun[element.order] = style
        return self._page.with_ground(element, style, own)

    def _own_layers(self, element: Element, style: Style, place: Place, is_root: bool) -> tuple[Layer, ...]:
        painted = style is not self._page.propagated and not is_root and traits_of(style).display != "contents"
        if not painted or not traits_of(style).is_shown or not paints_background(style) or is_drawn(element):
            return ()
        return self._page.background(element, style, place.area)

    def _visit_content(self, element: Element, style: Style, frame: Frame, steps: list[Callable[[], None]]) -> None:
        """Note an element's own texts and queue its children, last first."""
        start = len(self.result.sightings)
        if "content-visibility" in style.values and style.keyword("content-visibility") == "hidden":
            self.result.spans[element.order] = (start, start)
            return
        if traits_of(style).is_shown and not frame.adrift and self._page.state == _REST:
            self.result.pictured += self._inks.marks(element, style, frame)
        queue: list[Callable[[], None]] = []
        shut = element.tag == "details" and "open" not in element.attributes
        generates = (
            bool(self._page.pseudos) and element.tag not in REPLACED and element.tag not in CONTROLS_WITHOUT_CONTENT
        )
        if generates and "before" in self._page.pseudos:
            queue.append(lambda: self._visit_pseudo(element, style, frame, "before"))
        if element.tag not in REPLACED and not shut:
            self._own_text(element, style, frame)
        if element.tag not in REPLACED and element.tag != "textarea" and not is_dropdown(element):
            for child in element.children:
                queue.append(lambda child=child: self._visit(child, style, frame, steps))  # type: ignore[misc]
        if generates and "after" in self._page.pseudos:
            queue.append(lambda: self._visit_pseudo(element, style, frame, "after"))
        if queue:
            queue.append(lambda: self._close(element, start))
            steps.extend(reversed(queue))
        else:
            self._close(element, start)

    def _close(self, element: Element, start: int) -> None:
        self.result.spans[element.order] = (start, len(self.result.sightings))

    def _visit(self, element: Element, parent: Style, frame: Frame, steps: list[Callable[[], None]]) -> None:
        if element.foreign and element.tag not in SVG_TEXT and not in_mathml(element):
            if self._page.laid is not None and element.tag in SVG_SHAPES:
                style = self._page.style(element, parent, frame.containers)
                if not self._page.is_gone(style):
                    group = self._page.group(element, style, frame, "")
                    self.result.standing[element.order] = Standing(element, style, groups_with(frame, element, group))
            return
        if frame.same and self._take_over(element):
            return
        style = self._page.style(element, parent, frame.containers)
        if element is self._page.body:
            self._page.body_style, self._page.body_colour = style, style.colour()
        if self._page.is_gone(style):
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
            frame = replace(frame, stack=self._cells.on_column(element, frame))
        if traits.is_out_of_flow:
            if element.parent is not None:
                self.result.floating.add(element.parent.order)
            if floor := self._covers.floor(element, style, parent, frame):
                frame = replace(frame, stack=(*frame.stack, *floor))
        elif element.parent is not None and traits_of(parent).display in _GRIDS and grid_cell(style):
            self.result.floating.add(element.parent.order)
            frame = self._cells.in_cell(element, style, parent, frame)
        inner = self._enter(element, style, frame)
        self._note_things(element, parent, frame, inner)
        self._visit_content(element, style, inner, steps)

    def _note_things(self, element: Element, parent: Style, frame: Frame, inner: Frame) -> None:
        """Note what besides text has to be seen of an element, its colours said at the depth it lies at."""
        if self._page.state != _REST or frame.adrift or not may_be_a_thing(element):
            return  # of what is laid over others nobody knows over which
        styles: dict[str, Style] = {}

        def style_in(state: str) -> Style:
            if state not in styles:
                styles[state] = self._page.style_in(State.named(state), element, parent, frame.containers)
            return styles[state]

        def near(state: str) -> list[Style]:
            return [
                self._page.style_in(
                    State.named(state), one, style_in(state) if one.parent is element else parent, frame.containers
                )
                for one in neighbours_of(element)
            ]

        self.result.things += things_of(element, parent, frame.stack, inner.stack, style_in, near)

    def _visit_pseudo(self, element: Element, style: Style, frame: Frame, pseudo: str) -> None:
        found = self._page.pseudo_style(element, pseudo, style)
        if found is None:
            return
        text = generated_words(found.values.get("content"), element)
        if not text or self._page.is_gone(found) or not traits_of(found).is_shown or found.font_px == 0:
            return
        if is_clipped_away(Place(frame.place, found, "", frame.place.viewport), frame.place):
            return
        self._note(element, found, self._enter(element, found, frame, pseudo=pseudo), text, f"::{pseudo}")

    def _own_text(self, element: Element, style: Style, frame: Frame) -> None:
        text = own_words(element)
        if not text and (text := placeholder_words(element)):
            style = self._page.placeholder_style(element, style)
            if self._page.is_gone(style):
                return
            # a placeholder may be faded on its own
            if (opacity := style.values.get("opacity", 1.0)) < 1:
                group = PaintGroup(opacity)
                groups = (*frame.groups, (-element.order - 1, group))
                frame = replace(frame, stack=(*frame.stack, group), groups=groups)
            frame = replace(frame, colour_at=self._page.depth(element))
        if not text or not traits_of(style).is_shown or style.font_px == 0:
            return
        if element.foreign and element.tag in ("svg", "g", "switch"):
            return
        self._note(element, style, frame, text, "")

    def _note(self, element: Element, style: Style, frame: Frame, text: str, suffix: str) -> None:
        stack, covers = frame.stack, frame.covers
        why = self._page.doubt(element, frame, suffix)
        if why:
            stack = (*stack, Unseen(why))
        inks = self._inks.inks(element, style, frame, suffix)
        if not inks:
            return  # the page hides these words: the hint of a field whose label lies over it, a button that waits
        if self._page.laid is not None and self._page.laid.knows(element, suffix):
            at = len(self.result.sightings)
            laid = LaidText(element, suffix, frame.groups)
            self._pending.append(PendingText(at, laid, text, style, inks, why))
            self.result.sightings.append(Sighting(-1, -1, style.font_px, style.weight))
            return
        drawn = element.foreign and not in_mathml(element)
        if drawn:
            stack = (*stack, *self._inks.shapes_behind(element, style, frame))
        key = (element.order, suffix, id(inks[0]), id(stack), id(covers))
        known = self._known.get(key)
        if known is None:
            above = tuple(layer for cover in covers for layer in cover.layers if not self._page.layers.hides(layer))
            icon = is_icon(text)
            exempt = element.is_exempt or (icon and is_told_beside(element))
            large = is_large(style)
            pairing = Pairing(inks[0], stack, above, large, exempt, icon, adrift=frame.adrift, fill=inks[1:])
            known = self._known[key] = self._page.context.register(element, suffix, text, pairing)
            self._kept.append((inks, stack, covers))
        self.result.sightings.append(Sighting(*known, style.font_px, style.weight))
