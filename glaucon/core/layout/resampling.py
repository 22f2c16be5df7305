"""A picture larger or smaller, as browsers draw it: bilinear, between pixels told in sixteenths, of the half-size
copies the one that is still larger than what is drawn.

That is Skia's software sampling, byte for byte (held against Chromium in `tests/browser/test_resampling.py`); drawn on
a graphics card the fractions are finer, which shows in single bytes. A copy whose size is no whole half is scaled from
the copy before it with no fractions lost, as Chromium's picture cache does.
"""

from __future__ import annotations

from math import ceil, floor, log2, sqrt

import numpy as np
from numpy.typing import NDArray

Bytes = NDArray[np.uint8]
_PARTS = 16
_STRIP = 256  # rows


class Drawable:
    """A picture's pixels, shape (rows, columns, 4), and its smaller copies, made as they are asked for."""

    def __init__(self, pixels: Bytes, most: int | None = None) -> None:
        """`most` is how many pixels along a side are kept: of a larger picture only copies that are no larger."""
        self._rows, self._columns = pixels.shape[:2]
        halves, finer, level = _premultiplied(pixels), None, 0
        while most is not None and max(halves.shape[:2]) > most:
            halves, finer, level = halved(halves), halves, level + 1
        self._first = level
        self._halves = {level: halves}
        self._copies = {level: halves if finer is None else self._scaled(finer, level)}

    @property
    def whole(self) -> Bytes:
        """Return all pixels as they are, those of the largest copy there is."""
        return _unmultiplied(self._copies[self._first])

    def drawn(self, shown: tuple[float, float], left: float, top: float, width: int, height: int) -> Bytes:
        """Return what shows at some whole pixels, shape (height, width, 4), where it is drawn `shown` pixels large.

        `left` and `top` count from its own corner. Colours are as they are seen on black and white, not premultiplied.
        """
        across_by, down_by = self._columns / max(shown[0], 1e-6), self._rows / max(shown[1], 1e-6)
        pixels = self._copy(max(0, _level(across_by, down_by)))
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
        level = min(max(level, self._first), ceil(log2(max(self._rows, self._columns, 2))))
        if level not in self._copies:
            rows, columns = self._size(level)
            finer = _level(self._columns / columns, self._rows / rows)
            self._copies[level] = self._scaled(self._half(finer), level)
        return self._copies[level]

    def _size(self, level: int) -> tuple[int, int]:
        return ceil(self._rows / 2**level), ceil(self._columns / 2**level)

    def _scaled(self, finer: Bytes, level: int) -> Bytes:
        size = self._size(level)
        return finer if finer.shape[:2] == size else _finely(finer, *size)

    def _half(self, level: int) -> Bytes:
        level = max(level, self._first)
        if level not in self._halves:
            self._halves[level] = halved(self._half(level - 1))
        return self._halves[level]


def _level(across: float, down: float) -> int:
    """Return how often a picture that is drawn so much smaller is halved first."""
    return floor(log2(max(sqrt(max(across, 1e-6) * max(down, 1e-6)), 1e-6)) + 1e-9)


def _finely(pixels: Bytes, rows: int, columns: int) -> Bytes:
    """Return pixels at another size, bilinear and rounded."""
    found = np.empty((rows, columns, pixels.shape[2]), dtype=np.uint8)
    (down, down_parts), (across, across_parts) = _exactly(pixels.shape[0], rows), _exactly(pixels.shape[1], columns)
    for start in range(0, rows, _STRIP):
        strip = slice(start, start + _STRIP)
        weights = down_parts[strip, None, None]
        lines = pixels[down[0, strip]] * (1 - weights) + pixels[down[1, strip]] * weights
        weights = across_parts[None, :, None]
        found[strip] = lines[:, across[0]] * (1 - weights) + lines[:, across[1]] * weights + np.float32(0.5)
    return found


def _exactly(there: int, count: int) -> tuple[NDArray[np.int64], NDArray[np.float32]]:
    at = (np.arange(count) + 0.5) * (there / count) - 0.5
    whole = np.floor(at)
    both = np.stack([whole, whole + 1]).astype(np.int64)
    return np.clip(both, 0, there - 1), (at - whole).astype(np.float32)


def halved(pixels: Bytes) -> Bytes:
    """Return pixels, shape (rows, columns, n), at half the size: of two each, or of three where a side is odd."""
    down, across = (_taps(side) for side in pixels.shape[:2])
    rows, columns = (max(1, side // 2) for side in pixels.shape[:2])
    found = np.empty((rows, columns, pixels.shape[2]), dtype=np.uint8)
    shift = (sum(down) * sum(across)).bit_length() - 1
    for start in range(0, rows, _STRIP):  # a large picture is not there twice in larger numbers
        end = min(rows, start + _STRIP)
        lines = np.zeros((end - start, *pixels.shape[1:]), dtype=np.uint16)
        for k, weight in enumerate(down):
            lines += weight * pixels[2 * start + k : 2 * end + k - 1 : 2].astype(np.uint16)
        mixed = np.zeros((end - start, columns, pixels.shape[2]), dtype=np.uint16)
        for k, weight in enumerate(across):
            mixed += weight * lines[:, k : 2 * columns + k - 1 : 2]
        found[start:end] = mixed >> shift
    return found


def _taps(side: int) -> tuple[int, ...]:
    return (1,) if side == 1 else (1, 2, 1) if side % 2 else (1, 1)


def _between(there: int, shown: float, first: float, count: int) -> tuple[NDArray[np.int64], NDArray[np.uint16]]:
    """Return the two pixels that each of some drawn ones lies between, shape (2, count), and the second one's part."""
    at = (first + np.arange(count) + 0.5) * (there / max(shown, 1e-6)) - 0.5
    whole = np.floor(at)
    parts = np.floor((at - whole) * _PARTS).astype(np.uint16)
    both = np.stack([whole, whole + 1]).astype(np.int64)
    return np.clip(both, 0, there - 1), parts


def _premultiplied(pixels: Bytes) -> Bytes:
    if int(pixels[..., 3].min(initial=255)) == 255:
        return pixels
    found = pixels.copy()
    for start in range(0, len(pixels), _STRIP):
        strip = pixels[start : start + _STRIP]
        product = strip[..., :3] * strip[..., 3:].astype(np.uint16) + 128
        found[start : start + _STRIP, :, :3] = (product + (product >> 8)) >> 8
    return found


def _unmultiplied(pixels: Bytes) -> Bytes:
    alpha = pixels[..., 3:].astype(np.float64)
    if int(pixels[..., 3].min(initial=255)) == 255:
        return pixels
    colours = np.rint(pixels[..., :3] * 255.0 / np.maximum(alpha, 1)).clip(0, 255)
    return np.concatenate([colours, alpha], axis=-1).astype(np.uint8)
