"""The colours in one element of a page, each in every state, as a study has them."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np

from glaucon.core.cascade.expression import tokens_in
from glaucon.core.cascade.selectors.state import at_an_element
from glaucon.core.colour.contrast import cut_ratio
from glaucon.core.colour.value import Colour
from glaucon.core.known.site import KnownSite
from glaucon.core.proposal.naming import KIND_LABELS
from glaucon.core.reading.findings import SiteReading
from glaucon.core.reading.reading import VERDICTS
from glaucon.core.scopes.cascade import is_inside
from glaucon.core.study.roles import KINDS, Role
from glaucon.core.study.study import Study, token_key
from glaucon.core.survey.model import ContextKey, Survey, layer_tokens


@dataclass(frozen=True, slots=True)
class InState:
    """A colour in a state; `is_same` if it equals the colour at rest.

    `role` gives it in that state, and `use` is what a scope calls that: "link", "link.current"; None where none does.
    `apart` are the keys of the places in the files that give it where the role is another kind's, which a change would
    turn with it: put under a role of their own they are a knob of their own. Empty where nothing else is turned.
    """

    state: str
    colour: str
    is_same: bool
    role: str | None
    use: str | None
    apart: tuple[str, ...] = ()


@dataclass(slots=True)
class PartColour:
    """One colour in an element: what it is for, its role if it has one, each state, the lowest ratio in any."""

    kind: str
    label: str
    role: str | None
    texts: int
    states: list[InState] = field(default_factory=list)
    lowest: float | None = None
    verdict: str = "pass"
    worst: str = "rest"  # the state with the lowest ratio


@dataclass(slots=True)
class _Group:
    runs: set[int] = field(default_factory=set)
    # by state: each colour with the role that gives it, by characters
    colours: dict[str, Counter[tuple[str, str | None]]] = field(default_factory=lambda: defaultdict(Counter))
    # the found colours by which a role gives it in a state
    tokens: dict[tuple[str, str | None], set[int]] = field(default_factory=lambda: defaultdict(set))
    lowest: tuple[float, str, str] | None = None


def colours_in(
    known: KnownSite, study: Study, reading: SiteReading, page: str, path: str, width: int
) -> list[PartColour]:
    """Return the colours in an element, backgrounds first: those of its texts and those that they stand on."""
    survey = reading.index.survey
    inside = {n for n, run in enumerate(survey.runs) if run.page == page and is_inside(run.path, path)}
    roles, of = known.tokens.roles(study), {role.id: role for role in study.roles}
    texts: dict[str | None, _Group] = defaultdict(_Group)
    grounds: dict[str | None, _Group] = defaultdict(_Group)
    names: dict[int, tuple[str | None, str | None]] = {}
    states = [key.state for key in survey.sightings if key.width == width and key.scheme == "light"]
    for named in sorted(set(states), key=lambda name: name != "rest"):
        sightings = survey.sightings[ContextKey(width, named)]
        for run, row in zip(sightings.runs, sightings.pairings, strict=True):
            if run not in inside:
                continue
            # what is only there once something is opened is at rest then
            state = named if not survey.runs[run].opened else at_an_element(named)
            given = next((t for t in tokens_in(survey.pairings[row].colour) if t in roles), None)
            under = next((t for t in reading.index.background_tokens(row) if t in roles), None)
            text, ground = (None if one is None else roles[one] for one in (given, under))
            names.setdefault(run, (text, ground))  # by what it is at rest, or in the first state that shows it
            for group, role, token, colours in (
                (texts[names[run][0]], text, given, reading.readings.words),
                (grounds[names[run][1]], ground, under, reading.readings.ground),
            ):
                group.runs.add(run)
                if token is not None:
                    group.tokens[state, role].add(token)
                if not np.isnan(colours[row][0]):
                    group.colours[state][_hex(colours[row]), role] += survey.runs[run].characters
            _note(texts[names[run][0]], reading, row, state)
    rows = [_row(survey, of, name, group, is_text=False) for name, group in grounds.items()]
    rows += sorted((_row(survey, of, name, group, is_text=True) for name, group in texts.items()), key=_order)
    shown = [one for one in rows if one.states]
    often = Counter(one.label for one in shown)
    for one in shown:  # two of a kind go by their own names
        one.label = of[one.role].label if often[one.label] > 1 and one.role is not None else one.label
    return shown


def _note(group: _Group, reading: SiteReading, row: int, state: str) -> None:
    ratio = float(reading.readings.ratio[row])
    if not np.isnan(ratio) and (group.lowest is None or ratio < group.lowest[0]):
        group.lowest = ratio, VERDICTS[reading.readings.verdict[row]], state


def _row(survey: Survey, of: Mapping[str, Role], name: str | None, group: _Group, is_text: bool) -> PartColour:
    role = of.get(name or "")
    kind = str(role.kind) if role is not None else "text" if is_text else "background"
    row = PartColour(kind, KIND_LABELS.get(kind, kind), role.id if role is not None else None, len(group.runs))
    rest = group.colours["rest"].most_common(1)[0][0][0] if group.colours.get("rest") else None
    for state, colours in group.colours.items():
        if colours:
            (most, gives), _ = colours.most_common(1)[0]
            giver = of.get(gives or "")
            use = None if giver is None else giver.use
            apart = _apart(survey, group.tokens[state, gives]) if giver and role and giver.kind != role.kind else ()
            row.states.append(InState(state, most, state != "rest" and most == rest, gives, use, apart))
    if is_text and group.lowest is not None:
        row.lowest, row.verdict, row.worst = cut_ratio(group.lowest[0]), group.lowest[1], group.lowest[2]
    return row


def _apart(survey: Survey, tokens: set[int]) -> tuple[str, ...]:
    """Return the keys of tokens that may come under a role of their own; none where one also colours a text at rest."""
    rows = {row for key, seen in survey.sightings.items() if key.state == "rest" for row in seen.pairings}
    shown = (survey.pairings[row] for row in rows)
    at_rest = {
        t for one in shown for t in (*one.word_tokens(), *(t for la in one.all_layers() for t in layer_tokens(la)))
    }
    keys = [token_key(survey.tokens[token]) for token in sorted(tokens)]
    return () if tokens & at_rest or None in keys else tuple(key for key in keys if key is not None)


def _order(row: PartColour) -> tuple[int, int]:
    return [str(kind) for kind in KINDS].index(row.kind), -row.texts


def _hex(srgb: np.ndarray) -> str:
    red, green, blue = (float(channel) for channel in np.clip(srgb, 0, 1))
    return Colour(red, green, blue).hex()
