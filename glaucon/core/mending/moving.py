"""The state of the search: token colours as moved so far, from a study towards one in which all text is readable."""

from __future__ import annotations

import math
import time
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

import numpy as np

from glaucon.core.colour.oklab import Floats, oklab_from_srgb, oklch_from_oklab
from glaucon.core.known.site import KnownSite
from glaucon.core.mending.harm import AtRisk
from glaucon.core.mending.seen_rows import Numbers, SeenRows
from glaucon.core.mending.standing import Mask, areas, dimmed, on_pictures
from glaucon.core.mending.still_itself import FARTHEST, FARTHEST_WIDE, Choices, choices_of
from glaucon.core.study.roles import Role
from glaucon.core.study.study import Study
from glaucon.core.study.wearing import share_of_opacity


@dataclass(frozen=True, slots=True)
class MovedAsOne:
    """Tokens of a role that move as one: all of them, or those of a part."""

    role: str
    tokens: frozenset[int]
    is_part: bool = False


@dataclass(slots=True)
class MovedColours:
    """What was found: a colour (sRGB) for each role that moves, and for each part of a role."""

    roles: dict[str, tuple[float, float, float]] = field(default_factory=dict)
    parts: list[tuple[MovedAsOne, tuple[float, float, float]]] = field(default_factory=list)


@dataclass(frozen=True, slots=True)
class Manner:
    """How to search: how far backgrounds may move, of buttons and of wide ones; whether what is locked may be parted,
    its colour staying elsewhere; what share of the text that a colour makes readable may get hard to read by it, to be
    fixed by place; chromas that roles do not fall under; pairings that are not to be made worse (see `harm`)."""

    farthest: tuple[float, float] = (FARTHEST, FARTHEST_WIDE)
    parts_locked: bool = False
    may_break: float = 0.0
    floors: Mapping[str, float] = field(default_factory=dict)
    guarded: frozenset[int] = frozenset()


class Moving:
    """Where the colours are now, what they make of each text, and which roles and parts of roles have moved."""

    def __init__(
        self, known: KnownSite, study: Study, locks: Iterable[str], needed: tuple[float, float],
        until: float = math.inf, manner: Manner | None = None,
    ) -> None:  # fmt: skip
        self.known, self.study, self._until = known, study, until
        self.manner = manner or Manner()
        self.locks = set(locks)
        self.rows = SeenRows(known, study, needed)
        self.at_risk = AtRisk(known, study, self.manner.guarded)
        self.values = known.tokens.values(study)
        self.start = self.values.copy()
        self.roles = {role.id: role for role in study.roles}
        self.role_of = known.tokens.roles(study)
        self.tokens_of = {role: frozenset(some) for role, some in known.tokens.tokens_of(study).items()}
        self.found = MovedColours()
        self.parts: list[MovedAsOne] = []
        self.parted: dict[str, set[int]] = {}
        self.area = areas(known)
        self.ratios = self.rows.ratios(self.values)
        self.first = self.ratios.copy()
        texts = known.index.text_counts.astype(float)
        painted = known.weights / max(float(known.weights.sum()), 1e-9)
        self.weight = (texts / max(float(texts.sum()), 1.0) + painted) / 2 + 1e-9
        self.on_picture = on_pictures(known, study, self.values)
        self.dimmed = dimmed(known, study, self.values)

    @property
    def is_late(self) -> bool:
        """Return whether the time for searching is over."""
        return time.thread_time() > self._until

    def unread(self, among: Mask | None = None) -> Numbers:
        """Return the pairings that are hard to read now."""
        bad = ~self.rows.reads(self.ratios) & self.rows.counts
        return np.nonzero(bad if among is None else bad & among)[0]

    def put(self, group: MovedAsOne, rgb: Floats) -> None:
        own = sorted(group.tokens)
        self.values[own, :3], self.values[own, 3] = rgb, self.alphas(self.roles[group.role], group)

    def wear(self, group: MovedAsOne, rgb: Floats) -> None:
        self.put(group, rgb)
        self.ratios = self.rows.ratios(self.values)
        red, green, blue = (float(v) for v in rgb)
        self.note(group, (red, green, blue))

    def note(self, group: MovedAsOne, rgb: tuple[float, float, float]) -> None:
        if not group.is_part:
            self.found.roles[group.role] = rgb
            return
        if group not in self.parts:
            self.parts.append(group)
            # out of a part that it was part of
            for number, (one, own) in enumerate(self.found.parts):
                if one.tokens & group.tokens:
                    smaller = MovedAsOne(one.role, one.tokens - group.tokens, True)
                    self.found.parts[number] = (smaller, own)
                    self.parts[self.parts.index(one)] = smaller
            self.parted.setdefault(group.role, set()).update(group.tokens)
        self.found.parts = [one for one in self.found.parts if one[0] != group and one[0].tokens] + [(group, rgb)]
        self.parts = [one for one in self.parts if one.tokens]

    def alphas(self, role: Role, group: MovedAsOne) -> Floats:
        tokens = self.known.tokens.tokens
        return np.array([role.colour.alpha * share_of_opacity(role, tokens[t]) for t in sorted(group.tokens)])

    def colour_of(self, group: MovedAsOne) -> tuple[float, float, float]:
        part = next((rgb for one, rgb in self.found.parts if one == group), None)
        if part is not None:
            return part
        moved = self.found.roles.get(group.role)
        return moved if moved is not None else self.roles[group.role].colour.rounded().rgb

    def wholes(self, role: str, own: frozenset[int]) -> list[MovedAsOne]:
        """Return what some tokens of a role move with: the parts they are in, or the rest of the role."""
        parts = [group for group in self.parts if group.role == role and group.tokens & own]
        rest = self.tokens_of[role] - self.parted.get(role, set())
        return [*parts, MovedAsOne(role, frozenset(rest))] if own & rest else parts

    def choices(self, group: MovedAsOne, farthest: float = np.inf) -> Choices:
        """Return what a group may become, no less colourful than its role has to stay."""
        choices = choices_of(self.colour_of(group), farthest)
        if floor := self.manner.floors.get(group.role):
            chroma = oklch_from_oklab(oklab_from_srgb(choices.colours))[:, 1]
            choices = choices.only((chroma >= floor) | (choices.delta_e_ok == 0))
        return choices

    def weight_of(self, tokens: frozenset[int] | set[int]) -> float:
        touched = np.array(sorted(self.known.index.involving(set(tokens))), dtype=np.int64)
        reads = self.rows.reads(self.ratios)[touched] & ~self.rows.reads(self.first)[touched]
        return float(self.weight[touched[reads]].sum())
