"""Where what a selector finds lies on a measured page."""

from __future__ import annotations

from collections.abc import Iterable

import tinycss2

from glaucon.core.cascade.selectors.selectors import Selector, compile_selectors
from glaucon.core.cascade.selectors.state import State
from glaucon.core.cascade.tree import Document
from glaucon.core.layout.document import Box, PageLayout

_REST = State()


def paths_found(document: Document, selector: str) -> list[str]:
    """Return the paths of the elements that a selector finds at rest."""
    compiled: list[Selector] = compile_selectors(tinycss2.parse_component_value_list(selector))
    return [one.path() for one in document.elements if any(each.matches(one, _REST) for each in compiled)]


def only_box(layout: PageLayout, paths: Iterable[str]) -> Box | None:
    """Return the box of the only measured element among several, None if none or more than one is measured."""
    boxes = [layout.boxes[path].box for path in paths if path in layout.boxes]
    return boxes[0] if len(boxes) == 1 else None
