"""Where behind a text it is hardest to read: the line, and the spot in it, for a person to look at."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from glaucon.core.known.site import KnownSite
from glaucon.core.layout.document import Box, PageLayout
from glaucon.core.reading.findings import Finding
from glaucon.core.reading.reading import CompiledPairings
from glaucon.core.study.study import Study
from glaucon.core.study.wearing import Wearing
from glaucon.core.survey.model import ContextKey, Pairing
from glaucon.core.survey.survey import Surveyor


@dataclass(frozen=True, slots=True)
class Sight:
    """One text of a finding where a browser has measured it: its page, path and context."""

    page: str
    path: str
    context: ContextKey


@dataclass(frozen=True, slots=True)
class WorstSpot:
    """The line of a text that holds its worst spot and that spot, in CSS pixels of the page, and the ratio there."""

    line: Box
    spot: Box
    ratio: float


def sights_of(known: KnownSite, finding: Finding, measured: set[tuple[str, int]]) -> list[Sight]:
    """Return texts of a finding on measured pages: of its worst first, at rest and wide ones before others."""
    survey = known.survey
    found: list[tuple[bool, bool, int, Sight]] = []
    for key, sightings in survey.sightings.items():
        pairings = np.asarray(sightings.pairings, dtype=np.int64)
        for is_other, wanted in enumerate((finding.pairings[:1], finding.pairings[1:])):
            for place in np.nonzero(np.isin(pairings, np.array(wanted, dtype=np.int64)))[0].tolist():
                run = survey.runs[sightings.runs[place]]
                if (run.page, key.width) in measured:
                    sight = Sight(run.page, run.path, key)
                    found.append((bool(is_other), key.state != "rest", -key.width, sight))
                    break
    return [sight for *_, sight in sorted(found, key=lambda one: one[:3])]


def worst_spot(surveyor: Surveyor, layout: PageLayout, sight: Sight, study: Study) -> WorstSpot | None:
    """Return where a text is hardest to read under a study, None where nothing of it is in sight.

    Colours that scopes give are left aside: they do not move what lies behind a line.
    """
    probed = surveyor.probe(sight.page, sight.context, sight.path, layout)
    if probed is None:
        return None
    pairing, cells = probed
    shown = [(box, stacks) for box, stacks in cells if stacks is not None]
    if not shown:
        return None
    pairings = [
        Pairing(pairing.colour, below, above, pairing.large, False, pairing.icon, laid=True, fill=pairing.fill)
        for _, (below, above) in shown
    ]
    tokens = surveyor.table.tokens
    ratios = CompiledPairings(pairings, tokens).read(Wearing(tokens).values(study), study.aim).ratio
    if np.isnan(ratios).all():
        return None
    worst = int(np.nanargmin(ratios))
    spot = shown[worst][0]
    runs = layout.in_state(sight.context.state).runs
    line = next(one.box for one in runs[sight.path] if one.box.holds(spot))
    return WorstSpot(line, spot, float(ratios[worst]))
