"""A small library of drawn pictures: it stands in for a picture service, searched by word and by colour."""

from __future__ import annotations

import io
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from glaucon.core.colour.oklab import oklab_from_srgb
from glaucon.core.colour.value import Colour, read_colour
from glaucon.core.errors import StudyError

Pixels = NDArray[np.float64]
WIDTH, HEIGHT = 1600, 1000
_SMALL = Path(__file__).parent / "small"
_NEAR = 0.12  # ΔE OK within which a picture's colour goes with a colour


@dataclass(frozen=True, slots=True)
class Drawn:
    """A picture of the library: its name for people, words it is found by, its main colours, and how it is drawn.

    The colours are what `main_colours` finds in it: drawing all of them for one search would take seconds.
    """

    label: str
    words: str
    colours: str
    draw: Callable[[np.random.Generator], Pixels]


def _ramp(*stops: tuple[float, str]) -> Pixels:
    """Return colours from the top down between stops, shape (HEIGHT, WIDTH, 3), 0..1."""
    at = [place for place, _ in stops]
    colours = np.array([[int(code[n : n + 2], 16) / 255 for n in (1, 3, 5)] for _, code in stops])
    rows = np.linspace(0, 1, HEIGHT)
    column = np.stack([np.interp(rows, at, colours[:, channel]) for channel in range(3)], axis=-1)
    return np.repeat(column[:, None], WIDTH, axis=1)


def _cloud(dice: np.random.Generator, across: int, down: int) -> Pixels:
    """Return smooth noise of about that many swells, shape (HEIGHT, WIDTH, 1), -1..1."""
    small = Image.fromarray((dice.random((down, across)) * 255).astype(np.uint8))
    large = np.asarray(small.resize((WIDTH, HEIGHT), Image.Resampling.BICUBIC), dtype=np.float64)
    return (large / 127.5 - 1)[..., None]


def _grain(dice: np.random.Generator, strength: float) -> Pixels:
    return dice.normal(0, strength, (HEIGHT, WIDTH, 1))


def _mixed(below: Pixels, code: str, share: Any) -> Pixels:
    colour: Pixels = np.array([int(code[n : n + 2], 16) / 255 for n in (1, 3, 5)])
    mixed: Pixels = below + (colour - below) * share
    return mixed


_Y: Pixels = np.repeat(np.linspace(0, 1, HEIGHT)[:, None, None], WIDTH, axis=1)
_X: Pixels = np.repeat(np.linspace(0, 1, WIDTH)[None, :, None], HEIGHT, axis=0)


def _water(dice: np.random.Generator, sky: str, far: str, near: str, horizon: float) -> Pixels:
    picture = _ramp((0, sky), (horizon - 0.02, far), (horizon + 0.02, near), (1, near))
    ripples = np.sin((_Y - horizon) * 240 / (0.3 + _Y) + _cloud(dice, 9, 40) * 3) * (horizon < _Y)
    return picture + ripples * 0.035 + _cloud(dice, 5, 4) * 0.03


def _banks(dice: np.random.Generator, picture: Pixels, code: str, at: float, high: float) -> Pixels:
    edge = at - high * (0.5 + 0.5 * _cloud(dice, 14, 2)[:1])
    return _mixed(picture, code, ((edge < _Y) & (at > _Y)) * 0.9)


def _boards(dice: np.random.Generator, light: str, dark: str, count: int) -> Pixels:
    number = (_X * count).astype(int)
    tone = dice.random(count + 1)[number]
    grain = _cloud(dice, count * 3, 5) * 0.35 + _cloud(dice, count * 14, 3) * 0.2
    picture = _mixed(_ramp((0, light), (1, light)), dark, np.clip(tone * 0.4 + grain * 0.4 + 0.2, 0, 1))
    return _mixed(picture, dark, ((_X * count) % 1 < 0.02) * 0.85)


def _still_water(dice: np.random.Generator) -> Pixels:
    return _banks(dice, _water(dice, "#a9c6cb", "#c9dad4", "#23474f", 0.5), "#3d6b57", 0.52, 0.12)


