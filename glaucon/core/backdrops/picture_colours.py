"""The main colours of a picture, in proportion: its pixels gathered in OKLab."""

from __future__ import annotations

import io
import warnings
from dataclasses import dataclass

import numpy as np
from PIL import Image, ImageCms, ImageOps, UnidentifiedImageError

from glaucon.core.colour.oklab import Floats, oklab_from_srgb, srgb_from_oklab
from glaucon.core.colour.value import Colour
from glaucon.core.errors import ColourError
from glaucon.core.layout.drawing import is_drawing, painted
from glaucon.core.survey.pictures import FORMATS

MOST_PIXELS = 40_000_000
MOST_BYTES = 25 * 1024 * 1024
_SIDE = 360  # pixels: enough for proportions, whatever the picture's size
LONGEST_PX = 4000  # pixels; no screen shows more
_BITS = 5
_SAME = 0.055  # ΔE OK under which two gatherings are one colour
_NEXT = 0.085  # ΔE OK under which neighbouring lots are one
_LEAST_SHARE = 0.004
_SEEN = 128  # an alpha from which a pixel counts


@dataclass(frozen=True, slots=True)
class PictureColour:
    """A main colour of a picture and its share of what can be seen of it, in (0, 1]."""

    colour: Colour
    share: float


def open_picture(data: bytes) -> Image.Image:
    """Return a picture's first frame as sRGB with alpha, small enough to look through.

    Raises: ColourError: no picture, a broken or a huge one, or one with nothing to see.
    """
    return _opened(data, 2 * _SIDE)


def open_whole_picture(data: bytes) -> Image.Image:
    """Return a picture's first frame upright, as sRGB with alpha, 4,000 pixels long and wide at most.

    Raises: ColourError: no picture, a broken or a huge one, or one with nothing to see.
    """
    return _opened(data, None)


def _opened(data: bytes, side: int | None) -> Image.Image:
    """Return a picture as sRGB with alpha; with a side a JPEG is read at a part of its size, no smaller than that."""
    if len(data) > MOST_BYTES:
        raise ColourError("That picture is larger than 25 MB. Save it smaller and choose it again.")
    if is_drawing(data):
        data = painted(data)
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            picture = Image.open(io.BytesIO(data), formats=FORMATS)
            if picture.width * picture.height > MOST_PIXELS:
                raise ColourError(
                    f"That picture has {picture.width} by {picture.height} pixels, more than the 40 million that "
                    "Glaucon takes. Save it smaller and choose it again."
                )
            picture.draft("RGB", (side or LONGEST_PX, side or LONGEST_PX))
            picture.load()
            if side is not None:
                return _in_srgb(picture if max(picture.size) <= _SIDE else _reduced(picture))
            return _in_srgb(_upright(picture))
    except ColourError:
        raise
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, EOFError, Image.DecompressionBombError) as error:
        raise ColourError("Glaucon cannot read that picture. Choose a PNG, JPEG, GIF or WebP.") from error


def _upright(picture: Image.Image) -> Image.Image:
    """Return a picture turned as its camera says it was held, no larger than is shown; its colour profile stays."""
    turned = ImageOps.exif_transpose(picture)
    if max(turned.size) > LONGEST_PX:
        turned.thumbnail((LONGEST_PX, LONGEST_PX), Image.Resampling.BOX)
    if "icc_profile" in picture.info:
        turned.info["icc_profile"] = picture.info["icc_profile"]
    return turned


def _in_srgb(picture: Image.Image) -> Image.Image:
    profile = picture.info.get("icc_profile")
    if picture.mode.startswith("I;16") or picture.mode in ("I", "F"):
        values = np.asarray(picture, dtype=float)
        top = 65535.0 if picture.mode != "F" else max(float(values.max()), 1e-9)
        picture = Image.fromarray((values / top * 255).clip(0, 255).astype(np.uint8))
    if profile and picture.mode in ("RGB", "CMYK", "L"):
        try:
            target = ImageCms.createProfile("sRGB")
            source = ImageCms.ImageCmsProfile(io.BytesIO(profile))
            done = ImageCms.profileToProfile(picture, source, target, outputMode="RGB")
            picture = done if done is not None else picture
        except (ImageCms.PyCMSError, OSError, ValueError):
            pass  # a broken profile is as good as none
    return picture.convert("RGBA")


def _reduced(picture: Image.Image) -> Image.Image:
    """Return a picture small enough, its colours not mixed with each other: every so many pixels are taken."""
    scale = max(picture.size) / _SIDE
    size = (max(1, round(picture.width / scale)), max(1, round(picture.height / scale)))
    return picture.resize(size, Image.Resampling.NEAREST)


