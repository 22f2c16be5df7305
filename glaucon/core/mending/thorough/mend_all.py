"""Mending everything at once: the colours of a study moved as little as may be until every text reads.

The pairings of the site become rows of one problem (`joint`): how the seen words and ground follow each role's colour.
Roles that are locked stay; a role with a tie moves with the one it follows. What stays hard to read is named with the
proof that nothing helps (`impossible`), the locks that stand against it, and the least they would have to give.
"""

from __future__ import annotations

import math
import time
from collections.abc import Iterable
from dataclasses import dataclass, field

import numpy as np

from glaucon.core.cascade.expression import tokens_in
from glaucon.core.colour.oklab import Floats, delta_e_ok
from glaucon.core.colour.value import Colour, css_text
from glaucon.core.mending.thorough.impossible import MOST_BOXES
from glaucon.core.mending.thorough.joint import Numbers, Problem, Spots, Variable, kept_to, solve
from glaucon.core.mending.thorough.mend_rows import mend_rows
from glaucon.core.mending.thorough.rounding import steadied
from glaucon.core.mending.thorough.site_problem import SiteProblem
from glaucon.core.proposal.known import KnownSite
from glaucon.core.reading.candidates import candidates_of
from glaucon.core.study.study import Study
from glaucon.core.survey.site import Progress

_FEW_BOXES = 2_000
_MOST_TRIED, _TRIES = 4, 64  # pairings that no row foretells, and colours tried for each role of one


@dataclass(frozen=True, slots=True)
class Move:
    """A role's colour before and after, how far apart (ΔE OK), and how many texts it touches.

    One that is as before takes in the colours near it that the site has under the role.
    """

    role: str
    before: Colour
    after: Colour
    delta_e_ok: float
    runs: int


@dataclass(frozen=True, slots=True)
class Left:
    """Pairings that stay hard to read, the locked roles in them, and the nearest a lock would have to go to.

    `proof` are the pairings (these among them) that cannot all read at once whatever the unlocked roles wear; empty
    where no proof was found. `runs` are the texts of `pairings`.
    """

    pairings: tuple[int, ...]
    locks: tuple[str, ...]
    give: tuple[str, Colour] | None
    runs: tuple[int, ...]
    proof: tuple[int, ...] = ()


@dataclass(slots=True)
class MendedAll:
    """The mended study, what moved, and what is left; counts are of texts, each once."""

    study: Study
    moved: list[Move] = field(default_factory=list)
    left: list[Left] = field(default_factory=list)
    failing_before: int = 0
    failing_after: int = 0


def mend_all(
    site: KnownSite,
    study: Study,
    locks: Iterable[str] = (),
    progress: Progress = lambda what, done, total: None,
    most_boxes: int = MOST_BOXES,
    seconds: float = math.inf,
) -> MendedAll:
    """Return a study with the least change found under which every text that can be judged reads.

    `locks` are kept beside the study's own. `progress` is told ("mending", step, steps) and may raise to cancel;
    `most_boxes` is how long a proof is looked for, `seconds` how long is searched: then the best found so far is
    returned.
    Raises: StudyError: a lock that is no role of the study.
    """
    locked = {study.role(name).id for name in locks} | {role.id for role in study.roles if role.locked}
    return _Mend(SiteProblem(site, study, frozenset(locked), time.monotonic() + seconds)).run(progress, most_boxes)


