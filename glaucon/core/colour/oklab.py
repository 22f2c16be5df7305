"""OKLab and OKLCH to and from sRGB, vectorised.

Source: CSS Color 4, section 20 (sample code), after Björn Ottosson's OKLab with the D65 matrices as
revised there. Arrays have shape (..., 3); sRGB is gamma-encoded in [0, 1]; L in [0, 1]; hue in degrees.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

# linear sRGB → XYZ D65
_RGB_TO_XYZ = np.array(
    [
        [506752 / 1228815, 87881 / 245763, 12673 / 70218],
        [87098 / 409605, 175762 / 245763, 12673 / 175545],
        [7918 / 409605, 87881 / 737289, 1001167 / 1053270],
    ]
)
_XYZ_TO_RGB = np.linalg.inv(_RGB_TO_XYZ)
# XYZ D65 → LMS, then cube-rooted LMS → OKLab
_XYZ_TO_LMS = np.array(
    [
        [0.8190224379967030, 0.3619062600528904, -0.1288737815209879],
        [0.0329836539323885, 0.9292868615863434, 0.0361446663506424],
        [0.0481771893596242, 0.2642395317527308, 0.6335478284694309],
    ]
)
LMS_TO_LAB = np.array(
    [
        [0.2104542683093140, 0.7936177747023054, -0.0040720430116193],
        [1.9779985324311684, -2.4285922420485799, 0.4505937096174110],
        [0.0259040424655478, 0.7827717124575296, -0.8086757549230774],
    ]
)
_LAB_TO_LMS = np.linalg.inv(LMS_TO_LAB)
_LMS_TO_XYZ = np.linalg.inv(_XYZ_TO_LMS)
RGB_TO_LMS = _XYZ_TO_LMS @ _RGB_TO_XYZ
_LMS_TO_RGB = _XYZ_TO_RGB @ _LMS_TO_XYZ


def linear_from_srgb(srgb: Floats) -> Floats:
    """Return linear-light channels of gamma-encoded sRGB."""
    sign = np.sign(srgb)
    size = np.abs(srgb)
    return np.where(size <= 0.04045, srgb / 12.92, sign * ((size + 0.055) / 1.055) ** 2.4)


def srgb_from_linear(linear: Floats) -> Floats:
    """Return gamma-encoded sRGB of linear-light channels."""
    sign = np.sign(linear)
    size = np.abs(linear)
    return np.where(size <= 0.0031308, linear * 12.92, sign * (1.055 * size ** (1 / 2.4) - 0.055))


def oklab_from_srgb(srgb: Floats) -> Floats:
    """Return OKLab (L, a, b) of gamma-encoded sRGB."""
    return np.asarray(np.cbrt(linear_from_srgb(srgb) @ RGB_TO_LMS.T) @ LMS_TO_LAB.T)


def srgb_from_oklab(lab: Floats) -> Floats:
    """Return gamma-encoded sRGB of OKLab; out of gamut where a channel leaves [0, 1]."""
    return srgb_from_linear(((lab @ _LAB_TO_LMS.T) ** 3) @ _LMS_TO_RGB.T)


def oklch_from_oklab(lab: Floats) -> Floats:
    """Return (L, C, hue in [0, 360)) of OKLab."""
    chroma = np.hypot(lab[..., 1], lab[..., 2])
    hue = np.degrees(np.arctan2(lab[..., 2], lab[..., 1])) % 360
    return np.stack([lab[..., 0], chroma, hue], axis=-1)


def oklab_from_oklch(lch: Floats) -> Floats:
    """Return OKLab of (L, C, hue in degrees)."""
    angle = np.radians(lch[..., 2])
    return np.stack([lch[..., 0], lch[..., 1] * np.cos(angle), lch[..., 1] * np.sin(angle)], axis=-1)


def delta_e_ok(one: Floats, other: Floats) -> Floats:
    """Return ΔE OK, the Euclidean distance in OKLab, of two sRGB arrays (CSS Color 4, section 18.2)."""
    return np.asarray(np.linalg.norm(oklab_from_srgb(one) - oklab_from_srgb(other), axis=-1))
