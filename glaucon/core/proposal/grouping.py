"""Found colours gathered into groups: what a person takes for one colour in one use."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field

import numpy as np

from glaucon.core.colour.oklab import Floats, oklab_from_srgb
from glaucon.core.proposal.usage import TokenUse
from glaucon.core.survey.model import Painted, Painter, Survey


@dataclass(slots=True, eq=False)
class ColourGroup:
    """Tokens that come under one role; the first is the one the role takes its colour from."""

    tokens: list[int]
    weight: float


@dataclass(slots=True, eq=False)
class Surface(ColourGroup):
    """A background that text stands on, with what paints it. `below` is the share of all that is painted."""

    painters: dict[Painter, Painted] = field(default_factory=dict)
    is_button: bool = False
    is_section: bool = False
    is_landmark: bool = False

    @property
    def button_share(self) -> float:
        """Return the share of painted elements that are buttons, 0 to 1, weighted by their text."""
        size = sum(_size(painted) for painted in self.painters.values())
        return sum(_size(d) for p, d in self.painters.items() if is_button(p, d)) / size if size else 0.0


class Palette:
    """A site's tokens with their uses and colours in OKLab: as painted where text wears them, else as written."""

    def __init__(self, survey: Survey, uses: list[TokenUse], within: float) -> None:
        self.survey, self.uses, self.within = survey, uses, within
        self.lab: Floats = oklab_from_srgb(np.array([use.painted for use in uses]).reshape(-1, 3))

    def distance(self, one: int, other: int) -> float:
        """Return ΔE OK between two tokens."""
        return float(np.linalg.norm(self.lab[one] - self.lab[other]))

    def chroma(self, number: int) -> float:
        """Return a token's OKLCH chroma."""
        return float(np.hypot(self.lab[number, 1], self.lab[number, 2]))

    def alpha(self, number: int) -> float:
        """Return a token's own alpha."""
        return self.survey.tokens[number].colour.alpha

    def hex(self, number: int) -> str:
        """Return the colour that a group led by a token has: as painted, opaque."""
        token = self.survey.tokens[number]
        if token.colour.alpha == 1 or self.uses[number].kind != "text":
            return token.colour.with_alpha(1.0).hex()
        return type(token.colour)(*self.uses[number].painted).hex()

    def cluster(
        self, tokens: Iterable[int], within: float, weight: Callable[[int], float] = lambda n: 1.0
    ) -> list[ColourGroup]:
        """Gather tokens around the heaviest one, then around the heaviest of those left, and so on (ΔE OK `within`)."""
        left = np.array(sorted(tokens, key=lambda n: (-weight(n), n)), dtype=np.int64)
        groups: list[ColourGroup] = []
        while len(left):
            near = np.linalg.norm(self.lab[left] - self.lab[left[0]], axis=1) <= within * self.within + 1e-12
            members = left[near].tolist()
            left = left[~near]
            groups.append(ColourGroup(members, sum(weight(n) for n in members)))
        return groups

    def surface(self, group: ColourGroup) -> Surface:
        """Return a group of backgrounds with its painting elements: buttons, sections, landmarks."""
        painters: dict[Painter, Painted] = {}
        for number in group.tokens:
            for painter, painted in self.survey.painters.get(number, {}).items():
                known = painters.setdefault(painter, Painted())
                known.characters += painted.characters
                known.elements += painted.elements
                known.pages |= painted.pages
        found = Surface(group.tokens, group.weight, painters)
        found.is_button = self._is_button(found)
        found.is_landmark = any(p.is_landmark and p.landmark in ("header", "nav", "footer", "aside") for p in painters)
        found.is_section = not found.is_button and (
            found.is_landmark or any(is_section(painter, painted) for painter, painted in painters.items())
        )
        return found

    def _is_button(self, surface: Surface) -> bool:
        if any(_size(painted) for painted in surface.painters.values()):
            return surface.button_share > 0.5
        buttons = sum(self.uses[n].buttons for n in surface.tokens)
        return buttons > 0.5 * surface.weight > 0


def _size(painted: Painted) -> float:
    return painted.characters + 4.0 * painted.elements


def is_button(painter: Painter, painted: Painted) -> bool:
    """Return whether what paints a background is a button, or a link that looks like one."""
    if painter.tag == "button" or any("btn" in name.lower() or "button" in name.lower() for name in painter.classes):
        return True
    return painter.tag in ("a", "input") and painted.characters <= 40 * painted.elements


_SECTION_TAGS = frozenset(
    {"section", "article", "main", "body", "form", "table", "pre", "blockquote", "details", "dialog"}
)


def is_section(painter: Painter, painted: Painted) -> bool:
    """Return whether what paints a background is a band, a column, a card or the like and no badge or table cell."""
    if painter.tag in ("a", "button", "input", "select", "textarea", "span", "td", "th", "tr", "kbd", "code", "mark"):
        return False
    is_telling = painter.is_landmark or bool(painter.heading) or painter.tag in _SECTION_TAGS
    return is_telling or painted.characters >= 40 * painted.elements
