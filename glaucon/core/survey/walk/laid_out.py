"""What lies behind and over a text where a browser has measured the page: layers at the very places of its lines.

The elements below each line come in painting order from the browser; what each paints there comes from its computed
style, as everywhere. Lines on different things make several stacks, of which the worst counts.
"""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass, field
from typing import Protocol

import tinycss2

from glaucon.core.cascade.computed import Style
from glaucon.core.cascade.selectors.selectors import Selector, compile_selectors
from glaucon.core.cascade.tree import Document, Element
from glaucon.core.layout.document import Box, Measured, PageLayout, Screen
from glaucon.core.survey.boxes import traits_of, z_of
from glaucon.core.survey.layers import faded, partly
from glaucon.core.survey.model import Layer, PaintGroup, Photo, Shade, Stack, Unseen

Groups = tuple[tuple[int, Layer], ...]  # the groups an element lies in, outermost first, each with a number of its own
Met = tuple[tuple[str, ...], tuple[str, ...], tuple[str, ...]]  # below, above, all with pseudo-elements
_MOST_STACKS = 24
_MOST_LAYERS = 40
_CELL_PX = 12.0  # what is ringed as a text's worst spot is found in cells of about this size


@dataclass(slots=True, eq=False)
class Standing:
    """An element as one state shows it: its style, and the groups it lies in, its own among them."""

    element: Element
    style: Style
    groups: Groups


@dataclass(frozen=True, slots=True)
class PseudoBox:
    """A pseudo-element taken out of the flow: its style, and whether it goes under its element."""

    name: str
    style: Style
    is_under: bool


class PaintsPlaces(Protocol):
    """What knows how elements are painted: the walk."""

    def canvas_at(self, places: list[Box]) -> Stack:
        """Return what the page itself paints at some places."""

    def layers_at(self, standing: Standing, places: list[Box]) -> tuple[Layer, ...]:
        """Return what an element paints behind its content at some places."""

    def pseudo_boxes(self, standing: Standing) -> tuple[PseudoBox, ...]:
        """Return the pseudo-elements of an element that are taken out of the flow."""

    def pseudo_layers_at(
        self, standing: Standing, one: PseudoBox, box: Box | None, places: list[Box]
    ) -> tuple[Layer, ...]:
        """Return what such a pseudo-element paints at some places; without a box, wherever it is."""

    def column_layers(self, cell: Element) -> tuple[Layer, ...]:
        """Return what the column of a table's cell paints."""

    def as_seen_from(self, text: LaidText, element: Element, layers: tuple[Layer, ...]) -> tuple[Layer, ...]:
        """Return what an element paints, its colours said where a text that may lie in other regions finds them."""

    def hides(self, layer: Layer) -> bool:
        """Return whether a layer above words hides them."""


@dataclass(slots=True)
class LaidText:
    """A text whose place is known: the element, with "::before" or "::after", and the groups it lies in."""

    element: Element
    suffix: str
    groups: Groups