def main_colours(data: bytes, most: int = 8) -> list[PictureColour]:
    """Return a picture's main colours, largest share first.

    Pixels are gathered on a grid, the gatherings joined to the heavier ones near them in OKLab, and each joined lot
    centred anew. Raises: ColourError: see `open_picture`, or a picture that is clear all over.
    """
    pixels = np.asarray(open_picture(data)).reshape(-1, 4)
    seen = pixels[pixels[:, 3] >= _SEEN, :3]
    if not len(seen):
        raise ColourError("That picture is transparent all over. Choose another one.")
    cells = (seen >> (8 - _BITS)).astype(np.int64) @ np.array([1 << 2 * _BITS, 1 << _BITS, 1])
    _, place, counts = np.unique(cells, return_inverse=True, return_counts=True)
    lab = oklab_from_srgb(seen / 255)
    middle = np.stack([np.bincount(place, lab[:, axis]) for axis in range(3)], axis=1) / counts[:, None]
    centres = _gathered(middle, counts)
    for _ in range(4):
        nearest = np.argmin(np.linalg.norm(middle[:, None] - centres[None], axis=2), axis=1)
        weight = np.bincount(nearest, counts, minlength=len(centres))
        centres = np.stack(
            [np.bincount(nearest, middle[:, axis] * counts, minlength=len(centres)) for axis in range(3)], axis=1
        ) / np.maximum(weight, 1)[:, None]  # fmt: skip
    centres, nearest = _joined(centres, nearest, weight)
    weight = np.bincount(nearest, counts, minlength=len(centres))
    share = weight / counts.sum()
    # the heart of each lot, so that edges between two colours do not pull it away
    hearts = [_heart(middle[nearest == n], counts[nearest == n], centres[n]) for n in range(len(centres))]
    order = [n for n in np.argsort(-share).tolist() if share[n] >= _LEAST_SHARE] or [int(np.argmax(share))]
    return [PictureColour(_colour(hearts[n]), float(share[n])) for n in order[:most]]


def _gathered(middle: Floats, counts: np.ndarray) -> Floats:
    """Return centres: the heaviest cells, none within reach of a heavier one."""
    order = np.argsort(-counts)
    left = np.ones(len(middle), dtype=bool)
    found = []
    for n in order.tolist():
        if not left[n]:
            continue
        found.append(n)
        left &= np.linalg.norm(middle - middle[n], axis=1) > _SAME
        if len(found) >= 24:
            break
    return middle[found]


def _joined(centres: Floats, nearest: np.ndarray, weight: np.ndarray) -> tuple[Floats, np.ndarray]:
    """Return lots joined that lie next to each other: the noise of one colour falls into several."""
    owner = np.arange(len(centres))
    for n in np.argsort(weight).tolist():  # light ones first, each to the nearest heavier one
        heavier = np.nonzero((weight > weight[n]) & (weight > 0))[0]
        if len(heavier):
            apart = np.linalg.norm(centres[heavier] - centres[n], axis=1)
            if apart.min() < _NEXT:
                owner[n] = int(heavier[int(np.argmin(apart))])
    for _ in range(len(owner)):
        owner = owner[owner]
    kept, places = np.unique(owner, return_inverse=True)
    return centres[kept], places[nearest]


def _heart(middle: Floats, counts: np.ndarray, centre: Floats) -> Floats:
    """Return the weighted middle of the half of a lot that lies nearest to its heaviest cell."""
    if not len(middle):
        return centre
    apart = np.linalg.norm(middle - middle[int(np.argmax(counts))], axis=1)
    near = apart <= max(0.02, float(np.median(np.repeat(apart, np.minimum(counts, 50)))))
    return np.asarray((middle[near] * counts[near, None]).sum(axis=0) / counts[near].sum())


def _colour(lab: Floats) -> Colour:
    red, green, blue = (float(v) for v in np.clip(srgb_from_oklab(lab), 0, 1))
    return Colour(red, green, blue).rounded()


def seeds_of(colours: list[PictureColour], most: int = 3) -> list[Colour]:
    """Return the colours of a picture that a palette is made from: colourful ones that differ, large ones first."""
    lab = oklab_from_srgb(np.array([one.colour.rgb for one in colours]))
    chroma = np.hypot(lab[:, 1], lab[:, 2])
    worth = [one.share**0.5 * (0.02 + float(c)) for one, c in zip(colours, chroma, strict=True)]
    found: list[int] = []
    for n in np.argsort([-w for w in worth]).tolist():
        if all(np.linalg.norm(lab[n] - lab[other]) > 0.12 for other in found) and (not found or chroma[n] > 0.04):
            found.append(n)
    return [colours[n].colour for n in found[:most]]
