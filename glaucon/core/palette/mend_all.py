"""Mending everything at once: colours of a study moved as little as may be until every text reads.

A failing pairing is mended by the role that has to move least for it, weighed by how much of the site the role
colours, without harming what reads; then every role moves back as near to where it was as the others now allow.
Locked roles stay. What is left is named, with the locks that stand against it and the least they would have to give.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field

import numpy as np

from glaucon.core.colour.oklab import delta_e_ok, oklab_from_srgb
from glaucon.core.colour.value import Colour, css_text
from glaucon.core.palette.known import KnownSite
from glaucon.core.palette.mending import counterparts_of
from glaucon.core.palette.study import Study
from glaucon.core.reading.nearest import nearest_readable
from glaucon.core.reading.reading import FAIL, PASS
from glaucon.core.survey.site import Progress

_MOST_STEPS = 240
_ROUNDS_BACK = 3


@dataclass(frozen=True, slots=True)
class Move:
    """A role's colour before and after, how far apart (ΔE OK), and how many texts it touches."""

    role: str
    before: Colour
    after: Colour
    delta_e_ok: float
    runs: int


@dataclass(frozen=True, slots=True)
class Left:
    """Pairings that stay hard to read, the locked roles in them, and the nearest a lock would have to go to."""

    pairings: tuple[int, ...]
    locks: tuple[str, ...]
    give: tuple[str, Colour] | None
    runs: tuple[int, ...]


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
) -> MendedAll:
    """Return a study with the least change found under which every text that can be judged reads.

    `progress` is told ("mending", texts mended, texts that fail) and may raise to cancel.
    Raises: StudyError: a lock that is no role of the study.
    """
    return _Mend(site, study, frozenset(study.role(name).name for name in locks)).run(progress)


