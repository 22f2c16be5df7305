"""What the API says of sections, and of one element of a page close up."""

from __future__ import annotations

from typing import Literal

from glaucon.apps.api.schemas.asked import Asked, RevisionName
from glaucon.apps.api.schemas.told import Told
from glaucon.core.places.section_map import SectionMap
from glaucon.core.study.scopes import Where

State = Literal["rest", "hover", "focus", "active", "visited"]


class MapOut(SectionMap):
    """The section map of a revision."""

    base: RevisionName


class StepOut(Told):
    """One step of the way to an element: the site, the page, a section, a part, the element itself."""

    label: str
    path: str


class ReachOut(Told):
    """How far a change may go: into the region or page called `label`; `where` is null for the whole site.

    `own` and `coat` are what is set there now; `also` are further places that are reached with it.
    """

    what: str
    label: str
    count: str
    where: Where | None
    also: list[Where]
    selector: str
    elements: int
    texts: int
    pages: list[str]
    coat: str | None
    own: dict[str, str]
    like: str


class InStateOut(Told):
    """A colour in a state: the role that gives it, and `use`, its name in scopes (“link.hover”).

    `apart`: places by key that may be put under a role of their own, where that role is another kind's.
    """

    state: str
    colour: str
    same: bool
    role: str | None
    use: str | None
    apart: list[str]


class PartColourOut(Told):
    """One colour in the element, in its states; `lowest` is the lowest contrast in any, `worst` the state of that."""

    kind: str
    label: str
    role: str | None
    texts: int
    states: list[InStateOut]
    lowest: float | None
    verdict: str
    worst: str


class BecauseOut(Told):
    """Where the element's text or background has its colour from, and the role that changes it."""

    of: str
    role: str | None
    says: str
    notes: list[str]
    change: str | None


class SectionNameOut(Told):
    """A section of the page, whose colours a part may take."""

    key: str
    label: str


class PartOut(Told):
    """An element close up; `path` is the element's own, which may be further out than the one asked for."""

    base: RevisionName
    path: str
    label: str
    steps: list[StepOut]
    reaches: list[ReachOut]
    sections: list[SectionNameOut]
    colours: list[PartColourOut]
    because: list[BecauseOut]


class PartQuery(Asked):
    """Which element of which page, at which width, in which state."""

    page: str
    path: str
    width: int = 1280
    state: State = "rest"
    opened: str = ""  # what is opened on it


class AliveIn(Asked):
    """The page that is to be looked at alive."""

    page: str


class AliveOut(Told):
    """Where a page runs with its own scripts, as a release would have it."""

    address: str
