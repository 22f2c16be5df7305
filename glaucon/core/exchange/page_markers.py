"""What tells some pages of a site from others in a selector: a link only they have, the class of their body."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from glaucon.core.cascade.tree import Document, Element
from glaucon.core.exchange.addon_text import quoted

_MOST_MARKERS = 12


def markers_of(document: Document) -> set[str]:
    """Return selectors of elements of a page's head and body that may tell it from other pages."""
    found: set[str] = set()
    for element in document.elements:
        if element.tag == "link":
            found |= _by_attribute(element, "href")
        elif element.tag == "script":
            found |= _by_attribute(element, "src")
        elif element.tag == "meta" and "content" in element.attributes:
            found |= _by_attribute(element, "content")
        elif element.tag == "body":
            found |= _by_attribute(element, "id") | _by_attribute(element, "class")
            break
    return found


def _by_attribute(element: Element, name: str) -> set[str]:
    value = element.attributes.get(name, "")
    return {f"{element.tag}[{name}={quoted(value)}]"} if value and len(value) < 200 else set()


def telling(pages: Iterable[str], others: set[str], markers: Mapping[str, set[str]]) -> list[str] | None:
    """Return the fewest markers found that each of `pages` has one of and no page of `others` has; None if none do."""
    left = set(pages)
    on: dict[str, set[str]] = {}
    for page in sorted(left):
        for marker in markers[page]:
            on.setdefault(marker, set()).add(page)
    taken = set().union(*(markers[page] for page in others)) if others else set()
    usable = {marker: where for marker, where in on.items() if marker not in taken}
    chosen: list[str] = []
    while left:
        best = max(sorted(usable), key=lambda marker: len(usable[marker] & left), default=None)
        if best is None or not usable[best] & left or len(chosen) == _MOST_MARKERS:
            return None
        chosen.append(best)
        left -= usable[best]
    return chosen
