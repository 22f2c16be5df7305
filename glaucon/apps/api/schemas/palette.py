"""What the API says of palettes as such, and of where colours come from."""

from __future__ import annotations

from pydantic import Field

from glaucon.apps.api.schemas.asked import Asked
from glaucon.apps.api.schemas.site import FoundGroup
from glaucon.apps.api.schemas.told import Told
from glaucon.core.acts.act import ColourText


class ProposalIn(Asked):
    """How far apart colours may lie that come under one role; the palette as it is where left out."""

    within: float | None = Field(None, ge=0, le=4)


class ProposalOut(Told):
    """The effect of using a proposed palette, the tokens under its roles, and preview addresses.

    `colours` are those that show somewhere; `short_roles` and `short_coats` are how many would do.
    """

    short_roles: int
    short_coats: int
    details: int
    covers: float
    colours: int
    joining: int
    become: int
    harder: int
    easier: int
    groups: list[FoundGroup]
    labels: dict[str, str]
    preview: str
    wear: dict[str, str | None]


class PlaceOut(Told):
    """Where a colour stands: its place in the files, and the pages and texts that show it."""

    key: str
    file: str
    line: int
    text: str
    property: str
    selector: str
    media: str
    role: str | None
    pages: list[str]
    texts: int
    samples: list[str]


class ColourIn(Asked):
    """A colour as typed."""

    text: ColourText


class ColourOut(Told):
    """A colour as understood: hex, and lightness, colourfulness and hue in OKLCH."""

    hex: str
    lightness: float
    chroma: float
    hue: float
    alpha: float


class StartingOut(Told):
    """A palette to start from, and the colours of a small page in it."""

    name: str
    is_dark: bool
    page: str
    section: str
    dark: str
    text: str
    heading: str
    accent: str


class PictureColourOut(Told):
    """A main colour of a picture and its share."""

    colour: str
    share: float


class PictureOut(Told):
    """The main colours of a picture and those a palette would be made from."""

    colours: list[PictureColourOut]
    seeds: list[str]


class SitePictureOut(Told):
    """A picture of the site, where it can be shown from."""

    path: str
    address: str


class PaletteTextIn(Asked):
    """A palette file's text, or codes as pasted."""

    text: str = Field(max_length=1_100_000)


class NamedColourOut(Told):
    """A colour and what it is called."""

    name: str
    colour: str
