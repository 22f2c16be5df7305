"""Selectors that find exactly some elements: by id, class or tag where those do, by place when nothing else will."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from itertools import combinations, islice

from glaucon.core.cascade.tree import Document, Element

_PLAIN = re.compile(r"-?[A-Za-z_][\w-]*")
Members = list[tuple[str, Element]]
_MOST_WAYS = 60
_FAR = 8  # ancestors that a selector may begin with

# A step of a selector: tag, id, classes, and its place among its siblings (0: any).
_Step = tuple[str, str, tuple[str, ...], int]


def simple_name(element: Element, name: str) -> str:
    """Return a selector of an element's tag and one class or [attribute], "" where the class cannot be written.

    Without a name it is the tag alone.
    """
    if not name or name.startswith("["):
        return element.tag + name
    return f"{element.tag}.{name}" if _PLAIN.fullmatch(name) else ""


def pointing_at(members: Members, documents: Mapping[str, Document]) -> Iterator[tuple[str, Members]]:
    """Yield selectors, each with the members it finds: one selector for all where one is exact on all their pages."""
    left = list(members)
    while left:
        best: tuple[str, Members] | None = None
        for steps in _candidates(left[0][1]):
            found = [one for one in left if _found(steps, documents[one[0]]) == [one[1].order]]
            if left[0] in found and (best is None or len(found) > len(best[1])):
                best = _written(steps), found
            if best is not None and len(best[1]) == len(left):
                break
        if best is None:
            path = _path(left[0][1])
            best = path, [left[0]]
        yield best
        left = [one for one in left if one not in best[1]]


def ways_to(element: Element) -> Iterator[str]:
    """Yield selectors that find an element and perhaps others, the plainest first; the last finds it alone."""
    yield from (_written(steps) for steps in islice(_candidates(element), _MOST_WAYS))
    yield _path(element)


def _candidates(element: Element) -> Iterator[list[_Step]]:
    """Yield chains of steps that lead to an element, the plainest first."""
    own = list(_own_steps(element))
    yield from ([step] for step in own)
    for parent in islice(element.ancestors(), _FAR):
        for above in _own_steps(parent):
            if above[0] != "html":
                yield from ([above, step] for step in own)
    placed: _Step = (element.tag, "", (), element.position)
    if element.parent is not None and element.parent.tag != "html":
        yield from ([above, placed] for above in _own_steps(element.parent))


def _own_steps(element: Element) -> Iterator[_Step]:
    if element.ident and _PLAIN.fullmatch(element.ident):
        yield ("", element.ident, (), 0)
    names = sorted(name for name in element.classes if _PLAIN.fullmatch(name))[:5]
    for count in (1, 2):
        for some in combinations(names, count):
            yield (element.tag, "", some, 0)
    yield (element.tag, "", (), 0)


def _found(steps: Sequence[_Step], document: Document) -> list[int]:
    """Return the orders of the elements that steps find, two at most; what is told by its place stands right inside."""
    found = []
    for element in document.elements:
        if not _is(steps[-1], element):
            continue
        if len(steps) == 1:
            found.append(element.order)
        elif steps[-1][3]:
            if element.parent is not None and _is(steps[0], element.parent):
                found.append(element.order)
        elif any(_is(steps[0], above) for above in element.ancestors()):
            found.append(element.order)
        if len(found) > 1:
            break
    return found


def _is(step: _Step, element: Element) -> bool:
    tag, ident, classes, place = step
    return (
        (not tag or element.tag == tag)
        and (not ident or element.ident == ident)
        and all(name in element.classes for name in classes)
        and (not place or element.position == place)
    )


def _written(steps: Sequence[_Step]) -> str:
    texts = []
    for tag, ident, classes, place in steps:
        text = tag + (f"#{ident}" if ident else "") + "".join(f".{name}" for name in classes)
        texts.append(f"{text}:nth-child({place})" if place else text)
    return (" > " if steps[-1][3] else " ").join(texts)


def _path(element: Element) -> str:
    """Return the way from the root, each step by its place."""
    return element.path().replace(">", " > ")
