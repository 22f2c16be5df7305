"""A page's measured layout: the document a browser hands over, checked, and as the survey asks for it."""

from __future__ import annotations

import json
import math
import re
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from glaucon.core.errors import GlauconError

# What `measure.js` gives up at; the same figures bound what is accepted.
LIMITS = {
    "elements": 30_000, "lines": 20_000, "linesOfRun": 200, "points": 150_000, "deep": 40, "milliseconds": 4_000,
}  # fmt: skip
FORMAT = 1
_MOST_PX = 1e7
_MOST_PATH = 6_000
_MOST_LISTS = 40_000
_PATH = re.compile(r"[^<>\s]{1,200}(?:>[^<>\s]{1,200})*")
_SUFFIXES = ("", "::before", "::after")


class LayoutError(GlauconError):
    """A layout that is not what a browser could have measured."""


def measuring_script() -> str:
    """Return the script that measures a page: an expression, a function of the limits that gives a promise."""
    cuts, measure, hovered = (
        (Path(__file__).parent / name).read_text("utf-8").strip().removesuffix(";")
        for name in ("cuts.js", "measure.js", "hovered.js")
    )
    return f"({hovered})((breathe) => ({measure})({cuts}, breathe))"


@dataclass(frozen=True, slots=True)
class Box:
    """A rectangle of the page at scroll 0, in CSS pixels."""

    left: float
    top: float
    width: float
    height: float

    def inside(self, edges: tuple[float, float, float, float]) -> Box:
        """Return the box within some edges: top, right, bottom, left."""
        top, right, bottom, left = edges
        width, height = self.width - left - right, self.height - top - bottom
        return Box(self.left + left, self.top + top, max(0.0, width), max(0.0, height))

    def on_pixels(self) -> Box:
        """Return the box as browsers paint it: its edges on whole pixels."""
        left, top = math.floor(self.left + 0.5), math.floor(self.top + 0.5)
        right, bottom = math.floor(self.left + self.width + 0.5), math.floor(self.top + self.height + 0.5)
        return Box(left, top, right - left, bottom - top)

    def shared(self, other: Box) -> Box | None:
        """Return what two boxes share, None where that is no more than an edge."""
        left, top = max(self.left, other.left), max(self.top, other.top)
        right = min(self.left + self.width, other.left + other.width)
        bottom = min(self.top + self.height, other.top + other.height)
        return Box(left, top, right - left, bottom - top) if right - left > 0.5 and bottom - top > 0.5 else None

    def holds(self, other: Box, slack: float = 1.0) -> bool:
        """Return whether another box lies within this one, but for `slack` pixels at the edges."""
        return (
            self.left <= other.left + slack
            and self.top <= other.top + slack
            and self.left + self.width >= other.left + other.width - slack
            and self.top + self.height >= other.top + other.height - slack
        )


_NO_EDGES = (0.0, 0.0, 0.0, 0.0)


@dataclass(frozen=True, slots=True)
class Measured:
    """An element's border box and the widths of its border and padding: top, right, bottom, left."""

    box: Box
    border: tuple[float, float, float, float] = _NO_EDGES
    padding: tuple[float, float, float, float] = _NO_EDGES


@dataclass(frozen=True, slots=True)
class Screen:
    """What is in view of a page at scroll 0, and how far the page scrolls, in CSS pixels."""

    box: Box
    scrolls: float = 0.0


@dataclass(frozen=True, slots=True)
class Spot:
    """A stretch of a line of text: the elements met below it, topmost first, its own first; and those above it.

    `full` is the order, above and below as one, in which they are met where pseudo-elements count as their elements;
    empty where that is the same.
    """

    box: Box
    below: tuple[str, ...]
    above: tuple[str, ...]
    full: tuple[str, ...] = ()


@dataclass(slots=True)
class PageLayout:
    """Where things lie on one page at one width. Elements are named by their paths."""

    width: int
    viewport: float
    height: float
    boxes: dict[str, Measured] = field(default_factory=dict)
    # by path and "::before" or "::after": those out of the flow; None: turned or scaled, no rectangle
    pseudos: dict[str, Box | None] = field(default_factory=dict)
    runs: dict[str, tuple[Spot, ...]] = field(default_factory=dict)
    # with all hovered, where that moves, opens or covers something
    hovered: PageLayout | None = None

    def in_state(self, state: str) -> PageLayout:
        """Return where things lie in a state; what is pressed is hovered too."""
        return self.hovered if self.hovered is not None and state in ("hover", "active") else self


