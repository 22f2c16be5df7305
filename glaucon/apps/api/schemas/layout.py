"""What the API says of where things lie on the pages."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import Field

from glaucon.apps.api.schemas.asked import Asked, BaseIn
from glaucon.apps.api.schemas.told import Told


class WantedOut(Told):
    """A page that is worth measuring at a width (CSS pixels), and where it is framed from."""

    page: str
    width: int
    address: str


class RunOut(Told):
    """A page whose scripts nobody has seen run yet, and where it is framed from, with them."""

    page: str
    address: str


class LayoutOut(Told):
    """How far the measuring is, in pages at a width; with `is_used` the reading knows all that is told.

    `scripts` are the pages to be run first: what lies where is measured of what their scripts make.
    """

    scripts: list[RunOut]
    wanted: list[WantedOut]
    measured: int
    total: int
    is_used: bool


class BoxOut(Told):
    """A part of a page, in CSS pixels."""

    left: float
    top: float
    width: float
    height: float


class WorstOut(Told):
    """Where a finding is hardest to read: the page at a width and in a state, the line and the spot in it.

    `height` is the page's, in CSS pixels.
    """

    key: str
    page: str
    width: int
    state: str
    address: str
    height: float
    line: BoxOut
    spot: BoxOut
    ratio: float


class WorstIn(BaseIn):
    """Some findings, by their keys, of the study's reading."""

    keys: list[Annotated[str, Field(max_length=400)]] = Field(max_length=12)


class MeasuredIn(Asked):
    """What Glaucon's own script measured of a page at a width."""

    page: str = Field(max_length=400)
    width: int = Field(ge=200, le=4000)
    measured: dict[str, Any]


class StoodIn(Asked):
    """What Glaucon's own script told of a page whose scripts had run; null: it never came to stand."""

    page: str = Field(max_length=400)
    stood: dict[str, Any] | None
