"""What a computed style says about an element's box, without layout: shown, clipped away, where it reaches.

Widths and horizontal places are known wherever they follow from the viewport by the rules for blocks (CSS 2.1,
section 10.3); heights hardly ever are.
"""

from __future__ import annotations

from dataclasses import dataclass

from glaucon.core.cascade.computed import Style
from glaucon.core.cascade.properties.effects import Filter, Moved
from glaucon.core.cascade.properties.lengths import Extent
from glaucon.core.cascade.properties.values import Keyword

_AUTO = Keyword("auto")
_NONE = Keyword("none")
# Text moved this far to the left or up is meant for screen readers only, wherever its container may stand.
_OFF_CANVAS_PX = -900.0
# A box that reaches over less than this share of its container is taken for an ornament beside the words.
_ORNAMENT_SHARE = 0.4
# One that leaves less than a rim covers all that words stand on.
_WHOLE_SHARE = 0.8
_LARGEST_PX = 1e9


@dataclass(frozen=True, slots=True)
class Area:
    """A box as far as it is known, in pixels of the viewport at scroll 0: its left edge and its content width."""

    left: float | None
    width: float | None

    @property
    def right(self) -> float | None:
        """Return the right edge."""
        return None if self.left is None or self.width is None else self.left + self.width


@dataclass(slots=True)
class Traits:
    """What is asked of a style again and again."""

    display: str
    position: str
    is_positioned: bool
    is_out_of_flow: bool
    makes_context: bool
    is_shown: bool
    may_be_away: bool


def traits_of(style: Style) -> Traits:
    """Return the traits of a style, worked out once."""
    if style.traits is None:
        position = style.keyword("position")
        style.traits = Traits(
            style.keyword("display"),
            position,
            position not in ("static", ""),
            position in ("absolute", "fixed"),
            makes_stacking_context(style),
            style.keyword("visibility") == "visible",
            _may_be_away(style, position),
        )
    traits: Traits = style.traits
    return traits


def _may_be_away(style: Style, position: str) -> bool:
    """Return whether a style has anything that could cut its box to nothing or move it out of reach."""
    values = style.values
    indent = values.get("text-indent")
    return (
        position not in ("static", "")
        or (isinstance(indent, Extent) and (indent.px < 0 or indent.share >= 1))
        or any(name in values for name in ("clip", "clip-path", "transform", "overflow-x", "overflow-y", "translate"))
        or any(isinstance(m := values.get(f"margin-{side}"), Extent) and m.px < -100 for side in ("left", "top"))
    )


class Place:
    """Where an element is laid out, worked out only when somebody asks.

    `positioned` is the place that positioned boxes refer to, None for the page itself.
    """

    __slots__ = ("_area", "_content", "_parent", "is_flow", "positioned", "style", "tag", "viewport")

    def __init__(self, parent: Place | None, style: Style | None, tag: str, viewport: Area) -> None:
        self._parent = parent
        self.style = style
        self.tag = tag
        self.viewport = viewport
        self._area: Area | None = viewport if style is None else None
        self._content: Area | None = None
        self.positioned: Place | None = parent.positioned if parent else None
        self.is_flow = True
        if style is not None and parent is not None:
            display = traits_of(style).display
            self.is_flow = display in ("block", "list-item", "flow-root", "inline-block")
            if traits_of(style).is_positioned or is_moved(style) or filters_of(style):
                self.positioned = self

    @property
    def area(self) -> Area:
        """Return the border box."""
        if self._area is None:
            assert self.style is not None and self._parent is not None
            inline = traits_of(self.style).display in ("inline", "ruby") and not traits_of(self.style).is_out_of_flow
            self._area = Area(None, None) if inline else area_of(self.style, self._parent, self.tag)
        return self._area

    @property
    def content(self) -> Area:
        """Return the box that blocks inside are laid out in."""
        if self._content is None:
            if self.style is None:
                self._content = self.viewport
            elif self._parent is not None and self._is_see_through():
                self._content = self._parent.content
            else:
                self._content = content_of(self.style, self.area)
        return self._content

    def _is_see_through(self) -> bool:
        assert self.style is not None
        return traits_of(self.style).display in ("inline", "ruby") and not traits_of(self.style).is_out_of_flow

    @property
    def containing(self) -> Area:
        """Return the box that absolutely positioned boxes inside refer to."""
        return self.viewport if self.positioned is None else self.positioned.area

    @property
    def is_page_positioned(self) -> bool:
        """Return whether positioned boxes inside refer to the page itself."""
        return self.positioned is None