class _Mend:
    def __init__(self, site: KnownSite, study: Study, locks: frozenset[str]) -> None:
        self._site = site
        self._first = study
        self._study = study
        self._locks = locks
        self._original = {role.name: role.colour for role in study.roles}
        tokens = site.tokens.roles(study)
        self._roles_of = [
            sorted({tokens[number] for number in site.index.tokens_of(pairing) if number in tokens})
            for pairing in range(len(site.survey.pairings))
        ]
        self._weight = self._weights(tokens)
        self._hopeless: set[int] = set()
        self._forced: set[tuple[str, int]] = set()

    def _weights(self, tokens: dict[int, str]) -> dict[str, float]:
        area: dict[str, float] = {}
        for number, role in tokens.items():
            use = self._site.uses[number]
            area[role] = area.get(role, 0.0) + use.words + 10 * use.ground
        most = max(area.values(), default=1.0) or 1.0
        # the root keeps a large ground from being moved by any number of small words
        return {role: 0.05 + (value / most) ** 0.5 for role, value in area.items()}

    def run(self, progress: Progress) -> MendedAll:
        failing = self._failing()
        before = self._runs(failing)
        best = (before, self._study)
        for _ in range(_MOST_STEPS):
            open_ = failing - self._hopeless
            if not open_:
                break
            progress("mending", before - best[0], before)
            worst = max(open_, key=lambda pairing: (self._runs([pairing]), -pairing))
            step = self._best_step(worst) or self._forced_step(worst)
            if step is None:
                self._hopeless.add(worst)
                continue
            self._study = self._study.with_values({step[0]: css_text(step[1])})
            failing = self._failing()
            if worst in failing:
                self._hopeless.add(worst)
            if self._runs(failing) < best[0]:
                best = (self._runs(failing), self._study)
        self._study = best[1]
        self._move_back()
        left = self._failing()
        return MendedAll(self._study, self._moves(), self._named(left), before, self._runs(left))

    def _forced_step(self, pairing: int) -> tuple[str, Colour] | None:
        """Return a colour that mends a pairing although it harms others, whose other roles may follow; once a role.

        What stands against a locked role, or against no role, must still read.
        """
        verdict = self._verdicts(self._study)
        best: tuple[float, str, Colour] | None = None
        for role in self._roles_of[pairing]:
            if role in self._locks or (role, pairing) in self._forced:
                continue
            self._forced.add((role, pairing))
            counterparts, numbers = counterparts_of(self._site, self._study, role)
            keep = [
                row for row, place in enumerate(counterparts.pairing)
                if (owner := numbers[int(place)]) == pairing
                or (verdict[owner] == PASS and not self._may_follow(owner, role))
            ]  # fmt: skip
            colour = nearest_readable(self._original[role], counterparts.only(keep)).colour
            if colour is not None:
                cost = self._weight.get(role, 1.0) * self._apart(role, colour)
                if best is None or cost < best[0]:
                    best = (cost, role, colour)
        return (best[1], best[2]) if best else None

    def _may_follow(self, pairing: int, role: str) -> bool:
        return any(other != role and other not in self._locks for other in self._roles_of[pairing])

    def _verdicts(self, study: Study) -> np.ndarray:
        return self._site.index.compiled.read(self._site.tokens.values(study), study.level).verdict

    def _failing(self, study: Study | None = None) -> set[int]:
        verdict = self._verdicts(study or self._study)
        return {int(n) for n in np.nonzero(verdict == FAIL)[0] if self._site.index.counts(int(n))}

    def _runs(self, pairings: Iterable[int]) -> int:
        return len(self._site.index.runs_of(list(pairings)))

    def _best_step(self, pairing: int) -> tuple[str, Colour] | None:
        """Return the role and colour that mend a pairing at the least cost, harming nothing that reads."""
        verdict = self._verdicts(self._study)
        best: tuple[float, str, Colour] | None = None
        for role in self._roles_of[pairing]:
            if role in self._locks:
                continue
            colour = self._colour_for(role, pairing, verdict)
            if colour is None:
                continue
            cost = self._weight.get(role, 1.0) * self._apart(role, colour)
            if best is None or cost < best[0]:
                best = (cost, role, colour)
        return (best[1], best[2]) if best else None

    def _colour_for(self, role: str, pairing: int, verdict: np.ndarray) -> Colour | None:
        counterparts, numbers = counterparts_of(self._site, self._study, role)
        owners = [numbers[int(place)] for place in counterparts.pairing]
        if pairing not in owners:
            return None
        everything = nearest_readable(self._original[role], counterparts).colour
        if everything is not None:
            return everything
        keep = [row for row, owner in enumerate(owners) if owner == pairing or verdict[owner] == PASS]
        return nearest_readable(self._original[role], counterparts.only(keep)).colour

    def _apart(self, role: str, colour: Colour) -> float:
        one, other = (oklab_from_srgb(np.array(c.rgb)) for c in (self._original[role], colour))
        return float(delta_e_ok(one, other))

    def _move_back(self) -> None:
        """Let each moved role go back towards where it was, as far as everything that reads still reads."""
        for _ in range(_ROUNDS_BACK):
            moved = False
            for role in [r.name for r in self._study.roles if r.colour.rgb != self._original[r.name].rgb]:
                verdict = self._verdicts(self._study)
                counterparts, numbers = counterparts_of(self._site, self._study, role)
                keep = [row for row, place in enumerate(counterparts.pairing) if verdict[numbers[int(place)]] == PASS]
                nearest = nearest_readable(self._original[role], counterparts.only(keep)).colour
                now = self._study.role(role).colour
                if nearest is not None and self._apart(role, nearest) < self._apart(role, now) - 1e-6:
                    changed = self._study.with_values({role: css_text(nearest.with_alpha(now.alpha))})
                    if len(self._failing(changed)) <= len(self._failing()):
                        self._study, moved = changed, True
            if not moved:
                return

    def _moves(self) -> list[Move]:
        found = []
        tokens = self._site.tokens.roles(self._study)
        for role in self._study.roles:
            before = self._original[role.name]
            if role.colour.rgb != before.rgb:
                own = {number for number, name in tokens.items() if name == role.name}
                runs = self._runs(self._site.index.involving(own))
                found.append(Move(role.name, before, role.colour, self._apart(role.name, role.colour), runs))
        return found

    def _named(self, left: set[int]) -> list[Left]:
        """Gather what is left by the locks that stand against it."""
        by_locks: dict[tuple[str, ...], list[int]] = {}
        for pairing in sorted(left):
            locks = tuple(role for role in self._roles_of[pairing] if role in self._locks)
            by_locks.setdefault(locks, []).append(pairing)
        return [
            Left(tuple(some), locks, self._give(locks, some), tuple(sorted(self._site.index.runs_of(some).tolist())))
            for locks, some in by_locks.items()
        ]

    def _give(self, locks: tuple[str, ...], pairings: list[int]) -> tuple[str, Colour] | None:
        best: tuple[float, str, Colour] | None = None
        for role in locks:
            counterparts, numbers = counterparts_of(self._site, self._study, role)
            keep = [row for row, place in enumerate(counterparts.pairing) if numbers[int(place)] in pairings]
            colour = nearest_readable(self._original[role], counterparts.only(keep)).colour
            if colour is not None and (best is None or self._apart(role, colour) < best[0]):
                best = (self._apart(role, colour), role, colour)
        return (best[1], best[2]) if best else None
