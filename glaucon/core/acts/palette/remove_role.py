"""A role is removed."""

from __future__ import annotations

from typing import Literal

from glaucon.core.acts.act import Act
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.study import editing
from glaucon.core.study.study import Study
from glaucon.core.study.ties import RoleId


class RemoveRole(Act):
    """Remove a colour; `is_answered` says that `to` is where its places go (null: under no colour)."""

    act: Literal["remove-role"]
    role: RoleId
    to: RoleId | None = None
    is_answered: bool = False

    def apply(self, site: SiteAtHand, study: Study) -> Study:
        return editing.remove_role(study, self.role, self.to, self.is_answered)

    def label(self, before: Study, after: Study) -> str:
        return f"{before.role(self.role).label} removed"