def _night(dice: np.random.Generator) -> Pixels:
    picture = _banks(dice, _water(dice, "#0e1a2b", "#1d3348", "#0b1622", 0.55), "#0a1219", 0.56, 0.16)
    for x in (0.22, 0.47, 0.8):
        far = np.hypot((_X - x) * 1.6, _Y - 0.53)
        picture = _mixed(picture, "#f6cf7d", np.exp(-far * 26) + np.exp(-np.abs(_X - x) * 90) * (_Y > 0.55) * 0.35)
    return picture


def _mist(dice: np.random.Generator) -> Pixels:
    picture = _ramp((0, "#d8dedb"), (0.6, "#c3cec9"), (1, "#9fb0aa"))
    for at, code in ((0.42, "#aebdb5"), (0.52, "#94a79d"), (0.66, "#7b9186")):
        picture = _banks(dice, picture, code, at, 0.1)
        picture = _mixed(picture, "#d5dcd9", np.exp(-np.abs(_Y - at) * 14) * 0.7)
    return picture


def _dawn(dice: np.random.Generator) -> Pixels:
    return _banks(dice, _water(dice, "#f2b38a", "#fbe0b4", "#8a5a55", 0.58), "#5c3b3f", 0.59, 0.08)


def _meadow(dice: np.random.Generator) -> Pixels:
    picture = _ramp((0, "#cfe3ee"), (0.42, "#e9f2ec"), (0.44, "#8fae62"), (1, "#4e7a3a"))
    return picture + _cloud(dice, 90, 60) * 0.06 * (_Y > 0.44) + _cloud(dice, 6, 4) * 0.03


def _slate(dice: np.random.Generator) -> Pixels:
    tilt = _cloud(dice, 4, 9) * 0.5 + _cloud(dice, 20, 44) * 0.3 + _cloud(dice, 60, 90) * 0.15
    return _mixed(_ramp((0, "#4a4f57"), (1, "#33373d")), "#6d737c", np.clip(tilt * 0.5 + 0.3, 0, 1))


def _bricks(dice: np.random.Generator) -> Pixels:
    row = (_Y * 20).astype(int)
    across = _X * 16 + (row % 2) * 0.5
    tone = dice.random((21, 19))[row, across.astype(int)]
    picture = _mixed(_ramp((0, "#9c5a41"), (1, "#8c4e38")), "#6f3a2a", tone * 0.6) + _grain(dice, 0.02)
    return _mixed(picture, "#cbbfae", ((across % 1 < 0.045) | ((_Y * 20) % 1 < 0.09)) * 0.9)


def _sailcloth(dice: np.random.Generator) -> Pixels:
    weave = np.sin(_X * 1600) * 0.012 + np.sin(_Y * 1000) * 0.012
    return _ramp((0, "#efe6d3"), (1, "#e5dac3")) + weave + _cloud(dice, 7, 5) * 0.02


def _rust(dice: np.random.Generator) -> Pixels:
    flakes = np.clip(_cloud(dice, 14, 10) + _cloud(dice, 50, 32) * 0.6, 0, 1)
    return _mixed(_ramp((0, "#2f5d62"), (1, "#284f54")), "#a5532c", flakes) + _grain(dice, 0.015)


def _autumn(dice: np.random.Generator) -> Pixels:
    picture = _water(dice, "#e8d9bd", "#efe3c8", "#5c5136", 0.55)
    for code, high in (("#c98b3a", 0.34), ("#b3622a", 0.24), ("#8a4526", 0.12)):
        picture = _banks(dice, picture, code, 0.57, high)
    return picture


def _rain(dice: np.random.Generator) -> Pixels:
    picture = _ramp((0, "#5d6f78"), (1, "#3f5058"))
    for x, y, r in zip(dice.random(70), dice.random(70), 0.01 + dice.random(70) * 0.05, strict=True):
        reach = r + 0.02  # a ring is drawn only where it is
        rows = slice(max(0, int((y - reach) * HEIGHT)), int((y + reach) * HEIGHT) + 1)
        columns = slice(max(0, int((x - reach) * WIDTH)), int((x + reach) * WIDTH) + 1)
        ring = np.abs(np.hypot((_X[rows, columns] - x) * 1.6, (_Y[rows, columns] - y) * 1.9) - r)
        picture[rows, columns] = _mixed(picture[rows, columns], "#a9bac0", np.exp(-ring * 420) * 0.55)
    return picture


