"""Mending as a problem of its own: colours that move as little as may be until every row reads, all at once.

A row is one spot of one pairing: the seen words and ground, each a sum of what the roles give and what stays. Each
variable (a role, or a role with those tied to it) takes one of its candidates; what a row demands of one variable is
a column of costs, of two a table. From several starts a variable moves together with all its neighbours' best answers
until nothing gets cheaper; then candidates are taken more finely around what was found.
"""

from __future__ import annotations

import math
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from glaucon.core.colour.contrast import contrast_ratios, ratio_of_luminances, relative_luminance
from glaucon.core.colour.oklab import Floats, oklab_from_srgb
from glaucon.core.mending.thorough.searching import Search
from glaucon.core.reading.candidates import Candidates

Numbers = NDArray[np.int64]
_COARSE = 56
_FINE = 40
_REACH = 0.14  # OKLab lightness that a wide ground may move
_ROUNDS_COARSE = 4
_ROUNDS_FINE = 4
# as far from black as from white, in contrast
MIDDLE = (1.05 * 0.05) ** 0.5 - 0.05
# a row that fails costs more than any colour can move, and rows of more texts more
_FAILED = 1_000.0
SLACK = 1 - 1e-9


@dataclass(frozen=True, slots=True)
class Spots:
    """Rows. Side s (0: words, 1: ground) of row i is Σ `share[s, i, r]` · colour of role r + `still[s, i]`.

    Shapes: `share` (2, rows, roles, 3), `still` (2, rows, 3), `required` (rows,), `weight` (rows,), `pairing` (rows,).
    """

    share: Floats
    still: Floats
    required: Floats
    weight: Floats
    pairing: Numbers

    def __len__(self) -> int:
        return len(self.required)

    def seen(self, colours: Floats) -> Floats:
        """Return words and ground of every row, shape (2, rows, 3), for roles' colours of shape (roles, 3)."""
        return np.asarray(np.clip(np.einsum("sirc,rc->sic", self.share, colours) + self.still, 0, 1))

    def margins(self, colours: Floats) -> Floats:
        """Return every row's ratio divided by what it requires."""
        text, background = self.seen(colours)
        return np.asarray(contrast_ratios(text, background) / self.required)

    def only(self, rows: Sequence[int] | Numbers) -> Spots:
        """Return some of the rows."""
        keep = np.asarray(rows, dtype=np.int64)
        return Spots(
            self.share[:, keep], self.still[:, keep], self.required[keep], self.weight[keep], self.pairing[keep]
        )


@dataclass(slots=True)
class Variable:
    """One thing that moves: its roles, what it costs to move it by 1 ΔE OK, and its candidates.

    `follow` gives the roles' colours, shape (n, roles, 3), for candidates of the first, shape (n, 3).
    """

    roles: tuple[int, ...]
    weight: float
    candidates: Candidates
    follow: Callable[[Floats], Floats] | None = None
    _worn: Floats | None = field(default=None, init=False, repr=False)

    def worn(self, places: Numbers) -> Floats:
        """Return the colours of the variable's roles at some candidates, shape (n, roles, 3)."""
        if self.follow is None:
            return self.candidates.colours[places][:, None, :]
        if self._worn is None:  # asked for again and again, and what follows takes mapping into sRGB
            self._worn = self.follow(self.candidates.colours)
        return self._worn[places]


@dataclass(slots=True)
class Problem:
    """Roles' colours, shape (roles, 3), what may move, and the rows that are to read.

    `bounds`, shape (roles, 2), are the least and most luminance a role may take: a mended background keeps its
    character. `until` is when searching ends, on the monotonic clock.
    """

    colours: Floats
    variables: list[Variable]
    spots: Spots
    bounds: Floats
    until: float = math.inf

    @property
    def is_late(self) -> bool:
        """Return whether the time to search is over: the best found so far has to do."""
        return time.monotonic() > self.until


