"""A site's found colours by use, each in proportion to its kind."""

from __future__ import annotations

from collections import defaultdict
from itertools import product

from glaucon.apps.api.schemas.site import FoundColour, FoundGroup
from glaucon.core.known.site import KnownSite
from glaucon.core.proposal.found import FoundColour as Found
from glaucon.core.study.study import Study, token_key

_USES = {
    "background": "Backgrounds", "text": "Text", "heading": "Headings", "link": "Links", "button": "Buttons, fields",
    "line": "Lines", "icon": "Icons", "shadow": "Shadows", "other": "Other",
}  # fmt: skip


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
