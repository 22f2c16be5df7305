"""What a survey finds: runs, what stands behind them as expressions, and in which states and widths."""

from __future__ import annotations

import re
from array import array
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Literal

from glaucon.core.cascade.expression import Expression, Found, tokens_in
from glaucon.core.cascade.properties.effects import Filter
from glaucon.core.cascade.stylesheet import Problem
from glaucon.core.cascade.tokens import ColourToken
from glaucon.core.colour.value import Colour


@dataclass(frozen=True, slots=True)
class Fill:
    """A layer of one colour."""

    colour: Expression
    blend: str = "normal"


@dataclass(frozen=True, slots=True)
class Ground:
    """Where a region that no rule of the page gives a background would paint one that a study gives it.

    `own` is what it paints until then: an attribute's colour, or the browser's.
    """

    at: int  # how deep the region lies
    own: Expression | None = None


@dataclass(frozen=True, slots=True)
class Shade:
    """A layer that shows one of several colours behind a text; with `partial` it may also not reach there."""

    samples: tuple[Expression, ...]
    partial: bool = False
    blend: str = "normal"


@dataclass(frozen=True, slots=True)
class Photo:
    """A picture by the colours in it that matter: darkest, lightest and some between, with their alpha."""

    colours: tuple[Colour, ...]
    partial: bool = False
    blend: str = "normal"


@dataclass(frozen=True, slots=True)
class Unseen:
    """Something that paints and whose colours are not known here; `why` is a sentence."""

    why: str


@dataclass(frozen=True, slots=True)
class PaintGroup:
    """The start of a group: all layers after it, and the text, are filtered, fade and blend together.

    `by` is the selector of the rule that gives the opacity, "" where it is none's.
    """

    opacity: float
    filters: tuple[Filter, ...] = ()
    blend: str = "normal"
    by: str = ""


Paint = Fill | Shade | Photo
Layer = Paint | Unseen | PaintGroup | Ground
Stack = tuple[Layer, ...]  # from the canvas up


def layer_expressions(layer: Layer) -> tuple[Expression, ...]:
    """Return the expressions a layer's colours are."""
    if isinstance(layer, Fill):
        return (layer.colour,)
    if isinstance(layer, Ground):
        return (layer.own,) if layer.own is not None else ()
    return layer.samples if isinstance(layer, Shade) else ()


def is_opaque_photo(photo: Photo) -> bool:
    """Return whether a picture hides all that lies below it."""
    return not photo.partial and all(colour.alpha >= 1 - 1e-9 for colour in photo.colours)


def layer_tokens(layer: Layer) -> list[int]:
    """Return the found colours a layer's colours are made of, in order."""
    found: list[int] = []
    for expression in layer_expressions(layer):
        if isinstance(expression, Found):
            found.append(expression.token)
        else:
            found.extend(tokens_in(expression))
    return found


@dataclass(frozen=True, slots=True)
class Pairing:
    """One text colour on one stack. `above` lies over both; `exempt` holds for disabled controls.

    `icon`: its words are glyphs of an icon font.
    `laid`: a browser has told where the text lies, so that of all that may lie behind it the worst counts; otherwise
    layout decides where answers differ. `fill` are the further colours of words that a background is cut to.
    `adrift`: it stands in a box laid over others, where without a layout nobody
    knows over which. `others` are further grounds, below and above, that some of its lines stand on.
    """

    colour: Expression
    below: Stack
    above: Stack
    large: bool
    exempt: bool
    icon: bool = False
    laid: bool = False
    adrift: bool = False
    others: tuple[tuple[Stack, Stack], ...] = ()
    fill: tuple[Expression, ...] = ()

    @property
    def words(self) -> tuple[Expression, ...]:
        """Return all colours the words show."""
        return (self.colour, *self.fill)

    def word_tokens(self) -> Iterator[int]:
        """Yield the found colours that the words' colours are made of."""
        return (token for colour in self.words for token in tokens_in(colour))

    def all_layers(self) -> Iterator[Layer]:
        """Yield every layer of every ground."""
        for below, above in ((self.below, self.above), *self.others):
            yield from below
            yield from above


@dataclass(frozen=True, slots=True)
class Run:
    """An element with text of its own, the same in every state and width.

    `opened` is what has to be opened for it to be there, "" for nothing.
    """

    page: str
    path: str
    text: str
    characters: int
    tag: str
    is_link: bool
    is_heading: bool
    is_control: bool
    chain: int = 0  # the regions it lies in: a number of `Survey.chains`
    opened: str = ""


@dataclass(frozen=True, slots=True)
class HandedDown:
    """A custom property as it stands somewhere: its name, and its value in text and the numbers of found colours.

    `pages` are those on which it has this value, None for all its region is on.
    """

    name: str
    parts: tuple[str | int, ...]
    pages: frozenset[str] | None = None


@dataclass(frozen=True, slots=True)
class Panel:
    """Boxes in a region that paint a background: found by `selector` inside it, by "" the region's own element.

    They show a token (None: a colour that no file writes) at an opacity.
    """

    selector: str
    token: ColourToken | None
    colour: Colour
    opacity: float = 1.0


