"""What each found colour does on the site: which words wear it, what is written on it, in which states."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass, field

from glaucon.core.cascade.expression import tokens_in
from glaucon.core.survey.model import Pairing, Survey, layer_tokens

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


def token_uses(survey: Survey) -> list[TokenUse]:
    """Return the use of every token of a survey."""
    uses = [TokenUse(_kind_by_property(token.property)) for token in survey.tokens]
    counted: set[tuple[int, int, str]] = set()
    widest = max((key.width for key in survey.sightings), default=0)
    for key, sightings in survey.sightings.items():
        for sighting in sightings:
            run, pairing = survey.runs[sighting.run], survey.pairings[sighting.pairing]
            # what shows only in a state or on a phone still counts a little, so that it is not taken for unused
            share = 1.0 if key.state == "rest" and key.width == widest else 0.001
            weight = run.characters * sighting.size_px**2 * share
            once = (sighting.run, sighting.pairing, "rest" if key.state == "rest" else key.state)
            if once in counted:
                continue
            counted.add(once)
            below = ground_token(pairing)
            for number in tokens_in(pairing.colour):
                _note(uses[number], survey, sighting.run, key.state)
                uses[number].words += weight
                uses[number].links += weight * run.is_link
                uses[number].headings += weight * run.is_heading
                uses[number].buttons += weight * run.is_control
                if below is not None:
                    uses[number].on[below] += weight
            if below is not None:
                use = uses[below]
                _note(use, survey, sighting.run, key.state)
                use.ground += weight
                is_field = run.tag in ("input", "textarea", "select")
                use.buttons += weight * (
                    run.tag == "button"
                    or (run.is_link and not run.is_heading)
                    or (is_field and not pairing.exempt and _is_button_like(survey, sighting.run))
                )
    for use in uses:
        _settle_kind(use)
    return uses


def _is_button_like(survey: Survey, run: int) -> bool:
    return survey.runs[run].tag == "input" and "submit" in survey.runs[run].text.lower()


def _note(use: TokenUse, survey: Survey, run: int, state: str) -> None:
    use.states.add(state)
    use.runs.add(run)
    use.pages.add(survey.runs[run].page)


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


def _settle_kind(use: TokenUse) -> None:
    """Decide by use what a property does not say: custom properties and browser defaults."""
    if use.kind == "":
        use.kind = "words" if use.words > use.ground else "ground" if use.ground else "other"


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
