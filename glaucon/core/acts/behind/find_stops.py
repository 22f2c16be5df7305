"""Other colours for a gradient's stops."""

from __future__ import annotations

from typing import ClassVar, Literal

from glaucon.core.acts.act import Answer, Effort, Search
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.acts.behind.lay_backdrop import held
from glaucon.core.acts.behind.trying import before_backdrop, seen_with
from glaucon.core.backdrops.stops import readable_stops
from glaucon.core.study.backdrops import Backdrop, Layer
from glaucon.core.study.study import Study


class FoundStops(Answer):
    """Layers whose gradient has other stops, and how many of them moved; `hard` is null where no other stops help."""

    search: Literal["stops"] = "stops"
    layers: tuple[Layer, ...]
    moved: int
    hard: int | None


class FindStops(Search):
    """Find other colours of the topmost gradient's stops, as few as will do, with which text over it can be read."""

    effort: ClassVar[Effort] = "heavy"

    search: Literal["stops"]
    backdrop: Backdrop

    def find(self, site: SiteAtHand, study: Study) -> FoundStops:
        backdrop = held(site, self.backdrop)
        before = before_backdrop(site, study, backdrop)
        found = readable_stops(seen_with(site, study, backdrop), study, backdrop, before)
        if found is None:
            return FoundStops(layers=backdrop.layers, moved=0, hard=None)
        return FoundStops(layers=found.backdrop.layers, moved=len(found.moved), hard=len(found.hard))
