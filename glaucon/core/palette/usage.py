"""What each found colour does on the site: which words wear it, what is written on it, in which states."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

import numpy as np

from glaucon.core.cascade.expression import tokens_in
from glaucon.core.survey.model import Pairing, Run, Survey, layer_tokens

_LINES = ("border", "outline", "column-rule")
_OTHERS = ("shadow", "tap-highlight", "scrollbar", "filter")


@dataclass(slots=True)
class TokenUse:
    """The use of one token. Weights are characters times size squared, summed over runs at rest, widest screen."""

    kind: str  # "words", "ground", "line" or "other"
    words: float = 0.0
    ground: float = 0.0
    on: dict[int, float] = field(default_factory=lambda: defaultdict(float))  # as words: ground token → weight
    links: float = 0.0
    headings: float = 0.0
    buttons: float = 0.0
    states: set[str] = field(default_factory=set)
    runs: set[int] = field(default_factory=set)
    pages: set[str] = field(default_factory=set)


def ground_token(pairing: Pairing) -> int | None:
    """Return the token of the layer next to the words that has one."""
    return next((found[0] for layer in reversed(pairing.below) if (found := layer_tokens(layer))), None)


_STATES = ("rest", "hover", "focus", "active", "visited")
# what shows only in a state or on a phone still counts a little, so that it is not taken for unused
_ELSEWHERE = 0.001


@dataclass(frozen=True, slots=True)
class _PairingUse:
    """The use of one pairing: weights of its texts, which they are, and in which states."""

    words: float
    links: float
    headings: float
    controls: float
    buttons: float
    runs: set[int]
    states: set[str]


def token_uses(survey: Survey) -> list[TokenUse]:
    """Return the use of every token of a survey."""
    uses = [TokenUse(_kind_by_property(token.property)) for token in survey.tokens]
    for pairing, of_pairing in zip(survey.pairings, _pairing_uses(survey), strict=True):
        if not of_pairing.runs:
            continue
        below = ground_token(pairing)
        for number in tokens_in(pairing.colour):
            _add_words(uses[number], of_pairing, below)
        if below is not None:
            uses[below].ground += of_pairing.words
            uses[below].buttons += of_pairing.buttons
            _note(uses[below], of_pairing)
    for token, use in zip(survey.tokens, uses, strict=True):
        use.pages = {survey.runs[run].page for run in use.runs}
        _settle_kind(use, survey.readers.get(token.property, ()))
    return uses


def _add_words(use: TokenUse, of_pairing: _PairingUse, below: int | None) -> None:
    use.words += of_pairing.words
    use.links += of_pairing.links
    use.headings += of_pairing.headings
    use.buttons += of_pairing.controls
    if below is not None:
        use.on[below] += of_pairing.words
    _note(use, of_pairing)


def _note(use: TokenUse, of_pairing: _PairingUse) -> None:
    use.states |= of_pairing.states
    use.runs |= of_pairing.runs


def _pairing_uses(survey: Survey) -> list[_PairingUse]:
    """Return the use of every pairing: each text counts once a pairing and state, at the widest screen it has it."""
    widest = max((key.width for key in survey.sightings), default=0)
    runs = survey.runs
    count = max(1, len(runs))
    columns = []
    for key, sightings in sorted(survey.sightings.items(), key=lambda item: -item[0].width):
        number = _STATES.index(key.state)
        share = 1.0 if key.state == "rest" and key.width == widest else _ELSEWHERE
        # pairing, run and state as one number, which sorts much quicker than rows of three
        place = np.asarray(sightings.pairings, dtype=np.int64) * count + np.asarray(sightings.runs)
        columns.append((place * len(_STATES) + number, np.asarray(sightings.sizes_px) ** 2 * share))
    if not columns:
        return [_PairingUse(0, 0, 0, 0, 0, set(), set()) for _ in survey.pairings]
    places, first = np.unique(np.concatenate([place for place, _ in columns]), return_index=True)
    pairing, run, state = places // len(_STATES) // count, places // len(_STATES) % count, places % len(_STATES)
    weight = np.concatenate([w for _, w in columns])[first] * np.array([r.characters for r in runs], dtype=float)[run]

    def summed(counts: list[bool]) -> list[float]:
        flags = np.array(counts, dtype=float)[run]
        sums: list[float] = np.bincount(pairing, weight * flags, minlength=len(survey.pairings)).tolist()
        return sums

    sums = zip(
        summed([True] * len(runs)),
        summed([r.is_link for r in runs]),
        summed([r.is_heading for r in runs]),
        summed([r.is_control for r in runs]),
        summed([_is_button_like(r) for r in runs]),
        strict=True,
    )
    starts = np.searchsorted(pairing, np.arange(len(survey.pairings) + 1))
    return [
        _PairingUse(*some, set(run[a:b].tolist()), {_STATES[s] for s in np.unique(state[a:b])})
        for some, a, b in zip(sums, starts[:-1], starts[1:], strict=True)
    ]


def _is_button_like(run: Run) -> bool:
    submits = run.tag == "input" and "submit" in run.text.lower()
    return run.tag == "button" or submits or (run.is_link and not run.is_heading)


def _kind_by_property(name: str) -> str:
    if name.startswith("--") or not name:
        return ""
    if any(part in name for part in _OTHERS):
        return "other"
    if name.startswith(_LINES) or "-border" in name:
        return "line"
    if name.startswith("background") or name in ("bgcolor", "list-style"):
        return "ground"
    return "words"


def _settle_kind(use: TokenUse, readers: Iterable[str]) -> None:
    """Decide what a property does not say, for custom properties and browser defaults: by use, or by readers."""
    if use.kind == "":
        use.kind = "words" if use.words > use.ground else "ground" if use.ground else ""
    if use.kind == "":
        kinds = {_kind_by_property(reader) for reader in readers}
        use.kind = next((kind for kind in ("ground", "words", "line") if kind in kinds), "other")


@dataclass(frozen=True, slots=True)
class RoleUse:
    """What a role mostly does and the role it is mostly seen with: its ground, or the words on it."""

    kind: str
    seen_with: str | None


def role_uses(uses: list[TokenUse], roles: Mapping[int, str]) -> dict[str, RoleUse]:
    """Return the use of each role that has tokens; `roles` gives the role of each mapped token."""
    kinds: dict[str, dict[str, float]] = defaultdict(lambda: defaultdict(float))
    together: dict[str, dict[str, float]] = defaultdict(lambda: defaultdict(float))
    for number, role in roles.items():
        use = uses[number]
        kinds[role][use.kind] += 1e-6 + (use.ground if use.kind == "ground" else use.words)
        for ground, weight in use.on.items():
            if ground in roles and roles[ground] != role:
                together[role][roles[ground]] += weight
                together[roles[ground]][role] += weight
    return {
        role: RoleUse(_heaviest(weights) or "other", _heaviest(together.get(role, {})))
        for role, weights in kinds.items()
    }


def _heaviest(weights: Mapping[str, float]) -> str | None:
    return max(sorted(weights), key=lambda name: weights[name], default=None)
