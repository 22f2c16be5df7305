"""The changes between two studies that show on a site: what a release is told to change, and nothing else."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from glaucon.core.changes.taking_back import taken_back
from glaucon.core.changes.told import ToldChange, told_changes
from glaucon.core.known.site import KnownSite
from glaucon.core.reading.colour_table import TokenColours
from glaucon.core.scopes.reading import colours_of, place_name
from glaucon.core.study.own_css import palette_for_own
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study

_ALWAYS = ("place", "backdrop", "coat", "fade", "css")


def shown_changes(known: KnownSite, before: Study | None, after: Study) -> tuple[ToldChange, ...]:
    """Return what a study changes of how an earlier one shows; None: of the site as it was brought in."""
    before = before or as_it_came(after)
    told = told_changes(before, after)
    shown = [one for one in told if one.kind in _ALWAYS or _is_seen(known, before, after, one, told)]
    return tuple(replace(one, label=one.label or _place(known, one.where)) for one in shown)


def _is_seen(
    known: KnownSite, before: Study, after: Study, change: ToldChange, told: tuple[ToldChange, ...]
) -> bool:  # fmt: skip
    """Return whether a change shows: taken back alone, or left alone when all others are taken back."""
    if not _shows_alike(known, after, taken_back(after, before, change)):
        return True
    alone = after
    for one in told:
        if one is not change:
            alone = taken_back(alone, before, one)
    return not _shows_alike(known, alone, taken_back(alone, before, change))


def as_it_came(study: Study) -> Study:
    """Return the study of a site as it was brought in, with the roles of another."""
    bare = {"worn": (), "backdrops": (), "coat_backdrops": {}, "extra_css": ""}
    return study.as_found().model_copy(update=bare)


def _place(known: KnownSite, where: Where | None) -> str:
    return place_name(known.survey, where) if where is not None else "The whole site"


def _shows_alike(known: KnownSite, one: Study, other: Study) -> bool:
    """Return whether two studies that differ in colours show the same."""
    if not np.array_equal(known.tokens.values(one), known.tokens.values(other)):
        return False
    if palette_for_own(one) != palette_for_own(other):
        return False
    return not one.worn or all(map(_are_alike, _dresses(known, one), _dresses(known, other)))


def _dresses(known: KnownSite, study: Study) -> list[TokenColours]:
    return colours_of(known.dressed(study), known.tokens, study)


def _are_alike(one: TokenColours, other: TokenColours) -> bool:
    if not np.array_equal(one.base, other.base):
        return False
    pairs = ((one.at, other.at), (one.grounds, other.grounds))
    return all(a.keys() == b.keys() and all(np.array_equal(a[n], b[n]) for n in a) for a, b in pairs)
