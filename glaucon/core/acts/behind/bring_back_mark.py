"""A logo or icon that is lost on what lies behind it stands out again."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from glaucon.core.acts.act import Act, Effort
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.errors import StudyError
from glaucon.core.places.lost_marks import Way, lost_marks, rule_for
from glaucon.core.study.own_css import with_more_css
from glaucon.core.study.study import Study


class BringBackMark(Act):
    """Add the rule that makes a lost logo or icon stand out again to the owner's own CSS."""

    effort: ClassVar[Effort] = "heavy"

    act: Literal["bring-back-mark"]
    kind: Literal["picture", "background", "drawing"] = "picture"
    source: Annotated[str, Field(max_length=400)]
    section: Annotated[str, Field(max_length=200)] = ""
    way: Way

    def apply(self, site: SiteAtHand, study: Study) -> Study:
        known = site.under(study)
        wanted = self.kind, self.source, self.section
        for one in lost_marks(known, site.known, study, site.versions):
            if (one.kind, one.source, one.section) == wanted and self.way in one.ways:
                return with_more_css(study, [rule_for(known, one, self.way)])
        raise StudyError("This picture is not lost any more. Look at the bench again.")

    def label(self, before: Study, after: Study) -> str:
        return "Picture made to stand out"
