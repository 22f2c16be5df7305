"""All searches and their answers, by name. One that is not listed here does not exist for anybody outside."""

from __future__ import annotations

from typing import Annotated, get_args

from pydantic import Field

from glaucon.core.acts.act import Search
from glaucon.core.acts.behind.find_base import FindBase, FoundBase
from glaucon.core.acts.behind.find_focus import FindFocus, FoundFocus
from glaucon.core.acts.behind.find_panels import FindPanels, FoundPanels
from glaucon.core.acts.behind.find_plate import FindPlate, FoundPlate
from glaucon.core.acts.behind.find_stops import FindStops, FoundStops
from glaucon.core.acts.behind.find_veil import FindVeil, FoundVeil
from glaucon.core.acts.behind.try_backdrop import TriedBackdrop, TryBackdrop
from glaucon.core.acts.behind.try_failed import FailedBackdrop, TryFailed
from glaucon.core.acts.behind.write_css import CheckCss, CssProblems
from glaucon.core.acts.palette.swap import FindSwapPlaces, SwapPlaces
from glaucon.core.acts.show import ShowActs, ShowMade, ShownActs, ShownMade
from glaucon.core.acts.whole.find_fixes import FindFixes, FoundFixes
from glaucon.core.acts.whole.find_palette import FindPalette, MadePalette
from glaucon.core.acts.whole.nearest import FindNearest, FindReadableAmong, NearestColour, ReadableAmong
from glaucon.core.acts.whole.offers import FindOffers, FoundOffers
from glaucon.core.acts.whole.take_palette import FitPalette, FittedPalette

AnySearch = Annotated[
    FindFixes | FindOffers | FindNearest | FindReadableAmong | FindPalette | FindSwapPlaces | FindVeil
    | FindPanels | FindPlate | FindBase | FindStops | FindFocus | TryBackdrop | TryFailed | CheckCss | ShowActs
    | ShowMade | FitPalette,
    Field(discriminator="search"),
]  # fmt: skip
AnyAnswer = Annotated[
    FoundFixes | FoundOffers | NearestColour | ReadableAmong | MadePalette | SwapPlaces | FoundVeil
    | FoundPanels | FoundPlate | FoundBase | FoundStops | FoundFocus | TriedBackdrop | FailedBackdrop
    | CssProblems | ShownActs | ShownMade | FittedPalette,
    Field(discriminator="search"),
]  # fmt: skip
SEARCHES: dict[str, type[Search]] = {one.name(): one for one in get_args(get_args(AnySearch)[0])}
