"""The cascade of scopes: what is worn at each depth of a chain of regions, a deeper one over a shallower.

A scope redefines, on its element, every role of the kinds it sets, so that what is said inside takes its values; it
says `color` and `background-color` again there, where the page's own rules say none. Here is worked out what each depth
comes to, as colours of all tokens; `scopes.css` writes the same as rules.
"""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass

import numpy as np

from glaucon.core.cascade.expression import BESIDE, INHERITED
from glaucon.core.colour.oklab import Floats
from glaucon.core.colour.value import Colour
from glaucon.core.reading.colour_table import TokenColours
from glaucon.core.scopes.inherited import inks_of
from glaucon.core.scopes.values import (
    GROUND,
    TEXT,
    Apart,
    Followers,
    Values,
    coat_values,
    contradicting_tokens,
    opacity_shares,
    strength_of,
)
from glaucon.core.study.scopes import Scope, Use
from glaucon.core.study.study import Study
from glaucon.core.study.wearing import Numbers, Otherwise, Wearing, contradicting_uses
from glaucon.core.survey.model import Survey

Levels = tuple[tuple[Scope, ...], ...]
# Regions that a text lies over by their keys, outermost first, and the path of the innermost's element.
KeysBeside = tuple[Sequence[str], str]
# The same levels with scopes by number: those that set the same share one.
_NumberedLevels = tuple[tuple[int, ...], ...]
_DRAWN, _AGAIN = -1, -2  # in place of a scope's number


class ScopesByPlace:
    """A study's scopes, found by where they hold."""

    def __init__(self, study: Study) -> None:
        self._of_region: dict[str | None, list[Scope]] = {}
        for scope in study.worn:
            self._of_region.setdefault(scope.where.region, []).append(scope)
        for some in self._of_region.values():
            some.sort(key=strength_of)
        self._alone: dict[str | None, list[str]] = {}
        for scope in study.worn:
            if scope.where.at is not None:
                self._alone.setdefault(scope.where.page, []).append(scope.where.at)

    def of_level(self, page: str, region: str | None, path: str | None = None) -> list[Scope]:
        """Return the scopes that hold for a page (no region) or a region on it, the weakest first.

        What is worn at one element alone holds where `path`, that of a text there, leads through it.
        """
        return [
            scope
            for scope in self._of_region.get(region, ())
            if scope.where.page in (None, page)
            and (scope.where.at is None or (path is not None and is_inside(path, scope.where.at)))
        ]

    def alone_around(self, page: str, path: str) -> tuple[str, ...]:
        """Return the elements around a text that wear something on their own."""
        some = [*self._alone.get(page, ()), *self._alone.get(None, ())]
        return tuple(at for at in some if is_inside(path, at)) if some else ()

    def dress(self, page: str, keys: Sequence[str], path: str, beside: Sequence[KeysBeside] = ()) -> Dress:
        """Return the scopes around a text; `keys` are its regions, outermost first, `beside` those it lies over."""
        around = tuple(self._levels(page, theirs, at) for theirs, at in beside)
        return Dress(self._levels(page, keys, path), around if any(map(any, around)) else ())

    def _levels(self, page: str, keys: Sequence[str], path: str) -> Levels:
        return tuple(tuple(self.of_level(page, key, path)) for key in (None, *keys))


def is_inside(path: str, outer: str) -> bool:
    """Return whether a text's path leads through an element or is its own."""
    return path == outer or path.startswith((f"{outer}>", f"{outer}::"))


@dataclass(frozen=True, slots=True)
class Dress:
    """The scopes that hold at each depth of a text's chain of regions, outermost first; depth 0 is the page.

    `beside` are the scopes of chains that the text overlaps without lying in them, empty if none of those has any.
    """

    levels: Levels
    beside: tuple[Levels, ...] = ()

    @property
    def is_plain(self) -> bool:
        """Return whether nothing is set anywhere."""
        return not any(self.levels) and not self.beside