@dataclass(slots=True)
class Solved:
    """The colours found, shape (roles, 3), what moving there costs, and the rows that fail."""

    colours: Floats
    cost: float
    failing: Numbers


def solve(problem: Problem, starts: Sequence[Floats] = (), is_rough: bool = False) -> Solved:
    """Return the cheapest colours found under which as many rows read as may be, heavy ones first.

    `starts` are further colours to start from, shape (roles, 3); `is_rough` is for seeing what could read.
    """
    if not problem.variables or not len(problem.spots):  # nothing moves, or nothing has to
        return _solved(problem, [_own(variable) for variable in problem.variables])
    if is_rough:
        return _solved(problem, _coarse(problem, starts)[0])
    own = [_own(variable) for variable in problem.variables]
    starts = [*starts, *(_each_alone(problem, at) for at in (own, _grounds_apart(problem))), *_without_threes(problem)]
    return _solved(problem, _polished(problem, _finer(problem, *_coarse(problem, starts))))


def _coarse(problem: Problem, starts: Sequence[Floats]) -> tuple[list[int], list[Numbers], list[int]]:
    """Return the cheapest choice on a grid of candidates from some colours, that grid, and the places in it."""
    grid = [
        np.unique(np.concatenate([_spread(variable.candidates, _COARSE), *(_beside(variable, one) for one in starts)]))
        for variable in problem.variables
    ]
    known = [_places_of(problem, grid, one) for one in (problem.colours, *starts)]
    ranked = [(_energy(problem, _at(grid, places)), places) for places in known]
    cost, best = min(ranked, key=lambda one: one[0])
    others = problem.colours
    for turn in range(_ROUNDS_COARSE):  # rows of three variables and more see the third where the round before left it
        tables = _Tables(problem, grid, others)
        places = tables.search(known)
        found = _energy(problem, _at(grid, places))
        is_better = found < cost - 1e-9
        if is_better:
            cost, best = found, places
        if not tables.is_partial or (turn and not is_better) or problem.is_late:
            break
        others, known = _worn(problem, _at(grid, places)), [places, best]
    return _at(grid, best), grid, best


def _at(grid: Sequence[Numbers], places: Sequence[int]) -> list[int]:
    """Return the candidates at some places of a grid."""
    return [int(some[place]) for some, place in zip(grid, places, strict=True)]


def _finer(problem: Problem, at: list[int], grid: list[Numbers], places: list[int]) -> list[int]:
    """Return a choice found among the candidates around one, more closely each round."""
    full = [np.arange(len(variable.candidates)) for variable in problem.variables]
    cost = _energy(problem, at)
    for turn in range(0 if problem.is_late else _ROUNDS_FINE):
        finer = [_around(problem.variables[v].candidates, full[v], grid[v], places[v]) for v in range(len(places))]
        tables = _Tables(problem, finer, _worn(problem, at))
        found = tables.search([[int(np.searchsorted(finer[v], at[v])) for v in range(len(at))]], turn == 0)
        tried = _at(finer, found)
        if _energy(problem, tried) >= cost:
            break
        at, cost = tried, _energy(problem, tried)
        grid, places = finer, found
        if problem.is_late:
            break
    return at


def _energy(problem: Problem, at: Sequence[int]) -> float:
    """Return what a choice costs, the rows that fail counted as they are."""
    failing = problem.spots.margins(_worn(problem, at)) < SLACK
    moved = sum(v.weight * float(v.candidates.delta_e_ok[k]) for v, k in zip(problem.variables, at, strict=True))
    return moved + float(problem.spots.weight[failing].sum()) * _FAILED


