"""The rows a study is read in: a site's pairings, once more for each way that a study's scopes dress them."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from glaucon.core.colour.oklab import Floats
from glaucon.core.proposal.known import KnownSite
from glaucon.core.reading.colour_table import TokenColours
from glaucon.core.reading.counterparts import BETWEEN, Counterparts, find_counterparts
from glaucon.core.reading.dressed import DressedIndex
from glaucon.core.reading.findings import Numbers, SurveyIndex
from glaucon.core.study.dress import Dress, Dresser
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

    def of_way(self, scope: int) -> list[int]:
        """Return the rows that are dressed by a scope, by its number in the study; those that do not count left out."""
        if self._dressed is None:
            return []
        index = self._dressed.index
        ways = [n for n, way in enumerate(self._dressed.ways) if any(scope in level for level in way)]
        rows = np.nonzero(np.isin(index.dress, ways) & index.is_used)[0].tolist()
        return [row for row in rows if not index.survey.pairings[row].exempt]

    def counterparts(self, numbers: Sequence[int], at_level: AtLevel) -> Counterparts:
        """Return what some rows come to as functions of one colour; `pairing` holds places in `numbers`."""
        if self._dressed is None:
            tokens = self._known.tokens
            compiled = self._known.compiled(self._study)
            return find_counterparts(compiled, numbers, lambda level: tokens.values(at_level(level)), self._study.aim)
        index, place = self._dressed.index, np.array(numbers, dtype=np.int64)
        found = [
            self._of_dress(index, dress, np.nonzero(index.dress[place] == dress)[0], place, at_level)
            for dress in np.unique(index.dress[place]).tolist()
        ]
        return joined(found)

    def _of_dress(
        self, index: DressedIndex, dress: int, places: Numbers, rows: Numbers, at_level: AtLevel
    ) -> Counterparts:
        pairings = index.pairing[rows[places]]
        part = self._known.compiled(self._study).only(pairings)
        values = {level: self._colours(at_level(level), dress) for level in (0.0, BETWEEN, 1.0)}
        found = find_counterparts(part, range(len(pairings)), values.__getitem__, self._study.aim)
        left = tuple(int(places[one]) for one in found.left_out)
        return Counterparts(
            found.words_a, found.words_b, found.ground_a, found.ground_b, found.required, places[found.pairing], left
        )

    def _colours(self, study: Study, dress: int) -> Floats | TokenColours:
        assert self._dressed is not None
        drawn = frozenset(region.key for region in self._known.survey.regions if region.is_drawn)
        way = self._dressed.ways[dress]
        levels = tuple(tuple(study.worn[number] for number in level) for level in way)
        return Dresser(study, self._known.tokens, drawn).colours(Dress(levels))


def joined(some: Sequence[Counterparts]) -> Counterparts:
    """Return several counterparts as one."""
    if not some:
        nothing = np.zeros((0, 3))
        return Counterparts(nothing, nothing, nothing, nothing, np.zeros(0), np.zeros(0, dtype=np.int64))
    columns: dict[str, Any] = {name: np.concatenate([getattr(one, name) for one in some]) for name in _COLUMNS}
    return Counterparts(**columns, left_out=tuple(row for one in some for row in one.left_out))


_COLUMNS = ("words_a", "words_b", "ground_a", "ground_b", "required", "pairing")
