"""The roles stand in another order."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from glaucon.core.acts.act import Act
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.study import editing
from glaucon.core.study.study import Study
from glaucon.core.study.ties import RoleId


class OrderRoles(Act):
    """Put the colours of the palette into another order; those not named come last."""

    act: Literal["order-roles"]
    order: Annotated[tuple[RoleId, ...], Field(max_length=400)]

    def apply(self, site: SiteAtHand, study: Study) -> Study:
        return editing.order_roles(study, self.order)

    def label(self, before: Study, after: Study) -> str:
        return "Colours reordered"
