"""What the API says of who is signed in."""

from __future__ import annotations

from ninja import Schema
from pydantic import Field

from glaucon.apps.api.schemas.asked import Asked


class SessionOut(Schema):
    """Who is signed in, if anyone; in the demo, the address of the host that stands in for the outside."""

    name: str | None
    demo: bool
    stand_in: str


class Credentials(Asked):
    """A name and a password."""

    name: str = Field(min_length=1, max_length=150)
    password: str = Field(min_length=1, max_length=200)
