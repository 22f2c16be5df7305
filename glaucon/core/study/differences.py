"""In what two studies differ: roles, places, backdrops, fading, own CSS. What is said of a change comes from here."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import TypeVar

from glaucon.core.study.fading import fades_of, without_fades
from glaucon.core.study.own_css import applied_css
from glaucon.core.study.plain import plain_coat
from glaucon.core.study.scopes import Scope, Where
from glaucon.core.study.study import Study

_Key = TypeVar("_Key")
_Value = TypeVar("_Value")


@dataclass(frozen=True, slots=True)
class Differences:
    """What a study has otherwise than an earlier one, as it shows.

    `roles` are ids; `places` the scopes as they are now, empty where a place wears nothing more; `backdrops` the places
    whose backdrop differs, None for the whole site; `fades` the new opacity by selector, None for the page's own.
    """

    roles: tuple[str, ...]
    places: tuple[Scope, ...]
    backdrops: tuple[Where | None, ...]
    fades: Mapping[str, float | None]
    own_css: bool

    def __len__(self) -> int:
        return len(self.roles) + len(self.places) + len(self.backdrops) + len(self.fades) + self.own_css


def differences(before: Study | None, after: Study) -> Differences:
    """Return in what a study differs from an earlier one; None: from the site as it was brought in."""
    return Differences(
        roles=_roles(before, after), places=_places(before, after), backdrops=_backdrops(before, after),
        fades=_fades(before, after), own_css=_own(after) != (_own(before) if before is not None else ""),
    )  # fmt: skip


def touched(before: Study, after: Study) -> frozenset[str]:
    """Return the keys of all that differs in two documents, whether it shows or not.

    "role:ID", "coat:ID", "place:…", "backdrop:…" (a place's names), "mapping:KEY", "css", "aim", "order".
    """
    keys = {f"role:{name}" for name in _unlike({r.id: r for r in before.roles}, {r.id: r for r in after.roles})}
    keys |= {f"coat:{name}" for name in _unlike({c.id: c for c in before.coats}, {c.id: c for c in after.coats})}
    keys |= {f"coat:{name}" for name in _unlike(dict(before.coat_backdrops), dict(after.coat_backdrops))}
    keys |= {f"mapping:{name}" for name in _unlike(dict(before.mapping), dict(after.mapping))}
    worn = ({scope.where: scope for scope in one.worn} for one in (before, after))
    keys |= {f"place:{place_key(where)}" for where in _unlike(*worn)}
    behind = ({one.where: one for one in study.backdrops} for study in (before, after))
    keys |= {f"backdrop:{place_key(where)}" for where in _unlike(*behind)}
    keys |= {name for name, is_so in (
        ("css", before.extra_css != after.extra_css), ("waived", before.waived != after.waived),
        ("aim", before.aim != after.aim),
        ("order", [r.id for r in before.roles] != [r.id for r in after.roles]),
    ) if is_so}  # fmt: skip
    return frozenset(keys)


def place_key(where: Where | None) -> str:
    """Return a place as one text, "site" for the whole site."""
    if where is None:
        return "site"
    return " ".join(f"{name}={value}" for name, value in where.model_dump(exclude_none=True).items())


def _unlike(before: Mapping[_Key, _Value], after: Mapping[_Key, _Value]) -> list[_Key]:
    return [key for key in {**before, **after} if before.get(key) != after.get(key)]


def _own(study: Study) -> str:
    return without_fades(applied_css(study))


def _places(before: Study | None, after: Study) -> tuple[Scope, ...]:
    was = {scope.where: scope for scope in before.worn} if before is not None else {}
    now = {scope.where: scope for scope in after.worn}
    changed = [scope for where, scope in now.items() if was.get(where) != scope]
    return (*changed, *(Scope.model_validate({"in": where}) for where in was if where not in now))


def _backdrops(before: Study | None, after: Study) -> tuple[Where | None, ...]:
    now = {one.where: one for one in after.backdrops}
    was = {one.where: one for one in before.backdrops} if before is not None else {}
    return tuple(_unlike(was, now))


def _fades(before: Study | None, after: Study) -> dict[str, float | None]:
    now, was = fades_of(after), fades_of(before) if before is not None else {}
    return {name: now.get(name) for name in _unlike(was, now)}


def _roles(before: Study | None, after: Study) -> tuple[str, ...]:
    """Return the roles whose colours differ; those of the coat that is plain have no colours of their own."""
    plain = plain_coat(after)
    was = {role.id: (role.value, role.is_changed) for role in before.roles} if before is not None else {}
    return tuple(
        role.id for role in after.roles
        if (role.coat is None or role.coat != plain)
        and (role.value, role.is_changed) != was.get(role.id, (role.found, False))
    )  # fmt: skip
