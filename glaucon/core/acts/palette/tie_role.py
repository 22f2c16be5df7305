"""A role follows another one."""

from __future__ import annotations

from typing import Literal

from glaucon.core.acts.act import Act
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.study import editing
from glaucon.core.study.study import Study
from glaucon.core.study.ties import RoleId, Tie


class TieRole(Act):
    """Let a colour follow another one; without a tie it follows no more."""

    act: Literal["tie-role"]
    role: RoleId
    tie: Tie | None

    def apply(self, site: SiteAtHand, study: Study) -> Study:
        return editing.tie_role(study, self.role, self.tie)

    def label(self, before: Study, after: Study) -> str:
        label = after.role(self.role).label
        return f"{label} follows {after.role(self.tie.to).label}" if self.tie else f"{label} stopped following"
