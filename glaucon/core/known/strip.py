"""A palette as a strip in proportion: backgrounds by the text on them, text colours by their text."""

from __future__ import annotations

from collections import defaultdict

from pydantic import BaseModel

from glaucon.core.known.site import KnownSite
from glaucon.core.study.study import Study

_LEAST_SHARE = 0.02  # that a colour is shown with, so that it can be seen
_MOST = 15


class StripColour(BaseModel):
    """One colour of a strip and its share of it, 0 to 1."""

    colour: str
    share: float


def strip_of(site: KnownSite, study: Study) -> list[StripColour]:
    """Return a study's short palette in proportion, the largest share first."""
    weights: dict[str, float] = defaultdict(float)
    of_role = site.tokens.tokens_of(study)
    coats = {coat.id for coat in study.short_coats()}
    for role in study.roles:
        if role.tier != "main" or role.state != "rest" or (role.coat is not None and role.coat not in coats):
            continue
        uses = [site.uses[number] for number in of_role.get(role.id, [])]
        # a background fills about ten times the area that the strokes of its text do
        weights[role.colour.with_alpha(1.0).hex()] += sum(use.background * 10 + use.text for use in uses)
    rooted = {colour: weight**0.5 for colour, weight in weights.items() if weight > 0}
    ordered = sorted(rooted.items(), key=lambda item: -item[1])[:_MOST]
    total = sum(weight for _, weight in ordered) or 1.0
    return [StripColour(colour=colour, share=max(_LEAST_SHARE, weight / total)) for colour, weight in ordered]
