"""What the API says of sites and jobs."""

from __future__ import annotations

from pydantic import Field

from glaucon.apps.api.schemas.asked import Asked
from glaucon.apps.api.schemas.told import Told
from glaucon.apps.bringing.sources import MOST_PAGES, MOST_PAGES_EVER
from glaucon.core.known.strip import StripColour


class SiteCard(Told):
    """A site on the shelf."""

    slug: str
    name: str
    pages: int
    strip: list[StripColour]
    texts: int
    readable: int
    live_since: str | None
    waiting: int
    is_away: bool


class GoneOut(Told):
    """A deleted site, and until when it can be taken back."""

    slug: str
    name: str
    until: str


class SiteNameIn(Asked):
    """What a site is to be called."""

    name: str = Field(max_length=200)


class AwayIn(Asked):
    """Whether a site is put away."""

    is_away: bool


class PageOut(Told):
    """A page of a site, what tells it from the others, that in short, and where its preview is."""

    path: str
    title: str
    name: str
    preview: str
    is_scripted: bool  # its scripts make it what it is


class OpenedOut(Told):
    """What a click opens, and the pages it does so on."""

    label: str
    pages: list[str]


class SiteOut(Told):
    """A site as its screens need it."""

    slug: str
    name: str
    pages: list[PageOut]
    opened: list[OpenedOut]
    notes: list[str]
    address: str
    hosted_at: str  # where its owner hosts it, "" where that is not known
    live: bool
    live_since: str | None


class FoundColour(Told):
    """A found colour, its weight among its kind, and the role proposed for it."""

    colour: str
    share: float
    places: int
    texts: int
    role: str | None
    keys: list[str]


class FoundGroup(Told):
    """Found colours of one kind."""

    kind: str
    label: str
    is_seen: bool
    colours: list[FoundColour]


class FoundOut(Told):
    """What a site came with; `colours` are those that show somewhere, `unseen` those that no page shows."""

    colours: int
    unseen: int
    short_roles: int
    short_coats: int
    pages: int
    texts: int
    groups: list[FoundGroup]
    notes: list[str]
    changes: list[str]


class SampleOut(Told):
    """A sample site."""

    name: str
    title: str
    about: str


class SampleIn(Asked):
    """A sample to start from."""

    name: str


class AddressIn(Asked):
    """An address to bring a site from, and how many of its pages at most."""

    address: str = Field(max_length=2000)
    most_pages: int = Field(MOST_PAGES, ge=1, le=MOST_PAGES_EVER)


class ProjectOut(Told):
    """A site with everything, as it was written: what the file is called, and how large it is."""

    filename: str
    bytes: int


class JobOut(Told):
    """A site being brought in."""

    number: int
    name: str
    state: str
    doing: str
    done: int
    total: int
    message: str
    site: str | None
    again: str | None
