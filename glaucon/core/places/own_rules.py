"""Where the owner's own CSS wins over the palette: the texts that it colours, and the roles it passes over."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Literal

from glaucon.core.cascade.expression import tokens_in
from glaucon.core.known.site import KnownSite
from glaucon.core.reading.findings import SurveyIndex
from glaucon.core.study.own_css import NAME
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey, Pairing, layer_tokens


@dataclass(slots=True)
class OwnRules:
    """How many texts the own CSS colours or puts on another background, at rest, on which pages, over which roles."""

    texts: int = 0
    pages: set[str] = field(default_factory=set)
    over: Counter[str] = field(default_factory=Counter)


def won_by_own(plain: KnownSite, own: KnownSite, study: Study) -> OwnRules:
    """Return what differs between a site's survey with and without the own CSS, on the widest screen."""
    key = ContextKey(max(k.width for k in plain.survey.sightings), "rest")
    roles = plain.tokens.roles(study)
    before = {_name(plain, s.run): s.pairing for s in plain.survey.sightings[key]}
    found = OwnRules()
    for sighting in own.survey.sightings[key]:
        name = _name(own, sighting.run)
        if name not in before:
            continue
        was, now = plain.survey.pairings[before[name]], own.survey.pairings[sighting.pairing]
        is_colour, is_ground = _colour(plain, was) != _colour(own, now), _ground(plain, was) != _ground(own, now)
        if not is_colour and not is_ground:
            continue
        found.texts += 1
        found.pages.add(name[0])
        tokens = [*tokens_in(was.colour)] if is_colour else []
        tokens += plain.index.background_tokens(before[name]) if is_ground else ()
        found.over.update({roles[token] for token in tokens if token in roles})
    return found


def set_by_own(index: SurveyIndex, pairings: Sequence[int]) -> Literal["", "text", "background", "both"]:
    """Return what of a finding's pairings the own CSS sets, in a survey with it."""
    tokens = index.survey.tokens

    def is_own(token: int | None) -> bool:
        return token is not None and tokens[token].file == NAME

    is_text = any(is_own(index.text_token(one)) for one in pairings)
    is_ground = any(is_own(token) for one in pairings for token in index.background_tokens(one)[:1])
    return "both" if is_text and is_ground else "text" if is_text else "background" if is_ground else ""


def _name(known: KnownSite, run: int) -> tuple[str, str]:
    one = known.survey.runs[run]
    return one.page, one.path


# what tokens stand for is told by their places: two surveys number them differently


def _place(known: KnownSite, token: int) -> tuple[str, int, str]:
    one = known.survey.tokens[token]
    return one.file, one.start, one.text


def _colour(known: KnownSite, pairing: Pairing) -> list[tuple[str, int, str]]:
    return [_place(known, token) for token in pairing.word_tokens()]


def _ground(known: KnownSite, pairing: Pairing) -> list[tuple[str, int, str]]:
    return [_place(known, token) for layer in pairing.below for token in layer_tokens(layer)]
