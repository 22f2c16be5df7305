"""Boxes laid over and under words without layout: spanning boxes, what an out-of-flow box is laid over."""

from __future__ import annotations

from glaucon.core.cascade.computed import Style
from glaucon.core.cascade.tree import Element
from glaucon.core.survey.boxes import Area, Place, is_laid_along_top, reach, traits_of, z_of
from glaucon.core.survey.layers import faded, partly
from glaucon.core.survey.model import Layer, Stack
from glaucon.core.survey.texts import has_words
from glaucon.core.survey.walk.frame import Cover, Frame
from glaucon.core.survey.walk.styles import PageStyles
from glaucon.core.survey.walk.tags import PICTURES, holds_picture, last_order

NOWHERE = Area(None, None)
_MOST_DEPTH_OF_FLOOR = 4
_MOST_DEPTH_OF_TOP = 8


class Covers:
    """Works out which boxes cover what, as far as that can be told without layout."""

    def __init__(self, page: PageStyles) -> None:
        self._page = page

    def inside(self, element: Element, style: Style, place: Place, frame: Frame) -> tuple[Cover, ...]:
        covers: list[Cover] = []
        if "before" in self._page.pseudos:
            self._cover_of_pseudo(element, style, "before", element.order, place, covers)
        for child in element.children:
            plain = not child.classes and not child.ident and not self._page.context.inline(child)
            if child.tag not in PICTURES and (plain or has_words(child)):
                continue
            child_style = self._page.style(child, style, frame.containers)
            if not traits_of(child_style).is_out_of_flow or not traits_of(child_style).is_shown:
                continue
            fixed = traits_of(child_style).position == "fixed"
            share = reach(child_style, place.viewport if fixed else place.area)
            if share and not self._page.is_gone(child_style):
                layers = self._cover_layers(child, child_style, share)
                if layers:
                    covers.append(Cover(layers, z_of(child_style), child.order))
        if "after" in self._page.pseudos:
            self._cover_of_pseudo(element, style, "after", last_order(element), place, covers)
        return tuple(sorted(covers, key=lambda cover: (cover.z, cover.order)))

    def _cover_of_pseudo(
        self, element: Element, style: Style, pseudo: str, order: int, place: Place, covers: list[Cover]
    ) -> None:
        found = self._page.pseudo_style(element, pseudo, style)
        if found is None or found.values.get("content") is None or found.keyword("content") in ("none", "normal"):
            return
        share = reach(found, place.area)
        if share and not self._page.is_gone(found) and traits_of(found).is_shown:
            layers = faded(self._page.background(element, found, NOWHERE), found.values.get("opacity", 1.0))
            if layers:
                covers.append(Cover(layers if share == 1 else partly(layers), z_of(found), order))

    def _cover_layers(self, child: Element, style: Style, share: float) -> tuple[Layer, ...]:
        layers = self._page.background(child, style, NOWHERE)
        if child.tag in PICTURES:
            layers = (*layers, *self._page.layers.of_picture(child, self._page.context.page))
        layers = faded(layers, style.values.get("opacity", 1.0))
        return layers if share == 1 else partly(layers)

    def settle(
        self, element: Element, style: Style, stack: Stack, covers: tuple[Cover, ...]
    ) -> tuple[Stack, tuple[Cover, ...]]:
        """Put the covers that a positioned element stands over into its stack."""
        own = (z_of(style), element.order)
        under = [c for c in covers if own > (c.z, c.order)]
        over = tuple(c for c in covers if own <= (c.z, c.order))
        return (*stack, *(layer for cover in under for layer in cover.layers)), over

    def floor(self, element: Element, style: Style, parent: Style, frame: Frame) -> tuple[Layer, ...]:
        """Return what an out-of-flow box without a ground of its own is laid over: its container's content.

        Without layout that is known where the container holds one thing besides, as a picture under its caption or a
        field under its label.
        """
        if element.parent is None or self._page.layers.is_opaque(style):
            return ()
        if frame.place.is_page_positioned:
            return self._page_top(frame) if is_laid_along_top(style) else ()
        shown: list[tuple[Element, Style]] = []
        for child in element.parent.children:
            if child is element:
                continue
            child_style = self._page.style(child, parent, frame.containers)
            if not self._page.is_gone(child_style) and not traits_of(child_style).is_out_of_flow:
                shown.append((child, child_style))
        if len(shown) > 1:
            shown = [one for one in shown if holds_picture(one[0])][:1]
        return self.laid_under(*shown[0], frame, depth=0) if shown else ()

    def _page_top(self, frame: Frame) -> tuple[Layer, ...]:
        """Return what the page begins with: a bar fixed along its top stands over that."""
        element, style = self._page.body, self._page.body_style
        for _ in range(_MOST_DEPTH_OF_TOP):
            if element is None or style is None:
                return ()
            first: tuple[Element, Style] | None = None
            for child in element.children:
                child_style = self._page.style(child, style, frame.containers)
                if not self._page.is_gone(child_style) and not traits_of(child_style).is_out_of_flow:
                    first = child, child_style
                    break
            if first is None:
                return ()
            element, style = first
            if layers := self._page.background(element, style, NOWHERE):
                return layers
        return ()

    def laid_under(self, element: Element, style: Style, frame: Frame, depth: int) -> tuple[Layer, ...]:
        # a box further in that holds text, a card in the middle of a hero, does not fill what it lies in
        fills = depth == 0 or not has_words(element)
        layers = self._page.background(element, style, NOWHERE) if fills else ()
        if element.tag in PICTURES:
            return (*layers, *self._page.layers.of_picture(element, self._page.context.page))
        inner = [c for c in element.children if c.tag not in ("script", "style")]
        if len(inner) == 1 and depth < _MOST_DEPTH_OF_FLOOR and not element.has_text:
            child_style = self._page.style(inner[0], style, frame.containers)
            if not self._page.is_gone(child_style) and not traits_of(child_style).is_out_of_flow:
                return (*layers, *self.laid_under(inner[0], child_style, frame, depth + 1))
        return layers
