"""The colours of a site's pictures, and whether a picture can lie behind the words of its box."""

from __future__ import annotations

import base64
import hashlib
import io
import re
import time
import warnings
from collections.abc import Callable, Hashable
from dataclasses import dataclass
from itertools import product
from math import ceil
from threading import Lock
from typing import Any
from urllib.parse import unquote_to_bytes

import numpy as np
from cachetools import LRUCache, cached
from PIL import Image, ImageOps

from glaucon.core.cascade.computed import ComputedSize, Style
from glaucon.core.cascade.properties.images import CssPicture
from glaucon.core.cascade.properties.lengths import Extent
from glaucon.core.colour.contrast import relative_luminance
from glaucon.core.colour.value import TRANSPARENT, Colour
from glaucon.core.layout.document import Box
from glaucon.core.layout.drawing import painted_at
from glaucon.core.layout.resampling import Drawable
from glaucon.core.survey.boxes import Area, extent_of
from glaucon.core.survey.drawings import read_drawing
from glaucon.core.survey.site import SiteFiles

MAX_PIXELS = 40_000_000
_SPOT = 0.02
_SMALL = 64 * 64  # pixels; all of a tile shows
# Larger pictures are looked at in this size: single bright pixels are nothing a reader sees behind words.
_LOOK_PX = 256
# where it is known which part of a picture lies behind words, that part is looked at in no less than this
_DECODED_PX = 2600
_MOST_DECODED = 8
# what makes a logo: its colours are few, and some of it is clear
_MAIN_PX, _MOST_MAIN, _LEAST_SHARE, _MOST_OF_IT, _LEAST_CLEAR, _NEAR_STEPS = 96, 4, 0.1, 0.6, 0.08, 2
# what is read of pictures; others a browser may know are told as unknown
_COVERED = (0.25, 0.5, 0.75)  # shares of an even cover under which a picture's extremes are looked for
FORMATS = ("PNG", "JPEG", "GIF", "WEBP", "BMP", "AVIF")
_KNOWN_FORMATS = (b"\xff\xd8", b"\x89PNG", b"GIF8", b"RIFF", b"BM", b"\0\0\1\0")


@dataclass(frozen=True, slots=True)
class Look:
    """What a picture shows: colours that stand for all of it (empty where it paints nothing) and its own size.

    `ratio` are the proportions of a drawing without one.
    """

    colours: tuple[Colour, ...] = ()
    size: tuple[float, float] | None = None
    why_unknown: str = ""
    ratio: tuple[float, float] | None = None


_DRAWING_SECONDS, _ALL_DRAWING_SECONDS = 6, 30.0


def _keyed(key: Hashable, find: Callable[[], Any]) -> Hashable:
    return key


# a site is read again and again while a backdrop is tried on it, with the same pictures
@cached(LRUCache(1_000), key=_keyed, lock=Lock())
def _look_kept(key: Hashable, find: Callable[[], Look]) -> Look:
    return find()


@cached(LRUCache(4_000), key=_keyed, lock=Lock())
def _part_kept(key: Hashable, find: Callable[[], tuple[Colour, ...]]) -> tuple[Colour, ...]:
    return find()


@cached(LRUCache(64), key=_keyed, lock=Lock())
def _drawing_kept(key: Hashable, find: Callable[[], bytes | None]) -> bytes | None:
    return find()


