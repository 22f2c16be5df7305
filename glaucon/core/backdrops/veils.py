"""The least veil that makes text readable: over a backdrop, or over what a section has behind it already."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from glaucon.core.backdrops.marked import MARK, MARKED, SAFE, Marked, Text
from glaucon.core.backdrops.trying import DARK, LIGHT, Before, Seen
from glaucon.core.colour.oklab import Floats
from glaucon.core.colour.value import Colour, read_colour
from glaucon.core.known.site import KnownSite
from glaucon.core.reading.counterparts import BETWEEN
from glaucon.core.reading.reading import LEVELS
from glaucon.core.study.backdrops import Backdrop, Layer, OfRole, Veil
from glaucon.core.study.study import Study

_STEPS = 400  # of opacity: finer than a hundredth, by which browsers dither
_STRAIGHT = 1e-6


def with_veil(study: Study, backdrop: Backdrop, opacity: float, colour: OfRole | str | None = None) -> Backdrop:
    """Return a backdrop with the topmost veil at an opacity, or one of a colour laid over it."""
    layers = list(backdrop.layers)
    place = next((n for n in range(len(layers) - 1, -1, -1) if layers[n].veil is not None), None)
    old = layers[place].veil if place is not None else None
    paint = colour if colour is not None else old.colour if old is not None else _ground(study)
    veil = Layer(veil=Veil(colour=paint, opacity=opacity))
    if place is None:
        layers.append(veil)
    else:
        layers[place] = veil
    return backdrop.model_copy(update={"layers": tuple(layers)})


def _ground(study: Study) -> OfRole | str:
    role = study.first("background")
    return OfRole(role=role.id) if role is not None else "#ffffff"


@dataclass(frozen=True, slots=True)
class Least:
    """The least opacity of a veil, 0 to 1, with which as few texts as can be are hard to read.

    `hard` are those, `texts` all that lie on it, each by its page and path.
    """

    opacity: float
    colour: OfRole | str
    hard: list[tuple[str, str]]
    texts: list[tuple[str, str]]


def veil_colours(study: Study, backdrop: Backdrop) -> list[OfRole | str]:
    """Return what a veil may be made of: the colour it has, the palette's backgrounds, dark and light at the end."""
    own = [layer.veil.colour for layer in reversed(backdrop.layers) if layer.veil is not None][:1]
    grounds = [
        OfRole(role=role.id) for role in study.roles
        if role.is_background and role.state == "rest" and role.tier == "main"
    ]  # fmt: skip
    return [*own, *grounds, DARK, LIGHT]


def least_veil(seen: Seen, study: Study, backdrop: Backdrop, before: Before | None = None) -> Least:
    """Return the least veil: all of each colour's opacities are read, on all pages and states that `seen` reads.

    The ratio is no monotone function of the veil where its colour is near the text's, so none is left out. Of colours
    that leave as few texts hard to read, the first is taken if it is the one it has, else the one that covers least.
    """
    return least_of(seen(with_veil(study, backdrop, MARK, MARKED)), study, backdrop, before)


def least_of(marked: KnownSite, study: Study, backdrop: Backdrop, before: Before | None, is_veil: bool = True) -> Least:
    """Return the least of what is laid over or on a backdrop, a veil or a plate; `marked` is read with it so marked."""
    return next(leasts_of(marked, study, backdrop, before, is_veil))


def leasts_of(
    marked: KnownSite, study: Study, backdrop: Backdrop, before: Before | None, is_veil: bool = True
) -> Iterator[Least]:
    """Yield the least of each colour, see `least_of`, the best first."""
    veiled = Veiled(marked, study, backdrop, before, is_veil)
    has_one = any(layer.veil is not None for layer in backdrop.layers)
    found: list[tuple[int, bool, float, OfRole | str]] = []
    for place, paint in enumerate(veil_colours(study, backdrop)):
        colour = _paint(study, paint)
        hard = veiled.failing(colour)
        best = min(hard)
        found.append((best, not (has_one and place == 0), hard.index(best) / _STEPS, paint))
    for _, _, opacity, paint in sorted(found, key=lambda one: one[:3]):
        yield Least(opacity, paint, veiled.hard(_paint(study, paint), opacity), veiled.texts)