# page and width → its layout
Layouts = dict[tuple[str, int], PageLayout]


def read_page_layout(given: Any) -> PageLayout:
    """Return what `measure.js` handed over, every number and path checked.

    Raises: LayoutError: it is not what a browser could have measured.
    """
    try:
        return _read(given)
    except (KeyError, TypeError, ValueError, IndexError, OverflowError) as error:
        raise LayoutError("This is not a layout that Glaucon's own script measured. Measure the page again.") from error


def _read(given: dict[str, Any], is_hovered: bool = False) -> PageLayout:
    paths = [_path(one) for one in _some(given["paths"], LIMITS["elements"])]
    layout = PageLayout(int(_number(given["width"])), _number(given["viewport"]), _number(given["height"]))
    for number, *numbers in _some(given["boxes"], LIMITS["elements"]):
        box, edges = _box(numbers), [_number(one) for one in numbers[4:12]]
        if len(edges) == 8:
            layout.boxes[paths[_index(number)]] = Measured(box, _four(edges[:4]), _four(edges[4:]))
        else:
            layout.boxes[paths[_index(number)]] = Measured(box)
    for number, which, *numbers in _some(given["pseudos"], 2 * LIMITS["elements"]):
        layout.pseudos[paths[_index(number)] + _SUFFIXES[_index(which)]] = _box(numbers) if numbers else None
    lists = []
    for low, high, full in _some(given["lists"], _MOST_LISTS):
        met = [tuple(paths[_index(number)] for number in _some(some, 199)) for some in (low, high, full)]
        lists.append((met[0], met[1], met[2]))
    for number, suffix, spots in _some(given["runs"], LIMITS["elements"]):
        found = []
        for *numbers, which in _some(spots, 40 * LIMITS["linesOfRun"]):
            found.append(Spot(_box(numbers), *lists[_index(which)]))
        layout.runs[paths[_index(number)] + _SUFFIXES[_index(suffix)]] = tuple(found)
    if not is_hovered and given.get("hovered") is not None:
        # of the lines that nothing happens to there is nothing in it
        layout.hovered = other = _read(given["hovered"], is_hovered=True)
        other.boxes = {**layout.boxes, **other.boxes}
        other.pseudos = {**layout.pseudos, **other.pseudos}
        other.runs = {**layout.runs, **other.runs}
    return layout


def _some(given: Any, most: int) -> list[Any]:
    if not isinstance(given, list) or len(given) > most:
        raise ValueError("a list that is too long, or none")
    return given


def _index(given: Any) -> int:
    if type(given) is not int or given < 0:
        raise ValueError("no index")
    return given


def _number(given: Any) -> float:
    if type(given) not in (int, float) or not math.isfinite(given) or abs(given) > _MOST_PX:
        raise ValueError("a number that no page can have")
    return float(given)


def _box(numbers: list[Any]) -> Box:
    left, top, width, height = (_number(one) for one in numbers[:4])
    if width < 0 or height < 0:
        raise ValueError("a box of less than nothing")
    return Box(left, top, width, height)


def _four(numbers: list[float]) -> tuple[float, float, float, float]:
    one, two, three, four = numbers
    return one, two, three, four


def _path(given: Any) -> str:
    if not isinstance(given, str) or len(given) > _MOST_PATH or not _PATH.fullmatch(given):
        raise ValueError("no path of an element")
    return given


def write_layouts(raw: dict[tuple[str, int], Any], snapshot: dict[str, Any] | None = None) -> str:
    """Return measured pages as one document, as `glaucon measure` writes it, with a snapshot if there is one."""
    pages = [{"page": page, **measured} for (page, _), measured in sorted(raw.items())]
    document = {"format": FORMAT, "pages": pages, **({} if snapshot is None else {"snapshot": snapshot})}
    return json.dumps(document, separators=(",", ":")) + "\n"


def read_layouts(text: str) -> Layouts:
    """Return the layouts of a document.

    Raises: LayoutError: it is no such document, or of a newer format.
    """
    try:
        document = json.loads(text)
        newer = document["format"] != FORMAT
        pages = document["pages"]
        found = {(str(one["page"]), int(one["width"])): read_page_layout(one) for one in _some(pages, 20_000)}
    except LayoutError:
        raise
    except (KeyError, TypeError, ValueError, RecursionError) as error:
        raise LayoutError("This file holds no measured layout. Make one with: glaucon measure PATH.") from error
    if newer:
        raise LayoutError("This layout is of a newer format than this Glaucon reads. Measure the site again.")
    return found
