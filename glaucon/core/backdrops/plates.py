"""Plates: a colour right behind the lines that are hard to read, and behind nothing else of their place."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator, Mapping

import tinycss2

from glaucon.core.backdrops.css import painted
from glaucon.core.backdrops.marked import MARK, MARKED, Text
from glaucon.core.backdrops.trying import Before, Seen
from glaucon.core.backdrops.veils import Least, least_of
from glaucon.core.cascade.selectors.selectors import compile_selectors
from glaucon.core.cascade.selectors.state import State
from glaucon.core.cascade.tree import Document, Element
from glaucon.core.study.backdrops import Backdrop, Plate
from glaucon.core.study.study import Study

_REACH = "0.3em"  # around the lines
_MOST = 60
_REST = State()


def plate_rule(selector: str, backdrop: Backdrop, study: Study) -> str:
    """Return the rule that lays a backdrop's plate, "" without one; `selector` finds the place."""
    plate = backdrop.plate
    if plate is None:
        return ""
    colour = painted(study, plate.colour, plate.opacity)
    # a way down begins at the place's own children
    found = ", ".join(f"{selector} {'> ' if ':' in one else ''}{one}" for one in plate.behind)
    said = (
        f"background-color: {colour} !important", f"box-shadow: 0 0 0 {_REACH} {colour} !important",
        "-webkit-box-decoration-break: clone", "box-decoration-break: clone",
    )  # fmt: skip
    return f"{found} {{ {'; '.join(said)} }}"


def least_plate(
    seen: Seen, study: Study, backdrop: Backdrop, behind: Collection[str], before: Before
) -> tuple[Backdrop, Least] | None:
    """Return a backdrop with the least plate behind some elements, and how their texts read on it; None: no element."""
    if not behind:
        return None

    def plated(colour: str, opacity: float) -> Backdrop:
        plate = Plate(colour=colour, opacity=opacity, behind=tuple(behind)[:_MOST])
        return backdrop.model_copy(update={"plate": plate})

    least = least_of(seen(plated(MARKED, MARK)), study, backdrop, before, is_veil=False)
    plate = Plate(colour=least.colour, opacity=least.opacity, behind=tuple(behind)[:_MOST])
    return backdrop.model_copy(update={"plate": plate}), least


def selectors_behind(
    documents: Mapping[str, Document], place: str, hard: Iterable[Text], may: Collection[Text]
) -> list[str]:
    """Return what finds the elements of hard texts within a place, and no text that may have no plate.

    `place` is the selector of the place, "" for whole pages; texts are told by page and path. By tag and classes where
    that will do, else by the way down from the place.
    """
    found: dict[str, None] = {}
    for page, path in hard:
        document = documents.get(page)
        element = _at(document, path) if document is not None else None
        if document is None or element is None:
            continue
        roots = list(_roots(document, place))
        root = next((one for one in roots if one is element or _is_in(element, one)), None)
        if root is None or root is element:
            continue
        for selector in _ways(element, root):
            if all(
                (name, one.path()) in may for name, other in documents.items()
                for around in _roots(other, place) for one in _matches(selector, around) if one.own_text
            ):  # fmt: skip
                found[selector] = None
                break
    return list(found)


def _at(document: Document, path: str) -> Element | None:
    plain = path.split("::")[0]
    return next((one for one in document.elements if one.path() == plain), None)


def _roots(document: Document, place: str) -> Iterator[Element]:
    if not place:
        yield document.elements[0]
        return
    compiled = compile_selectors(tinycss2.parse_component_value_list(place))
    yield from (one for one in document.elements if any(it.matches(one, _REST) for it in compiled))


def _is_in(element: Element, root: Element) -> bool:
    return any(one is root for one in element.ancestors())


def _ways(element: Element, root: Element) -> Iterator[str]:
    classes = sorted(element.classes)
    if classes and all(one.replace("-", "").replace("_", "").isalnum() for one in classes):
        yield element.tag + "".join(f".{one}" for one in classes)
    yield element.tag
    steps = [element, *element.ancestors()]
    steps = steps[: next(n for n, one in enumerate(steps) if one is root)]
    yield " > ".join(f"{one.tag}:nth-child({one.position})" for one in reversed(steps))


def _matches(selector: str, root: Element) -> Iterator[Element]:
    """Yield the elements in a root that one of `_ways` finds."""
    if ":" in selector:
        level = [root]
        for step in selector.split(" > "):
            tag, position = step.removesuffix(")").split(":nth-child(")
            level = [one for up in level for one in up.children if (one.tag, one.position) == (tag, int(position))]
        yield from level
        return
    tag, *classes = selector.split(".")
    yield from (one for one in root.descendants() if one.tag == tag and one.classes >= set(classes))
