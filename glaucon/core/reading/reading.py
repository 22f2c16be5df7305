"""Reading: what the pairings of a survey come to, given the colours of its tokens.

Every unique pairing is computed at once. Layers are gone through from the words down to the canvas: what is
gathered so far lies over the next layer, and at the start of an opacity group all of it fades. That order
makes a group one multiplication (Compositing and Blending Level 1, sections 5.1 and 9.1.4).
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import pairwise, product

import numpy as np
from numpy.typing import NDArray

from glaucon.core.cascade.expression import Expression, evaluate
from glaucon.core.colour.contrast import cut_ratio, ratio_of_luminances, relative_luminance
from glaucon.core.colour.oklab import Floats
from glaucon.core.colour.value import Colour
from glaucon.core.survey.model import Fill, Group, Layer, Pairing, Shade, Unseen

LEVELS = {"AA": (4.5, 3.0), "AAA": (7.0, 4.5)}
_SHADE_STEPS = 8
_MAX_COMBINATIONS = 256
_OPAQUE = 1 - 1e-9

TokenValue = Callable[[int], Colour]


@dataclass(frozen=True, slots=True)
class Verdict:
    """What one pairing comes to. Colours are opaque sRGB; `ratio` is None where it cannot be known.

    `kind` is "solid", "varied" (then `darkest` and `lightest` hold the extremes and `colour` and `ratio` are
    those of the worst spot) or "unknown". `verdict` is "pass", "fail", "unsure" or "exempt".
    """

    colour: Colour | None
    kind: str
    background: Colour | None
    darkest: Colour | None
    lightest: Colour | None
    ratio: float | None
    required: float | None
    verdict: str
    why: str = ""


@dataclass(slots=True)
class _Rows:
    """One row per pairing and combination of gradient spots."""

    owner: list[int]
    text: list[Colour | None]
    steps: list[list[tuple[Colour, float]]]  # from the words down: (layer, factor after it)
    above: list[list[tuple[Colour, float]]]


def read_pairings(pairings: Sequence[Pairing], token_value: TokenValue, level: str = "AA") -> list[Verdict]:
    """Return the verdict of each pairing under the given token colours.

    Raises: ValueError: if `level` is neither AA nor AAA.
    """
    if level not in LEVELS:
        raise ValueError(f"“{level}” is no level; use AA or AAA")
    return _Reading(pairings, token_value, level).verdicts()


def seen_colours(pairings: Sequence[Pairing], token_value: TokenValue) -> tuple[NDArray[np.int64], Floats, Floats]:
    """Return, a row for each spot of each pairing, the pairing's index and the opaque sRGB of words and ground.

    Pairings whose colours cannot be known have no row. Shapes (rows,), (rows, 3), (rows, 3).
    """
    return _Reading(pairings, token_value, "AA").rows()


class _Reading:
    def __init__(self, pairings: Sequence[Pairing], token_value: TokenValue, level: str) -> None:
        self._pairings = pairings
        self._token_value = token_value
        self._level = level
        self._known: dict[Expression, Colour | None] = {}

    def verdicts(self) -> list[Verdict]:
        rows = _Rows([], [], [], [])
        reasons = [self._add_rows(number, pairing, rows) for number, pairing in enumerate(self._pairings)]
        text, ground = _composite(rows)
        text_luminance, ground_luminance = relative_luminance(text), relative_luminance(ground)
        ratios = ratio_of_luminances(text_luminance, ground_luminance) if len(rows.owner) else np.zeros(0)
        owners = np.array(rows.owner, dtype=np.int64)
        starts = np.searchsorted(owners, np.arange(len(self._pairings) + 1))
        return [
            self._verdict(
                number,
                reasons[number],
                slice(starts[number], starts[number + 1]),
                text,
                ground,
                ratios,
                ground_luminance,
            )
            for number in range(len(self._pairings))
        ]

    def rows(self) -> tuple[NDArray[np.int64], Floats, Floats]:
        rows = _Rows([], [], [], [])
        for number, pairing in enumerate(self._pairings):
            self._add_rows(number, pairing, rows)
        text, ground = _composite(rows)
        return np.array(rows.owner, dtype=np.int64), text, ground

    def _colour(self, expression: Expression) -> Colour | None:
        if expression not in self._known:
            self._known[expression] = evaluate(expression, self._token_value)
        return self._known[expression]

    def _add_rows(self, number: int, pairing: Pairing, rows: _Rows) -> str:
        """Add the rows of one pairing; return why it cannot be known, or an empty text."""
        text = self._colour(pairing.colour)
        if text is None:
            return getattr(pairing.colour, "why", "its colour is computed in a way that is not read here")
        below, why = self._steps(pairing.below)
        above, why_above = self._steps(pairing.above)
        if why or why_above:
            return why or why_above
        shaded = any(len(options) > 1 for options, _ in below + above)
        if not shaded:
            rows.owner.append(number)
            rows.text.append(text)
            rows.steps.append([(options[0], factor) for options, factor in below])
            rows.above.append([(options[0], factor) for options, factor in above])
            return ""
        both = below + above
        for combination in _combinations([options for options, _ in both]):
            chosen = [(colour, factor) for colour, (_, factor) in zip(combination, both, strict=True)]
            rows.owner.append(number)
            rows.text.append(text)
            rows.steps.append(chosen[: len(below)])
            rows.above.append(chosen[len(below) :])
        return ""

    def _steps(self, stack: tuple[Layer, ...]) -> tuple[list[tuple[list[Colour], float]], str]:
        """Return layers from the top down to the first opaque one, each with its possible colours."""
        steps: list[tuple[list[Colour], float]] = []
        covered = False
        for layer in reversed(stack):
            if isinstance(layer, Group):
                # the group's own start: everything gathered so far fades
                steps.append(([Colour(0, 0, 0, 0)], layer.opacity))
                covered = False
                continue
            if covered:
                continue
            if isinstance(layer, Unseen):
                return [], layer.why
            colours = self._layer_colours(layer)
            if colours is None:
                return [], "a colour behind it is computed in a way that is not read here"
            steps.append((colours, 1.0))
            if all(colour.alpha >= _OPAQUE for colour in colours):
                covered = True  # until the start of its group, which lets through what lies below
        return steps, ""

    def _layer_colours(self, layer: Fill | Shade) -> list[Colour] | None:
        if isinstance(layer, Fill):
            colour = self._colour(layer.colour)
            return None if colour is None else [colour]
        stops = [self._colour(stop) for stop in layer.stops]
        known = [stop for stop in stops if stop is not None]
        if len(known) != len(stops):
            return None
        return _shade_samples(known)

    def _verdict(
        self, number: int, why: str, span: slice, text: Floats, ground: Floats, ratios: Floats, luminance: Floats
    ) -> Verdict:
        pairing = self._pairings[number]
        required = None if pairing.exempt else LEVELS[self._level][1 if pairing.large else 0]
        if why:
            verdict = "exempt" if pairing.exempt else "unsure"
            own = self._colour(pairing.colour)
            return Verdict(
                own.with_alpha(1.0) if own else None, "unknown", None, None, None, None, required, verdict, why
            )
        grounds, found = ground[span], ratios[span]
        worst = int(np.argmin(found))
        ratio = float(found[worst])
        seen = _opaque(text[span][worst])
        varied = bool(np.ptp(grounds, axis=0).max() > 1e-9) if len(grounds) > 1 else False
        darkest = _opaque(grounds[int(np.argmin(luminance[span]))]) if varied else None
        lightest = _opaque(grounds[int(np.argmax(luminance[span]))]) if varied else None
        if required is None:
            verdict = "exempt"
        else:
            verdict = "pass" if ratio >= required - 1e-9 else "fail"
        return Verdict(
            seen,
            "varied" if varied else "solid",
            _opaque(grounds[worst]),
            darkest,
            lightest,
            cut_ratio(ratio),
            required,
            verdict,
        )


def _opaque(srgb: Floats) -> Colour:
    r, g, b = (float(v) for v in np.clip(srgb, 0.0, 1.0))
    return Colour(r, g, b)


def _shade_samples(stops: list[Colour]) -> list[Colour]:
    """Return colours along a gradient, mixed premultiplied in sRGB (CSS Images 3, section 3.4.2)."""
    if len(stops) == 1:
        return stops
    samples: list[Colour] = []
    for one, other in pairwise(stops):
        for step in range(_SHADE_STEPS):
            samples.append(_between(one, other, step / _SHADE_STEPS))
    samples.append(stops[-1])
    return samples


def _between(one: Colour, other: Colour, share: float) -> Colour:
    alpha = one.alpha * (1 - share) + other.alpha * share
    if alpha == 0:
        return Colour(0.0, 0.0, 0.0, 0.0)
    r, g, b = (
        (a * one.alpha * (1 - share) + c * other.alpha * share) / alpha for a, c in zip(one.rgb, other.rgb, strict=True)
    )
    return Colour(r, g, b, alpha)


def _combinations(options: list[list[Colour]]) -> list[tuple[Colour, ...]]:
    """Return combinations of spots of several gradients; with many, each keeps only its extremes."""
    count = 1
    for one in options:
        count *= len(one)
    if count > _MAX_COMBINATIONS:
        options = [_extremes(one) for one in options]
    return list(product(*options))[:4096]


def _extremes(colours: list[Colour]) -> list[Colour]:
    by_light = sorted(colours, key=lambda c: sum(c.rgb) * c.alpha)
    by_alpha = sorted(colours, key=lambda c: c.alpha)
    return list(dict.fromkeys([by_light[0], by_light[-1], by_alpha[0], by_alpha[-1]]))


def _composite(rows: _Rows) -> tuple[Floats, Floats]:
    """Return the words' and the ground's opaque sRGB of each row, shape (rows, 3) each."""
    count = len(rows.owner)
    above, below = _layer_array(rows.above), _layer_array(rows.steps)
    words = np.zeros((count, 1, 5))
    for index, colour in enumerate(rows.text):
        if colour is not None:
            words[index, 0] = (*colour.rgb, colour.alpha, 1.0)
    return _fold(np.concatenate([above, words, below], axis=1)), _fold(np.concatenate([above, below], axis=1))


def _layer_array(steps: list[list[tuple[Colour, float]]]) -> Floats:
    depth = max((len(one) for one in steps), default=0)
    array = np.zeros((len(steps), depth, 5))
    array[..., 4] = 1.0
    for index, one in enumerate(steps):
        for place, (colour, factor) in enumerate(one):
            array[index, place] = (*colour.rgb, colour.alpha, factor)
    return array


def _fold(layers: Floats) -> Floats:
    """Composite (rows, depth, r g b alpha factor) from the front to the back, then onto white."""
    colour = np.zeros((layers.shape[0], 3))
    alpha = np.zeros((layers.shape[0], 1))
    for depth in range(layers.shape[1]):
        rgb, own, factor = layers[:, depth, :3], layers[:, depth, 3:4], layers[:, depth, 4:5]
        colour = (colour + (1 - alpha) * own * rgb) * factor
        alpha = (alpha + (1 - alpha) * own) * factor
    return colour + (1 - alpha)
