"""The least veil over a backdrop."""

from __future__ import annotations

from typing import ClassVar, Literal

from glaucon.core.acts.act import Answer, Effort, Search
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.acts.behind.lay_backdrop import held
from glaucon.core.acts.behind.trying import before_backdrop, seen_with
from glaucon.core.backdrops.veils import least_veil, with_veil
from glaucon.core.study.backdrops import Backdrop, Layer
from glaucon.core.study.study import Study


class HardText(Answer):
    """A text by its page and path."""

    page: str
    path: str


class FoundVeil(Answer):
    """The least veil, as layers with it; `hard` texts stay hard to read whatever the veil."""

    search: Literal["veil"] = "veil"
    opacity: float
    hard: list[HardText]
    layers: tuple[Layer, ...]


class FindVeil(Search):
    """Find the least veil with which no text is hard to read that a veil can help, on wide and narrow screens."""

    effort: ClassVar[Effort] = "heavy"

    search: Literal["veil"]
    backdrop: Backdrop

    def find(self, site: SiteAtHand, study: Study) -> FoundVeil:
        backdrop = held(site, self.backdrop)
        least = least_veil(
            seen_with(site, study, backdrop), study, backdrop, before_backdrop(site, study, backdrop)
        )  # fmt: skip
        veiled = with_veil(study, backdrop, least.opacity, least.colour)
        hard = [HardText(page=page, path=path) for page, path in least.hard]
        return FoundVeil(opacity=least.opacity, hard=hard, layers=veiled.layers)
