"""The colours of a site's pictures, and whether a picture can lie behind the words of its box."""

from __future__ import annotations

import base64
import io
import re
import warnings
from dataclasses import dataclass
from typing import Any
from urllib.parse import unquote_to_bytes

import numpy as np
from PIL import Image

from glaucon.core.cascade.computed import ComputedSize, Style
from glaucon.core.cascade.images import Picture
from glaucon.core.cascade.lengths import Extent
from glaucon.core.colour.contrast import relative_luminance
from glaucon.core.colour.value import TRANSPARENT, Colour
from glaucon.core.survey.boxes import Area, extent_of
from glaucon.core.survey.drawings import read_drawing
from glaucon.core.survey.site import SiteFiles

MAX_PIXELS = 40_000_000
_SPOT = 0.02
_SMALL = 64 * 64  # pixels; all of a tile shows
# Larger pictures are looked at in this size: single bright pixels are nothing a reader sees behind words.
_LOOK_PX = 256
# what is read of pictures; others a browser may know are told as unknown
FORMATS = ("PNG", "JPEG", "GIF", "WEBP", "BMP", "AVIF")
_KNOWN_FORMATS = (b"\xff\xd8", b"\x89PNG", b"GIF8", b"RIFF", b"BM", b"\0\0\1\0")


@dataclass(frozen=True, slots=True)
class Look:
    """What a picture shows: colours that stand for all of it (empty where it paints nothing) and its own size."""

    colours: tuple[Colour, ...] = ()
    size: tuple[float, float] | None = None
    why_unknown: str = ""


class PictureShelf:
    """Looks at each picture of a site once."""

    def __init__(self, site: SiteFiles) -> None:
        self._site = site
        self._looks: dict[Picture, Look] = {}
        self._by_path: dict[str, Look] = {}

    def look(self, picture: Picture) -> Look:
        """Return what a picture shows."""
        if picture not in self._looks:
            self._looks[picture] = self._find(picture)
        return self._looks[picture]

    def _find(self, picture: Picture) -> Look:
        url = self._site.without_origin(picture.url.strip())
        if url.startswith("data:"):
            return _look_at_data(url)
        if not url or url.startswith("#"):
            return Look()
        if re.match(r"[a-z][a-z0-9+.-]*:|//", url, re.I):
            return Look(why_unknown=f"a picture from another host lies behind it ({url[:60]})")
        path = self._site.resolve(url, picture.base)
        if path is None:
            return Look()  # a browser that finds no picture paints none
        if path not in self._by_path:
            self._by_path[path] = _look_at(self._site.files[path], path)
        return self._by_path[path]


def _look_at_data(url: str) -> Look:
    head, _, body = url.partition(",")
    try:
        data = (
            base64.b64decode(unquote_to_bytes(body), validate=False)
            if ";base64" in head.lower()
            else unquote_to_bytes(body)
        )
    except ValueError:
        return Look()
    return _look_at(data, "picture.svg" if "svg" in head else "")


def _look_at(data: bytes, name: str) -> Look:
    if name.lower().endswith((".svg", ".svgz")) or data.lstrip()[:5] in (b"<svg ", b"<?xml"):
        drawing = read_drawing(data.lstrip())
        return Look(drawing.seen(), drawing.size)
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            return _look_at_pixels(data)
    except Exception:
        # Pillow raises nearly anything on broken files. A browser paints nothing for them either, unless it knows a
        # format that is not known here.
        if data.startswith(_KNOWN_FORMATS):
            return Look()
        return Look(why_unknown=f"a picture that could not be read lies behind it ({name[-60:] or 'embedded'})")


def _look_at_pixels(data: bytes) -> Look:
    with Image.open(io.BytesIO(data), formats=FORMATS) as picture:
        size = (float(picture.width), float(picture.height))
        if picture.width * picture.height > MAX_PIXELS:
            return Look((), size, "a picture of more than 40 megapixels lies behind it")
        picture.draft("RGB", (_LOOK_PX, _LOOK_PX))
        pixels = picture.convert("RGBA")
    if max(pixels.size) > _LOOK_PX:
        pixels.thumbnail((_LOOK_PX, _LOOK_PX), Image.Resampling.BOX)
    return Look(_telling_colours(np.asarray(pixels, dtype=np.float64).reshape(-1, 4) / 255), size)


