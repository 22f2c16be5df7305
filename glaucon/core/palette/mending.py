"""Proposals for one role of a study: the nearest colour that reads against all it stands with."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from glaucon.core.colour.value import Colour, css_text
from glaucon.core.palette.study import Study, role_of_tokens, token_values
from glaucon.core.reading.counterparts import Counterparts, find_counterparts
from glaucon.core.reading.findings import SurveyIndex
from glaucon.core.reading.nearest import Nearest, nearest_readable
from glaucon.core.reading.reading import read_pairings


def counterparts_of(index: SurveyIndex, study: Study, role: str) -> tuple[Counterparts, list[int]]:
    """Return what a role is read with under a study, and the pairings that its rows number.

    Raises: StudyError: if the study has no such role.
    """
    current = study.role(role)
    tokens = index.survey.tokens
    own = {number for number, name in role_of_tokens(study, tokens).items() if name == role}
    numbers = index.involving(own)
    others = token_values(study, tokens)
    alpha = current.colour.alpha

    def value_with(colour: Colour) -> Callable[[int], Colour]:
        def value(number: int) -> Colour:
            if number in own:
                return colour.with_alpha(alpha * tokens[number].colour.alpha)
            return others(number)

        return value

    pairings = [index.survey.pairings[number] for number in numbers]
    return find_counterparts(pairings, value_with, study.level), numbers


def nearest_for_role(index: SurveyIndex, study: Study, role: str) -> tuple[Nearest, list[int]]:
    """Return the nearest readable colour of a role, and the pairings that a split's indices number."""
    counterparts, numbers = counterparts_of(index, study, role)
    return nearest_readable(study.role(role).colour, counterparts), numbers


def nearest_for_some(index: SurveyIndex, study: Study, role: str, none: Nearest) -> tuple[Nearest, int, int]:
    """Return, where no colour serves all, the nearest that serves the larger part, and how many of how many."""
    counterparts, _ = counterparts_of(index, study, role)
    dark, light = none.split or ((), ())
    larger = set(dark if len(dark) >= len(light) else light)
    keep = [n for n, owner in enumerate(counterparts.pairing.tolist()) if owner in larger]
    some = counterparts.only(keep)
    everything = len(set(counterparts.pairing.tolist()))
    return nearest_readable(study.role(role).colour, some), len(larger), everything


@dataclass(frozen=True, slots=True)
class Offer:
    """A colour for a role that makes a finding readable, and what it does to texts: mended and harmed, over all.

    `left` counts the finding's own texts that stay hard to read, where no one colour serves all of it.
    """

    role: str
    colour: Colour
    delta_e_ok: float
    other_hue: bool
    mended: int
    harmed: int
    left: int


class Mender:
    """Finds colours that mend single findings of one study; what is shared between findings is found once."""

    def __init__(self, index: SurveyIndex, study: Study) -> None:
        self._index = index
        self._study = study
        values = token_values(study, index.survey.tokens)
        self._verdicts = read_pairings(index.survey.pairings, values, study.level)
        self._known: dict[str, tuple[Counterparts, list[int], Nearest]] = {}

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
                if owner in wanted or (spared and self._verdicts[owner].verdict == "pass")
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
        mended, harmed, left = self._effect(role, colour, numbers, wanted)
        return Offer(role, colour, found.delta_e_ok, found.other_hue, mended, harmed, left) if mended else None

    def _of(self, role: str) -> tuple[Counterparts, list[int], Nearest]:
        if role not in self._known:
            counterparts, numbers = counterparts_of(self._index, self._study, role)
            nearest = nearest_readable(self._study.role(role).colour, counterparts)
            self._known[role] = (counterparts, numbers, nearest)
        return self._known[role]

    def _effect(self, role: str, colour: Colour, numbers: list[int], wanted: set[int]) -> tuple[int, int, int]:
        """Return how many texts a role's new colour mends and harms somewhere, and leaves of those wanted."""
        survey = self._index.survey
        changed = self._study.with_values({role: css_text(colour)})
        pairings = [survey.pairings[number] for number in numbers]
        after = read_pairings(pairings, token_values(changed, survey.tokens), self._study.level)
        failed = {number for number in numbers if self._verdicts[number].verdict == "fail"}
        fails = {number for number, one in zip(numbers, after, strict=True) if one.verdict == "fail"}
        return len(self._texts(failed - fails)), len(self._texts(fails - failed)), len(self._texts(wanted & fails))

    def _texts(self, pairings: Iterable[int]) -> set[int]:
        return {run for number in pairings for run in self._index.uses[number].runs}
