"""Plain words for colours: "grey", "deep green", "pale blue"."""

from __future__ import annotations

import numpy as np

from glaucon.core.colour.oklab import oklab_from_srgb, oklch_from_oklab


def word_of(hex_: str) -> str:
    """Return a plain word for a colour, to tell like things apart by: "grey", "deep green", "pale blue"."""
    rgb = np.array([int(hex_[i : i + 2], 16) / 255 for i in (1, 3, 5)])
    lightness, chroma, hue = oklch_from_oklab(oklab_from_srgb(rgb)).tolist()
    if chroma < 0.025:
        return "white" if lightness > 0.97 else "black" if lightness < 0.15 else _shade(lightness) + "grey"
    return _shade(lightness) + _hue_word(hue, lightness, chroma)


_HUES = (
    (15, "pink"), (35.5, "red"), (75, "orange"), (110, "yellow"), (130, "lime"), (160, "green"), (200, "teal"),
    (265, "blue"), (300, "violet"), (340, "purple"), (361, "pink"),
)  # fmt: skip


def _hue_word(hue: float, lightness: float, chroma: float) -> str:
    word = next(name for limit, name in _HUES if hue < limit)
    if word in ("orange", "yellow") and chroma < 0.09:
        return "sand" if lightness > 0.7 else "brown"
    is_brown = lightness < 0.5 or (lightness < 0.56 and chroma < 0.13)
    return "brown" if word == "orange" and is_brown else word


def _shade(lightness: float) -> str:
    return "pale " if lightness > 0.88 else "deep " if lightness < 0.42 else ""
