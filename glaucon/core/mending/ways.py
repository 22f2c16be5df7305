"""Options for making a pair of colours readable, and the choice of the one with the lowest cost per gain."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from glaucon.core.colour.contrast import ratio_of_luminances, relative_luminance
from glaucon.core.colour.oklab import Floats, delta_e_ok
from glaucon.core.mending.loudness import Loudness
from glaucon.core.mending.moving import MovedAsOne, Moving
from glaucon.core.mending.seen_rows import Numbers
from glaucon.core.mending.standing import WIDE, Mask, page_tokens
from glaucon.core.mending.still_itself import BESIDE, FARTHEST, KEPT_APART, Choices, is_colourful

_PART_COSTS = 0.0015  # as harm: a readable fiftieth of the site moved by 0.075
_OTHER_COSTS = 0.02  # for a colour that gives its nature up
_FAILING_TOUCHED = 0.3  # how much a failing text's own move counts beside a readable one's
_TOUCHED = 0.02  # for a readable text that changes at all, as distance
_GROUND = 3.0  # how much more a background's area counts than text on it
# what making a text readable is worth, as harm for each share of the site's text: first what many need is found, then
# what few need, for a part of a role sooner than for all that wears it
_WORTHS = ((4.0, 4.0), (150.0, 25.0), (150.0, 60.0))
_MOST_CLEARED = 0.45  # of what the best way for a pair clears: that one which harms less may go first
_HARDLY_SEEN = 2.0  # contrast up to which a text on a picture is as good as lost already
_TURNED = 0.3  # ΔE OK
_TURNING = 0.4  # for words on a colour that turn from light to dark or back, as distance

# the part a text is in (-1: none), its role, its background's, and whether the page fades it
_Key = tuple[int, str, str, bool]


@dataclass(frozen=True, slots=True)
class Remedy:
    group: MovedAsOne
    colour: Floats
    harm: float
    fixed: float  # weight of what becomes readable
    cleared: float  # of that, what the pair that is looked at has
    also: tuple[tuple[MovedAsOne, Floats], ...] = ()  # what moves with it: the other stops of a gradient


class Ways:
    """Chooses and applies colour changes that make failing pairings readable, most text first."""

    def __init__(self, moving: Moving, loudness: Loudness) -> None:
        self._moving, self._loudness = moving, loudness
        self._known = moving.known
        self._study = moving.study
        self._locks = moving.locks
        self._manner = moving.manner
        self._rows = moving.rows
        self._roles = moving.roles
        self._role_of = moving.role_of
        self._tokens_of = moving.tokens_of
        self._area = moving.area
        self._weight = moving.weight
        self._on_picture = moving.on_picture
        self._dimmed = moving.dimmed
        self._worth = _WORTHS[0]
        self._grounds = self._find_grounds()

    def _pairs(self, among: Mask) -> Iterator[tuple[_Key, Numbers]]:
        """Yield failing pairings by text role, background role and part of the text's role, most text first."""
        gathered: dict[_Key, list[int]] = {}
        for pairing in self._moving.unread(among & ~self._on_picture).tolist():
            faded = self._known.index.fading(pairing, self._rows.compiled.fades) < 1
            token = self._known.index.text_token(pairing)
            text = self._role_of.get(token, "") if token is not None else ""
            below = next(
                (self._role_of[t] for t in self._known.index.background_tokens(pairing) if t in self._role_of), ""
            )
            part = next((n for n, group in enumerate(self._moving.parts) if token in group.tokens), -1)
            gathered.setdefault((part, text, below, faded), []).append(pairing)
        # what the page fades comes last: it would drag all others to black with it
        ranked = sorted(gathered.items(), key=lambda one: (one[0][3], -float(self._weight[one[1]].sum())))
        for key, some in ranked:
            yield key, np.array(some, dtype=np.int64)

    def _best(self, pairings: Numbers, among: Mask, hold: frozenset[int]) -> Remedy | None:
        """Return the option with the lowest cost per readable text, among options that fix most of the pairings."""
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

    def _groups(self, pairings: Numbers, hold: frozenset[int]) -> Iterator[tuple[MovedAsOne, bool]]:
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
                for whole in self._moving.wholes(role, own):
                    allowed = whole.tokens - hold
                    if allowed == whole.tokens and (whole.is_part or not is_locked):
                        yield whole, is_text
                    some = own & allowed
                    if some and some != whole.tokens:
                        yield MovedAsOne(role, some, is_part=True), is_text

    def _option(
        self, group: MovedAsOne, is_text: bool, pairings: Numbers, among: Mask, is_state: bool
    ) -> Remedy | None:
        """Return the colour of a group with the highest gain for the pairings; None if no gain exceeds its cost."""
        role, now = self._roles[group.role], self._moving.colour_of(group)
        area = 0.0 if is_text else sum(self._area[t] for t in group.tokens)
        # what only a state shows may go as far as it must
        farthest = np.inf if is_text or is_state else self._manner.farthest[area > WIDE]
        choices = self._moving.choices(group, farthest)
        if not is_text:
            choices = choices.only(~choices.is_other & self._is_apart(group, choices))
        alphas = self._moving.alphas(role, group)
        touched, ratios = self._rows.tried(self._moving.values, group.tokens, alphas, choices.colours)
        touched, ratios = touched[among[touched]], ratios[:, among[touched]]
        if not len(touched):
            return None
        reads, was = ratios >= self._rows.needed[touched] * (1 - 1e-9), self._rows.reads(self._moving.ratios)[touched]
        weight = self._weight[touched]
        broken, fixed = (~reads & was) @ weight, (reads & ~was) @ weight
        cleared = (reads & ~was & np.isin(touched, pairings)) @ weight
        harm = self._harm(group, choices, weight, was, area)
        # a blue button gets a little darker sooner than its white words turn black
        turning = _TURNING if is_text and self._is_on_colour(pairings) else 0.0
        harm = harm + (choices.delta_e_ok > _TURNED) * turning * float(weight.sum())
        changed_much = choices.is_other | (choices.delta_e_ok > FARTHEST)
        gives_up = changed_much if is_text and is_colourful(now) and was.any() else np.zeros(len(choices), dtype=bool)
        harm = harm + (gives_up & (choices.delta_e_ok > FARTHEST)) * _OTHER_COSTS
        worth = self._worth[0 if group.is_part or not was.any() else 1]
        harder = self._harder_on_pictures(choices, touched, reads)
        # a colour by which the site is known is given up for no fewer texts than are readable in it
        harder |= gives_up & (fixed < float(weight[was].sum()))
        # what is broken would only be passed on to the next pair
        ruled_out = (broken > self._manner.may_break * fixed) | (cleared <= 0) | harder
        if is_text and self._worth is not _WORTHS[-1]:
            ruled_out |= self._loudness.is_broken_by(touched, ratios)
        gain = self._without_worse(np.where(ruled_out, -np.inf, worth * fixed - harm), group, alphas, choices)
        best = int(np.argmax(gain))
        if gain[best] <= 0:
            return None
        return Remedy(group, choices.colours[best], float(harm[best]) + 1e-9, float(fixed[best]), float(cleared[best]))

    def _without_worse(self, gain: Floats, group: MovedAsOne, alphas: Floats, choices: Choices) -> Floats:
        """Return the gains of candidate colours without those that make worse what is guarded."""
        some = np.nonzero(gain > 0)[0]
        worse = self._moving.at_risk.by(self._moving.values, group.tokens, alphas, choices.colours[some])
        gain[some[worse]] = -np.inf
        return gain

    def _harder_on_pictures(self, choices: Choices, touched: Numbers, reads: Mask) -> Mask:
        """Return which candidate colours lower the contrast of text that lies on a picture and is visible now."""
        # there nothing is made readable later, so what is not by this stays about as it is, over all of it
        seen_there = self._on_picture[touched] & (self._moving.ratios[touched] >= _HARDLY_SEEN)
        harder = (~reads & seen_there).any(axis=1) & (choices.delta_e_ok > FARTHEST)
        # a menu over a photograph does not turn from white to black: a veil is offered for it
        return np.asarray(harder | ((choices.delta_e_ok > _TURNED) & seen_there.any()))

    def _harm(self, group: MovedAsOne, choices: Choices, weight: Floats, was: Mask, area: float) -> Floats:
        """Return the cost of each candidate colour: change to readable text, to failing text, and to painted area."""
        is_new = group.is_part and group not in self._moving.parts
        harm = (choices.delta_e_ok + _TOUCHED * (choices.delta_e_ok > 0)) * float(weight[was].sum())
        harm = harm + choices.delta_e_ok * _FAILING_TOUCHED * float(weight[~was].sum())
        return harm + choices.is_other * _OTHER_COSTS + choices.delta_e_ok * _GROUND * area + _PART_COSTS * is_new

    def _is_on_colour(self, pairings: Numbers) -> bool:
        """Return whether some texts stand on fills by whose colour the site is known."""
        tokens = {t for p in pairings.tolist() for t in self._known.index.background_tokens(p) if t in self._role_of}
        grounds = [self._moving.values[t, :3] for t in tokens]
        return bool(grounds) and all(is_colourful((float(r), float(g), float(b))) for r, g, b in grounds)

    def _gradients(self, pairings: Numbers, among: Mask, hold: frozenset[int]) -> Iterator[Remedy]:
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

    def _all_stops(self, groups: list[MovedAsOne], pairings: Numbers, among: Mask, is_state: bool) -> Remedy | None:
        read = self._known.compiled(self._study).read(self._moving.values, self._study.aim)
        worst = int(pairings[int(np.argmin(self._moving.ratios[pairings]))])
        words, needed = relative_luminance(np.clip(read.words[worst], 0, 1)), float(self._rows.needed[pairings].max())
        values, moved, harm = self._moving.values.copy(), [], 0.0
        readable = self._rows.reads(self._moving.ratios)
        for group in groups:
            area = sum(self._area[t] for t in group.tokens)
            choices = self._moving.choices(group, np.inf if is_state else self._manner.farthest[area > WIDE])
            choices = choices.only(~choices.is_other & self._is_apart(group, choices))
            fits = ratio_of_luminances(relative_luminance(choices.colours), words) >= needed
            if not fits.any():
                return None
            best = int(np.argmin(np.where(fits, choices.delta_e_ok, np.inf)))
            own, far = sorted(group.tokens), float(choices.delta_e_ok[best])
            values[own, :3] = choices.colours[best]
            values[own, 3] = self._moving.alphas(self._roles[group.role], group)
            if far > 0:
                moved.append((group, choices.colours[best]))
            touched = [p for p in self._known.index.involving(set(group.tokens)) if among[p]]
            was = readable[touched]
            weight = self._weight[touched]
            harm += (far + _TOUCHED * (far > 0)) * float(weight[was].sum()) + far * _GROUND * area
            harm += far * _FAILING_TOUCHED * float(weight[~was].sum())
        harm += _PART_COSTS * any(group.is_part and group not in self._moving.parts for group in groups)
        reads = self._rows.reads(self._rows.ratios(values))
        fixed = float(self._weight[reads & ~readable & among].sum())
        broken = float(self._weight[readable & ~reads & self._rows.counts].sum())
        cleared = float(self._weight[pairings[reads[pairings]]].sum())
        worth = self._worth[0 if all(group.is_part for group in groups) else 1]
        if not moved or cleared <= 0 or broken > self._manner.may_break * fixed or worth * fixed <= harm:
            return None
        if self._moving.at_risk.any_under(values):
            return None
        (first, colour), *also = moved
        return Remedy(first, colour, harm + 1e-9, fixed, cleared, tuple(also))

    def _find_grounds(self) -> dict[str, bool]:
        """Return the roles that wide backgrounds wear, and whether a page's own does."""
        pages = page_tokens(self._known)
        wide = {
            role: bool(own & pages) for role, own in self._tokens_of.items()
            if role in self._roles and sum(self._area[token] for token in own) > WIDE
        }  # fmt: skip
        return {role: is_page for role, is_page in wide.items() if self._roles[role].is_background}

    def _is_apart(self, group: MovedAsOne, choices: Choices) -> Mask:
        """Return which choices leave a panel apart from the page, where it hardly differed from it before."""
        own = np.array(self._study.role(group.role).colour.rgb)
        keeps = np.ones(len(choices), dtype=bool)
        for other, is_page in self._grounds.items():
            if other == group.role or not (is_page or self._grounds.get(group.role)):
                continue
            role = self._study.role(other)
            was = float(delta_e_ok(own, np.array(role.colour.rgb)))
            if 0 < was < BESIDE:
                now = np.array(self._moving.found.roles.get(other, role.colour.rgb))
                keeps &= delta_e_ok(choices.colours, now[None]) >= KEPT_APART * was
        return np.asarray(keeps | (choices.delta_e_ok == 0))

    def _take(self, option: Remedy, among: Mask) -> bool:
        """Wear an option's colour; False, and nothing changed, where the site is no more readable by it."""
        values = self._moving.values.copy()
        moved = ((option.group, option.colour), *option.also)
        for group, colour in moved:
            own = sorted(group.tokens)
            values[own, :3], values[own, 3] = colour, self._moving.alphas(self._roles[group.role], group)
        ratios = self._rows.ratios(values)
        before = float(self._weight[self._moving.unread(among)].sum())
        kept, self._moving.ratios = self._moving.ratios, ratios
        if float(self._weight[self._moving.unread(among)].sum()) >= before - 1e-12:
            self._moving.ratios = kept
            return False
        self._moving.values = values
        for group, colour in moved:
            red, green, blue = (float(v) for v in colour)
            self._moving.note(group, (red, green, blue))
        return True

    def settle(self, among: Mask, hold: frozenset[int] = frozenset()) -> None:
        """Make as many of the pairings readable as possible, moving any token that is not in `hold`.

        Pairings dimmed by a translucent layer above the text are left out: no colour of the palette fixes those.
        """
        among = among & ~self._dimmed
        for self._worth in _WORTHS:
            given_up: set[tuple[_Key, int]] = set()
            while not self._moving.is_late:
                pair = next((p for p in self._pairs(among) if (p[0], len(p[1])) not in given_up), None)
                if pair is None:
                    break
                key, pairings = pair
                best = self._best(pairings, among, hold)
                if best is None or not self._take(best, among):
                    given_up.add((key, len(pairings)))
