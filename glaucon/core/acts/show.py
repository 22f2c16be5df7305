"""What some acts would show on the pages, while a hand still moves; nothing is kept."""

from __future__ import annotations

from typing import ClassVar, Literal

from glaucon.core.acts.act import Answer, Effort, Search
from glaucon.core.acts.any_act import Acts, applied
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.exchange.preview import PAGE_ATTRIBUTE, with_states
from glaucon.core.scopes.css import dressing_of
from glaucon.core.study.own_css import applied_css, palette_for_own
from glaucon.core.study.study import Study


def added_css(site: SiteAtHand, study: Study) -> str:
    """Return the rules that a study adds to a site, as its previews take them: what scopes wear, its own CSS."""
    survey, parts = site.known.survey, list[str]()
    if study.worn:
        dressing = dressing_of(study, survey)
        parts.append(with_states(dressing.for_previews(survey.pages, PAGE_ATTRIBUTE)))
    if study.backdrops:
        site.is_made(study)
        parts.append(site.backdrops(study).for_previews(survey.pages, PAGE_ATTRIBUTE))
    palette = palette_for_own(study)
    # below the palette as it is mixed, which the page holds in a sheet of its own
    own = with_states(applied_css(study)) + (f"\n@layer gl-own {{ {palette} }}" if palette else "")
    return "\n".join((*parts, own))


class ShownActs(Answer):
    """The rules that would show it; `is_ready` is false while pictures for it have yet to be made."""

    search: Literal["show"] = "show"
    css: str
    is_ready: bool


class ShowActs(Search):
    """Find the rules that would show some acts."""

    search: Literal["show"]
    acts: Acts

    def find(self, site: SiteAtHand, study: Study) -> ShownActs:
        shown = applied(site, study, self.acts)
        return ShownActs(css=added_css(site, shown), is_ready=site.is_made(shown))


class ShownMade(Answer):
    """The rules that show it; the files they name are made."""

    search: Literal["show-made"] = "show-made"
    css: str


class ShowMade(Search):
    """Find the rules that would show some acts, and make the files they name."""

    effort: ClassVar[Effort] = "heavy"

    search: Literal["show-made"]
    acts: Acts

    def find(self, site: SiteAtHand, study: Study) -> ShownMade:
        shown = applied(site, study, self.acts)
        site.make_files(shown)
        return ShownMade(css=added_css(site, shown))
