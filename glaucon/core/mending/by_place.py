"""What no colour of the whole site makes readable, fixed by place: another text colour in one section, part or page.

One token may serve a bright band and the dark footer; then what the band needs is a scope's rule (see `study.scopes`).
A place takes another colour only where nothing else gets hard to read by it and most of what changes needed it. Boxes
in it whose text would get hard to read (white fields on a photograph) keep the colour they have.
"""

from __future__ import annotations

import time
from collections import Counter
from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from glaucon.core.colour.oklab import delta_e_ok
from glaucon.core.colour.value import Colour
from glaucon.core.proposal.dressing import place_name
from glaucon.core.proposal.here_only import HereOnly, here_only, wearing_here
from glaucon.core.proposal.known import KnownSite
from glaucon.core.reading.candidates import nearest_along
from glaucon.core.reading.findings import Finding, SiteReading
from glaucon.core.study.coats import wear
from glaucon.core.study.roles import Role
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study

_MOST = 24  # places
_TRIED = 3  # places for each finding
_SAME = 1 / 512  # of a channel
_NEEDED = 0.25  # of the texts that change: that they were hard to read
_MOST_KEPT = 3  # boxes in a place


@dataclass(frozen=True, slots=True)
class Kept:
    """A section or part in a place that keeps the colour it has."""

    where: Where
    place: str
    colour: Colour


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
    kept: tuple[Kept, ...] = ()

    @property
    def delta_e_ok(self) -> float:
        """Return how far the colour moves."""
        return float(delta_e_ok(np.array(self.before.rgb), np.array(self.after.rgb)))

    def made_in(self, study: Study) -> Study:
        """Return a study with this change made."""
        study = with_place(study, self.where, {self.use: self.after.hex()})
        for one in self.kept:
            study = with_place(study, one.where, {self.use: one.colour.hex()})
        return study


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
        study = change.made_in(study)
        changes.append(change)
    return study, changes


def with_place(study: Study, where: Where, values: Mapping[str, str]) -> Study:
    """Return a study with some values for a place beside those that it wears."""
    now = next((scope for scope in study.worn if scope.where == where), None)
    return wear(study, [where], now.coat if now else None, {**(now.set if now else {}), **values})


def with_places(study: Study, changes: Iterable[PlaceChange]) -> Study:
    """Return a study with some changes by place made."""
    for one in changes:
        study = one.made_in(study)
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
        for is_text in (True, False):
            role = _role_to_change(study, finding, is_text)
            if role is None or role.id in locks:
                continue
            for where in _places(known, study, reading, finding):
                if not is_text and role.state == "rest" and where.part is None:
                    continue  # more of a section than its texts may have that background
                if time.thread_time() > until or (role.id, where) in given_up:
                    continue
                given_up.add((role.id, where))
                here = here_only(known, study, reading, finding, where, nearest_along, is_text)
                change = _change(known, study, reading, role, here) if here is not None else None
                if change is not None and change.fixes >= _NEEDED * change.texts:
                    yield change


def _role_to_change(study: Study, finding: Finding, is_text: bool) -> Role | None:
    """Return the role of a finding's text; its background's only where a state alone shows the two together."""
    side = finding.text if is_text else finding.background
    role = study.role(side.role) if side.role is not None else None
    return role if is_text or "rest" not in finding.states else None


def _places(known: KnownSite, study: Study, reading: SiteReading, finding: Finding) -> Sequence[Where]:
    """Return the places that a finding's texts are in: the one whose colours they wear, then those of most of them.

    Of places with as many of them the narrower comes first.
    """
    worn = wearing_here(known, study, finding) if finding.dress else None
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
    places = [Where(section=one.key) if one.is_section else Where(part=one.key) for one in found]
    # a page for what is in no section: "not found" pages often have none
    bare = dict.fromkeys(run.page for run in runs if not survey.chains[run.chain])
    places += [Where(page=page) for page in list(bare)[:_TRIED]]
    return [worn, *(one for one in places if one != worn)] if worn is not None else places


def _change(known: KnownSite, study: Study, reading: SiteReading, role: Role, here: HereOnly) -> PlaceChange | None:
    """Return a place's change, with what keeps its colour in it; None where some text gets hard to read even so."""
    change = PlaceChange(here.where, here.place, role.id, role.use, here.before, here.colour, 0, here.fixes)
    was = reading.failing_in()
    for _ in range(_MOST_KEPT + 1):
        after = known.read(change.made_in(study))
        now = after.failing_in()
        broken, fixed = ({run for run, _ in some} for some in (now - was, was - now))
        if not broken:
            texts = _changed(reading, after)
            # a box may be elsewhere too: it shows what it showed
            return replace(change, texts=len(texts), fixes=len(fixed)) if _are_in(known, here.where, texts) else None
        kept = _box_of(known, study, change, broken, fixed)
        if kept is None:
            return None
        change = replace(change, kept=(*change.kept, kept))
    return None


def _are_in(known: KnownSite, place: Where, texts: set[int]) -> bool:
    survey = known.survey
    if place.region is None:
        return {survey.runs[run].page for run in texts} <= {place.page}
    chains = {survey.runs[run].chain for run in texts}
    return all(any(survey.regions[n].key == place.region for n in survey.chains[chain]) for chain in chains)


def _box_of(known: KnownSite, study: Study, change: PlaceChange, broken: set[int], fixed: set[int]) -> Kept | None:
    """Return the section or part in a change's place that most broken texts are in and nothing that was fixed is.

    None where there is no other than those kept already.
    """
    survey, kept = known.survey, {one.where.region for one in change.kept}
    outer = next((number for number, one in enumerate(survey.regions) if one.key == change.where.region), None)
    taken = {region for run in fixed for region in survey.chains[survey.runs[run].chain]}
    counted = Counter(
        region for run in broken for region in survey.chains[survey.runs[run].chain]
        if region != outer and region not in taken
    )  # fmt: skip
    for region, _ in counted.most_common():
        one = survey.regions[region]
        if one.key in kept:
            continue
        inside = {run for run in broken if region in survey.chains[survey.runs[run].chain]}
        colour = _own_colour(known, study, inside)
        where = Where(section=one.key) if one.is_section else Where(part=one.key)
        return Kept(where, place_name(survey, where), colour) if colour is not None else None
    return None


def _own_colour(known: KnownSite, study: Study, texts: set[int]) -> Colour | None:
    """Return the colour that most of some texts have of the site's own."""
    of_role: Counter[str] = Counter()
    roles = known.tokens.roles(study)
    for sightings in known.survey.sightings.values():
        mine = np.isin(np.asarray(sightings.runs), list(texts))
        for pairing in np.asarray(sightings.pairings)[mine].tolist():
            token = known.index.text_token(pairing)
            if token in roles:
                of_role[roles[token]] += 1
    return study.role(of_role.most_common(1)[0][0]).colour if of_role else None


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
