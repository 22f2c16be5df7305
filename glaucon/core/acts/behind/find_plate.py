"""The least plate right behind the texts that are hard to read."""

from __future__ import annotations

from typing import ClassVar, Literal

from glaucon.core.acts.act import Answer, Effort, Search
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.acts.behind.lay_backdrop import held
from glaucon.core.acts.behind.trying import plate_behind
from glaucon.core.study.backdrops import Backdrop, Plate
from glaucon.core.study.study import Study


class FoundPlate(Answer):
    """The least plate behind the texts that are hard to read, null where none helps; `hard` stay so even on it."""

    search: Literal["plate"] = "plate"
    plate: Plate | None
    hard: int


class FindPlate(Search):
    """Find the least plate behind those texts of a backdrop's place that are hard to read, on all screens."""

    effort: ClassVar[Effort] = "heavy"

    search: Literal["plate"]
    backdrop: Backdrop

    def find(self, site: SiteAtHand, study: Study) -> FoundPlate:
        found = plate_behind(site, study, held(site, self.backdrop))
        return FoundPlate(plate=found[0].plate if found else None, hard=len(found[1].hard) if found else 0)