def extent_of(style: Style, name: str) -> Extent | None:
    """Return a computed length, None for keywords such as `auto`."""
    value = style.values.get(name)
    return value if isinstance(value, Extent) else None


def grid_cell(style: Style) -> tuple[str, ...]:
    """Return the lines or the name that `grid-area`, or rows and columns together, place an item at; () for none."""
    area = _written(style, "grid-area")
    if area and area != ("auto",):
        return area
    row, column = _written(style, "grid-row"), _written(style, "grid-column")
    return (*row, "/", *column) if row and column else ()


def _written(style: Style, name: str) -> tuple[str, ...]:
    value = style.values.get(name)
    if isinstance(value, Keyword):
        return (value.name,)
    return tuple(node.serialize() for node in value or ())


def is_moved(style: Style) -> bool:
    """Return whether a transform, of whatever kind, is set."""
    transform = style.values.get("transform")
    plain = isinstance(transform, Moved) and transform == _UNMOVED
    return (transform is not None and not plain) or any(
        style.values.get(name) not in (None, _NONE) for name in ("translate", "scale")
    )


_UNMOVED = Moved(Extent(0.0), Extent(0.0), 1.0, False)


def filters_of(style: Style) -> tuple[Filter, ...]:
    """Return the filter functions that change colours."""
    found: tuple[Filter, ...] = style.values.get("filter") or ()
    return found


def makes_stacking_context(style: Style) -> bool:
    """Return whether an element paints as one unit (CSS Positioned Layout, section 9, and what else makes one)."""
    position = style.keyword("position")
    return (
        (position != "static" and style.values.get("z-index") not in (None, _AUTO))
        or position in ("fixed", "sticky")
        or style.values.get("opacity", 1.0) < 1
        or is_moved(style)
        or bool(filters_of(style))
        or style.keyword("isolation") == "isolate"
        or style.keyword("mix-blend-mode") not in ("normal", "")
        or any(style.values.get(name) not in (None, _NONE) for name in ("perspective", "backdrop-filter", "mask-image"))
        or _promises(style)
    )


def _promises(style: Style) -> bool:
    change = style.values.get("will-change")
    words = [change.name] if isinstance(change, Keyword) else [getattr(n, "lower_value", "") for n in change or ()]
    return any(word in ("transform", "opacity", "filter", "perspective") for word in words)


def area_of(style: Style, around: Place, tag: str) -> Area:
    """Return the border box of an element (its width without margins), as far as it is known."""
    traits = traits_of(style)
    if traits.is_out_of_flow:
        return _positioned_area(style, around.viewport if traits.position == "fixed" else around.containing, around)
    display = traits.display
    width = _wanted_width(style, around.content.width)
    left_margin, right_margin = extent_of(style, "margin-left"), extent_of(style, "margin-right")
    block = display in ("block", "list-item", "flex", "grid", "flow-root", "table") and tag not in _REPLACED
    if style.keyword("float") not in ("none", "") or not around.is_flow or not block:
        return Area(None, width)
    available = around.content.width
    if width is None and available is not None and display != "table" and not _is_intrinsic(style):
        start, end = (m.of(available) if m else 0.0 for m in (left_margin, right_margin))
        width = _limited(style, available - (start or 0.0) - (end or 0.0), available)
    left = around.content.left
    if left is None or width is None or available is None:
        return Area(None if left_margin or style.values.get("margin-left") == _AUTO else left, width)
    if style.values.get("margin-left") == _AUTO:
        free = max(0.0, available - width)
        return Area(left + (free / 2 if style.values.get("margin-right") == _AUTO else free), width)
    start = left_margin.of(available) if left_margin else 0.0
    return Area(left + (start or 0.0), width)


