"""What no colour of the whole site makes readable, fixed by place: another text colour in one section, part or page.

One token may serve a bright band and the dark footer; then what the band needs is a scope's rule (see `study.scopes`).
A place takes another colour only where nothing else gets hard to read by it and most of what changes needed it. Boxes
in it whose text would get hard to read (white fields on a photograph) keep the colour they have.
"""

from __future__ import annotations

import time
from collections import Counter
from collections.abc import Collection, Iterable, Iterator, Sequence
from dataclasses import replace

import numpy as np

from glaucon.core.colour.value import Colour
from glaucon.core.known.site import KnownSite
from glaucon.core.mending.harm import Guard
from glaucon.core.mending.here_only import HereOnly, here_only, wearing_here
from glaucon.core.mending.place_changes import Kept, PlaceChange, changed_texts, role_to_change, with_places
from glaucon.core.mending.single_texts import single_text_change
from glaucon.core.mending.still_itself import FARTHEST
from glaucon.core.reading.candidates import nearest_along
from glaucon.core.reading.findings import Finding, SiteReading
from glaucon.core.scopes.reading import place_name
from glaucon.core.study.roles import Role
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study

_MOST = 24  # places
_TRIED = 3  # places for each finding
_NEEDED = 0.25  # of the texts that change: that they were hard to read
_MOST_KEPT = 3  # boxes in a place
_MUCH_LESS = 0.6  # of the distance: then single texts move rather than their place


def fix_by_place(
    known: KnownSite,
    study: Study,
    locks: Collection[str],
    until: float,
    guard: Guard | None = None,
    less_faded: Study | None = None,
) -> tuple[Study, list[PlaceChange]]:
    """Return a study with what is hard to read in it fixed by place, as far as it can be until then.

    `until` is in processor time of this thread. What the page fades waits for less fading, which is offered apart.
    What `guard` speaks of is not made worse. `less_faded` is the study without any: what is hard to read in that too
    needs another colour first.
    """
    study, changes = _fixed(known, study, locks, until, guard, may_be_faded=False)
    if less_faded is not None:
        _, more = _fixed(known, with_places(less_faded, changes), locks, until, guard, may_be_faded=True)
        study, changes = with_places(study, more), [*changes, *more]
    return study, changes


def _fixed(
    known: KnownSite, study: Study, locks: Collection[str], until: float, guard: Guard | None, may_be_faded: bool
) -> tuple[Study, list[PlaceChange]]:
    changes: list[PlaceChange] = []
    given_up: set[tuple[str | None, Where]] = set()
    while len(changes) < _MOST:
        reading = known.read(study)
        hard = _hard(reading, may_be_faded)
        found = next(_found(known, study, reading, hard, locks, given_up, until, guard), None)
        change = found[1] if found is not None else None
        if found is None or _takes_others_far(found[1]):
            alone = hard if found is None else found[:1]
            singles = (single_text_change(known, study, reading, one, locks, until, guard) for one in alone)
            single = next((one for one in singles if one is not None), None)
            if single is not None and (change is None or single.delta_e_ok <= _MUCH_LESS * change.delta_e_ok):
                change = single
        if change is None:
            break
        study = change.made_in(study)
        changes.append(change)
    return study, changes


def _takes_others_far(change: PlaceChange) -> bool:
    """Return whether a change moves text that was readable farther than it may."""
    return change.fixes < change.texts and change.delta_e_ok > FARTHEST


def _hard(reading: SiteReading, may_be_faded: bool) -> list[Finding]:
    """Return what is hard to read and waits for no less fading, the most texts first."""
    fades = reading.readings.fades
    findings = (
        one for one in reading.findings
        if one.verdict == "fail" and (may_be_faded or any(reading.index.fading(p, fades) == 1 for p in one.pairings))
    )  # fmt: skip
    return sorted(findings, key=lambda one: -one.places)


def _found(
    known: KnownSite, study: Study, reading: SiteReading, hard: Iterable[Finding], locks: Collection[str],
    given_up: set[tuple[str | None, Where]], until: float, guard: Guard | None,
) -> Iterator[tuple[Finding, PlaceChange]]:  # fmt: skip
    for finding in hard:
        for is_text in (True, False):
            role = role_to_change(study, finding, is_text)
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
                if change is None or change.fixes < _NEEDED * change.texts:
                    continue
                if guard is None or guard.holds(change.made_in(study), study):
                    yield finding, change


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
            texts = changed_texts(reading, after)
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
