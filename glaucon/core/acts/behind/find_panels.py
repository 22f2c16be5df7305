"""How solid the boxes on a backdrop have to be."""

from __future__ import annotations

from typing import ClassVar, Literal

from glaucon.core.acts.act import Answer, Effort, Search
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.acts.behind.lay_backdrop import held
from glaucon.core.acts.behind.trying import before_backdrop, seen_with
from glaucon.core.backdrops.panels import firmest_needed
from glaucon.core.study.backdrops import Backdrop
from glaucon.core.study.study import Study


class FoundPanels(Answer):
    """The least opacity of the boxes that suffices, and how many texts stay hard to read whatever it is."""

    search: Literal["panels"] = "panels"
    panels: float
    hard: int


class FindPanels(Search):
    """Find how solid the boxes on a backdrop have to be for the texts on them."""

    effort: ClassVar[Effort] = "heavy"

    search: Literal["panels"]
    backdrop: Backdrop

    def find(self, site: SiteAtHand, study: Study) -> FoundPanels:
        backdrop = held(site, self.backdrop)
        before = before_backdrop(site, study, backdrop)
        panels, hard = firmest_needed(seen_with(site, study, backdrop), study, backdrop, before)
        return FoundPanels(panels=panels, hard=hard)