def _telling_colours(pixels: np.ndarray) -> tuple[Colour, ...]:
    """Return the extremes of luminance and some colours between, for each degree of opacity.

    Of a photograph the outermost parts of the range are left out: a spot that small seldom falls behind words.
    """
    edge = _SPOT if len(pixels) > _SMALL else 0.0
    found: dict[tuple[int, ...], Colour] = {}
    bands = np.clip((pixels[:, 3] * 4).astype(int), 0, 3)
    for band in np.unique(bands):
        members = pixels[bands == band]
        order = np.argsort(relative_luminance(members[:, :3]), kind="stable")
        for share in (edge, 0.25, 0.5, 0.75, 1.0 - edge):
            r, g, b, alpha = members[order[int(share * (len(order) - 1))]].tolist()
            colour = TRANSPARENT if alpha == 0 else Colour(r, g, b, alpha)
            found.setdefault((*colour.bytes, round(colour.alpha * 255)), colour)
    return tuple(found.values())


ALL, PART, NONE = "all", "part", "none"
# The glyphs of a line stand within it: what reaches into its outer part only does not lie behind them.
_LINE_MARGIN_EMS = 0.15


def reach_of_image(style: Style, index: int, own: tuple[float, float] | None, box: Area) -> str:
    """Return whether a background image lies behind all of the words of its box, perhaps behind some, or none.

    `index` numbers the layers from the top; `own` is the image's own size in pixels, None for gradients.
    """
    repeat = _of_layer(style, "background-repeat", index, ("repeat", "repeat"))
    size = _of_layer(style, "background-size", index, ComputedSize())
    if size.keyword == "cover":
        return ALL
    across = _along(style, index, 0, repeat[0], size, own, box.width)
    down = _along(style, index, 1, repeat[1], size, own, None)
    if NONE in (across, down):
        return NONE
    return ALL if across == down == ALL else PART


def _of_layer(style: Style, name: str, index: int, default: Any) -> Any:
    values = style.values.get(name)
    return values[index % len(values)] if values else default


def _along(
    style: Style, index: int, axis: int, repeat: str, size: ComputedSize, own: tuple[float, float] | None,
    whole: float | None,
) -> str:  # fmt: skip
    wanted = (size.width, size.height)[axis]
    other = (size.width, size.height)[1 - axis]
    if size.keyword == "contain":
        return PART if repeat == "no-repeat" else ALL
    if wanted is None:
        if own is None:
            wanted = Extent(0.0, 1.0)
        elif other is None:
            wanted = Extent(own[axis])
        elif other.share == 0 and own[1 - axis]:
            wanted = Extent(own[axis] * other.px / own[1 - axis])
        else:
            return ALL if repeat != "no-repeat" else PART
    if repeat != "no-repeat":
        return ALL
    name = ("background-position-x", "background-position-y")[axis]
    offset = _of_layer(style, name, index, Extent(0.0))
    if not isinstance(offset, Extent):
        return PART
    return _interval(style, axis, wanted, offset, whole)


def _interval(style: Style, axis: int, size: Extent, offset: Extent, whole: float | None) -> str:
    """Compare where an image stands with where the words can stand, from the start edge or from the end edge."""
    if size.share >= 1 and -1 <= offset.px <= 1:
        return ALL
    if size.share:
        return PART
    sides = ("left", "right") if axis == 0 else ("top", "bottom")
    slack = 1.0 if axis == 0 else _LINE_MARGIN_EMS * style.font_px
    before, after = (_padding(style, side, whole) + slack for side in sides)
    if offset.share == 0:
        if offset.px + size.px <= before:
            return NONE
        if whole is not None and offset.px >= whole - after:
            return NONE
    elif offset.share == 1 and size.px - offset.px <= after:
        return NONE
    elif whole is not None:
        start = offset.share * (whole - size.px) + offset.px
        if start + size.px <= before or start >= whole - after:
            return NONE
        if start <= before and start + size.px >= whole - after:
            return ALL
    if axis == 1 and size.px <= max(4.0, 0.25 * style.font_px) and offset.share not in (0.5,):
        return NONE if offset.share in (0.0, 1.0) else PART
    return PART


def _padding(style: Style, side: str, whole: float | None) -> float:
    found = extent_of(style, f"padding-{side}")
    return (found.of(whole) or 0.0) if found is not None else 0.0
