"""The palette proposed for the site is used, as it is or merged more or less."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from glaucon.core.acts.act import Act
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.study import editing
from glaucon.core.study.study import Study


class UsePalette(Act):
    """Use the palette proposed within a distance (null: the one there is); with `merge`, merge what looks alike."""

    act: Literal["use-palette"]
    within: Annotated[float, Field(ge=0, le=4)] | None = None
    merge: bool = False

    def apply(self, site: SiteAtHand, study: Study) -> Study:
        if self.within is not None:
            study = site.known.proposed(study, self.within)
        return editing.take_merges(study, site.known.survey.tokens) if self.merge else study

    def label(self, before: Study, after: Study) -> str:
        return "Palette used: nearly alike colours merged" if self.merge else "Palette proposed again"
