"""Starting studies: palettes of ours, each a direction and a few colours, fitted to the site when one is tried."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from glaucon.core.colour.gamut import into_srgb
from glaucon.core.colour.value import Colour, read_colour
from glaucon.core.errors import StudyError
from glaucon.core.known.site import KnownSite
from glaucon.core.making.drafting import Direction, hue_of
from glaucon.core.making.making import DIRECTIONS, Made, finished, make_study
from glaucon.core.making.settling import settled
from glaucon.core.study.study import Study


@dataclass(frozen=True, slots=True)
class Starting:
    """A palette to start from: its name, the direction it goes and the colours it is made of."""

    name: str
    direction: str
    colours: tuple[str, ...]

    @property
    def given(self) -> list[Colour]:
        """Return its colours."""
        return [read_colour(text) for text in self.colours]

    @property
    def way(self) -> Direction:
        """Return the direction it goes."""
        return next(one for one in DIRECTIONS if one.name == self.direction)

    def looks(self) -> dict[str, Colour]:
        """Return the colours of a page in it, by part."""
        way, first = self.way, self.given[0]
        hue, ground = hue_of(first), hue_of(first) + way.ground_turn
        lch = {
            "page": (*way.page, ground),
            "section": (*way.light, hue + way.section_turn),
            "dark": (*way.dark, hue + way.section_turn),
            "text": (way.words[0], way.words[1], hue + way.words[2]),
            "heading": (way.heading[0], way.heading[1], hue + way.heading[2]),
        }
        srgb = into_srgb(np.array(list(lch.values())))
        return {**{part: Colour(*map(float, rgb)) for part, rgb in zip(lch, srgb, strict=True)}, "accent": first}


STARTING = (
    Starting("Lock paddle", "Still water", ("#1f5f6b",)),
    Starting("Rowan berry", "Still water", ("#a8321f", "#2f4f4a")),
    Starting("Wet slate", "Chalk and slate", ("#3d5a73",)),
    Starting("Whitewash", "Chalk and slate", ("#7a5a12",)),
    Starting("Towpath clay", "Painted hull", ("#8a4b2d",)),
    Starting("Roses on the door", "Painted hull", ("#9c2a4f", "#2d6a4f")),
    Starting("Kingfisher", "Painted hull", ("#0d6f8f", "#b3541e")),
    Starting("Alder shade", "Far bank", ("#3f6b3a",)),
    Starting("Heather mile", "Far bank", ("#6d4a8c",)),
    Starting("Brass lamp", "Far bank", ("#8a6a14",)),
    Starting("Tunnel mouth", "Night mooring", ("#e0a63a",)),
    Starting("Stove light", "Night mooring", ("#e2725b",)),
    Starting("Frost on the cut", "Night mooring", ("#8fc7de",)),
    Starting("Dusk heron", "Evening sky", ("#c9b8e8",)),
    Starting("Peat water", "Evening sky", ("#e6c48a",)),
)


def starting_study(known: KnownSite, study: Study, name: str) -> Made:
    """Return a starting study fitted to the roles of a site.

    Raises: StudyError: there is none of that name.
    """
    found = next((one for one in STARTING if one.name == name), None)
    if found is None:
        raise StudyError(f"There is no starting palette called “{name}”. Choose one from the list.")
    direction = DIRECTIONS.index(found.way)
    made = make_study(known, study, found.given, direction, whose="its")
    ours = {role.id for role in study.roles}
    base, parts, places = made.base, made.parts, made.places
    if made.failing:  # nobody asked for its colours to stay where they are
        free = settled(known, made.base, (), {})
        base, parts, places = free.base, free.parts, free.places
    roles = tuple(role for role in base.roles if role.id in ours)
    # nobody asked for the colours it is made from to stay: none is given
    return finished(known, study, base.model_copy(update={"name": name, "roles": roles}), parts, places, made.about)
