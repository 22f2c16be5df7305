"""A role is called otherwise."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from glaucon.core.acts.act import Act
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.study import editing
from glaucon.core.study.study import Study
from glaucon.core.study.ties import RoleId


class RenameRole(Act):
    """Rename a colour of the palette."""

    act: Literal["rename-role"]
    role: RoleId
    to: Annotated[str, Field(max_length=200)]

    def apply(self, site: SiteAtHand, study: Study) -> Study:
        return editing.rename_role(study, self.role, self.to)

    def label(self, before: Study, after: Study) -> str:
        return f"{before.role(self.role).label} renamed {after.role(self.role).label}"
