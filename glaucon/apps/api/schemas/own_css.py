"""What the API says of the owner's own CSS."""

from __future__ import annotations

from glaucon.apps.api.schemas.asked import RevisionName
from glaucon.apps.api.schemas.told import Told
from glaucon.core.acts.behind.write_css import CssTold


class PalettePropertyOut(Told):
    """A custom property of the palette that the CSS may read."""

    name: str
    label: str
    colour: str


class OverOut(Told):
    """A role that the own CSS passes over, in how many texts."""

    label: str
    texts: int


class OwnCssOut(Told):
    """The own CSS, what is wrong with it, whether it is applied, and where it wins over the palette."""

    base: RevisionName
    css: str
    problems: list[CssTold]
    texts: int
    pages: int
    over: list[OverOut]
    properties: list[PalettePropertyOut]
