"""What no colour of the whole site makes readable, fixed by place: another text colour in one section, part or page.

One token may serve a bright band and the dark footer; then what the band needs is a scope's rule (see `study.scopes`).
A place takes another colour only where nothing else gets hard to read by it and most of what changes needed it.
"""

from __future__ import annotations

import time
from collections import Counter
from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from glaucon.core.colour.oklab import delta_e_ok
from glaucon.core.colour.value import Colour, read_colour
from glaucon.core.proposal.here_only import HereOnly, here_only, wearing_here
from glaucon.core.proposal.known import KnownSite
from glaucon.core.reading.findings import Finding, SiteReading
from glaucon.core.study.coats import wear
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study

_MOST = 24  # places
_TRIED = 3  # places for each finding
_SAME = 1 / 512  # of a channel
_NEEDED = 0.25  # of the texts that change: that they were hard to read


@dataclass(frozen=True, slots=True)
class PlaceChange:
    """Another colour for one use of a place alone, "link.hover": `texts` show it, `fixes` were hard to read."""

    where: Where
    place: str
    role: str
    use: str
    before: Colour
    after: Colour
    texts: int
    fixes: int

    @property
    def delta_e_ok(self) -> float:
        """Return how far the colour moves."""
        return float(delta_e_ok(np.array(self.before.rgb), np.array(self.after.rgb)))


def fix_by_place(
    known: KnownSite, study: Study, locks: Collection[str], until: float, less_faded: Study | None = None
) -> tuple[Study, list[PlaceChange]]:
    """Return a study with what is hard to read in it fixed by place, as far as it can be until then.

    `until` is in processor time of this thread. What the page fades waits for less fading, which is offered apart.
    `less_faded` is the study without any: what is hard to read in that too needs another colour first.
    """
    study, changes = _fixed(known, study, locks, until, may_be_faded=False)
    if less_faded is not None:
        _, more = _fixed(known, with_places(less_faded, changes), locks, until, may_be_faded=True)
        study, changes = with_places(study, more), [*changes, *more]
    return study, changes


def _fixed(
    known: KnownSite, study: Study, locks: Collection[str], until: float, may_be_faded: bool
) -> tuple[Study, list[PlaceChange]]:
    changes: list[PlaceChange] = []
    given_up: set[tuple[str | None, Where]] = set()
    while len(changes) < _MOST:
        reading = known.read(study)
        change = next(_found(known, study, reading, locks, given_up, may_be_faded, until), None)
        if change is None:
            break
        study = with_place(study, change.where, {change.use: change.after.hex()})
        changes.append(change)
    return study, changes


def with_place(study: Study, where: Where, values: Mapping[str, str]) -> Study:
    """Return a study with some values for a place beside those that it wears."""
    now = next((scope for scope in study.worn if scope.where == where), None)
    return wear(study, [where], now.coat if now else None, {**(now.set if now else {}), **values})


def with_places(study: Study, changes: Iterable[PlaceChange]) -> Study:
    """Return a study with some changes by place made."""
    for one in changes:
        study = with_place(study, one.where, {one.use: one.after.hex()})
    return study


def _found(
    known: KnownSite, study: Study, reading: SiteReading, locks: Collection[str],
    given_up: set[tuple[str | None, Where]], may_be_faded: bool, until: float,
) -> Iterator[PlaceChange]:  # fmt: skip
    fades = reading.readings.fades
    findings = (
        one for one in reading.findings
        if one.verdict == "fail" and (may_be_faded or any(reading.index.fading(p, fades) == 1 for p in one.pairings))
    )  # fmt: skip
    for finding in sorted(findings, key=lambda one: -one.places):
        if finding.text.role is None or finding.text.role in locks:
            continue
        for where in _places(known, study, reading, finding):
            if time.thread_time() > until or (finding.text.role, where) in given_up:
                continue
            given_up.add((finding.text.role, where))
            here = here_only(known, study, reading, finding, where)
            if here is not None and not here.breaks:
                change = _change(known, study, reading, finding, here)
                if change.fixes >= _NEEDED * change.texts:
                    yield change


def _places(known: KnownSite, study: Study, reading: SiteReading, finding: Finding) -> Sequence[Where]:
    """Return the places that a finding's texts are in, those of most of them first, the narrower of alike ones."""
    if finding.dress and (worn := wearing_here(known, study, finding)) is not None:
        return [worn]
    survey = known.survey
    runs = [survey.runs[number] for number in reading.index.runs_of(list(finding.pairings)).tolist()]
    mine = Counter(region for run in runs for region in survey.chains[run.chain])
    in_all = known.remembered.get("texts of regions")
    if in_all is None:
        of_chain = Counter(run.chain for run in survey.runs)
        in_all = Counter[int]()
        for chain, count in of_chain.items():
            in_all.update(dict.fromkeys(survey.chains[chain], count))
        known.remembered["texts of regions"] = in_all
    ranked = sorted(mine, key=lambda region: (-mine[region], in_all[region]))
    found = [survey.regions[number] for number in ranked[:_TRIED]]
    return [Where(section=one.key) if one.is_section else Where(part=one.key) for one in found]


def _change(known: KnownSite, study: Study, reading: SiteReading, finding: Finding, here: HereOnly) -> PlaceChange:
    role = study.role(finding.text.role or "")
    before = read_colour(finding.text.colour) if finding.text.colour else role.colour
    after = known.read(wear(study, [here.where], here.coat, here.values))
    texts = len(_changed(reading, after))
    return PlaceChange(here.where, here.place, role.id, role.use, before, here.colour, texts, here.fixes)


def _changed(before: SiteReading, after: SiteReading) -> set[int]:
    """Return the texts that are painted otherwise in one reading than in the other, of the same site."""
    was, now = (
        np.nan_to_num(np.concatenate([one.readings.words, one.readings.ground], axis=1), nan=-1.0)
        for one in (before, after)
    )
    found: set[int] = set()
    for key, sightings in before.index.survey.sightings.items():
        mine = np.asarray(sightings.pairings), np.asarray(after.index.survey.sightings[key].pairings)
        differ = np.abs(was[mine[0]] - now[mine[1]]).max(axis=1, initial=0.0) > _SAME
        found |= set(np.asarray(sightings.runs)[differ].tolist())
    return found