class LaidOut:
    """The measured layout of one page, asked for one text at a time."""

    def __init__(self, layout: PageLayout, document: Document, raised: Collection[int] = ()) -> None:
        """`raised` are the orders of elements that a rule lifts which was not there when the page was measured."""
        self._layout, self._raised = layout, raised
        self._by_path = dict.fromkeys(layout.boxes) | dict.fromkeys(layout.runs)
        self._elements: dict[str, Element] = {}
        wanted = self._by_path
        for element in document.elements:
            path = element.path()
            if path in wanted or path + "::before" in wanted or path + "::after" in wanted:
                self._elements[path] = element
        self._spots = {
            (self._elements[host].order, path[len(host) :]): spots
            for path, spots in layout.runs.items()
            if (host := path.partition("::")[0]) in self._elements
        }

    def knows(self, element: Element, suffix: str) -> bool:
        """Return whether the lines of a text were measured."""
        return (element.order, suffix) in self._spots

    def lifts(self, element: Element) -> Element | None:
        """Return the element by which a text is lifted since the page was measured, None where it is not."""
        if not self._raised:
            return None
        return next((one for one in (element, *element.ancestors()) if one.order in self._raised), None)

    def places(self, element: Element, suffix: str) -> list[Box]:
        """Return where the lines of a text lie."""
        return [spot.box for spot in self._spots[element.order, suffix]]

    def measured(self, element: Element) -> Measured | None:
        """Return where an element lies."""
        return self._layout.boxes.get(element.path())

    @property
    def screen(self) -> Screen:
        """Return the part of the page that is in view at scroll 0, and how far it scrolls."""
        layout = self._layout
        box = Box(0.0, 0.0, float(layout.width), layout.viewport)
        return Screen(box, max(0.0, layout.height - layout.viewport))

    def stacks(self, text: LaidText, standing: dict[int, Standing], painter: PaintsPlaces) -> list[tuple[Stack, Stack]]:
        """Return what lies below and above a text, for each different ground its lines stand on; none: it is covered.

        Grounds are told apart by the elements met; of what varies within one, a gradient, all that lines show counts.
        """
        groups: dict[Met, list[Box]] = {}
        for spot in self._spots[text.element.order, text.suffix]:
            groups.setdefault((spot.below, spot.above, spot.full), []).append(spot.box)
        found: dict[tuple[Stack, Stack], None] = {}
        for met, places in groups.items():
            stack = _StackAt(self, text, standing, painter, places).of(*met)
            if stack is not None:
                found[stack] = None
        stacks = list(found)
        if len(stacks) > _MOST_STACKS:
            return [((*stacks[0][0], Unseen("it stands on more different things than Glaucon follows")), ())]
        return stacks

    def standing_of(self, path: str, standing: dict[int, Standing]) -> Standing | None:
        """Return how an element named by its path stands, None where it is not shown or not known."""
        element = self._elements.get(path)
        return standing.get(element.order) if element is not None else None

    def pseudo(self, element: Element, name: str) -> tuple[bool, Box | None]:
        """Return whether a pseudo-element was measured, and where it lies if it is a rectangle."""
        path = f"{element.path()}::{name}"
        return path in self._layout.pseudos, self._layout.pseudos.get(path)


Cell = tuple[Box, tuple[Stack, Stack] | None]


class Probed(LaidOut):
    """A measured layout in which one text is looked at in small cells, each for itself."""

    def __init__(self, layout: PageLayout, document: Document, path: str) -> None:
        super().__init__(layout, document)
        self._path = path
        self.cells: list[Cell] = []

    def stacks(self, text: LaidText, standing: dict[int, Standing], painter: PaintsPlaces) -> list[tuple[Stack, Stack]]:
        """Return what lies below and above a text, and note it for each cell of the one that is looked at."""
        if text.element.path() + text.suffix == self._path:
            for spot in self._spots[text.element.order, text.suffix]:
                for cell in _cells_of(spot.box):
                    met = (spot.below, spot.above, spot.full)
                    found = _StackAt(self, text, standing, painter, [cell]).of(*met)
                    self.cells.append((cell, found))
        return super().stacks(text, standing, painter)


def _cells_of(box: Box) -> list[Box]:
    across, down = max(1, min(40, round(box.width / _CELL_PX))), max(1, min(8, round(box.height / _CELL_PX)))
    width, height = box.width / across, box.height / down
    return [Box(box.left + x * width, box.top + y * height, width, height) for y in range(down) for x in range(across)]


