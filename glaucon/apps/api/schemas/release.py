"""Request and response documents for releases and for handing a site back."""

from __future__ import annotations

from ninja import Schema

from glaucon.apps.api.schemas.asked import Asked, BaseIn, RevisionName
from glaucon.apps.api.schemas.reading import FindingOut, LostMarkOut
from glaucon.apps.api.schemas.study import FadeOut


class ChangeOut(Schema):
    """One role's change, and what it does to reading."""

    role: str
    label: str
    before: str
    after: str
    places: int


class PlaceChangeOut(Schema):
    """A place whose coat, values or backdrop a release changes: before and after, "" for the site's own."""

    place: str
    page: str | None
    wears: str


class ReleaseOut(Schema):
    """A release; number 0 is the site as brought in."""

    number: int
    live: bool
    live_since: str | None
    made: str
    colours: list[str]


class PlanOut(Schema):
    """The changes a release would make to the live site."""

    base: RevisionName
    live_number: int | None
    changes: list[ChangeOut]
    fades: list[FadeOut]
    places: list[PlaceChangeOut]
    own_css: bool
    before: dict[str, str | None]  # custom properties that show what is live, and under "css" the rules it adds
    texts: int
    readable: int
    readable_before: int
    hard: list[FindingOut]
    lost: list[LostMarkOut]
    unsure: int
    live: bool
    address: str
    releases: list[ReleaseOut]


class ReleaseIn(BaseIn):
    """A plan that is to be carried out: the revision it was made for, and the release that was live then, if any."""

    live_number: int | None


class TakeBackIn(Asked):
    """The release that was live when somebody chose to go back, if any."""

    live_number: int | None


class UnreachedOut(Schema):
    """A changed colour that one way does not reach."""

    file: str
    line: int
    colour: str
    why: str


class WayOut(Schema):
    """The result of handing back in one way. `text` can be copied; `missed` lists places not reached, a line each."""

    way: str
    filename: str
    bytes: int
    changed: list[str]
    unreached: list[UnreachedOut]
    missed: list[str]
    text: str


class CheckedOut(Schema):
    """How many texts come out as promised, of how many, and some that do not."""

    texts: int
    right: int
    examples: list[str]
    pages: int
