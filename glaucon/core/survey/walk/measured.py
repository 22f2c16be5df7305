"""What lies at the places of texts that a browser has measured."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from glaucon.core.cascade.computed import Style
from glaucon.core.cascade.expression import BESIDE, INHERITED, Current, Expression, Literal, resolve
from glaucon.core.cascade.properties.colours import DEFAULT_COLOURS
from glaucon.core.cascade.properties.values import Keyword
from glaucon.core.cascade.tree import Element
from glaucon.core.colour.value import BLACK
from glaucon.core.layout.document import Box, Measured
from glaucon.core.survey.boxes import traits_of, z_of
from glaucon.core.survey.layers import faded, is_clear, placed_layer
from glaucon.core.survey.model import Fill, Ground, Layer, Pairing, Shade, Sighting, Stack, Unseen
from glaucon.core.survey.texts import is_icon, is_told_beside
from glaucon.core.survey.walk.cells import Cells
from glaucon.core.survey.walk.covers import NOWHERE
from glaucon.core.survey.walk.frame import Remembered
from glaucon.core.survey.walk.laid_out import LaidOut, LaidText, PseudoBox, Standing, depends_on_place
from glaucon.core.survey.walk.styles import PageStyles, is_large
from glaucon.core.survey.walk.tags import PICTURES, SVG_SHAPES, is_drawn

_MOST_BESIDE = 8  # chains of regions that one text is followed over


@dataclass(slots=True)
class PendingText:
    """A text whose place was measured: what it lies on is known once all elements are."""

    at: int  # of its sighting
    text: LaidText
    words: str
    style: Style
    inks: tuple[Expression, ...]
    doubt: str


class MeasuredGround:
    """Paints what lies at measured places (`laid_out.Painter`) and gives the texts there what they lie on."""

    def __init__(self, page: PageStyles, laid: LaidOut, cells: Cells) -> None:
        self._page, self._laid, self._cells = page, laid, cells
        self._pseudo_boxes: dict[int, tuple[PseudoBox, ...]] = {}

    def lay_down(self, pending: list[PendingText], result: Remembered) -> None:
        """Give the texts whose place is known what they lie on; those that something hides are texts no more."""
        hidden = {one.at for one in pending if not self._lay(one, result)}
        if hidden:
            kept_before = [0]
            for at in range(len(result.sightings)):
                kept_before.append(kept_before[-1] + (at not in hidden))
            result.spans = {order: (kept_before[a], kept_before[b]) for order, (a, b) in result.spans.items()}
            result.sightings = [one for at, one in enumerate(result.sightings) if at not in hidden]

    def _lay(self, one: PendingText, result: Remembered) -> bool:
        """Give a measured text the layers at its place. Return False if something hides it wholly."""
        stacks = self._laid.stacks(one.text, result.standing, self)
        if not stacks:
            return False
        if one.text.suffix and (own := self._page.background(one.text.element, one.style, NOWHERE)):
            # generated text stands on its own background, which no element is met for
            stacks = [((*below, *own), above) for below, above in stacks]
        if one.doubt:
            stacks = [((*below, Unseen(one.doubt)), above) for below, above in stacks]
        (below, above), *others = stacks
        element, icon = one.text.element, is_icon(one.words)
        exempt = element.is_exempt or (icon and is_told_beside(element))
        pairing = Pairing(
            one.inks[0], below, above, is_large(one.style), exempt, icon,
            depends_on_place(stacks) or len(one.inks) > 1, others=tuple(others), fill=one.inks[1:],
        )  # fmt: skip
        found = self._page.context.register(element, one.text.suffix, one.words, pairing)
        result.sightings[one.at] = Sighting(*found, one.style.font_px, one.style.weight)
        return True

    def canvas_at(self, places: list[Box]) -> Stack:
        """Return what the page itself paints at some places: its background is laid out from the root's box."""
        root, source = self._page.context.document.root, self._page.propagated
        base = Fill(resolve(DEFAULT_COLOURS["canvas"], Current(), source.dark if source is not None else False))
        measured = self._laid.measured(root)
        if source is None or measured is None:
            return (base,)
        said = self._page.layers.background_at(source, measured, places, self._laid.screen, is_canvas=True)
        return (base, *said) if "background-color" in source.says else (base, Ground(0), *said)

    def layers_at(self, standing: Standing, places: list[Box]) -> tuple[Layer, ...]:
        """Return what an element paints behind its content at some places."""
        element, style = standing.element, standing.style
        if style is self._page.propagated or element.parent is None or not traits_of(style).is_shown:
            return ()
        measured = self._laid.measured(element)
        if measured is None:
            return ()
        if element.foreign and element.tag in SVG_SHAPES:
            return self._shape_at(element, style)
        if is_drawn(element):
            return ()
        depth = self._page.depth(element)
        layers = self._page.layers.background_at(style, measured, places, self._laid.screen)
        if depth:
            layers = tuple(placed_layer(layer, depth) for layer in layers)
        if element.order in self._page.context.regions.starts:
            layers = self._page.with_ground(element, style, layers)
        if element.tag in PICTURES:
            page = self._page.context.page
            layers = (*layers, *self._page.layers.of_picture_at(element, style, page, measured, places))
        return layers

    def as_seen_from(self, text: LaidText, element: Element, layers: tuple[Layer, ...]) -> tuple[Layer, ...]:
        """Return an element's layers, tokens marked with the depth at which the text's own chain resolves them."""
        regions = self._page.context.regions
        theirs, own = (regions.chains[one.order] if regions.chains else () for one in (element, text.element))
        if theirs == own[: len(theirs)]:
            return layers
        around = (element, *element.ancestors())
        begins = next((one for one in around if one.order in regions.starts), element)
        some = self._page.context.beside.setdefault((text.element.order, text.suffix), [])
        entry = (theirs, begins.path())
        if entry not in some:
            if len(some) == _MOST_BESIDE:
                return layers
            some.append(entry)
        at = BESIDE + some.index(entry) * INHERITED + len(theirs)
        return tuple(placed_layer(layer, at) for layer in layers)

    def column_layers(self, cell: Element) -> tuple[Layer, ...]:
        """Return what the column of a table's cell paints."""
        return self._cells.column_layers.get(cell.order, ())

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
                own = self._page.pseudo_style(element, pseudo, style) if pseudo in self._page.pseudos else None
                if own is None or self._page.is_gone(own) or not traits_of(own).is_shown:
                    continue
                if traits_of(own).is_out_of_flow and own.keyword("content") not in ("none", "normal"):
                    found.append(PseudoBox(pseudo, own, z_of(own) < 0))
            known = self._pseudo_boxes[element.order] = tuple(found)
        return known

    def pseudo_layers_at(
        self, standing: Standing, one: PseudoBox, box: Box | None, places: list[Box]
    ) -> tuple[Layer, ...]:
        """Return what such a pseudo-element paints at some places; without a box, wherever it is."""
        if box is None:
            layers = self._page.layers.background(one.style, NOWHERE)
        else:
            layers = self._page.layers.background_at(one.style, Measured(box), places, self._laid.screen)
        depth = self._page.depth(standing.element)
        if depth:
            layers = tuple(placed_layer(layer, depth) for layer in layers)
        return faded(layers, one.style.values.get("opacity", 1.0))

    def hides(self, layer: Layer) -> bool:
        """Return whether a layer above words hides them wholly."""
        return self._page.layers.hides(layer)