@dataclass(slots=True)
class _StackAt:
    """Builds the stack at some places of one text that lie on the same elements."""

    laid: LaidOut
    text: LaidText
    standing: dict[int, Standing]
    painter: PaintsPlaces
    places: list[Box]
    layers: list[Layer] = field(default_factory=list)
    above: list[Layer] = field(default_factory=list)
    passed: list[Layer] = field(default_factory=list)  # what a text that was lifted lies over since
    opened: int = 0

    def of(
        self, below: tuple[str, ...], above: tuple[str, ...], full: tuple[str, ...]
    ) -> tuple[Stack, Stack] | None:  # fmt: skip
        """Return the layers below and above, None where something above hides the text."""
        self.layers.extend(self.painter.canvas_at(self.places))
        after, over = self._pseudos(below, above, full)
        for path in reversed(below):
            if (standing := self.laid.standing_of(path, self.standing)) is not None:
                self._add(standing)
            for _, layers in after.get(path, ()):
                self.layers.extend(layers)
        for path in reversed(above):
            standing = self.laid.standing_of(path, self.standing)
            if standing is None or standing.element is self.text.element or self._is_around(standing.element):
                continue
            fading, why = self._apart(standing, 0)
            layers = self._seen(standing, self.painter.layers_at(standing, self.places))
            if self._is_passed(standing.element, standing.style):
                self.passed.extend((Unseen(why),) if why and layers else faded(layers, fading))
                continue
            if why or (fading == 1 and any(self.painter.hides(layer) for layer in layers)):
                return None
            self.above.extend(faded(layers, fading))
        self.above.extend(over)
        self.layers.extend(self.passed)
        self._open(len(self.text.groups))
        if any(self.painter.hides(layer) for layer in self.above):
            return None
        return tuple(self.layers[:_MOST_LAYERS]), tuple(self.above[:_MOST_LAYERS])

    def _seen(self, standing: Standing, layers: tuple[Layer, ...]) -> tuple[Layer, ...]:
        return self.painter.as_seen_from(self.text, standing.element, layers) if layers else layers

    def _is_passed(self, element: Element, style: Style) -> bool:
        """Return whether a text was lifted over something, since the page was measured."""
        raised = self.laid.lifts(self.text.element)
        if raised is None or any(one is raised for one in element.ancestors()):
            return False
        standing = self.standing.get(raised.order)
        return standing is not None and traits_of(standing.style).is_positioned and z_of(standing.style) >= z_of(style)

    def _is_around(self, element: Element) -> bool:
        return any(one is element for one in self.text.element.ancestors())

    def _add(self, standing: Standing) -> None:
        shared = _shared(standing.groups, self.text.groups)
        self._open(shared)
        fading, why = self._apart(standing, shared)
        own = self._seen(standing, faded(self.painter.layers_at(standing, self.places), fading))
        if standing.element.tag == "table":
            own = self._of_table(standing.element, own)
        if why and own:
            own = (Unseen(why),)
        under = [
            layer
            for one in self.painter.pseudo_boxes(standing)
            if one.is_under
            for layer in faded(self._of_pseudo(standing, one, False), fading)
        ]
        makes = traits_of(standing.style).makes_context
        self.layers.extend((*own, *under) if makes else (*under, *own))

    def _of_table(self, table: Element, own: tuple[Layer, ...]) -> tuple[Layer, ...]:
        """Return what lies behind all rows: a table's columns over itself; its box holds its caption, but no paint."""
        around = [self.text.element, *self.text.element.ancestors()]
        if table not in around:
            return own
        inside = around[: around.index(table)]
        if any(one.tag == "caption" for one in inside):
            return ()
        cell = next((one for one in reversed(inside) if one.tag in ("td", "th")), None)
        return own if cell is None else (*own, *self.painter.column_layers(cell))

    # pseudo-elements, told by how the order changes when they are met

    def _pseudos(
        self, below: tuple[str, ...], above: tuple[str, ...], full: tuple[str, ...]
    ) -> tuple[dict[str, list[tuple[str, tuple[Layer, ...]]]], list[Layer]]:
        """Return the layers of pseudo-elements by the element right below them, and those over the text."""
        order = full or (*above, *below)
        plain = (*above, *below)
        own = self.text.element.path()
        at = len(order) - 1 - order[::-1].index(own) if own in order else len(above)
        after: dict[str, list[tuple[str, tuple[Layer, ...]]]] = {}
        over: list[Layer] = []
        for path in dict.fromkeys(reversed(order)):
            standing = self.laid.standing_of(path, self.standing)
            boxes = [] if standing is None else [one for one in self.painter.pseudo_boxes(standing) if not one.is_under]
            if standing is None or not boxes:
                continue
            fading, _ = self._apart(standing, _shared(standing.groups, self.text.groups))
            places = _places_of(path, order, plain, len(boxes))
            if len(boxes) == 2 and places[0] == places[1] and self._comes_after(boxes[0], standing.element):
                places[0] = None  # met with its element, as one
            for one, place in zip(boxes, places, strict=True):
                layers = faded(self._of_pseudo(standing, one, place is not None), fading)
                if not layers:
                    continue
                if path == own or path in above or (place is not None and place < at):
                    is_passed = path != own and self._is_passed(standing.element, one.style)
                    (self.passed if is_passed else over).extend(layers)
                    continue
                # where it is met apart from its element, it comes right over what is met next below it
                lower = path
                if place is not None:
                    lower = next((other for other in order[place + 1 :] if other in below), below[-1])
                after.setdefault(lower, []).append((path, layers))
        return after, over

    def _comes_after(self, one: PseudoBox, host: Element) -> bool:
        """Return whether the text is painted after the ::before of an element around it: raised as high, or higher."""
        for around in (self.text.element, *self.text.element.ancestors()):
            if around is host:
                return False
            standing = self.standing.get(around.order)
            style = standing.style if standing is not None else None
            if style is not None and traits_of(style).is_positioned and z_of(style) >= z_of(one.style):
                return True
        return False

    def _of_pseudo(self, standing: Standing, one: PseudoBox, is_met: bool) -> tuple[Layer, ...]:
        is_measured, box = self.laid.pseudo(standing.element, one.name)
        if not is_measured:
            return ()
        if box is None:
            layers = self.painter.pseudo_layers_at(standing, one, None, self.places) if is_met else ()
            return self._seen(standing, layers)
        met = [part for place in self.places if (part := place.shared(box)) is not None]
        if not met:
            return ()
        layers = self._seen(standing, self.painter.pseudo_layers_at(standing, one, box, met))
        whole = is_met or (len(met) == len(self.places) and all(box.holds(place, 2.0) for place in self.places))
        return layers if whole else partly(layers)

    def _open(self, until: int) -> None:
        """Begin the groups around the text, up to a number of them."""
        while self.opened < until:
            self.layers.append(self.text.groups[self.opened][1])
            self.opened += 1

    def _apart(self, standing: Standing, shared: int) -> tuple[float, str]:
        """Return how far an element is faded by groups that the text is not in, and why that cannot be known."""
        fading = 1.0
        for _, layer in standing.groups[max(shared, _shared(standing.groups, self.text.groups)) :]:
            if not isinstance(layer, PaintGroup) or layer.filters or layer.blend != "normal":
                return fading, "a filter changes the colours of what lies behind it"
            fading *= layer.opacity
        return fading, ""


