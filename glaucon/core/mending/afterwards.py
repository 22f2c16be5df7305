"""Clean-up after the search: tied roles follow, states stay distinguishable, unneeded changes are reverted."""

from __future__ import annotations

import numpy as np

from glaucon.core.colour.oklab import Floats, delta_e_ok
from glaucon.core.colour.value import Colour, css_text
from glaucon.core.mending.loudness import Loudness
from glaucon.core.mending.moving import MovedAsOne, Moving
from glaucon.core.mending.still_itself import NUDGE, STANDS_OUT


class Afterwards:
    """Puts right what moving colours has left behind."""

    def __init__(self, moving: Moving, loudness: Loudness) -> None:
        self._moving, self._loudness = moving, loudness
        self._study = moving.study
        self._locks = moving.locks
        self._rows = moving.rows
        self._start = moving.start
        self._roles = moving.roles
        self._tokens_of = moving.tokens_of
        self._parted = moving.parted

    def follow_ties(self) -> None:
        """Let the states that follow a colour at rest follow where it went."""
        moved = {role: Colour(*rgb) for role, rgb in self._moving.found.roles.items()}
        before = {role.id: role.value for role in self._study.roles}
        settled = self._study.with_values({role: css_text(colour) for role, colour in moved.items()})
        for role in settled.roles:
            if self._study.role(role.id).follows_brand:
                continue  # each is fixed by itself
            if role.tie is not None and role.value != before[role.id] and role.id in self._tokens_of:
                self._roles[role.id] = role
                group = MovedAsOne(role.id, frozenset(self._tokens_of[role.id] - self._parted.get(role.id, set())))
                self._moving.put(group, np.array(role.colour.rgb))
        self._moving.ratios = self._rows.ratios(self._moving.values)

    def keep_states_seen(self) -> None:
        """Let what a state shows still differ from rest where it did."""
        for role in self._study.roles:
            rest = self._study.rest_of(role)
            if rest is None or role.id in self._locks or role.id not in self._tokens_of or self._moving.is_late:
                continue
            group = MovedAsOne(role.id, frozenset(self._tokens_of[role.id] - self._parted.get(role.id, set())))
            there = np.array(self._moving.found.roles.get(rest.id, rest.colour.rgb))
            now = np.array(self._moving.colour_of(group))
            was = float(delta_e_ok(np.array(role.colour.rgb), np.array(rest.colour.rgb)))
            if was < STANDS_OUT or float(delta_e_ok(now, there)) >= STANDS_OUT or not group.tokens:
                continue
            choices = self._moving.choices(group)
            touched, ratios = self._rows.tried(
                self._moving.values, group.tokens, self._moving.alphas(role, group), choices.colours
            )
            were = self._rows.reads(self._moving.ratios)[touched]
            reads = ((ratios >= self._rows.needed[touched] * (1 - 1e-9)) | ~were).all(axis=1)
            fits = reads & (delta_e_ok(choices.colours, there[None]) >= STANDS_OUT) & ~choices.is_other
            if fits.any():
                self._moving.wear(group, choices.colours[int(np.argmin(np.where(fits, choices.delta_e_ok, np.inf)))])

    def let_go(self) -> None:
        """Revert each moved colour whose change is not needed: readability, contrast order and states stay as good."""
        tied = [role for role in self._study.roles if not role.follows_brand]
        origins = {role.tie.to for role in tied if role.tie is not None}
        for name in sorted(self._moving.found.roles, key=self._fixed_by):
            if name not in origins and self._stays_without(self._tokens_of[name] - self._parted.get(name, set()), None):
                del self._moving.found.roles[name]
        for group, rgb in sorted(self._moving.found.parts, key=lambda one: self._moving.weight_of(one[0].tokens)):
            role = self._study.role(group.role)
            whole = self._moving.found.roles.get(group.role)
            own, there, apart = (np.array(one) for one in (role.colour.rgb, whole or role.colour.rgb, rgb))
            is_near = float(delta_e_ok(own, there)) <= float(delta_e_ok(own, apart)) + NUDGE
            if is_near and self._stays_without(group.tokens, whole):
                self._moving.found.parts = [one for one in self._moving.found.parts if one[0] != group]
                self._moving.parts = [one for one in self._moving.parts if one != group]
                self._parted[group.role] -= group.tokens

    def _fixed_by(self, name: str) -> float:
        """Return the weight of what a role's tokens made readable."""
        return self._moving.weight_of(self._tokens_of[name] - self._parted.get(name, set()))

    def _stays_without(self, tokens: frozenset[int] | set[int], rgb: tuple[float, float, float] | None) -> bool:
        """Revert tokens (or set them to `rgb`) if no text gets less readable. Return whether the change was kept."""
        if self._moving.is_late or not tokens:
            return False
        values, own = self._moving.values.copy(), sorted(tokens)
        if rgb is None:
            values[own] = self._start[own]
        else:
            values[own, :3] = rgb
        ratios = self._rows.ratios(values)
        hard = ~self._rows.reads(ratios) & self._rows.reads(self._moving.ratios) & self._rows.counts
        if hard.any() or self._loudness.unordered(ratios) > self._loudness.unordered(self._moving.ratios):
            return False
        if self._states_lost(values) > self._states_lost(self._moving.values):
            return False
        self._moving.values, self._moving.ratios = values, ratios
        return True

    def _states_lost(self, values: Floats) -> int:
        """Return how many states hardly differ from rest any more where they did."""
        lost = 0
        for role in self._study.roles:
            rest = self._study.rest_of(role)
            if rest is None or not (mine := self._tokens_of.get(role.id)) or not (its := self._tokens_of.get(rest.id)):
                continue
            one, other = min(mine), min(its)
            was = float(delta_e_ok(self._start[one, :3], self._start[other, :3]))
            lost += was >= STANDS_OUT > float(delta_e_ok(values[one, :3], values[other, :3]))
        return lost
