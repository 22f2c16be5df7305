"""Changes of a role's colour, or of that of a part of it, made in a study."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from glaucon.core.colour.oklab import delta_e_ok
from glaucon.core.colour.value import Colour, css_text
from glaucon.core.proposal.colour_words import word_of
from glaucon.core.study.roles import Role
from glaucon.core.study.study import Study
from glaucon.core.survey.readable import told_apart_by


@dataclass(frozen=True, slots=True)
class Change:
    """One change: a role's new colour, or with `tokens`, the keys of a mapping, that of a part of it.

    `where` names the part; `texts` are the texts that show it, `fixes` those of them that were hard to read.
    """

    role: str
    before: Colour
    after: Colour
    texts: int
    fixes: int
    tokens: tuple[str, ...] = ()
    where: str = ""

    @property
    def delta_e_ok(self) -> float:
        """Return how far the colour moves."""
        return float(delta_e_ok(np.array(self.before.rgb), np.array(self.after.rgb)))


def with_changes(study: Study, changes: Sequence[Change]) -> Study:
    """Return the study with some changes made: values of roles, and roles of their own for parts.

    Raises: StudyError: a role or colour that is not of the study.
    """
    values = {one.role: css_text(one.after) for one in changes if not one.tokens}
    study, values = _parted_from_brand(study, values)
    study = study.with_values(values)
    merged = {one.role: {"taken": True} for one in changes if not one.tokens and one.after.rgb == one.before.rgb}
    study = study.with_roles(merged)
    for one in changes:
        if one.tokens:
            study = _with_part(study, one)
    return study


def _parted_from_brand(study: Study, values: dict[str, str]) -> tuple[Study, dict[str, str]]:
    """Return a study in which what had the brand's colour follows it no more where the changes part the two."""
    loose, kept = {}, dict(values)
    for role in study.roles:
        if role.tie is None or not role.follows_brand or not {role.id, role.tie.to} & values.keys():
            continue
        if values.get(role.id, role.value) == values.get(role.tie.to, study.role(role.tie.to).value):
            kept.pop(role.id, None)
        else:
            loose[role.id] = {"tie": None}
    return (study.with_roles(loose) if loose else study), kept


def _with_part(study: Study, change: Change) -> Study:
    """Return the study with some tokens of a role under a role of their own."""
    role = study.role(change.role)
    label = _unlike(study, told_apart_by(role.label, word_of(change.after.hex())))
    id_ = _free_id(study, label)
    own = Role(
        id=id_, kind=role.kind, coat=role.coat, state=role.state, tier="detail", label=label,
        value=css_text(change.after), found=role.found, taken=True,
        reason=f"Apart from “{role.label}” so that it is readable there.",
    )  # fmt: skip
    mapping = {**study.mapping, **{key: id_ for key in change.tokens if study.mapping.get(key) == role.id}}
    roles = list(study.roles)
    roles.insert(roles.index(role) + 1, own)
    return study.model_copy(update={"roles": tuple(roles), "mapping": mapping})


def _unlike(study: Study, label: str) -> str:
    """Return a label that no role of the study has."""
    taken = {role.label.lower() for role in study.roles}
    numbered = (told_apart_by(label.replace(",", ""), str(number)) for number in range(2, 1000))
    return next(name for name in (label, *numbered) if name.lower() not in taken)


def _free_id(study: Study, label: str) -> str:
    taken = {role.id.replace(".", "-") for role in study.roles}
    words = re.sub(r"[^a-z0-9]+", "-", label.lower()).strip("-")[:48].strip("-")
    base = words if re.match("[a-z]", words) else f"part-{words}".strip("-")
    return next(name for name in (base, *(f"{base}-{n}" for n in range(2, 1000))) if name not in taken)
