"""Found colours: every colour token of a site by what it does, how much of the site it colours, and where it stands."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from glaucon.core.cascade.tokens import ColourToken
from glaucon.core.colour.oklab import Floats, oklab_from_srgb, oklch_from_oklab
from glaucon.core.palette.usage import TokenUse

# in the order they are shown
USES = ("ground", "words", "heading", "link", "button", "line", "icon", "shadow", "other")
_ICON_PROPERTIES = frozenset({"fill", "stroke", "stop-color", "flood-color", "lighting-color"})
_ROOM = 10.0  # a ground fills about ten times the area that the strokes of its words do
_STANDS_OUT = 0.08  # ΔE OK
_LINE_AREA = 400.0  # a border's proxy: about a line of 16 px text at one pixel's strength


@dataclass(slots=True)
class FoundColour:
    """One colour in one use. `area` is characters times size squared for words, ten times that for grounds."""

    colour: str
    use: str
    tokens: list[int] = field(default_factory=list)
    runs: set[int] = field(default_factory=set)
    area: float = 0.0


def use_of(prop: str, use: TokenUse, stands_out: bool) -> str:
    """Return what a token mostly does, one of USES; only a ground that stands out from the page's can be a button's."""
    if use.kind == "line":
        return "line"
    if prop in _ICON_PROPERTIES:
        return "icon"
    if use.kind == "other":
        return "shadow" if "shadow" in prop else "other"
    if use.kind == "ground":
        return "button" if stands_out and use.buttons > 0.5 * use.ground > 0 else "ground"
    if use.buttons and use.buttons > 0.5 * use.words:
        return "button"
    if use.links > 0.5 * use.words > 0:
        return "link"
    return "heading" if use.headings > 0.5 * use.words > 0 else "words"


def found_colours(tokens: list[ColourToken], uses: list[TokenUse]) -> list[FoundColour]:
    """Return the site's colours, by use, those that lie near each other next to one another, large ones first."""
    found: dict[tuple[str, str], FoundColour] = {}
    apart = _apart_from_main_ground(tokens, uses)
    for token, use in zip(tokens, uses, strict=True):
        if token.kind == "default" and not use.runs:
            continue
        key = (use_of(token.property, use, bool(apart[token.number] > _STANDS_OUT)), token.colour.hex())
        entry = found.setdefault(key, FoundColour(key[1], key[0]))
        entry.tokens.append(token.number)
        entry.runs |= use.runs
        entry.area += _area(use)
    by_use = {name: [one for one in found.values() if one.use == name] for name in USES}
    return [one for name in USES for one in neighbours(by_use[name], tokens)]


def _apart_from_main_ground(tokens: list[ColourToken], uses: list[TokenUse]) -> Floats:
    """Return each token's ΔE OK from the colour that most words stand on."""
    lab = oklab_from_srgb(np.array([token.colour.rgb for token in tokens]))
    main = max(range(len(tokens)), key=lambda number: uses[number].ground)
    return np.asarray(np.linalg.norm(lab - lab[main], axis=1))


def _area(use: TokenUse) -> float:
    if use.kind == "ground":
        return use.ground * _ROOM
    return use.words if use.kind == "words" else _LINE_AREA


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


def word_of(hex_: str) -> str:
    """Return a plain word for a colour, to tell grounds apart by: "grey", "deep green", "pale blue"."""
    rgb = np.array([int(hex_[i : i + 2], 16) / 255 for i in (1, 3, 5)])
    lightness, chroma, hue = oklch_from_oklab(oklab_from_srgb(rgb)).tolist()
    if chroma < 0.025:
        return "white" if lightness > 0.97 else "black" if lightness < 0.15 else _shade(lightness) + "grey"
    return _shade(lightness) + _hue_word(hue, lightness, chroma)


_HUES = (
    (15, "pink"), (50, "red"), (75, "orange"), (110, "yellow"), (130, "lime"), (160, "green"), (200, "teal"),
    (265, "blue"), (300, "violet"), (340, "purple"), (361, "pink"),
)  # fmt: skip


def _hue_word(hue: float, lightness: float, chroma: float) -> str:
    word = next(name for limit, name in _HUES if hue < limit)
    if word in ("orange", "yellow") and chroma < 0.09:
        return "sand" if lightness > 0.7 else "brown"
    return "brown" if word == "orange" and lightness < 0.5 else word


def _shade(lightness: float) -> str:
    return "pale " if lightness > 0.88 else "deep " if lightness < 0.42 else ""
