"""Where the tiles of a background image lie in an element's box, and what of a tile lies at a place.

CSS Backgrounds and Borders Level 3, sections 3.3 to 3.9; for replaced elements CSS Images Level 3, section 5.5.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

from glaucon.core.cascade.computed import ComputedSize, Style
from glaucon.core.cascade.properties.lengths import Extent
from glaucon.core.cascade.properties.values import Keyword
from glaucon.core.layout.document import Box, Measured

Size = tuple[float, float]
_MOST_PIECES = 9
_LEAST_PX = 0.01


@dataclass(frozen=True, slots=True)
class Tiling:
    """Tiles of one size: where the first lies, how far the next is on from it (0: there is none), within what."""

    first: Box
    step: Size
    clip: Box

    def pieces(self, place: Box) -> tuple[list[Box], bool]:
        """Return the parts of a tile (from its corner, in CSS pixels) that lie in a place, and whether they fill it.

        What repeats too often to be told apart is the whole tile.
        """
        seen = place.shared(self.clip)
        if seen is None:
            return [], False
        fills = self.clip.holds(place)
        across, fills_across = _stretches(seen.left, seen.width, self.first.left, self.first.width, self.step[0])
        down, fills_down = _stretches(seen.top, seen.height, self.first.top, self.first.height, self.step[1])
        if len(across) * len(down) > _MOST_PIECES:
            return [Box(0.0, 0.0, self.first.width, self.first.height)], fills and fills_across and fills_down
        boxes = [Box(left, top, width, height) for left, width in across for top, height in down]
        return boxes, bool(boxes) and fills and fills_across and fills_down


def _stretches(start: float, length: float, first: float, tile: float, step: float) -> tuple[list[Size], bool]:
    """Return the stretches of a tile that lie along a line, start and length of each, and whether they fill it."""
    if tile < _LEAST_PX:
        return [], False
    if step <= 0:
        low, high = max(start, first), min(start + length, first + tile)
        filled = start >= first - 1 and start + length <= first + tile + 1
        return ([(low - first, high - low)] if high - low > _LEAST_PX else []), filled
    if length >= step:
        return [(0.0, tile)], step <= tile + _LEAST_PX
    found: list[Size] = []
    at, fills = start, True
    while at < start + length - _LEAST_PX and len(found) < _MOST_PIECES:
        tile_at = first + math.floor((at - first) / step + 1e-9) * step
        end = min(start + length, tile_at + step)
        high = min(end, tile_at + tile)
        if high - at > _LEAST_PX:
            found.append((at - tile_at, high - at))
        fills = fills and high >= end - _LEAST_PX
        at = end
    return found, fills


def tiling_of(
    style: Style, index: int, own: Size | None, measured: Measured, viewport: Box, ratio: Size | None = None
) -> Tiling | None:
    """Return the tiling of a background layer, numbered from the top; None where a length in it is not known.

    `own` is the image's own size in pixels, None for gradients and drawings without one; `ratio` are the proportions
    that such a drawing has all the same.
    """
    origin = _layer(style, "background-origin", index, Keyword("padding-box")).name
    clip = _layer(style, "background-clip", index, Keyword("border-box")).name
    area = _box_named(measured, origin)
    if _layer(style, "background-attachment", index, Keyword("scroll")).name == "fixed":
        area = viewport
    is_picture = own is not None or ratio is not None
    if is_picture:
        area = area.on_pixels()
    repeat = _layer(style, "background-repeat", index, ("repeat", "repeat"))
    wanted = _layer(style, "background-size", index, ComputedSize())
    if own is None and ratio is not None and wanted.keyword is None and wanted.width is wanted.height is None:
        wanted = ComputedSize(keyword="contain")  # in proportion and of no size: as large as fits
    size = _size(wanted, own or ratio, (area.width, area.height))
    if size is None:
        return None
    x = _axis(style, "background-position-x", index, repeat[0], size[0], area.left, area.width)
    y = _axis(style, "background-position-y", index, repeat[1], size[1], area.top, area.height)
    if x is None or y is None:
        return None
    first = Box(x[0], y[0], x[1], y[1])
    if is_picture and wanted.keyword in ("cover", "contain"):
        first = first.on_pixels()
    return Tiling(first, (x[2], y[2]), _box_named(measured, clip))


def _box_named(measured: Measured, name: str) -> Box:
    if name == "border-box":
        return measured.box
    padding_box = measured.box.inside(measured.border)
    return padding_box.inside(measured.padding) if name == "content-box" else padding_box


def _layer(style: Style, name: str, index: int, default: Any) -> Any:
    values = style.values.get(name)
    return values[index % len(values)] if values else default


def _size(wanted: ComputedSize, own: Size | None, area: Size) -> Size | None:
    """Return a tile's size (section 3.9)."""
    if wanted.keyword in ("cover", "contain"):
        if own is None or not own[0] or not own[1]:
            return area
        pick = max if wanted.keyword == "cover" else min
        scale = pick(area[0] / own[0], area[1] / own[1])
        # the side that follows from the other is whole, so that tiles meet on whole pixels
        across, down = (math.floor(side * scale + 0.5) for side in own)
        fills_across = area[0] / own[0] == scale
        return (area[0], float(max(1, down))) if fills_across else (float(max(1, across)), area[1])
    width = wanted.width.of(area[0]) if wanted.width is not None else None
    height = wanted.height.of(area[1]) if wanted.height is not None else None
    if own is None or not own[0] or not own[1]:
        return (area[0] if width is None else width, area[1] if height is None else height)
    if width is None and height is None:
        return own
    if width is None:
        assert height is not None
        return own[0] * height / own[1], height
    return width, own[1] * width / own[0] if height is None else height


def _axis(
    style: Style, name: str, index: int, repeat: str, tile: float, start: float, whole: float
) -> tuple[float, float, float] | None:
    """Return where the first tile begins, how long tiles are and how far apart they begin, along one axis."""
    if repeat == "round" and tile > 0:
        tile = whole / max(1, round(whole / tile))
    if repeat == "space" and tile > 0 and whole >= 2 * tile:
        count = int(whole // tile)
        return start, tile, tile + (whole - count * tile) / (count - 1)
    offset = _layer(style, name, index, Extent(0.0))
    if not isinstance(offset, Extent):
        return None
    first = start + offset.share * (whole - tile) + offset.px
    return first, tile, 0.0 if repeat in ("no-repeat", "space") else tile


def fitted(measured: Measured, own: Size | None, fit: str, at: tuple[Extent, Extent]) -> Tiling:
    """Return where a replaced element's picture lies in its content box: one tile, cut at the box."""
    area = measured.box.inside(measured.border).inside(measured.padding).on_pixels()
    if own is None or not own[0] or not own[1] or fit not in ("cover", "contain", "none", "scale-down"):
        return Tiling(area, (0.0, 0.0), area)
    scale = {"cover": max, "contain": min}.get(fit, min)(area.width / own[0], area.height / own[1])
    if fit == "none" or (fit == "scale-down" and scale > 1):
        scale = 1.0
    width, height = own[0] * scale, own[1] * scale
    left = area.left + at[0].share * (area.width - width) + at[0].px
    top = area.top + at[1].share * (area.height - height) + at[1].px
    return Tiling(Box(left, top, width, height).on_pixels(), (0.0, 0.0), area)
