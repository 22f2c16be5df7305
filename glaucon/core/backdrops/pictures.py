"""Pictures for backdrops: taken in safely, and made as they are shown, in WebP at the sizes that screens need."""

from __future__ import annotations

import hashlib
import io
import re
import warnings
from dataclasses import dataclass

import numpy as np
from PIL import Image

from glaucon.core.backdrops.picture_colours import LONGEST_PX, open_whole_picture
from glaucon.core.errors import ColourError
from glaucon.core.layout.drawing import cleaned, is_drawing, size_of_drawing
from glaucon.core.study.backdrops import Picture
from glaucon.core.survey.pictures import FORMATS, MAX_PIXELS

FOLDER = "backdrops/"
WIDE, PHONE = 1920, 900  # pixels across, of what a wide screen and a phone are given
PHONE_PX = 600  # up to this width of the screen it is a phone
MOST_KEPT_PX = 2600
BUDGET_BYTES = 300_000  # a page
_QUALITY = 80
_ORIENTATION = 0x0112  # of EXIF; from 5 on a picture lies on its side
_EDGE = 0.03
_SEAM = 3.0  # how much more a tile's edges may differ than its neighbouring rows do
_UNFIT = re.compile(r"[^a-z0-9]+")


@dataclass(frozen=True, slots=True)
class Taken:
    """A picture taken in: WebP without metadata, its size, and a name made of the one it had."""

    data: bytes
    width: int
    height: int
    name: str


def take_in(data: bytes, name: str) -> Taken:
    """Return a picture upright, in sRGB, without metadata and no larger than is ever shown.

    Raises: ColourError: it is none, broken, huge or empty.
    """
    picture = open_whole_picture(data)
    picture.thumbnail((MOST_KEPT_PX, MOST_KEPT_PX), Image.Resampling.LANCZOS)
    made = _webp(picture, 90)
    return Taken(made, picture.width, picture.height, f"{FOLDER}{stem_of(name)}.webp")


def stem_of(name: str) -> str:
    """Return a file's name without folders and ending, in small letters and hyphens."""
    last = name.replace("\\", "/").rsplit("/", 1)[-1].rsplit(".", 1)[0]
    return _UNFIT.sub("-", last.lower()).strip("-")[:60] or "picture"


def file_for(picture: Picture, width: int) -> str:
    """Return the path of the file that shows a picture on a screen of some width."""
    look = repr((picture.file, width, zoom_of(picture), picture.opacity, picture.strength, picture.lightness))
    return f"{FOLDER}{stem_of(picture.file)}-{hashlib.sha256(look.encode()).hexdigest()[:10]}.webp"


def zoom_of(picture: Picture) -> tuple[float, tuple[float, float]] | None:
    """Return how far a picture that fills its place is cut into, and around what; None: not at all."""
    return (picture.scale, picture.at) if picture.fit in ("cover", "stretch") and picture.scale > 1 else None


def made(data: bytes, picture: Picture, width: int) -> bytes:
    """Return a picture as WebP as it is to be shown: cut into, with its strength of colour, lightness and opacity.

    Raises: ColourError: it is none, broken or huge.
    """
    whole = open_whole_picture(data)
    zoom = zoom_of(picture)
    if zoom is not None:
        scale, (x, y) = zoom
        across, down = whole.width / scale, whole.height / scale
        left, top = x * (whole.width - across), y * (whole.height - down)
        whole = whole.crop((round(left), round(top), round(left + across), round(top + down)))
    if whole.width > width and picture.fit != "tile":
        whole = whole.resize((width, max(1, round(whole.height * width / whole.width))), Image.Resampling.LANCZOS)
    return _webp(_as_shown(whole, picture), _QUALITY)


