"""The different colour expressions of a survey, evaluated together under the values of its tokens."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from glaucon.core.cascade.expression import Bare, Expression, Faded, Found, Literal, Mix, evaluate, founds_in
from glaucon.core.colour.oklab import Floats
from glaucon.core.colour.value import TRANSPARENT, Colour

CLEAR = Literal(TRANSPARENT)


@dataclass(frozen=True, slots=True)
class TokenColours:
    """The tokens' colours, shape (tokens, 4), where they differ by depth in the regions around a text.

    `at` are those said at a depth, `base` all others; `grounds` the backgrounds, shape (4,), that a study gives the
    regions at some depths.
    """

    base: Floats
    at: Mapping[int, Floats]
    grounds: Mapping[int, Floats]

    @staticmethod
    def of(tokens: Floats | TokenColours) -> TokenColours:
        """Return colours that are the same at all depths as such."""
        return tokens if isinstance(tokens, TokenColours) else TokenColours(tokens, {}, {})


@dataclass(slots=True)
class ColourTable:
    """Numbers expressions; `values` gives all their colours at once, shape (expressions, 4), NaN where unknown."""

    _numbers: dict[Expression, int] = field(default_factory=dict)
    _constants: list[tuple[int, Colour]] = field(default_factory=list)
    _found: dict[int, list[tuple[int, int]]] = field(default_factory=dict)  # by depth
    _bare: list[tuple[int, int, int | None]] = field(default_factory=list)
    _faded: list[tuple[int, int, float, bool]] = field(default_factory=list)
    _mixed: list[tuple[int, int, int, float, float]] = field(default_factory=list)
    _others: list[tuple[int, Expression, tuple[Found, ...]]] = field(default_factory=list)
    _remembered: dict[tuple[int, bytes], Floats] = field(default_factory=dict)

    def number(self, expression: Expression) -> int:
        """Return the number of an expression, a new one where it is new."""
        known = self._numbers.get(expression)
        if known is not None:
            return known
        parts: tuple[int, ...] = ()
        # what is made of these is evaluated after them, so they are numbered first
        if isinstance(expression, Faded) and _is_plain(expression.colour):
            parts = (self.number(expression.colour),)
        elif isinstance(expression, Mix) and expression.space == "srgb" and _is_plain(expression.one, expression.other):
            parts = (self.number(expression.one), self.number(expression.other))
        elif isinstance(expression, Bare) and expression.own is not None:
            parts = (self.number(expression.own),)
        number = self._numbers[expression] = len(self._numbers)
        self._file(number, expression, parts)
        return number

    def _file(self, number: int, expression: Expression, parts: tuple[int, ...]) -> None:
        if isinstance(expression, Literal):
            self._constants.append((number, expression.colour))
        elif isinstance(expression, Found):
            self._found.setdefault(expression.at, []).append((number, expression.token))
        elif isinstance(expression, Bare):
            self._bare.append((number, expression.at, parts[0] if parts else None))
        elif isinstance(expression, Faded) and parts:
            self._faded.append((number, parts[0], expression.alpha, expression.scale))
        elif isinstance(expression, Mix) and parts:
            self._mixed.append((number, parts[0], parts[1], expression.share_of_other, expression.alpha))
        else:
            self._others.append((number, expression, tuple(dict.fromkeys(founds_in(expression)))))

    def values(self, tokens: Floats | TokenColours) -> Floats:
        """Return every expression's colour given the tokens' colours, shape (tokens, 4)."""
        return np.asarray(self.values_of_each([tokens])[0])

    def values_of_each(self, many: Sequence[Floats | TokenColours]) -> Floats:
        """Return every expression's colour under several sets of token colours, shape (sets, expressions, 4)."""
        places: dict[int, int] = {}
        each = [places.setdefault(id(tokens), len(places)) for tokens in many]
        if len(places) < len(many):
            return np.asarray(self.values_of_each(list({id(one): one for one in many}.values()))[each])
        sets = [TokenColours.of(tokens) for tokens in many]
        colours = np.full((len(sets), len(self._numbers), 4), np.nan)
        if self._constants:
            numbers = np.array([number for number, _ in self._constants], dtype=np.int64)
            colours[:, numbers] = np.array([(*colour.rgb, colour.alpha) for _, colour in self._constants])
        for at, rows in self._found.items():
            numbers, found = _columns(rows)
            colours[:, numbers] = _gathered([tokens.at.get(at, tokens.base) for tokens in sets], found)
        if self._faded:
            self._fade(colours)
        if self._mixed:
            self._mix(colours)
        for number, expression, used in self._others:
            for place, tokens in enumerate(sets):
                involved = np.array([tokens.at.get(one.at, tokens.base)[one.token] for one in used]).reshape(-1, 4)
                colours[place, number] = self._evaluated(number, expression, involved, used)
        for number, _, own in self._bare:
            colours[:, number] = _CLEAR if own is None else colours[:, own]
        for place, tokens in enumerate(sets):
            if tokens.grounds:
                for number, at, _ in self._bare:
                    if (ground := tokens.grounds.get(at)) is not None:
                        colours[place, number] = ground
        return colours

    def _fade(self, colours: Floats) -> None:
        numbers, parts = _columns([row[:2] for row in self._faded])
        alphas = np.array([one[2] for one in self._faded])
        scaled = np.array([one[3] for one in self._faded])
        below = colours[:, parts]
        colours[:, numbers, :3] = below[..., :3]
        colours[:, numbers, 3] = np.where(scaled, below[..., 3] * alphas, alphas)

    def _mix(self, colours: Floats) -> None:
        """Mix premultiplied (CSS Color 4, section 12.3)."""
        numbers, ones, others = _columns(self._mixed)[:3]
        share = np.array([one[3] for one in self._mixed])[:, None]
        scale = np.array([one[4] for one in self._mixed])
        one, other = colours[:, ones], colours[:, others]
        alpha = one[..., 3:] * (1 - share) + other[..., 3:] * share
        mixed = one[..., :3] * one[..., 3:] * (1 - share) + other[..., :3] * other[..., 3:] * share
        colours[:, numbers, :3] = mixed / np.where(alpha > 0, alpha, 1.0)
        colours[:, numbers, 3] = alpha[..., 0] * scale

    def _evaluated(self, number: int, expression: Expression, involved: Floats, used: tuple[Found, ...]) -> Floats:
        key = (number, involved.tobytes())
        if key not in self._remembered:
            if len(self._remembered) > 20_000:
                self._remembered.clear()
            values = {found: Colour(*row) for found, row in zip(used, involved.tolist(), strict=True)}
            colour = evaluate(expression, values.__getitem__)
            found = np.full(4, np.nan) if colour is None else np.array((*colour.rgb, colour.alpha))
            self._remembered[key] = found
        return self._remembered[key]


_CLEAR = np.zeros(4)


def _is_plain(*expressions: Expression) -> bool:
    return all(isinstance(one, Found | Literal) for one in expressions)


def _gathered(arrays: Sequence[Floats], found: NDArray[np.int64]) -> Floats:
    """Return some rows of each of several arrays, shape (arrays, rows, 4); most are one and the same array."""
    places: dict[int, int] = {}
    each = [places.setdefault(id(one), len(places)) for one in arrays]
    different = {id(one): one for one in arrays}
    return np.asarray(np.stack([one[found] for one in different.values()])[each])


def _columns(rows: Sequence[tuple[Any, ...]]) -> list[NDArray[np.int64]]:
    """Return the first columns of some rows, those that hold numbers of expressions or tokens."""
    return [np.array(column, dtype=np.int64) for column in zip(*[row[:3] for row in rows], strict=True)]
