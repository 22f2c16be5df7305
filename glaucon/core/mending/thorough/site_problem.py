"""The rows, roles and bounds of one site and study, as the problem that mending solves (see `joint`)."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable

import numpy as np

from glaucon.core.colour.oklab import Floats
from glaucon.core.mending.thorough.joint import Problem, Spots, Variable, bounds_of, kept_to
from glaucon.core.proposal.known import KnownSite
from glaucon.core.reading.candidates import candidates_of
from glaucon.core.reading.reading import LEVELS, PASS
from glaucon.core.study.study import Study
from glaucon.core.study.ties import Tie

_SEEN_AT_REST = 0.002  # of all ground: what shows in a state alone has far less
_WIDE = 0.02  # of all ground: pages, panels and sections rather than buttons
_KEEPS = 6.0  # what reads weighs more than what does not yet


class SiteProblem:
    """A site under a study: `names` are the roles in use, in the order that all arrays by role have.

    `roles_of` are the roles in each pairing, `tokens` the role of each token by number.
    """

    def __init__(
        self,
        site: KnownSite,
        study: Study,
        locks: frozenset[str] = frozenset(),
        until: float = math.inf,
    ) -> None:
        self.site, self.study, self.locks = site, study, locks
        self._until = until
        tokens = site.tokens.roles(study)
        used = sorted(set(tokens.values()))
        self.names = [role.id for role in study.roles if role.id in used or role.id in study.ties]
        self.number = {name: n for n, name in enumerate(self.names)}
        self.roles_of = [
            sorted({tokens[number] for number in site.index.tokens_of(pairing) if number in tokens})
            for pairing in range(len(site.survey.pairings))
        ]
        self.tokens = tokens
        self._verdict = site.compiled(study).read(site.tokens.values(study), study.aim).verdict

    def problem(self, spots: Spots) -> Problem:
        """Return the problem of some rows, what is held put in."""
        return Problem(
            self.colours(), self.variables(), self.without(spots, self.held()), self.bounds(), self._until
        )  # fmt: skip

    def texts(self, pairings: Iterable[int]) -> int:
        """Return how many texts show some pairings, each once."""
        return len(self.site.index.runs_of(list(pairings)))

    def colours(self) -> Floats:
        """Return the roles' colours, shape (roles, 3)."""
        return np.array([self.study.role(name).colour.rounded().rgb for name in self.names]).reshape(-1, 3)

    def held(self) -> list[int]:
        """Return the roles that stay: locked, or tied with a lock."""
        held = set(self.locks)
        for group in self._groups():
            if held & set(group):
                held |= set(group)
        return [self.number[name] for name in self.names if name in held]

    def _groups(self) -> list[list[str]]:
        """Return roles that move as one: an origin, and those that follow it in colour alone."""
        ties = {name: tie for name, tie in self.study.ties.items() if tie.on is None}

        def origin(name: str) -> str:
            return origin(ties[name].to) if name in ties else name

        groups: dict[str, list[str]] = {}
        for name in self.names:
            groups.setdefault(origin(name), []).append(name)
        return [sorted(group, key=lambda name: name != first) for first, group in groups.items()]

    def variables(self) -> list[Variable]:
        """Return what may move, each with what its move costs and its candidates."""
        weight = self._weights()
        held = set(self.held())
        colours, bounds = self.colours(), self.bounds()
        found = []
        for group in self._groups():
            numbers = [self.number[name] for name in group if name in self.number]
            if not numbers or held & set(numbers):
                continue
            own = tuple(float(v) for v in colours[numbers[0]])
            follow = _following(self.study.ties, group) if len(group) > 1 else None
            total = sum(weight.get(name, 0.05) for name in group)
            some = kept_to(candidates_of((own[0], own[1], own[2])), bounds[numbers[0]])
            found.append(Variable(tuple(numbers), total, some, follow))
        return found

    def bounds(self) -> Floats:
        """Return the luminances each role may take: grounds that are seen at rest keep their character."""
        uses = self.site.role_uses(self.study)
        area: dict[str, float] = {}
        for number, role in self.tokens.items():
            area[role] = area.get(role, 0.0) + self.site.uses[number].background
        everything = sum(area.values())
        grounds = {
            name: area[name] > _WIDE * everything for name, use in uses.items()
            if use.kind == "background" and area[name] > _SEEN_AT_REST * everything and name not in self.study.ties
        }  # fmt: skip
        colours = self.colours()
        found = np.tile([0.0, 1.0], (len(self.names), 1))
        for number, name in enumerate(self.names):
            if name in grounds:
                found[number] = bounds_of(colours[number], grounds[name])
        return found

    def _weights(self) -> dict[str, float]:
        area: dict[str, float] = {}
        for number, role in self.tokens.items():
            use = self.site.uses[number]
            area[role] = area.get(role, 0.0) + use.text + 10 * use.background
        most = max(area.values(), default=1.0) or 1.0
        # the root keeps a large ground from being moved by any number of small words
        return {role: 0.05 + (value / most) ** 0.5 for role, value in area.items()}

    def spots(self) -> Spots:
        """Return the rows of the site, worked out once for a mapping."""
        alphas = tuple(self.study.role(name).colour.alpha for name in self.names)
        key = ("spots", tuple(self.names), alphas, self.study.aim, self.study.extra_css)
        known = self.site.remembered.get(key)
        if known is None or known[0] != self.study.mapping:
            if len(self.site.remembered) > 6:
                self.site.remembered.clear()
            known = (dict(self.study.mapping), self._found())
            self.site.remembered[key] = known
        spots: Spots = known[1]
        reads = self._verdict[spots.pairing] == PASS
        weight = spots.weight * np.where(reads, _KEEPS, 1.0)
        return Spots(spots.share, spots.still, spots.required, weight, spots.pairing)

    def _found(self) -> Spots:
        """Return every spot of the pairings that count as a sum of roles' colours, each kind of row once.

        Source-over is linear in every colour, so black and white in each role give its share; pairings in which that
        does not foretell other colours (mixtures in other spaces, blend modes) are left out.
        """
        compiled, level = self.site.compiled(self.study), self.study.aim
        normal, large = LEVELS[level]
        base = self.site.tokens.values_if_changed(self.study)
        own: dict[str, list[int]] = {name: [] for name in self.names}
        for number, role in self.tokens.items():
            own[role].append(number)

        def sides(colours: Floats) -> Floats:
            values = base.copy()
            for name, rgb in zip(self.names, colours, strict=True):
                values[own[name], :3] = rgb
            _, words, ground = compiled.rows(values)
            return np.stack([words, ground])

        roles = len(self.names)
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
        counts = np.array([self.site.index.counts(int(n)) for n in range(compiled.size)], dtype=bool)
        keep = ~np.isin(owner, owner[bent | np.isnan(black).any(axis=(0, 2))]) & counts[owner]
        required = compiled.needed(normal, large)[owner]
        share[np.abs(share) < 1e-9] = 0
        numbers = np.nonzero(keep)[0]
        texts = np.array([self.texts([int(n)]) for n in range(compiled.size)], dtype=float)
        # a gradient is many spots of one pairing, no more worth than one of a plain ground
        weight = (1 + np.log1p(texts)) / np.maximum(1, np.bincount(owner, minlength=compiled.size))
        whole = Spots(share, black, required, weight[owner], owner)
        return whole.only(numbers)

    def without(self, spots: Spots, held: list[int]) -> Spots:
        """Return the rows with the colours of some roles put in, those left that any role still moves."""
        colours = self.colours()
        still = np.einsum("sirc,rc->sic", spots.share[:, :, held], colours[held]) + spots.still
        share = spots.share.copy()
        share[:, :, held] = 0
        return Spots(share, still, spots.required, spots.weight, spots.pairing)


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
