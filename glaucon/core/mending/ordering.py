"""Restores contrast order after place and part changes, by steps too small to notice.

A quiet text that had to become readable may end up louder than one that was readable as it was. The search keeps order
where it can; what places and parts change comes after it, and this last.
"""

from __future__ import annotations

import time
from collections import Counter
from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from glaucon.core.colour.contrast import ratio_of_luminances, relative_luminance
from glaucon.core.colour.oklab import Floats
from glaucon.core.colour.value import Colour
from glaucon.core.known.site import KnownSite
from glaucon.core.mending.harm import Guard
from glaucon.core.mending.place_changes import PlaceChange, changed_texts
from glaucon.core.mending.role_changes import Change, with_changes
from glaucon.core.mending.still_itself import HARDLY, LOUDER, NUDGE, choices_of
from glaucon.core.reading.findings import SiteReading
from glaucon.core.scopes.reading import place_name
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey

_MOST = 8  # colours
_MOST_BESIDE = 4  # texts that change for each pair of texts
_MOST_BY_PLACE = 4  # colours
_MOST_PLACES = 10
_MOST_TEXTS = 0.1  # of the site's, that wear a colour which is moved for others' sake


@dataclass(frozen=True, slots=True)
class Louder:
    """A colour of a role that should have more contrast on a background again, for so many pairs of texts."""

    role: str
    ground: tuple[float, float, float]
    wanted: float
    pairs: int


def out_of_order(known: KnownSite, before: SiteReading, study: Study, after: SiteReading) -> list[Louder]:
    """Return what is no longer louder than a text on the same plain background at rest, what most pairs need first."""
    roles = known.tokens.roles(study)
    found: dict[tuple[str, tuple[float, ...]], list[float]] = {}
    for width in sorted({key.width for key in known.survey.sightings}):
        key = ContextKey(width, "rest")
        if key not in known.survey.sightings:
            continue
        was, now = (one.index.survey.sightings[key] for one in (before, after))
        by_ground: dict[tuple[float, ...], set[tuple[float, float, str]]] = {}
        for old, new in zip(np.asarray(was.pairings).tolist(), np.asarray(now.pairings).tolist(), strict=True):
            if before.readings.varied[old] or np.isnan(before.readings.ratio[old] + after.readings.ratio[new]):
                continue
            ground = tuple(np.round(after.readings.ground[new], 4).tolist())
            token = after.index.text_token(new)
            ratios = (float(before.readings.ratio[old]), float(after.readings.ratio[new]))
            by_ground.setdefault(ground, set()).add((*ratios, roles.get(token, "") if token is not None else ""))
        for ground, texts in by_ground.items():
            for loud, loud_now, role in texts:
                over = [
                    quiet_now for quiet, quiet_now, _ in texts
                    if loud >= LOUDER * quiet and loud_now < HARDLY * quiet_now
                ]  # fmt: skip
                if over and role:
                    found.setdefault((role, ground), []).extend(over)
    some = [Louder(role, (g[0], g[1], g[2]), max(over), len(over)) for (role, g), over in found.items()]
    return sorted(some, key=lambda one: (-one.pairs, one.role))


def in_order_again(
    known: KnownSite, before: Study, study: Study, locks: Collection[str], until: float, guard: Guard
) -> dict[str, Colour]:
    """Return colours of roles a step away from those a fixed study has, under which more texts are in order.

    Nothing that can be read gets hard to read by them. `until` is in processor time of this thread.
    """
    first, now = known.read(before), known.read(study)
    wrong = out_of_order(known, first, study, now)
    moved: dict[str, Colour] = {}
    own = {role.id for role in before.roles} - set(locks)
    for one in wrong[:_MOST]:
        if time.thread_time() > until:
            break
        if one.role not in own or one.role in moved or _is_wide(known, study, one.role):
            continue
        colour = _step(study.role(one.role).colour, one)
        if colour is None:
            continue
        tried = with_changes(study, [Change(one.role, study.role(one.role).colour, colour, 0, 0)])
        after = known.read(tried)
        left = out_of_order(known, first, tried, after)
        is_better = after.failing_in() <= now.failing_in() and _pairs(left) < _pairs(wrong)
        if is_better and guard.holds(tried, study):
            study, now, wrong = tried, after, left
            moved[one.role] = colour
    return moved


