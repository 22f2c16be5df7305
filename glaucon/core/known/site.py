"""A surveyed site with all that its studies are read with, made once."""

from __future__ import annotations

from collections.abc import Hashable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from glaucon.core.cascade.tokens import ColourToken
from glaucon.core.colour.oklab import Floats
from glaucon.core.proposal.covering import covered_share
from glaucon.core.proposal.entries import Proposal
from glaucon.core.proposal.found import FoundColour, found_colours
from glaucon.core.proposal.grouping import is_section
from glaucon.core.proposal.proposal import propose
from glaucon.core.proposal.reproposal import reproposed
from glaucon.core.proposal.usage import PairingUse, RoleUse, TokenUse, pairing_uses, rest_weights, role_uses, token_uses
from glaucon.core.reading.findings import SiteReading, SurveyIndex
from glaucon.core.reading.reading import FAIL, CompiledPairings, Readings, Worn
from glaucon.core.scopes.reading import Dressed, colours_of, dressed, named, read_dressed
from glaucon.core.study.fading import fades_of
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study
from glaucon.core.study.wearing import Wearing
from glaucon.core.survey.model import Survey


@dataclass(eq=False)
class KnownSite:
    """A survey made ready for reading, with its tokens made ready for studies."""

    survey: Survey
    _proposals: dict[float, Proposal] = field(default_factory=dict)
    # what fixing works out of the site for the last mapping (see `mend_all`)
    remembered: dict[Hashable, Any] = field(default_factory=dict)
    _dressed: tuple[tuple[Where, ...], Dressed] | None = None

    @cached_property
    def index(self) -> SurveyIndex:
        """Return the survey's pairings, ready for reading."""
        return SurveyIndex(self.survey)

    @cached_property
    def tokens(self) -> Wearing:
        """Return the survey's tokens, ready for studies."""
        return Wearing(self.survey.tokens)

    @cached_property
    def pairing_uses(self) -> list[PairingUse]:
        """Return the use of every pairing."""
        return pairing_uses(self.survey)

    @cached_property
    def uses(self) -> list[TokenUse]:
        """Return what each found colour does."""
        return token_uses(self.survey, self.index, self.pairing_uses)

    @cached_property
    def found(self) -> list[FoundColour]:
        """Return the found colours by use, those that no page shows last."""
        return found_colours(self.survey.tokens, self.uses)

    @cached_property
    def weights(self) -> Floats:
        """Return each pairing's painted weight at rest on the widest screen, shape (pairings,)."""
        return rest_weights(self.survey)

    @cached_property
    def as_found(self) -> Readings:
        """Return the verdicts of the site as it came."""
        return self.index.compiled.read(self.tokens.found)

    @cached_property
    def _of_file(self) -> dict[str, list[ColourToken]]:
        found: dict[str, list[ColourToken]] = {}
        for token in self.survey.tokens:
            found.setdefault(token.file, []).append(token)
        return found

    def tokens_of_file(self, path: str) -> list[ColourToken]:
        """Return the tokens of one file; those of no file are the browser's defaults."""
        return self._of_file.get(path, [])

    def read(self, study: Study) -> SiteReading:
        """Return the reading of a study on the site."""
        roles = self.tokens.roles(study)
        if not study.worn:
            return self.index.read(self.tokens.values(study), roles, study.aim, fades_of(study))
        dressing = self.dressed(study)
        reading = read_dressed(dressing, self.tokens, roles, study)
        names: dict[int, str] = {}
        for finding in reading.findings:
            if finding.dress not in names:
                names[finding.dress] = named(dressing, self.survey, study, finding.dress)
            finding.where = names[finding.dress]
        return reading

    def dressed(self, study: Study) -> Dressed:
        """Return the site's texts by what they wear, remembered for the last places that something is worn at."""
        places = tuple(scope.where for scope in study.worn)
        if self._dressed is None or self._dressed[0] != places:
            self._dressed = (places, dressed(self.survey, self.index, study))
        return self._dressed[1]

    def worn_colours(self, study: Study) -> Worn:
        """Return the tokens' colours that `read(study).index` is read with: those of each dress under scopes."""
        if not study.worn:
            return self.tokens.values(study)
        return colours_of(self.dressed(study), self.tokens, study)

    def compiled(self, study: Study) -> CompiledPairings:
        """Return the site's pairings ready for reading, what the page fades as a study has it."""
        return self.index.compiled.faded(fades_of(study))

    def failing(self, study: Study) -> NDArray[np.bool_]:
        """Return for each pairing whether it is hard to read under a study."""
        return np.asarray(self.compiled(study).read(self.tokens.values(study), study.aim).verdict == FAIL)

    def proposal(self, within: float = 1.0) -> Proposal:
        """Return the palette proposed for the site, remembered for the last few (see `propose`)."""
        if within not in self._proposals:
            if len(self._proposals) > 8:
                self._proposals.clear()
            self._proposals[within] = propose(self.survey, self.uses, within)
        return self._proposals[within]

    def proposed(self, study: Study, within: float) -> Study:
        """Return a study with the palette proposed anew."""
        return reproposed(study, self.proposal(within), self.survey)

    def first_study(self, name: str) -> Study:
        """Return the study that leaves every colour as it came, with the proposed palette."""
        return self.proposal().study(self.survey, name)

    def covers(self, study: Study) -> float:
        """Return the share of the painted site that a study's short palette colours, 0 to 1."""
        return covered_share(study.as_found(), self.as_found, self.weights)

    def sections_of(self, study: Study, coat: str) -> int:
        """Return how many sections of the site have a coat: what paints its background, small things aside."""
        of_role = self.tokens.tokens_of(study)
        numbers = [n for r in study.roles_of(coat) if r.is_background for n in of_role.get(r.id, [])]
        painted = [item for n in numbers for item in self.survey.painters.get(n, {}).items()]
        sections = sum(found.elements for painter, found in painted if is_section(painter, found))
        return sections or sum(found.elements for _, found in painted)

    def role_uses(self, study: Study) -> dict[str, RoleUse]:
        """Return what each role of a study mostly does."""
        return role_uses(self.uses, self.tokens.roles(study))