def _without_threes(problem: Problem) -> list[Floats]:
    """Return, where rows hang on three roles or more, the colours found as if those were not there."""
    roles = (np.abs(problem.spots.share).max(axis=(0, 3)) > 0).sum(axis=1)
    if roles.max(initial=0) <= 2:
        return []
    few = Problem(problem.colours, problem.variables, problem.spots.only(np.nonzero(roles <= 2)[0]), problem.bounds)
    starts = [_each_alone(few, at) for at in ([_own(variable) for variable in few.variables], _grounds_apart(few))]
    return [_worn(few, _coarse(few, starts)[0])]


def _grounds_apart(problem: Problem) -> list[int]:
    """Return the choice where grounds give their words most room: light ones lightest, dark ones darkest."""
    at = [_own(variable) for variable in problem.variables]
    for number, variable in enumerate(problem.variables):
        bounds = problem.bounds[variable.roles[0]]
        if bounds.tolist() != [0.0, 1.0]:
            at[number] = len(variable.candidates) - 1 if bounds[1] >= 1 else 0
    return at


def _each_alone(problem: Problem, at: list[int]) -> Floats:
    """Return the colours where every variable that is no ground makes its own rows read, all others as in a choice."""
    found = list(at)
    for number, variable in enumerate(problem.variables):
        rows = rows_of(problem, number)
        if problem.bounds[variable.roles[0]].tolist() != [0.0, 1.0] or not len(rows):
            continue
        reads = _reads(problem, at, number, np.arange(len(variable.candidates)), rows)
        left = (~reads) @ problem.spots.weight[rows] * _FAILED + variable.weight * variable.candidates.delta_e_ok
        found[number] = int(np.argmin(left))
    return _worn(problem, found)


def _polished(problem: Problem, at: list[int]) -> list[int]:
    """Let each variable go as near to where it was as the rows that read now allow, over all its candidates."""
    reading = problem.spots.margins(_worn(problem, at)) >= SLACK
    at = list(at)
    for number, variable in sorted(enumerate(problem.variables), key=lambda one: -one[1].weight):
        nearer = np.nonzero(variable.candidates.delta_e_ok < variable.candidates.delta_e_ok[at[number]])[0]
        rows = rows_of(problem, number)
        rows = rows[reading[rows]]
        if not len(nearer):
            continue
        keeps = _reads(problem, at, number, nearer, rows).all(axis=1)
        if keeps.any():
            apart = np.where(keeps, variable.candidates.delta_e_ok[nearer], np.inf)
            at[number] = int(nearer[int(np.argmin(apart))])
    return at


def rows_of(problem: Problem, number: int) -> Numbers:
    """Return the rows that a variable, by its number, has a part in."""
    roles = list(problem.variables[number].roles)
    return np.nonzero(np.abs(problem.spots.share[:, :, roles]).max(axis=(0, 2, 3)) > 0)[0]


def _reads(problem: Problem, at: Sequence[int], number: int, places: Numbers, rows: Numbers) -> NDArray[np.bool_]:
    """Return whether some rows read at some candidates of a variable, shape (places, rows), all else where it is."""
    return reads_beside(problem, _worn(problem, at), problem.variables[number], places, rows)


def reads_beside(
    problem: Problem, colours: Floats, variable: Variable, places: Numbers, rows: Numbers
) -> NDArray[np.bool_]:
    """Return whether rows read at candidates of a variable, shape (places, rows), all else as in `colours`."""
    ours, roles = problem.spots.only(rows), list(variable.roles)
    rest = colours.copy()
    rest[roles] = 0
    still = np.einsum("sirc,rc->sic", ours.share, rest) + ours.still
    seen = np.einsum("sirc,krc->ksic", ours.share[:, :, roles], variable.worn(places)) + still
    seen = np.clip(seen, 0, 1)
    ratio = contrast_ratios(seen[:, 0], seen[:, 1])
    return np.asarray(ratio >= ours.required * SLACK)


