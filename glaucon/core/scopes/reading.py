"""Groups a site's texts by the scopes around them, and reads the site under a study with scopes."""

from __future__ import annotations

from collections.abc import Hashable, Mapping
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from glaucon.core.reading.colour_table import TokenColours
from glaucon.core.reading.findings import Numbers, SiteReading, SurveyIndex
from glaucon.core.scopes.cascade import Dress, Dresser, ScopesByPlace, is_inside
from glaucon.core.scopes.cascade import Levels as LevelsOfScopes
from glaucon.core.scopes.rows import DressedIndex
from glaucon.core.study.fading import fades_of
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study
from glaucon.core.study.wearing import Wearing
from glaucon.core.survey.model import Survey

_MOST_WORDS = 28  # characters

# A text's way through the scopes: their numbers in the study, by depth.
Levels = tuple[tuple[int, ...], ...]


class Way(NamedTuple):
    """The scopes around a text, and the scopes of each region it overlaps without lying in it, all by number."""

    levels: Levels = ()
    beside: tuple[Levels, ...] = ()

    @property
    def scopes(self) -> list[int]:
        """Return the scopes around the text, outermost first."""
        return [number for level in self.levels for number in level]

    def holds(self, scope: int) -> bool:
        """Return whether a scope has to do with the text or what it lies on."""
        return any(scope in level for chain in (self.levels, *self.beside) for level in chain)


@dataclass(slots=True)
class Dressed:
    """The texts of a site by what they wear: the first way is that of nothing but the site's own."""

    ways: list[Way]
    of_run: Numbers
    index: DressedIndex


def dressed(survey: Survey, index: SurveyIndex, study: Study) -> Dressed:
    """Return a site's texts by the scopes around them; values of the scopes do not matter here."""
    numbers = {id(scope): number for number, scope in enumerate(study.worn)}
    keys = [tuple(survey.regions[region].key for region in chain) for chain in survey.chains]
    scopes = ScopesByPlace(study)
    ways: dict[Way, int] = {Way(): 0}
    known: dict[Hashable, int] = {}
    of_run = np.zeros(len(survey.runs), dtype=np.int64)
    for place, run in enumerate(survey.runs):
        over = survey.beside.get(place, ())
        around = (run.page, run.chain, scopes.alone_around(run.page, run.path), over)
        found = known.get(around)
        if found is None:
            dress = scopes.dress(run.page, keys[run.chain], run.path, [(keys[chain], at) for chain, at in over])
            way = Way()
            if not dress.is_plain:
                own, *beside = (_numbered(chain, numbers) for chain in (dress.levels, *dress.beside))
                way = Way(own, tuple(beside))
            found = known[around] = ways.setdefault(way, len(ways))
        of_run[place] = found
    return Dressed(list(ways), of_run, DressedIndex(index, of_run))


def _numbered(levels: LevelsOfScopes, numbers: Mapping[int, int]) -> Levels:
    return tuple(tuple(numbers[id(scope)] for scope in level) for level in levels)


def colours_of(dressing: Dressed, wearing: Wearing, study: Study) -> list[TokenColours]:
    """Return what the tokens show in each way that a site is dressed."""
    dresser = Dresser(study, wearing, dressing.index.survey)

    def scopes(levels: Levels) -> LevelsOfScopes:
        return tuple(tuple(study.worn[number] for number in level) for level in levels)

    return [dresser.colours(Dress(scopes(way.levels), tuple(map(scopes, way.beside)))) for way in dressing.ways]


def read_dressed(dressing: Dressed, wearing: Wearing, roles: Mapping[int, str], study: Study) -> SiteReading:
    """Return the reading of a study with scopes."""
    return dressing.index.read_dressed(colours_of(dressing, wearing, study), roles, study.aim, fades_of(study))


def named(dressing: Dressed, survey: Survey, study: Study, number: int) -> str:
    """Return what a way's deepest scope is on, as a person would call it: "Footer", "Prices"."""
    scopes = dressing.ways[number].scopes
    return place_name(survey, study.worn[scopes[-1]].where) if scopes else ""


def place_name(survey: Survey, where: Where) -> str:
    """Return what a scope is on, as a person would call it."""
    if where.at is not None:
        return _words_at(survey, where.page, where.at)
    if where.region is None:
        return where.page or ""
    region = next((one for one in survey.regions if one.key == where.region), None)
    return region.label if region is not None else where.region


def _words_at(survey: Survey, page: str | None, at: str) -> str:
    words = next((run.text for run in survey.runs if run.page == page and is_inside(run.path, at)), "one text")
    return f"“{words[:_MOST_WORDS].rstrip()}{'…' if len(words) > _MOST_WORDS else ''}”"
