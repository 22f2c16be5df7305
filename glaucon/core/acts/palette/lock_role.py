"""A role is locked."""

from __future__ import annotations

from typing import Literal

from glaucon.core.acts.act import Act
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.study import editing
from glaucon.core.study.study import Study
from glaucon.core.study.ties import RoleId


class LockRole(Act):
    """Keep a colour as it is whatever is fixed or made, or let it go."""

    act: Literal["lock-role"]
    role: RoleId
    is_locked: bool

    def apply(self, site: SiteAtHand, study: Study) -> Study:
        return editing.lock_role(study, self.role, self.is_locked)

    def label(self, before: Study, after: Study) -> str:
        return f"{after.role(self.role).label} {'locked' if self.is_locked else 'unlocked'}"
