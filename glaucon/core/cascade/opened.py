"""What a click opens on a page that stands: menus, tabs, folds, dialogs, each as what it changes in the page's tree.

A page as it stood holds them itself, as data in its head (`stood.js` puts it there). Elements that change are known by
a number among their attributes.
"""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace
from typing import Any

from glaucon.core.cascade.selectors.state import OPENED
from glaucon.core.cascade.tree import Document, Element, renew

AT_MARK, DATA_MARK = "data-gl-at", "data-gl-opened"
_MOST, _MOST_CHANGES, _MOST_NODES, _DEEPEST, _LONGEST_LABEL = 40, 4_000, 20_000, 200, 60


@dataclass(frozen=True, slots=True)
class AddedElement:
    """An element that is there only once something is opened."""

    tag: str
    attributes: Mapping[str, str]
    children: tuple[Node, ...]
    is_foreign: bool = False


# a text, the number of an element that was there before, or a new element
Node = str | int | AddedElement


@dataclass(frozen=True, slots=True)
class ChangedElement:
    """What is other at one element: attributes (None: taken away), and all that is in it if that changes."""

    at: int
    attributes: Mapping[str, str | None] = field(default_factory=dict)
    children: tuple[Node, ...] | None = None


@dataclass(frozen=True, slots=True)
class Opened:
    """A state that a click makes, called by what is clicked: `by`, among the numbered."""

    label: str
    changes: tuple[ChangedElement, ...]
    by: int = 0

    @property
    def state(self) -> str:
        """Return what the survey calls the state."""
        return OPENED + self.label


def openings_of(document: Document) -> list[Opened]:
    """Return what a click opens on a page; what is no such thing is left out."""
    data = next((one for one in document.elements if one.tag == "script" and DATA_MARK in one.attributes), None)
    if data is None:
        return []
    try:
        given = json.loads("".join(data.texts))
        return [_read(one) for one in given[:_MOST]]
    except (ValueError, TypeError, KeyError, RecursionError):  # a page can say anything of itself
        return []


def _read(given: Any) -> Opened:
    label, changes = given["label"], given["changes"]
    if not isinstance(label, str) or not label.strip() or len(changes) > _MOST_CHANGES:
        raise ValueError("nothing that a click opens")
    room = iter(range(_MOST_NODES))
    return Opened(
        " ".join(label.split())[:_LONGEST_LABEL], tuple(_change(one, room) for one in changes), int(given.get("by", 0))
    )


def _change(given: Any, room: Iterator[int]) -> ChangedElement:
    children = given.get("children")
    inside = None if children is None else tuple(_node(one, room, 0) for one in children)
    return ChangedElement(int(given["at"]), _attributes(given.get("attributes", {}), may_go=True), inside)


def _node(given: Any, room: Iterator[int], depth: int) -> Node:
    if next(room, None) is None or depth > _DEEPEST:
        raise ValueError("too much that is new")
    if isinstance(given, str | int):
        return given
    children = tuple(_node(one, room, depth + 1) for one in given["children"])
    return AddedElement(str(given["tag"]), _attributes(given["attributes"]), children, bool(given.get("foreign")))


def _attributes(given: Any, may_go: bool = False) -> dict[str, Any]:
    if not all(isinstance(value, str) or (may_go and value is None) for value in given.values()):
        raise ValueError("an attribute that is no text")
    return {str(name): value for name, value in given.items() if name != AT_MARK}


@dataclass(frozen=True, slots=True)
class OpenedDocument:
    """A page's tree with something opened, and what differs from the page without, by the order of elements.

    What was there keeps its order and its place in the source; what is new comes behind all that was, so that
    `elements` can be asked by order as ever. `anew` are elements that hold other words, are new or stand beside what is
    new or gone; of those in `named` other attributes are given, by what selectors may call that.
    """

    document: Document
    anew: frozenset[int]
    named: Mapping[int, frozenset[str]]


