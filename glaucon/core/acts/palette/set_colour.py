"""A role gets another colour."""

from __future__ import annotations

from typing import Literal

from glaucon.core.acts.act import Act, ColourText
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.study.study import Study
from glaucon.core.study.ties import RoleId


class SetColour(Act):
    """Give a role another colour; with `merge` all that is merged with it takes it too."""

    act: Literal["set-colour"]
    role: RoleId
    value: ColourText
    merge: bool = False

    def apply(self, site: SiteAtHand, study: Study) -> Study:
        return study.with_values({self.role: self.value}, self.merge)

    def label(self, before: Study, after: Study) -> str:
        role = after.role(self.role)
        return f"{role.label} to {role.value}"
