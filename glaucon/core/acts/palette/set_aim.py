"""How well all is to be readable."""

from __future__ import annotations

from typing import Literal

from glaucon.core.acts.act import Act
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.study import editing
from glaucon.core.study.study import Aim, Study


class SetAim(Act):
    """Set the aim: AA (normal) or AAA (strict)."""

    act: Literal["set-aim"]
    aim: Aim

    def apply(self, site: SiteAtHand, study: Study) -> Study:
        return editing.aim_at(study, self.aim)

    def label(self, before: Study, after: Study) -> str:
        return f"Aim set to {self.aim}"