def bounds_of(colour: Floats, is_wide: bool) -> tuple[float, float]:
    """Return the luminances a mended ground may take: on its own side of the middle, a wide one near where it was."""
    light = float(relative_luminance(colour))
    reach = _REACH if is_wide else 1.0
    lightness = float(oklab_from_srgb(colour)[0])
    if light >= MIDDLE:
        return max(MIDDLE, max(0.0, lightness - reach) ** 3), 1.0
    return 0.0, min(MIDDLE, (lightness + reach) ** 3)


def kept_to(candidates: Candidates, bounds: Floats) -> Candidates:
    """Return the candidates within some luminances, the colour itself in any case."""
    light = candidates.luminance
    keep = (light >= bounds[0] - 1e-9) & (light <= bounds[1] + 1e-9)
    keep[int(np.argmin(candidates.delta_e_ok))] = True
    return candidates.only(np.nonzero(keep)[0])


def _own(variable: Variable) -> int:
    return int(np.argmin(variable.candidates.delta_e_ok))


def _solved(problem: Problem, at: list[int]) -> Solved:
    colours = _worn(problem, at)
    cost = sum(v.weight * float(v.candidates.delta_e_ok[k]) for v, k in zip(problem.variables, at, strict=True))
    failing = np.nonzero(problem.spots.margins(colours) < SLACK)[0] if len(problem.spots) else np.zeros(0, np.int64)
    return Solved(colours, cost, failing)


def _worn(problem: Problem, at: Sequence[int]) -> Floats:
    colours = problem.colours.copy()
    for variable, place in zip(problem.variables, at, strict=True):
        colours[list(variable.roles)] = variable.worn(np.array([place]))[0]
    return colours


def _spread(candidates: Candidates, most: int) -> Numbers:
    """Return places of candidates spread evenly in contrast, the colour itself among them.

    So are those in the middle, the only ones on which both black and white read.
    """
    middle = int(np.searchsorted(candidates.luminance, MIDDLE))
    around = np.arange(max(0, middle - 2), min(len(candidates), middle + 2))
    contrast = np.log(candidates.luminance + 0.05)
    wanted = np.linspace(contrast[0], contrast[-1], most)
    places = np.searchsorted(contrast, wanted).clip(0, len(candidates) - 1)
    return np.unique(np.concatenate([places, around, [np.argmin(candidates.delta_e_ok)]]))


def _around(candidates: Candidates, full: Numbers, grid: Numbers, chosen: int) -> Numbers:
    """Return places around the chosen one, up to two steps of the grid away, and the colour itself."""
    low = full[grid[max(0, chosen - 2)] : grid[min(len(grid) - 1, chosen + 2)] + 1]
    some = low[np.unique(np.linspace(0, len(low) - 1, min(len(low), _FINE)).round().astype(np.int64))]
    return np.unique(np.concatenate([some, [grid[chosen], np.argmin(candidates.delta_e_ok)]]))


def _beside(variable: Variable, colours: Floats) -> Numbers:
    """Return the candidates just as light as a start's colour, from the darker to the lighter side of it."""
    light = float(relative_luminance(colours[variable.roles[0]]))
    at = int(np.searchsorted(variable.candidates.luminance, light))
    return np.arange(max(0, at - 2), min(len(variable.candidates), at + 2))


def _places_of(problem: Problem, grid: list[Numbers], colours: Floats) -> list[int]:
    """Return for each variable the place in its grid that is as light as its first role in some colours."""
    found = []
    for variable, places in zip(problem.variables, grid, strict=True):
        colour = colours[variable.roles[0]]
        away = np.abs(variable.candidates.luminance[places] - relative_luminance(colour))
        # of two as light as each other, the colour itself
        away += 1e-6 * np.abs(variable.candidates.colours[places] - colour).sum(axis=1)
        found.append(int(np.argmin(away)))
    return found


