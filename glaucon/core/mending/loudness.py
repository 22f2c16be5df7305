"""Contrast order among texts on the same background, kept while colours move."""

from __future__ import annotations

import numpy as np

from glaucon.core.colour.oklab import Floats
from glaucon.core.mending.moving import Moving
from glaucon.core.mending.seen_rows import Numbers
from glaucon.core.mending.standing import Mask
from glaucon.core.mending.still_itself import HARDLY, LOUDER, NUDGE


class Loudness:
    """Which texts were louder than which, and whether they still are."""

    def __init__(self, moving: Moving) -> None:
        self._moving = moving
        self._known = moving.known
        self._study = moving.study
        self._locks = moving.locks
        self._rows = moving.rows
        self._roles = moving.roles
        self._role_of = moving.role_of
        self._first = moving.first
        self._louder = self._find_louder()
        self._in_vain: set[tuple[frozenset[int], bytes]] = set()  # what was tried for order since something changed
        # the same as pairs of a quieter and a louder one
        quiet = np.repeat(list(self._louder), [len(louder) for louder in self._louder.values()]).astype(np.int64)
        self._ordered = quiet, np.concatenate([*self._louder.values(), np.zeros(0, dtype=np.int64)])

    def keep_order(self) -> None:
        """Restore contrast order: a text with more contrast than another on the same background keeps more."""
        for pairing, louder in sorted(self._louder.items(), key=lambda one: -float(self._first[one[0]])):
            under = louder[self._moving.ratios[louder] < HARDLY * self._moving.ratios[pairing]]
            if self._moving.is_late:
                return
            if not len(under) or self._bring(pairing, 0.0, float(self._moving.ratios[under].min())):
                continue
            for one in under.tolist():
                self._bring(one, float(self._moving.ratios[pairing]), np.inf, NUDGE)

    def _find_louder(self) -> dict[int, Numbers]:
        """Return, for each pairing at rest, those on the same plain background that have plainly more contrast."""
        first = self._known.compiled(self._study).read(self._moving.values, self._study.aim)
        plain = self._rows.at_rest & ~first.varied & ~np.isnan(first.ratio)
        packed = (np.nan_to_num(first.ground) * 255).round() @ np.array([65536.0, 256.0, 1.0])
        found = {}
        for ground in np.unique(packed[plain]).tolist():
            here = np.nonzero(plain & (packed == ground))[0]
            for pairing in here.tolist():
                louder = here[self._first[here] >= LOUDER * self._first[pairing]]
                if len(louder):
                    found[pairing] = louder
        return found

    def is_broken_by(self, touched: Numbers, ratios: Floats) -> Mask:
        """Return for each candidate whether its ratios, shape (n, touched), put a text above a louder one."""
        caps = np.full(len(touched), np.inf)
        for place, pairing in enumerate(touched.tolist()):
            if (louder := self._louder.get(pairing)) is not None:
                others = np.setdiff1d(louder, touched)
                if len(others):
                    # what is too quiet itself will be louder soon
                    caps[place] = max(
                        float(self._moving.ratios[others].min()), 1.02 * float(self._rows.needed[pairing])
                    )
        return np.asarray((ratios > caps).any(axis=1))

    def _bring(self, pairing: int, least: float, most: float, farthest: float = np.inf) -> bool:
        """Bring a pairing's ratio between two by its text's own colour, if all that reads still does."""
        token = self._known.index.text_token(pairing)
        role = self._role_of.get(token, "") if token is not None else ""
        if token is None or role not in self._roles or role in self._locks:
            return False
        group = self._moving.wholes(role, frozenset({token}))[0]
        choices = self._moving.choices(group, farthest)
        touched, ratios = self._rows.tried(
            self._moving.values, group.tokens, self._moving.alphas(self._roles[role], group), choices.colours
        )
        at = np.nonzero(touched == pairing)[0]
        if not len(at):
            return False
        here, were = ratios[:, at[0]], self._rows.reads(self._moving.ratios)[touched]
        reads = (ratios >= self._rows.needed[touched] * (1 - 1e-9)) | ~were
        fits = reads.all(axis=1) & (here >= least) & (here <= most) & ~choices.is_other
        if not fits.any():
            return False
        colour = choices.colours[int(np.argmin(np.where(fits, choices.delta_e_ok, np.inf)))]
        tried = group.tokens, colour.tobytes()
        if tried in self._in_vain:
            return False
        values, were_ratios, was = (
            self._moving.values.copy(),
            self._moving.ratios,
            self._moving.found.roles.get(group.role),
        )
        rgb = self._moving.colour_of(group)
        self._moving.wear(group, colour)
        if self.unordered(self._moving.ratios) < self.unordered(were_ratios):
            self._in_vain.clear()
            return True
        self._in_vain.add(tried)
        # it would only be out of order with others: a text on a dark band and on the white page
        self._moving.values, self._moving.ratios = values, were_ratios
        self._moving.note(group, rgb)
        if not group.is_part and was is None:
            del self._moving.found.roles[group.role]
        return False

    def unordered(self, ratios: Floats) -> int:
        """Return how many pairs of texts on one background are no longer in order."""
        quiet, loud = self._ordered
        return int((ratios[loud] < HARDLY * ratios[quiet]).sum())
