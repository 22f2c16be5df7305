"""The boxes that paint a background inside each region, so that what is laid behind the region can show through them.

A box is found by its tag, id and classes. Where boxes of the same are painted in different colours, or some are not
painted at all, they are left out: a selector must not paint what the site does not.
"""

from __future__ import annotations

import re
from collections import Counter, defaultdict
from collections.abc import Iterable, Iterator, Mapping, Sequence

from glaucon.core.cascade.expression import Faded, Found, Literal
from glaucon.core.cascade.tokens import ColourToken
from glaucon.core.cascade.tree import Document, Element
from glaucon.core.survey.model import Fill, Layer, Panel
from glaucon.core.survey.regions import RegionsOfPage

# what lies on a section; controls, and what stands in a line of text, keep their colours
_BOXES = frozenset(
    "div section article main header footer nav aside form fieldset figure figcaption ul ol li dl dt dd table caption "
    "thead tbody tfoot tr td th p pre blockquote details summary address h1 h2 h3 h4 h5 h6 center".split()
)
_PLAIN = re.compile(r"-?[A-Za-z_][\w-]*")
_MOST_KINDS = 400  # of boxes in one region: beyond that nothing is told of it

_Kind = tuple[str, str, frozenset[str]]  # tag, id, classes
_Paint = Found | Faded | Literal | None


class PanelsFound:
    """Collects the boxes in each region (by region number), grouped by tag, class and background."""

    def __init__(self, tokens: Sequence[ColourToken]) -> None:
        self._tokens = tokens
        self._inside: dict[int, Counter[tuple[_Kind, _Paint]]] = defaultdict(Counter)
        self._starts: dict[int, Counter[_Paint]] = defaultdict(Counter)

    def note(
        self, document: Document, regions: RegionsOfPage, painted: Iterable[tuple[Element, tuple[Layer, ...]]]
    ) -> None:
        """Note the boxes of a page."""
        paints = {element.order: _paint(layers) for element, layers in painted}
        for element in document.elements:
            chain = regions.chains[element.order] if regions.chains else ()
            if not chain or element.tag not in _BOXES:
                continue
            paint = paints.get(element.order)
            if element.order in regions.starts:
                self._starts[chain[-1]][paint] += 1
                chain = chain[:-1]
            kind = (element.tag, element.ident, frozenset(element.classes))
            for number in chain:
                self._inside[number][kind, paint] += 1

    def of(self, region: int) -> tuple[Panel, ...]:
        """Return the boxes that paint in a region, the region's own with no selector; those of more classes later."""
        found = [*self._own(region), *self._told_apart(self._inside.get(region, Counter()))]
        return tuple(found)

    def _own(self, region: int) -> Iterator[Panel]:
        paints = list(self._starts.get(region, ()))
        if len(paints) == 1 and paints[0] is not None:
            yield self._panel("", paints[0])

    def _told_apart(self, boxes: Mapping[tuple[_Kind, _Paint], int]) -> Iterator[Panel]:
        if len(boxes) > _MOST_KINDS:
            return
        painted = sorted({kind for kind, paint in boxes if paint is not None}, key=_in_order)
        for kind in painted:
            selector = _selector(kind)
            found = {paint for other, paint in boxes if _is_found_by(kind, other)}
            own = {paint for other, paint in boxes if other == kind}
            # what is found besides has a longer selector of its own, unless it paints nothing
            if selector and None not in found and len(own) == 1:
                yield self._panel(selector, next(paint for paint in own if paint is not None))

    def _panel(self, selector: str, paint: Found | Faded | Literal) -> Panel:
        if isinstance(paint, Literal):
            return Panel(selector, None, paint.colour)
        if isinstance(paint, Faded):
            assert isinstance(paint.colour, Found)
            token = self._tokens[paint.colour.token]
            return Panel(selector, token, token.colour, paint.alpha)
        token = self._tokens[paint.token]
        return Panel(selector, token, token.colour)


def _paint(layers: Sequence[Layer]) -> _Paint:
    """Return the colour that a box paints, without how deep it is said; None for none, or one that is mixed."""
    colour = layers[0].colour if layers and isinstance(layers[0], Fill) else None
    if isinstance(colour, Found):
        return Found(colour.token)
    if isinstance(colour, Faded) and isinstance(colour.colour, Found):
        return Faded(Found(colour.colour.token), colour.alpha, colour.scale)
    return colour if isinstance(colour, Literal) else None


def _is_found_by(kind: _Kind, other: _Kind) -> bool:
    return kind[0] == other[0] and kind[1] in ("", other[1]) and kind[2] <= other[2]


def _selector(kind: _Kind) -> str:
    tag, ident, classes = kind
    if not all(_PLAIN.fullmatch(name) for name in (*classes, *([ident] if ident else []))):
        return ""
    return tag + (f"#{ident}" if ident else "") + "".join(f".{name}" for name in sorted(classes))


def _in_order(kind: _Kind) -> tuple[bool, int, str]:
    return (bool(kind[1]), len(kind[2]), _selector(kind))
