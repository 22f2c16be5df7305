"""A surveyed site with all that its studies are read with, made once."""

from __future__ import annotations

from collections.abc import Hashable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

from glaucon.core.palette.editing import repropose
from glaucon.core.palette.found import FoundColour, found_colours
from glaucon.core.palette.proposal import Proposal, propose
from glaucon.core.palette.study import MappedTokens, Study
from glaucon.core.palette.usage import RoleUse, TokenUse, role_uses, token_uses
from glaucon.core.reading.findings import SiteReading, SurveyIndex
from glaucon.core.survey.model import Survey


@dataclass
class KnownSite:
    """A survey made ready for reading, with its tokens made ready for studies."""

    survey: Survey
    _proposals: dict[float, Proposal] = field(default_factory=dict)
    # what mending works out of the site for the last mapping (see `mend_all`)
    remembered: dict[Hashable, Any] = field(default_factory=dict)

    @cached_property
    def index(self) -> SurveyIndex:
        """Return the survey's pairings, ready for reading."""
        return SurveyIndex(self.survey)

    @cached_property
    def tokens(self) -> MappedTokens:
        """Return the survey's tokens, ready for studies."""
        return MappedTokens(self.survey.tokens)

    @cached_property
    def uses(self) -> list[TokenUse]:
        """Return what each found colour does."""
        return token_uses(self.survey)

    @cached_property
    def found(self) -> list[FoundColour]:
        """Return the found colours by use."""
        return found_colours(self.survey.tokens, self.uses)

    def read(self, study: Study) -> SiteReading:
        """Return the reading of a study on the site."""
        return self.index.read(self.tokens.values(study), self.tokens.roles(study), study.level)

    def proposed(self, study: Study, within: float) -> Study:
        """Return a study with the palette proposed anew, remembered for the last few (see `propose`)."""
        if within not in self._proposals:
            if len(self._proposals) > 8:
                self._proposals.clear()
            self._proposals[within] = propose(self.survey, within)
        return repropose(study, self._proposals[within], self.survey.tokens)

    def role_uses(self, study: Study) -> dict[str, RoleUse]:
        """Return what each role of a study mostly does."""
        return role_uses(self.uses, self.tokens.roles(study))
