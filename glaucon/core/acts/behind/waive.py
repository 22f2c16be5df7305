"""The owner says that something need not stand out, and why."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from glaucon.core.acts.act import Act
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.acts.behind.mend_beyond import BeyondKey
from glaucon.core.errors import StudyError
from glaucon.core.seeing.beyond import beyond_findings
from glaucon.core.study.study import Study
from glaucon.core.study.waivers import MOST_SELECTORS, WaivedAs, Waiver


class Waive(Act):
    """Let some things through as a logo, decoration or told otherwise; null: they count again."""

    act: Literal["waive"]
    key: BeyondKey
    said: WaivedAs | None
    why: Annotated[str, Field(max_length=200)] = ""

    def apply(self, site: SiteAtHand, study: Study) -> Study:
        found = next((one for one in beyond_findings(site.under(study), study) if one.key == self.key), None)
        if found is None:
            raise StudyError("This is not found any more. Look at the list again.")
        selectors = tuple(dict.fromkeys(one.selector for one in found.things))[:MOST_SELECTORS]
        what = found.first.what
        kept = [one for one in study.waived if one.what != what or not set(one.selectors) & set(selectors)]
        if self.said is not None:
            kept.append(Waiver(what=what, selectors=selectors, said=self.said, why=self.why.strip()))
        return study.model_copy(update={"waived": tuple(kept)})

    def label(self, before: Study, after: Study) -> str:
        said = {
            "logotype": "Marked as a logo",
            "decoration": "Marked as decoration",
            "told": "Marked as told otherwise",
        }
        return said[self.said] if self.said is not None else "Counts again"