_REPLACED = frozenset({"img", "video", "canvas", "iframe", "input", "select", "textarea", "button", "object", "embed"})


def _is_intrinsic(style: Style) -> bool:
    return style.keyword("width") not in ("auto", "")


def _wanted_width(style: Style, available: float | None) -> float | None:
    """Return the border-box width that `width` asks for, None where it does not say."""
    wanted = extent_of(style, "width")
    basis = extent_of(style, "flex-basis")
    if wanted is None and basis is not None and (basis.px or basis.share):
        wanted = basis
    width = wanted.of(available) if wanted is not None else None
    if width is None:
        return None
    if style.keyword("box-sizing") != "border-box":
        width += _sides(style, "padding", available)
    return _limited(style, width, available)


def _limited(style: Style, width: float, available: float | None) -> float:
    extra = 0.0 if style.keyword("box-sizing") == "border-box" else _sides(style, "padding", available)
    most, least = extent_of(style, "max-width"), extent_of(style, "min-width")
    high = most.of(available) if most is not None else None
    low = least.of(available) if least is not None else None
    if high is not None:
        width = min(width, high + extra)
    return max(width, low + extra) if low is not None else width


def _sides(style: Style, name: str, available: float | None) -> float:
    total = 0.0
    for side in ("left", "right"):
        found = extent_of(style, f"{name}-{side}")
        total += (found.of(available) or 0.0) if found is not None else 0.0
    return total


def content_of(style: Style, box: Area) -> Area:
    """Return the content box of an element from its border box."""
    start = extent_of(style, "padding-left")
    inset = (start.of(box.width) or 0.0) if start is not None else 0.0
    width = None if box.width is None else max(0.0, box.width - _sides(style, "padding", box.width))
    return Area(None if box.left is None else box.left + inset, width)


def _positioned_area(style: Style, container: Area, around: Place | None = None) -> Area:
    before, after = extent_of(style, "margin-left"), extent_of(style, "margin-right")
    margin_left = (before.of(container.width) or 0.0) if before is not None else 0.0
    margin_right = (after.of(container.width) or 0.0) if after is not None else 0.0
    width = _wanted_width(style, container.width)
    start, end = extent_of(style, "left"), extent_of(style, "right")
    left = start.of(container.width) if start is not None else None
    right = end.of(container.width) if end is not None else None
    if width is None and left is not None and right is not None and container.width is not None:
        width = _limited(style, container.width - left - right - margin_left - margin_right, container.width)
    if container.left is not None and left is not None:
        return Area(container.left + left + margin_left, width)
    if container.right is not None and right is not None and width is not None:
        return Area(container.right - right - margin_right - width, width)
    in_flow = around is not None and around.is_flow and start is None and end is None
    flow_left = around.content.left if in_flow and around is not None else None
    # where it would have stood in the flow (CSS Positioned Layout, section 3.5)
    return Area(None if flow_left is None else flow_left + margin_left, width)


def is_clipped_away(place: Place, around: Place) -> bool:
    """Return whether an element is cut to nothing or moved out of reach, as text for screen readers is."""
    style = place.style
    if style is None or not traits_of(style).may_be_away:
        return False
    if traits_of(style).is_out_of_flow and _is_empty_clip(style):
        return True
    if _is_empty_clip_path(style):
        return True
    indent = extent_of(style, "text-indent")
    if indent is not None and indent.px <= _OFF_CANVAS_PX:
        return True
    if indent is not None and indent.share >= 1 and style.keyword("overflow-x") in ("hidden", "clip"):
        return True
    return _is_moved_away(style, place.area, around) or _is_shut(style)