@dataclass(slots=True)
class _Tables:
    """What each choice costs: a column for each variable, a table for each two that share rows."""

    problem: Problem
    grid: list[Numbers]
    others: Floats
    column: list[Floats] = field(init=False)
    table: dict[tuple[int, int], Floats] = field(init=False)
    is_partial: bool = field(init=False, default=False)
    _worn: list[Floats] = field(init=False)

    def __post_init__(self) -> None:
        variables = self.problem.variables
        self.column = [
            variable.weight * variable.candidates.delta_e_ok[places]
            for variable, places in zip(variables, self.grid, strict=True)
        ]
        self.table = {}
        self._worn = [variable.worn(places) for variable, places in zip(variables, self.grid, strict=True)]
        self._fill()

    def _fill(self) -> None:
        spots = self.problem.spots
        owner = np.full(self.problem.colours.shape[0], -1)
        for number, variable in enumerate(self.problem.variables):
            owner[list(variable.roles)] = number
        shares = (np.abs(spots.share).max(axis=(0, 3)) > 0) & (owner >= 0)
        together: dict[tuple[int, ...], list[int]] = {}
        for row in range(len(spots)):
            together.setdefault(tuple(sorted(set(owner[shares[row]].tolist()))), []).append(row)
        for involved, rows in together.items():
            for two in _twos(involved):
                self.is_partial |= len(involved) > 2
                self._add(spots.only(rows), two)

    def _add(self, spots: Spots, involved: tuple[int, ...]) -> None:
        """Add what rows cost that depend on one or two variables; the rest stays where it is."""
        free = [role for v in involved for role in self.problem.variables[v].roles]
        rest = self.others.copy()
        rest[free] = 0
        still = np.einsum("sirc,rc->sic", spots.share, rest) + spots.still
        parts = [
            np.einsum("sirc,krc->ksic", spots.share[:, :, list(self.problem.variables[v].roles)], self._worn[v])
            for v in involved
        ]
        if len(involved) == 1:
            self.column[involved[0]] = self.column[involved[0]] + _penalty(parts[0] + still, spots)
            return
        cost = _apart(parts[0], parts[1], still, spots)
        if cost is None:
            first, second = parts
            cost = np.empty((len(first), len(second)))
            for start in range(0, len(first), 16):
                seen = first[start : start + 16, None] + second[None] + still
                cost[start : start + 16] = _penalty(seen, spots)
        key = (involved[0], involved[1])
        self.table[key] = self.table[key] + cost if key in self.table else cost

    def search(self, starts: Sequence[list[int]], by_twos: bool = False) -> list[int]:
        """Return the cheapest choice reached from any of the starts."""
        return Search(self.column, self.table, self.problem.until).cheapest(starts, by_twos)


def _twos(involved: tuple[int, ...]) -> list[tuple[int, ...]]:
    """Return the variables of some rows as they are, or by twos where they are more."""
    if len(involved) <= 2:
        return [involved] if involved else []
    return [(a, b) for n, a in enumerate(involved) for b in involved[n + 1 :]]


def _apart(one: Floats, other: Floats, still: Floats, spots: Spots) -> Floats | None:
    """Return the table of two variables of which one gives all words and the other all grounds; else None."""
    for words, ground, swap in ((one, other, False), (other, one, True)):
        if not words[:, 1].any() and not ground[:, 0].any():
            text = relative_luminance(np.clip(words[:, 0] + still[0], 0, 1))
            background = relative_luminance(np.clip(ground[:, 1] + still[1], 0, 1))
            short = ratio_of_luminances(text[:, None], background[None]) < spots.required * SLACK
            table = np.asarray(short @ spots.weight * _FAILED)
            return table.T if swap else table
    return None


def _penalty(seen: Floats, spots: Spots) -> Floats:
    """Return what failing rows cost; `seen` has shape (..., 2, rows, 3)."""
    light = relative_luminance(np.clip(seen, 0, 1))
    short = ratio_of_luminances(light[..., 0, :], light[..., 1, :]) < spots.required * SLACK
    return np.asarray(short @ spots.weight * _FAILED)
