"""How one colour becomes another, in words."""

from __future__ import annotations

import numpy as np

from glaucon.core.colour.oklab import delta_e_ok, oklab_from_srgb
from glaucon.core.colour.value import Colour

_SLIGHTLY, _A_LITTLE, _MUCH = 0.03, 0.12, 0.3  # ΔE OK
_SEEN = 0.004  # of OKLab lightness: less is neither darker nor lighter


def change_in_words(before: Colour, after: Colour) -> str:
    """Return how a colour changes: "a little darker", "much lighter", "slightly different"."""
    if before.hex() == after.hex():
        return "merged with nearly alike colours"
    both = np.array([before.rgb, after.rgb])
    distance, step = float(delta_e_ok(both[0], both[1])), float(np.diff(oklab_from_srgb(both)[:, 0])[0])
    steps = (("slightly", _SLIGHTLY), ("a little", _A_LITTLE), ("", _MUCH))
    much = next((word for word, most in steps if distance < most), "much")
    way = "different" if abs(step) < _SEEN else "darker" if step < 0 else "lighter"
    return f"{much} {way}".strip()
