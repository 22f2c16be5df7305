"""What colours the words of a single element, and so has to be said there again to be changed for it alone.

Words mostly take their colour over from around them: in `<a><b>Boats</b></a>` a rule for `a` colours the `b`. A scope
on the `b` alone redefines custom properties too deep to be asked; its rule says the colour again, in each state.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable

import numpy as np

from glaucon.core.cascade.expression import Expression, Found
from glaucon.core.study.scopes import Scope, Where
from glaucon.core.survey.model import Survey

# what is hovered as a whole: its words change with it
_INTERACTIVE = ("a", "button", "summary", "label")
_PSEUDO = {"hover": ":hover", "focus": ":focus", "active": ":active", "visited": ":visited"}
Inks = dict[str, int]  # by state: the token of an element's own words; states that are as at rest left out


def inks_of(survey: Survey, scopes: Iterable[Scope]) -> dict[Where, Inks]:
    """Return, for each scope on one element, what colours that element's own words.

    Nothing for one that has none, or whose colour a rule mixes.
    """
    places = {(one.where.page, one.where.at): one.where for one in scopes if one.where.page and one.where.at}
    if not places:
        return {}
    pages = {page for page, _ in places}
    found: dict[int, Where] = {}
    for number, run in enumerate(survey.runs):
        if run.page in pages and (where := places.get((run.page, run.path.split("::")[0]))) is not None:
            found[number] = where
    wanted = np.zeros(len(survey.runs), dtype=bool)
    wanted[list(found)] = True
    colours: dict[Where, dict[str, set[Expression]]] = defaultdict(lambda: defaultdict(set))
    for key, seen in survey.sightings.items():
        if key.scheme == "light" and len(seen):
            for at in np.nonzero(wanted[np.frombuffer(seen.runs, dtype=np.int32)])[0].tolist():
                colours[found[seen.runs[at]]][key.state].add(survey.pairings[seen.pairings[at]].colour)
    return {where: inks for where, by_state in colours.items() if (inks := _plain(by_state))}


def _plain(by_state: dict[str, set[Expression]]) -> Inks:
    """Return the token of each state that has one alone; none at all where the words at rest have not."""
    tokens = {state: {c.token if isinstance(c, Found) else None for c in some} for state, some in by_state.items()}
    inks = {state: one for state, some in tokens.items() if len(some) == 1 and (one := next(iter(some))) is not None}
    rest = inks.get("rest")
    return {} if rest is None else {s: token for s, token in inks.items() if s == "rest" or token != rest}


def in_state(selector: str, state: str) -> str:
    """Return a selector of an element, made of child steps, for when what it lies in is hovered, focused and so on."""
    steps = selector.split(" > ")
    held = [n for n, step in enumerate(steps) if step.split(":")[0] in _INTERACTIVE]
    place = held[-1] if held else len(steps) - 1
    return " > ".join(step + (_PSEUDO.get(state, "") if n == place else "") for n, step in enumerate(steps))
