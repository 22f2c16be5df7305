"""Where given colours go on a site: where a person would put them, never on a detail nor on a state."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from glaucon.core.colour.contrast import contrast_ratios
from glaucon.core.colour.gamut import into_srgb
from glaucon.core.colour.value import Colour
from glaucon.core.making.drafting import (
    COLOURFUL,
    GREY,
    Direction,
    Parts,
    chroma_of,
    drafted,
    hue_of,
    keeps_colour,
    lch_of,
    takes_dark_words,
)
from glaucon.core.making.settling import Settled, settled
from glaucon.core.proposal.grouping import is_button
from glaucon.core.study.darkness import MIDDLING
from glaucon.core.study.roles import Kind
from glaucon.core.study.study import Study

_PALE, _DEEP, _GREYISH = 0.9, 0.38, 0.05  # OKLCH lightness of pages and of text, and the chroma up to which both are
_READS = 4.5


@dataclass(slots=True)
class Placed:
    """Given colours on their roles, those without one, and what became of the draft around them."""

    places: dict[str, Colour]
    settled: Settled
    without: list[Colour] = field(default_factory=list)


def placed(parts: Parts, direction: Direction, given: Sequence[Colour], wished: Mapping[str, Colour]) -> Placed:
    """Return a study with given colours on roles, everything else made around them.

    A `wished` colour is on its role; the others go where they suit: pale greyish ones on the page, deep greyish ones
    on text, the first colourful one on buttons, the second on links or sections, more on sections.
    """
    free = [colour for colour in given if colour not in wished.values()]
    places = dict(wished)
    without = []
    for colour in free:
        wishes = (one for one in _wishes(parts, direction, colour, places) if one not in places)
        name = next((one for one in wishes if not _is_beside_its_opposite(parts, one, colour, places)), None)
        if name is None:
            without.append(colour)
        else:
            places[name] = colour
    for role in parts.study.roles:  # a band of the brand's colour goes with the brand
        if role.tie is not None and role.follows_brand and role.is_background and role.tie.to in places:
            places.setdefault(role.id, places[role.tie.to])
    hues = _colourful_first(given)
    if direction.borrows and chroma_of(hues[0]) < GREY and (own := parts.study.first("accent")) is not None:
        hues = [own.colour, *hues]
    values = drafted(parts, direction, hues, places)
    link = parts.study.first("link")
    if len(given) == 1 and link is not None and link.id not in places and _reads(direction, given[0], given[0]):
        values[link.id] = given[0].hex()
    start = begun(parts.study, direction.name, values)
    floors = {} if chroma_of(hues[0]) < GREY else _floors(parts, start, places)
    return Placed(places, settled(parts.known, start, places, floors), without)


def begun(study: Study, name: str, values: Mapping[str, str]) -> Study:
    """Return a study with the given values, without the locks and ties of its origin."""
    roles = tuple(role.model_copy(update={"locked": False, "tie": None}) for role in study.roles)
    return study.model_copy(update={"name": name[:80], "roles": roles}).with_values(values, take=True)


def _colourful_first(given: Sequence[Colour]) -> list[Colour]:
    """Return the colours that give a palette its hues before those that are greyish."""
    return sorted(given, key=lambda colour: chroma_of(colour) < _GREYISH)


def _floors(parts: Parts, start: Study, places: Mapping[str, Colour]) -> dict[str, float]:
    """Return the chromas that links and accents keep to."""
    names = [role.id for role in start.roles if role.id not in places and keeps_colour(parts, role.id)]
    return dict.fromkeys(names, COLOURFUL)


def _wishes(parts: Parts, direction: Direction, colour: Colour, taken: Mapping[str, Colour]) -> Iterator[str]:
    """Yield the roles a colour may be on, the likeliest first: main ones at rest that the site shows."""
    lightness, chroma, _ = lch_of(colour)
    is_light = direction.is_light
    if chroma < _GREYISH and (lightness > _PALE if is_light else lightness < 0.3):
        yield from _firsts(parts, "background", "panel")
    if chroma < _GREYISH and (lightness < _DEEP if is_light else lightness > _PALE):
        yield from _firsts(parts, "text", "heading")
    given = list(taken.values())
    colourful = [one for one in given if chroma_of(one) >= _GREYISH]
    accent = _firsts(parts, "accent") or fills_buttons(parts)
    links = _firsts(parts, "link") if _reads(direction, colour, (colourful or [colour])[0]) else []
    sections = _sections(parts, is_dark=lightness < MIDDLING)
    if chroma < _GREYISH:
        yield from [*sections, *accent, *_firsts(parts, "line")]
    elif not colourful:
        yield from [*accent, *links, *sections]
    elif len(colourful) == 1:
        yield from [*links, *sections, *accent]
    else:
        yield from [*sections, *links, *accent]
    yield from _firsts(parts, "line")
    if lightness < _DEEP and is_light:
        yield from _firsts(parts, "heading")


def _sections(parts: Parts, is_dark: bool) -> list[str]:
    """Return the backgrounds of the short palette's coats, as dark or light as a colour first, then the largest.

    One over a picture is not among them where it would have to turn from dark to light: the picture stays.
    """
    found = []
    for coat in parts.study.short_coats():
        role = parts.study.first("background", coat.id)
        if role is None or role.id not in parts.uses or role.id in parts.like_page:
            continue
        if role.id not in parts.veils or parts.is_dark(role.id) == is_dark:
            found.append(role)
    found.sort(key=lambda role: parts.is_dark(role.id) != is_dark)
    return [role.id for role in found]


def _is_beside_its_opposite(parts: Parts, name: str, colour: Colour, places: Mapping[str, Colour]) -> bool:
    """Return whether one text stands on a background and on one that was given a colour which takes other words."""
    for grounds in parts.grounds.values():
        much = sum(grounds.values()) / 50
        if grounds.get(name, 0.0) <= much:
            continue
        others = [places[one] for one in places if one != name and grounds.get(one, 0.0) > much]
        if any(takes_dark_words(lch_of(one)) != takes_dark_words(lch_of(colour)) for one in others):
            return True
    return False


def fills_buttons(parts: Parts) -> list[str]:
    """Return the section's background that most buttons are filled with, where no colour is of buttons alone."""
    tokens, painters = parts.known.tokens.tokens_of(parts.study), parts.known.survey.painters
    buttons = {
        name: sum(
            painted.elements for token in tokens.get(name, ()) for painter, painted in painters.get(token, {}).items()
            if is_button(painter, painted)
        )
        for name in _sections(parts, is_dark=False)
    }  # fmt: skip
    return [name for name in sorted(buttons, key=lambda one: -buttons[one]) if buttons[name]][:1]


def _reads(direction: Direction, colour: Colour, first: Colour) -> bool:
    """Return whether a colour can be read as a link on the page that a direction drafts."""
    lightness, chroma = direction.page
    page = into_srgb(np.array([[lightness, chroma, hue_of(first) + direction.ground_turn]]))
    return float(contrast_ratios(np.array([colour.rgb]), page)[0]) >= _READS


def _firsts(parts: Parts, *kinds: Kind) -> list[str]:
    found = (parts.study.first(kind) for kind in kinds)
    return [role.id for role in found if role is not None and role.id in parts.uses and role.tier == "main"]
