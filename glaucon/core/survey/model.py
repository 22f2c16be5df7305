"""What a survey finds: runs, what stands behind them as expressions, and in which states and widths."""

from __future__ import annotations

from dataclasses import dataclass, field

from glaucon.core.cascade.expression import Expression
from glaucon.core.cascade.stylesheet import Problem
from glaucon.core.cascade.tokens import ColourToken


@dataclass(frozen=True, slots=True)
class Fill:
    """A layer of one colour."""

    colour: Expression


@dataclass(frozen=True, slots=True)
class Shade:
    """A gradient layer: any mix of two neighbouring stops may lie behind a text."""

    stops: tuple[Expression, ...]


@dataclass(frozen=True, slots=True)
class Unseen:
    """Something that paints and whose colours are not known here; `why` is a sentence."""

    why: str


@dataclass(frozen=True, slots=True)
class Group:
    """The start of an opacity group: all layers after it, and the text, fade together."""

    opacity: float


Layer = Fill | Shade | Unseen | Group
Stack = tuple[Layer, ...]  # from the canvas up


@dataclass(frozen=True, slots=True)
class Pairing:
    """One text colour on one stack. `above` lies over both; `exempt` holds for disabled controls."""

    colour: Expression
    below: Stack
    above: Stack
    large: bool
    exempt: bool


@dataclass(frozen=True, slots=True)
class Run:
    """An element with text of its own, the same in every state and width."""

    page: str
    path: str
    text: str
    characters: int
    tag: str
    is_link: bool
    is_heading: bool
    is_control: bool


@dataclass(frozen=True, slots=True)
class Sighting:
    """A run as one context shows it."""

    run: int
    pairing: int
    size_px: float
    weight: int


@dataclass(frozen=True, slots=True)
class ContextKey:
    """One state at one viewport width."""

    width: int
    state: str
    scheme: str = "light"


@dataclass(slots=True)
class Survey:
    """All pages of a site in all contexts asked for. Numbers index `runs`, `pairings` and `tokens`."""

    pages: list[str]
    tokens: list[ColourToken]
    runs: list[Run] = field(default_factory=list)
    pairings: list[Pairing] = field(default_factory=list)
    sightings: dict[ContextKey, list[Sighting]] = field(default_factory=dict)
    problems: list[Problem] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)
    elements: int = 0
