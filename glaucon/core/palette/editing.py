"""Changes to which found colours come under which role, and to the roles themselves."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable

from glaucon.core.cascade.tokens import ColourToken
from glaucon.core.errors import StudyError
from glaucon.core.palette.proposal import Proposal
from glaucon.core.palette.study import Role, Study, token_key
from glaucon.core.palette.ties import Tie, in_order

MOST_ROLES = 200


def move_tokens(study: Study, keys: Iterable[str], to: str | None) -> Study:
    """Return the study with some tokens under another role, or under none.

    Raises: StudyError: no such role.
    """
    if to is not None:
        study.role(to)
    wanted = set(keys)
    mapping = {key: role for key, role in study.mapping.items() if key not in wanted}
    if to is not None:
        mapping.update(dict.fromkeys(sorted(wanted), to))
    return study.model_copy(update={"mapping": mapping})


def keys_of(study: Study, tokens: Iterable[ColourToken], colours: Iterable[str], role: str | None) -> list[str]:
    """Return the keys of the tokens of some colours (hex) that lie under a role, or under none."""
    wanted = set(colours)
    return [
        key
        for token in tokens
        if (key := token_key(token)) is not None and token.colour.hex() in wanted and study.mapping.get(key) == role
    ]


def add_role(study: Study, label: str, value: str, name: str = "") -> tuple[Study, str]:
    """Return the study with one more role at its end, and the role's name.

    Raises: StudyError: too many roles, or a label that says nothing. ColourError: `value` is no colour.
    """
    label = " ".join(label.split())[:80]
    if not label:
        raise StudyError("A role needs a name; type what it is for, such as “Lamp yellow”.")
    if len(study.roles) >= MOST_ROLES:
        raise StudyError(f"A palette holds {MOST_ROLES} roles at most; put some colours under the ones it has.")
    name = _free_name(study, name or label)
    role = Role(name=name, label=label, value=value, found=value, reason="Added by hand.")
    return study.model_copy(update={"roles": (*study.roles, role)}), name


def _free_name(study: Study, label: str) -> str:
    plain = unicodedata.normalize("NFKD", label).encode("ascii", "ignore").decode().lower()
    base = re.sub(r"[^a-z0-9]+", "-", plain).strip("-")[:40] or "own"
    base = base if base[0].isalpha() else f"own-{base}"
    taken = {role.name for role in study.roles}
    return base if base not in taken else next(n for k in range(2, 999) if (n := f"{base}-{k}") not in taken)


def rename_role(study: Study, name: str, label: str) -> Study:
    """Return the study with a role called otherwise on screen.

    Raises: StudyError: no such role, or a label that says nothing.
    """
    study.role(name)
    label = " ".join(label.split())[:80]
    if not label:
        raise StudyError("A role needs a name; type what it is for, such as “Lamp yellow”.")
    return study.with_roles({name: {"label": label}})


def remove_role(study: Study, name: str, to: str | None, is_answered: bool) -> Study:
    """Return the study without a role; its tokens go to another role, or to none.

    Raises: StudyError: the role is in use and nobody said where its uses go.
    """
    study.role(name)
    uses = sum(1 for role in study.mapping.values() if role == name)
    if uses and not is_answered:
        raise StudyError(f"“{study.role(name).label}” colours {uses} places; say which role they come under, or none.")
    if to == name:
        raise StudyError("A role cannot take the places of itself; choose another one, or none.")
    moved = move_tokens(study, [key for key, role in study.mapping.items() if role == name], to)
    # what followed it keeps its colour and follows no more
    roles = (
        role.model_copy(update={"tie": None}) if role.tie is not None and name in role.tie.origins else role
        for role in moved.roles if role.name != name
    )  # fmt: skip
    return moved.model_copy(update={"roles": tuple(roles)})


def tie_role(study: Study, name: str, tie: Tie | None) -> Study:
    """Return the study with a role that follows another one, or follows no more and keeps its colour.

    Raises: StudyError: no such role, a tie to itself, or ties that would run in a circle.
    """
    study.role(name)
    if tie is not None:
        for origin in tie.origins:
            study.role(origin)
        in_order({**study.ties, name: tie}, {role.name: role.label for role in study.roles})
    return study.with_roles({name: {"tie": tie}})


def lock_role(study: Study, name: str, is_locked: bool) -> Study:
    """Return the study with a role kept as it is whatever is mended or made, or let go.

    Raises: StudyError: no such role.
    """
    study.role(name)
    return study.with_roles({name: {"locked": is_locked}})


def order_roles(study: Study, names: Iterable[str]) -> Study:
    """Return the study with its roles in another order; roles not named keep theirs, at the end."""
    place = {name: n for n, name in enumerate(names)}
    roles = sorted(study.roles, key=lambda role: place.get(role.name, len(place)))
    return study.model_copy(update={"roles": tuple(roles)})


def take_merges(study: Study, tokens: Iterable[ColourToken]) -> Study:
    """Return the study with every role taken that gathers more than one colour: all of them become its value."""
    colours: dict[str, set[str]] = {}
    for token in tokens:
        role = study.mapping.get(token_key(token) or "")
        if role is not None:
            colours.setdefault(role, set()).add(token.colour.with_alpha(1.0).hex())
    return study.with_roles({name: {"taken": True} for name, some in colours.items() if len(some) > 1})


def repropose(study: Study, proposal: Proposal, tokens: list[ColourToken]) -> Study:
    """Return the study with the roles and mapping of a new proposal; values the owner set stay with their roles."""
    kept = {role.name: role for role in study.roles}
    roles = []
    for role in proposal.roles:
        old = kept.get(role.name)
        if old is not None and old.value != old.found:
            role = role.model_copy(update={"value": old.value, "label": old.label})
        roles.append(role)
    mapping = {}
    for name, numbers in proposal.tokens.items():
        for number in numbers:
            key = token_key(tokens[number])
            if key is not None:
                mapping[key] = name
    return study.model_copy(update={"roles": tuple(roles), "mapping": mapping})