LIBRARY: dict[str, Drawn] = {
    "still-water": Drawn("Still water", "canal river calm bank green water", "#244850 #bcd3d3 #467260", _still_water),
    "night-mooring": Drawn("Night mooring", "dark lamps evening harbour water", "#121f2d", _night),
    "mist": Drawn("Mist on the cut", "fog grey quiet morning pale", "#cdd5d1", _mist),
    "dawn": Drawn("Dawn", "sunrise orange warm water sky", "#f4c49a #895954", _dawn),
    "meadow": Drawn("Meadow", "grass green field summer sky", "#6b914b #d8e7eb", _meadow),
    "slate": Drawn("Slate", "stone grey dark rough", "#4d5259", _slate),
    "brick-wall": Drawn("Brick wall", "red wall masonry warehouse", "#884b36 #c4b4a2", _bricks),
    "planks": Drawn("Planks", "wood brown deck", "#8c663e", lambda dice: _boards(dice, "#a67c4e", "#6b4a2a", 14)),
    "painted-boards": Drawn(
        "Painted boards", "wood blue paint shed", "#487085", lambda dice: _boards(dice, "#5d8aa0", "#33566a", 9)
    ),
    "sailcloth": Drawn("Sailcloth", "canvas cloth cream pale linen", "#e9dfca", _sailcloth),
    "rust": Drawn("Old paint", "rust metal teal flaking", "#355658", _rust),
    "autumn-bank": Drawn("Autumn bank", "leaves orange trees river", "#5c5136 #ecdec3 #cc9348 #b76930", _autumn),
    "rain": Drawn("Rain on water", "rings grey drops weather", "#4e6068", _rain),
}  # fmt: skip


def _refuse_unknown(name: str) -> None:
    if name not in LIBRARY:
        raise StudyError(f"The library has no picture “{name[:40]}”. Choose one of {', '.join(LIBRARY)}.")


@lru_cache(maxsize=4)
def draw(name: str) -> bytes:
    """Return a picture of the library as PNG, always the same. Raises: StudyError: there is none of that name."""
    _refuse_unknown(name)
    pixels = LIBRARY[name].draw(np.random.default_rng(sum(name.encode())))
    out = io.BytesIO()
    Image.fromarray((np.clip(pixels, 0, 1) * 255).round().astype(np.uint8)).save(out, "PNG", compress_level=1)
    return out.getvalue()


def small_picture(name: str) -> bytes:
    """Return a picture of the library as WebP, as large as a list shows it. Raises: StudyError, as `draw`.

    They ship ready: drawing all of them takes seconds. `small(draw(name))` makes one anew.
    """
    _refuse_unknown(name)
    return (_SMALL / f"{name}.webp").read_bytes()


def colours_in(name: str) -> tuple[Colour, ...]:
    """Return the main colours of a picture of the library, the largest share first."""
    return tuple(read_colour(one) for one in LIBRARY[name].colours.split())


def search(words: str = "", colours: Iterable[Colour] = ()) -> list[str]:
    """Return the names of the pictures that hold all the words, those nearest to the colours first.

    With colours only those that hold one within ΔE OK 0.12 of any.
    """
    asked = words.lower().split()
    names = [n for n, one in LIBRARY.items() if all(w in f"{one.label} {one.words}".lower() for w in asked)]
    wanted = [oklab_from_srgb(np.array(colour.rgb)) for colour in colours]
    if not wanted:
        return names

    def away(name: str) -> float:
        own = [oklab_from_srgb(np.array(colour.rgb)) for colour in colours_in(name)]
        return min(float(np.linalg.norm(mine - theirs)) for mine in own for theirs in wanted)

    far = {name: away(name) for name in names}
    return sorted((name for name in names if far[name] <= _NEAR), key=lambda name: far[name])
