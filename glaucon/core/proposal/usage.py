"""The uses of each token on the site: texts in it, texts on it, weights, and the states it shows in."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from glaucon.core.cascade.expression import Literal
from glaucon.core.cascade.selectors.state import STATES, at_an_element
from glaucon.core.colour.oklab import Floats
from glaucon.core.reading.findings import SurveyIndex
from glaucon.core.reading.reading import token_array
from glaucon.core.survey.model import ContextKey, Fill, Pairing, Photo, Run, Survey, is_opaque_photo, layer_tokens

_LINES = ("border", "outline", "column-rule")
_OTHERS = ("shadow", "tap-highlight", "scrollbar", "filter")
# what shows only in a state or on a phone still counts a little, so that it is not taken for unused
_ELSEWHERE = 0.001


@dataclass(slots=True)
class TokenUse:
    """The use of one token. Weights are characters times size squared, summed over runs at rest, widest screen.

    `painted` is the colour seen where text wears the token, sRGB, over what it mostly stands on. `at_rest` are, for a
    token of a state, the tokens that the same texts or backgrounds have at rest, by weight.
    """

    kind: str  # "text", "background", "line" or "other"
    text: float = 0.0
    background: float = 0.0
    on: dict[int, float] = field(default_factory=lambda: defaultdict(float))  # as text: background token → weight
    links: float = 0.0
    headings: float = 0.0
    buttons: float = 0.0
    states: set[str] = field(default_factory=set)
    runs: set[int] = field(default_factory=set)
    pages: set[str] = field(default_factory=set)
    is_seen: bool = False
    painted: tuple[float, float, float] = (0.0, 0.0, 0.0)
    at_rest: dict[int, float] = field(default_factory=lambda: defaultdict(float))


@dataclass(frozen=True, slots=True)
class PairingUse:
    """The use of one pairing: weights of its texts, which they are, and in which states."""

    text: float
    links: float
    headings: float
    controls: float
    buttons: float
    runs: set[int]
    states: set[str]


def background_token(pairing: Pairing) -> int | None:
    """Return the token of the layer next to the text that has one; None where an opaque one without comes before it."""
    for layer in reversed(pairing.below):
        if isinstance(layer, Photo) and is_opaque_photo(layer):
            return None  # what lies below a picture is not seen
        if found := layer_tokens(layer):
            return found[0]
        if isinstance(layer, Fill) and isinstance(layer.colour, Literal) and layer.colour.colour.alpha == 1:
            return None
    return None


def token_uses(survey: Survey, index: SurveyIndex, of_pairings: list[PairingUse]) -> list[TokenUse]:
    """Return the use of every token of a survey."""
    uses = [TokenUse(_kind_by_property(token.property)) for token in survey.tokens]
    seen = index.compiled.read(token_array(survey.tokens)).words
    heaviest = np.full(len(uses), -1.0)
    for number, (pairing, of_pairing) in enumerate(zip(survey.pairings, of_pairings, strict=True)):
        if not of_pairing.runs:
            continue
        below = background_token(pairing)
        for which in dict.fromkeys(pairing.word_tokens()):
            _add_text(uses[which], of_pairing, below)
            if of_pairing.text > heaviest[which] and not np.isnan(seen[number][0]):
                heaviest[which] = of_pairing.text
                red, green, blue = (float(channel) for channel in np.clip(seen[number], 0, 1))
                uses[which].painted = (red, green, blue)
        if below is not None:
            uses[below].background += of_pairing.text
            uses[below].buttons += of_pairing.buttons
            _note(uses[below], of_pairing)
    _note_rest(survey, uses)
    for token, use in zip(survey.tokens, uses, strict=True):
        use.pages = {survey.runs[run].page for run in use.runs}
        use.is_seen = bool(use.runs) or token.number in survey.reached
        if heaviest[token.number] < 0 or token.colour.alpha == 1:
            use.painted = token.colour.rgb
        _settle_kind(use, survey.readers.get(token.property, ()))
    return uses


def _add_text(use: TokenUse, of_pairing: PairingUse, below: int | None) -> None:
    use.text += of_pairing.text
    use.links += of_pairing.links
    use.headings += of_pairing.headings
    use.buttons += of_pairing.controls
    if below is not None:
        use.on[below] += of_pairing.text
    _note(use, of_pairing)


def _note(use: TokenUse, of_pairing: PairingUse) -> None:
    use.states |= of_pairing.states
    use.runs |= of_pairing.runs


def _note_rest(survey: Survey, uses: list[TokenUse]) -> None:
    """Note, for tokens that show in a state, what the same texts have at rest, at the widest screen."""
    widest = max((key.width for key in survey.sightings), default=0)
    rest = survey.sightings.get(ContextKey(widest, "rest"))
    if rest is None:
        return
    of_run = np.full(len(survey.runs), -1, dtype=np.int64)
    of_run[np.asarray(rest.runs, dtype=np.int64)] = np.asarray(rest.pairings, dtype=np.int64)
    for key, sightings in survey.sightings.items():
        if key.width != widest or key.state == "rest":
            continue
        runs = np.asarray(sightings.runs, dtype=np.int64)
        pairs = np.stack([np.asarray(sightings.pairings, dtype=np.int64), of_run[runs]], axis=1)
        changed, counts = np.unique(
            pairs[(pairs[:, 0] != pairs[:, 1]) & (pairs[:, 1] >= 0)], axis=0, return_counts=True
        )
        for (now, before), count in zip(changed.tolist(), counts.tolist(), strict=True):
            _note_change(survey.pairings[now], survey.pairings[before], float(count), uses)


def _note_change(now: Pairing, before: Pairing, count: float, uses: list[TokenUse]) -> None:
    text, text_before = (next(one.word_tokens(), None) for one in (now, before))
    if text is not None and text_before is not None and text != text_before:
        uses[text].at_rest[text_before] += count
    below, below_before = background_token(now), background_token(before)
    if below is not None and below_before is not None and below != below_before:
        uses[below].at_rest[below_before] += count


def pairing_uses(survey: Survey) -> list[PairingUse]:
    """Return the use of every pairing: each text counts once a pairing and state, at the widest screen it has it."""
    widest = max((key.width for key in survey.sightings), default=0)
    runs = survey.runs
    count = max(1, len(runs))
    columns = []
    for key, sightings in sorted(survey.sightings.items(), key=lambda item: -item[0].width):
        number = STATES.index(at_an_element(key.state))
        share = 1.0 if key.state == "rest" and key.width == widest else _ELSEWHERE
        # pairing, run and state as one number, which sorts much quicker than rows of three
        place = np.asarray(sightings.pairings, dtype=np.int64) * count + np.asarray(sightings.runs)
        columns.append((place * len(STATES) + number, np.asarray(sightings.sizes_px) ** 2 * share))
    if not columns:
        return [PairingUse(0, 0, 0, 0, 0, set(), set()) for _ in survey.pairings]
    places, first = np.unique(np.concatenate([place for place, _ in columns]), return_index=True)
    pairing, run, state = places // len(STATES) // count, places // len(STATES) % count, places % len(STATES)
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
        PairingUse(*some, set(run[a:b].tolist()), {STATES[s] for s in np.unique(state[a:b])})
        for some, a, b in zip(sums, starts[:-1], starts[1:], strict=True)
    ]


def rest_weights(survey: Survey) -> Floats:
    """Return each pairing's weight at rest on the widest screen alone, shape (pairings,)."""
    widest = max((key.width for key in survey.sightings), default=0)
    sightings = survey.sightings.get(ContextKey(widest, "rest"))
    if sightings is None or not len(sightings):
        return np.zeros(len(survey.pairings))
    characters = np.array([run.characters for run in survey.runs], dtype=float)
    weight = characters[np.asarray(sightings.runs, dtype=np.int64)] * np.asarray(sightings.sizes_px) ** 2
    pairing: NDArray[np.int64] = np.asarray(sightings.pairings, dtype=np.int64)
    return np.asarray(np.bincount(pairing, weight, minlength=len(survey.pairings)), dtype=float)


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
        return "background"
    return "text"


