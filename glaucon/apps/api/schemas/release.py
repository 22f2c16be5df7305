"""Request and response documents for releases and for handing a site back."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field

from glaucon.apps.api.schemas.asked import Asked, BaseIn, RevisionName
from glaucon.apps.api.schemas.reading import FindingOut, LostMarkOut
from glaucon.apps.api.schemas.told import Told
from glaucon.core.changes.told import ChangeKind
from glaucon.core.exchange.arrival import FileState, PageState


class ChangeOut(Told):
    """One change of how the site shows, in words, and where: on how many texts, of them made readable, on each page.

    `before` and `after` are colours, "" where it is not one; `page` is set where it holds on that page alone; `lines`
    are rules of CSS, each with a leading "+" or "-".
    """

    key: str
    kind: ChangeKind
    label: str
    says: str
    role: str | None
    before: str
    after: str
    page: str | None
    texts: int
    mended: int
    pages: dict[str, int]
    sections: list[str]
    lines: list[str]


class LetThroughOut(Told):
    """A text colour on a background that went live hard to read: what it says, its contrast, and why it was let."""

    key: str
    sample: str
    where: str
    text: str
    background: str
    ratio: float | None
    required: float | None
    places: int
    why: str


class ReleaseOut(Told):
    """A release; number 0 is the site as brought in. One that is `due` and has no `live_since` waits for its time."""

    number: int
    name: str
    live: bool
    live_since: str | None
    due: str | None
    made: str
    colours: list[str]
    texts: int
    hard: int
    unsure: int
    let_through: list[LetThroughOut]
    statement: str


class DownloadOut(Told):
    """When the owner last took the site home, and whether the open study still is what they took."""

    made: str
    is_open: bool


class PlanOut(Told):
    """The changes a release would make to the live site."""

    base: RevisionName
    live_number: int | None
    changes: list[ChangeOut]
    before: dict[str, str | None]  # custom properties that show what is live, and under "css" the rules it adds
    texts: int
    readable: int
    readable_before: int
    hard: list[FindingOut]
    reasons: dict[str, str]  # what was said of them at the last release, by their keys
    lost: list[LostMarkOut]
    unsure: int
    live: bool
    address: str
    downloaded: DownloadOut | None
    releases: list[ReleaseOut]


class ReleasesComparedOut(Told):
    """Two releases, or a release and the open study: the changes from one to the other, and what shows each."""

    changes: list[ChangeOut]
    before: dict[str, str | None]
    after: dict[str, str | None]


class ReleaseIn(BaseIn):
    """A plan that is to be carried out: the revision it was made for, and the release that was live then, if any.

    `reasons` say why a text goes out hard to read, by the keys of findings; `reason` holds for all others.
    """

    live_number: int | None
    name: Annotated[str, Field(max_length=200)] = ""
    due: datetime | None = None
    reasons: Annotated[dict[str, Annotated[str, Field(max_length=200)]], Field(max_length=400)] = {}
    reason: Annotated[str, Field(max_length=200)] = ""
    with_statement: bool = False


class ReleaseNameIn(Asked):
    """What a release is to be called, "" for nothing."""

    name: Annotated[str, Field(max_length=200)]


class TakeBackIn(Asked):
    """The release that was live when somebody chose to go back, if any."""

    live_number: int | None


class UnreachedOut(Told):
    """A changed colour that one way does not reach."""

    file: str
    line: int
    colour: str
    why: str


class WayOut(Told):
    """The result of handing back in one way. `text` can be copied; `missed` lists places not reached, a line each."""

    way: str
    filename: str
    bytes: int
    changed: list[str]
    unreached: list[UnreachedOut]
    missed: list[str]
    text: str


class CheckedOut(Told):
    """How many texts come out as promised, of how many, and some that do not."""

    texts: int
    right: int
    examples: list[str]
    pages: int


class ArrivedIn(Asked):
    """Where the owner hosts the site, and the pages that are to be looked at now.

    They are held against the last download, the open study where there is none, or the open study always.
    """

    address: Annotated[str, Field(max_length=2000)]
    pages: Annotated[list[Annotated[str, Field(max_length=400)]], Field(min_length=1, max_length=12)]
    against: Literal["downloaded", "open"] = "downloaded"


class FileFoundOut(Told):
    """A stylesheet that is not as it should be: not there, old, held by a cache, or otherwise."""

    path: str
    state: FileState
    why: str


class PageFoundOut(Told):
    """A page as its host shows it; `held_seconds` is how long a cache has had it, where it says so."""

    path: str
    state: PageState
    file: FileState
    why: str
    held_seconds: int | None
    sheets: list[FileFoundOut]
    texts: int
    right: int


class ArrivedOut(Told):
    """What has arrived of some pages."""

    address: str
    pages: list[PageFoundOut]
