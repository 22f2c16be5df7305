"""The palette of another site is taken: from its Design Tokens, its study, or any palette file with names."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from glaucon.core.acts.act import Act, Answer, Effort, Search
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.exchange.brought_palettes import read_brought
from glaucon.core.making.fitting import Fitted, fitted
from glaucon.core.study.study import Study

PaletteText = Annotated[str, Field(max_length=1_000_000)]


def _fitted(site: SiteAtHand, study: Study, text: str) -> Fitted:
    places = {region.key for region in site.known.survey.regions}
    return fitted(study, read_brought(text), places, site.pictures())


class TakePalette(Act):
    """Wear what fits of a palette that was made for another site; `palette` is its file's text."""

    effort: ClassVar[Effort] = "heavy"

    act: Literal["take-palette"]
    palette: PaletteText

    def apply(self, site: SiteAtHand, study: Study) -> Study:
        return _fitted(site, study, self.palette).study

    def get_ready(self, site: SiteAtHand, after: Study) -> None:
        site.make_files(after)

    def label(self, before: Study, after: Study) -> str:
        return "Palette of another site"


class FittedColour(Answer):
    """A colour that fits: what it is called there, and here."""

    theirs: str
    colour: str
    ours: str


class FittedPalette(Answer):
    """How a palette fits this site.

    `worn` are the colours that have a place here, `left` one sentence for each thing that has none. `values` are the
    new colours of the study's roles, by id, so that pages can show the palette before it is taken.
    """

    search: Literal["fit-palette"] = "fit-palette"
    name: str
    worn: list[FittedColour]
    coats: list[str]
    backdrops: int
    left: list[str]
    values: dict[str, str]


class FitPalette(Search):
    """Look at what fits of a palette that was made for another site."""

    search: Literal["fit-palette"]
    palette: PaletteText

    def find(self, site: SiteAtHand, study: Study) -> FittedPalette:
        fit = _fitted(site, study, self.palette)
        before = {role.id: role.value for role in study.roles}
        return FittedPalette(
            name=read_brought(self.palette).name, coats=fit.coats, backdrops=fit.backdrops, left=fit.left,
            worn=[FittedColour(theirs=theirs, colour=colour, ours=ours) for theirs, colour, ours in fit.worn],
            values={role.id: role.colour.hex() for role in fit.study.roles if before.get(role.id, "") != role.value},
        )  # fmt: skip
