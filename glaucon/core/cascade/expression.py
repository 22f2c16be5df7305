"""Colours as expressions over found colours, so that a palette edit is read without a new survey."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass

from coloraide import Color

from glaucon.core.cascade.calculation import Calculation, evaluate_calculation
from glaucon.core.colour.value import Colour


@dataclass(frozen=True, slots=True)
class Literal:
    """A colour that no file of the site writes: a browser default, or one computed from numbers."""

    colour: Colour


@dataclass(frozen=True, slots=True)
class Found:
    """A reference to a colour token, by its number in the site's token table.

    `at` is how deep in the regions around a text it is said (0: the page, 1: the outermost section, and so on), from
    `INHERITED` up for the colour of a text, which what lies deeper may say again, from `BESIDE` up for what a text
    lies over without lying in it, so many depths for each chain of regions that it lies over.
    """

    token: int
    at: int = 0


@dataclass(frozen=True, slots=True)
class Bare:
    """The background of a region that no rule gives one: `own`, or clear, unless a study gives the region one."""

    at: int
    own: Expression | None = None


@dataclass(frozen=True, slots=True)
class Current:
    """`currentColor`, until the element it stands on is known."""


@dataclass(frozen=True, slots=True)
class LightDark:
    """`light-dark()`, until the element's used colour scheme is known."""

    light: Expression
    dark: Expression


@dataclass(frozen=True, slots=True)
class Mix:
    """`color-mix(in space, one share, other 1-share)`, the sum of percentages scaling alpha."""

    space: str
    one: Expression
    other: Expression
    share_of_other: float
    alpha: float
    hue: str = "shorter"


@dataclass(frozen=True, slots=True)
class Faded:
    """A colour with its alpha replaced (`rgb(from C r g b / a)`) or, with `scale`, multiplied."""

    colour: Expression
    alpha: float
    scale: bool = False


@dataclass(frozen=True, slots=True)
class Relative:
    """A relative colour, `oklch(from C l c h / a)`: channels of `space` computed from those of another colour."""

    space: str
    origin: Expression
    channels: tuple[Calculation, Calculation, Calculation]
    alpha: Calculation


@dataclass(frozen=True, slots=True)
class Unknown:
    """A colour that is valid CSS and not known here; reading it makes a verdict unsure."""

    why: str


Expression = Literal | Found | Bare | Current | LightDark | Mix | Faded | Relative | Unknown


INHERITED = 16  # more than regions ever lie within each other
BESIDE = 2 * INHERITED


def placed(expression: Expression, at: int) -> Expression:
    """Return a resolved expression with its found colours said at a depth."""
    if isinstance(expression, Found):
        return Found(expression.token, at)
    if isinstance(expression, Faded):
        return Faded(placed(expression.colour, at), expression.alpha, expression.scale)
    if isinstance(expression, Mix):
        one, other = placed(expression.one, at), placed(expression.other, at)
        return Mix(expression.space, one, other, expression.share_of_other, expression.alpha, expression.hue)
    if isinstance(expression, Relative):
        return Relative(expression.space, placed(expression.origin, at), expression.channels, expression.alpha)
    return expression


def resolve(expression: Expression, current: Expression, dark: bool) -> Expression:
    """Return the expression with `currentColor` and `light-dark()` decided."""
    if isinstance(expression, Current):
        return current
    if isinstance(expression, LightDark):
        return resolve(expression.dark if dark else expression.light, current, dark)
    if isinstance(expression, Mix):
        one = resolve(expression.one, current, dark)
        other = resolve(expression.other, current, dark)
        return Mix(expression.space, one, other, expression.share_of_other, expression.alpha, expression.hue)
    if isinstance(expression, Faded):
        return Faded(resolve(expression.colour, current, dark), expression.alpha, expression.scale)
    if isinstance(expression, Relative):
        origin = resolve(expression.origin, current, dark)
        return Relative(expression.space, origin, expression.channels, expression.alpha)
    return expression


def evaluate(expression: Expression, token_value: Callable[[Found], Colour]) -> Colour | None:
    """Return the colour of a resolved expression, or None where it is unknown."""
    if isinstance(expression, Literal):
        return expression.colour
    if isinstance(expression, Found):
        return token_value(expression)
    if isinstance(expression, Faded):
        inner = evaluate(expression.colour, token_value)
        if inner is None:
            return None
        return inner.with_alpha(inner.alpha * expression.alpha if expression.scale else expression.alpha)
    if isinstance(expression, Mix):
        return _evaluate_mix(expression, token_value)
    if isinstance(expression, Relative):
        return _evaluate_relative(expression, token_value)
    return None


