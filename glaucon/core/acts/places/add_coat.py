"""A coat is made."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from glaucon.core.acts.act import Act, ColourText
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.study import coats
from glaucon.core.study.roles import CoatId
from glaucon.core.study.study import Study


class AddCoat(Act):
    """Make a coat from a background, or as a copy of another."""

    act: Literal["add-coat"]
    called: Annotated[str, Field(max_length=200)]
    background: ColourText = "#ffffff"
    like: CoatId | None = None

    def apply(self, site: SiteAtHand, study: Study) -> Study:
        return coats.add_coat(study, self.called, self.background, self.like)[0]

    def label(self, before: Study, after: Study) -> str:
        return f"{after.coats[-1].label} added"
