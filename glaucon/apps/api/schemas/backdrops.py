"""What is said about backdrops, as the API takes and gives it."""

from __future__ import annotations

from typing import Any

from ninja import Schema
from pydantic import Field

from glaucon.apps.api.schemas.study import WhereIn
from glaucon.core.backdrops.room import Side


class BackdropIn(Schema):
    """The layers behind a place, as a study's document has them; `place` null: behind the whole site."""

    place: WhereIn | None = None
    layers: list[dict[str, Any]] = Field(max_length=12)
    panels: float = Field(1, ge=0, le=1)
    phone: dict[str, Any] | None = None
    plate: dict[str, Any] | None = None


class BackdropOut(Schema):
    """A backdrop as a study has it, what its place is called, and how many pages it lies on."""

    place: WhereIn | None
    name: str
    pages: int
    of: str
    layers: list[dict[str, Any]]
    panels: float
    phone: dict[str, Any] | None
    plate: dict[str, Any] | None


class OwnPictureOut(Schema):
    """A picture that a backdrop may show: where it is shown from, its size, whether it tiles without a seam."""

    path: str
    label: str
    address: str
    width: int
    height: int
    bytes: int
    is_seamless: bool
    is_own: bool
    note: str = ""


class LibraryOut(Schema):
    """A picture of the library."""

    name: str
    label: str
    address: str
    goes_with: list[str]


class PatternOut(Schema):
    """A drawn pattern and the family it is of."""

    name: str
    family: str


class BackdropsOut(Schema):
    """All backdrops of the open study, and what they may be made of."""

    revision: int
    backdrops: list[BackdropOut]
    pictures: list[OwnPictureOut]
    library: list[LibraryOut]
    patterns: list[PatternOut]
    budget: int


class KeepIn(BackdropIn):
    """A backdrop to be kept, from the revision the writer has seen; without layers the place has none any more.

    With `coat` it is kept with a coat: whoever is given that lies on it.
    """

    base: int
    coat: str = Field("", max_length=60)


class ShownBackdropOut(Schema):
    """The rules that would show it; `is_ready` is false while pictures for it have yet to be made."""

    css: str
    is_ready: bool


class TryIn(BackdropIn):
    """A backdrop to be read on a page at a width."""

    page: str = Field(max_length=400)
    width: int = Field(1280, ge=200, le=4000)


class OnItOut(Schema):
    """A text on a backdrop: its ratio where it is hardest to read, and what it needs."""

    path: str
    text: str
    ratio: float | None
    required: float
    verdict: str


class TurnedOut(Schema):
    """The text turned "light" or "dark": a colour in which all of it on the backdrop could be read."""

    way: str
    colour: str


class InkOut(Schema):
    """A colour of text in the backdrop's place, and the ratio it needs."""

    colour: str
    required: float


class TriedOut(Schema):
    """How the texts of a page read on a backdrop.

    `inks` are the colours of its texts, the most used first.
    `bytes` is what its pictures weigh on this screen, `panels` how many kinds of boxes lie on it. Unless `is_measured`,
    nobody knows yet where the texts lie on it. `is_small`: its place shows hardly anything of it; `bare` are the sides
    that its picture leaves bare.
    """

    texts: int
    hard: int
    unsure: int
    lowest: float | None
    bytes: int
    panels: int
    is_measured: bool
    is_small: bool
    bare: list[Side]
    turned: TurnedOut | None
    inks: list[InkOut]
    worst: list[OnItOut]


class FailedOut(Schema):
    """How many texts are hard to read on a backdrop whose pictures fail to load."""

    hard: int


class HardOut(Schema):
    """A text by its page and path."""

    page: str
    path: str


class LeastOut(Schema):
    """The least veil, as layers with it; `hard` texts stay hard to read whatever the veil, by page and path."""

    opacity: float
    hard: list[HardOut]
    layers: list[dict[str, Any]]


class FirmestOut(Schema):
    """The least strength of the boxes that suffices, and how many texts stay hard to read whatever it is."""

    panels: float
    hard: int


class PlateOut(Schema):
    """The least plate behind the texts that are hard to read, null where none helps; `hard` stay so even on it."""

    plate: dict[str, Any] | None
    hard: int


class BaseOut(Schema):
    """Layers with a base colour on which text can be read where no picture loads; `hard` texts stay so on any."""

    layers: list[dict[str, Any]]
    hard: int


class StopsOut(Schema):
    """Layers whose gradient has other stops, and how many of them moved; `hard` is null where no other stops help."""

    layers: list[dict[str, Any]]
    moved: int
    hard: int | None


class FocusOut(Schema):
    """The part of the picture that the texts read best on, as layers with it."""

    at: list[float]
    lowest: float | None
    layers: list[dict[str, Any]]


class PictureColoursOut(Schema):
    """A picture's main colours, and that of its edges."""

    colours: list[str]
    edge: str


class TakeLibraryIn(Schema):
    """A picture of the library, to be taken for the site."""

    name: str = Field(max_length=40)
