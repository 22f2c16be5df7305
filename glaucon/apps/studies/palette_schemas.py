"""What the API says of palettes as such."""

from __future__ import annotations

from typing import Literal

from ninja import Schema
from pydantic import Field

from glaucon.apps.sites.schemas import FoundGroup
from glaucon.core.study.ties import Tie


class ProposalIn(Schema):
    """How far apart colours may lie that come under one role; the palette as it is where left out."""

    within: float | None = Field(None, ge=0, le=4)


class ProposalOut(Schema):
    """What taking a palette does, the found colours under its roles, and previews with what they wear for it."""

    roles: int
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
    """A palette to be proposed anew, and whether near-alike colours become one at once."""

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


class RoleIn(Schema):
    """A change to the roles themselves, or to how well all is to read (`aim`).

    Removing a role asks where its places go: `is_answered` says that `to` does.
    """

    base: int
    what: Literal["add", "rename", "remove", "order", "tie", "lock", "aim"]
    role: str = ""
    label: str = Field("", max_length=200)
    value: str = Field("", max_length=400)
    to: str | None = None
    is_answered: bool = False
    order: list[str] = Field([], max_length=400)
    tie: Tie | None = None
    locked: bool = False
    aim: Literal["AA", "AAA"] = "AA"


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
