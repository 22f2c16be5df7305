"""A site's colours in proportion, for the shelf and for what came in."""

from __future__ import annotations

from collections import defaultdict
from itertools import product

from glaucon.apps.api.schemas.site import FoundColour, FoundGroup, StripColour
from glaucon.core.proposal.found import FoundColour as Found
from glaucon.core.proposal.known import KnownSite
from glaucon.core.study.study import Study, token_key

_USES = {
    "background": "Backgrounds", "text": "Text", "heading": "Headings", "link": "Links", "button": "Buttons, fields",
    "line": "Lines", "icon": "Icons", "shadow": "Shadows", "other": "Other",
}  # fmt: skip
_ROUND_SHARE = 0.02  # the least share a colour is shown with, so that it can be seen


def strip(site: KnownSite, study: Study) -> list[StripColour]:
    """Return the short palette in proportion: backgrounds by what stands on them, text by what wears it."""
    weights: dict[str, float] = defaultdict(float)
    of_role = site.tokens.tokens_of(study)
    coats = {coat.id for coat in study.short_coats()}
    for role in study.roles:
        if role.tier != "main" or role.state != "rest" or (role.coat is not None and role.coat not in coats):
            continue
        uses = [site.uses[number] for number in of_role.get(role.id, [])]
        # a background fills about ten times the area that the strokes of its text do
        weights[role.colour.with_alpha(1.0).hex()] += sum(use.background * 10 + use.text for use in uses)
    return _shares(weights, 15)


def _shares(weights: dict[str, float], most: int) -> list[StripColour]:
    rooted = {colour: weight**0.5 for colour, weight in weights.items() if weight > 0}
    ordered = sorted(rooted.items(), key=lambda item: -item[1])[:most]
    total = sum(weight for _, weight in ordered) or 1.0
    return [StripColour(colour=colour, share=max(_ROUND_SHARE, weight / total)) for colour, weight in ordered]


def found_groups(site: KnownSite, study: Study) -> list[FoundGroup]:
    """Return the site's found colours by use, those of one role lying together."""
    order = {role.id: place for place, role in enumerate(study.roles)}
    groups = []
    for is_seen, (use, label) in product((True, False), _USES.items()):
        colours: list[FoundColour] = []
        for one in (found for found in site.found if found.use == use and found.is_seen == is_seen):
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
            groups.append(FoundGroup(kind=use, label=label, is_seen=is_seen, colours=colours))
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
