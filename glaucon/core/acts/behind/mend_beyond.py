"""What besides text has to be seen is made to stand out."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from glaucon.core.acts.act import Act, Effort
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.errors import StudyError
from glaucon.core.seeing.beyond import beyond_findings
from glaucon.core.seeing.beyond_rules import rule_for
from glaucon.core.study.own_css import with_more_css
from glaucon.core.study.study import Study

BeyondKey = Annotated[str, Field(max_length=200)]


class MendBeyond(Act):
    """Add the rules that make some fields, links and signs of focus stand out to the owner's own CSS."""

    effort: ClassVar[Effort] = "heavy"

    act: Literal["mend-beyond"]
    keys: Annotated[tuple[BeyondKey, ...], Field(min_length=1, max_length=60)]

    def apply(self, site: SiteAtHand, study: Study) -> Study:
        found = {one.key: one for one in beyond_findings(site.under(study), study)}
        rules = [rule for key in self.keys if key in found and (rule := rule_for(found[key], study))]
        if not rules:
            raise StudyError("There is nothing left to fix here. Look at the list again.")
        return with_more_css(study, rules)

    def label(self, before: Study, after: Study) -> str:
        return "Made easier to see"
