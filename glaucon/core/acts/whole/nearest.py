"""The nearest readable colour of one role, and which of some colours are readable for it."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from glaucon.core.acts.act import Answer, ColourText, Search
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.acts.whole.changes import Values
from glaucon.core.colour.value import Colour, read_colour
from glaucon.core.mending.offers import nearest_for_role, nearest_for_some, readable_among
from glaucon.core.study.study import Study
from glaucon.core.study.ties import RoleId


class NearestColour(Answer):
    """The nearest readable colour of a role.

    `serves` of `of` counterparts where no colour serves all; `stays` where the role's own value reads. `delta_e_ok` is
    how far it lies from the role's own, None where there is no colour.
    """

    search: Literal["nearest"] = "nearest"
    role: str
    colour: str | None
    delta_e_ok: float | None
    other_hue: bool
    serves: int | None
    of: int | None
    stays: bool


class FindNearest(Search):
    """Find the nearest readable colour of a role against all it stands with."""

    search: Literal["nearest"]
    role: RoleId

    def find(self, site: SiteAtHand, study: Study) -> NearestColour:
        known = site.under(study)
        found, _ = nearest_for_role(known, study, self.role)
        serves, of, stays = None, None, found.delta_e_ok == 0
        if found.colour is None:
            found, serves, of = nearest_for_some(known, study, self.role, found)
            stays = False
        return NearestColour(
            role=self.role, colour=self._hex(study, found.colour) if found.colour else None,
            delta_e_ok=found.delta_e_ok, other_hue=found.other_hue, serves=serves, of=of, stays=stays,
        )  # fmt: skip

    def _hex(self, study: Study, colour: Colour) -> str:
        return colour.with_alpha(study.role(self.role).colour.alpha).hex()


class ReadableAmong(Answer):
    """Whether each colour is readable with everything the role is seen with: "1" or "0" each, in order."""

    search: Literal["readable-among"] = "readable-among"
    reads: str


class FindReadableAmong(Search):
    """Find which of some colours (hex) are readable for a role; `values` are changed and not saved yet."""

    search: Literal["readable-among"]
    role: RoleId
    colours: Annotated[tuple[ColourText, ...], Field(max_length=4000)]
    values: Values = {}

    def find(self, site: SiteAtHand, study: Study) -> ReadableAmong:
        tried = study.with_values(self.values)
        colours = [read_colour(text) for text in self.colours]
        reads = readable_among(site.under(tried), tried, self.role, colours)
        return ReadableAmong(reads="".join("1" if one else "0" for one in reads))
