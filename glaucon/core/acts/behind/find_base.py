"""A base colour that can be read should the pictures fail to load."""

from __future__ import annotations

from typing import ClassVar, Literal

from glaucon.core.acts.act import Answer, Effort, Search
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.acts.behind.lay_backdrop import held
from glaucon.core.acts.behind.trying import before_backdrop, seen_with
from glaucon.core.backdrops.bases import readable_base
from glaucon.core.study.backdrops import Backdrop, Layer
from glaucon.core.study.study import Study


class FoundBase(Answer):
    """Layers with a base colour on which text can be read where no picture loads; `hard` texts stay so on any."""

    search: Literal["base"] = "base"
    layers: tuple[Layer, ...]
    hard: int


class FindBase(Search):
    """Find the base colour nearest to a backdrop's own on which its texts can be read should its pictures fail."""

    effort: ClassVar[Effort] = "heavy"

    search: Literal["base"]
    backdrop: Backdrop

    def find(self, site: SiteAtHand, study: Study) -> FoundBase:
        backdrop = held(site, self.backdrop)
        seen = seen_with(site, study, backdrop, with_pictures=False)
        found = readable_base(seen, study, backdrop, before_backdrop(site, study, backdrop))
        return FoundBase(layers=found.backdrop.layers, hard=len(found.hard))
