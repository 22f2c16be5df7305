"""The cheapest choices come upon when every choice costs something by itself and beside some others' choices.

Every variable takes one of its places. From a start, one variable after the other moves together with all its
neighbours' best answers (a star) until nothing gains; then pairs of variables that share neighbours do. What is found
is no proven optimum: the problem is that of a pairwise Markov random field.
"""

from __future__ import annotations

import math
import time
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Numbers = NDArray[np.int64]
_MANY = 9
_MOST_TWOS = 60
_GAIN = 1e-7
_NEVER = 1e12  # costs more than anything that fails


@dataclass(frozen=True, slots=True)
class _State:
    """A choice, and what each place of each variable costs beside it, shape (variables, most places)."""

    at: Numbers
    given: Floats


class Search:
    """Columns of what places cost alone, and tables of what those of two variables cost together."""

    def __init__(
        self, column: Sequence[Floats], table: Mapping[tuple[int, int], Floats], until: float = math.inf
    ) -> None:
        self._column, self._table, self._until = column, table, until
        self._most = max(len(one) for one in column)
        near: list[list[int]] = [[] for _ in column]
        for one, other in table:
            near[one].append(other)
            near[other].append(one)
        self._near = [np.array(some, dtype=np.int64) for some in near]
        self._beside = [self._stacked(v) for v in range(len(column))]
        self._alone = np.full((len(column), self._most), _NEVER)
        for v, costs in enumerate(column):
            self._alone[v, : len(costs)] = costs
        self._inner = [self._meeting(v) for v in range(len(column))]

    def cheapest(self, starts: Sequence[Sequence[int]], by_twos: bool) -> list[int]:
        """Return the cheapest choice reached from any start, and from that with one variable after the other moved.

        `by_twos`: and with two moved at once, which takes longer.
        """
        everyone = set(range(len(self._column)))
        best = min((self._settle(self._state(start), everyone) for start in starts), key=lambda one: self.total(one.at))
        cost = self.total(best.at)
        for variable, places in self._worth_trying(best.at):
            if time.monotonic() > self._until:
                break
            for place in places:
                moved = self._moved(best, {variable: place})
                answers = {int(n): int(np.argmin(moved.given[n])) for n in self._near[variable]}
                moved = self._settle(self._moved(moved, answers), {variable, *answers})
                if (found := self.total(moved.at)) < cost - _GAIN:
                    best, cost = moved, found
        return [int(place) for place in (self._by_twos(best) if by_twos else best).at]

    def total(self, at: Sequence[int] | Numbers) -> float:
        """Return what a choice costs."""
        alone = sum(float(column[k]) for column, k in zip(self._column, at, strict=True))
        return alone + sum(float(table[at[a], at[b]]) for (a, b), table in self._table.items())

    def _between(self, one: int, other: int) -> Floats:
        """Return the table of two variables, rows for the first."""
        return self._table[one, other] if (one, other) in self._table else self._table[other, one].T

    def _stacked(self, variable: int) -> Floats:
        """Return the tables of a variable with its neighbours, shape (neighbours, places, most places)."""
        size = len(self._column[variable])
        found = np.zeros((len(self._near[variable]), size, self._most))
        for n, other in enumerate(self._near[variable].tolist()):
            found[n, :, : len(self._column[other])] = self._between(variable, other)
        return found

    def _meeting(self, variable: int) -> list[tuple[int, int]]:
        """Return which of a variable's neighbours are neighbours of each other, by their places among them."""
        near = self._near[variable].tolist()
        return [
            (i, j) for i, a in enumerate(near) for j, b in enumerate(near[:i])
            if (a, b) in self._table or (b, a) in self._table
        ]  # fmt: skip

    def _state(self, at: Sequence[int]) -> _State:
        given = self._alone.copy()
        for variable, place in enumerate(at):
            given[self._near[variable]] += self._beside[variable][:, place]
        return _State(np.array(at, dtype=np.int64), given)

    def _moved(self, state: _State, changes: Mapping[int, int]) -> _State:
        at, given = state.at.copy(), state.given.copy()
        for variable, place in changes.items():
            beside = self._beside[variable]
            given[self._near[variable]] += beside[:, place] - beside[:, at[variable]]
            at[variable] = place
        return _State(at, given)

    def _worth_trying(self, at: Numbers) -> list[tuple[int, list[int]]]:
        """Return variables to be moved off and where to: many places where something fails, else both ends."""
        failing = {v for (a, b), table in self._table.items() if table[at[a], at[b]] > 0 for v in (a, b)}
        moved = {v for v, column in enumerate(self._column) if column[at[v]] > 1e-9}
        found = []
        for variable in sorted(v for v in failing | moved if len(self._near[v])):
            many = _MANY if variable in failing else 2
            places = np.unique(np.linspace(0, len(self._column[variable]) - 1, many).round().astype(int)).tolist()
            found.append((variable, places))
        return found

    def _settle(self, state: _State, waiting: Iterable[int]) -> _State:
        """Move one variable after the other with its neighbours until none gains; those waiting are looked at first."""
        waiting = set(waiting)
        while waiting:
            variable = min(waiting)
            waiting.remove(variable)
            changes = self._star(state, variable)
            if changes:
                state = self._moved(state, changes)
                waiting |= changes.keys() | {int(n) for v in changes for n in self._near[v]}
        return state

    def _star(self, state: _State, variable: int) -> dict[int, int]:
        """Return what moves where a variable and its neighbours' best answers cost least."""
        near, beside, here = self._near[variable], self._beside[variable], int(state.at[variable])
        each = beside + (state.given[near] - beside[:, here])[:, None, :]
        answers = each.argmin(axis=2)
        cost = self._column[variable] + each.min(axis=2).sum(axis=0)
        place = int(np.argmin(cost))
        now, then = state.at[near], answers[:, place]
        before = float(self._column[variable][here] + each[np.arange(len(near)), here, now].sum())
        after = float(cost[place])
        for i, j in self._inner[variable]:  # two neighbours that meet counted each other where they were
            table = self._between(int(near[i]), int(near[j]))
            before -= float(table[now[i], now[j]])
            after += float(table[then[i], then[j]] - table[then[i], now[j]] - table[now[i], then[j]])
        if after > before - _GAIN:
            return {}
        changes = {variable: place, **{int(n): int(k) for n, k in zip(near, then, strict=True)}}
        return {v: k for v, k in changes.items() if state.at[v] != k}

    def _by_twos(self, state: _State) -> _State:
        """Move two variables that share neighbours at once, with all their neighbours' best answers, until none gains.

        Words between a light and a dark ground let neither move alone.
        """
        near = [set(some.tolist()) for some in self._near]
        waiting = [(a, b) for a in range(len(near)) for b in range(a) if len(near[a] & near[b]) > 1]
        cost = self.total(state.at)
        for one, other in waiting[:_MOST_TWOS]:
            moved = self._moved(state, self._double(state, one, other))
            if (found := self.total(moved.at)) < cost - _GAIN:
                changed = {int(v) for v in np.nonzero(moved.at != state.at)[0]}
                state = self._settle(moved, changed | {n for v in changed for n in near[v]})
                cost = min(found, self.total(state.at))
        return state

    def _double(self, state: _State, one: int, other: int) -> dict[int, int]:
        """Return where two variables and their neighbours' best answers cost least."""
        cost = self._column[one][:, None] + self._column[other][None]
        if other in self._near[one]:
            cost = cost + self._between(one, other)
        answers = {}
        for near in {*self._near[one].tolist(), *self._near[other].tolist()} - {one, other}:
            each = state.given[near, : len(self._column[near])][None, None]
            for moving, axis in ((one, 1), (other, 0)):
                if near in self._near[moving]:
                    table = self._between(moving, near)
                    each = each + np.expand_dims(table - table[state.at[moving]], axis)
            answers[near] = np.broadcast_to(np.argmin(each, axis=2), cost.shape)
            cost = cost + each.min(axis=2)
        first, second = (int(place) for place in np.unravel_index(int(np.argmin(cost)), cost.shape))
        return {one: first, other: second, **{near: int(answer[first, second]) for near, answer in answers.items()}}