@dataclass(frozen=True, slots=True)
class Region:
    """A section of a page, or a part in one: what it is, and the selector that finds exactly its elements.

    `pages` are where it is; on others the selector may find something else. `within` is the key of the section that a
    part mostly lies in, "" for sections. `handed_down` are the custom properties made of found colours that stand at
    all its elements of a page; `panels` are the boxes in it that paint a background. `texts` and `grounds` are the
    found colours, by number, that its texts have and stand on, as far as they are said in it.
    """

    key: str
    kind: str
    label: str
    selector: str
    pages: frozenset[str]
    is_section: bool
    within: str = ""
    handed_down: tuple[HandedDown, ...] = ()
    panels: tuple[Panel, ...] = ()
    texts: frozenset[int] = frozenset()
    grounds: frozenset[int] = frozenset()

    @property
    def is_drawn(self) -> bool:
        """Return whether the browser draws it in colours of its own where the page says none: a field, a button."""
        return re.split(r"[.#\[]", self.selector)[0] in ("button", "input", "select", "textarea")


MarkKind = Literal["picture", "background", "drawing"]


@dataclass(frozen=True, slots=True)
class Mark:
    """A logo or icon with transparent parts, through which its background shows; at rest on the widest screen.

    `source` is its file, or the selector of a drawing in the page; `selector` finds either; `words` are what it is
    called there. `inks` are pairings of its main colours with what it lies on, each with its share of what is seen.
    """

    page: str
    path: str
    kind: MarkKind
    source: str
    selector: str
    words: str
    chain: int
    inks: tuple[tuple[int, float], ...]


ThingKind = Literal["field", "border", "focus", "link-in-text", "icon"]


@dataclass(frozen=True, slots=True)
class Thing:
    """Something besides text that has to be seen, on the widest screen: see `survey/walk/things`.

    `signs` are pairings of the colours that show it with what they have to stand out from, the best of them counts;
    `against` is, for a link, the pairing of the words around it. `selector` finds it in its section.
    """

    page: str
    path: str
    what: ThingKind
    state: str
    words: str
    selector: str
    chain: int
    signs: tuple[int, ...]
    given: str = ""
    is_strong: bool = False
    against: int | None = None


@dataclass(frozen=True, slots=True)
class Painter:
    """An element that paints a background, with the facts it can be named by: landmark, tag, class, first heading.

    `landmark` is the nearest of header, nav, footer, aside or main that it is or stands in, "" elsewhere.
    """

    landmark: str
    is_landmark: bool
    tag: str
    ident: str
    classes: tuple[str, ...]
    heading: str


@dataclass(slots=True)
class Painted:
    """Totals for a painter: characters of text inside it, number of elements, pages."""

    characters: int = 0
    elements: int = 0
    pages: set[str] = field(default_factory=set)


@dataclass(frozen=True, slots=True)
class Sighting:
    """A run as one context shows it."""

    run: int
    pairing: int
    size_px: float
    weight: int


@dataclass(slots=True)
class Sightings:
    """All sightings of one context in order, as columns: millions of them are held and kept for large sites."""

    runs: array[int] = field(default_factory=lambda: array("i"))
    pairings: array[int] = field(default_factory=lambda: array("i"))
    sizes_px: array[float] = field(default_factory=lambda: array("d"))
    weights: array[int] = field(default_factory=lambda: array("h"))

    def extend(self, sightings: list[Sighting]) -> None:
        """Add some sightings."""
        self.runs.extend([one.run for one in sightings])
        self.pairings.extend([one.pairing for one in sightings])
        self.sizes_px.extend([one.size_px for one in sightings])
        self.weights.extend([one.weight for one in sightings])

    def __len__(self) -> int:
        return len(self.runs)

    def __iter__(self) -> Iterator[Sighting]:
        return (Sighting(*row) for row in zip(self.runs, self.pairings, self.sizes_px, self.weights, strict=True))


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
    sightings: dict[ContextKey, Sightings] = field(default_factory=dict)
    problems: list[Problem] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)
    elements: int = 0
    readers: dict[str, set[str]] = field(default_factory=dict)  # custom property → properties that come to read it
    painters: dict[int, dict[Painter, Painted]] = field(default_factory=dict)  # token → what paints it, at rest
    regions: list[Region] = field(default_factory=list)
    elements_of: list[Counter[str]] = field(default_factory=list)  # of each region: how many elements on each page
    # the regions around a text by number, outermost first; texts in none are of the first chain
    chains: list[tuple[int, ...]] = field(default_factory=lambda: [()])
    # what texts lie over without lying in it, by run: numbers of `chains`, and the element that the innermost region is
    beside: dict[int, tuple[tuple[int, str], ...]] = field(default_factory=dict)
    laid: set[str] = field(default_factory=set)  # pages that a browser has measured, at some width
    grounds: set[int] = field(default_factory=set)  # regions whose own rules say a background, so that they keep it
    marks: list[Mark] = field(default_factory=list)
    things: list[Thing] = field(default_factory=list)
    reached: set[int] = field(default_factory=set)  # tokens of declarations that hold for an element that is shown
