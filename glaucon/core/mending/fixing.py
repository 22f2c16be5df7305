"""Everything readable, and still the same site: the search.

What fails is taken pair by pair, what most text needs first. For each pair of a text and a background there are four
ways: the text's colour everywhere, or only where it fails (a part of its role); the background's, likewise. The way
that harms least for what it makes readable is taken: a colour that many readable texts wear is parted rather than
moved, a button is harder rather than its white text blackened, and a page's background moves last. Colours at rest
come first and look at nothing else; what only states show is settled after, by colours that only states show.
"""

from __future__ import annotations

import math
import time
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field

import numpy as np

from glaucon.core.colour.contrast import ratio_of_luminances, relative_luminance
from glaucon.core.colour.oklab import Floats, delta_e_ok, oklab_from_srgb, oklch_from_oklab
from glaucon.core.colour.value import Colour, css_text
from glaucon.core.known.site import KnownSite
from glaucon.core.mending.seen_rows import Numbers, SeenRows
from glaucon.core.mending.standing import WIDE, Mask, areas, dimmed, on_pictures, page_tokens
from glaucon.core.mending.still_itself import (
    BESIDE,
    FARTHEST,
    FARTHEST_WIDE,
    HARDLY,
    KEPT_APART,
    LOUDER,
    NUDGE,
    STANDS_OUT,
    Choices,
    choices_of,
    is_colourful,
)
from glaucon.core.study.roles import Role
from glaucon.core.study.study import Study
from glaucon.core.study.wearing import share_of_opacity

_PART_COSTS = 0.0015  # as harm: a readable fiftieth of the site moved by 0.075
_OTHER_COSTS = 0.02  # for a colour that gives its nature up
_FAILING_TOUCHED = 0.3  # how much a failing text's own move counts beside a readable one's
_TOUCHED = 0.02  # for a readable text that changes at all, as distance
_GROUND = 3.0  # how much more a background's area counts than text on it
# what making a text readable is worth, as harm for each share of the site's text: first what many need is found, then
# what few need, for a part of a role sooner than for all that wears it
_WORTHS = ((4.0, 4.0), (150.0, 25.0), (150.0, 60.0))
_BROKEN = 3.0  # how much worse it is to make a text hard to read
_MOST_CLEARED = 0.45  # of what the best way for a pair clears: that one which harms less may go first
_HARDLY_SEEN = 2.0  # contrast up to which a text on a picture is as good as lost already
_TURNED = 0.3  # ΔE OK
_TURNING = 0.4  # for words on a colour that turn from light to dark or back, as distance

# the part a text is in (-1: none), its role, its background's, and whether the page fades it
_Key = tuple[int, str, str, bool]


@dataclass(frozen=True, slots=True)
class Group:
    """Tokens of a role that move as one: all of them, or those of a part."""

    role: str
    tokens: frozenset[int]
    is_part: bool = False


@dataclass(slots=True)
class Found:
    """What was found: a colour (sRGB) for each role that moves, and for each part of a role."""

    roles: dict[str, tuple[float, float, float]] = field(default_factory=dict)
    parts: list[tuple[Group, tuple[float, float, float]]] = field(default_factory=list)


@dataclass(frozen=True, slots=True)
class _Option:
    group: Group
    colour: Floats
    harm: float
    fixed: float  # weight of what becomes readable
    cleared: float  # of that, what the pair that is looked at has
    also: tuple[tuple[Group, Floats], ...] = ()  # what moves with it: the other stops of a gradient


@dataclass(frozen=True, slots=True)
class Manner:
    """How to search: how far backgrounds may move, of buttons and of wide ones; whether what is locked may be parted,
    its colour staying elsewhere; what share of the text that a colour makes readable may get hard to read by it, to be
    fixed by place; chromas that roles do not fall under."""

    farthest: tuple[float, float] = (FARTHEST, FARTHEST_WIDE)
    parts_locked: bool = False
    may_break: float = 0.0
    floors: Mapping[str, float] = field(default_factory=dict)