def _places_of(path: str, order: tuple[str, ...], plain: tuple[str, ...], count: int) -> list[int | None]:
    """Return where in an order an element's pseudo-elements are met, lowest first; None: right over the element itself.

    An element that is met twice is met the second time through them, as is one that is not met without them.
    """
    met = [place for place in range(len(order) - 1, -1, -1) if order[place] == path]
    if path in plain:
        before = set(order[: met[0]])
        is_moved = len(met) == 1 and any(one not in before for one in plain[: plain.index(path)])
        met = met if is_moved else met[1:]
    found: list[int | None] = [*met[:count]]
    return found + [met[-1] if met else None] * (count - len(found))


def _shared(one: Groups, other: Groups) -> int:
    """Return how many groups two have in common, from the outermost."""
    count = 0
    for (mine, _), (theirs, _) in zip(one, other, strict=False):
        if mine != theirs:
            break
        count += 1
    return count


def lifting_selectors(css: str) -> list[Selector]:
    """Return the selectors of the rules in some CSS that lift elements over others."""
    nodes = tinycss2.parse_stylesheet(css, skip_comments=True, skip_whitespace=True) if "z-index" in css else []
    return [
        selector for node in nodes if node.type == "qualified-rule"
        and any(getattr(one, "lower_name", "") == "z-index" for one in tinycss2.parse_blocks_contents(node.content))
        for selector in compile_selectors(node.prelude)
    ]  # fmt: skip


def depends_on_place(stacks: list[tuple[Stack, Stack]]) -> bool:
    """Return whether what lies behind a text would be a guess without a layout."""
    if len(stacks) != 1:
        return True
    return any(isinstance(layer, Shade | Photo) for layer in (*stacks[0][0], *stacks[0][1]))
