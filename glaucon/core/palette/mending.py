"""Proposals for one role of a study: the nearest colour that reads against all it stands with."""

from __future__ import annotations

from collections.abc import Callable

from glaucon.core.colour.value import Colour
from glaucon.core.palette.study import Study, role_of_tokens, token_values
from glaucon.core.reading.counterparts import Counterparts, find_counterparts
from glaucon.core.reading.findings import SurveyIndex
from glaucon.core.reading.nearest import Nearest, nearest_readable


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