def with_opened(base: Document, opened: Opened) -> OpenedDocument:
    """Return a page as it is with something opened."""
    elements = _copied(base)
    document = Document(elements[base.root.order], elements, base.markup, base.quirks)
    marked = {one.attributes[AT_MARK]: one for one in elements if AT_MARK in one.attributes}
    anew: set[int] = set()
    named: dict[int, frozenset[str]] = {}
    for change in opened.changes:
        element = marked.get(str(change.at))
        if element is None:
            continue
        if change.attributes:
            named[element.order] = _renamed(element, change.attributes)
        if change.children is not None:
            anew |= _refilled(element, change.children, marked, elements)
            element.source = None if element.tag == "style" else element.source
    for element in _in_tree(document.root):
        renew(element)
    return OpenedDocument(document, frozenset(anew), named)


# attributes that selectors ask for by other names
_ALSO_CALLED = {"disabled": ("enabled",), "value": ("placeholder-shown", "valid"), "href": (":link", ":any-link")}


def _renamed(element: Element, attributes: Mapping[str, str | None]) -> frozenset[str]:
    """Give an element other attributes; return what a selector that tells the difference has in its text."""
    names: set[str] = set()
    for name, value in attributes.items():
        before = element.attributes.get(name)
        if name == "class":
            now, was = ((text or "").split() for text in (value, before))
            names |= {f".{one}" for one in {*now} ^ {*was}}
        elif name == "id":
            names |= {f"#{one}" for one in (value, before) if one}
        if name not in ("class", "id"):
            names |= {name, *_ALSO_CALLED.get(name, ())}
        elif value is None or before is None:
            names.add(f"[{name}")
        if value is None:
            element.attributes.pop(name, None)
        else:
            element.attributes[name] = value
    return frozenset(names)


def _refilled(
    element: Element, nodes: tuple[Node, ...], marked: Mapping[str, Element], elements: list[Element]
) -> set[int]:
    """Put other children into an element; return the elements that look otherwise by that."""
    before, words = element.children, element.own_text
    _fill(element, nodes, marked, elements)
    if element.own_text != words or element.tag == "style":
        return {element.order}
    was, now = ([one.order for one in some] for some in (before, element.children))
    pairs = enumerate(zip(was, now, strict=False))
    same = next((place for place, (one, other) in pairs if one != other), min(len(was), len(now)))
    return {*now[max(0, same - 1) :]} or {element.order}


def _copied(base: Document) -> list[Element]:
    copies = [
        replace(one, attributes=dict(one.attributes), texts=list(one.texts), keys=(), above=0) for one in base.elements
    ]
    for copy in copies:
        copy.parent = None if copy.parent is None else copies[copy.parent.order]
        copy.children = [copies[one.order] for one in copy.children]
        copy.own = None if copy.own is None else [copies[one.order] for one in copy.own]
    return copies


def _fill(element: Element, nodes: tuple[Node, ...], marked: Mapping[str, Element], elements: list[Element]) -> None:
    element.children, element.texts = [], []
    for node in nodes:
        if isinstance(node, str):
            element.texts.append(node)
            continue
        child = marked.get(str(node)) if isinstance(node, int) else _made(node, element, elements)
        if child is None or child is element or child in element.ancestors():
            continue
        child.parent = element
        element.children.append(child)
        if isinstance(node, AddedElement):
            _fill(child, node.children, marked, elements)
    for position, child in enumerate(element.children, 1):
        child.position = position


def _made(node: AddedElement, parent: Element, elements: list[Element]) -> Element:
    foreign = node.is_foreign or (parent.foreign and parent.tag != "foreignObject")
    made = Element(
        node.tag, dict(node.attributes), parent, 1, None, foreign=foreign, quirky=parent.quirky, scope=parent.scope
    )
    made.order = len(elements)
    elements.append(made)
    return made


def _in_tree(root: Element) -> Iterator[Element]:
    yield root
    yield from root.descendants()
