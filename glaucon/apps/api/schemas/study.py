"""Request and response documents for studies: palettes, copies, renaming, comparing."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from glaucon.apps.api.schemas.asked import Asked, BaseIn, RevisionName
from glaucon.apps.api.schemas.reading import ReadingOut
from glaucon.apps.api.schemas.told import Told
from glaucon.core.acts.any_act import AnyAct
from glaucon.core.known.strip import StripColour
from glaucon.core.study.roles import Kind, Look, StateName, Tier
from glaucon.core.study.study import Aim
from glaucon.core.study.ties import Tie


class PropertyOut(Told):
    """A custom property that a role's places take their colour from: at an opacity, or as the channels of `rgb()`."""

    name: str
    opacity: float
    is_channels: bool


class RoleOut(Told):
    """A role; `seen_with` is the role it is mostly seen with, `found_colours` what the site has under it.

    `rest` is, for a role of a state, the role at rest that it belongs to; `twins` came in its colour for the same use.
    """

    id: str
    kind: Kind
    coat: str | None
    state: StateName
    tier: Tier
    look: Look
    rest: str | None
    twins: list[str]
    label: str
    value: str
    found: str
    taken: bool
    changed: bool
    reason: str
    seen_with: str | None
    properties: list[PropertyOut]
    found_colours: list[str]
    locked: bool
    tie: Tie | None


class CoatOut(Told):
    """A coat, and how many sections and parts of the site wear it."""

    id: str
    label: str
    came: bool
    places: int


class FadeOut(Told):
    """What a rule of the page fades, and the opacity, 0 to 1, that a study gives it; None: the page's own."""

    selector: str
    opacity: float | None


class RevisionOut(Told):
    """A revision of a study. `mapping` names which places come under which role: previews are made for one.

    `extra_css` are the rules it adds to the site, as previews show them.
    """

    base: RevisionName
    what: str
    can_undo: bool
    can_redo: bool
    study: str
    aim: Aim
    is_dark: bool
    mapping: str
    roles: list[RoleOut]
    coats: list[CoatOut]
    fades: list[FadeOut]
    extra_css: str
    waiting: int
    reading: ReadingOut


class StudyOut(Told):
    """A study of a site: its colours by how much they show, and how much of the site reads."""

    base: RevisionName
    name: str
    is_open: bool
    is_deleted: bool
    is_dark: bool
    colours: list[StripColour]
    texts: int
    hard_texts: int
    changed: int


class NewStudyIn(BaseIn):
    """A copy of a revision, of any study of the site, with some acts done to it."""

    name: str = Field("", max_length=200)
    acts: Annotated[tuple[AnyAct, ...], Field(max_length=400)] = ()
    is_opened: bool = False


class StudyStepIn(Asked):
    """What is to be done with a study."""

    what: Literal["open", "rename", "delete", "bring-back"]
    name: str = Field("", max_length=200)


class ComparedRole(Told):
    """A role under two studies: its colours and its lowest contrast."""

    id: str
    label: str
    colours: list[str | None]
    lowest: list[float | None]
    verdicts: list[str]


class ComparedSide(Told):
    """One of two studies: its pages, what they wear, how much reads."""

    number: int
    name: str
    preview: str
    wear: dict[str, str | None]
    texts: int
    hard_texts: int
    pages: dict[str, int]


class ComparedOut(Told):
    """Two studies side by side, and the roles in which they differ."""

    sides: list[ComparedSide]
    roles: list[ComparedRole]
