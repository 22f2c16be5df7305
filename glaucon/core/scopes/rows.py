"""A survey read where regions wear something of their own: pairings once more for each way they are dressed."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from glaucon.core.colour.oklab import Floats
from glaucon.core.reading.colour_table import TokenColours
from glaucon.core.reading.findings import Numbers, PairingRoles, SiteReading, SurveyIndex
from glaucon.core.survey.model import Sightings, Survey


class DressedIndex(SurveyIndex):
    """An index whose rows are pairings under what is worn around them: the plain ones first, then the dressed ones.

    `dresses` gives for each run the number of what it wears, 0 for nothing but the site's own.
    """

    def __init__(self, plain: SurveyIndex, dresses: Numbers) -> None:
        survey = plain.survey
        size, worn = len(survey.pairings), int(dresses.max(initial=0)) + 1
        rows: dict[int, int] = {}
        sightings = {key: _dressed(one, dresses, worn, size, rows) for key, one in survey.sightings.items()}
        both = np.array(list(rows), dtype=np.int64)
        extra = [survey.pairings[number] for number in (both // worn).tolist()]
        self._plain = plain
        self.pairing = np.concatenate([np.arange(size), both // worn])
        dress = np.concatenate([np.zeros(size, dtype=np.int64), both % worn])
        dressed: Survey = replace(survey, pairings=[*survey.pairings, *extra], sightings=sightings)
        super().__init__(dressed, plain.compiled.worn(self.pairing, dress))
        self.dress = dress

    # what dress changes nothing about is the plain index' own

    def _gather_runs(self) -> None:
        self._run_page, self._run_characters = self._plain._run_page, self._plain._run_characters

    def _gather_tokens(self) -> None:
        plain, own = self._plain, self.pairing.tolist()
        self._text_token = [plain._text_token[number] for number in own]
        self._background_tokens = [plain._background_tokens[number] for number in own]
        self._all_tokens = [plain._all_tokens[number] for number in own]
        self._lies_on = [plain._lies_on[number] for number in own]
        self._on_picture = plain._on_picture[self.pairing]

    def _find_roles(self, roles: Mapping[int, str]) -> PairingRoles:
        plain = self._plain.roles_of(roles)
        involved = []
        for rows in plain.involved:
            ours = np.zeros(len(self._plain.survey.pairings), dtype=bool)
            ours[rows] = True
            involved.append(np.nonzero(ours[self.pairing] & self.is_used)[0])
        readings = self._counted(plain.names, involved)
        return PairingRoles(plain.names, plain.text[self.pairing], plain.background[self.pairing], readings, involved)

    def read_dressed(
        self, colours: Sequence[Floats | TokenColours], roles: Mapping[int, str], aim: str, fades: Mapping[str, float]
    ) -> SiteReading:
        """Return the reading of a study: `colours` are the tokens' for each dress, the plain one first."""
        return self.reading(self.compiled.faded(fades).read(colours, aim), roles)


def _dressed(sightings: Sightings, dresses: Numbers, worn: int, size: int, rows: dict[int, int]) -> Sightings:
    """Return sightings with those of dressed runs under rows of their own; `rows` numbers pairing and dress."""
    runs = np.asarray(sightings.runs, dtype=np.int64)
    pairings = np.asarray(sightings.pairings, dtype=np.int64)
    own = dresses[runs]
    both = pairings * worn + own
    for one in np.unique(both[own > 0]).tolist():
        rows.setdefault(one, size + len(rows))
    if rows:
        keys = np.array(sorted(rows), dtype=np.int64)
        numbers = np.array([rows[key] for key in keys.tolist()], dtype=np.int64)
        place = np.minimum(np.searchsorted(keys, both), len(keys) - 1)
        pairings = np.where(own > 0, numbers[place], pairings)
    result = Sightings(sightings.runs, type(sightings.pairings)("i"), sightings.sizes_px, sightings.weights)
    result.pairings.frombytes(pairings.astype(np.int32).tobytes())
    return result
