"""Changes that make texts readable, taken as one edit."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import BaseModel, ConfigDict, Field

from glaucon.core.acts.act import Act, ColourText, Effort
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.acts.behind.fade import Opacity, Selector, with_less_fading
from glaucon.core.acts.whole.changes import Parts, PlacesValues, Values, parts_of, with_place_values
from glaucon.core.colour.value import read_colour
from glaucon.core.mending.role_changes import Change, with_changes
from glaucon.core.study.backdrops import Backdrop, PlateSelector
from glaucon.core.study.coat_backdrops import with_backdrop
from glaucon.core.study.own_css import with_more_css
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study
from glaucon.core.study.ties import RoleId
from glaucon.core.wording import counted


class SectionVeil(BaseModel):
    """A veil over what a section has behind it, of a colour of the palette or any other.

    With `behind`, selectors within the section, it is a plate right behind those texts instead.
    """

    model_config = ConfigDict(extra="forbid", frozen=True)

    section: Annotated[str, Field(max_length=200)]
    role: RoleId | None = None
    colour: ColourText
    opacity: Opacity
    behind: Annotated[tuple[PlateSelector, ...], Field(max_length=60)] = ()


class Fix(Act):
    """Make texts readable: values of colours, parts of them, what places wear, less fading, veils and rules.

    A value that is the one a colour has is taken by all that is merged with it.
    """

    effort: ClassVar[Effort] = "heavy"

    act: Literal["fix"]
    values: Values = {}
    parts: Parts = ()
    places: PlacesValues = ()
    fades: Annotated[dict[Selector, Opacity], Field(max_length=100)] = {}
    veils: Annotated[tuple[SectionVeil, ...], Field(max_length=20)] = ()
    rules: Annotated[tuple[Annotated[str, Field(max_length=2000)], ...], Field(max_length=30)] = ()

    def apply(self, site: SiteAtHand, study: Study) -> Study:
        changes = [Change(role, study.role(role).colour, read_colour(text), 0, 0) for role, text in self.values.items()]
        fixed = with_changes(study, changes)
        if self.parts:
            fixed = with_changes(fixed, parts_of(fixed, self.parts))
        fixed = with_less_fading(site, with_place_values(site, fixed, self.places), self.fades)
        for veil in self.veils:
            fixed = _veiled(site, fixed, veil)
        return with_more_css(fixed, self.rules)

    def label(self, before: Study, after: Study) -> str:
        given = (self.values, self.parts, self.places, self.fades, self.veils, self.rules)
        return f"Fixed with {counted(sum(map(len, given)), 'change')}"


def _veiled(site: SiteAtHand, study: Study, veil: SectionVeil) -> Study:
    where = site.hold(Where(section=veil.section))
    colour: object = {"role": veil.role} if veil.role is not None else read_colour(veil.colour).hex()
    what = {"colour": colour, "opacity": veil.opacity}
    laid = {"plate": {**what, "behind": veil.behind}, "layers": ()} if veil.behind else {"layers": [{"veil": what}]}
    return with_backdrop(study, Backdrop.model_validate({"in": where, **laid}))