class Search:
    """The colours of a site's tokens on their way from a study to one in which everything is readable."""

    def __init__(
        self,
        known: KnownSite,
        study: Study,
        locks: Iterable[str],
        needed: tuple[float, float],
        until: float = math.inf,
        manner: Manner | None = None,
    ) -> None:
        self._known, self._study, self._until = known, study, until
        self._manner = manner or Manner()
        self._locks = set(locks)
        self.rows = SeenRows(known, study, needed)
        self.values = known.tokens.values(study)
        self._start = self.values.copy()
        self._roles = {role.id: role for role in study.roles}
        self._role_of = known.tokens.roles(study)
        self._tokens_of = {role: frozenset(some) for role, some in known.tokens.tokens_of(study).items()}
        self.found = Found()
        self._worth = _WORTHS[0]
        self._parts: list[Group] = []
        self._parted: dict[str, set[int]] = {}
        self._area = areas(known)
        self._grounds = self._find_grounds()
        self._ratios = self.rows.ratios(self.values)
        self._first = self._ratios.copy()
        self._louder = self._find_louder()
        self._in_vain: set[tuple[frozenset[int], bytes]] = set()  # what was tried for order since something changed
        # the same as pairs of a quieter and a louder one
        quiet = np.repeat(list(self._louder), [len(louder) for louder in self._louder.values()]).astype(np.int64)
        self._ordered = quiet, np.concatenate([*self._louder.values(), np.zeros(0, dtype=np.int64)])
        texts = known.index.text_counts.astype(float)
        painted = known.weights / max(float(known.weights.sum()), 1e-9)
        self._weight = (texts / max(float(texts.sum()), 1.0) + painted) / 2 + 1e-9
        self.on_picture = on_pictures(known, study, self.values)
        self._dimmed = dimmed(known, study, self.values)
        at_rest: set[int] = set()
        for pairing in np.nonzero(self.rows.at_rest)[0].tolist():
            at_rest |= known.index.tokens_of(pairing)
        self.shown_at_rest = frozenset(at_rest)

    @property
    def is_late(self) -> bool:
        """Return whether the time for searching is over."""
        return time.thread_time() > self._until

    def unread(self, among: Mask | None = None) -> Numbers:
        """Return the pairings that are hard to read now."""
        bad = ~self.rows.reads(self._ratios) & self.rows.counts
        return np.nonzero(bad if among is None else bad & among)[0]

    def settle(self, among: Mask, hold: frozenset[int] = frozenset()) -> None:
        """Make what can be readable of some pairings so, by tokens that are not held.

        What something half clear dims is no reason to change a colour that other text wears: it is lifted over that.
        """
        among = among & ~self._dimmed
        for self._worth in _WORTHS:
            given_up: set[tuple[_Key, int]] = set()
            while not self.is_late:
                pair = next((p for p in self._pairs(among) if (p[0], len(p[1])) not in given_up), None)
                if pair is None:
                    break
                key, pairings = pair
                best = self._best(pairings, among, hold)
                if best is None or not self._take(best, among):
                    given_up.add((key, len(pairings)))

    def keep_order(self) -> None:
        """Let what was louder than another text on the same background at rest be no quieter than it now."""
        for pairing, louder in sorted(self._louder.items(), key=lambda one: -float(self._first[one[0]])):
            under = louder[self._ratios[louder] < HARDLY * self._ratios[pairing]]
            if self.is_late:
                return
            if not len(under) or self._bring(pairing, 0.0, float(self._ratios[under].min())):
                continue
            for one in under.tolist():
                self._bring(one, float(self._ratios[pairing]), np.inf, NUDGE)

    def _find_louder(self) -> dict[int, Numbers]:
        """Return, for each pairing at rest, those on the same plain background that have plainly more contrast."""
        first = self._known.compiled(self._study).read(self.values, self._study.aim)
        plain = self.rows.at_rest & ~first.varied & ~np.isnan(first.ratio)
        packed = (np.nan_to_num(first.ground) * 255).round() @ np.array([65536.0, 256.0, 1.0])
        found = {}
        for ground in np.unique(packed[plain]).tolist():
            here = np.nonzero(plain & (packed == ground))[0]
            for pairing in here.tolist():
                louder = here[self._first[here] >= LOUDER * self._first[pairing]]
                if len(louder):
                    found[pairing] = louder
        return found

    def _out_of_order(self, touched: Numbers, ratios: Floats) -> Mask:
        """Return whether, at some ratios of shape (n, touched), a text is louder than what was louder than it."""
        caps = np.full(len(touched), np.inf)
        for place, pairing in enumerate(touched.tolist()):
            if (louder := self._louder.get(pairing)) is not None:
                others = np.setdiff1d(louder, touched)
                if len(others):
                    # what is too quiet itself will be louder soon
                    caps[place] = max(float(self._ratios[others].min()), 1.02 * float(self.rows.needed[pairing]))
        return np.asarray((ratios > caps).any(axis=1))

    def _bring(self, pairing: int, least: float, most: float, farthest: float = np.inf) -> bool:
        """Bring a pairing's ratio between two by its text's own colour, if all that reads still does."""
        token = self._known.index.text_token(pairing)
        role = self._role_of.get(token, "") if token is not None else ""
        if token is None or role not in self._roles or role in self._locks:
            return False
        group = self._wholes(role, frozenset({token}))[0]
        choices = self._choices(group, farthest)
        touched, ratios = self.rows.tried(
            self.values, group.tokens, self._alphas(self._roles[role], group), choices.colours
        )
        at = np.nonzero(touched == pairing)[0]
        if not len(at):
            return False
        here, were = ratios[:, at[0]], self.rows.reads(self._ratios)[touched]
        reads = (ratios >= self.rows.needed[touched] * (1 - 1e-9)) | ~were
        fits = reads.all(axis=1) & (here >= least) & (here <= most) & ~choices.is_other
        if not fits.any():
            return False
        colour = choices.colours[int(np.argmin(np.where(fits, choices.delta_e_ok, np.inf)))]
        tried = group.tokens, colour.tobytes()
        if tried in self._in_vain:
            return False
        values, were_ratios, was = self.values.copy(), self._ratios, self.found.roles.get(group.role)
        rgb = self._colour_of(group)
        self._wear(group, colour)
        if self._unordered(self._ratios) < self._unordered(were_ratios):
            self._in_vain.clear()
            return True
        self._in_vain.add(tried)
        # it would only be out of order with others: a text on a dark band and on the white page
        self.values, self._ratios = values, were_ratios
        self._note(group, rgb)
        if not group.is_part and was is None:
            del self.found.roles[group.role]
        return False

    def follow_ties(self) -> None:
        """Let the states that follow a colour at rest follow where it went."""
        moved = {role: Colour(*rgb) for role, rgb in self.found.roles.items()}
        before = {role.id: role.value for role in self._study.roles}
        settled = self._study.with_values({role: css_text(colour) for role, colour in moved.items()})
        for role in settled.roles:
            if role.tie is not None and role.value != before[role.id] and role.id in self._tokens_of:
                self._roles[role.id] = role
                group = Group(role.id, frozenset(self._tokens_of[role.id] - self._parted.get(role.id, set())))
                self._put(group, np.array(role.colour.rgb))
        self._ratios = self.rows.ratios(self.values)

    def keep_states_seen(self) -> None:
        """Let what a state shows still differ from rest where it did."""
        for role in self._study.roles:
            rest = self._study.rest_of(role)
            if rest is None or role.id in self._locks or role.id not in self._tokens_of or self.is_late:
                continue
            group = Group(role.id, frozenset(self._tokens_of[role.id] - self._parted.get(role.id, set())))
            there = np.array(self.found.roles.get(rest.id, rest.colour.rgb))
            now = np.array(self._colour_of(group))
            was = float(delta_e_ok(np.array(role.colour.rgb), np.array(rest.colour.rgb)))
            if was < STANDS_OUT or float(delta_e_ok(now, there)) >= STANDS_OUT or not group.tokens:
                continue
            choices = self._choices(group)
            touched, ratios = self.rows.tried(self.values, group.tokens, self._alphas(role, group), choices.colours)
            were = self.rows.reads(self._ratios)[touched]
            reads = ((ratios >= self.rows.needed[touched] * (1 - 1e-9)) | ~were).all(axis=1)
            fits = reads & (delta_e_ok(choices.colours, there[None]) >= STANDS_OUT) & ~choices.is_other
            if fits.any():
                self._wear(group, choices.colours[int(np.argmin(np.where(fits, choices.delta_e_ok, np.inf)))])

    def let_go(self) -> None:
        """Take back what is not needed: without it as much is readable, in order, and states differ from rest."""
        origins = {role.tie.to for role in self._study.roles if role.tie is not None}
        for name in sorted(self.found.roles, key=self._fixed_by):
            if name not in origins and self._stays_without(self._tokens_of[name] - self._parted.get(name, set()), None):
                del self.found.roles[name]
        for group, rgb in sorted(self.found.parts, key=lambda one: self._weight_of(one[0].tokens)):
            role = self._study.role(group.role)
            whole = self.found.roles.get(group.role)
            own, there, apart = (np.array(one) for one in (role.colour.rgb, whole or role.colour.rgb, rgb))
            is_near = float(delta_e_ok(own, there)) <= float(delta_e_ok(own, apart)) + NUDGE
            if is_near and self._stays_without(group.tokens, whole):
                self.found.parts = [one for one in self.found.parts if one[0] != group]
                self._parts = [one for one in self._parts if one != group]
                self._parted[group.role] -= group.tokens

    def _fixed_by(self, name: str) -> float:
        """Return the weight of what a role's tokens made readable."""
        return self._weight_of(self._tokens_of[name] - self._parted.get(name, set()))

    def _weight_of(self, tokens: frozenset[int] | set[int]) -> float:
        touched = np.array(sorted(self._known.index.involving(set(tokens))), dtype=np.int64)
        reads = self.rows.reads(self._ratios)[touched] & ~self.rows.reads(self._first)[touched]
        return float(self._weight[touched[reads]].sum())

    def _stays_without(self, tokens: frozenset[int] | set[int], rgb: tuple[float, float, float] | None) -> bool:
        """Return whether all stays as good with some tokens as they were, or in a colour; then they are so."""
        if self.is_late or not tokens:
            return False
        values, own = self.values.copy(), sorted(tokens)
        if rgb is None:
            values[own] = self._start[own]
        else:
            values[own, :3] = rgb
        ratios = self.rows.ratios(values)
        hard = ~self.rows.reads(ratios) & self.rows.reads(self._ratios) & self.rows.counts
        if hard.any() or self._unordered(ratios) > self._unordered(self._ratios):
            return False
        if self._states_lost(values) > self._states_lost(self.values):
            return False
        self.values, self._ratios = values, ratios
        return True

    def _unordered(self, ratios: Floats) -> int:
        """Return how many pairs of texts on one background are no longer in order."""
        quiet, loud = self._ordered
        return int((ratios[loud] < HARDLY * ratios[quiet]).sum())

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

    def _put(self, group: Group, rgb: Floats) -> None:
        own = sorted(group.tokens)
        self.values[own, :3], self.values[own, 3] = rgb, self._alphas(self._roles[group.role], group)

    def _wear(self, group: Group, rgb: Floats) -> None:
        self._put(group, rgb)
        self._ratios = self.rows.ratios(self.values)
        red, green, blue = (float(v) for v in rgb)
        self._note(group, (red, green, blue))

    def _pairs(self, among: Mask) -> Iterator[tuple[_Key, Numbers]]:
        """Yield what fails by the two roles that meet (and the part of the text's), the most text first."""
        gathered: dict[_Key, list[int]] = {}
        for pairing in self.unread(among & ~self.on_picture).tolist():
            faded = self._known.index.fading(pairing, self.rows.compiled.fades) < 1
            token = self._known.index.text_token(pairing)
            text = self._role_of.get(token, "") if token is not None else ""
            below = next(
                (self._role_of[t] for t in self._known.index.background_tokens(pairing) if t in self._role_of), ""
            )
            part = next((n for n, group in enumerate(self._parts) if token in group.tokens), -1)
            gathered.setdefault((part, text, below, faded), []).append(pairing)
        # what the page fades comes last: it would drag all others to black with it
        ranked = sorted(gathered.items(), key=lambda one: (one[0][3], -float(self._weight[one[1]].sum())))
        for key, some in ranked:
            yield key, np.array(some, dtype=np.int64)

    def _best(self, pairings: Numbers, among: Mask, hold: frozenset[int]) -> _Option | None:
        """Return the way that harms least for what it makes readable, among those that clear most of the pair."""
        options = [
            option for group, is_text in self._groups(pairings, hold)
            if (option := self._option(group, is_text, pairings, among, bool(hold))) is not None
        ]  # fmt: skip
        options += self._gradients(pairings, among, hold)
        if not options:
            return None
        most = max(option.cleared for option in options)
        able = [option for option in options if option.cleared >= _MOST_CLEARED * most]
        return min(able, key=lambda option: option.harm / option.fixed)

    def _groups(self, pairings: Numbers, hold: frozenset[int]) -> Iterator[tuple[Group, bool]]:
        """Yield what could move for some pairings, each with whether it is their text."""
        index = self._known.index
        words = {t for p in pairings.tolist() if (t := index.text_token(p)) is not None}
        below = {t for p in pairings.tolist() for t in index.background_tokens(p)}
        for tokens, is_text in ((words, True), (below, False)):
            for role in sorted({self._role_of[t] for t in tokens if t in self._role_of}):
                is_locked = role in self._locks
                if is_locked and not self._manner.parts_locked:
                    continue
                own = frozenset(t for t in tokens if self._role_of.get(t) == role)
                for whole in self._wholes(role, own):
                    allowed = whole.tokens - hold
                    if allowed == whole.tokens and (whole.is_part or not is_locked):
                        yield whole, is_text
                    some = own & allowed
                    if some and some != whole.tokens:
                        yield Group(role, some, is_part=True), is_text

    def _wholes(self, role: str, own: frozenset[int]) -> list[Group]:
        """Return what some tokens of a role move with: the parts they are in, or the rest of the role."""
        parts = [group for group in self._parts if group.role == role and group.tokens & own]
        rest = self._tokens_of[role] - self._parted.get(role, set())
        return [*parts, Group(role, frozenset(rest))] if own & rest else parts

    def _option(self, group: Group, is_text: bool, pairings: Numbers, among: Mask, is_state: bool) -> _Option | None:
        """Return the colour of a group that is worth most for some pairings; None where none is worth its harm."""
        role, now = self._roles[group.role], self._colour_of(group)
        area = 0.0 if is_text else sum(self._area[t] for t in group.tokens)
        # what only a state shows may go as far as it must
        farthest = np.inf if is_text or is_state else self._manner.farthest[area > WIDE]
        choices = self._choices(group, farthest)
        if not is_text:
            choices = choices.only(~choices.is_other & self._is_apart(group, choices))
        touched, ratios = self.rows.tried(self.values, group.tokens, self._alphas(role, group), choices.colours)
        counted = among[touched]
        if not counted.any():
            return None
        touched, ratios = touched[counted], ratios[:, counted]
        reads, was = ratios >= self.rows.needed[touched] * (1 - 1e-9), self.rows.reads(self._ratios)[touched]
        weight, is_new = self._weight[touched], group.is_part and group not in self._parts
        broken, fixed = (~reads & was) @ weight, (reads & ~was) @ weight
        cleared = (reads & ~was & np.isin(touched, pairings)) @ weight
        harm = (choices.delta_e_ok + _TOUCHED * (choices.delta_e_ok > 0)) * float(weight[was].sum())
        harm = harm + choices.delta_e_ok * _FAILING_TOUCHED * float(weight[~was].sum())
        if is_text and self._is_on_colour(pairings):
            # a blue button gets a little darker sooner than its white words turn black
            harm = harm + (choices.delta_e_ok > _TURNED) * _TURNING * float(weight.sum())
        harm = harm + choices.is_other * _OTHER_COSTS + choices.delta_e_ok * _GROUND * area + _PART_COSTS * is_new
        changed_much = choices.is_other | (choices.delta_e_ok > FARTHEST)
        gives_up = changed_much if is_text and is_colourful(now) and was.any() else np.zeros(len(choices), dtype=bool)
        harm = harm + (gives_up & (choices.delta_e_ok > FARTHEST)) * _OTHER_COSTS
        worth = self._worth[0 if group.is_part or not was.any() else 1]
        # on a picture nothing is made readable later, so what is not by this stays about as it is, over all of it
        seen_there = self.on_picture[touched] & (self._ratios[touched] >= _HARDLY_SEEN)
        harder = (~reads & seen_there).any(axis=1) & (choices.delta_e_ok > FARTHEST)
        # a menu over a photograph does not turn from white to black: a veil is offered for it
        harder |= (choices.delta_e_ok > _TURNED) & seen_there.any()
        # a colour by which the site is known is given up for no fewer texts than are readable in it
        harder |= gives_up & (fixed < float(weight[was].sum()))
        # what is broken would only be passed on to the next pair
        ruled_out = (broken > self._manner.may_break * fixed) | (cleared <= 0) | harder
        if is_text and self._worth is not _WORTHS[-1]:
            ruled_out |= self._out_of_order(touched, ratios)
        gain = np.where(ruled_out, -np.inf, worth * fixed - harm)
        best = int(np.argmax(gain))
        if gain[best] <= 0:
            return None
        return _Option(group, choices.colours[best], float(harm[best]) + 1e-9, float(fixed[best]), float(cleared[best]))

    def _is_on_colour(self, pairings: Numbers) -> bool:
        """Return whether some texts stand on fills by whose colour the site is known."""
        tokens = {t for p in pairings.tolist() for t in self._known.index.background_tokens(p) if t in self._role_of}
        grounds = [self.values[t, :3] for t in tokens]
        return bool(grounds) and all(is_colourful((float(r), float(g), float(b))) for r, g, b in grounds)

    def _gradients(self, pairings: Numbers, among: Mask, hold: frozenset[int]) -> Iterator[_Option]:
        """Yield ways to move all stops of a gradient at once, each as far as words of their colour need it there."""
        below = [set(self._known.index.background_tokens(p)) for p in pairings.tolist()]
        if not any(len(one) > 1 for one in below):
            return
        stops = [(group, is_text) for group, is_text in self._groups(pairings, hold) if not is_text]
        parts = [group for group, _ in stops if group.is_part]
        for some in (parts, [group for group, _ in stops if not group.is_part]):
            roles = [group.role for group in some]
            # a part for each, and each token once
            if len(set(roles)) > 1 and len(set(roles)) == len(roles):
                option = self._all_stops(some, pairings, among, bool(hold))
                if option is not None:
                    yield option

    def _all_stops(self, groups: list[Group], pairings: Numbers, among: Mask, is_state: bool) -> _Option | None:
        read = self._known.compiled(self._study).read(self.values, self._study.aim)
        worst = int(pairings[int(np.argmin(self._ratios[pairings]))])
        words, needed = relative_luminance(np.clip(read.words[worst], 0, 1)), float(self.rows.needed[pairings].max())
        values, moved, harm = self.values.copy(), [], 0.0
        readable = self.rows.reads(self._ratios)
        for group in groups:
            area = sum(self._area[t] for t in group.tokens)
            choices = self._choices(group, np.inf if is_state else self._manner.farthest[area > WIDE])
            choices = choices.only(~choices.is_other & self._is_apart(group, choices))
            fits = ratio_of_luminances(relative_luminance(choices.colours), words) >= needed
            if not fits.any():
                return None
            best = int(np.argmin(np.where(fits, choices.delta_e_ok, np.inf)))
            own, far = sorted(group.tokens), float(choices.delta_e_ok[best])
            values[own, :3] = choices.colours[best]
            values[own, 3] = self._alphas(self._roles[group.role], group)
            if far > 0:
                moved.append((group, choices.colours[best]))
            touched = [p for p in self._known.index.involving(set(group.tokens)) if among[p]]
            was = readable[touched]
            weight = self._weight[touched]
            harm += (far + _TOUCHED * (far > 0)) * float(weight[was].sum()) + far * _GROUND * area
            harm += far * _FAILING_TOUCHED * float(weight[~was].sum())
        harm += _PART_COSTS * any(group.is_part and group not in self._parts for group in groups)
        reads = self.rows.reads(self.rows.ratios(values))
        fixed = float(self._weight[reads & ~readable & among].sum())
        broken = float(self._weight[readable & ~reads & self.rows.counts].sum())
        cleared = float(self._weight[pairings[reads[pairings]]].sum())
        worth = self._worth[0 if all(group.is_part for group in groups) else 1]
        if not moved or cleared <= 0 or broken > self._manner.may_break * fixed or worth * fixed <= harm:
            return None
        (first, colour), *also = moved
        return _Option(first, colour, harm + 1e-9, fixed, cleared, tuple(also))

    def _find_grounds(self) -> dict[str, bool]:
        """Return the roles that wide backgrounds wear, and whether a page's own does."""
        pages = page_tokens(self._known)
        wide = {
            role: bool(own & pages) for role, own in self._tokens_of.items()
            if role in self._roles and sum(self._area[token] for token in own) > WIDE
        }  # fmt: skip
        return {role: is_page for role, is_page in wide.items() if self._roles[role].is_background}

    def _is_apart(self, group: Group, choices: Choices) -> Mask:
        """Return which choices leave a panel apart from the page, where it hardly differed from it before."""
        own = np.array(self._study.role(group.role).colour.rgb)
        keeps = np.ones(len(choices), dtype=bool)
        for other, is_page in self._grounds.items():
            if other == group.role or not (is_page or self._grounds.get(group.role)):
                continue
            role = self._study.role(other)
            was = float(delta_e_ok(own, np.array(role.colour.rgb)))
            if 0 < was < BESIDE:
                now = np.array(self.found.roles.get(other, role.colour.rgb))
                keeps &= delta_e_ok(choices.colours, now[None]) >= KEPT_APART * was
        return np.asarray(keeps | (choices.delta_e_ok == 0))

    def _choices(self, group: Group, farthest: float = np.inf) -> Choices:
        """Return what a group may become, no less colourful than its role has to stay."""
        choices = choices_of(self._colour_of(group), farthest)
        if floor := self._manner.floors.get(group.role):
            chroma = oklch_from_oklab(oklab_from_srgb(choices.colours))[:, 1]
            choices = choices.only((chroma >= floor) | (choices.delta_e_ok == 0))
        return choices

    def _alphas(self, role: Role, group: Group) -> Floats:
        tokens = self._known.tokens.tokens
        return np.array([role.colour.alpha * share_of_opacity(role, tokens[t]) for t in sorted(group.tokens)])

    def _colour_of(self, group: Group) -> tuple[float, float, float]:
        part = next((rgb for one, rgb in self.found.parts if one == group), None)
        if part is not None:
            return part
        moved = self.found.roles.get(group.role)
        return moved if moved is not None else self._roles[group.role].colour.rounded().rgb

    def _take(self, option: _Option, among: Mask) -> bool:
        """Wear an option's colour; False, and nothing changed, where the site is no more readable by it."""
        values = self.values.copy()
        moved = ((option.group, option.colour), *option.also)
        for group, colour in moved:
            own = sorted(group.tokens)
            values[own, :3], values[own, 3] = colour, self._alphas(self._roles[group.role], group)
        ratios = self.rows.ratios(values)
        before = float(self._weight[self.unread(among)].sum())
        kept, self._ratios = self._ratios, ratios
        if float(self._weight[self.unread(among)].sum()) >= before - 1e-12:
            self._ratios = kept
            return False
        self.values = values
        for group, colour in moved:
            red, green, blue = (float(v) for v in colour)
            self._note(group, (red, green, blue))
        return True

    def _note(self, group: Group, rgb: tuple[float, float, float]) -> None:
        if not group.is_part:
            self.found.roles[group.role] = rgb
            return
        if group not in self._parts:
            self._parts.append(group)
            # out of a part that it was part of
            for number, (one, own) in enumerate(self.found.parts):
                if one.tokens & group.tokens:
                    smaller = Group(one.role, one.tokens - group.tokens, True)
                    self.found.parts[number] = (smaller, own)
                    self._parts[self._parts.index(one)] = smaller
            self._parted.setdefault(group.role, set()).update(group.tokens)
        self.found.parts = [one for one in self.found.parts if one[0] != group and one[0].tokens] + [(group, rgb)]
        self._parts = [one for one in self._parts if one.tokens]


def fix(
    known: KnownSite,
    study: Study,
    locks: Iterable[str],
    needed: tuple[float, float],
    until: float = math.inf,
    manner: Manner | None = None,
) -> Found:
    """Return colours under which as many texts are readable as may be while the site stays itself.

    `locks` are roles that stay; `needed` are the ratios for text of normal and large size; `until` is when searching
    ends, in processor time of this thread (a busy machine gives no worse fix): the best found so far is returned.
    """
    search = Search(known, study, locks, needed, until, manner)
    at_rest = search.rows.at_rest
    search.settle(at_rest)
    search.keep_order()
    search.follow_ties()
    search.settle(search.rows.counts & ~at_rest, search.shown_at_rest)
    search.keep_states_seen()
    search.let_go()
    return search.found
