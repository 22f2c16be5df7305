"""The walk's data: the frame each element passes to its children, and the record of what a page showed."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

from glaucon.core.cascade.computed import Style
from glaucon.core.cascade.hints import Hints
from glaucon.core.cascade.media import Containers
from glaucon.core.cascade.rules import PageMatcher
from glaucon.core.cascade.stylesheet import Block
from glaucon.core.cascade.tree import Document, Element
from glaucon.core.survey.boxes import Area, Place
from glaucon.core.survey.layers import LayerMaker
from glaucon.core.survey.marks import Pictured
from glaucon.core.survey.model import Layer, Pairing, Sighting, Stack
from glaucon.core.survey.regions import RegionsOfPage
from glaucon.core.survey.walk.laid_out import Groups, Standing
from glaucon.core.survey.walk.things import SeenThing


@dataclass(slots=True)
class Cover:
    """An out-of-flow box that reaches over its container: above or below a text by z-index and tree order."""

    layers: tuple[Layer, ...]
    z: int
    order: int


@dataclass(slots=True, eq=False)
class Frame:
    """What an element passes to its children: layers below, covers above. `same`: nothing differs from rest yet."""

    stack: Stack
    covers: tuple[Cover, ...]
    place: Place
    beside: Stack = ()  # without the element's own background: what a table's caption stands on
    containers: Containers = ()
    columns: tuple[int, tuple[tuple[Layer, ...], ...]] | None = None  # where in the stack columns go, and theirs
    same: bool = False
    colour_at: int = 0  # how deep in regions the colour of text is said
    groups: Groups = ()
    adrift: bool = False  # in a box laid over others, with nothing opaque between it and them
    filled: tuple[Element, Style, Area, bool] | None = None  # whose background is cut to the words; of a pseudo-element


@dataclass(slots=True)
class Remembered:
    """What a page showed at rest, for its other states: where each element's sightings begin and end."""

    sightings: list[Sighting]
    spans: dict[int, tuple[int, int]]
    painted: list[tuple[Element, tuple[Layer, ...]]]  # each element with what it paints behind its content
    floating: set[int]  # elements with out-of-flow children: what is beside those colours them
    standing: dict[int, Standing]  # how elements stand, where the page was measured
    begun: dict[int, Style] = field(default_factory=dict)  # the styles of the elements that regions begin with
    pictured: list[Pictured] = field(default_factory=list)
    things: list[SeenThing] = field(default_factory=list)


# Registers a text of an element (with the suffix of generated text) in a pairing; returns the text's and its number.
Register = Callable[[Element, str, str, Pairing], tuple[int, int]]
# What texts lie over without lying in it, by the text's element and suffix: the chain of regions, and the path of the
# element that the innermost of them begins with.
Beside = dict[tuple[int, str], list[tuple[tuple[int, ...], str]]]


@dataclass(slots=True)
class PageContext:
    """What all walks over one page share."""

    page: str
    document: Document
    matcher: PageMatcher
    inline: Callable[[Element], Block | None]
    hints: Hints
    layers: LayerMaker
    register: Register
    regions: RegionsOfPage
    beside: Beside = field(default_factory=dict)


def groups_with(frame: Frame, element: Element, group: tuple[Layer, ...], pseudo: str = "") -> Groups:
    """Return the opacity groups around an element's content: its ancestors', and its own if it forms one."""
    order = -element.order - 1 if pseudo else element.order
    return (*frame.groups, (order, group[0])) if group else frame.groups
