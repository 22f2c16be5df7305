"""What the API says of who is signed in."""

from __future__ import annotations

from pydantic import Field

from glaucon.apps.api.schemas.asked import Asked
from glaucon.apps.api.schemas.told import Told


class SessionOut(Told):
    """Who is signed in, if anyone; in the demo, the address of the host that stands in for the outside."""

    name: str | None
    demo: bool
    stand_in: str


class RoomOut(Told):
    """How many sites and bytes somebody has, and may have at most."""

    sites: int
    most_sites: int
    bytes: int
    most_bytes: int


class EndAccountIn(Asked):
    """The password once more: the account ends with all that is in it."""

    password: str = Field(min_length=1, max_length=200)


class LetterOut(Told):
    """A letter that the demo would have sent."""

    to: str
    subject: str
    body: str
    sent: str
