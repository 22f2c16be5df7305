"""Proposals for one role of a study: the nearest colour that reads against all it stands with."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from glaucon.core.colour.value import Colour, css_text
from glaucon.core.known.rows import Rows
from glaucon.core.known.site import KnownSite
from glaucon.core.reading.counterparts import Counterparts
from glaucon.core.reading.findings import Finding, Numbers
from glaucon.core.reading.nearest import Nearest, nearest_readable
from glaucon.core.reading.reading import FAIL, PASS
from glaucon.core.study.fading import with_fade
from glaucon.core.study.study import Study
from glaucon.core.survey.model import PaintGroup
from glaucon.core.wording import counted, percent


def counterparts_of(site: KnownSite, study: Study, role: str) -> tuple[Counterparts, list[int]]:
    """Return what a role is read with under a study, and the pairings that its rows number.

    Raises: StudyError: if the study has no such role.
    """
    own = study.role(role)
    rows = Rows(site, study)
    # roles tied to this one without any shift change with it; other tied roles keep their colour here
    moves = {role, *(other.id for other in study.alike_with(role))}
    numbers = sorted({number for one in moves for number in rows.of_role(one)})

    def at_level(level: float) -> Study:
        grey = {"value": css_text(Colour(level, level, level, own.colour.alpha)), "taken": True}
        roles = (r.model_copy(update=grey) if r.id in moves else r for r in study.roles)
        return study.model_copy(update={"roles": tuple(roles)})

    return rows.counterparts(numbers, at_level), numbers


def readable_among(site: KnownSite, study: Study, role: str, colours: Iterable[Colour]) -> list[bool]:
    """Return, for each colour, whether a role in it reads against everything it stands with, in every state.

    Raises: StudyError: if the study has no such role.
    """
    counterparts, _ = counterparts_of(site, study, role)
    rgb = np.array([colour.rounded().rgb for colour in colours]).reshape(-1, 3)
    result: list[bool] = counterparts.passes(rgb).tolist()
    return result


def nearest_for_role(site: KnownSite, study: Study, role: str) -> tuple[Nearest, list[int]]:
    """Return the nearest readable colour of a role, and the pairings that a split's indices number."""
    counterparts, numbers = counterparts_of(site, study, role)
    return nearest_readable(study.role(role).colour, counterparts), numbers


def nearest_for_some(site: KnownSite, study: Study, role: str, none: Nearest) -> tuple[Nearest, int, int]:
    """Return, where no colour serves all, the nearest that serves the larger part, and how many of how many."""
    counterparts, _ = counterparts_of(site, study, role)
    dark, light = none.split or ((), ())
    larger = set(dark if len(dark) >= len(light) else light)
    keep = [n for n, owner in enumerate(counterparts.pairing.tolist()) if owner in larger]
    some = counterparts.only(keep)
    everything = len(set(counterparts.pairing.tolist()))
    return nearest_readable(study.role(role).colour, some), len(larger), everything


@dataclass(frozen=True, slots=True)
class Offer:
    """A colour for a role that makes a finding readable, which `fixes` and `breaks` so many texts over all.

    `left` counts the finding's own texts that stay hard to read, where no one colour serves all of it.
    """

    role: str
    colour: Colour
    delta_e_ok: float
    other_hue: bool
    fixes: int
    breaks: int
    left: int


@dataclass(frozen=True, slots=True)
class Fading:
    """An opacity, 0 to 1, for what a selector of the page fades, that makes a finding readable and fixes `fixes`."""

    selector: str
    opacity: float
    fixes: int


