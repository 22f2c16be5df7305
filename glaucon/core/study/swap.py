"""Swap: one colour, or all near it, for another wherever it occurs."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from glaucon.core.cascade.tokens import ColourToken
from glaucon.core.colour.oklab import delta_e_ok
from glaucon.core.colour.value import Colour, css_text
from glaucon.core.errors import StudyError
from glaucon.core.study.editing import add_role, move_tokens
from glaucon.core.study.roles import Role
from glaucon.core.study.study import Study, token_key
from glaucon.core.study.wearing import Wearing


@dataclass(frozen=True, slots=True)
class WornPlace:
    """A token that wears the colour asked for, or one near it: its key, its role and how far off it is (ΔE OK)."""

    token: ColourToken
    key: str
    role: str | None
    colour: Colour
    delta_e_ok: float


def places_of(mapped: Wearing, study: Study, colour: Colour, within: float = 0.0) -> list[WornPlace]:
    """Return every token that wears a colour under a study, those within a ΔE OK of it too, nearest first."""
    worn = mapped.values(study)
    roles = mapped.roles(study)
    apart = delta_e_ok(worn[:, :3], np.array([colour.rounded().rgb])) if len(worn) else np.zeros(0)
    found = []
    for number in np.nonzero((apart <= within + 1e-4) & (worn[:, 3] > 0))[0].tolist():
        key = token_key(mapped.tokens[number])
        if key is not None:
            red, green, blue, alpha = (float(v) for v in worn[number])
            seen = Colour(red, green, blue, alpha)
            found.append(WornPlace(mapped.tokens[number], key, roles.get(number), seen, float(apart[number])))
    return sorted(found, key=lambda place: (place.delta_e_ok, place.token.file, place.token.start))


def swap(study: Study, mapped: Wearing, keys: Iterable[str], to: Colour) -> Study:
    """Return the study with the chosen tokens in another colour.

    A role of which most is chosen takes the colour, and what is left of it comes under a role of its own; of a role
    chosen in lesser part it is the chosen places that do.
    Raises: StudyError: nothing chosen, or a place that is not there.
    """
    wanted = set(keys)
    if not wanted:
        raise StudyError("No place is chosen. Tick those to change.")
    if wanted - {token_key(token) for token in mapped.tokens}:
        raise StudyError("Some of these places are not there any more. Close the swap and open it again.")
    for role, chosen in _by_role(study, wanted).items():
        origin = study.role(role) if role is not None else None
        rest = {key for key, id_ in study.mapping.items() if id_ == role} - chosen if origin is not None else set()
        if origin is None or len(rest) >= len(chosen):
            label = f"{origin.label}, swapped" if origin is not None else "Swapped"
            study, id_ = _split(study, mapped, chosen, origin, label, f"{role or 'own'}.swapped")
            study = study.with_values({id_: to.with_alpha(1.0).hex()}, take=True)
            continue
        if rest:
            study, id_ = _split(study, mapped, rest, origin, f"{origin.label}, kept", f"{role}.kept")
            if origin.taken:
                study = study.with_values({id_: origin.value}, take=True)
        study = study.with_values({origin.id: css_text(to.with_alpha(origin.colour.alpha))}, take=True)
    return study


def _split(
    study: Study, mapped: Wearing, keys: set[str], origin: Role | None, label: str, wish: str
) -> tuple[Study, str]:
    """Return the study with some tokens under a new role, still in the colours they have, and that role's id."""
    found = next(t for t in mapped.tokens if token_key(t) in keys).colour.with_alpha(1.0)
    study, id_ = add_role(study, label[:80], found.hex(), wish, like=origin, reason="Set apart by a swap.")
    return move_tokens(study, sorted(keys), id_), id_


def _by_role(study: Study, keys: Iterable[str]) -> dict[str | None, set[str]]:
    found: dict[str | None, set[str]] = {}
    for key in keys:
        found.setdefault(study.mapping.get(key), set()).add(key)
    return found