def in_order_by_place(
    known: KnownSite, before: Study, study: Study, locks: Collection[str], until: float, guard: Guard
) -> list[PlaceChange]:
    """Return colours of single places under which more texts are in order: what a role cannot give everywhere.

    It is a small step, or the way that the quieter text went: dark words for white ones on an orange band.
    """
    first, now = known.read(before), known.read(study)
    wrong = out_of_order(known, first, study, now)
    found: list[PlaceChange] = []
    own = {role.id for role in before.roles} - set(locks)
    for one in [one for one in wrong if one.role in own][:_MOST_BY_PLACE]:
        for change in _place_changes(known, first, study, now, one):
            if time.thread_time() > until:
                return found
            tried = change.made_in(study)
            after = known.read(tried)
            left = out_of_order(known, first, tried, after)
            texts = changed_texts(now, after)
            is_much = len(texts) > _MOST_TEXTS * len(known.survey.runs) or len(texts) > _MOST_BESIDE * one.pairs
            is_better = after.failing_in() <= now.failing_in() and _pairs(left) < _pairs(wrong)
            if not is_much and is_better and guard.holds(tried, study):
                study, now, wrong = tried, after, left
                found.append(replace(change, texts=len(texts)))
    return found


def _place_changes(
    known: KnownSite, first: SiteReading, study: Study, now: SiteReading, one: Louder
) -> Iterator[PlaceChange]:
    """Yield the changes by which the texts of a role on a background are louder again, by the places most are in."""
    rows, runs = _rows_of(known, study, now, one)
    chains = [chain for run in runs if (chain := known.survey.chains[known.survey.runs[run].chain])]
    if not rows or not chains:
        return
    words = Colour(*np.clip(now.readings.words[rows[0]], 0, 1).tolist())
    colour = _step(words, one, np.inf if _have_turned(first, now, one) else 2 * NUDGE)
    role = study.role(one.role)
    if colour is None:
        return
    innermost = [number for number, _ in Counter(chain[-1] for chain in chains).most_common(_MOST_PLACES)]
    regions = [known.survey.regions[number] for number in innermost]
    places = [Where(section=one.key) if one.is_section else Where(part=one.key) for one in regions]
    free = [
        where for where in places
        if not any(scope.where == where and role.use in scope.set for scope in study.worn)
    ]  # fmt: skip
    if free:
        name = place_name(known.survey, free[0])
        alone = PlaceChange(free[0], name, role.id, role.use, words.rounded(), colour, 0, 0)
        # in one of them where that is enough, else in all
        yield from (alone, replace(alone, also=tuple(free[1:])))


def _rows_of(known: KnownSite, study: Study, now: SiteReading, one: Louder) -> tuple[list[int], set[int]]:
    """Return the rows in which a role's texts on a background are too quiet, at rest, and those texts."""
    roles = known.tokens.roles(study)
    quiet = now.readings.ratio < HARDLY * one.wanted
    here = np.nonzero(quiet & (np.round(now.readings.ground, 4) == np.array(one.ground)).all(axis=1))[0].tolist()
    tokens = {row: token for row in here if (token := now.index.text_token(row)) is not None}
    rows = [row for row, token in tokens.items() if roles.get(token) == one.role]
    runs: set[int] = set()
    for key, sightings in now.index.survey.sightings.items():
        if key.state == "rest":
            runs |= set(np.asarray(sightings.runs)[np.isin(np.asarray(sightings.pairings), rows)].tolist())
    return rows, runs


def _have_turned(first: SiteReading, now: SiteReading, one: Louder) -> bool:
    """Return whether a text on a background was lighter than it and is darker now, or the other way."""
    for key, sightings in now.index.survey.sightings.items():
        old = np.asarray(first.index.survey.sightings[key].pairings)
        new = np.asarray(sightings.pairings)
        here = (np.round(now.readings.ground[new], 4) == np.array(one.ground)).all(axis=1)
        was, is_ = (
            relative_luminance(np.clip(reading.readings.words[rows], 0, 1)) - relative_luminance(np.array(one.ground))
            for reading, rows in ((first, old[here]), (now, new[here]))
        )
        if (was * is_ < 0).any():
            return True
    return False


def _pairs(some: Sequence[Louder]) -> int:
    return sum(one.pairs for one in some)


def _is_wide(known: KnownSite, study: Study, role: str) -> bool:
    tokens = known.tokens.tokens_of(study).get(role, ())
    texts = known.index.runs_of(list(known.index.involving(set(tokens))))
    return len(np.unique(texts)) > _MOST_TEXTS * len(known.survey.runs)


def _step(colour: Colour, wanted: Louder, farthest: float = NUDGE) -> Colour | None:
    """Return the nearest colour of the same hue that has enough contrast, None where that is too far."""
    choices = choices_of(colour.rounded().rgb, farthest)
    choices = choices.only(~choices.is_other)
    light = relative_luminance(np.array(wanted.ground))
    ratios: Floats = ratio_of_luminances(relative_luminance(choices.colours), light)
    fits = ratios >= wanted.wanted
    if not fits.any():
        return None
    rgb = choices.colours[int(np.argmin(np.where(fits, choices.delta_e_ok, np.inf)))]
    return replace(colour, r=float(rgb[0]), g=float(rgb[1]), b=float(rgb[2])).rounded()
