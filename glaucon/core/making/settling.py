"""A draft made readable: a study nobody has seen yet, until every text is comfortable or at least readable."""

from __future__ import annotations

import time
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace

from glaucon.core.known.site import KnownSite
from glaucon.core.mending.by_place import fix_by_place
from glaucon.core.mending.fixed import changes_of, hard_to_read, less_faded
from glaucon.core.mending.fixing import fix
from glaucon.core.mending.moving import Manner
from glaucon.core.mending.place_changes import PlaceChange
from glaucon.core.mending.role_changes import Change, with_changes
from glaucon.core.mending.standing import on_pictures
from glaucon.core.reading.reading import LEVELS
from glaucon.core.study.fading import fades_of
from glaucon.core.study.study import Study

# comfort, not the limit: what moves at all moves to 5.5, and only what cannot to the aim
_COMFORT = (5.5, 3.7)
_FARTHEST = (0.3, 0.03)  # that a draft's backgrounds may move, of buttons and of wide ones
_FREED = (0.7, 0.3)  # once nothing else has made all of it readable
_SECONDS = 1.5  # for each of the tries


@dataclass(frozen=True, slots=True)
class Settled:
    """A fixed draft: `study` complete, `base` with role values only, `parts` the parts of roles with own values.

    `places` wear text colours of their own on top of both. `left` are the pairings that stay hard to read without.
    """

    study: Study
    base: Study
    parts: tuple[Change, ...]
    left: frozenset[int]
    places: tuple[PlaceChange, ...] = ()


def settled(known: KnownSite, draft: Study, locks: Iterable[str], floors: Mapping[str, float]) -> Settled:
    """Fix a drafted palette: return it with as much text readable as possible.

    `locks` are roles that keep their colour, though a part of one may be another; `floors` the OKLCH chromas that
    roles do not fall under while that costs no text. What the page fades is read without: how much less it has to be
    faded is told by what comes of it (`finished`).
    """
    plain = less_faded(known, draft)
    if plain is None:
        return _settled(known, draft, list(locks), floors)
    found = _settled(known, plain, list(locks), floors)
    study, base = (one.model_copy(update={"extra_css": draft.extra_css}) for one in (found.study, found.base))
    return replace(found, study=study, base=base)


def _settled(known: KnownSite, draft: Study, locked: list[str], floors: Mapping[str, float]) -> Settled:
    best: Settled | None = None
    aim = LEVELS[draft.aim]
    # a draft's wide backgrounds are nobody's yet: they give way before its link or accent turns pale
    tries: tuple[tuple[tuple[float, float], Mapping[str, float], tuple[float, float]], ...] = (
        (_COMFORT, floors, _FARTHEST), (aim, floors, _FARTHEST), (aim, floors, _FREED), (aim, {}, _FREED),
    )  # fmt: skip
    for needed, kept, farthest in tries:
        if best is not None and farthest == _FREED:
            # text of its own in one place, before a wide background turns from dark to light for it
            placed = _by_place(known, best)
            if placed.places and not _waits(known, placed):
                return placed
        base = draft if best is None else best.base
        # what was given shows as it was given wherever that can be read, comfortable or not
        manner = Manner(farthest, parts_locked=needed != _COMFORT, floors=kept)
        found = fix(known, base, locked, needed, time.thread_time() + _SECONDS, manner)
        tried = _with(known, base, changes_of(known, base, found, set()))
        if best is None or len(tried.left) < len(best.left):
            best = tried
        if not _could_read(known, best) or not (floors or needed == _COMFORT):
            break
    assert best is not None
    return _by_place(known, best)


def _by_place(known: KnownSite, found: Settled) -> Settled:
    """Return what was found with the texts that one colour cannot serve given one of their own in their places."""
    if not _could_read(known, found):
        return found
    study, places = fix_by_place(known, found.study, (), time.thread_time() + _SECONDS)
    return replace(found, study=study, places=tuple(places))


def _waits(known: KnownSite, found: Settled) -> bool:
    """Return whether a text stays hard to read, places and all, though no picture is behind it."""
    reading = known.read(found.study)
    return any(one.verdict == "fail" and one.on != "picture" for one in reading.findings)


def _could_read(known: KnownSite, found: Settled) -> bool:
    """Return whether any text is left failing for another reason than the page's fading or a picture."""
    fades = fades_of(found.study)
    on_picture = on_pictures(known, found.study, known.tokens.values(found.study))
    return any(known.index.fading(pairing, fades) >= 1 and not on_picture[pairing] for pairing in found.left)


def _with(known: KnownSite, draft: Study, changes: Iterable[Change]) -> Settled:
    every = list(changes)
    base = with_changes(draft, [one for one in every if not one.tokens]).with_all_taken()
    parts = tuple(
        replace(one, before=base.role(one.role).colour) for one in every if one.tokens
    )  # fmt: skip
    study = with_changes(base, parts)
    return Settled(study, base, parts, frozenset(hard_to_read(known, study)))
