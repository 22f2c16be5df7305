"""The uses of each token in each region: as the colour of text, as the background of text.

One custom property often gives both on a site (a bar in the brand's colour, links in it elsewhere). What a scope makes
of such a colour depends on what it does in the scope's region.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import replace

from glaucon.core.cascade.expression import BESIDE, INHERITED, Expression, founds_in
from glaucon.core.survey.model import Region, Survey, layer_expressions

_Use = tuple[int, int]  # a found colour and how many regions deep it is said


def regions_with_uses(survey: Survey) -> list[Region]:
    """Return a survey's regions with the colours of their texts and of what those stand on, said in the regions."""
    texts: list[set[int]] = [set() for _ in survey.regions]
    grounds: list[set[int]] = [set() for _ in survey.regions]
    known: dict[int, tuple[list[_Use], list[_Use]]] = {}
    for pairing, chain in {(s.pairing, survey.runs[s.run].chain) for one in survey.sightings.values() for s in one}:
        if pairing not in known:
            own = survey.pairings[pairing]
            below = [expression for layer in own.all_layers() for expression in layer_expressions(layer)]
            known[pairing] = (list(_uses(own.words)), list(_uses(below)))
        for found, uses in zip((texts, grounds), known[pairing], strict=True):
            for token, depth in uses:
                for region in survey.chains[chain][:depth]:
                    found[region].add(token)
    return [
        replace(region, texts=frozenset(texts[n]), grounds=frozenset(grounds[n]))
        for n, region in enumerate(survey.regions)
    ]


def _uses(expressions: Iterable[Expression]) -> Iterator[_Use]:
    for expression in expressions:
        for found in founds_in(expression):
            if found.at < BESIDE:
                yield found.token, found.at % INHERITED
