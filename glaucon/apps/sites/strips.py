"""A site's colours in proportion, for the shelf and for what came in."""

from __future__ import annotations

from collections import defaultdict

from glaucon.apps.sites.schemas import FoundColour, FoundGroup, StripColour
from glaucon.core.colour.value import Colour
from glaucon.core.palette.known import KnownSite
from glaucon.core.palette.study import Study

_KINDS = {"ground": "Grounds", "words": "Words", "line": "Lines", "other": "Shadows and the rest"}
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
    """Return the site's found colours by kind, those of one role lying together."""
    roles = site.tokens.roles(study)
    order = {role.name: place for place, role in enumerate(study.roles)}
    grouped: dict[str, dict[tuple[str, str | None], FoundColour]] = {kind: {} for kind in _KINDS}
    for token, use in zip(site.survey.tokens, site.uses, strict=True):
        if token.kind == "default" and token.number not in roles:
            continue
        key = (token.colour.hex(), roles.get(token.number))
        entry = grouped[use.kind].setdefault(key, FoundColour(colour=key[0], share=0.0, places=0, texts=0, role=key[1]))
        entry.share += max(use.ground, use.words) if use.kind in ("ground", "words") else 1.0
        entry.places += 1
        entry.texts += len(use.runs)
    groups = []
    for kind, label in _KINDS.items():
        colours = list(grouped[kind].values())
        if not colours:
            continue
        total = sum(c.share**0.5 for c in colours) or 1.0
        for colour in colours:
            colour.share = max(0.012, colour.share**0.5 / total)
        colours.sort(key=lambda c: (order.get(c.role or "", 999), -c.share))
        groups.append(FoundGroup(kind=kind, label=label, colours=colours))
    return groups
