"""Changes to which found colours come under which role, and to the roles themselves."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable

from glaucon.core.cascade.tokens import ColourToken
from glaucon.core.errors import StudyError
from glaucon.core.study.roles import Kind, Role, StateName
from glaucon.core.study.study import Aim, Study, token_key
from glaucon.core.study.ties import Tie, in_order
from glaucon.core.wording import counted

MOST_ROLES = 200
_NO_LABEL = "A colour needs a name. Type what it is for, such as “Lamp yellow”."


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


def add_role(
    study: Study,
    label: str,
    value: str,
    id_: str = "",
    like: Role | None = None,
    kind: Kind = "detail",
    reason: str = "Added by you.",
    state: StateName = "rest",
) -> tuple[Study, str]:
    """Return the study with one more role at its end, and the role's id; `like` gives its kind, coat and state.

    Raises: StudyError: too many roles, or a label that says nothing. ColourError: `value` is no colour.
    """
    label = " ".join(label.split())[:80]
    if not label:
        raise StudyError(_NO_LABEL)
    if len(study.roles) >= MOST_ROLES:
        raise StudyError(f"A palette holds {MOST_ROLES} colours at most. Move some under those it has.")
    id_ = free_id((role.id for role in study.roles), id_ or label)
    role = Role(
        id=id_, kind=like.kind if like else kind, coat=like.coat if like else None,
        state=like.state if like and state == "rest" else state, tier="detail", label=_free_label(study, label),
        value=value, found=value, reason=reason,
    )  # fmt: skip
    return study.model_copy(update={"roles": (*study.roles, role)}), id_


def slug(label: str) -> str:
    """Return a label as part of an id: lower case letters and digits with hyphens; "own" where nothing is left."""
    plain = unicodedata.normalize("NFKD", label).encode("ascii", "ignore").decode().lower()
    base = re.sub(r"[^a-z0-9]+", "-", plain)[:40].strip("-") or "own"
    return base if base[0].isalpha() else f"own-{base}"


def free_id(taken: Iterable[str], wanted: str) -> str:
    """Return an id that none of those taken has, dots and hyphens aside, since both end as hyphens in CSS."""
    known = {id_.replace(".", "-") for id_ in taken}
    base = ".".join(slug(part) for part in wanted.split(".")) if "." in wanted else slug(wanted)
    if base.replace(".", "-") not in known:
        return base
    return next(n for k in range(2, 999) if (n := f"{base}-{k}").replace(".", "-") not in known)


def _free_label(study: Study, label: str) -> str:
    known = set(study.labels.values())
    return label if label not in known else next(n for k in range(2, 999) if (n := f"{label[:74]} ({k})") not in known)


def rename_role(study: Study, id_: str, label: str) -> Study:
    """Return the study with a role called otherwise on screen; a coat's background gives the coat its name.

    Raises: StudyError: no such role, or a label that says nothing.
    """
    role = study.role(id_)
    label = " ".join(label.split())[:80]
    if not label:
        raise StudyError(_NO_LABEL)
    renamed = study.with_roles({id_: {"label": label}})
    if role.coat is None or role.kind != "background" or role.state != "rest":
        return renamed
    coats = (one.model_copy(update={"label": label}) if one.id == role.coat else one for one in study.coats)
    return renamed.model_copy(update={"coats": tuple(coats)})


def remove_role(study: Study, id_: str, to: str | None, is_answered: bool) -> Study:
    """Return the study without a role; its tokens go to another role, or to none.

    Raises: StudyError: the role is in use and nobody said where its uses go.
    """
    role = study.role(id_)
    uses = sum(1 for one in study.mapping.values() if one == id_)
    if uses and not is_answered:
        raise StudyError(f"“{role.label}” colours {counted(uses, 'place')}. Choose the colour they take, or none.")
    if to == id_:
        raise StudyError("A colour cannot replace itself. Choose another one, or none.")
    moved = move_tokens(study, [key for key, one in study.mapping.items() if one == id_], to)
    # what followed it keeps its colour and follows no more
    roles = tuple(
        one.model_copy(update={"tie": None}) if one.tie is not None and id_ in one.tie.origins else one
        for one in moved.roles if one.id != id_
    )  # fmt: skip
    coats = tuple(coat for coat in study.coats if any(one.coat == coat.id for one in roles))
    return moved.model_copy(update={"roles": roles, "coats": coats})


def tie_role(study: Study, id_: str, tie: Tie | None) -> Study:
    """Return the study with a role that follows another one, or follows no more and keeps its colour.

    Raises: StudyError: no such role, a tie to itself, or ties that would run in a circle.
    """
    study.role(id_)
    if tie is not None:
        for origin in tie.origins:
            study.role(origin)
        in_order({**study.ties, id_: tie}, study.labels)
    return study.with_roles({id_: {"tie": tie}})


def lock_role(study: Study, id_: str, is_locked: bool) -> Study:
    """Return the study with a role kept as it is whatever is fixed or made, or let go.

    Raises: StudyError: no such role.
    """
    study.role(id_)
    return study.with_roles({id_: {"locked": is_locked}})


def order_roles(study: Study, ids: Iterable[str]) -> Study:
    """Return the study with its roles in another order; roles not named keep theirs, at the end."""
    place = {id_: n for n, id_ in enumerate(ids)}
    roles = sorted(study.roles, key=lambda role: place.get(role.id, len(place)))
    return study.model_copy(update={"roles": tuple(roles)})


def aim_at(study: Study, aim: Aim) -> Study:
    """Return the study with another aim."""
    return study.model_copy(update={"aim": aim})


def take_merges(study: Study, tokens: Iterable[ColourToken]) -> Study:
    """Return the study with every role taken that gathers more than one colour: all of them become its value."""
    colours: dict[str, set[str]] = {}
    for token in tokens:
        role = study.mapping.get(token_key(token) or "")
        if role is not None:
            colours.setdefault(role, set()).add(token.colour.with_alpha(1.0).hex())
    return study.with_roles({id_: {"taken": True} for id_, some in colours.items() if len(some) > 1})
