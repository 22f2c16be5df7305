"""What an element of a page is called, and the way to it: the page, a section, a part, the element itself."""

from __future__ import annotations

from typing import NamedTuple

from glaucon.core.cascade.tree import Element
from glaucon.core.places.widening import Lineage

_NAMES = {
    "a": "Link", "p": "Text", "span": "Text", "li": "List item", "h1": "Heading", "h2": "Heading", "h3": "Heading",
    "h4": "Heading", "h5": "Heading", "h6": "Heading", "img": "Picture", "button": "Button", "td": "Cell",
    "th": "Table heading", "div": "Box", "body": "The page", "html": "The page", "label": "Label", "strong": "Text",
    "em": "Text", "ul": "List", "ol": "List", "table": "Table", "input": "Field", "blockquote": "Quote",
}  # fmt: skip


class Step(NamedTuple):
    """One step of the way to an element: what it is called, and its path."""

    label: str
    path: str


def part_name(element: Element, lineage: Lineage) -> str:
    """Return what an element is called: its region's label, else by its tag."""
    region = next((region for region, own in reversed(lineage) if own is element), None)
    return region.label if region is not None else _NAMES.get(element.tag, f"<{element.tag}>")


def steps_to(element: Element, lineage: Lineage, page: str) -> list[Step]:
    """Return the way from a page to one of its elements."""
    steps = [Step(page, "html"), *(Step(region.label, own.path()) for region, own in lineage)]
    if steps[-1].path != element.path():
        steps.append(Step(part_name(element, lineage), element.path()))
    return steps
