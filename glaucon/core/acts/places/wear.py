"""Places wear a coat, several by turns, or values of their own."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from glaucon.core.acts.act import Act, ColourText
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.errors import StudyError
from glaucon.core.mending.keeping import kept_in_places
from glaucon.core.places.plain import wear_by_turns
from glaucon.core.study.roles import CoatId
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study
from glaucon.core.wording import counted

Places = Annotated[tuple[Where, ...], Field(max_length=400)]
UseName = Annotated[str, Field(max_length=80)]  # "link", "link.hover"
CoatChoice = Literal[""] | CoatId | None


class Wear(Act):
    """Give places a coat and values by kind; "" is the page's own colours, null none: as the site came.

    With `by_turns` they wear those coats one after the other, in their order.
    """

    act: Literal["wear"]
    places: Places
    coat: CoatChoice = None
    by_turns: Annotated[tuple[CoatChoice, ...], Field(max_length=12)] = ()
    set: Annotated[dict[UseName, ColourText], Field(max_length=80)] = {}

    def apply(self, site: SiteAtHand, study: Study) -> Study:
        if not self.places:
            raise StudyError("Nothing is chosen. Choose a section or a page first.")
        for place in self.places:
            site.hold(place)
        given = self.by_turns if self.by_turns and not self.set else (self.coat,)
        worn = wear_by_turns(site.known, study, self.places, given, self.set)
        # what the owner sets is theirs; a coat leaves words on a photograph as they are
        return kept_in_places(site.known, study, worn) if any(given) and not self.set else worn

    def label(self, before: Study, after: Study) -> str:
        count = len(self.places)
        coat = next((one.label for one in after.coats if one.id == self.coat), "")
        what = f"{coat} on" if coat else "Own colours for" if self.set else "Original colours for"
        return f"{'Coats by turns on' if len(self.by_turns) > 1 else what} {counted(count, 'place')}"
