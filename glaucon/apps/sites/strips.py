"""A site's colours in proportion, for the shelf and for what came in."""

from __future__ import annotations

from collections import defaultdict

from glaucon.apps.sites.schemas import FoundColour, FoundGroup, StripColour
from glaucon.core.colour.value import Colour
from glaucon.core.proposal.found import FoundColour as Found
from glaucon.core.proposal.known import KnownSite
from glaucon.core.study.study import Study, token_key

_USES = {
    "ground": "Grounds", "words": "Words", "heading": "Headings", "link": "Links", "button": "Buttons, fields",
    "line": "Lines", "icon": "Icons", "shadow": "Shadows", "other": "The rest",
}  # fmt: skip
_ROUND_SHARE = 0.02  # the least share a colour is shown with, so that it can be seen


def strip(site: KnownSite, study: Study) -> list[StripColour]:
    """Return the colours a site shows under a study, grounds by what stands on them, words by what wears them."""
    values = site.tokens.values(study)
    weights: dict[str, float] = defaultdict(float)
    for token, use in zip(site.survey.tokens, site.uses, strict=True):
        if use.kind in ("ground", "words"):
            # a ground fills about ten times the area that the strokes of its words do
            weights[Colour(*values[token.number, :3].tolist()).hex()] += use.ground * 10 + use.words
    return _shares(weights, 10)


def _shares(weights: dict[str, float], most: int) -> list[StripColour]:
    rooted = {colour: weight**0.5 for colour, weight in weights.items() if weight > 0}
    ordered = sorted(rooted.items(), key=lambda item: -item[1])[:most]
    total = sum(weight for _, weight in ordered) or 1.0
    return [StripColour(colour=colour, share=max(_ROUND_SHARE, weight / total)) for colour, weight in ordered]


def found_groups(site: KnownSite, study: Study) -> list[FoundGroup]:
    """Return the site's found colours by use, those of one role lying together."""
    order = {role.name: place for place, role in enumerate(study.roles)}
    groups = []
    for use, label in _USES.items():
        colours: list[FoundColour] = []
        for one in (found for found in site.found if found.use == use):
            by_role: dict[str | None, list[int]] = defaultdict(list)
            for number in one.tokens:
                by_role[study.mapping.get(token_key(site.survey.tokens[number]) or "")].append(number)
            for role, numbers in by_role.items():
                colours.append(_found_colour(site, one, role, numbers))
        if colours:
            total = sum(colour.share for colour in colours) or 1.0
            for colour in colours:
                colour.share = max(0.012, colour.share / total)
            colours.sort(key=lambda colour: order.get(colour.role or "", 999))  # stable: near ones stay together
            groups.append(FoundGroup(kind=use, label=label, colours=colours))
    return groups


def _found_colour(site: KnownSite, one: Found, role: str | None, numbers: list[int]) -> FoundColour:
    tokens = site.survey.tokens
    return FoundColour(
        colour=one.colour,
        # the root lets small ones be seen beside large ones
        share=(one.area * len(numbers) / len(one.tokens)) ** 0.5,
        places=sum(1 for number in numbers if tokens[number].kind != "default"),
        texts=len(set().union(*(site.uses[number].runs for number in numbers))),
        role=role,
        keys=[key for number in numbers if (key := token_key(tokens[number])) is not None],
    )
