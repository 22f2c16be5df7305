"""Offers and hatching where something is worn: told as it reads, and changed there alone."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

from glaucon.core.colour.value import read_colour
from glaucon.core.known.rows import Rows
from glaucon.core.known.site import KnownSite
from glaucon.core.mending.here_only import here_only
from glaucon.core.mending.offers import readable_among
from glaucon.core.reading.findings import SiteReading
from glaucon.core.reading.reading import FAIL
from glaucon.core.study.coats import wear
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey, Run
from glaucon.core.survey.site import read_site
from glaucon.core.survey.survey import survey_site


@pytest.fixture(scope="module")
def yard(otterlock: Path) -> KnownSite:
    return KnownSite(survey_site(read_site(otterlock), [ContextKey(1280, "rest"), ContextKey(1280, "hover")]))


def footer_in(known: KnownSite, coat: str) -> Study:
    footer = next(region.key for region in known.survey.regions if region.kind == "footer")
    return wear(known.first_study("Scoped"), [Where(section=footer)], coat, {})


@pytest.mark.parametrize("role", ["text", "quiet", "link", "hull.quiet", "background"])
def test_what_is_hatched_is_what_reads_with_scopes(yard: KnownSite, role: str) -> None:
    """A colour is told as readable exactly where giving it to the role leaves none of its texts hard to read."""
    study = footer_in(yard, "lamp-evenings")
    colours = [read_colour(text) for text in ("#000000", "#444444", "#767676", "#0b5c7a", "#c0c0c0", "#ffffff")]
    told = readable_among(yard, study, role, colours)
    rows = Rows(yard, study)
    own = np.array(rows.of_role(role), dtype=np.int64)
    for colour, is_told in zip(colours, told, strict=True):
        changed = study.with_roles({role: {"value": colour.hex(), "taken": True}})
        plain = study.with_roles({role: {"value": "#12fe45", "taken": True}})
        moves = rows_moved(yard, plain, changed)
        assert is_told == (not (rows.verdicts(changed)[own[moves[own]]] == FAIL).any()), (role, colour.hex())


def rows_moved(known: KnownSite, one: Study, other: Study) -> np.ndarray:
    a, b = known.read(one).readings, known.read(other).readings
    return ~(np.isclose(a.words, b.words) & np.isclose(a.ground, b.ground)).all(axis=-1)


def test_here_only_mends_a_finding_where_it_is_and_nothing_elsewhere(yard: KnownSite) -> None:
    known = yard
    for study in (known.first_study("Plain"), footer_in(known, "sand")):
        before = known.read(study)
        tried = 0
        for finding in [f for f in before.findings if f.verdict == "fail"][:8]:
            found = here_only(known, study, before, finding)
            if found is None:
                continue
            tried += 1
            after = known.read(wear(study, [found.where], found.coat, found.values))
            assert before.hard - after.hard == found.fixes - found.breaks and found.fixes > 0
            outside = [run for n, run in enumerate(known.survey.runs) if not lies_in(known, n, found.where)]
            assert outside and texts_shown(before, outside) == texts_shown(after, outside)
        assert tried >= 3


def lies_in(known: KnownSite, number: int, where: Where) -> bool:
    run = known.survey.runs[number]
    keys = [known.survey.regions[region].key for region in known.survey.chains[run.chain]]
    return where.page in (None, run.page) and (where.region is None or where.region in keys)


def texts_shown(reading: SiteReading, runs: list[Run]) -> dict[tuple[str, str, str], str]:
    survey, wanted = reading.index.survey, {(run.page, run.path) for run in runs}
    found = {}
    for key, sightings in survey.sightings.items():
        for sighting in sightings:
            run = survey.runs[sighting.run]
            if (run.page, run.path) in wanted:
                found[run.page, run.path, str(key)] = str(reading.readings.words[sighting.pairing].round(4))
    return found
