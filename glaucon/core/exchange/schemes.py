"""A second study for visitors who ask their browser for a light or a dark page."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from glaucon.core.errors import StudyError
from glaucon.core.study.darkness import is_dark
from glaucon.core.study.study import Study


@dataclass(frozen=True, slots=True)
class Scheme:
    """A second study for `prefers-color-scheme` (Media Queries 5, section 11.5), on the first study's mapping."""

    name: Literal["light", "dark"]
    study: Study


def scheme_of(study: Study, other: Study) -> Scheme:
    """Return a study made ready to stand beside another: its values on the other's roles and places.

    Raises: StudyError: both are light, or both dark.
    """
    if is_dark(study) == is_dark(other):
        kind = "dark" if is_dark(other) else "light"
        raise StudyError(f"“{study.name}” and “{other.name}” are both {kind}. Choose a light and a dark one.")
    values = {role.id: role for role in other.roles}
    roles = tuple(
        role.model_copy(update={"value": values[role.id].value}) if role.id in values else role for role in study.roles
    )
    beside = study.model_copy(update={"name": other.name, "roles": roles})
    return Scheme("dark" if is_dark(other) else "light", beside)
