"""A made palette is worn."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from glaucon.core.acts.act import Act, ColourText, Effort
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.acts.behind.fade import Opacity, Selector, with_less_fading
from glaucon.core.acts.whole.changes import Parts, PlacesValues, Values, parts_of, with_place_values
from glaucon.core.making.making import with_given
from glaucon.core.study.study import Study
from glaucon.core.study.ties import RoleId


class WearPalette(Act):
    """Wear a made palette: values for all colours, with parts, places and fading of its own.

    `given` are colours by role that are locked; those of no role yet become roles of their own.
    """

    effort: ClassVar[Effort] = "heavy"

    act: Literal["wear-palette"]
    values: Values
    given: Annotated[dict[RoleId, ColourText], Field(max_length=5)] = {}
    parts: Parts = ()
    places: PlacesValues = ()
    fades: Annotated[dict[Selector, Opacity], Field(max_length=100)] = {}

    def apply(self, site: SiteAtHand, study: Study) -> Study:
        worn = with_given(study, self.values, self.given, parts_of(study, self.parts))
        return with_less_fading(site, with_place_values(site, worn, self.places), self.fades)

    def label(self, before: Study, after: Study) -> str:
        return "Made palette"