def _is_shut(style: Style) -> bool:
    """Return whether a box hides what overflows it and is no larger than a dot."""
    if (
        style.keyword("display") == "inline"
        and not traits_of(style).is_out_of_flow
        and style.keyword("float") == "none"
    ):
        return False
    across = style.keyword("overflow-x") in ("hidden", "clip") and _is_tiny(style, "width")
    down = style.keyword("overflow-y") in ("hidden", "clip") and _is_tiny(style, "height")
    padded = any((p := extent_of(style, f"padding-{side}")) is not None and p.px > 1 for side in ("top", "bottom"))
    return across or (down and not padded)


def _is_tiny(style: Style, name: str) -> bool:
    most, least = extent_of(style, f"max-{name}"), extent_of(style, f"min-{name}")
    wanted = extent_of(style, name)
    if least is not None and least.px > 1:
        return False
    return any(one is not None and one.share == 0 and one.px <= 1 for one in (wanted, most))


def has_no_height(style: Style) -> bool:
    """Return whether a box is given no height at all, so that what overflows it stands beside its background."""
    height = extent_of(style, "height")
    padded = any((p := extent_of(style, f"padding-{side}")) is not None and p.px > 0 for side in ("top", "bottom"))
    return height is not None and height.px == 0 and height.share == 0 and not padded


def _is_moved_away(style: Style, box: Area, around: Place) -> bool:
    """Return whether a box is out of the scrollable area: left of it, above it, or beside a fixed viewport."""
    moved = style.values.get("transform")
    if isinstance(moved, Moved):
        if moved.scale == 0:
            return True
        shift = moved.x.of(box.width)
        if shift is not None and shift < 0 and _is_slides(style):
            return False
        if moved.x.px <= _OFF_CANVAS_PX or (shift is not None and _is_outside(style, box, shift, around)):
            return True
        if moved.x.share <= -1 and moved.x.px <= 0 and box.left is not None and box.left <= 0:
            return True
        if style.keyword("position") == "fixed" and moved.x.share >= 1 and _is_zero(style, "right"):
            return True
        if moved.y.share <= -1 and traits_of(style).is_out_of_flow and _is_at_top(style, around):
            return True
    if not traits_of(style).is_positioned:
        return box.right is not None and box.right <= 0 and box.left is not None and box.left <= _OFF_CANVAS_PX
    if any((e := extent_of(style, side)) is not None and e.px <= _OFF_CANVAS_PX for side in ("left", "top")):
        return True
    if style.keyword("position") == "relative":
        return False
    return _is_outside(style, box, 0.0, around) or _is_above(style, around)


def _is_slides(style: Style) -> bool:
    """Return whether a box that moves sideways is a row of slides in its place, longer than it says: no drawer."""
    return style.keyword("display") in ("flex", "inline-flex") and not traits_of(style).is_out_of_flow


def _is_outside(style: Style, box: Area, shift: float, around: Place) -> bool:
    right = extent_of(style, "right")
    width = around.viewport.width or _LARGEST_PX
    if box.right is not None and box.right + shift <= 0:
        return True
    if style.keyword("position") == "fixed":
        if box.left is not None and box.left + shift >= width:
            return True
        return right is not None and box.width is not None and right.px + box.width <= 0 and right.share == 0
    return False


def _is_above(style: Style, around: Place) -> bool:
    """Return whether a box ends above the page's first line."""
    top, height = extent_of(style, "top"), extent_of(style, "height")
    if top is None or (style.keyword("position") != "fixed" and not around.is_page_positioned):
        return False
    if top.share <= -1:
        return True
    return height is not None and height.share == 0 and top.px + height.px <= 0 and top.px < 0