def _settle_kind(use: TokenUse, readers: Iterable[str]) -> None:
    """Decide what a property does not say, for custom properties and browser defaults: by use, or by readers.

    A background may be cut to words: what shows in them more than behind them is text.
    """
    if use.kind == "background" and use.text > use.background:
        use.kind = "text"
    if use.kind == "":
        use.kind = "text" if use.text > use.background else "background" if use.background else ""
    if use.kind == "":
        kinds = {_kind_by_property(reader) for reader in readers}
        use.kind = next((kind for kind in ("background", "text", "line") if kind in kinds), "other")


@dataclass(frozen=True, slots=True)
class RoleUse:
    """What a role mostly does ("text", "background", "line", "other") and the role it is mostly seen with."""

    kind: str
    seen_with: str | None


def role_uses(uses: list[TokenUse], roles: Mapping[int, str]) -> dict[str, RoleUse]:
    """Return the use of each role that has tokens; `roles` gives the role of each mapped token."""
    kinds: dict[str, dict[str, float]] = defaultdict(lambda: defaultdict(float))
    together: dict[str, dict[str, float]] = defaultdict(lambda: defaultdict(float))
    for number, role in roles.items():
        use = uses[number]
        kinds[role][use.kind] += 1e-6 + (use.background if use.kind == "background" else use.text)
        for below, weight in use.on.items():
            if below in roles and roles[below] != role:
                together[role][roles[below]] += weight
                together[roles[below]][role] += weight
    return {
        role: RoleUse(_heaviest(weights) or "other", _heaviest(together.get(role, {})))
        for role, weights in kinds.items()
    }


def _heaviest(weights: Mapping[str, float]) -> str | None:
    return max(sorted(weights), key=lambda name: weights[name], default=None)
