"""A coat is called otherwise."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from glaucon.core.acts.act import Act
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.study import coats
from glaucon.core.study.roles import CoatId
from glaucon.core.study.study import Study


class RenameCoat(Act):
    """Rename a coat."""

    act: Literal["rename-coat"]
    coat: CoatId
    to: Annotated[str, Field(max_length=200)]

    def apply(self, site: SiteAtHand, study: Study) -> Study:
        return coats.rename_coat(study, self.coat, self.to)

    def label(self, before: Study, after: Study) -> str:
        return f"Coat renamed {next(one.label for one in after.coats if one.id == self.coat)}"
