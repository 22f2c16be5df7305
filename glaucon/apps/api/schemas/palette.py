"""What the API says of palettes as such."""

from __future__ import annotations

from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from glaucon.apps.api.schemas.site import ColourText, FoundGroup
from glaucon.core.study.study import Aim
from glaucon.core.study.ties import RoleId, Tie


class ProposalIn(Schema):
    """How far apart colours may lie that come under one role; the palette as it is where left out."""

    within: float | None = Field(None, ge=0, le=4)


class ProposalOut(Schema):
    """What using a palette does, the found colours under its roles, and previews with what they show for it.

    `colours` are those that show somewhere; `short_roles` and `short_coats` are how many would do.
    """

    short_roles: int
    short_coats: int
    details: int
    covers: float
    colours: int
    joining: int
    become: int
    harder: int
    easier: int
    shifted: int
    groups: list[FoundGroup]
    labels: dict[str, str]
    preview: str
    wear: dict[str, str | None]


class TakeIn(Schema):
    """A palette to be proposed anew, and whether colours that look nearly the same are merged at once."""

    base: int
    within: float | None = Field(None, ge=0, le=4)
    take: bool = False


class MoveIn(Schema):
    """Colours under a role (none: under no role), or single places by key, to be moved to another role or none.

    With `new_label` they make a role of their own.
    """

    base: int
    colours: list[str] = Field([], max_length=400)
    from_role: str | None = None
    keys: list[str] = Field([], max_length=4000)
    to: str | None = None
    new_label: str = Field("", max_length=80)


class AddRole(Schema):
    """A colour of the owner's own."""

    what: Literal["add"]
    label: str = Field(max_length=200)
    value: ColourText = "#808080"


class RenameRole(Schema):
    """Another name for a role."""

    what: Literal["rename"]
    role: RoleId
    label: str = Field(max_length=200)


class RemoveRole(Schema):
    """A role to be removed; `is_answered` says that `to` is where its places go (none: nowhere)."""

    what: Literal["remove"]
    role: RoleId
    to: RoleId | None = None
    is_answered: bool = False


class OrderRoles(Schema):
    """The order of the roles on the rail."""

    what: Literal["order"]
    order: list[RoleId] = Field(max_length=400)


class TieRole(Schema):
    """A role that follows another one; no tie: follows no more."""

    what: Literal["tie"]
    role: RoleId
    tie: Tie | None


class LockRole(Schema):
    """A role that stays as it is whatever is fixed or made, or no longer."""

    what: Literal["lock"]
    role: RoleId
    is_locked: bool


class SetAim(Schema):
    """How well all is to be readable."""

    what: Literal["aim"]
    aim: Aim


RoleChange = Annotated[
    AddRole | RenameRole | RemoveRole | OrderRoles | TieRole | LockRole | SetAim, Field(discriminator="what")
]


class RoleChangeIn(Schema):
    """One change to the roles themselves, from the revision the writer has seen."""

    base: int
    change: RoleChange


class PlaceOut(Schema):
    """Where a colour stands: its place in the files, and the pages and texts that show it."""

    key: str
    file: str
    line: int
    text: str
    property: str
    selector: str
    media: str
    role: str | None
    pages: list[str]
    texts: int
    samples: list[str]
