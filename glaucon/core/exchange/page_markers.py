"""What tells some pages of a site from others in a selector: a link only they have, the class of their body.

Where nothing in a page's head does, what stands on it: the current item of a menu, an id, a class that others lack.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from glaucon.core.cascade.tree import Document, Element
from glaucon.core.scopes.hints import quoted

_MOST_MARKERS = 12
_MOST_ON_PAGE = 2_000
_NAME = re.compile(r"[a-zA-Z_][\w-]{0,60}", re.ASCII)


@dataclass(frozen=True, slots=True)
class Markers:
    """Selectors that find something on a page: in its head and of its body, and of what stands on it."""

    of_head: set[str]
    on_page: set[str]


def markers_of(document: Document) -> Markers:
    """Return selectors that may tell a page from other pages."""
    return Markers(_of_head(document), _on_page(document))


def _on_page(document: Document) -> set[str]:
    found: set[str] = set()
    for element in document.elements:
        current, href = (element.attributes.get(name, "") for name in ("aria-current", "href"))
        if current and href and len(href) < 200:
            found.add(f"{element.tag}[aria-current][href={quoted(href)}]")
        if _NAME.fullmatch(name := element.attributes.get("id", "")):
            found.add(f"#{name}")
        found |= {f".{one}" for one in element.attributes.get("class", "").split() if _NAME.fullmatch(one)}
        if len(found) > _MOST_ON_PAGE:
            break
    return found


def _of_head(document: Document) -> set[str]:
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


def telling(pages: Iterable[str], others: set[str], markers: Mapping[str, Markers]) -> list[str] | None:
    """Return the fewest markers found that each of `pages` has one of and no page of `others` has; None if none do."""
    names = list(pages)
    return _telling(names, others, {page: one.of_head for page, one in markers.items()}) or _telling(
        names, others, {page: one.of_head | one.on_page for page, one in markers.items()}
    )


def _telling(pages: Iterable[str], others: set[str], markers: Mapping[str, set[str]]) -> list[str] | None:
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
