"""The token colours that hold at single elements under a study, its sections' coats and values included."""

from __future__ import annotations

from collections.abc import Iterable

from glaucon.core.known.site import KnownSite
from glaucon.core.reading.colour_table import TokenColours
from glaucon.core.scopes.cascade import Dresser, ScopesByPlace
from glaucon.core.study.study import Study

# A page, the number of a chain of regions, and an element's path.
PlaceOnPage = tuple[str, int, str]


def dresses_of(known: KnownSite, study: Study, places: Iterable[PlaceOnPage]) -> tuple[list[TokenColours], list[int]]:
    """Return the different sets of token colours at some places, and for each place the number of its set."""
    places = list(places)
    if not study.worn:
        return [TokenColours.of(known.tokens.values(study))], [0] * len(places)
    scopes, chains = ScopesByPlace(study), known.survey.chains
    dresser = Dresser(study, known.tokens, known.survey)
    keys = [tuple(known.survey.regions[region].key for region in chain) for chain in chains]
    numbers: dict[int, int] = {}  # place in `worn`, by id(): equal dresses are one object
    worn: list[TokenColours] = []
    dresses = []
    for page, chain, path in places:
        colours = dresser.colours(scopes.dress(page, keys[chain], path))
        if id(colours) not in numbers:
            numbers[id(colours)] = len(worn)
            worn.append(colours)
        dresses.append(numbers[id(colours)])
    return worn, dresses
