"""A survey read where regions wear something of their own: pairings once more for each way they are dressed."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

import numpy as np

from glaucon.core.colour.oklab import Floats
from glaucon.core.reading.colour_table import TokenColours
from glaucon.core.reading.findings import Numbers, SiteReading, SurveyIndex
from glaucon.core.reading.reading import ARRAYS, Readings
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
        dressed: Survey = replace(survey, pairings=[*survey.pairings, *extra], sightings=sightings)
        self._plain = plain
        super().__init__(dressed, plain.compiled)
        self.pairing = np.concatenate([np.arange(size), both // worn])
        self.dress = np.concatenate([np.zeros(size, dtype=np.int64), both % worn])
        self._parts = {
            number: plain.compiled.only(self.pairing[size:][self.dress[size:] == number]) for number in range(1, worn)
        }
        order = np.concatenate([np.arange(size), *(np.nonzero(self.dress == n)[0] for n in range(1, worn))])
        self._back = np.argsort(order, kind="stable")

    def read_dressed(
        self, colours: Sequence[Floats | TokenColours], roles: Mapping[int, str], aim: str, fades: Mapping[str, float]
    ) -> SiteReading:
        """Return the reading of a study: `colours` are the tokens' for each dress, the plain one first."""
        parts = [self._plain.compiled.faded(fades).read(colours[0], aim)]
        for number, compiled in self._parts.items():
            parts.append(compiled.faded(fades).read(colours[number], aim))
        joined = Readings.joined(parts)
        back = self._back
        arrays: dict[str, Any] = {name: getattr(joined, name)[back] for name in ARRAYS}
        why = [joined.why[place] for place in back.tolist()]
        return self.reading(replace(joined, why=why, **arrays), roles)


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
