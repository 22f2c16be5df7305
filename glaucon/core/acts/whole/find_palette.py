"""Whole readable palettes for the site: from a few colours, from a start, or the dark or light side of this one."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from glaucon.core.acts.act import Answer, ColourText, Effort, Search
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.acts.whole.changes import ChangeTold, change_told, place_told
from glaucon.core.colour.value import read_colour
from glaucon.core.known.strip import StripColour, strip_of
from glaucon.core.making.making import Made, counterpart, make_study
from glaucon.core.making.starting import starting_study
from glaucon.core.study.darkness import is_dark
from glaucon.core.study.study import Study
from glaucon.core.study.ties import RoleId


class MadePalette(Answer):
    """A made palette: a value for each role, a description, the roles of the given colours, and failing texts.

    `parts` of roles and `places` have colours of their own on top of the values; `fades` are what the page fades, by
    selector, and the opacity it is to have. `is_blocked`: no given colour has a place.
    """

    search: Literal["palette"] = "palette"
    name: str
    about: str
    values: dict[str, str]
    parts: list[ChangeTold]
    places: list[ChangeTold]
    fades: dict[str, float]
    given: dict[str, str]
    hard_texts: int
    samples: list[str]
    colours: list[StripColour]
    is_dark: bool
    is_blocked: bool


class FindPalette(Search):
    """Make a palette from one to five colours in a direction; `places` are those wanted on a certain role.

    `starting` names a start instead, or "counterpart": the same on a dark or light page.
    """

    effort: ClassVar[Effort] = "heavy"

    search: Literal["palette"]
    colours: Annotated[tuple[ColourText, ...], Field(max_length=5)] = ()
    places: Annotated[dict[RoleId, ColourText], Field(max_length=5)] = {}
    direction: int = 0
    starting: Annotated[str, Field(max_length=80)] | None = None

    def find(self, site: SiteAtHand, study: Study) -> MadePalette:
        known, made = site.known, self._made(site, study)
        return MadePalette(
            name=made.study.name, about=made.about, values={role.id: role.value for role in made.base.roles},
            parts=[change_told(known, made.base, one) for one in made.parts],
            places=[place_told(known, made.study, one) for one in made.places], fades=made.fades,
            given=made.given, hard_texts=made.failing, samples=made.left, colours=strip_of(known, made.study),
            is_dark=is_dark(made.study), is_blocked=made.is_blocked,
        )  # fmt: skip

    def _made(self, site: SiteAtHand, study: Study) -> Made:
        if self.starting == "counterpart":
            return counterpart(site.known, study)
        if self.starting is not None:
            return starting_study(site.known, study, self.starting)
        places = {role: read_colour(text) for role, text in self.places.items()}
        given = [read_colour(text) for text in self.colours]
        return make_study(site.known, study, given, self.direction, wished=places)
