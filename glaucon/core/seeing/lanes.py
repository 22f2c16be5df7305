"""The ladder: each background of a site a lane, with what is read on it standing at its contrast."""

from __future__ import annotations

from collections import Counter, defaultdict
from dataclasses import dataclass
from typing import Literal

import numpy as np

from glaucon.core.colour.contrast import relative_luminance
from glaucon.core.known.site import KnownSite
from glaucon.core.reading.findings import Finding, SiteReading
from glaucon.core.scopes.reading import named
from glaucon.core.study.study import Study

Ground = Literal["solid", "gradient", "picture", "unknown"]
_RANK = {"fail": 0, "unsure": 1, "pass": 2, "exempt": 3}


@dataclass(frozen=True, slots=True)
class Lane:
    """A background and all that is read on it, the least contrast first.

    `role` is its role's id; `colour` is what most of its texts have behind them, `spread` the darkest and the lightest
    where it is none alone; `section` is where most of it lies, `where` what wears it (see `Finding.where`).
    """

    key: str
    ground: Ground
    role: str | None
    colour: str
    spread: tuple[str, str] | None
    section: str
    where: str
    texts: int
    standing: tuple[Finding, ...]


def lanes_of(known: KnownSite, study: Study, reading: SiteReading | None = None) -> list[Lane]:
    """Return the lanes of a site under a study: those with something hard to read first, then by what stands there.

    `reading` is that of the study on the site, if the caller has it already.
    """
    reading = reading or known.read(study)
    index = reading.index
    findings = index.every_finding(reading.readings, reading.groups)
    if study.worn:
        dressing = known.dressed(study)
        for one in findings:
            one.where = named(dressing, known.survey, study, one.dress)
    gathered: dict[tuple[str, ...], list[Finding]] = defaultdict(list)
    for one in findings:
        gathered[_key(reading, one)].append(one)
    lanes = [_lane(reading, key, some) for key, some in gathered.items()]
    return sorted(lanes, key=lambda lane: (lane.standing[0].verdict != "fail", -lane.texts, lane.key))


def _key(reading: SiteReading, finding: Finding) -> tuple[str, ...]:
    """Return what tells lanes apart: what lies there and, for what is no one colour, in which section."""
    ground = _ground(finding)
    own = finding.background.role or (finding.background.colour if ground == "solid" else "")
    return ground, own, finding.where, "" if ground == "solid" else _section(reading, finding)


def _ground(finding: Finding) -> Ground:
    if finding.ratio is None:
        return "unknown"
    return "picture" if finding.on == "picture" else "gradient" if finding.on == "gradient" else "solid"


def _section(reading: SiteReading, finding: Finding) -> str:
    """Return what the section of a finding's example is called."""
    assert finding.seen is not None
    survey = reading.index.survey
    around = (survey.regions[number] for number in survey.chains[survey.runs[finding.seen.run].chain])
    return next((one.label for one in around if one.is_section), "")


def _lane(reading: SiteReading, key: tuple[str, ...], some: list[Finding]) -> Lane:
    some.sort(key=lambda one: (_RANK[one.verdict], one.ratio or 0.0, -one.places))
    colours: Counter[str] = Counter()
    sections: Counter[str] = Counter()
    ends = []
    for one in some:
        colours[one.background.colour] += one.places
        sections[_section(reading, one)] += one.places
        shown = reading.readings[one.pairings[0]]
        ends += [end for end in (shown.darkest, shown.lightest) if end is not None]
    ends.sort(key=lambda colour: relative_luminance(np.array(colour.rgb)))
    return Lane(
        key=" ".join(part for part in key if part),
        ground=_ground(some[0]),
        role=some[0].background.role,
        colour=colours.most_common(1)[0][0],
        spread=(ends[0].hex(), ends[-1].hex()) if ends and key[0] != "solid" else None,
        section=sections.most_common(1)[0][0],
        where=some[0].where,
        texts=sum(one.places for one in some),
        standing=tuple(some),
    )
