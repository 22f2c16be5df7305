"""The states that a page is looked at in (AUDIT_FORMAT): what the pseudo-classes of user action answer."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from glaucon.core.cascade.tree import Element

STATES = ("rest", "hover", "focus", "active", "visited")
_WHEN = {
    "rest": "at rest", "hover": "when hovered", "focus": "when focused", "active": "when pressed",
    "visited": "when visited",
}  # fmt: skip
OPENED = "opened: "  # begins the names of the states that a click makes (`core.cascade.opened`)


def at_an_element(name: str) -> str:
    """Return the one of STATES that elements are in: what a click makes changes the page itself."""
    return "rest" if name.startswith(OPENED) else name


def in_words(name: str) -> str:
    """Return when a state is: "when hovered", "with “Menu” opened"."""
    if name.startswith(OPENED):
        return f"with “{name.removeprefix(OPENED)}” opened"
    return _WHEN[name]


Matches = Callable[[Element, "State"], bool]


@dataclass(frozen=True, slots=True)
class State:
    """What the pseudo-classes of user action answer, for every element at once."""

    hover: bool = False
    focus: bool = False
    active: bool = False
    visited: bool = False

    @classmethod
    def named(cls, name: str) -> State:
        """Return the state of that name.

        Raises: ValueError: if it is not one of STATES.
        """
        name = at_an_element(name)
        if name not in STATES:
            raise ValueError(f"“{name}” is not a state. Use one of {', '.join(STATES)}")
        active = name == "active"
        return cls(name == "hover" or active, name == "focus" or active, active, name == "visited")
