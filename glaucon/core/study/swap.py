"""Swap: one colour, or all near it, for another wherever it occurs."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from glaucon.core.cascade.tokens import ColourToken
from glaucon.core.colour.oklab import delta_e_ok
from glaucon.core.colour.value import Colour, css_text
from glaucon.core.errors import StudyError
from glaucon.core.study.editing import add_role, move_tokens
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

    A role that is chosen whole takes the colour; of one chosen in part the places come under a role of their own.
    Raises: StudyError: nothing chosen.
    """
    wanted = set(keys)
    if not wanted:
        raise StudyError("No place is chosen. Tick those to change.")
    for role, chosen in _by_role(study, wanted).items():
        origin = study.role(role) if role is not None else None
        if origin is not None and chosen == {key for key, id_ in study.mapping.items() if id_ == role}:
            study = study.with_values({origin.id: css_text(to.with_alpha(origin.colour.alpha))}, take=True)
            continue
        label = f"{origin.label}, swapped" if origin is not None else "Swapped"
        found = next(t for t in mapped.tokens if token_key(t) in chosen).colour.with_alpha(1.0)
        study, id_ = add_role(
            study, label[:80], found.hex(), f"{role or 'own'}.swapped", like=origin, reason="Swapped by you."
        )
        study = move_tokens(study, sorted(chosen), id_).with_values({id_: to.with_alpha(1.0).hex()}, take=True)
    return study


def _by_role(study: Study, keys: Iterable[str]) -> dict[str | None, set[str]]:
    found: dict[str | None, set[str]] = {}
    for key in keys:
        found.setdefault(study.mapping.get(key), set()).add(key)
    return found


def keys_of_places(places: Sequence[WornPlace]) -> list[str]:
    """Return the keys of some places."""
    return [place.key for place in places]
