"""Which found colours reach anything: a colour that no shown element's rules say is in the files, not on the site.

Texts and what they stand on are known from their sightings; this tells it of lines, shadows and fills without text. It
errs to the side of "shown": a declaration counts where its selector matches, even if another one wins over it.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field

from glaucon.core.cascade.selectors.selectors import Selector
from glaucon.core.cascade.selectors.state import State
from glaucon.core.cascade.stylesheet import Block, ColourUse, Stylesheet
from glaucon.core.cascade.tree import Element

_REST, _ALL = State(), State(hover=True, focus=True, active=True, visited=True)
_Buckets = dict[tuple[str, str], list[tuple[Selector, Block]]]


@dataclass(slots=True)
class Reach:
    """The blocks whose selectors match an element shown on any page so far; each is looked for until it is found."""

    _reached: dict[int, Block] = field(default_factory=dict)
    _buckets: dict[int, _Buckets] = field(default_factory=dict)

    def look(self, sheets: Iterable[Stylesheet], elements: Iterable[Element], inline: Iterable[Block | None]) -> None:
        """Note what reaches the shown elements of a page, given its stylesheets and those elements' own styles."""
        for block in inline:
            if block is not None and block.colours:
                self._reached[id(block)] = block
        waiting = [self._of_sheet(sheet) for sheet in _with_imports(sheets)]
        for element in elements:
            for buckets in waiting:
                for key in element.keys:
                    if key in buckets:
                        self._match(buckets, key, element)

    def _match(self, buckets: _Buckets, key: tuple[str, str], element: Element) -> None:
        above, is_new = element.above, False
        for selector, block in buckets[key]:
            if id(block) in self._reached or above & selector.needs != selector.needs:
                continue
            if selector.matches(element, _ALL) or selector.matches(element, _REST):
                self._reached[id(block)] = block
                is_new = True
        if is_new:
            buckets[key] = [one for one in buckets[key] if id(one[1]) not in self._reached]

    def _of_sheet(self, sheet: Stylesheet) -> _Buckets:
        if id(sheet) not in self._buckets:
            buckets: _Buckets = {}
            for selector, block in sheet.coloured:
                kind, name = selector.key
                buckets.setdefault((kind, name), []).append((selector, block))
            self._buckets[id(sheet)] = buckets
        return self._buckets[id(sheet)]

    def tokens(self) -> set[int]:
        """Return the tokens that reach something: those of custom properties where what reads them does."""
        uses = [use for block in self._reached.values() for use in block.colours]
        custom: dict[str, list[ColourUse]] = {}
        for use in uses:
            if use.property.startswith("--"):
                custom.setdefault(use.property, []).append(use)
        found: set[int] = set()
        waiting: list[str] = []
        for use in uses:
            if not use.property.startswith("--"):
                found.update(use.tokens)
                waiting.extend(use.variables)
        read: set[str] = set()
        while waiting:
            name = waiting.pop()
            if name not in read:
                read.add(name)
                for use in custom.get(name, ()):
                    found.update(use.tokens)
                    waiting.extend(use.variables)
        return found


def _with_imports(sheets: Iterable[Stylesheet]) -> list[Stylesheet]:
    found: dict[int, Stylesheet] = {}
    waiting = list(sheets)
    while waiting:
        sheet = waiting.pop()
        if id(sheet) not in found:
            found[id(sheet)] = sheet
            waiting.extend(sheet.imported)
    return list(found.values())
