"""Into what a screen can show: sRGB's gamut by less chroma in OKLCH, and channels of eight bits, vectorised."""

from __future__ import annotations

import numpy as np

from glaucon.core.colour.oklab import Floats, oklab_from_oklch, srgb_from_oklab

# rounding alone; near black OKLab magnifies what is further from sRGB than this
_TOLERANCE = 1e-9


def eight_bit(srgb: Floats) -> Floats:
    """Return sRGB in [0, 1] rounded half up to what 8-bit channels hold, as browsers paint it."""
    return np.asarray(np.floor(srgb * 255 + 0.5) / 255)


def levels(srgb: Floats) -> Floats:
    """Return sRGB in [0, 1] as whole numbers of 0..255, rounded half up."""
    return np.asarray(np.floor(srgb * 255 + 0.5))


def most_chroma(lch: Floats, tolerance: float = _TOLERANCE, steps: int = 30) -> Floats:
    """Return, for OKLCH of shape (n, 3), the most chroma that sRGB holds at each lightness and hue, at most its own.

    Source: CSS Color 4, section 13.2 (chroma reduction by bisection, without the local clip).
    """
    within, beyond = np.zeros(len(lch)), lch[:, 1].copy()
    held = _holds(lch, tolerance)
    for _ in range(steps):
        middle = (within + beyond) / 2
        fits = _holds(np.stack([lch[:, 0], middle, lch[:, 2]], axis=1), tolerance)
        within, beyond = np.where(fits, middle, within), np.where(fits, beyond, middle)
    return np.where(held, lch[:, 1], within)


def into_srgb(lch: Floats) -> Floats:
    """Return sRGB in [0, 1] of OKLCH, shape (n, 3), with less chroma where sRGB does not hold it."""
    fitted = np.stack([lch[:, 0], most_chroma(lch), lch[:, 2]], axis=1)
    return np.clip(srgb_from_oklab(oklab_from_oklch(fitted)), 0, 1)


def _holds(lch: Floats, tolerance: float) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    srgb = srgb_from_oklab(oklab_from_oklch(lch))
    return np.asarray(((srgb >= -tolerance) & (srgb <= 1 + tolerance)).all(axis=1))