class Dresser:
    """Computes token colours for texts under a study's scopes, and remembers them for scopes that set the same."""

    def __init__(self, study: Study, wearing: Wearing, survey: Survey) -> None:
        """`survey` is the site's; regions that browsers draw keep what the page says no colour for."""
        self.study = study
        self._inks = inks_of(survey, study.worn)
        self._regions = {region.key: region for region in survey.regions}
        self._drawn = {key for key, region in self._regions.items() if region.is_drawn}
        self._base = wearing.values(study)
        self._of_use = wearing.of_use(study)
        self._wearing = wearing
        self._otherwise = wearing.otherwise(study)
        self._of_coat: dict[str, Values] = {}
        self._followers = Followers(study)
        # scopes that set the same share a number: many sections wear few coats
        self._numbers: dict[Hashable, int] = {}
        self._values: list[dict[Use, Colour]] = []
        self._apart: list[Apart] = []
        self._numbered: dict[int, int] = {}
        self._said: dict[tuple[int, ...], tuple[Floats | None, Floats | None]] = {(): (None, None)}
        self._paints: dict[int, tuple[Numbers, Floats]] = {}
        self._shown: dict[tuple[int, ...], Floats] = {(): self._base}
        self._known: dict[tuple[_NumberedLevels, tuple[_NumberedLevels, ...]], TokenColours] = {}

    def values(self, scope: Scope) -> dict[Use, Colour]:
        """Return what a scope of the study sets."""
        return self._values[self._number(scope)]

    def _number(self, scope: Scope) -> int:
        number = self._numbered.get(id(scope))
        if number is None:
            values = self._followers.over(scope, self._coat(scope.coat))
            apart = contradicting_tokens(self.study, values, self._doing_otherwise(scope.where.region or ""))
            key = (scope.coat, tuple(sorted(scope.set.items())), tuple(apart.items()))
            number = self._numbers.setdefault(key, len(self._values))
            if number == len(self._values):
                self._values.append(values)
                self._apart.append(apart)
            self._numbered[id(scope)] = number
        return number

    def _doing_otherwise(self, region: str) -> Otherwise:
        if region not in self._regions:
            return ()
        if region not in self._otherwise:
            tokens_of = self._wearing.tokens_of(self.study)
            self._otherwise[region] = contradicting_uses(self.study, tokens_of, self._regions[region])
        return self._otherwise[region]

    def _coat(self, coat: str | None) -> Values:
        if coat is None:
            return {}
        if coat not in self._of_coat:
            self._of_coat[coat] = coat_values(self.study, coat)
        return self._of_coat[coat]

    def colours(self, dress: Dress) -> TokenColours:
        """Return what each token shows at each depth of a dress, and the backgrounds that it gives."""
        levels = tuple(self._level(scopes) for scopes in dress.levels)
        beside = tuple(tuple(self._level(scopes) for scopes in chain) for chain in dress.beside)
        if (levels, beside) not in self._known:
            self._known[levels, beside] = self._worked_out(levels, beside)
        return self._known[levels, beside]

    def _level(self, scopes: Sequence[Scope]) -> tuple[int, ...]:
        """Return the numbers of an element's scopes.

        First comes _DRAWN if the browser draws it (a button), last _AGAIN if the colour of its words is said there.
        """
        is_drawn = any(scope.where.region in self._drawn for scope in scopes)
        is_said = any(scope.where in self._inks for scope in scopes)
        numbers = (self._number(scope) for scope in scopes)
        return (*((_DRAWN,) if is_drawn else ()), *numbers, *((_AGAIN,) if is_said else ()))

    def _worked_out(self, levels: _NumberedLevels, beside: tuple[_NumberedLevels, ...]) -> TokenColours:
        at: dict[int, Floats] = {}
        grounds: dict[int, Floats] = {}
        around = self._down(levels, 0, at, grounds)
        said = [self._said_by(level)[1] for level in levels]
        again: Floats | None = None
        for depth in range(len(levels) - 1, -1, -1):
            # the colour of text is said again by the deepest region inside that sets it
            at[INHERITED + depth] = at[depth] if again is None else again
            here = at[depth] if _AGAIN in levels[depth] else said[depth]
            again = here if again is None else again
        # a field that a label lies over may be a region further in, which wears nothing of its own here
        for depth in range(len(levels), INHERITED):
            at[depth] = at[INHERITED + depth] = self._shown[around]
        for number, chain in enumerate(beside):
            self._down(chain, BESIDE + number * INHERITED, at, grounds)
        return TokenColours(self._base, at, grounds)

    def _down(
        self, levels: _NumberedLevels, first: int, at: dict[int, Floats], grounds: dict[int, Floats]
    ) -> tuple[int, ...]:  # fmt: skip
        """Work out what each depth of a chain shows, numbered from `first`; return what the innermost is known by."""
        around: tuple[int, ...] = ()
        for depth, level in enumerate(levels, start=first):
            for number in level:
                around = self._within(around, number) if number >= 0 else around
            at[depth] = self._shown[around]
            ground, _ = self._said_by(level)
            if ground is not None:
                grounds[depth] = ground
        return around

    def _said_by(self, level: tuple[int, ...]) -> tuple[Floats | None, Floats | None]:
        """Return the background of an element with some scopes, shape (4,), and its text's colour for every token."""
        if level not in self._said:
            own: dict[Use, Colour] = {}
            for number in level if level[0] != _DRAWN else ():
                own.update(self._values[number] if number != _AGAIN else {})
            ground, text = (
                np.array((*colour.rgb, colour.alpha)) if (colour := own.get(use)) is not None else None
                for use in (GROUND, TEXT)
            )
            self._said[level] = (ground, None if text is None else np.broadcast_to(text, self._base.shape))
        return self._said[level]

    def _within(self, around: tuple[int, ...], number: int) -> tuple[int, ...]:
        """Work out the tokens' colours inside one more scope; return what they are remembered by."""
        if around[-1:] == (number,):
            return around
        inside = (*around, number)
        if inside not in self._shown:
            if number not in self._paints:
                self._paints[number] = self._painted(self._values[number], self._apart[number])
            numbers, colours = self._paints[number]
            tokens = self._shown[inside] = self._shown[around].copy()
            tokens[numbers] = colours
        return inside

    def _painted(self, values: Values, apart: Apart) -> tuple[Numbers, Floats]:
        """Return which tokens some values colour, and how, shape (tokens, 4); those of roles apart again, and last."""
        some = [
            (numbers, opacity_shares(use, shares), colour)
            for use, colour in values.items() if use in self._of_use
            for numbers, shares in (self._of_use[use],)
        ]  # fmt: skip
        of_role = self._wearing.tokens_of(self.study) if apart else {}
        some += [
            (np.array(numbers, dtype=np.int64), np.ones(len(numbers)), colour)
            for what, colour in apart.items()
            if (numbers := [what] if isinstance(what, int) else of_role.get(what, []))
        ]  # fmt: skip
        if not some:
            return np.zeros(0, dtype=np.int64), np.zeros((0, 4))
        lengths = [len(numbers) for numbers, _, _ in some]
        colours = np.repeat(np.array([(*colour.rgb, colour.alpha) for _, _, colour in some]), lengths, 0)
        colours[:, 3] *= np.concatenate([shares for _, shares, _ in some])
        return np.concatenate([numbers for numbers, _, _ in some]), colours
