"""The keys at which two documents of a study differ: what an act has touched, visible or not.

What shows of it, in words, is told by `core/changes`.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import TypeVar

from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study

_Key = TypeVar("_Key")
_Value = TypeVar("_Value")


def touched(before: Study, after: Study) -> frozenset[str]:
    """Return the keys of all that differs in two documents, whether it shows or not.

    "role:ID", "coat:ID", "place:…", "backdrop:…" (a place's names), "mapping:KEY", "css", "aim", "order".
    """
    keys = {f"role:{name}" for name in unlike({r.id: r for r in before.roles}, {r.id: r for r in after.roles})}
    keys |= {f"coat:{name}" for name in unlike({c.id: c for c in before.coats}, {c.id: c for c in after.coats})}
    keys |= {f"coat:{name}" for name in unlike(dict(before.coat_backdrops), dict(after.coat_backdrops))}
    keys |= {f"mapping:{name}" for name in unlike(dict(before.mapping), dict(after.mapping))}
    worn = ({scope.where: scope for scope in one.worn} for one in (before, after))
    keys |= {f"place:{place_key(where)}" for where in unlike(*worn)}
    behind = ({one.where: one for one in study.backdrops} for study in (before, after))
    keys |= {f"backdrop:{place_key(where)}" for where in unlike(*behind)}
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


def unlike(before: Mapping[_Key, _Value], after: Mapping[_Key, _Value]) -> list[_Key]:
    """Return the keys at which two mappings differ."""
    return [key for key in {**before, **after} if before.get(key) != after.get(key)]
