"""Places take the colours of another place."""

from __future__ import annotations

from typing import Literal

from glaucon.core.acts.act import Act
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.acts.places.wear import Places
from glaucon.core.scopes.coats_worn import came_with
from glaucon.core.study.coats import wear_as
from glaucon.core.study.scopes import Like, Where
from glaucon.core.study.study import Study
from glaucon.core.wording import counted


class WearLike(Act):
    """Let places take the colours of another place from now on, whatever that one wears."""

    act: Literal["wear-like"]
    places: Places
    like: Where

    def apply(self, site: SiteAtHand, study: Study) -> Study:
        for place in (*self.places, self.like):
            site.hold(place)
        like = Like.model_validate({"in": self.like, "came": came_with(site.known, study, self.like)})
        return wear_as(study, self.places, like)

    def label(self, before: Study, after: Study) -> str:
        return f"{counted(len(self.places), 'place')} coloured like another"
