"""A coat is deleted."""

from __future__ import annotations

from typing import Literal

from glaucon.core.acts.act import Act
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.study import coats
from glaucon.core.study.roles import CoatId
from glaucon.core.study.study import Study


class DeleteCoat(Act):
    """Delete a coat; `is_answered` says that its wearers wear `to` (null: the site's own colours)."""

    act: Literal["delete-coat"]
    coat: CoatId
    to: CoatId | None = None
    is_answered: bool = False

    def apply(self, site: SiteAtHand, study: Study) -> Study:
        return coats.delete_coat(study, self.coat, self.to, self.is_answered)

    def label(self, before: Study, after: Study) -> str:
        return f"{next(one.label for one in before.coats if one.id == self.coat)} deleted"
