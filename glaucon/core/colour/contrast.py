"""WCAG 2.2 relative luminance and contrast ratio, and source-over compositing, vectorised."""

from __future__ import annotations

import math

import numpy as np

from glaucon.core.colour.oklab import Floats
from glaucon.core.colour.value import Colour

_WEIGHTS = np.array([0.2126, 0.7152, 0.0722])


def relative_luminance(srgb: Floats) -> Floats:
    """Return relative luminance in [0, 1] of gamma-encoded sRGB, shape (..., 3) → (...).

    Source: WCAG 2.2, definition of "relative luminance" (threshold 0.04045, as its 2021 erratum has it).
    """
    linear = np.where(srgb <= 0.04045, srgb / 12.92, ((srgb + 0.055) / 1.055) ** 2.4)
    return np.asarray(linear @ _WEIGHTS)


def ratio_of_luminances(one: Floats, other: Floats) -> Floats:
    """Return contrast ratios in [1, 21] of relative luminances."""
    lighter, darker = np.maximum(one, other), np.minimum(one, other)
    return np.asarray((lighter + 0.05) / (darker + 0.05))


def contrast_ratios(text: Floats, background: Floats) -> Floats:
    """Return contrast ratios in [1, 21] of opaque gamma-encoded sRGB, shape (..., 3) each, broadcast → (...)."""
    return ratio_of_luminances(relative_luminance(text), relative_luminance(background))


def contrast_ratio(text: Colour, background: Colour) -> float:
    """Return the WCAG 2.2 contrast ratio of two opaque colours, in [1, 21].

    Raises: ValueError: if an alpha is below 1; composite the colour first.
    """
    if text.alpha < 1 or background.alpha < 1:
        raise ValueError("contrast is defined for opaque colours. Composite them first")
    pair = relative_luminance(np.array([text.rgb, background.rgb]))
    return float(ratio_of_luminances(pair[0], pair[1]))


def cut_ratio(ratio: float) -> float:
    """Return a ratio cut, not rounded, to two decimals, so that 4.499 never reads as 4.5."""
    return math.floor(ratio * 100 + 1e-9) / 100


def composite(top: Colour, below: Colour) -> Colour:
    """Return `top` over `below` by source-over in gamma-encoded sRGB, as browsers do.

    Source: Compositing and Blending Level 1, section 9.1.4 (simple alpha compositing).
    """
    alpha = top.alpha + below.alpha * (1 - top.alpha)
    if alpha == 0:
        return Colour(0.0, 0.0, 0.0, 0.0)
    mixed = (
        (t * top.alpha + b * below.alpha * (1 - top.alpha)) / alpha for t, b in zip(top.rgb, below.rgb, strict=True)
    )
    r, g, b = mixed
    return Colour(r, g, b, alpha)
