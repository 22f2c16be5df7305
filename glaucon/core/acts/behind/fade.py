"""Text that the page fades is faded less."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Literal

from pydantic import Field

from glaucon.core.acts.act import Act
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.errors import StudyError
from glaucon.core.study.fading import with_fade, with_fades
from glaucon.core.study.study import Study
from glaucon.core.wording import percent

Opacity = Annotated[float, Field(ge=0, le=1)]
Selector = Annotated[str, Field(min_length=1, max_length=400)]


class Fade(Act):
    """Give all that a selector of the page fades another opacity; null: as the page has it."""

    act: Literal["fade"]
    selector: Selector
    opacity: Opacity | None = None

    def apply(self, site: SiteAtHand, study: Study) -> Study:
        refuse_unfaded(site, [self.selector])
        return with_fade(study, self.selector, self.opacity)

    def label(self, before: Study, after: Study) -> str:
        return f"Faded text at {percent(self.opacity)}" if self.opacity is not None else "Fading as the page has it"


def with_less_fading(site: SiteAtHand, study: Study, fades: Mapping[str, float]) -> Study:
    """Return a study with what the page fades at other opacities. Raises: StudyError: a selector fades nothing."""
    refuse_unfaded(site, fades)
    return with_fades(study, fades)


def refuse_unfaded(site: SiteAtHand, selectors: Mapping[str, float] | list[str]) -> None:
    """Raise StudyError where a selector fades no text of the site."""
    wrong = next((selector for selector in selectors if selector not in site.known.index.faded_by), None)
    if wrong is not None:
        raise StudyError(f"“{wrong[:80]}” fades no text on this site. Look at the pages again.")
