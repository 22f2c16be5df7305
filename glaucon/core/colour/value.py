"""Colour values: CSS Color 4 text in, sRGB with alpha inside, CSS text out."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from difflib import get_close_matches
from functools import lru_cache

from coloraide import Color
from coloraide.css.color_names import name2val_map

from glaucon.core.errors import ColourError
from glaucon.core.wording import counted

_BARE_HEX = re.compile(r"(?:[0-9a-f]{3,4}|[0-9a-f]{6}|[0-9a-f]{8})", re.I)
_MOST_LIGHTNESS = {"lab": 100.0, "lch": 100.0, "oklab": 1.0, "oklch": 1.0}
# the syntaxes whose values may lie outside sRGB and are not clamped by definition
_OPEN_SPACE = re.compile(r"(?:ok)?l(?:ab|ch)\(|color\(", re.I)
_PROPERTY = re.compile(r"[-a-z]+", re.I)
MOST_CHARACTERS = 200  # of a colour's text


@dataclass(frozen=True, slots=True)
class Colour:
    """A colour in gamma-encoded sRGB: r, g, b and alpha, each in [0, 1]."""

    r: float
    g: float
    b: float
    alpha: float = 1.0

    @property
    def rgb(self) -> tuple[float, float, float]:
        """Return the three channels without alpha."""
        return self.r, self.g, self.b

    @property
    def bytes(self) -> tuple[int, int, int]:
        """Return the channels as 0..255, rounded half up as browsers paint them."""
        return to_byte(self.r), to_byte(self.g), to_byte(self.b)

    def with_alpha(self, alpha: float) -> Colour:
        """Return the same colour at another alpha."""
        return Colour(self.r, self.g, self.b, alpha)

    def hex(self) -> str:
        """Return `#rrggbb`, or `#rrggbbaa` where alpha is below 1."""
        text = "#{:02x}{:02x}{:02x}".format(*self.bytes)
        return text if to_byte(self.alpha) == 255 else f"{text}{to_byte(self.alpha):02x}"

    def rounded(self) -> Colour:
        """Return the colour that 8-bit channels can hold."""
        r, g, b = self.bytes
        return Colour(r / 255, g / 255, b / 255, self.alpha)


TRANSPARENT = Colour(0.0, 0.0, 0.0, 0.0)
BLACK = Colour(0.0, 0.0, 0.0)
WHITE = Colour(1.0, 1.0, 1.0)


def to_byte(channel: float) -> int:
    """Return a channel of [0, 1] as 0..255."""
    return max(0, min(255, math.floor(channel * 255 + 0.5)))


@lru_cache(maxsize=16384)
def parse_css_colour(text: str) -> Colour | None:
    """Return the sRGB colour that a browser paints for a CSS Color 4 text, or None where it is no colour.

    What lies outside sRGB is clipped channel by channel, as Chromium paints it. `currentColor` is not read here.
    """
    return _srgb(text, mapped=False)


def _srgb(text: str, mapped: bool) -> Colour | None:
    if len(text) > MOST_CHARACTERS:
        return None
    lowered = text.strip().lower()
    if lowered == "transparent":
        return TRANSPARENT
    try:
        return _converted(lowered, mapped)
    except (OverflowError, ValueError, ZeroDivisionError):
        return None  # channels beyond what numbers hold are no colour that can be seen


def _converted(lowered: str, mapped: bool) -> Colour | None:
    match = Color.match(lowered, fullmatch=True)
    if match is None:
        return None
    colour = match.color
    if colour.space() in _MOST_LIGHTNESS:
        # CSS Color 4, section 9: a lightness outside its range is brought to its end when it is read
        colour["lightness"] = max(0.0, min(_MOST_LIGHTNESS[colour.space()], colour.get("lightness", nans=False)))
    if mapped and not colour.convert("srgb").in_gamut(tolerance=1e-6):
        colour = colour.convert("oklch").fit("srgb", method="oklch-chroma")
    channels = (0.0 if math.isnan(v) else max(0.0, min(1.0, float(v))) for v in colour.convert("srgb")[:3])
    r, g, b = channels
    return Colour(r, g, b, max(0.0, min(1.0, float(colour.alpha(nans=False)))))


def read_colour(text: str) -> Colour:
    """Return the colour a person typed; forgiving of a missing `#` and a pasted declaration.

    A colour outside sRGB is brought in by CSS Color 4, section 13 (less chroma in OKLCH until it fits).
    Raises: ColourError: with what would be accepted.
    """
    colour = _typed(text) if len(text) <= MOST_CHARACTERS else None
    if colour is None:
        said = f"“{text.strip()[:60]}” is not a colour Glaucon can read. {_way_out(text.strip())}"
        raise ColourError(said, given=text)
    return colour


def _way_out(given: str) -> str:
    """Return how to correct a text that is no colour: its digits, the nearest colour name, or examples."""
    digits = given.removeprefix("#")
    if re.fullmatch(r"[0-9a-fA-F]{1,12}", digits) and (given.startswith("#") or any(one.isdigit() for one in digits)):
        return f"It has {counted(len(digits), 'digit')}. A code has 6, or 3: #1d5c7a, #fff."
    near = get_close_matches(given.lower(), name2val_map, n=1, cutoff=0.75)
    if near:
        return f"Did you mean “{near[0]}”?"
    return "Write it like #1d5c7a, teal, rgb(29 92 122) or oklch(45% 0.08 235)."


@lru_cache(maxsize=4096)
def _typed(text: str) -> Colour | None:
    given = text.strip().rstrip(";").strip()
    name, pasted, value = given.partition(":")
    if pasted and _PROPERTY.fullmatch(name.strip()):
        given = value.strip()
    if _BARE_HEX.fullmatch(given):
        given = f"#{given}"
    return _srgb(given, mapped=_OPEN_SPACE.match(given) is not None) if given else None


def css_text(colour: Colour) -> str:
    """Return the CSS text of a colour: hex, with an alpha written so that no rounding shows."""
    if to_byte(colour.alpha) == 255:
        return colour.hex()
    r, g, b = colour.bytes
    return f"rgb({r} {g} {b} / {round(colour.alpha, 4):g})"
