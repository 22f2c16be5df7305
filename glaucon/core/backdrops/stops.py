"""Other colours of a gradient's stops, so that the text over it can be read."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from glaucon.core.backdrops.marked import MARK, Marked, Text
from glaucon.core.backdrops.trying import Before, Seen
from glaucon.core.colour.oklab import delta_e_ok
from glaucon.core.colour.value import Colour, css_text, read_colour
from glaucon.core.known.site import KnownSite
from glaucon.core.reading.candidates import Candidates, candidates_of
from glaucon.core.study.backdrops import Backdrop, Gradient, OfRole, Paint, Stop
from glaucon.core.study.study import Study

_APART = 1e-3  # between the marks of two stops
_COARSE = 0.01  # ΔE OK between two colours that are tried before those between them
_BOUNDS, _COARSE_BOUNDS, _GAMMA = 256, 8, 2.2  # of luminance, evenly to the eye


@dataclass(frozen=True, slots=True)
class Stops:
    """A backdrop whose topmost gradient has other stops: which, and the texts still hard to read by page and path."""

    backdrop: Backdrop
    moved: list[int]
    hard: list[Text]


def readable_stops(seen: Seen, study: Study, backdrop: Backdrop, before: Before | None = None) -> Stops | None:
    """Return a backdrop with another colour of one stop of its topmost gradient, so that all text on it can be read.

    The stop that has to move least, along its own hue; where none alone will do, as many as have to. None: it has no
    gradient, or no other stops leave fewer texts hard to read.
    """
    place = gradient_of(backdrop)
    if place is None:
        return None
    gradient = _gradient(backdrop, place)
    marks = [css_text(Colour(0.5, 0.5, 0.5, _mark(n))) for n in range(len(gradient.stops))]
    marked = with_stops(backdrop, place, marks)
    own = [_colour(study, stop.colour) for stop in gradient.stops]
    texts = _OnStops(seen(marked), study, marked, before, own)
    best = min((texts.one_moved(n) for n in range(len(own))), key=lambda one: one.cost)
    if best.hard:
        best = min([best, *(texts.all_beyond(is_dark) for is_dark in (True, False))], key=lambda one: one.cost)
    if best.hard >= texts.hard_with(own):
        return None
    moved = [n for n, colour in enumerate(best.colours) if colour != own[n]]
    paints = [css_text(best.colours[n]) if n in moved else stop.colour for n, stop in enumerate(gradient.stops)]
    return Stops(with_stops(backdrop, place, paints), moved, texts.left_with(best.colours))


def gradient_of(backdrop: Backdrop) -> int | None:
    """Return which layer is the topmost gradient that shows."""
    shown = (n for n, layer in enumerate(backdrop.layers) if layer.gradient is not None and not layer.off)
    return max(shown, default=None)


def with_stops(backdrop: Backdrop, place: int, paints: list[Paint] | list[str]) -> Backdrop:
    """Return a backdrop with other colours of the stops of the gradient that is one of its layers."""
    gradient = _gradient(backdrop, place)
    stops = tuple(Stop(at=stop.at, colour=paint) for stop, paint in zip(gradient.stops, paints, strict=True))
    layers = list(backdrop.layers)
    layers[place] = layers[place].model_copy(update={"gradient": gradient.model_copy(update={"stops": stops})})
    return backdrop.model_copy(update={"layers": tuple(layers)})


def _gradient(backdrop: Backdrop, place: int) -> Gradient:
    gradient = backdrop.layers[place].gradient
    assert gradient is not None
    return gradient


def _mark(stop: int) -> float:
    return MARK + stop * _APART


def _colour(study: Study, paint: Paint) -> Colour:
    return study.role(paint.role).colour if isinstance(paint, OfRole) else read_colour(paint)


@dataclass(frozen=True, slots=True)
class _Tried:
    """Colours of all stops, their ΔE OK from before in all, and how many rows are hard to read with them."""

    colours: list[Colour]
    delta_e_ok: float
    hard: int

    @property
    def cost(self) -> tuple[int, float]:
        return self.hard, self.delta_e_ok


class _OnStops:
    """The texts over a gradient, ready to be read with other colours of its stops."""

    def __init__(
        self, known: KnownSite, study: Study, marked: Backdrop, before: Before | None, own: list[Colour]
    ) -> None:
        self._texts = Marked(known, study, marked, before, is_dithered=True)
        self._tokens = [self._texts.tokens_of(_mark(n)) for n in range(len(own))]
        self._own = own

    def hard_with(self, colours: list[Colour]) -> int:
        return int(self._failing(colours).sum())

    def left_with(self, colours: list[Colour]) -> list[Text]:
        return self._texts.texts_of(self._failing(colours))

    def _failing(self, colours: list[Colour]) -> NDArray[np.bool_]:
        for tokens, colour in zip(self._tokens, colours, strict=True):
            self._texts.lay(tokens, colour)
        return self._texts.failing_rows()

    def _tried(self, colours: list[Colour]) -> _Tried:
        rgb = (np.array([colour.rgb for colour in some]) for some in (colours, self._own))
        return _Tried(colours, float(delta_e_ok(*rgb).sum()), self.hard_with(colours))

    def one_moved(self, stop: int) -> _Tried:
        """Return the nearest colour of a stop with which fewest rows are hard to read; all others stay."""
        some = candidates_of(self._own[stop].rounded().rgb)
        by_distance = np.argsort(some.delta_e_ok, kind="stable")

        def tried(number: int) -> _Tried:
            return self._tried(self._with(stop, Colour(*some.colours[by_distance[number]].tolist())))

        steps = np.floor(some.delta_e_ok[by_distance] / _COARSE)
        coarse = np.flatnonzero(np.diff(steps, prepend=-1.0) > 0).tolist()
        return _first_readable(tried, coarse)

    def all_beyond(self, is_dark: bool) -> _Tried:
        """Return the nearest colours of as few stops as have to, none of them lighter than one bound, or darker."""
        some = [candidates_of(colour.rounded().rgb) for colour in self._own]

        def tried(number: int) -> _Tried:
            bound = (1 - number / _BOUNDS if is_dark else number / _BOUNDS) ** _GAMMA
            return self._tried([
                self._beyond(stop, candidates, bound, is_dark) for stop, candidates in enumerate(some)
            ])  # fmt: skip

        found = _first_readable(tried, list(range(0, _BOUNDS + 1, _COARSE_BOUNDS)))
        for stop, own in enumerate(self._own):
            back = self._tried([own if n == stop else colour for n, colour in enumerate(found.colours)])
            if back.hard <= found.hard:
                found = back
        return found

    def _beyond(self, stop: int, some: Candidates, bound: float, is_dark: bool) -> Colour:
        within = np.flatnonzero(some.luminance <= bound if is_dark else some.luminance >= bound)
        own = self._own[stop]
        if not len(within):
            return Colour(*([0.0] * 3 if is_dark else [1.0] * 3)).with_alpha(own.alpha)
        nearest = within[np.argmin(some.delta_e_ok[within])]
        return own if not some.delta_e_ok[nearest] else Colour(*some.colours[nearest].tolist()).with_alpha(own.alpha)

    def _with(self, stop: int, colour: Colour) -> list[Colour]:
        return [colour.with_alpha(own.alpha) if n == stop else own for n, own in enumerate(self._own)]


def _first_readable(tried: Callable[[int], _Tried], coarse: list[int]) -> _Tried:
    """Return the first try with which nothing is hard to read, looked for coarsely and then finely; else the best."""
    found: list[_Tried] = []
    for place, number in enumerate(coarse):
        found.append(tried(number))
        if not found[-1].hard:
            since = coarse[place - 1] + 1 if place else number
            return next(one for one in map(tried, range(since, number + 1)) if not one.hard)
    return min(found, key=lambda one: one.cost)
