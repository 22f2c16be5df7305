"""The custom properties that regions take from around them, as far as they are made of found colours.

A custom property has its value where it is declared: what is inside takes that over, whatever the properties it was
made of are there (CSS Custom Properties 1, section 3). A scope that recolours what it is made of has to say it again.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

from glaucon.core.cascade.tokens import TokenTable
from glaucon.core.survey.model import HandedDown

_MOST_PARTS = 40
_MOST_CHARACTERS = 600
_CHANNELS = 3


class HandedDownProperties:
    """Collects what each region takes over, by page; what is not the same at all its elements there is left out."""

    def __init__(self, table: TokenTable) -> None:
        self._table = table
        self._parsed: dict[int, dict[str, HandedDown | None]] = {}
        self._alive: list[object] = []  # what is known by identity
        self._of_region: dict[int, dict[str, dict[str, HandedDown | None]]] = {}

    def note(self, region: int, page: str, custom: Mapping[str, list[Any]]) -> None:
        """Note the custom properties that stand at an element of a region on a page."""
        found = self._read(custom)
        of_page = self._of_region.setdefault(region, {})
        known = of_page.setdefault(page, found)
        if known is not found:
            names = known.keys() | found.keys()
            of_page[page] = {name: known.get(name) if known.get(name) == found.get(name) else None for name in names}

    def of(self, region: int) -> tuple[HandedDown, ...]:
        """Return the custom properties a region inherits: those equal on all its pages, then those per page."""
        of_page = self._of_region.get(region, {})
        pages_of: dict[HandedDown, list[str]] = {}
        for page, found in of_page.items():
            for one in found.values():
                if one is not None:
                    pages_of.setdefault(one, []).append(page)
        return tuple(
            one if len(pages) == len(of_page) else replace(one, pages=frozenset(pages))
            for one, pages in pages_of.items()
        )

    def _read(self, custom: Mapping[str, list[Any]]) -> dict[str, HandedDown | None]:
        if id(custom) not in self._parsed:
            parts = {name: _parts(nodes, self._table) for name, nodes in custom.items()}
            self._parsed[id(custom)] = {name: HandedDown(name, some) for name, some in parts.items() if some}
            self._alive.append(custom)
        return self._parsed[id(custom)]


def _parts(nodes: list[Any], table: TokenTable) -> tuple[str | int, ...]:
    """Return a value as text and the numbers of found colours in it; nothing where there is none, or it is too long."""
    writer = _Writer(table)
    writer.write(nodes)
    is_told = any(isinstance(one, int) for one in writer.parts) and not writer.has_address
    size = sum(len(one) if isinstance(one, str) else 1 for one in writer.parts)
    return tuple(writer.parts) if is_told and len(writer.parts) <= _MOST_PARTS and size <= _MOST_CHARACTERS else ()


@dataclass(slots=True)
class _Writer:
    table: TokenTable
    parts: list[str | int] = field(default_factory=list)
    has_address: bool = False  # an address is relative to the file it stands in

    def write(self, nodes: Sequence[Any]) -> None:
        channels = 0  # numbers that the found colour before them has told already
        for node in nodes:
            number = self.table.number_of(node)
            if number is not None:
                self.parts.append(number)
                channels = _CHANNELS - 1 if self.table.tokens[number].form == "channels" else 0
            elif channels:
                channels -= node.type == "number"
            elif node.type == "function":
                self.has_address = self.has_address or node.lower_name == "url"
                self._text(f"{node.name}(")
                self.write(node.arguments)
                self._text(")")
            elif node.type == "() block":
                self._text("(")
                self.write(node.content)
                self._text(")")
            else:
                self.has_address = self.has_address or node.type == "url"
                self._text(node.serialize())

    def _text(self, text: str) -> None:
        if self.parts and isinstance(self.parts[-1], str):
            self.parts[-1] += text
        else:
            self.parts.append(text)
