"""What no place makes readable, fixed text by text: those of one finding in a colour of their own, where they are few.

White words on buttons of seven colours, all alike but for their background, are such: no section, part or page can
have another colour for them, each of them can. What is listed of it is one change.
"""

from __future__ import annotations

import time
from collections.abc import Collection
from dataclasses import replace

from pydantic import ValidationError

from glaucon.core.known.site import KnownSite
from glaucon.core.mending.harm import Guard
from glaucon.core.mending.here_only import here_only
from glaucon.core.mending.place_changes import PlaceChange, changed_texts, role_to_change
from glaucon.core.reading.candidates import nearest_along
from glaucon.core.reading.findings import Finding, SiteReading
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study
from glaucon.core.survey.model import Run, Survey

_MOST = 24  # elements of one change
_TURNED = 0.3  # ΔE OK
_MOST_WORN = 300  # places of a study that wear something


def single_text_change(
    known: KnownSite,
    study: Study,
    reading: SiteReading,
    finding: Finding,
    locks: Collection[str],
    until: float,
    guard: Guard | None = None,
) -> PlaceChange | None:
    """Return a colour of their own for a finding's texts, None where none helps or they are too many.

    `until` is in processor time of this thread.
    """
    role = role_to_change(study, finding, is_text=True)
    if role is None or role.id in locks or time.thread_time() > until:
        return None
    places = _elements(known, reading, finding)
    room = min(_MOST, _MOST_WORN - len(study.worn))
    has_it = any(scope.where in places and role.use in scope.set for scope in study.worn)
    if has_it or not 0 < len(places) <= room:
        return None
    first, *also = places
    here = here_only(known, study, reading, finding, first, nearest_along, also=also)
    if here is None:
        return None
    change = PlaceChange(first, here.place, role.id, role.use, here.before, here.colour, 0, 0, also=tuple(also))
    if finding.on == "picture" and change.delta_e_ok > _TURNED:
        return None  # white words on a photograph do not turn black: a veil is offered for them
    after = known.read(change.made_in(study))
    was, now = reading.failing_in(), after.failing_in()
    if now - was or not was - now:
        return None
    if guard is not None and not guard.holds(change.made_in(study), study):
        return None
    texts = changed_texts(reading, after)
    return replace(change, texts=len(texts), fixes=len({run for run, _ in was - now}))


def _elements(known: KnownSite, reading: SiteReading, finding: Finding) -> list[Where]:
    """Return the elements that a finding's texts are in, each its own; none where one cannot be reached."""
    survey = known.survey
    runs = [survey.runs[number] for number in reading.index.runs_of(list(finding.pairings)).tolist()]
    tokens = [token for pairing in finding.pairings if (token := reading.index.text_token(pairing)) is not None]
    if any(not survey.chains[run.chain] for run in runs) and any(
        survey.tokens[token].property.startswith("--") for token in tokens
    ):
        return []  # said for the whole page and handed down: a rule on one element comes too late
    try:
        return list(dict.fromkeys(element_of(survey, run) for run in runs))
    except ValidationError:  # a tag that no selector can be made of
        return []


def element_of(survey: Survey, run: Run) -> Where:
    around = survey.regions[survey.chains[run.chain][-1]] if survey.chains[run.chain] else None
    at = run.path.split("::")[0]
    if around is None:
        return Where(page=run.page, at=at)
    return Where(
        page=run.page, at=at, section=around.key if around.is_section else None,
        part=None if around.is_section else around.key,
    )  # fmt: skip
