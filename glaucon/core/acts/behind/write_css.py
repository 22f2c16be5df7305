"""The owner's own CSS."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from glaucon.core.acts.act import Act, Answer, Effort, Search
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.study.own_css import problems_with_palette, with_own_css
from glaucon.core.study.study import Study

MOST_CSS = 16_000  # letters; the rest of what a study may add is for the fading rules
Css = Annotated[str, Field(max_length=MOST_CSS)]


class WriteCss(Act):
    """Save the owner's CSS, valid or not; it is applied only if it parses."""

    effort: ClassVar[Effort] = "heavy"

    act: Literal["write-css"]
    css: Css

    def apply(self, site: SiteAtHand, study: Study) -> Study:
        return with_own_css(study, self.css)

    def label(self, before: Study, after: Study) -> str:
        return "Own CSS changed"


class CssTold(Answer):
    """What is wrong with a line of CSS; with `stops` nothing of the CSS is applied."""

    line: int
    message: str
    stops: bool


class CssProblems(Answer):
    """What is wrong with some CSS, line by line."""

    search: Literal["check-css"] = "check-css"
    problems: list[CssTold]


class CheckCss(Search):
    """Find what is wrong with CSS as it is typed."""

    search: Literal["check-css"]
    css: Css

    def find(self, site: SiteAtHand, study: Study) -> CssProblems:
        return CssProblems(problems=told_of(self.css, study))


def told_of(css: str, study: Study) -> list[CssTold]:
    """Return what is wrong with some CSS under a study's palette."""
    return [
        CssTold(line=one.line, message=one.message, stops=one.stops) for one in problems_with_palette(css, study.roles)
    ]
