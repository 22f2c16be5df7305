"""The colours a role may take when it is mended: for each luminance the one that lies nearest to where it was."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from itertools import product

import numpy as np
from numpy.typing import NDArray

from glaucon.core.colour.contrast import relative_luminance
from glaucon.core.colour.gamut import eight_bit, most_chroma
from glaucon.core.colour.oklab import (
    Floats,
    delta_e_ok,
    oklab_from_oklch,
    oklab_from_srgb,
    oklch_from_oklab,
    srgb_from_oklab,
)
from glaucon.core.colour.value import Colour
from glaucon.core.reading.counterparts import Counterparts
from glaucon.core.reading.nearest import GREY_CHROMA, HUE_TOLERANCE_DEGREES, Nearest

_LIGHTNESSES = 321
_NEUTRAL_CHROMA = 1e-4
_STEPS = 16
_CORNERS = np.array(list(product((0, 1), repeat=3)))


@dataclass(frozen=True, slots=True)
class Candidates:
    """8-bit colours by rising luminance, shape (n, 3) in [0, 1], each with its ΔE OK from the colour asked for."""

    colours: Floats
    luminance: Floats
    delta_e_ok: Floats

    def __len__(self) -> int:
        return len(self.luminance)

    def only(self, places: NDArray[np.int64]) -> Candidates:
        """Return some of the candidates, in the order given."""
        return Candidates(self.colours[places], self.luminance[places], self.delta_e_ok[places])


@lru_cache(maxsize=512)
def candidates_of(rgb: tuple[float, float, float]) -> Candidates:
    """Return the candidates of a colour (sRGB in [0, 1]): itself, and for each luminance its nearest of the same hue.

    The hue is kept within 2° (any hue for greys); colours that another one beats in both luminance and nearness
    are left out, so the nearness falls off to both sides.
    """
    own = np.array([rgb])
    lab = oklab_from_srgb(own)[0]
    lightness, chroma, hue = oklch_from_oklab(lab).tolist()
    line = _along(lightness, chroma, hue)
    colours = _rounded(line, hue if chroma >= GREY_CHROMA else None)
    colours = np.concatenate([eight_bit(own), colours])
    apart = delta_e_ok(colours, own)
    apart[0] = 0.0
    light = relative_luminance(colours)
    keep = np.concatenate([_front(light, apart, light >= light[0]), _front(-light, apart, light <= light[0])])
    keep = np.unique(keep)
    keep = keep[np.argsort(light[keep], kind="stable")]
    return Candidates(colours[keep], light[keep], apart[keep])


def nearest_along(current: Colour, counterparts: Counterparts) -> Nearest:
    """Return the nearest of a colour's candidates that reads against every counterpart.

    Quick, where `nearest_readable` is exact: darker and lighter ones are looked at in steps, and between the last that
    fails and the first that reads by halves. No other hue is tried, and what it does not find may be there.
    """
    some, counterparts = candidates_of(current.rounded().rgb), counterparts.distinct()
    own = int(np.argmin(some.delta_e_ok))
    if bool(counterparts.passes(some.colours[own : own + 1])[0]):
        return Nearest(current.rounded().with_alpha(1.0), 0.0)
    ends = [end for end in (_first_passing(some, counterparts, own, last) for last in (0, len(some) - 1)) if end >= 0]
    if not ends:
        return Nearest(None, None)
    best = min(ends, key=lambda place: float(some.delta_e_ok[place]))
    red, green, blue = (float(v) for v in some.colours[best])
    return Nearest(Colour(red, green, blue), float(some.delta_e_ok[best]))


def _first_passing(some: Candidates, counterparts: Counterparts, own: int, last: int) -> int:
    """Return the place of the first candidate that reads on the way from one place to another; -1: there is none."""
    steps = np.unique(np.linspace(own, last, _STEPS).round().astype(int))
    steps = steps if last >= own else steps[::-1]
    passing = counterparts.passes(some.colours[steps])
    if not passing.any():
        return -1
    first = int(np.argmax(passing))
    reads, fails = int(steps[first]), int(steps[first - 1]) if first else own
    while abs(reads - fails) > 1:
        middle = (reads + fails) // 2
        reads, fails = (middle, fails) if counterparts.passes(some.colours[[middle]])[0] else (reads, middle)
    return reads


def with_colours(candidates: Candidates, own: Floats, colours: Floats) -> Candidates:
    """Return candidates of a colour with others added, shape (n, 3), in the order of their luminance."""
    rounded = eight_bit(colours)
    every = np.concatenate([candidates.colours, rounded])
    light = np.concatenate([candidates.luminance, relative_luminance(rounded)])
    apart = np.concatenate([candidates.delta_e_ok, delta_e_ok(rounded, own[None])])
    return Candidates(every, light, apart).only(np.argsort(light, kind="stable"))


def _along(lightness: float, chroma: float, hue: float) -> Floats:
    """Return OKLab from black to white at a hue, as colourful as the colour where sRGB holds it."""
    levels = np.linspace(0.0, 1.0, _LIGHTNESSES)
    full = np.stack([levels, np.full(_LIGHTNESSES, chroma), np.full(_LIGHTNESSES, hue)], axis=1)
    within = most_chroma(full, tolerance=1e-6, steps=14)
    rows = [np.stack([levels, within * share, np.full(_LIGHTNESSES, hue)], axis=1) for share in (1.0, 0.94, 0.85)]
    return np.asarray(oklab_from_oklch(np.concatenate(rows)))


def _rounded(lab: Floats, hue: float | None) -> Floats:
    """Return the 8-bit colours around some OKLab ones that keep a hue."""
    floor = np.floor(np.clip(srgb_from_oklab(lab), 0, 1) * 255)
    near = (floor[:, None, :] + _CORNERS).astype(np.int64).reshape(-1, 3)
    # a colour as one number: sorting those is much quicker than sorting rows of three
    packed = np.unique(near[:, 0] << 20 | near[:, 1] << 10 | near[:, 2])
    levels = np.stack([packed >> 20, packed >> 10 & 1023, packed & 1023], axis=1)
    colours = levels[(levels <= 255).all(axis=1)] / 255
    if hue is None:
        return np.asarray(colours)
    lch = oklch_from_oklab(oklab_from_srgb(colours))
    turned = np.abs((lch[:, 2] - hue + 180) % 360 - 180)
    return np.asarray(colours[(turned <= HUE_TOLERANCE_DEGREES) | (lch[:, 1] < _NEUTRAL_CHROMA)])


def _front(rising: Floats, apart: Floats, side: NDArray[np.bool_]) -> NDArray[np.int64]:
    """Return the colours of one side that none beats: nothing nearer goes as far."""
    ours = np.nonzero(side)[0]
    order = ours[np.lexsort((apart[ours], -rising[ours]))]
    best = np.minimum.accumulate(apart[order])
    first = np.ones(len(order), dtype=bool)
    first[1:] = apart[order][1:] < best[:-1]
    return np.asarray(order[first])
