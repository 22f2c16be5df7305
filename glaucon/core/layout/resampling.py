"""A picture larger or smaller, as browsers draw it: bilinear, between pixels told in sixteenths, of the half-size
copies the one that is still larger than what is drawn.

That is Skia's software sampling, byte for byte (held against Chromium in `tests/browser/test_resampling.py`); drawn on
a graphics card the fractions are finer, which shows in single bytes.
"""

from __future__ import annotations

from math import floor, log2, sqrt

import numpy as np
from numpy.typing import NDArray

Bytes = NDArray[np.uint8]
_PARTS = 16


class Drawable:
    """A picture's pixels, shape (rows, columns, 4), and its copies of half the size, made as they are asked for."""

    def __init__(self, pixels: Bytes) -> None:
        self._copies = [_premultiplied(pixels)]

    @property
    def whole(self) -> Bytes:
        """Return all pixels as they are."""
        return _unmultiplied(self._copies[0])

    @property
    def size(self) -> tuple[int, int]:
        """Return the width and height of the pixels that are there."""
        rows, columns, _ = self._copies[0].shape
        return columns, rows

    def drawn(self, shown: tuple[float, float], left: float, top: float, width: int, height: int) -> Bytes:
        """Return what shows at some whole pixels, shape (height, width, 4), where it is drawn `shown` pixels large.

        `left` and `top` count from its own corner. Colours are as they are seen on black and white, not premultiplied.
        """
        columns, rows = self.size
        smaller = sqrt(max(columns / max(shown[0], 1e-6), 1e-6) * max(rows / max(shown[1], 1e-6), 1e-6))
        pixels = self._copy(max(0, floor(log2(smaller) + 1e-9)))
        down, down_parts = _between(pixels.shape[0], shown[1], top, height)
        across, across_parts = _between(pixels.shape[1], shown[0], left, width)
        first, last = int(across.min()), int(across.max())
        near = pixels[:, first : last + 1].astype(np.uint16)
        weights = down_parts[:, None, None]
        mixed = near[down[0]] * (_PARTS - weights) + near[down[1]] * weights
        weights = across_parts[None, :, None]
        mixed = mixed[:, across[0] - first] * (_PARTS - weights) + mixed[:, across[1] - first] * weights
        return _unmultiplied((mixed >> 8).astype(np.uint8))

    def _copy(self, level: int) -> Bytes:
        while len(self._copies) <= level and min(self._copies[-1].shape[:2]) > 1:
            self._copies.append(halved(self._copies[-1]))
        return self._copies[min(level, len(self._copies) - 1)]


def halved(pixels: Bytes) -> Bytes:
    """Return pixels, shape (rows, columns, n), at half the size, four by four mixed."""
    rows, columns = (max(1, side // 2) * 2 for side in pixels.shape[:2])
    whole = pixels[:rows, :columns].astype(np.uint16)
    return ((whole[0::2, 0::2] + whole[1::2, 0::2] + whole[0::2, 1::2] + whole[1::2, 1::2]) >> 2).astype(np.uint8)


def _between(there: int, shown: float, first: float, count: int) -> tuple[NDArray[np.int64], NDArray[np.uint16]]:
    """Return the two pixels that each of some drawn ones lies between, shape (2, count), and the second one's part."""
    at = (first + np.arange(count) + 0.5) * (there / max(shown, 1e-6)) - 0.5
    whole = np.floor(at)
    parts = np.floor((at - whole) * _PARTS).astype(np.uint16)
    both = np.stack([whole, whole + 1]).astype(np.int64)
    return np.clip(both, 0, there - 1), parts


def _premultiplied(pixels: Bytes) -> Bytes:
    alpha = pixels[..., 3:].astype(np.uint16)
    if int(alpha.min(initial=255)) == 255:
        return pixels
    product = pixels[..., :3] * alpha + 128
    return np.concatenate([(product + (product >> 8)) >> 8, alpha], axis=-1).astype(np.uint8)


def _unmultiplied(pixels: Bytes) -> Bytes:
    alpha = pixels[..., 3:].astype(np.float64)
    if int(pixels[..., 3].min(initial=255)) == 255:
        return pixels
    colours = np.rint(pixels[..., :3] * 255.0 / np.maximum(alpha, 1)).clip(0, 255)
    return np.concatenate([colours, alpha], axis=-1).astype(np.uint8)
