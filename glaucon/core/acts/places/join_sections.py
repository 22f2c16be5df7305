"""Sections that lie one under another become one."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from glaucon.core.acts.act import Act, PagePath
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.places.joining import join_sections, part_sections
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study


class JoinSections(Act):
    """Close the gaps between sections that lie one under another, on a page or on all; or open them again."""

    act: Literal["join-sections"]
    sections: Annotated[tuple[Annotated[str, Field(max_length=200)], ...], Field(max_length=60)]
    page: PagePath | None = None
    apart: bool = False

    def apply(self, site: SiteAtHand, study: Study) -> Study:
        for key in self.sections:
            site.hold(Where(section=key, page=self.page))
        if self.apart:
            return part_sections(study, self.sections)
        regions = [region for region in site.known.survey.regions if region.key in self.sections]
        pages = site.known.survey.pages if self.page is None else [self.page]
        return join_sections(study, site.files(), site.layouts(pages), regions, pages)

    def label(self, before: Study, after: Study) -> str:
        return "Sections parted" if self.apart else "Sections joined"
