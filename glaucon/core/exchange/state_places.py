"""Where a stylesheet's selectors speak of states, found in one pass: a whole parse takes seconds for a framework's."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass

# what decides where a selector is (CSS Syntax 3, section 5.4): text that says nothing is passed over whole
_PIECE = re.compile(
    r"""/\*[\s\S]*?(?:\*/|\Z)                        # comment
    | "(?:[^"\\\n]|\\[\s\S])*+["\n]? | '(?:[^'\\\n]|\\[\s\S])*+['\n]?  # string
    | \burl\(\s*+(?!["'])(?:[^)\\]|\\[\s\S])*+\)?   # address without quotes
    | \\[\s\S]?                                      # escape
    | (?P<mark>[{};@])
    | :(?P<state>hover|focus-visible|focus-within|focus|active|visited|link)(?![-\w\\]|[^\x00-\x7f])
    """,
    re.VERBOSE | re.IGNORECASE,
)


@dataclass(frozen=True, slots=True)
class StatePlace:
    """A state's pseudo-class in a selector: its name, and the span with its colon."""

    name: str
    start: int
    end: int


def state_places(css: str) -> Iterator[StatePlace]:
    """Return the state pseudo-classes in the selectors of some CSS, in order; not those in conditions or values."""
    waiting: list[StatePlace] = []  # a selector's, if a block follows; a value's, if not
    is_at_rule = False
    for piece in _PIECE.finditer(css):
        if piece["state"]:
            waiting.append(StatePlace(piece["state"].lower(), piece.start(), piece.end()))
        elif piece["mark"] == "@":
            is_at_rule = True
        elif piece["mark"]:
            if piece["mark"] == "{" and not is_at_rule:
                yield from waiting
            waiting, is_at_rule = [], False
