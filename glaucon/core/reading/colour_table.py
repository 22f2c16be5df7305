"""The different colour expressions of a survey, evaluated together under the values of its tokens."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from glaucon.core.cascade.expression import Expression, Faded, Found, Literal, Mix, evaluate, tokens_in
from glaucon.core.colour.oklab import Floats
from glaucon.core.colour.value import TRANSPARENT, Colour

CLEAR = Literal(TRANSPARENT)


@dataclass(slots=True)
class ColourTable:
    """Numbers expressions; `values` gives all their colours at once, shape (expressions, 4), NaN where unknown."""

    _numbers: dict[Expression, int] = field(default_factory=dict)
    _constants: list[tuple[int, Colour]] = field(default_factory=list)
    _found: list[tuple[int, int]] = field(default_factory=list)
    _faded: list[tuple[int, int, float, bool]] = field(default_factory=list)
    _mixed: list[tuple[int, int, int, float, float]] = field(default_factory=list)
    _others: list[tuple[int, Expression, tuple[int, ...]]] = field(default_factory=list)
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
        number = self._numbers[expression] = len(self._numbers)
        self._file(number, expression, parts)
        return number

    def _file(self, number: int, expression: Expression, parts: tuple[int, ...]) -> None:
        if isinstance(expression, Literal):
            self._constants.append((number, expression.colour))
        elif isinstance(expression, Found):
            self._found.append((number, expression.token))
        elif isinstance(expression, Faded) and parts:
            self._faded.append((number, parts[0], expression.alpha, expression.scale))
        elif isinstance(expression, Mix) and parts:
            self._mixed.append((number, parts[0], parts[1], expression.share_of_other, expression.alpha))
        else:
            self._others.append((number, expression, tuple(sorted(set(tokens_in(expression))))))

    def values(self, tokens: Floats) -> Floats:
        """Return every expression's colour given the tokens' colours, shape (tokens, 4)."""
        colours = np.full((len(self._numbers), 4), np.nan)
        for number, colour in self._constants:
            colours[number] = (*colour.rgb, colour.alpha)
        if self._found:
            numbers, found = _columns(self._found)
            colours[numbers] = tokens[found]
        if self._faded:
            self._fade(colours)
        if self._mixed:
            self._mix(colours)
        for number, expression, used in self._others:
            colours[number] = self._evaluated(number, expression, tokens[list(used)], used)
        return colours

    def _fade(self, colours: Floats) -> None:
        numbers, parts = _columns([row[:2] for row in self._faded])
        alphas = np.array([one[2] for one in self._faded])
        scaled = np.array([one[3] for one in self._faded])
        below = colours[parts]
        colours[numbers, :3] = below[:, :3]
        colours[numbers, 3] = np.where(scaled, below[:, 3] * alphas, alphas)

    def _mix(self, colours: Floats) -> None:
        """Mix premultiplied (CSS Color 4, section 12.3)."""
        numbers, ones, others = _columns(self._mixed)[:3]
        share = np.array([one[3] for one in self._mixed])[:, None]
        scale = np.array([one[4] for one in self._mixed])
        one, other = colours[ones], colours[others]
        alpha = one[:, 3:] * (1 - share) + other[:, 3:] * share
        mixed = one[:, :3] * one[:, 3:] * (1 - share) + other[:, :3] * other[:, 3:] * share
        colours[numbers, :3] = mixed / np.where(alpha > 0, alpha, 1.0)
        colours[numbers, 3] = alpha[:, 0] * scale

    def _evaluated(self, number: int, expression: Expression, involved: Floats, used: tuple[int, ...]) -> Floats:
        key = (number, involved.tobytes())
        if key not in self._remembered:
            if len(self._remembered) > 20_000:
                self._remembered.clear()
            values = {token: Colour(*row) for token, row in zip(used, involved.tolist(), strict=True)}
            colour = evaluate(expression, values.__getitem__)
            found = np.full(4, np.nan) if colour is None else np.array((*colour.rgb, colour.alpha))
            self._remembered[key] = found
        return self._remembered[key]


def _is_plain(*expressions: Expression) -> bool:
    return all(isinstance(one, Found | Literal) for one in expressions)


def _columns(rows: Sequence[tuple[Any, ...]]) -> list[NDArray[np.int64]]:
    """Return the first columns of some rows, those that hold numbers of expressions or tokens."""
    return [np.array(column, dtype=np.int64) for column in zip(*[row[:3] for row in rows], strict=True)]
