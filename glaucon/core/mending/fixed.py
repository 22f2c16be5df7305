"""A study with everything fixed: what was found put into roles, parts of roles, and words for what changed."""

from __future__ import annotations

import math
import re
import time
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from glaucon.core.colour.oklab import delta_e_ok
from glaucon.core.colour.value import Colour, css_text
from glaucon.core.mending.fixing import Found, Group, fix
from glaucon.core.proposal.known import KnownSite
from glaucon.core.proposal.naming import name_of_tokens
from glaucon.core.reading.reading import FAIL, LEVELS
from glaucon.core.study.roles import Role
from glaucon.core.study.study import Study, token_key

# how much room fixing gives: the ratios for text of normal and large size
ROOMS: Mapping[str, tuple[float, float]] = {"must": LEVELS["AA"], "more": (5.5, 3.7), "strict": LEVELS["AAA"]}
_ALIKE = 0.02  # ΔE OK under which two parts of a role are one


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


@dataclass(slots=True)
class Fixed:
    """The study fixed, its changes, largest first, and the pairings that stay hard to read; counts are of texts."""

    study: Study
    changes: list[Change] = field(default_factory=list)
    before: int = 0
    after: int = 0
    left: tuple[int, ...] = ()


def fix_all(
    known: KnownSite, study: Study, locks: Iterable[str] = (), room: str = "must", seconds: float = math.inf
) -> Fixed:
    """Return a study in which everything is readable that can be, the site still itself (see `still_itself`).

    `locks` are roles that stay, beside the study's own. Raises: StudyError: a lock that is no role of the study.
    """
    locked = {study.role(name).id for name in locks} | {role.id for role in study.roles if role.locked}
    needed = tuple(max(pair) for pair in zip(ROOMS[room], LEVELS[study.aim], strict=True))
    hard = _hard(known, study)
    found = fix(known, study, locked, (needed[0], needed[1]), time.monotonic() + seconds)
    changes = _changes(known, study, _merged(found), hard)
    fixed = with_changes(study, changes)
    left = _hard(known, fixed)
    if len(_texts(known, left)) > len(_texts(known, hard)):
        return Fixed(study, [], len(_texts(known, hard)), len(_texts(known, hard)), tuple(sorted(hard)))
    return Fixed(fixed, changes, len(_texts(known, hard)), len(_texts(known, left)), tuple(sorted(left)))


def with_changes(study: Study, changes: Sequence[Change]) -> Study:
    """Return the study with some changes made: values of roles, and roles of their own for parts.

    Raises: StudyError: a role or colour that is not of the study.
    """
    values = {one.role: css_text(one.after) for one in changes if not one.tokens}
    study = study.with_values(values)
    merged = {one.role: {"taken": True} for one in changes if not one.tokens and one.after.rgb == one.before.rgb}
    study = study.with_roles(merged)
    for one in changes:
        if one.tokens:
            study = _with_part(study, one)
    return study


def _with_part(study: Study, change: Change) -> Study:
    """Return the study with some tokens of a role under a role of their own."""
    role = study.role(change.role)
    label = _unlike(study, f"{role.label} {change.where}".strip()[:70])
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


def _merged(found: Found) -> Found:
    """Return what was found with parts of a role that end nearly alike as one."""
    parts: list[tuple[Group, tuple[float, float, float]]] = []
    for group, rgb in found.parts:
        like = next(
            (
                n for n, (one, own) in enumerate(parts)
                if one.role == group.role and float(delta_e_ok(np.array(own), np.array(rgb))) < 1e-9
            ),
            None,
        )  # fmt: skip
        if like is None:
            parts.append((group, rgb))
        else:
            parts[like] = (Group(group.role, parts[like][0].tokens | group.tokens, True), rgb)
    return Found(dict(found.roles), parts)


def _changes(known: KnownSite, study: Study, found: Found, hard: set[int]) -> list[Change]:
    tokens_of = known.tokens.tokens_of(study)
    changes = []
    for name, rgb in found.roles.items():
        role = study.role(name)
        texts, fixes = _counts(known, set(tokens_of[name]), hard)
        changes.append(Change(name, role.colour, _as(role, rgb), texts, fixes))
    for group, rgb in found.parts:
        role = study.role(group.role)
        keys = tuple(key for t in sorted(group.tokens) if (key := token_key(known.survey.tokens[t])) is not None)
        texts, fixes = _counts(known, set(group.tokens), hard)
        if keys:
            where = _place_of(known, study, group)
            changes.append(Change(group.role, role.colour, _as(role, rgb), texts, fixes, keys, where))
    return sorted(changes, key=lambda one: (-one.texts, one.role))


def _as(role: Role, rgb: tuple[float, float, float]) -> Colour:
    return Colour(*rgb, role.colour.alpha)


def _counts(known: KnownSite, tokens: set[int], hard: set[int]) -> tuple[int, int]:
    involved = known.index.involving(tokens)
    return len(_texts(known, involved)), len(_texts(known, hard & set(involved)))


def _place_of(known: KnownSite, study: Study, group: Group) -> str:
    """Return where a part of a role shows: what it stands on, or what the site's own rules call it."""
    roles = known.tokens.roles(study)
    below: dict[str, float] = {}
    for token in group.tokens:
        for ground, weight in known.uses[token].on.items():
            if (role := roles.get(ground)) is not None:
                below[role] = below.get(role, 0.0) + weight
    coat_names = {coat.id: coat.label for coat in study.coats}
    own = study.role(group.role)
    if below:
        best = study.role(max(sorted(below), key=lambda name: below[name]))
        if best.coat is not None and best.coat != own.coat:
            return f"on {coat_names[best.coat]}"
        if best.coat is None and best.kind != "background":
            return f"on {best.label.lower()}"
    name = name_of_tokens(known.survey.tokens[token] for token in sorted(group.tokens))
    return f"in {name.lower()}" if name and name.lower() != own.label.lower() else "here and there"


def _unlike(study: Study, label: str) -> str:
    """Return a label that no role of the study has."""
    taken = {role.label.lower() for role in study.roles}
    for ending in ("", ", too", ", elsewhere", ", again"):
        if f"{label}{ending}".lower() not in taken:
            return f"{label}{ending}"
    return next(f"{label}, {n}" for n in range(5, 1000) if f"{label}, {n}".lower() not in taken)


def _free_id(study: Study, label: str) -> str:
    taken = {role.id.replace(".", "-") for role in study.roles}
    words = re.sub(r"[^a-z0-9]+", "-", label.lower()).strip("-")[:48].strip("-")
    base = words if re.match("[a-z]", words) else f"part-{words}".strip("-")
    return next(name for name in (base, *(f"{base}-{n}" for n in range(2, 1000))) if name not in taken)


def _hard(known: KnownSite, study: Study) -> set[int]:
    verdict = known.compiled(study).read(known.tokens.values(study), study.aim).verdict
    return {int(n) for n in np.nonzero(verdict == FAIL)[0] if known.index.counts(int(n))}


def _texts(known: KnownSite, pairings: Iterable[int]) -> set[int]:
    return set(known.index.runs_of(list(pairings)).tolist())
