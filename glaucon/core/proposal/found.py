"""Colour tokens of a site grouped by colour and use, with their share of the site and their places."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from glaucon.core.cascade.tokens import ColourToken
from glaucon.core.colour.oklab import Floats, oklab_from_srgb
from glaucon.core.proposal.usage import TokenUse

# in the order they are shown
USES = ("background", "text", "heading", "link", "button", "line", "icon", "shadow", "other")
_ICON_PROPERTIES = frozenset({"fill", "stroke", "stop-color", "flood-color", "lighting-color"})
_ROOM = 10.0  # a background fills about ten times the area that the strokes of its text do
_STANDS_OUT = 0.08  # ΔE OK
_LINE_AREA = 400.0  # a border's proxy: about a line of 16 px text at one pixel's strength


@dataclass(slots=True)
class FoundColour:
    """One colour in one use. `area` is characters times size squared for text, ten times that for backgrounds."""

    colour: str
    use: str
    tokens: list[int] = field(default_factory=list)
    runs: set[int] = field(default_factory=set)
    area: float = 0.0
    is_seen: bool = True  # on a page, in some state


def use_of(prop: str, use: TokenUse, stands_out: bool) -> str:
    """Return what a token mostly does, one of USES; only a background unlike the page's can be a button's."""
    if use.kind == "line":
        return "line"
    if prop in _ICON_PROPERTIES:
        return "icon"
    if use.kind == "other":
        return "shadow" if "shadow" in prop else "other"
    if use.kind == "background":
        return "button" if stands_out and use.buttons > 0.5 * use.background > 0 else "background"
    if use.buttons and use.buttons > 0.5 * use.text:
        return "button"
    if use.links > 0.5 * use.text > 0:
        return "link"
    return "heading" if use.headings > 0.5 * use.text > 0 else "text"


def found_colours(tokens: list[ColourToken], uses: list[TokenUse]) -> list[FoundColour]:
    """Return the site's colours, by use, those that lie near each other next to one another, large ones first."""
    found: dict[tuple[str, str, bool], FoundColour] = {}
    apart = _apart_from_page(tokens, uses)
    for token, use in zip(tokens, uses, strict=True):
        if token.kind == "default" and not use.runs:
            continue
        does = use_of(token.property, use, bool(apart[token.number] > _STANDS_OUT))
        key = (does, token.colour.hex(), use.is_seen)
        entry = found.setdefault(key, FoundColour(key[1], does, is_seen=use.is_seen))
        entry.tokens.append(token.number)
        entry.runs |= use.runs
        entry.area += _area(use)
    by_use = {name: [one for one in found.values() if one.use == name] for name in USES}
    return [
        one for is_seen in (True, False) for name in USES
        for one in neighbours([each for each in by_use[name] if each.is_seen == is_seen], tokens)
    ]  # fmt: skip


def _apart_from_page(tokens: list[ColourToken], uses: list[TokenUse]) -> Floats:
    """Return each token's ΔE OK from the colour that most text stands on."""
    lab = oklab_from_srgb(np.array([token.colour.rgb for token in tokens]))
    main = max(range(len(tokens)), key=lambda number: uses[number].background)
    return np.asarray(np.linalg.norm(lab - lab[main], axis=1))


def _area(use: TokenUse) -> float:
    if use.kind == "background":
        return use.background * _ROOM
    return use.text if use.kind == "text" else _LINE_AREA


def neighbours(colours: list[FoundColour], tokens: list[ColourToken]) -> list[FoundColour]:
    """Return colours so that the largest come first and each is followed by those nearest to it (ΔE OK under 0.1)."""
    left = sorted(colours, key=lambda one: (-one.area, one.colour))
    rgb = {one.colour: tokens[one.tokens[0]].colour.rgb for one in colours}
    lab = {hex_: oklab_from_srgb(np.array(value)) for hex_, value in rgb.items()}
    ordered: list[FoundColour] = []
    while left:
        seed = left.pop(0)
        ordered.append(seed)
        near = [one for one in left if np.linalg.norm(lab[one.colour] - lab[seed.colour]) < 0.1]
        ordered.extend(sorted(near, key=lambda one: float(np.linalg.norm(lab[one.colour] - lab[seed.colour]))))
        left = [one for one in left if one not in near]
    return ordered