def _is_at_top(style: Style, around: Place) -> bool:
    at_page = style.keyword("position") == "fixed" or around.is_page_positioned
    return at_page and _is_zero(style, "top")


def _is_zero(style: Style, side: str) -> bool:
    found = extent_of(style, side)
    return found is not None and found.px <= 0 and found.share == 0


def _is_empty_clip(style: Style) -> bool:
    value = style.values.get("clip")
    if not isinstance(value, tuple) or len(value) != 1 or value[0].type != "function" or value[0].lower_name != "rect":
        return False
    sides = [n.value for n in value[0].arguments if n.type in ("number", "dimension")]
    return len(sides) == 4 and (sides[1] - sides[3] <= 1 or sides[2] - sides[0] <= 1)


def _is_empty_clip_path(style: Style) -> bool:
    value = style.values.get("clip-path")
    if not isinstance(value, tuple) or len(value) != 1:
        return False
    name = getattr(value[0], "lower_name", "")
    if name == "circle":
        return any(n.type in ("number", "dimension", "percentage") and n.value == 0 for n in value[0].arguments[:1])
    if name != "inset":
        return False
    shares = [n.value for n in value[0].arguments if n.type == "percentage"]
    return bool(shares) and (shares[0] >= 50 or (len(shares) > 1 and shares[1] >= 50))


# A bar that begins this near to the page's edge stands over what the page begins with.
_TOP_PX = 60.0


def is_laid_along_top(style: Style) -> bool:
    """Return whether an out-of-flow box is a bar along the top of what it refers to."""
    top, bottom = extent_of(style, "top"), extent_of(style, "bottom")
    if (top is None and bottom is not None) or (top is not None and not (0 <= top.px <= _TOP_PX and top.share == 0)):
        return False
    width = extent_of(style, "width")
    both = extent_of(style, "left") is not None and extent_of(style, "right") is not None
    return both or (width is not None and width.share >= 1)


def reach(style: Style, container: Area) -> float:
    """Return how much of the box it is positioned in an out-of-flow box covers, at least: 0, 1 or between."""
    if not traits_of(style).is_out_of_flow or is_moved(style):
        return 0.0
    across = _reach_along(style, "left", "right", "width", container.width)
    box = _positioned_area(style, container)
    if box.left is not None and box.right is not None and container.right is not None:
        inside = min(box.right, container.right) - max(box.left, container.left or 0.0)
        across = min(across, inside / container.width if container.width else 0.0)
    share = min(across, _reach_along(style, "top", "bottom", "height", None))
    if share >= _WHOLE_SHARE:
        return 1.0
    return share if share >= _ORNAMENT_SHARE else 0.0


def _reach_along(style: Style, start: str, end: str, size: str, whole: float | None) -> float:
    """Return the share of the container's width or height that a box spans."""
    one, two, wanted = extent_of(style, start), extent_of(style, end), extent_of(style, size)
    if wanted is not None:
        share = wanted.share + (wanted.px / whole if whole else 0.0)
        if wanted.share >= 1 and not any(e is not None and (e.px > 0 or e.share > 0) for e in (one, two)):
            return 1.0
        return max(0.0, min(share, 1.0)) if share < 1 else 1.0
    if one is None or two is None or _is_intrinsic_along(style, size):
        return 0.0
    share = 1 - max(0.0, one.share) - max(0.0, two.share)
    gap = max(0.0, one.px) + max(0.0, two.px)
    if whole:
        return max(0.0, share - gap / whole)
    return share if gap <= 4 else min(share, 0.9) if gap <= 40 else 0.0


def _is_intrinsic_along(style: Style, size: str) -> bool:
    return style.keyword(size) not in ("auto", "")


def z_of(style: Style) -> int:
    """Return the `z-index` of a style, 0 for `auto`."""
    value = style.values.get("z-index")
    return value if isinstance(value, int) else 0
