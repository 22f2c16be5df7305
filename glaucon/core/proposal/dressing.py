"""Which texts of a site wear what under a study's scopes, and the site read so."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from glaucon.core.reading.colour_table import TokenColours
from glaucon.core.reading.dressed import DressedIndex
from glaucon.core.reading.findings import Numbers, SiteReading, SurveyIndex
from glaucon.core.study.dress import Dress, Dresser, ScopesByPlace
from glaucon.core.study.fading import fades_of
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study
from glaucon.core.study.wearing import Wearing
from glaucon.core.survey.model import Survey

# A text's way through the scopes: their numbers in the study, by depth.
Way = tuple[tuple[int, ...], ...]


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
    ways: dict[Way, int] = {(): 0}
    known: dict[tuple[str, int, tuple[str, ...]], int] = {}
    of_run = np.zeros(len(survey.runs), dtype=np.int64)
    for place, run in enumerate(survey.runs):
        around = (run.page, run.chain, scopes.alone_around(run.page, run.path))
        found = known.get(around)
        if found is None:
            dress = scopes.dress(run.page, keys[run.chain], run.path)
            way = () if dress.is_plain else tuple(tuple(numbers[id(s)] for s in level) for level in dress.levels)
            found = known[around] = ways.setdefault(way, len(ways))
        of_run[place] = found
    return Dressed(list(ways), of_run, DressedIndex(index, of_run))


def colours_of(dressing: Dressed, wearing: Wearing, study: Study) -> list[TokenColours]:
    """Return what the tokens show in each way that a site is dressed."""
    drawn = frozenset(region.key for region in dressing.index.survey.regions if region.is_drawn)
    dresser = Dresser(study, wearing, drawn)
    return [
        dresser.colours(Dress(tuple(tuple(study.worn[n] for n in level) for level in way))) for way in dressing.ways
    ]


def read_dressed(dressing: Dressed, wearing: Wearing, roles: Mapping[int, str], study: Study) -> SiteReading:
    """Return the reading of a study with scopes."""
    return dressing.index.read_dressed(colours_of(dressing, wearing, study), roles, study.aim, fades_of(study))


def named(dressing: Dressed, survey: Survey, study: Study, number: int) -> str:
    """Return what a way's deepest scope is on, as a person would call it: "Footer", "Prices"."""
    scopes = [scope for level in dressing.ways[number] for scope in level]
    return place_name(survey, study.worn[scopes[-1]].where) if scopes else ""


def place_name(survey: Survey, where: Where) -> str:
    """Return what a scope is on, as a person would call it."""
    if where.region is None:
        return where.page or ""
    region = next((one for one in survey.regions if one.key == where.region), None)
    return region.label if region is not None else where.region
