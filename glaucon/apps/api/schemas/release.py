"""What the API says of releases, and of what is handed back."""

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
    """Where something else is worn, or lies behind, from now on: what that is, "" for what the site has."""

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
    """What a release would do, measured against what is live."""

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
    """What one way gives. `text` is there for what can be copied; `missed` says what it does not reach, a line each."""

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
