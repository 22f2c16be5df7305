"""The rows a study is read in: a site's pairings, once more for each way that a study's scopes dress them."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Sequence

import numpy as np
from numpy.typing import NDArray

from glaucon.core.known.site import KnownSite
from glaucon.core.reading.counterparts import Counterparts, find_counterparts
from glaucon.core.reading.findings import Numbers, SurveyIndex
from glaucon.core.reading.reading import Worn
from glaucon.core.scopes.reading import colours_of
from glaucon.core.study.fading import fades_of
from glaucon.core.study.study import Study

# A study in which what is looked for is the grey of a level, 0 to 1.
AtLevel = Callable[[float], Study]


class Rows:
    """What a study is read in; studies that differ in values alone are read in the same rows."""

    def __init__(self, known: KnownSite, study: Study) -> None:
        self._known, self._study = known, study
        self._dressed = known.dressed(study) if study.worn else None
        self.index: SurveyIndex = known.index if self._dressed is None else self._dressed.index

    def verdicts(self, study: Study) -> NDArray[np.int8]:
        """Return the verdict of each row under a study with the same scopes."""
        if self._dressed is None:
            known = self._known
            return known.compiled(study).read(known.tokens.values(study), study.aim).verdict
        return self._known.read(study).readings.verdict

    def texts(self, rows: Iterable[int]) -> Numbers:
        """Return the texts that some rows show."""
        return self.index.runs_of(list(rows))

    def of_role(self, role: str) -> list[int]:
        """Return the rows that a role's tokens have to do with."""
        own = set(self._known.tokens.tokens_of(self._study).get(role, []))
        if self._dressed is None:
            return self.index.involving(own)
        index = self._dressed.index
        plain = np.zeros(len(self._known.survey.pairings), dtype=bool)
        plain[self._known.index.involving(own)] = True
        return np.nonzero(plain[index.pairing] & index.is_used)[0].tolist()

    def of_ways(self, scopes: Collection[int]) -> list[int]:
        """Return the rows that some scopes dress, by their numbers in the study; those that do not count left out."""
        if self._dressed is None:
            return []
        index = self._dressed.index
        ways = [n for n, way in enumerate(self._dressed.ways) if any(map(way.holds, scopes))]
        rows = np.nonzero(np.isin(index.dress, ways) & index.is_used)[0].tolist()
        return [row for row in rows if not index.survey.pairings[row].exempt]

    def counterparts(self, numbers: Sequence[int], at_level: AtLevel) -> Counterparts:
        """Return what some rows come to as functions of one colour; `pairing` holds places in `numbers`."""
        compiled = self.index.compiled.faded(fades_of(self._study)).only(np.array(numbers, dtype=np.int64))
        return find_counterparts(
            compiled, range(len(numbers)), lambda level: self._colours(at_level(level)), self._study.aim
        )

    def _colours(self, study: Study) -> Worn:
        tokens = self._known.tokens
        if self._dressed is None:
            return tokens.values(study)
        return colours_of(self._dressed, tokens, study)
