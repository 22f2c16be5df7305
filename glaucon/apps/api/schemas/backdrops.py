"""Response documents for backdrops, and for the pictures and patterns they can show."""

from __future__ import annotations

from pydantic import Field

from glaucon.apps.api.schemas.asked import Asked, RevisionName
from glaucon.apps.api.schemas.told import Told
from glaucon.core.study.backdrops import Backdrop


class BackdropOut(Told):
    """A backdrop of the open study, what its place is called, and how many pages it lies on."""

    backdrop: Backdrop
    name: str
    pages: int


class OwnPictureOut(Told):
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


class LibraryOut(Told):
    """A picture of the library."""

    name: str
    label: str
    address: str


class PatternOut(Told):
    """A drawn pattern and the family it is of."""

    name: str
    family: str


class BackdropsOut(Told):
    """All backdrops of the open study, and what they may be made of."""

    base: RevisionName
    backdrops: list[BackdropOut]
    pictures: list[OwnPictureOut]
    library: list[LibraryOut]
    patterns: list[PatternOut]
    budget: int


class PictureColoursOut(Told):
    """A picture's main colours, and that of its edges."""

    colours: list[str]
    edge: str


class TakeLibraryIn(Asked):
    """A picture of the library, to be taken for the site."""

    name: str = Field(max_length=40)