def size_of(data: bytes) -> tuple[int, int]:
    """Return a picture's width and height in pixels, upright, without decoding it.

    Raises: ColourError: it is none, or has more pixels than are taken.
    """
    if is_drawing(data):
        return size_of_drawing(data)
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            with Image.open(io.BytesIO(data), formats=FORMATS) as picture:
                width, height = picture.size
                turned = picture.getexif().get(_ORIENTATION, 1) >= 5
    except Exception as error:  # Pillow raises nearly anything on broken files
        raise ColourError("Glaucon cannot read that picture. Choose a PNG, JPEG, GIF or WebP.") from error
    if width * height > MAX_PIXELS:
        raise ColourError("That picture has more than the 40 million pixels that Glaucon takes. Save it smaller.")
    scale = min(1.0, LONGEST_PX / max(width, height))
    sides = (max(1, round(width * scale)), max(1, round(height * scale)))
    return (sides[1], sides[0]) if turned else sides


def small(data: bytes) -> bytes:
    """Return a picture as WebP, as large as a list shows it."""
    picture = open_whole_picture(data)
    picture.thumbnail((320, 320), Image.Resampling.LANCZOS)
    return _webp(picture, _QUALITY)


def is_seamless(data: bytes) -> bool:
    """Return whether a picture's edges meet when it is laid side by side.

    They do where opposite edges differ hardly more than neighbouring rows do inside.
    """
    pixels = np.asarray(open_whole_picture(data).convert("RGB").resize((256, 256)), dtype=np.float64)
    for along in (pixels, pixels.swapaxes(0, 1)):
        inside = np.abs(np.diff(along, axis=0)).mean(axis=(1, 2))
        seam = float(np.abs(along[0] - along[-1]).mean())
        if seam > max(_SEAM, 2.0 * float(np.quantile(inside, 0.9))):
            return False
    return True


def edge_colour(data: bytes) -> tuple[int, int, int]:
    """Return the middle colour of a picture's edges, 0..255: what goes on where the picture ends."""
    pixels = np.asarray(open_whole_picture(data).convert("RGB"))
    deep = max(1, round(min(pixels.shape[:2]) * _EDGE))
    edges = [pixels[:deep], pixels[-deep:], pixels[:, :deep].swapaxes(0, 1), pixels[:, -deep:].swapaxes(0, 1)]
    r, g, b = np.median(np.concatenate([edge.reshape(-1, 3) for edge in edges]), axis=0)
    return int(r), int(g), int(b)


def _as_shown(picture: Image.Image, asked: Picture) -> Image.Image:
    if asked.strength == 1 and asked.lightness == 0 and asked.opacity == 1:
        return picture
    pixels = np.asarray(picture, dtype=np.float64)
    colours, alpha = pixels[..., :3], pixels[..., 3:]
    grey = colours @ np.array([0.2126, 0.7152, 0.0722])
    colours = grey[..., None] + (colours - grey[..., None]) * asked.strength
    end = 255.0 if asked.lightness > 0 else 0.0
    colours = colours + (end - colours) * abs(asked.lightness)
    whole = np.concatenate([colours, alpha * asked.opacity], axis=-1)
    return Image.fromarray(np.round(whole).clip(0, 255).astype(np.uint8), "RGBA")


def _webp(picture: Image.Image, quality: int) -> bytes:
    if picture.mode == "RGBA" and picture.getchannel("A").getextrema()[0] == 255:
        picture = picture.convert("RGB")
    out = io.BytesIO()
    # exact: what is transparent keeps its colour; a lossy alpha would make ratios of its own
    picture.save(out, "WEBP", quality=quality, method=4, alpha_quality=100)
    return out.getvalue()


def refuse_unfit(data: bytes) -> None:
    """Raise ColourError where a picture moves, or has colours that no screen shows as they are."""
    if is_drawing(data):
        cleaned(data)
        return
    with io.BytesIO(data) as handle:
        try:
            picture = Image.open(handle)
        except Exception as error:  # whatever a decoder raises on what is no picture
            raise ColourError("Glaucon cannot read that picture. Choose a PNG, JPEG, GIF, WebP or AVIF.") from error
        if getattr(picture, "n_frames", 1) > 1:
            raise ColourError("That picture moves. Choose one that stands still, or save its first frame.")
