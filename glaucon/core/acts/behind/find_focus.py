"""The part of a picture on which text reads best."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from glaucon.core.acts.act import Answer, Effort, PagePath, Search
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.acts.behind.lay_backdrop import held
from glaucon.core.acts.behind.trying import before_backdrop, seen_with
from glaucon.core.backdrops.trying import at_focus, best_focus, texts_on
from glaucon.core.colour.contrast import cut_ratio
from glaucon.core.errors import StudyError
from glaucon.core.study.backdrops import Backdrop, Layer
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey

Width = Annotated[int, Field(ge=200, le=4000)]


class FoundFocus(Answer):
    """The part of the picture that the texts read best on, as layers with it."""

    search: Literal["focus"] = "focus"
    at: tuple[float, float]
    lowest: float | None
    layers: tuple[Layer, ...]


class FindFocus(Search):
    """Find the part of the topmost picture on which the texts of a page read best at a width."""

    effort: ClassVar[Effort] = "heavy"

    search: Literal["focus"]
    backdrop: Backdrop
    page: PagePath
    width: Width = 1280

    def find(self, site: SiteAtHand, study: Study) -> FoundFocus:
        site.hold_page(self.page)
        backdrop = held(site, self.backdrop)
        if not list(backdrop.pictures):
            raise StudyError("There is no picture behind this. Add one first.")
        seen = seen_with(site, study, backdrop, [ContextKey(self.width, "rest")], 1, self.page)
        before = before_backdrop(site, study, backdrop)
        at = best_focus(seen, study, backdrop, lambda done, total: None, before)
        there = at_focus(backdrop, at)
        ratios = [one.ratio for one in texts_on(seen(there), study, there, before) if one.ratio is not None]
        return FoundFocus(at=at, lowest=cut_ratio(min(ratios)) if ratios else None, layers=there.layers)
