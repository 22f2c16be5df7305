"""Tests of elements whose answers are kept, so that looking around each element costs no more than looking once."""

from __future__ import annotations

from collections.abc import Callable

from glaucon.core.cascade.selectors.state import Matches, State
from glaucon.core.cascade.tree import Element

_MOST_REMEMBERED = 32
_MOST_HELD = 200_000


def ancestor_matches(element: Element, state: State, test: Matches) -> bool:
    node = element.parent
    while node is not None:
        if test(node, state):
            return True
        node = node.parent
    return False


def earlier_sibling(test: Matches) -> Matches:
    """Return a test of whether an earlier sibling matches; each sibling is tested once for all those after it."""
    # the first that matches, or 0, and up to where was looked
    known: dict[tuple[Element, State], tuple[int, int]] = {}

    def earlier(element: Element, state: State) -> bool:
        parent = element.parent
        if parent is None:
            return False
        first, looked = known.get((parent, state), (0, 0))
        if not first and looked < element.position - 1:
            children = parent.standing
            some = (n + 1 for n in range(looked, element.position - 1) if test(children[n], state))
            first = next(some, 0)
            if len(known) >= _MOST_REMEMBERED:
                known.clear()
            known[parent, state] = (first, element.position - 1)
        return 0 < first < element.position

    return earlier


def remembered(test: Matches) -> Matches:
    """Return a test that is asked once for each element: what stands in an anchor asks for it again and again."""
    known: dict[tuple[Element, State], bool] = {}

    def remembered(element: Element, state: State) -> bool:
        found = known.get((element, state))
        if found is None:
            if len(known) > _MOST_HELD:
                known.clear()
            found = known[element, state] = test(element, state)
        return found

    return remembered


def in_or_below(test: Matches) -> Matches:
    """Return whether an element or anything in it passes, worked out once for each: anchors ask for the same again."""
    known: dict[tuple[Element, State], bool] = {}

    def held(element: Element, state: State) -> bool:
        found = known.get((element, state))
        if found is not None:
            return found
        if len(known) > _MOST_HELD:
            known.clear()
        order, pending = [], [element]
        while pending:
            node = pending.pop()
            if (node, state) not in known:
                order.append(node)
                pending.extend(node.children)
        for node in reversed(order):
            known[node, state] = test(node, state) or any(known.get((child, state), False) for child in node.children)
        return known[element, state]

    return held


def last_among(test: Matches) -> Callable[[Element, State], int]:
    """Return the position of the last child that passes, 0 for none, worked out once for each parent."""
    known: dict[tuple[Element, State], int] = {}

    def last(parent: Element, state: State) -> int:
        found = known.get((parent, state))
        if found is None:
            if len(known) > _MOST_HELD:
                known.clear()
            some = (child.position for child in reversed(parent.standing) if test(child, state))
            found = known[parent, state] = next(some, 0)
        return found

    return last
