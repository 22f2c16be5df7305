"""Roles and coats: what a colour is for, as fields. Nothing is ever read out of a role's id."""

from __future__ import annotations

import re
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, field_validator

from glaucon.core.colour.value import Colour, css_text, read_colour
from glaucon.core.study.ties import RoleId, Tie

Kind = Literal[
    "background", "panel", "text", "heading", "quiet", "link", "accent", "accent-text", "line", "shadow", "detail"
]
StateName = Literal["rest", "hover", "focus", "active", "visited", "current", "disabled"]
Look = Literal["background", "text", "line", "other"]
Tier = Literal["main", "detail", "unseen"]
CoatId = Annotated[str, Field(min_length=1, max_length=60)]

# in the order they are shown
KINDS: tuple[Kind, ...] = (
    "background", "panel", "text", "heading", "quiet", "link", "accent", "accent-text", "line", "shadow", "detail",
)  # fmt: skip
TEXT_KINDS = frozenset({"text", "heading", "quiet", "link", "accent-text"})
TEXT_USES: tuple[Kind, ...] = ("text", "heading", "quiet", "link")  # what a scope sets to turn all text of a place
BACKGROUND_KINDS = frozenset({"background", "panel", "accent"})
STATES: tuple[StateName, ...] = ("rest", "hover", "focus", "active", "visited", "current", "disabled")
_ID = re.compile(r"[a-z][a-z0-9]*(?:[-.][a-z0-9]+)*")


def _plain(id_: str) -> str:
    if not _ID.fullmatch(id_):
        raise ValueError(f"“{id_}” is not an id. Use lower case letters, digits, hyphens, and dots between parts")
    return id_


class Role(BaseModel):
    """A role: what the site came with (`found`) and what it wears now (`value`), both CSS colours.

    `taken` says that the owner accepts the merge: the near-alike colours under the role take its value although the
    value itself is as found. A `locked` role stays as it is whatever is fixed or made; a tied one follows another.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    id: RoleId
    kind: Kind
    coat: CoatId | None = None
    state: StateName = "rest"
    tier: Tier = "main"
    label: str = Field(max_length=80)
    value: str = Field(max_length=200)
    found: str = Field(max_length=200)
    taken: bool = False
    locked: bool = False
    tie: Tie | None = None
    reason: str = Field(default="", max_length=400)

    @field_validator("id")
    @classmethod
    def _id_is_plain(cls, id_: str) -> str:
        return _plain(id_)

    @field_validator("value", "found")
    @classmethod
    def _colour_is_written_plainly(cls, value: str) -> str:
        return css_text(read_colour(value))

    @property
    def is_changed(self) -> bool:
        """Return whether the role's tokens take its value instead of keeping their literals."""
        return self.taken or self.value != self.found

    @property
    def use(self) -> str:
        """Return what scopes call its kind and state: "link", "link.hover"."""
        return str(self.kind) if self.state == "rest" else f"{self.kind}.{self.state}"

    @property
    def look(self) -> Look:
        """Return what it is shown as: a background, text, a line, or something else."""
        if self.is_background:
            return "background"
        return "text" if self.is_text else "line" if self.kind == "line" else "other"

    @property
    def follows_brand(self) -> bool:
        """Return whether it follows the site's own colour, which it came with."""
        return self.tie is not None and self.tie == Tie(to=self.tie.to, came=True)

    @property
    def is_text(self) -> bool:
        """Return whether text wears the role."""
        return self.kind in TEXT_KINDS

    @property
    def is_background(self) -> bool:
        """Return whether text stands on the role."""
        return self.kind in BACKGROUND_KINDS

    @property
    def colour(self) -> Colour:
        """Return the value as a colour."""
        return read_colour(self.value)


class Coat(BaseModel):
    """A named set of roles that sections wear instead of the site's; `came` says that the site came with it."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    id: CoatId
    label: str = Field(max_length=80)
    came: bool = True

    @field_validator("id")
    @classmethod
    def _id_is_plain(cls, id_: str) -> str:
        return _plain(id_)
