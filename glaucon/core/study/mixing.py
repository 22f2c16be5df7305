"""Colours for the text, headings and links of a coat that only gives a background.

It follows the site in the kind of contrast it has, not in the least that can be read: text is the lightest or the
darkest colour the site has where that is comfortable, quiet text stands back from it, a link keeps its hue where it can
be read and told from text.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

import numpy as np

from glaucon.core.colour.contrast import contrast_ratios
from glaucon.core.colour.gamut import into_srgb
from glaucon.core.colour.oklab import delta_e_ok, oklab_from_srgb, oklch_from_oklab
from glaucon.core.colour.value import Colour
from glaucon.core.reading.candidates import candidates_of

COMFORT = 7.0  # contrast of text and headings
_QUIET = 0.6  # of the logarithm of text's contrast
_APART, _HUE, _CHROMA = (0.1, 15.0, 0.5)  # of a link: ΔE OK from text, turn of hue in degrees, share of chroma
_NEAR_WHITE, _NEAR_BLACK, _TINT = 0.97, 0.2, 0.02  # OKLCH lightness and chroma
_STEPS = 64


def ratio(one: Colour, other: Colour) -> float:
    """Return the contrast of two colours, their alpha aside."""
    return float(contrast_ratios(np.array(one.rgb), np.array(other.rgb)))


def mixed_text(ground: Colour, own: Sequence[Colour]) -> Colour:
    """Return text for a background: the site's lightest or darkest of `own` if comfortable, else near white or black.

    Where neither is comfortable it is white or black, whichever has more contrast.
    """
    white, black = Colour(1.0, 1.0, 1.0), Colour(0.0, 0.0, 0.0)
    is_dark = ratio(white, ground) >= ratio(black, ground)
    best = max(own, key=lambda one: ratio(one, ground) if (ratio(one, white) < ratio(one, black)) == is_dark else 0.0)
    tinted = _tinted(ground, _NEAR_WHITE if is_dark else _NEAR_BLACK)
    return next((one for one in (best, tinted) if ratio(one, ground) >= COMFORT), white if is_dark else black)


def mixed_quiet(ground: Colour, text: Colour, aim: float) -> Colour:
    """Return quiet text for a background: between it and the text, at 0.6 of the text's contrast in logs."""
    wanted = max(aim, ratio(text, ground) ** _QUIET)
    ends = oklab_from_srgb(np.array([ground.rgb, text.rgb]))
    shares = np.linspace(0, 1, _STEPS + 1)[:, None]
    lch = oklch_from_oklab(ends[0] + shares * (ends[1] - ends[0]))
    for rgb in into_srgb(lch):
        one = Colour(*map(float, np.clip(rgb, 0, 1))).rounded()
        if ratio(one, ground) >= wanted:
            return one
    return text


def mixed_link(ground: Colour, text: Colour, link: Colour, aim: float) -> Colour:
    """Return a link for a background: of its own hue where that is readable and told from text, else as text is."""
    own = oklch_from_oklab(oklab_from_srgb(np.array([link.rgb])))[0]
    found = nearest_at(link, ground, aim)
    lch = oklch_from_oklab(oklab_from_srgb(np.array([found.rgb])))[0]
    turned = abs((lch[2] - own[2] + 180) % 360 - 180)
    keeps = lch[1] >= _CHROMA * own[1] and turned <= _HUE and ratio(found, ground) >= aim
    return found if keeps and float(delta_e_ok(np.array(found.rgb), np.array(text.rgb))) >= _APART else text


@lru_cache(maxsize=4096)
def nearest_at(colour: Colour, ground: Colour, least: float) -> Colour:
    """Return a colour, or the nearest that has so much contrast with a background; the most it can where none has."""
    own, below = colour.rounded().rgb, np.array(ground.rounded().rgb)
    if contrast_ratios(np.array(own), below) >= least:
        return colour
    some = candidates_of(own)
    ratios = contrast_ratios(some.colours, below)
    fits = ratios >= least
    place = int(np.argmin(np.where(fits, some.delta_e_ok, np.inf))) if fits.any() else int(np.argmax(ratios))
    return Colour(*map(float, some.colours[place]))


def _tinted(ground: Colour, lightness: float) -> Colour:
    lch = oklch_from_oklab(oklab_from_srgb(np.array([ground.rgb])))[0]
    rgb = into_srgb(np.array([[lightness, min(_TINT, float(lch[1])), lch[2]]]))[0]
    return Colour(*map(float, np.clip(rgb, 0, 1))).rounded()
