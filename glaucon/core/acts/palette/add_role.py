"""A colour of the owner's own."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from glaucon.core.acts.act import Act, ColourText
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.study import editing
from glaucon.core.study.study import Study


class AddRole(Act):
    """Add a colour to the palette."""

    act: Literal["add-role"]
    called: Annotated[str, Field(max_length=200)]
    value: ColourText = "#808080"

    def apply(self, site: SiteAtHand, study: Study) -> Study:
        return editing.add_role(study, self.called, self.value)[0]

    def label(self, before: Study, after: Study) -> str:
        return f"{after.roles[-1].label} added"