class Mender:
    """Finds colours that mend single findings of one study; what is shared between findings is found once."""

    def __init__(self, site: KnownSite, study: Study) -> None:
        self._site = site
        self._study = study
        self._rows = Rows(site, study)
        self._verdicts = self._rows.verdicts(study)
        self._known: dict[str, tuple[Counterparts, list[int], Nearest]] = {}
        self._counted = set(np.nonzero(self._rows.index.is_used)[0].tolist())

    def offer(self, role: str, pairings: Iterable[int]) -> Offer | None:
        """Return the nearest colour of a role under which some pairings read.

        It reads against everything the role stands with where such a colour exists; else it leaves readable what
        is readable now; else it mends the pairings alone, or most of them. None where no colour mends any.
        Raises: StudyError: if the study has no such role.
        """
        counterparts, numbers, everywhere = self._of(role)
        owners = [numbers[int(place)] for place in counterparts.pairing]
        wanted = set(pairings)
        if not wanted <= set(owners):
            return None
        found = everywhere
        for spared in (True, False):
            if found.colour is not None:
                break
            keep = [
                row for row, owner in enumerate(owners)
                if owner in wanted or (spared and self._verdicts[owner] == PASS)
            ]  # fmt: skip
            found = nearest_readable(self._study.role(role).colour, counterparts.only(keep))
        if found.colour is None and found.split is not None:
            # what is left are the finding's own pairings: the larger part of them that one colour serves
            larger = max(found.split, key=lambda part: len(self._texts(numbers[place] for place in part)))
            keep = [row for row, place in enumerate(counterparts.pairing.tolist()) if place in larger]
            found = nearest_readable(self._study.role(role).colour, counterparts.only(keep))
        if found.colour is None or found.delta_e_ok is None:
            return None
        colour = found.colour.with_alpha(self._study.role(role).colour.alpha)
        fixes, breaks, left = self._effect(role, colour, numbers, wanted)
        return Offer(role, colour, found.delta_e_ok, found.other_hue, fixes, breaks, left) if fixes else None

    def fadings(self, finding: Finding) -> list[Fading]:
        """Return, for each rule of the page that fades text of a finding, the least fading that is readable.

        All that the rule fades is faded alike; what no fading less makes readable is left out, as is what a style
        attribute fades, since no rule reaches that.
        """
        of_selector: dict[str, set[int]] = {}
        for pairing in finding.pairings:
            for layer in self._rows.index.survey.pairings[pairing].below:
                if isinstance(layer, PaintGroup) and layer.opacity < 1 and layer.by:
                    of_selector.setdefault(layer.by, set()).add(pairing)
        found = (self._least_fading(selector, wanted) for selector, wanted in of_selector.items())
        return sorted((one for one in found if one is not None), key=lambda one: -one.fixes)

    def _least_fading(self, selector: str, wanted: set[int]) -> Fading | None:
        if wanted & self._hard_at(selector, 1.0):
            return None
        low, high = 0.0, 1.0
        while high - low > 0.005:
            middle = (low + high) / 2
            low, high = (middle, high) if wanted & self._hard_at(selector, middle) else (low, middle)
        opacity = math.ceil(high * 100 - 1e-9) / 100
        failed = set(np.nonzero(self._verdicts == FAIL)[0].tolist()) & self._counted
        return Fading(selector, opacity, len(self._texts(failed - self._hard_at(selector, opacity))))

    def _hard_at(self, selector: str, opacity: float) -> set[int]:
        verdicts = self._rows.verdicts(with_fade(self._study, selector, opacity))
        return set(np.nonzero(verdicts == FAIL)[0].tolist())

    def _of(self, role: str) -> tuple[Counterparts, list[int], Nearest]:
        if role not in self._known:
            counterparts, numbers = counterparts_of(self._site, self._study, role)
            nearest = nearest_readable(self._study.role(role).colour, counterparts)
            self._known[role] = (counterparts, numbers, nearest)
        return self._known[role]

    def _effect(self, role: str, colour: Colour, numbers: list[int], wanted: set[int]) -> tuple[int, int, int]:
        """Return how many texts a role's new colour fixes and breaks anywhere, and leaves of those wanted."""
        changed = self._study.with_values({role: css_text(colour)})
        after = self._rows.verdicts(changed)
        ours = np.array(numbers, dtype=np.int64)
        failed = set(ours[self._verdicts[ours] == FAIL].tolist())
        fails = set(ours[after[ours] == FAIL].tolist())
        return len(self._texts(failed - fails)), len(self._texts(fails - failed)), len(self._texts(wanted & fails))

    def _texts(self, pairings: Iterable[int]) -> Numbers:
        return self._rows.texts(pairings)


def why_no_offer(study: Study, finding: Finding) -> str:
    """Return why no colour of either side would make a finding readable, as a sentence with the way out."""
    if finding.where:
        return f"“{finding.where}” has colours of its own. Change them under Sections."
    roles = [study.role(side.role) for side in (finding.text, finding.background) if side.role is not None]
    if not roles:
        return "Neither colour is in the palette. Add one under Site, Colours found."
    if finding.faded < 1:
        return f"The page fades this text to {percent(finding.faded)}, too much for any colour."
    if all(role.locked for role in roles):
        return "The colours are locked. Unlock one to change it."
    if finding.background.role is None:
        return "What lies behind it is a picture or a colour outside the palette. Give this text a plain background."
    return f"No single colour is readable in all {counted(finding.places, 'place')}. Make the text larger or bolder."
