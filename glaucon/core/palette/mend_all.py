"""Mending everything at once: the colours of a study moved as little as may be until every text reads.

The pairings of the site become rows of one problem (`joint`): how the seen words and ground follow each role's colour.
Roles that are locked stay; a role with a tie moves with the one it follows. What stays hard to read is named with the
proof that nothing helps (`impossible`), the locks that stand against it, and the least they would have to give.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field

import numpy as np

from glaucon.core.colour.contrast import relative_luminance
from glaucon.core.colour.oklab import Floats, delta_e_ok, oklab_from_srgb, oklch_from_oklab
from glaucon.core.colour.value import Colour, css_text
from glaucon.core.palette.candidates import Candidates, candidates_of
from glaucon.core.palette.impossible import MOST_BOXES, can_read
from glaucon.core.palette.joint import MIDDLE, Numbers, Problem, Spots, Variable, bounds_of, kept_to, solve
from glaucon.core.palette.known import KnownSite
from glaucon.core.palette.mend_rows import mend_rows
from glaucon.core.palette.study import Study
from glaucon.core.palette.ties import Tie
from glaucon.core.reading.reading import FAIL, LEVELS, PASS
from glaucon.core.survey.site import Progress

_SEEN_AT_REST = 0.002  # of all ground: what shows in a state alone has far less
_WIDE = 0.02  # of all ground: pages, panels and sections rather than buttons
_FEW_BOXES = 2_000
_KEEPS = 6.0  # what reads weighs more than what does not yet


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
    floors: Mapping[str, float] | None = None,
    is_draft: bool = False,
) -> MendedAll:
    """Return a study with the least change found under which every text that can be judged reads.

    `locks` are kept beside the study's own; `floors` are OKLCH chromas that roles do not fall under. `progress` is
    told ("mending", step, steps) and may raise to cancel; `most_boxes` is how long a proof is looked for. In a
    draft, a study nobody has seen yet, dark grounds may move further.
    Raises: StudyError: a lock that is no role of the study.
    """
    locked = {study.role(name).name for name in locks} | {role.name for role in study.roles if role.locked}
    return _Mend(site, study, frozenset(locked), floors or {}, is_draft).run(progress, most_boxes)


def spots_of(site: KnownSite, study: Study) -> tuple[Spots, Floats]:
    """Return every row that mending looks at and the luminance bounds of the roles, those of no lock (see `joint`)."""
    mend = _Mend(site, study, frozenset(), {})
    return mend._spots(), mend._bounds()


def hopeless(site: KnownSite, study: Study, pairings: Iterable[int]) -> set[int]:
    """Return those of some pairings that no colours let read, each by itself: locks, and all other texts, aside."""
    mend = _Mend(site, study, frozenset(), {}, is_draft=True)
    spots, bounds = mend._spots(), mend._bounds()
    found = set()
    for pairing in pairings:
        rows = np.nonzero(spots.pairing == pairing)[0]
        # what mending cannot foretell is nothing it could help either
        if not len(rows) or any(can_read(spots.only([int(row)]), bounds, _FEW_BOXES) is False for row in rows):
            found.add(pairing)
    return found


class _Mend:
    def __init__(
        self, site: KnownSite, study: Study, locks: frozenset[str], floors: Mapping[str, float], is_draft: bool = False
    ) -> None:
        self._is_draft = is_draft
        self._site = site
        self._floors = floors
        self._study = study
        self._locks = locks
        tokens = site.tokens.roles(study)
        used = sorted(set(tokens.values()))
        self._names = [role.name for role in study.roles if role.name in used or role.name in study.ties]
        self._number = {name: n for n, name in enumerate(self._names)}
        self._roles_of = [
            sorted({tokens[number] for number in site.index.tokens_of(pairing) if number in tokens})
            for pairing in range(len(site.survey.pairings))
        ]
        self._tokens = tokens
        self._verdict = site.index.compiled.read(site.tokens.values(study), study.level).verdict

    def run(self, progress: Progress, most_boxes: int) -> MendedAll:
        failing = self._failing(self._study)
        before = self._runs(failing)
        if not failing:
            return MendedAll(self._study)
        progress("mending", 0, 3)
        spots = self._spots()
        problem = Problem(self._colours(), self._variables(), self._without(spots, self._held()), self._bounds())
        progress("mending", 1, 3)
        mended = mend_rows(problem, most_boxes)
        progress("mending", 2, 3)
        study = self._taking(self._wearing(problem, mended.solved.colours), problem, mended.solved.failing)
        if self._runs(self._failing(study)) >= before:
            study = self._study
        proofs = {int(problem.spots.pairing[one.row]): one.rows for one in mended.impossible}
        left = self._named(problem, spots, proofs, self._failing(study))
        return MendedAll(study, self._moves(study), left, before, self._runs(self._failing(study)))

    def _colours(self) -> Floats:
        return np.array([self._study.role(name).colour.rounded().rgb for name in self._names]).reshape(-1, 3)

    def _held(self) -> list[int]:
        """Return the roles that stay: locked, or tied with a lock."""
        held = set(self._locks)
        for group in self._groups():
            if held & set(group):
                held |= set(group)
        return [self._number[name] for name in self._names if name in held]

    def _groups(self) -> list[list[str]]:
        """Return roles that move as one: an origin, and those that follow it in colour alone."""
        ties = {name: tie for name, tie in self._study.ties.items() if tie.on is None}

        def origin(name: str) -> str:
            return origin(ties[name].to) if name in ties else name

        groups: dict[str, list[str]] = {}
        for name in self._names:
            groups.setdefault(origin(name), []).append(name)
        return [sorted(group, key=lambda name: name != first) for first, group in groups.items()]

    def _variables(self) -> list[Variable]:
        weight = self._weights()
        held = set(self._held())
        colours, bounds = self._colours(), self._bounds()
        found = []
        for group in self._groups():
            numbers = [self._number[name] for name in group if name in self._number]
            if not numbers or held & set(numbers):
                continue
            own = tuple(float(v) for v in colours[numbers[0]])
            follow = _following(self._study.ties, group) if len(group) > 1 else None
            total = sum(weight.get(name, 0.05) for name in group)
            some = kept_to(candidates_of((own[0], own[1], own[2])), bounds[numbers[0]])
            some = _colourful(some, self._floors.get(group[0], 0.0))
            found.append(Variable(tuple(numbers), total, some, follow))
        return found

    def _bounds(self) -> Floats:
        """Return the luminances each role may take: grounds that are seen at rest keep their character."""
        uses = self._site.role_uses(self._study)
        area: dict[str, float] = {}
        for number, role in self._tokens.items():
            area[role] = area.get(role, 0.0) + self._site.uses[number].ground
        everything = sum(area.values())
        grounds = {
            name: area[name] > _WIDE * everything for name, use in uses.items()
            if use.kind == "ground" and area[name] > _SEEN_AT_REST * everything and name not in self._study.ties
        }  # fmt: skip
        colours = self._colours()
        found = np.tile([0.0, 1.0], (len(self._names), 1))
        for number, name in enumerate(self._names):
            if name in grounds and (grounds[name] or not self._is_draft):  # nobody knows a draft's buttons yet
                # a dark draft may lighten: its sections were placed without a look at what stands on them
                is_free = self._is_draft and float(relative_luminance(colours[number])) < MIDDLE
                found[number] = bounds_of(colours[number], grounds[name] and not is_free)
        return found

    def _weights(self) -> dict[str, float]:
        area: dict[str, float] = {}
        for number, role in self._tokens.items():
            use = self._site.uses[number]
            area[role] = area.get(role, 0.0) + use.words + 10 * use.ground
        most = max(area.values(), default=1.0) or 1.0
        # the root keeps a large ground from being moved by any number of small words
        return {role: 0.05 + (value / most) ** 0.5 for role, value in area.items()}

    def _spots(self) -> Spots:
        """Return the rows of the site, worked out once for a mapping."""
        alphas = tuple(self._study.role(name).colour.alpha for name in self._names)
        key = ("spots", tuple(self._names), alphas, self._study.level)
        known = self._site.remembered.get(key)
        if known is None or known[0] != self._study.mapping:
            if len(self._site.remembered) > 6:
                self._site.remembered.clear()
            known = (dict(self._study.mapping), self._found_spots())
            self._site.remembered[key] = known
        spots: Spots = known[1]
        weight = spots.weight * np.where(self._verdict[spots.pairing] == PASS, _KEEPS, 1.0)
        return Spots(spots.share, spots.still, spots.required, weight, spots.pairing)

    def _found_spots(self) -> Spots:
        """Return every spot of the pairings that count as a sum of roles' colours, each kind of row once.

        Source-over is linear in every colour, so black and white in each role give its share; pairings in which that
        does not foretell other colours (mixtures in other spaces, blend modes) are left out.
        """
        compiled, level = self._site.index.compiled, self._study.level
        normal, large = LEVELS[level]
        base = self._site.tokens.values(self._study)
        own: dict[str, list[int]] = {name: [] for name in self._names}
        for number, role in self._tokens.items():
            own[role].append(number)

        def sides(colours: Floats) -> Floats:
            values = base.copy()
            for name, rgb in zip(self._names, colours, strict=True):
                values[own[name], :3] = rgb
            _, words, ground = compiled.rows(values)
            return np.stack([words, ground])

        roles = len(self._names)
        black = sides(np.zeros((roles, 3)))
        share = np.zeros((2, black.shape[1], roles, 3))
        for place in range(roles):
            one = np.zeros((roles, 3))
            one[place] = 1.0
            share[:, :, place] = sides(one) - black
        tried = np.random.default_rng(7).random((roles, 3))
        told = np.einsum("sirc,rc->sic", share, tried) + black
        bent = np.abs(told - sides(tried)).max(axis=(0, 2)) > 1e-6
        owner = compiled.owner
        counts = np.array([self._site.index.counts(int(n)) for n in range(compiled.size)], dtype=bool)
        keep = ~np.isin(owner, owner[bent | np.isnan(black).any(axis=(0, 2))]) & counts[owner]
        required = np.where(compiled.large[owner], large, normal)
        share[np.abs(share) < 1e-9] = 0
        numbers = np.nonzero(keep)[0]
        texts = np.array([self._runs([int(n)]) for n in range(compiled.size)], dtype=float)
        weight = 1 + np.log1p(texts)
        whole = Spots(share, black, required, weight[owner], owner)
        return whole.only(numbers)

    def _without(self, spots: Spots, held: list[int]) -> Spots:
        """Return the rows with the colours of some roles put in, those left that any role still moves."""
        colours = self._colours()
        still = np.einsum("sirc,rc->sic", spots.share[:, :, held], colours[held]) + spots.still
        share = spots.share.copy()
        share[:, :, held] = 0
        return Spots(share, still, spots.required, spots.weight, spots.pairing)

    def _wearing(self, problem: Problem, colours: Floats) -> Study:
        values = {}
        for variable in problem.variables:
            role = variable.roles[0]
            if np.abs(colours[role] - problem.colours[role]).max() > 1e-9:
                red, green, blue = (float(v) for v in colours[role])
                name = self._names[role]
                alpha = self._study.role(name).colour.alpha
                values[name] = css_text(Colour(red, green, blue, alpha))
        return self._study.with_values(values)

    def _taking(self, study: Study, problem: Problem, failing: Numbers) -> Study:
        """Return the study with colours near a role's made one with it, where its own reads and theirs does not."""
        left = self._failing(study)
        near = left - {int(problem.spots.pairing[row]) for row in failing}
        free = {self._names[role] for variable in problem.variables for role in variable.roles}
        roles = {role for pairing in near for role in self._roles_of[pairing]} & free
        unchanged = [name for name in sorted(roles) if not study.role(name).is_changed]
        for some in (*([name] for name in unchanged), unchanged):
            taken = study.with_roles({name: {"taken": True} for name in some})
            if (still := self._failing(taken)) < left:
                study, left = taken, still
        return study

    def _failing(self, study: Study) -> set[int]:
        verdict = self._site.index.compiled.read(self._site.tokens.values(study), study.level).verdict
        return {int(n) for n in np.nonzero(verdict == FAIL)[0] if self._site.index.counts(int(n))}

    def _runs(self, pairings: Iterable[int]) -> int:
        return len(self._site.index.runs_of(list(pairings)))

    def _moves(self, study: Study) -> list[Move]:
        found = []
        for role in study.roles:
            before = self._study.role(role.name).colour
            if role.colour.rgb != before.rgb or role.taken != self._study.role(role.name).taken:
                own = {number for number, name in self._tokens.items() if name == role.name}
                apart = float(delta_e_ok(np.array(before.rgb), np.array(role.colour.rgb)))
                runs = self._runs(self._site.index.involving(own))
                found.append(Move(role.name, before, role.colour, apart, runs))
        return found

    def _named(self, problem: Problem, spots: Spots, proofs: dict[int, tuple[int, ...]], left: set[int]) -> list[Left]:
        """Gather what is left by its proof and the locks that stand against it."""
        gathered: dict[tuple[tuple[str, ...], tuple[int, ...]], list[int]] = {}
        for pairing in sorted(left):
            rows = proofs.get(pairing, ())
            others = tuple(sorted({int(spots.pairing[row]) for row in rows} - {pairing}))
            locks = {role for one in (pairing, *others) for role in self._roles_of[one]} & self._locks
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
            number = self._number[name]
            own = tuple(float(v) for v in problem.colours[number])
            some = kept_to(candidates_of((own[0], own[1], own[2])), problem.bounds[number])
            freed = Variable((number,), 1.0, some)
            held = [n for n in self._held() if n != number]
            tried = Problem(
                problem.colours, [*problem.variables, freed], self._without(spots, held).only(rows), problem.bounds
            )
            found = solve(tried)
            apart = float(delta_e_ok(problem.colours[number], found.colours[number]))
            rank = (len(found.failing), apart)
            if len(found.failing) < len(rows) and (best is None or rank < best[:2]):
                red, green, blue = (float(v) for v in found.colours[number])
                best = (*rank, name, Colour(red, green, blue))
        return (best[2], best[3]) if best else None


def _colourful(candidates: Candidates, floor: float) -> Candidates:
    """Return the candidates of a chroma or more; all where none has it."""
    if floor <= 0:
        return candidates
    chroma = oklch_from_oklab(oklab_from_srgb(candidates.colours))[:, 1]
    keep = np.nonzero(chroma >= floor)[0]
    return candidates.only(keep) if len(keep) else candidates


def _following(ties: dict[str, Tie], group: list[str]) -> Callable[[Floats], Floats]:
    def follow(first: Floats) -> Floats:
        worn = {group[0]: first}
        waiting = group[1:]
        while waiting:
            name = next(one for one in waiting if ties[one].to in worn)
            worn[name] = ties[name].shifted(worn[ties[name].to])
            waiting.remove(name)
        return np.stack([worn[name] for name in group], axis=1)

    return follow
