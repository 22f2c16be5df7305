"""One colour for another wherever it occurs, with the places first."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from glaucon.core.acts.act import Act, Answer, ColourText, Search, TokenKey, as_hex
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.colour.value import read_colour
from glaucon.core.study.study import Study
from glaucon.core.study.swap import places_of, swap


class Swap(Act):
    """Put chosen places of a colour into another colour."""

    act: Literal["swap"]
    keys: Annotated[tuple[TokenKey, ...], Field(max_length=20_000)]
    to: ColourText

    def apply(self, site: SiteAtHand, study: Study) -> Study:
        return swap(study, site.known.tokens, self.keys, read_colour(self.to))

    def label(self, before: Study, after: Study) -> str:
        return f"Swapped for {as_hex(self.to)}"


class SwapPlace(Answer):
    """A place that wears the colour or one near it."""

    key: str
    colour: str
    role: str | None
    label: str
    file: str
    line: int
    property: str
    selector: str
    texts: int


class SwapPlaces(Answer):
    """The places that a swap would reach."""

    search: Literal["swap-places"] = "swap-places"
    places: list[SwapPlace]


class FindSwapPlaces(Search):
    """Find the places of a colour, and of others within a distance (ΔE OK) of it."""

    search: Literal["swap-places"]
    colour: ColourText
    within: Annotated[float, Field(ge=0, le=0.3)] = 0.0

    def find(self, site: SiteAtHand, study: Study) -> SwapPlaces:
        known, labels = site.known, study.labels
        return SwapPlaces(places=[
            SwapPlace(
                key=place.key, colour=place.colour.hex(), role=place.role, label=labels.get(place.role or "", ""),
                file=place.token.file, line=place.token.line, property=place.token.property,
                selector=place.token.selector, texts=len(known.uses[place.token.number].runs),
            )
            for place in places_of(known.tokens, study, read_colour(self.colour), self.within)
        ])  # fmt: skip