def _paint(study: Study, paint: OfRole | str) -> Colour:
    return study.role(paint.role).colour if isinstance(paint, OfRole) else read_colour(paint)


class Veiled(Marked):
    """The texts on a backdrop, ready to be read under a veil of any colour, or on a plate."""

    def __init__(
        self, known: KnownSite, study: Study, backdrop: Backdrop, before: Before | None, is_veil: bool
    ) -> None:
        """`known` has been read with a veil of the marked colour, or a plate."""
        # a gradient, as a veil among layers is, is mixed finer than bytes and then dithered to the whole ones beside it
        super().__init__(known, study, backdrop, before, is_dithered=not backdrop.is_veil_alone and is_veil)
        self._marked = self.tokens_of(MARK)

    def failing(self, colour: Colour) -> list[int]:
        """Return how many rows are hard to read under a veil at each step of its opacity.

        Source-over is linear in it, so none and all of the veil tell the rest; where that does not hold each is read.
        """
        owner, words, ground = self._rows_at(colour, 0.0)
        ends, middle = self._rows_at(colour, 1.0)[1:], self._rows_at(colour, BETWEEN)[1:]
        slopes = [end - start for start, end in zip((words, ground), ends, strict=True)]
        at_middle = (start + BETWEEN * slope for start, slope in zip((words, ground), slopes, strict=True))
        bent = [np.abs(one - other) for one, other in zip(at_middle, middle, strict=True)]
        if any(bool((np.nan_to_num(one) > _STRAIGHT).any()) for one in bent):
            return [int(self.fails(colour, step / _STEPS).sum()) for step in range(_STEPS + 1)]
        required = np.where(self._compiled.exempt, np.nan, self._compiled.needed(*LEVELS[self._study.aim]))[owner]
        found = []
        for step in range(_STEPS + 1):
            share = self._held(step / _STEPS)
            ratio = self.ratio(words + share * slopes[0], ground + share * slopes[1])
            found.append(len(np.unique(owner[ratio < SAFE * required])))
        return found

    def _rows_at(self, colour: Colour, opacity: float) -> tuple[NDArray[np.int64], Floats, Floats]:
        self._lay(colour, opacity)
        return self._compiled.rows(self._colours)

    def _lay(self, colour: Colour, opacity: float) -> None:
        self.lay(self._marked, colour.with_alpha(opacity))

    def fails(self, colour: Colour, opacity: float) -> NDArray[np.bool_]:
        """Return which rows are hard to read under a veil, or so near to it that rounding may make them."""
        self._lay(colour, self._held(opacity))
        return self.failing_rows()

    def _held(self, opacity: float) -> float:
        """Return an opacity as browsers hold it."""
        return opacity if self._is_dithered else round(opacity * 255) / 255

    def hard(self, colour: Colour, opacity: float) -> list[Text]:
        """Return the page and path of each text that is hard to read under a veil."""
        return self.texts_of(self.fails(colour, opacity))


@dataclass(frozen=True, slots=True)
class VeilOver:
    """A veil over a section's own background, with the number of failing texts it makes readable."""

    backdrop: Backdrop
    fixes: int


def veils_over(seen: Seen, before: Before, study: Study, bare: Backdrop, texts: Collection[Text]) -> Iterator[VeilOver]:
    """Yield the least veil of each colour that makes some texts readable and no other less so, the best first.

    `bare` is the section's backdrop, without a layer.
    """
    for least in leasts_of(seen(with_veil(study, bare, MARK, MARKED)), study, bare, before):
        hard = set(least.hard)
        fixes = len((set(least.texts) & set(texts)) - hard)
        if fixes and not hard - set(texts) and least.opacity:
            yield VeilOver(with_veil(study, bare, least.opacity, least.colour), fixes)
