"""A backdrop is laid behind a place, or taken away."""

from __future__ import annotations

from typing import ClassVar, Literal

from glaucon.core.acts.act import Act, Effort
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.study.backdrops import Backdrop
from glaucon.core.study.coat_backdrops import with_backdrop, with_coat_backdrop
from glaucon.core.study.roles import CoatId
from glaucon.core.study.study import Study


class LayBackdrop(Act):
    """Lay a backdrop behind a place; one without layers takes it away. With `coat` it comes with that coat."""

    effort: ClassVar[Effort] = "heavy"

    act: Literal["lay-backdrop"]
    backdrop: Backdrop
    coat: CoatId | None = None

    def apply(self, site: SiteAtHand, study: Study) -> Study:
        held(site, self.backdrop)
        if self.coat:
            return with_coat_backdrop(study, self.coat, self.backdrop)
        return with_backdrop(study, self.backdrop)

    def get_ready(self, site: SiteAtHand, after: Study) -> None:
        site.make_files(after)

    def label(self, before: Study, after: Study) -> str:
        if self.coat is not None:
            return "Backdrop kept with a coat"
        return "Backdrop changed" if self.backdrop.layers else "Backdrop taken away"


def held(site: SiteAtHand, backdrop: Backdrop) -> Backdrop:
    """Return a backdrop whose place the site has. Raises: StudyError: it is not there."""
    if backdrop.where is not None:
        site.hold(backdrop.where)
    return backdrop