class PictureShelf:
    """Looks at each picture of a site once."""

    def __init__(self, site: SiteFiles) -> None:
        self._site = site
        self._looks: dict[CssPicture, Look] = {}
        self._mains: dict[CssPicture, tuple[tuple[Colour, float], ...]] = {}
        self._pixels: LRUCache[str, Drawable | None] = LRUCache(_MOST_DECODED)
        self._digests: dict[str, bytes] = {}
        self._drawing = 0.0  # seconds that drawings have taken

    def part(self, picture: CssPicture, places: list[Box], shown: tuple[float, float]) -> tuple[Colour, ...]:
        """Return the colours that some parts of a picture show, the very darkest and lightest among them.

        `shown` is the size it is painted in, in CSS pixels; places are of whole pixels and count from its corner. Of
        what has no pixels here, as a drawing with words in it, all colours are returned.
        """
        key = (
            self._digest(*self._named(picture)),
            *(round(side, 1) for side in shown),
            *((round(p.left, 1), round(p.top, 1), round(p.width), round(p.height)) for p in places),
        )
        return _part_kept(key, lambda: self._find_part(picture, places, shown))

    def _find_part(self, picture: CssPicture, places: list[Box], shown: tuple[float, float]) -> tuple[Colour, ...]:
        pixels = self._pixels_of(picture) or self._drawing_at(picture, shown)
        if pixels is None:
            return self.look(picture).colours
        found = []
        for place in places:
            left, top = max(0.0, place.left), max(0.0, place.top)
            wide = min(round(place.width), ceil(shown[0] - left))
            high = min(round(place.height), ceil(shown[1] - top))
            if wide > 0 and high > 0:
                found.append(pixels.drawn(shown, left, top, wide, high).reshape(-1, 4))
        return _telling_colours(np.concatenate(found), edge=0.0) if found else ()

    def _pixels_of(self, picture: CssPicture) -> Drawable | None:
        """Return a picture decoded, None where it has no pixels or cannot be read."""
        if self.look(picture).why_unknown or not self.look(picture).colours:
            return None
        key, data = self._named(picture)
        if key not in self._pixels:
            self._pixels[key] = None if _is_drawing(data, key) else _decoded(data)
        return self._pixels[key]

    def _drawing_at(self, picture: CssPicture, shown: tuple[float, float]) -> Drawable | None:
        """Return a drawing's pixels at a size, None where it is of one colour throughout or cannot be drawn in time."""
        name, data = self._named(picture)
        if len(self.look(picture).colours) < 2 or not _is_drawing(data, name):
            return None
        scale = min(1.0, _DECODED_PX / max(*shown, 1.0))
        size = max(1, round(shown[0] * scale)), max(1, round(shown[1] * scale))
        key = f"{name} {size}"
        if key not in self._pixels:
            if self._drawing > _ALL_DRAWING_SECONDS:
                return None  # a site's drawings have taken long enough
            png = _drawing_kept((self._digest(name, data), size), lambda: self._draw(data, size))
            self._pixels[key] = _decoded(png) if png is not None else None
        return self._pixels[key]

    def _draw(self, data: bytes, size: tuple[int, int]) -> bytes | None:
        start = time.monotonic()
        png = painted_at(data, size, _DRAWING_SECONDS)
        self._drawing += time.monotonic() - start
        return png

    def _named(self, picture: CssPicture) -> tuple[str, bytes]:
        """Return the file a picture is in, else its address, and its bytes, b"" for what is not here."""
        url = self._site.without_origin(picture.url.strip())
        if url.startswith("data:"):
            return url, _embedded(url)
        path = self._site.resolve(url, picture.base)
        return path or url, self._site.files.get(path or "", b"")

    def _digest(self, name: str, data: bytes) -> bytes:
        """Return what is the same for pictures of the same kind of file and bytes."""
        if name not in self._digests:
            kind = b"drawing" if _is_drawing(data, name) else b"pixels"
            self._digests[name] = hashlib.sha256(kind + data).digest()
        return self._digests[name]

    def look(self, picture: CssPicture) -> Look:
        """Return what a picture shows."""
        if picture not in self._looks:
            self._looks[picture] = self._find(picture)
        return self._looks[picture]

    def main_colours(self, picture: CssPicture) -> tuple[tuple[Colour, float], ...]:
        """Return the few colours a logo or an icon is made of, each with its share of what is seen of it.

        Nothing for what fills its box, which brings its own background, nor for a photograph.
        """
        if picture not in self._mains:
            pixels = self._pixels_of(picture)
            colours = self.look(picture).colours
            if pixels is not None:
                self._mains[picture] = _main_colours(Image.fromarray(pixels.whole))
            elif TRANSPARENT in colours and len(colours) - 1 <= _MOST_MAIN:
                drawn = [colour for colour in colours if colour != TRANSPARENT]
                self._mains[picture] = tuple((colour, 1 / len(drawn)) for colour in drawn)
            else:
                self._mains[picture] = ()
        return self._mains[picture]

    def file_of(self, picture: CssPicture) -> str | None:
        """Return the file that a picture is, None where it is embedded or not among them."""
        url = self._site.without_origin(picture.url.strip())
        return None if url.startswith("data:") else self._site.resolve(url, picture.base)

    def _find(self, picture: CssPicture) -> Look:
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
        data = self._site.files[path]
        return _look_kept((path, self._digest(path, data)), lambda: _look_at(data, path))


def _look_at_data(url: str) -> Look:
    data = _embedded(url)
    return _look_at(data, "picture.svg" if "svg" in url.partition(",")[0] else "") if data else Look()


def _embedded(url: str) -> bytes:
    """Return what a `data:` address holds, nothing where it is broken."""
    head, _, body = url.partition(",")
    try:
        raw = unquote_to_bytes(body)
        return base64.b64decode(raw, validate=False) if ";base64" in head.lower() else raw
    except ValueError:
        return b""


def _is_drawing(data: bytes, name: str) -> bool:
    named = name.lower().endswith((".svg", ".svgz")) or "svg" in name.partition(",")[0]
    return named or data.lstrip()[:5] in (b"<svg ", b"<?xml")


def _decoded(data: bytes) -> Drawable | None:
    """Return a picture's pixels, halved until they are no more than so many along a side; None for what is broken."""
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            with Image.open(io.BytesIO(data), formats=FORMATS) as picture:
                picture.draft("RGB", (_DECODED_PX, _DECODED_PX))
                pixels = np.asarray(ImageOps.exif_transpose(picture).convert("RGBA"))
    except Exception:  # Pillow raises nearly anything on broken files
        return None
    return Drawable(pixels, _DECODED_PX)


