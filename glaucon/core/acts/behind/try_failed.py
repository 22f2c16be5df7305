"""How a backdrop would read should its pictures fail to load."""

from __future__ import annotations

from typing import ClassVar, Literal

from glaucon.core.acts.act import Answer, Effort, PagePath, Search
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.acts.behind.find_focus import Width
from glaucon.core.acts.behind.lay_backdrop import held
from glaucon.core.acts.behind.trying import before_backdrop
from glaucon.core.backdrops.trying import texts_on
from glaucon.core.reading.reading import VERDICTS
from glaucon.core.study.backdrops import Backdrop
from glaucon.core.study.coat_backdrops import with_backdrop
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey


class FailedBackdrop(Answer):
    """How many texts are hard to read on a backdrop whose pictures fail to load."""

    search: Literal["try-failed"] = "try-failed"
    hard: int


class TryFailed(Search):
    """Find how many texts of a page would be hard to read should a backdrop's pictures fail to load."""

    effort: ClassVar[Effort] = "page"

    search: Literal["try-failed"]
    backdrop: Backdrop
    page: PagePath
    width: Width = 1280

    def find(self, site: SiteAtHand, study: Study) -> FailedBackdrop:
        site.hold_page(self.page)
        backdrop = held(site, self.backdrop)
        if not list(backdrop.pictures):
            return FailedBackdrop(hard=0)
        tried = with_backdrop(study, backdrop)
        failed = site.on_pages(tried, [self.page], [ContextKey(self.width, "rest")], with_pictures=False)
        found = texts_on(failed, tried, backdrop, before_backdrop(site, study, backdrop))
        return FailedBackdrop(hard=sum(VERDICTS[one.verdict] == "fail" for one in found))