class _Mend:
    def __init__(self, of: SiteProblem) -> None:
        self._of, self._site, self._study, self._names = of, of.site, of.study, of.names

    def run(self, progress: Progress, most_boxes: int) -> MendedAll:
        failing = self._failing(self._study)
        before = self._of.texts(failing)
        if not failing:
            return MendedAll(self._study)
        progress("mending", 0, 3)
        spots = self._of.spots()
        problem = self._of.problem(spots)
        progress("mending", 1, 3)
        mended = mend_rows(problem, most_boxes)
        progress("mending", 2, 3)
        is_steadied = bool(most_boxes) and not problem.is_late
        solved = steadied(problem, mended.solved, most_boxes >= MOST_BOXES) if is_steadied else mended.solved
        study = self._taking(self._wearing(problem, solved.colours), problem, solved.failing)
        if most_boxes and not problem.is_late:  # someone waits for what is best, not for a draft
            study = self._trying(study, problem)
        if self._of.texts(self._failing(study)) >= before:
            study = self._study
        proofs = {int(problem.spots.pairing[one.row]): one.rows for one in mended.impossible}
        left = self._named(problem, spots, proofs, self._failing(study))
        return MendedAll(study, self._moves(study), left, before, self._of.texts(self._failing(study)))

    def _wearing(self, problem: Problem, colours: Floats) -> Study:
        values = {}
        for variable in problem.variables:
            role = variable.roles[0]
            if np.abs(colours[role] - problem.colours[role]).max() > 1e-9:
                name = self._names[role]
                values[name] = self._css(self._study, name, colours[role])
        return self._study.with_values(values)

    def _taking(self, study: Study, problem: Problem, failing: Numbers) -> Study:
        """Return the study with colours near a role's made one with it, where its own reads and theirs does not."""
        left = self._failing(study)
        near = left - {int(problem.spots.pairing[row]) for row in failing}
        roles = {role for pairing in near for role in self._of.roles_of[pairing]} & set(self._free(problem))
        unchanged = [name for name in sorted(roles) if not study.role(name).is_changed]
        for some in (*([name] for name in unchanged), unchanged):
            taken = study.with_roles({name: {"taken": True} for name in some})
            if (still := self._failing(taken)) < left:
                study, left = taken, still
        return study

    def _trying(self, study: Study, problem: Problem) -> Study:
        """Return the study with what no row foretells (mixtures in other spaces, blends) mended by reading each try."""
        left = self._failing(study)
        for pairing in sorted(left - set(problem.spots.pairing.tolist()))[:_MOST_TRIED]:
            tries = self._tries(study, problem, pairing)
            better = next((one for _, one in tries if self._failing(one) < left), None)
            if better is not None:
                study, left = better, self._failing(better)
        return study

    def _tries(self, study: Study, problem: Problem, pairing: int) -> list[tuple[float, Study]]:
        """Return studies in which a role of a pairing is moved, or all its words together, the least moved first."""
        free = self._free(problem)
        some = {
            name: kept_to(candidates_of(study.role(name).colour.rounded().rgb), problem.bounds[free[name]])
            for name in self._of.roles_of[pairing] if name in free
        }  # fmt: skip
        words = {self._of.tokens.get(token) for token in tokens_in(self._site.survey.pairings[pairing].colour)}
        groups = [[name] for name in some] + [[name for name in some if name in words]]
        found = []
        for group in groups:
            for light in np.linspace(0, 1, _TRIES) ** 2 if group else ():
                places = {name: int(np.argmin(np.abs(some[name].luminance - light))) for name in group}
                values = {name: self._css(study, name, some[name].colours[place]) for name, place in places.items()}
                apart = sum(float(some[name].delta_e_ok[place]) for name, place in places.items())
                found.append((apart, study.with_values(values)))
        return sorted(found, key=lambda one: one[0])

    @staticmethod
    def _css(study: Study, name: str, rgb: Floats) -> str:
        red, green, blue = (float(v) for v in rgb)
        return css_text(Colour(red, green, blue, study.role(name).colour.alpha))

    def _free(self, problem: Problem) -> dict[str, int]:
        """Return the roles that move by themselves, and their numbers."""
        return {self._names[variable.roles[0]]: variable.roles[0] for variable in problem.variables}

    def _failing(self, study: Study) -> set[int]:
        return {int(n) for n in np.nonzero(self._site.failing(study))[0] if self._site.index.counts(int(n))}

    def _moves(self, study: Study) -> list[Move]:
        found = []
        for role in study.roles:
            before = self._study.role(role.id).colour
            if role.colour.rgb != before.rgb or role.taken != self._study.role(role.id).taken:
                own = {number for number, name in self._of.tokens.items() if name == role.id}
                apart = float(delta_e_ok(np.array(before.rgb), np.array(role.colour.rgb)))
                runs = self._of.texts(self._site.index.involving(own))
                found.append(Move(role.id, before, role.colour, apart, runs))
        return found

    def _named(self, problem: Problem, spots: Spots, proofs: dict[int, tuple[int, ...]], left: set[int]) -> list[Left]:
        """Gather what is left by its proof and the locks that stand against it."""
        gathered: dict[tuple[tuple[str, ...], tuple[int, ...]], list[int]] = {}
        for pairing in sorted(left):
            rows = proofs.get(pairing, ())
            others = tuple(sorted({int(spots.pairing[row]) for row in rows} - {pairing}))
            locks = {role for one in (pairing, *others) for role in self._of.roles_of[one]} & self._of.locks
            gathered.setdefault((tuple(sorted(locks)), others if rows else (-1,)), []).append(pairing)
        return [
            Left(
                tuple(some), locks, self._give(problem, spots, locks, {*some, *others} - {-1}),
                tuple(sorted(self._site.index.runs_of(some).tolist())),
                () if others == (-1,) else tuple(sorted({*some, *others})),
            )
            for (locks, others), some in gathered.items()
        ]  # fmt: skip

    def _give(
        self, problem: Problem, spots: Spots, locks: tuple[str, ...], pairings: set[int]
    ) -> tuple[str, Colour] | None:
        """Return the lock that would have to give least for most of some pairings to read, and its colour then."""
        best: tuple[int, float, str, Colour] | None = None
        rows = np.nonzero(np.isin(spots.pairing, list(pairings)))[0]
        for name in locks:
            number = self._of.number[name]
            own = tuple(float(v) for v in problem.colours[number])
            some = kept_to(candidates_of((own[0], own[1], own[2])), problem.bounds[number])
            freed = Variable((number,), 1.0, some)
            held = [n for n in self._of.held() if n != number]
            tried = Problem(
                problem.colours, [*problem.variables, freed], self._of.without(spots, held).only(rows), problem.bounds
            )
            found = solve(tried)
            apart = float(delta_e_ok(problem.colours[number], found.colours[number]))
            rank = (len(found.failing), apart)
            if len(found.failing) < len(rows) and (best is None or rank < best[:2]):
                red, green, blue = (float(v) for v in found.colours[number])
                best = (*rank, name, Colour(red, green, blue))
        return (best[2], best[3]) if best else None
