"""A palette on its way from one site to another: its colours by what they are for, its coats, its backdrops."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter

from glaucon.core.study.backdrops import Backdrop
from glaucon.core.study.roles import Coat, CoatId, Role
from glaucon.core.study.study import Study, in_tier


class Brought(BaseModel):
    """What of a study means something on another site. Backdrops name colours, no roles."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    name: str = Field(default="", max_length=80)
    roles: tuple[Role, ...] = Field(max_length=400)
    coats: tuple[Coat, ...] = Field(default=(), max_length=60)
    coat_backdrops: Mapping[CoatId, Backdrop] = Field(default_factory=dict, max_length=60)
    backdrops: tuple[Backdrop, ...] = Field(default=(), max_length=460)


def brought_of(study: Study) -> Brought:
    """Return the part of a study that another site can take.

    A backdrop that comes with a coat is listed with that coat, not again for each section that wears it.
    """
    colours = {role.id: role.colour.hex() for role in study.roles}
    own = [_plain(one, colours) for one in study.backdrops if one.of is None]
    roles = (role.model_copy(update={"reason": ""}) for role in in_tier(study.roles, "main", "detail"))
    return Brought(
        name=study.name, roles=tuple(roles), coats=study.coats,
        coat_backdrops={coat: _plain(one, colours) for coat, one in study.coat_backdrops.items()},
        backdrops=tuple(own),
    )  # fmt: skip


def _plain(backdrop: Backdrop, colours: Mapping[str, str]) -> Backdrop:
    """Return a backdrop with the colours in place of the roles it names."""

    def walk(node: Any) -> Any:
        if isinstance(node, dict):
            return colours[node["role"]] if node.keys() == {"role"} else {key: walk(one) for key, one in node.items()}
        return [walk(one) for one in node] if isinstance(node, list) else node

    return TypeAdapter(Backdrop).validate_python(walk(backdrop.model_dump(mode="json", exclude_none=True)))
