"""Changes of one place alone: what a section, part, page or single text gets as a colour of its own."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

import numpy as np

from glaucon.core.colour.oklab import delta_e_ok
from glaucon.core.colour.value import Colour
from glaucon.core.reading.findings import Finding, SiteReading
from glaucon.core.study.coats import wear
from glaucon.core.study.roles import Role
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study

_SAME = 1 / 512  # of a channel


@dataclass(frozen=True, slots=True)
class Kept:
    """A section or part in a place that keeps the colour it has."""

    where: Where
    place: str
    colour: Colour


@dataclass(frozen=True, slots=True)
class PlaceChange:
    """Another colour for one use of a place alone, "link.hover": `texts` show it, `fixes` were hard to read.

    `kept` are boxes in it that keep what they have; `also` are further places that get the same, one text each.
    """

    where: Where
    place: str
    role: str
    use: str
    before: Colour
    after: Colour
    texts: int
    fixes: int
    kept: tuple[Kept, ...] = ()
    also: tuple[Where, ...] = ()

    @property
    def places(self) -> tuple[Where, ...]:
        """Return the places that get the colour."""
        return (self.where, *self.also)

    @property
    def delta_e_ok(self) -> float:
        """Return how far the colour moves."""
        return float(delta_e_ok(np.array(self.before.rgb), np.array(self.after.rgb)))

    def made_in(self, study: Study) -> Study:
        """Return a study with this change made."""
        for where in self.places:
            study = with_place(study, where, {self.use: self.after.hex()})
        for one in self.kept:
            study = with_place(study, one.where, {self.use: one.colour.hex()})
        return study


def with_place(study: Study, where: Where, values: Mapping[str, str]) -> Study:
    """Return the study with values added to those a place already wears."""
    now = next((scope for scope in study.worn if scope.where == where), None)
    return wear(study, [where], now.coat if now else None, {**(now.set if now else {}), **values})


def with_places(study: Study, changes: Iterable[PlaceChange]) -> Study:
    """Return a study with some changes by place made."""
    for one in changes:
        study = one.made_in(study)
    return study


def role_to_change(study: Study, finding: Finding, is_text: bool) -> Role | None:
    """Return the role of a finding's text; its background's only where a state alone shows the two together."""
    side = finding.text if is_text else finding.background
    role = study.role(side.role) if side.role is not None else None
    return role if is_text or "rest" not in finding.states else None


def changed_texts(before: SiteReading, after: SiteReading) -> set[int]:
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
