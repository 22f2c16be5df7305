"""Stacks of layers to colours, many rows at once (Compositing and Blending Level 1; Filter Effects Level 1).

Colours are premultiplied while they are stacked. A group gathers on a clear ground of its own and is filtered, faded
and blended when all of it is there: that is what `opacity`, `filter` and `mix-blend-mode` do.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from glaucon.core.cascade.properties.effects import Filter
from glaucon.core.colour.oklab import Floats
from glaucon.core.survey.model import PaintGroup

# A step is the blend mode of a layer, or the start of a group.
Step = str | PaintGroup


def stack_up(steps: Sequence[Step], paints: Floats) -> Floats:
    """Return the colours of stacks of the same build over white, shape (rows, 3).

    `paints` has shape (rows, layers, 4), bottom first: gamma-encoded sRGB and alpha of each step that is a layer.
    """
    rows = paints.shape[0]
    held: list[tuple[Floats, Floats, PaintGroup | None]] = [(np.zeros((rows, 3)), np.zeros((rows, 1)), None)]
    layer = 0
    for step in steps:
        if isinstance(step, PaintGroup):
            held.append((np.zeros((rows, 3)), np.zeros((rows, 1)), step))
            continue
        colour, alpha, group = held[-1]
        painted = paints[:, layer]
        layer += 1
        held[-1] = (*_over(painted[:, :3], painted[:, 3:], colour, alpha, step), group)
    while len(held) > 1:
        colour, alpha, group = held.pop()
        assert group is not None
        flat, alpha = _filtered(_flat(colour, alpha), alpha, group.filters)
        below, below_alpha, outer = held[-1]
        held[-1] = (*_over(flat, alpha * group.opacity, below, below_alpha, group.blend), outer)
    colour, alpha, _ = held[0]
    return np.clip(colour + (1 - alpha), 0.0, 1.0)


def _flat(colour: Floats, alpha: Floats) -> Floats:
    """Return colours without their alpha multiplied in."""
    return colour / np.where(alpha > 0, alpha, 1.0)


def _over(source: Floats, alpha: Floats, below: Floats, below_alpha: Floats, mode: str) -> tuple[Floats, Floats]:
    """Return a source over what lies below, premultiplied, and the alpha of both."""
    if mode != "normal":
        blended = blend(mode, _flat(below, below_alpha), source)
        source = (1 - below_alpha) * source + below_alpha * blended
    return source * alpha + below * (1 - alpha), alpha + below_alpha * (1 - alpha)


def blend(mode: str, below: Floats, source: Floats) -> Floats:
    """Return the blend of two colours, without alpha (Compositing and Blending Level 1, section 10)."""
    if mode in _SEPARABLE:
        return np.asarray(_SEPARABLE[mode](below, source))
    light = _luminosity
    if mode == "hue":
        return _with_luminosity(_with_saturation(source, _saturation(below)), light(below))
    if mode == "saturation":
        return _with_luminosity(_with_saturation(below, _saturation(source)), light(below))
    if mode == "color":
        return _with_luminosity(source, light(below))
    return _with_luminosity(below, light(source)) if mode == "luminosity" else source


def _hard_light(below: Floats, source: Floats) -> Floats:
    return np.where(source <= 0.5, below * 2 * source, below + (2 * source - 1) - below * (2 * source - 1))


def _soft_light(below: Floats, source: Floats) -> Floats:
    curve = np.where(below <= 0.25, ((16 * below - 12) * below + 4) * below, np.sqrt(np.maximum(below, 0)))
    return np.where(
        source <= 0.5, below - (1 - 2 * source) * below * (1 - below), below + (2 * source - 1) * (curve - below)
    )


def _dodge(below: Floats, source: Floats) -> Floats:
    rest = np.where(source < 1, 1 - source, 1.0)
    return np.where(below == 0, 0.0, np.where(source >= 1, 1.0, np.minimum(1.0, below / rest)))


def _burn(below: Floats, source: Floats) -> Floats:
    some = np.where(source > 0, source, 1.0)
    return np.where(below >= 1, 1.0, np.where(source <= 0, 0.0, 1 - np.minimum(1.0, (1 - below) / some)))


_SEPARABLE: dict[str, Callable[[Floats, Floats], Floats]] = {
    "multiply": lambda b, s: b * s,
    "screen": lambda b, s: b + s - b * s,
    "overlay": lambda b, s: _hard_light(s, b),
    "darken": np.minimum,
    "lighten": np.maximum,
    "color-dodge": _dodge,
    "color-burn": _burn,
    "hard-light": _hard_light,
    "soft-light": _soft_light,
    "difference": lambda b, s: np.abs(b - s),
    "exclusion": lambda b, s: b + s - 2 * b * s,
}
_LIGHT = np.array([0.3, 0.59, 0.11])


def _luminosity(colour: Floats) -> Floats:
    return np.asarray((colour @ _LIGHT)[..., None])


def _saturation(colour: Floats) -> Floats:
    return np.asarray(colour.max(axis=-1, keepdims=True) - colour.min(axis=-1, keepdims=True))


def _with_luminosity(colour: Floats, light: Floats) -> Floats:
    moved = colour + (light - _luminosity(colour))
    low, high = moved.min(axis=-1, keepdims=True), moved.max(axis=-1, keepdims=True)
    moved = np.where(low < 0, light + (moved - light) * light / np.where(light - low == 0, 1, light - low), moved)
    return np.where(
        high > 1, light + (moved - light) * (1 - light) / np.where(high - light == 0, 1, high - light), moved
    )


def _with_saturation(colour: Floats, saturation: Floats) -> Floats:
    low = colour.min(axis=-1, keepdims=True)
    spread = colour.max(axis=-1, keepdims=True) - low
    return np.where(spread > 0, (colour - low) * saturation / np.where(spread > 0, spread, 1.0), 0.0)


def _filtered(colour: Floats, alpha: Floats, filters: Sequence[Filter]) -> tuple[Floats, Floats]:
    for one in filters:
        if one.name == "opacity":
            alpha = alpha * one.amount
        elif one.name == "brightness":
            colour = colour * one.amount
        elif one.name == "contrast":
            colour = (colour - 0.5) * one.amount + 0.5
        elif one.name == "invert":
            colour = colour * (1 - 2 * one.amount) + one.amount
        else:
            colour = colour @ _matrix(one).T
        colour = np.clip(colour, 0.0, 1.0)
    return colour, alpha


_GREY = np.array([[0.2126, 0.7152, 0.0722]] * 3)
_SATURATED = np.array([[0.213, 0.715, 0.072]] * 3)
_SEPIA = np.array([[0.393, 0.769, 0.189], [0.349, 0.686, 0.168], [0.272, 0.534, 0.131]])
_HUE_SINE = np.array([[-0.213, -0.715, 0.928], [0.143, 0.140, -0.283], [-0.787, 0.715, 0.072]])


def _matrix(one: Filter) -> Floats:
    """Return the colour matrix of a filter function (Filter Effects Level 1, section 8)."""
    unchanged = np.eye(3)
    if one.name == "grayscale":
        return np.asarray(_GREY * one.amount + unchanged * (1 - one.amount))
    if one.name == "sepia":
        return np.asarray(_SEPIA * one.amount + unchanged * (1 - one.amount))
    if one.name == "saturate":
        return np.asarray(unchanged * one.amount + _SATURATED * (1 - one.amount))
    angle = np.radians(one.amount)  # hue-rotate
    return np.asarray(_SATURATED + np.cos(angle) * (unchanged - _SATURATED) + np.sin(angle) * _HUE_SINE)