def _look_at(data: bytes, name: str) -> Look:
    if _is_drawing(data, name):
        drawing = read_drawing(data.lstrip())
        return Look(drawing.seen(), drawing.size, ratio=drawing.ratio)
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
    return Look(_telling_colours(np.asarray(pixels).reshape(-1, 4)), size)


def _telling_colours(pixels: np.ndarray, edge: float | None = None) -> tuple[Colour, ...]:
    """Return the extremes of luminance and some colours between, for each degree of opacity, of bytes, shape (n, 4).

    Of a photograph the outermost parts of the range are left out (`edge`, a share) where it is not known what part of
    it lies behind words: a spot that small seldom does. What lies over a picture changes which of its colours are the
    darkest and lightest, since colours are mixed in sRGB and luminance is not: the extremes of the picture under an
    even cover of black and of white are among them too.
    """
    edge = (_SPOT if len(pixels) > _SMALL else 0.0) if edge is None else edge
    found: dict[tuple[int, ...], Colour] = {}
    bands = np.minimum(pixels[:, 3] // 64, 3)  # by quarters of opacity
    for band in np.nonzero(np.bincount(bands, minlength=4))[0]:
        members = pixels if (bands == band).all() else pixels[bands == band]
        picked = _at_shares(_luminances(members), (edge, 0.25, 0.5, 0.75, 1.0 - edge))
        for cover, share in product((0.0, 1.0), _COVERED):
            picked += _at_shares(_luminances(members, cover, share), (edge, 1.0 - edge))
        if int(members[:, 3].min()) < 255:
            # one that lets less through is lighter on black, darker on white, than its like
            for ground in (0.0, 1.0):
                picked += _at_shares(_on_ground(members, ground), (edge, 1.0 - edge))
        for number, place in enumerate(picked):
            r, g, b, alpha = members[place].tolist()
            if alpha == 0 and number >= 5:
                continue  # what is clear is the same under any cover
            colour = TRANSPARENT if alpha == 0 else Colour(r / 255, g / 255, b / 255, alpha / 255)
            found.setdefault((*colour.bytes, round(colour.alpha * 255)), colour)
    return tuple(found.values())


def _luminances(pixels: np.ndarray, cover: float = 0.0, share: float = 0.0) -> np.ndarray:
    """Return the relative luminance of bytes under a share of an even cover, shape (n,), looked up by channel."""
    grey = np.arange(256) / 255 * (1 - share) + cover * share
    parts = (relative_luminance(np.outer(grey, unit)) for unit in np.eye(3))
    return np.asarray(sum(part[pixels[:, channel]] for channel, part in enumerate(parts)))


def _on_ground(pixels: np.ndarray, ground: float) -> np.ndarray:
    """Return the relative luminance of bytes as they are seen on an even grey, shape (n,)."""
    alpha = pixels[:, 3:] / 255
    return np.asarray(relative_luminance(pixels[:, :3] / 255 * alpha + ground * (1 - alpha)))


def _at_shares(values: np.ndarray, shares: tuple[float, ...]) -> list[int]:
    """Return the places of the values that are larger than some shares of all; the ends are found without sorting."""
    ends = {0: np.argmin, len(values) - 1: np.argmax}
    ranks = [int(share * (len(values) - 1)) for share in shares]
    between = sorted({rank for rank in ranks if rank not in ends})
    order = np.argpartition(values, between) if between else np.zeros(0, dtype=np.int64)
    return [int(ends[rank](values)) if rank in ends else int(order[rank]) for rank in ranks]


def _main_colours(picture: Any) -> tuple[tuple[Colour, float], ...]:
    small = picture.copy()
    small.thumbnail((_MAIN_PX, _MAIN_PX), Image.Resampling.BOX)
    pixels = np.asarray(small, dtype=np.float64).reshape(-1, 4) / 255
    seen = pixels[pixels[:, 3] >= 0.5][:, :3]
    if not len(seen) or len(seen) > (1 - _LEAST_CLEAR) * len(pixels):
        return ()
    bins, of_pixel, counts = np.unique(np.round(seen * 15), axis=0, return_inverse=True, return_counts=True)
    found: list[tuple[np.ndarray, float]] = []
    left = np.ones(len(bins), dtype=bool)
    for number in np.argsort(-counts, kind="stable").tolist():
        if not left[number] or len(found) == _MOST_MAIN:
            continue
        near = left & (np.abs(bins - bins[number]).max(axis=1) <= _NEAR_STEPS)
        left &= ~near
        members = near[of_pixel.ravel()]
        found.append((np.median(seen[members], axis=0), float(members.sum()) / len(seen)))
    main = [(colour, share) for colour, share in found if share >= _LEAST_SHARE]
    if sum(share for _, share in main) < _MOST_OF_IT:
        return ()
    return tuple((Colour(*colour.tolist()), share) for colour, share in main)


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
