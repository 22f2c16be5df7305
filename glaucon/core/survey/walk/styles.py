"""What the elements of a page look like in one state: their styles, backgrounds, and where their colours are said."""

from __future__ import annotations

from glaucon.core.cascade.computed import Cascade, Style
from glaucon.core.cascade.expression import Expression, placed
from glaucon.core.cascade.media import Container, Containers, container_for
from glaucon.core.cascade.properties.values import Keyword
from glaucon.core.cascade.selectors.state import State
from glaucon.core.cascade.tree import Element
from glaucon.core.survey.boxes import Area, Place, filters_of, traits_of
from glaucon.core.survey.layers import placed_layer
from glaucon.core.survey.model import Fill, Ground, Layer, PaintGroup, Unseen
from glaucon.core.survey.walk.frame import Frame, PageContext
from glaucon.core.survey.walk.laid_out import LaidOut


class PageStyles:
    """Computed styles of a page in a given state and viewport, and the backgrounds elements paint with them."""

    def __init__(self, context: PageContext, cascade: Cascade, state: State, laid: LaidOut | None) -> None:
        self.context, self.cascade, self.state, self.laid = context, cascade, state, laid
        self.matcher, self.layers = context.matcher, context.layers
        self.body = next((e for e in context.document.elements if e.tag == "body"), None)
        self.pseudos = cascade.index.pseudo_elements() & {"before", "after"}
        self.body_style: Style | None = None
        self.body_colour: Expression | None = None
        self.propagated: Style | None = None  # what is painted on the canvas instead of its element
        self._placed_colours: dict[tuple[int, int], Expression] = {}
        self._kept: list[object] = []  # what is known by identity must outlive the walk

    def style(self, element: Element, parent: Style | None, containers: Containers) -> Style:
        return self.style_in(self.state, element, parent, containers)

    def style_in(self, state: State, element: Element, parent: Style | None, containers: Containers) -> Style:
        """Return an element's style in another state, its parent being as it is."""
        context = self.context
        hints = context.hints.of(element, state, self.body, self.body_colour)
        inline = context.inline(element)
        return self.cascade.style(self.matcher, element, state, parent, inline, hints, containers=containers)

    def pseudo_style(self, element: Element, pseudo: str, style: Style) -> Style | None:
        return self.cascade.pseudo_style(self.matcher, element, self.state, pseudo, style)

    def placeholder_style(self, element: Element, style: Style) -> Style:
        """Return the style of the hint that an empty field shows."""
        return self.cascade.style(self.matcher, element, self.state, style, None, {}, "placeholder")

    def is_gone(self, style: Style) -> bool:
        return traits_of(style).display == "none" or style.values.get("opacity", 1.0) == 0

    def depth(self, element: Element) -> int:
        return self.context.regions.depth(element.order)

    def said(self, element: Element, style: Style) -> frozenset[str]:
        """Return which colours a study's scope does not say anew for an element: its rules lie below the page's own.

        Over attributes and what browsers say themselves they win.
        """
        return style.firm if element.order in self.context.regions.starts else style.says

    def background(self, element: Element, style: Style, box: Area) -> tuple[Layer, ...]:
        """Return what a box paints, its colours said at the depth it lies at."""
        depth = self.depth(element)
        layers = self.layers.background(style, box)
        return tuple(placed_layer(layer, depth) for layer in layers) if depth else layers

    def with_ground(self, element: Element, style: Style, own: tuple[Layer, ...]) -> tuple[Layer, ...]:
        """Return what a region paints, with the place of a background that a study may give it."""
        if style is self.propagated or "background-color" in style.firm or not traits_of(style).is_shown:
            return own
        if own and isinstance(own[0], Fill) and "background-color" in style.says:
            return (Ground(self.depth(element), own[0].colour), *own[1:])
        return (Ground(self.depth(element)), *own)

    def group(self, element: Element, style: Style, frame: Frame, pseudo: str) -> tuple[Layer, ...]:
        opacity = style.values.get("opacity", 1.0)
        filters = filters_of(style)
        blend = style.keyword("mix-blend-mode") if "mix-blend-mode" in style.values else "normal"
        if opacity == 1 and not filters and blend == "normal":
            return ()
        if any(one.name == "unknown" for one in filters):
            return (Unseen("a filter changes the colours as painted"),)
        return (PaintGroup(opacity, filters, blend, self._faded_by(element, frame, pseudo) if opacity < 1 else ""),)

    def _faded_by(self, element: Element, frame: Frame, pseudo: str) -> str:
        """Return the selector that fades an element in this state; "" where its style attribute does."""
        inline = self.context.inline(element)
        if inline is not None and not pseudo and ("opacity" in inline.normal or "opacity" in inline.important):
            return ""
        return self.cascade.source_of(self.matcher, element, self.state, pseudo or None, "opacity", frame.containers)

    def containers(self, style: Style, place: Place, frame: Frame) -> Containers:
        if "container-type" not in style.values or style.keyword("container-type") == "normal":
            return frame.containers
        names = style.values.get("container-name")
        words = names if isinstance(names, tuple) else ()
        known = frozenset(n.value for n in words if n.type == "ident") or (
            frozenset({names.name}) if isinstance(names, Keyword) else frozenset()
        )
        return (*frame.containers, Container(known, place.content.width))

    def placed(self, colour: Expression, at: int) -> Expression:
        """Return a colour said at a depth, the same object for the same colour and depth."""
        known = self._placed_colours.get((id(colour), at))
        if known is None:
            known = self._placed_colours[id(colour), at] = placed(colour, at)
            self._kept.append(colour)
        return known

    def doubt(self, element: Element, frame: Frame, suffix: str) -> str:
        """Return why a text's colours hang on a container whose width is not known, or an empty text."""
        if not self.cascade.index.has_containers or not frame.containers:
            return ""
        for number in self.matcher.matching(element, self.state, suffix.removeprefix("::") or None):
            for query in self.cascade.index.rules[number].rule.containers:
                container = container_for(query, frame.containers)
                if container is not None and container.width is None:
                    return "its colours depend on the width of a container, which only a browser knows"
        return ""


def is_large(style: Style) -> bool:
    """Return whether text is large: 24 px, or 18.66 px in bold (WCAG 2.2, "large scale")."""
    return style.font_px >= 24 or (style.font_px >= 18.66 and style.weight >= 700)
