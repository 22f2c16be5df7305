"""One change since the last release is taken back, all else kept."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from glaucon.core.acts.act import Act, Effort
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.changes.shown import as_it_came
from glaucon.core.changes.taking_back import taken_back
from glaucon.core.changes.told import told_changes
from glaucon.core.errors import StudyError
from glaucon.core.study.study import Study


class TakeBack(Act):
    """Take back one change to what is live, or to the site as it came in where nothing is live.

    `change` is its key among the changes of a release.
    """

    effort: ClassVar[Effort] = "heavy"  # rules and backdrops come and go

    act: Literal["take-back"]
    change: Annotated[str, Field(max_length=2000)]

    def apply(self, site: SiteAtHand, study: Study) -> Study:
        before = site.released() or as_it_came(study)
        told = next((one for one in told_changes(before, study) if one.key == self.change), None)
        if told is None:
            raise StudyError("That change is not there any more. Look at the list of changes again.")
        return taken_back(study, before, told)

    def get_ready(self, site: SiteAtHand, after: Study) -> None:
        site.make_files(after)

    def label(self, before: Study, after: Study) -> str:
        names = [one.label for one in told_changes(before, after) if one.label]
        return f"Took back “{names[0]}”" if names else "Took back a change of one place"
