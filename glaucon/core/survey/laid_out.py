"""What lies behind and over a text where a browser has measured the page: layers at the very places of its lines.

The elements below each line come in painting order from the browser; what each paints there comes from its computed
style, as everywhere. Lines on different things make several stacks, of which the worst counts.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Protocol

from glaucon.core.cascade.computed import Style
from glaucon.core.cascade.tree import Document, Element
from glaucon.core.layout.document import Box, Measured, PageLayout
from glaucon.core.survey.boxes import traits_of
from glaucon.core.survey.layers import faded, partly
from glaucon.core.survey.model import Group, Layer, Photo, Shade, Stack, Unseen

Groups = tuple[tuple[int, Layer], ...]  # the groups an element lies in, outermost first, each with a number of its own
_MOST_STACKS = 24
_MOST_LAYERS = 40


@dataclass(slots=True, eq=False)
class Standing:
    """An element as one state shows it: its style, and the groups it lies in, its own among them."""

    element: Element
    style: Style
    groups: Groups


@dataclass(frozen=True, slots=True)
class PseudoBox:
    """A pseudo-element taken out of the flow: where it is painted among others, and its style."""

    name: str
    style: Style
    z: int
    order: int


class Painter(Protocol):
    """What knows how elements are painted: the walk."""

    def canvas_at(self, places: list[Box]) -> Stack:
        """Return what the page itself paints at some places."""

    def layers_at(self, standing: Standing, places: list[Box]) -> tuple[Layer, ...]:
        """Return what an element paints behind its content at some places."""

    def pseudo_boxes(self, standing: Standing) -> tuple[PseudoBox, ...]:
        """Return the pseudo-elements of an element that are taken out of the flow."""

    def pseudo_layers_at(self, standing: Standing, one: PseudoBox, box: Box, places: list[Box]) -> tuple[Layer, ...]:
        """Return what such a pseudo-element paints at some places."""

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

    def __init__(self, layout: PageLayout, document: Document) -> None:
        self._layout = layout
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

    def measured(self, element: Element) -> Measured | None:
        """Return where an element lies."""
        return self._layout.boxes.get(element.path())

    @property
    def viewport(self) -> Box:
        """Return the part of the page that is in view at scroll 0."""
        return Box(0.0, 0.0, float(self._layout.width), self._layout.viewport)

    def stacks(self, text: LaidText, standing: dict[int, Standing], painter: Painter) -> list[tuple[Stack, Stack]]:
        """Return what lies below and above a text, for each different ground its lines stand on; none: it is covered.

        Grounds are told apart by the elements met; of what varies within one, a gradient, all that lines show counts.
        """
        groups: dict[tuple[tuple[str, ...], tuple[str, ...]], list[Box]] = {}
        for spot in self._spots[text.element.order, text.suffix]:
            groups.setdefault((spot.below, spot.above), []).append(spot.box)
        found: dict[tuple[Stack, Stack], None] = {}
        for (below, above), places in groups.items():
            stack = _StackAt(self, text, standing, painter, places).of(below, above)
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

    def pseudo(self, element: Element, name: str) -> Box | None:
        """Return where a pseudo-element lies, None where that is not known."""
        return self._layout.pseudos.get(f"{element.path()}::{name}")


@dataclass(slots=True)
class _Waiting:
    """Layers of a pseudo-element that come right below what is painted after it."""

    ahead_of: int
    layers: tuple[Layer, ...]


@dataclass(slots=True)
class _StackAt:
    """Builds the stack at some places of one text that lie on the same elements."""

    laid: LaidOut
    text: LaidText
    standing: dict[int, Standing]
    painter: Painter
    places: list[Box]
    layers: list[Layer] = field(default_factory=list)
    above: list[Layer] = field(default_factory=list)
    opened: int = 0
    waiting: list[_Waiting] = field(default_factory=list)
    chain: list[Element] = field(default_factory=list)

    def of(self, below: tuple[str, ...], above: tuple[str, ...]) -> tuple[Stack, Stack] | None:
        """Return the layers below and above, None where something above hides the text."""
        self.chain = [self.text.element, *self.text.element.ancestors()]
        ancestors = {one.order for one in self.chain}
        self.layers.extend(self.painter.canvas_at(self.places))
        for path in reversed(below):
            if (standing := self.laid.standing_of(path, self.standing)) is not None:
                self._add(standing, standing.element.order in ancestors)
        self._flush(None)
        self._open(len(self.text.groups))
        for path in reversed(above):
            standing = self.laid.standing_of(path, self.standing)
            if standing is None or standing.element.order in ancestors:
                continue
            fading, why = self._apart(standing, 0)
            layers = self.painter.layers_at(standing, self.places)
            if why or (fading == 1 and any(self.painter.hides(layer) for layer in layers)):
                return None
            self.above.extend(faded(layers, fading))
        if any(self.painter.hides(layer) for layer in self.above):
            return None
        return tuple(self.layers[:_MOST_LAYERS]), tuple(self.above[:_MOST_LAYERS])

    def _add(self, standing: Standing, is_around: bool) -> None:
        self._flush(standing.element)
        shared = _shared(standing.groups, self.text.groups)
        self._open(shared)
        fading, why = self._apart(standing, shared)
        own = faded(self.painter.layers_at(standing, self.places), fading)
        if why and own:
            own = (Unseen(why),)
        makes = traits_of(standing.style).makes_context
        low, high = self._pseudos(standing, is_around, fading)
        self.layers.extend((*own, *low) if makes else (*low, *own))
        self.layers.extend(high)

    def _pseudos(
        self, standing: Standing, is_around: bool, fading: float
    ) -> tuple[tuple[Layer, ...], tuple[Layer, ...]]:
        """Return what an element's pseudo-elements put under its background or right over it; the rest waits."""
        low: list[Layer] = []
        high: list[Layer] = []
        for one in self.painter.pseudo_boxes(standing):
            layers = faded(self._of_pseudo(standing, one), fading)
            if not layers:
                continue
            if one.z < 0:
                low.extend(layers)
            elif not is_around:
                high.extend(layers)
            else:
                self._place(standing.element, one, layers)
        return tuple(low), tuple(high)

    def _of_pseudo(self, standing: Standing, one: PseudoBox) -> tuple[Layer, ...]:
        box = self.laid.pseudo(standing.element, one.name)
        if box is None:
            return ()
        met = [part for place in self.places if (part := place.shared(box)) is not None]
        if not met:
            return ()
        layers = self.painter.pseudo_layers_at(standing, one, box, met)
        whole = len(met) == len(self.places) and all(box.holds(place, 2.0) for place in self.places)
        return layers if whole else partly(layers)

    def _place(self, host: Element, one: PseudoBox, layers: tuple[Layer, ...]) -> None:
        """Put a pseudo-element of an ancestor below or above the text (CSS 2.1, Appendix E)."""
        inside = self.chain[: self.chain.index(host)]
        for element in reversed(inside):
            standing = self.standing.get(element.order)
            if standing is None:
                continue
            traits = traits_of(standing.style)
            if not (traits.is_positioned or traits.makes_context):
                continue
            z = standing.style.values.get("z-index")
            if ((z if isinstance(z, int) else 0), element.order) > (one.z, one.order):
                self.waiting.append(_Waiting(element.order, layers))
                return
            if traits.makes_context:
                break
        self.above.extend(layers)

    def _flush(self, ahead_of: Element | None) -> None:
        """Put in what waits for an element, or everything."""
        if not self.waiting:
            return
        if ahead_of is None:
            for one in self.waiting:
                self.layers.extend(one.layers)
            self.waiting = []
            return
        around = {ahead_of.order, *(one.order for one in ahead_of.ancestors())}
        for one in [one for one in self.waiting if one.ahead_of in around]:
            self.layers.extend(one.layers)
            self.waiting.remove(one)

    def _open(self, until: int) -> None:
        """Begin the groups around the text, up to a number of them."""
        while self.opened < until:
            self.layers.append(self.text.groups[self.opened][1])
            self.opened += 1

    def _apart(self, standing: Standing, shared: int) -> tuple[float, str]:
        """Return how far an element is faded by groups that the text is not in, and why that cannot be known."""
        fading = 1.0
        for _, layer in standing.groups[max(shared, _shared(standing.groups, self.text.groups)) :]:
            if not isinstance(layer, Group) or layer.filters or layer.blend != "normal":
                return fading, "a filter changes the colours of what lies behind it"
            fading *= layer.opacity
        return fading, ""


def _shared(one: Groups, other: Groups) -> int:
    """Return how many groups two have in common, from the outermost."""
    count = 0
    for (mine, _), (theirs, _) in zip(one, other, strict=False):
        if mine != theirs:
            break
        count += 1
    return count


def depends_on_place(stacks: list[tuple[Stack, Stack]]) -> bool:
    """Return whether what lies behind a text would be a guess without a layout."""
    if len(stacks) != 1:
        return True
    return any(isinstance(layer, Shade | Photo) for layer in (*stacks[0][0], *stacks[0][1]))