# The channels of each space by the names CSS Color 5, section 4.1, gives them, with the scale CSS writes them in.
CHANNELS: dict[str, tuple[tuple[str, str, str], tuple[float, float, float]]] = {
    "srgb": (("r", "g", "b"), (255.0, 255.0, 255.0)),
    "hsl": (("h", "s", "l"), (1.0, 100.0, 100.0)),
    "hwb": (("h", "w", "b"), (1.0, 100.0, 100.0)),
    "lab": (("l", "a", "b"), (1.0, 1.0, 1.0)),
    "lch": (("l", "c", "h"), (1.0, 1.0, 1.0)),
    "oklab": (("l", "a", "b"), (1.0, 1.0, 1.0)),
    "oklch": (("l", "c", "h"), (1.0, 1.0, 1.0)),
}
_PREDEFINED = (("r", "g", "b"), (1.0, 1.0, 1.0))
_XYZ = (("x", "y", "z"), (1.0, 1.0, 1.0))


def channels_of(space: str) -> tuple[tuple[str, str, str], tuple[float, float, float]]:
    """Return a space's channel names and the scale that CSS writes them in."""
    if space.startswith("xyz"):
        return _XYZ
    return CHANNELS.get(space, _PREDEFINED)


def colour_of_channels(space: str, channels: list[float], alpha: float) -> Colour:
    """Return the sRGB colour of channels as CSS writes them, clipped as it is painted."""
    space, predefined = (space.removeprefix("color:"), space.startswith("color:"))
    scales = (1.0, 1.0, 1.0) if predefined else channels_of(space)[1]
    finite = [0.0 if math.isnan(v) else max(-1e4, min(1e4, v)) for v in channels]
    made = Color(space, [v / scale for v, scale in zip(finite, scales, strict=True)])
    r, g, b = (max(0.0, min(1.0, float(v))) for v in made.convert("srgb").coords(nans=False))
    return Colour(r, g, b, 0.0 if math.isnan(alpha) else max(0.0, min(1.0, alpha)))


def _evaluate_relative(relative: Relative, token_value: Callable[[Found], Colour]) -> Colour | None:
    origin = evaluate(relative.origin, token_value)
    if origin is None:
        return None
    space = relative.space.removeprefix("color:")
    names, scales = channels_of(space)
    if relative.space.startswith("color:"):
        scales = (1.0, 1.0, 1.0)
    coords = Color("srgb", origin.rgb).convert(space).coords(nans=False)
    known = {name: float(v) * scale for name, v, scale in zip(names, coords, scales, strict=True)}
    known["alpha"] = origin.alpha
    values = [evaluate_calculation(channel, known) for channel in relative.channels]
    return colour_of_channels(relative.space, values, evaluate_calculation(relative.alpha, known))


def _evaluate_mix(mix: Mix, token_value: Callable[[Found], Colour]) -> Colour | None:
    one, other = evaluate(mix.one, token_value), evaluate(mix.other, token_value)
    if one is None or other is None:
        return None
    # coloraide mixes premultiplied and carries missing components, as CSS Color 5, section 2, asks.
    mixed = Color.mix(
        Color("srgb", one.rgb, one.alpha),
        Color("srgb", other.rgb, other.alpha),
        mix.share_of_other,
        space=mix.space,
        hue=mix.hue,
        premultiplied=True,
        powerless=True,
    )
    alpha = mixed.alpha(nans=False) * mix.alpha
    r, g, b = mixed.convert("srgb").clip().coords(nans=False)
    return Colour(float(r), float(g), float(b), float(alpha))


def tokens_in(expression: Expression) -> Iterator[int]:
    """Yield the numbers of the found colours an expression is made of."""
    return (found.token for found in founds_in(expression))


def founds_in(expression: Expression) -> Iterator[Found]:
    """Yield the found colours an expression is made of, with the depths they are said at."""
    if isinstance(expression, Found):
        yield expression
    elif isinstance(expression, Bare) and expression.own is not None:
        yield from founds_in(expression.own)
    elif isinstance(expression, LightDark):
        yield from founds_in(expression.light)
        yield from founds_in(expression.dark)
    elif isinstance(expression, Mix):
        yield from founds_in(expression.one)
        yield from founds_in(expression.other)
    elif isinstance(expression, Faded):
        yield from founds_in(expression.colour)
    elif isinstance(expression, Relative):
        yield from founds_in(expression.origin)
