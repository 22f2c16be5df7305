"""A study with everything fixed: what was found put into roles, parts of roles, and words for what changed."""

from __future__ import annotations

import math
import time
from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace

import numpy as np

from glaucon.core.colour.oklab import delta_e_ok
from glaucon.core.colour.value import Colour, css_text
from glaucon.core.known.site import KnownSite
from glaucon.core.mending.by_place import fix_by_place
from glaucon.core.mending.fixing import fix
from glaucon.core.mending.harm import Guard
from glaucon.core.mending.keeping import Keeping, without_harm
from glaucon.core.mending.moving import Manner, MovedAsOne, MovedColours
from glaucon.core.mending.ordering import in_order_again, in_order_by_place
from glaucon.core.mending.place_changes import PlaceChange, with_places
from glaucon.core.mending.role_changes import Change, with_changes
from glaucon.core.mending.standing import on_pictures
from glaucon.core.proposal.naming import name_of_tokens
from glaucon.core.reading.reading import FAIL, LEVELS
from glaucon.core.study.fading import fades_of, with_fade
from glaucon.core.study.roles import Role
from glaucon.core.study.study import Study, token_key
from glaucon.core.study.wearing import Worn, share_of_opacity
from glaucon.core.survey.model import PaintGroup

# how much room fixing gives: the ratios for text of normal and large size
ROOMS: Mapping[str, tuple[float, float]] = {"must": LEVELS["AA"], "more": (5.5, 3.7), "strict": LEVELS["AAA"]}
_FREED = 0.3  # that backgrounds may move where the owner lets them
_MUCH_LEFT = 0.01  # of what was hard to read
_MAY_BREAK = 0.15  # of what becomes readable, by characters and size
_MOST_GUARDED = 3  # searches
_ALIKE = 0.02  # ΔE OK under which two parts of a role are one
_NOT_LOOKED_AT = ("shared", "gradient")


@dataclass(frozen=True, slots=True)
class Left:
    """Texts that stay hard to read for one reason, and the locks, if any.

    The reason is "faded", "picture", "gradient", "locked", "covered" by something half clear, "outside" of the palette,
    "shared" with text elsewhere, or "time": there was none left to look for a fix.
    """

    why: str
    pairings: tuple[int, ...]
    texts: tuple[int, ...]
    locks: tuple[str, ...] = ()
    faded: float = 1.0


@dataclass(slots=True)
class Fixed:
    """The study fixed, its changes, largest first, and what stays hard to read; counts are of texts.

    `places` are changes of one place only, on top of `changes`. `fades` are what the page fades that could be faded
    less: a selector, the opacity that is readable, how many texts. They are no part of the study.
    """

    study: Study
    changes: list[Change] = field(default_factory=list)
    before: int = 0
    after: int = 0
    left: list[Left] = field(default_factory=list)
    fades: list[tuple[str, float, int]] = field(default_factory=list)
    places: list[PlaceChange] = field(default_factory=list)


def fix_all(
    known: KnownSite,
    study: Study,
    locks: Iterable[str] = (),
    room: str = "must",
    seconds: float = math.inf,
    backgrounds: bool = False,
) -> Fixed:
    """Return a study in which everything is readable that can be, the site still itself (see `still_itself`).

    `locks` are roles that stay, beside the study's own; with `backgrounds` those of pages and sections may change too.
    Raises: StudyError: a lock that is no role of the study.
    """
    locked = {study.role(name).id for name in locks} | {role.id for role in study.roles if role.locked}
    needed = tuple(max(pair) for pair in zip(ROOMS[room], LEVELS[study.aim], strict=True))
    was, until = hard_texts(known, study), time.thread_time() + seconds
    manner = Manner((_FREED, _FREED)) if backgrounds else Manner()
    asked = _Asked(known, study, locked, (needed[0], needed[1]), until, Guard(known, study))
    found = asked.without_harm(manner)
    if asked.shared_at_rest(found) > _MUCH_LEFT * len(was) and time.thread_time() < until:
        # one text in the way of many: those that get hard to read for it may be fixed by place
        other = asked.without_harm(replace(manner, may_break=_MAY_BREAK))
        if other.still <= was and len(other.still) < len(found.still):
            found = other
    reasons = _reasons(known, found.study, found.left, locked, found.still)
    if time.thread_time() > until:  # nobody knows yet what stays for a reason of its own
        reasons = [replace(one, why="time") if one.why in _NOT_LOOKED_AT else one for one in reasons]
    return Fixed(
        found.study, found.changes, len(was), len(found.still), reasons, least_fading(known, found.study, found.left),
        found.places,
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class _Attempt:
    """What came of one search: `left` are pairings as the site itself wears them, `still` texts as they are dressed."""

    study: Study
    changes: list[Change]
    places: list[PlaceChange]
    left: set[int]
    still: set[int]
    worse: set[int]  # pairings that would be made worse


@dataclass(frozen=True, slots=True)
class _Asked:
    known: KnownSite
    study: Study
    locked: set[str]
    needed: tuple[float, float]
    until: float
    guard: Guard

    def without_harm(self, manner: Manner) -> _Attempt:
        """Search until nothing is made worse, each time with what was guarded; else without the changes that do so."""
        found = self.attempt(manner)
        first = found
        for _ in range(_MOST_GUARDED):
            if not found.worse or time.thread_time() > self.until:
                break
            manner = replace(manner, guarded=manner.guarded | found.worse)
            found = self.attempt(manner)
        harmless = [self._harmless(one) for one in ((found,) if found is first else (first, found))]
        return min(harmless, key=lambda one: len(one.still))

    def _harmless(self, found: _Attempt) -> _Attempt:
        if not found.worse:
            return found
        changes, places = without_harm(self.known, self.study, self.guard, found.changes, found.places)
        fixed = with_places(with_changes(self.study, changes), places)
        return _Attempt(fixed, changes, places, found.left, hard_texts(self.known, fixed), set())

    def attempt(self, manner: Manner) -> _Attempt:
        """Run the search in one manner, then fix remaining texts place by place; return the resulting changes."""
        known, study = self.known, self.study
        hard = hard_to_read(known, study)
        found = fix(known, study, self.locked, self.needed, self.until, manner)
        changes = changes_of(known, study, found, hard)
        fixed = with_changes(study, changes)
        left = hard_to_read(known, fixed)
        fewer = changes_of(known, study, _merged(study, found), hard)
        if len(fewer) < len(changes) and hard_to_read(known, merged := with_changes(study, fewer)) <= left:
            changes, fixed = fewer, merged
        if len(_texts(known, left)) > len(_texts(known, hard)):  # nothing that was asked for
            fixed, changes, left = study, [], hard
        fixed, places = fix_by_place(known, fixed, self.locked, self.until, self.guard, less_faded(known, fixed))
        if changes or places:
            louder = in_order_again(known, study, fixed, self.locked, self.until, self.guard)
            changes = _with_louder(known, study, changes, louder, hard)
            fixed = with_places(with_changes(study, changes), places)
            by_place = in_order_by_place(known, study, fixed, self.locked, self.until, self.guard)
            kept = Keeping(known, study, study, self.guard, tuple(changes), (*places, *by_place)).until_kept(self.until)
            changes, places, fixed = list(kept.changes), list(kept.places), kept.made()
        worse = self.guard.worse(fixed)
        return _Attempt(fixed, changes, places, left, hard_texts(known, fixed), self.guard.pairings(worse))

    def shared_at_rest(self, found: _Attempt) -> int:
        """Return how many texts stay hard to read at rest only because others wear their colours too."""
        reasons = _reasons(self.known, found.study, found.left, self.locked, found.still)
        shared = [pairing for one in reasons if one.why in ("shared", "gradient") for pairing in one.pairings]
        return len(_texts(self.known, [p for p in shared if self.known.index.at_rest[p]]) & found.still)


def _reasons(known: KnownSite, study: Study, left: set[int], locked: set[str], still: set[int]) -> list[Left]:
    """Return the failing texts `still` grouped by reason, most texts first."""
    roles = known.tokens.roles(study)
    fades, on_picture = fades_of(study), on_pictures(known, study, known.tokens.values(study))
    gathered: dict[tuple[str, tuple[str, ...], float], list[int]] = {}
    for pairing in sorted(left):
        faded = known.index.fading(pairing, fades)
        locks = tuple(sorted({roles[t] for t in known.index.tokens_of(pairing) if t in roles} & locked))
        varied = "picture" if on_picture[pairing] else "gradient" if known.index.lies_on(pairing) == "gradient" else ""
        why = "locked" if locks else "faded" if faded < 1 else varied or _of_its_own(known, pairing, roles)
        gathered.setdefault((why, locks, faded if why == "faded" else 1.0), []).append(pairing)
    found = [
        Left(why, tuple(some), texts, locks, faded)
        for (why, locks, faded), some in gathered.items()
        if (texts := tuple(sorted(_texts(known, some) & still)))
    ]
    return sorted(found, key=lambda one: -len(one.texts))


def _of_its_own(known: KnownSite, pairing: int, roles: Mapping[int, str]) -> str:
    """Return why no colour of the palette serves a text that nothing fades, on a plain background."""
    one = known.survey.pairings[pairing]
    if one.above or any(above for _, above in one.others):
        return "covered"
    return "shared" if any(token in roles for token in one.word_tokens()) else "outside"


def least_fading(known: KnownSite, study: Study, left: set[int]) -> list[tuple[str, float, int]]:
    """Return, for each rule of the page that fades what is left, the least opacity that is readable, if any is."""
    faded: dict[str, set[int]] = {}
    for pairing in left:
        for layer in known.survey.pairings[pairing].below:
            if isinstance(layer, PaintGroup) and layer.opacity < 1 and layer.by:
                faded.setdefault(layer.by, set()).add(pairing)

    def hard(selector: str, opacity: float) -> set[int]:
        # by text where places wear something: what they wear is no pairing of the site's own
        less = with_fade(study, selector, opacity)
        return hard_texts(known, less) if study.worn else hard_to_read(known, less)

    found = []
    for selector, some in sorted(faded.items()):
        low, high = 0.0, 1.0
        readable = (_texts(known, some) if study.worn else some) - hard(selector, 1.0)
        while readable and high - low > 0.02:
            middle = (low + high) / 2
            low, high = (middle, high) if readable & hard(selector, middle) else (low, middle)
        if readable:
            opacity = math.ceil(high * 100 - 1e-9) / 100
            found.append((selector, opacity, len(readable if study.worn else _texts(known, readable))))
    return sorted(found, key=lambda one: -one[2])


def less_faded(known: KnownSite, study: Study) -> Study | None:
    """Return a study without the fading of what is hard to read in it; None where the page fades none of that."""
    below = [layer for pairing in hard_to_read(known, study) for layer in known.survey.pairings[pairing].below]
    rules = {layer.by for layer in below if isinstance(layer, PaintGroup) and layer.opacity < 1 and layer.by}
    for rule in sorted(rules):
        study = with_fade(study, rule, 1.0)
    return study if rules else None


def painted(known: KnownSite, study: Study, change: Change) -> dict[int, str]:
    """Return, for a part of a role, what each of its tokens shows by the change, as CSS, by the token's number."""
    role = study.role(change.role).model_copy(update={"value": css_text(change.after)})
    keys = set(change.tokens)
    return {
        token.number: Worn(token, role, share_of_opacity(role, token)).text
        for token in known.survey.tokens if token_key(token) in keys
    }  # fmt: skip


def _merged(study: Study, found: MovedColours) -> MovedColours:
    """Merge parts of one role whose new colours are nearly equal."""
    parts: list[tuple[MovedAsOne, tuple[float, float, float]]] = []
    for group, rgb in found.parts:
        like = next(
            (
                n for n, (one, own) in enumerate(parts)
                if one.role == group.role and float(delta_e_ok(np.array(own), np.array(rgb))) < _ALIKE
            ),
            None,
        )  # fmt: skip
        if like is None:
            parts.append((group, rgb))
        else:
            # the one that moved farther reads wherever the other does
            here = np.array(study.role(group.role).colour.rgb)
            far = max((parts[like][1], rgb), key=lambda one: float(delta_e_ok(np.array(one), here)))
            parts[like] = (MovedAsOne(group.role, parts[like][0].tokens | group.tokens, True), far)
    return MovedColours(dict(found.roles), parts)


def changes_of(known: KnownSite, study: Study, found: MovedColours, hard: set[int]) -> list[Change]:
    """Return moved colours as changes of the study, most texts first; `hard` are the failing pairings."""
    tokens_of = known.tokens.tokens_of(study)
    changes = []
    for name, rgb in found.roles.items():
        role = study.role(name)
        texts, fixes = _counts(known, set(tokens_of[name]), hard)
        changes.append(Change(name, role.colour, _as(role, rgb), texts, fixes))
    for group, rgb in found.parts:
        role = study.role(group.role)
        keys = tuple(key for t in sorted(group.tokens) if (key := token_key(known.survey.tokens[t])) is not None)
        texts, fixes = _counts(known, set(group.tokens), hard)
        if keys:
            where = _place_of(known, study, group, hard)
            changes.append(Change(group.role, role.colour, _as(role, rgb), texts, fixes, keys, where))
    return sorted(changes, key=lambda one: (-one.texts, one.role))


def _with_louder(
    known: KnownSite, study: Study, changes: list[Change], louder: Mapping[str, Colour], hard: set[int]
) -> list[Change]:
    """Return changes with some colours of roles moved on, for order's sake."""
    moved = [replace(one, after=louder[one.role]) if not one.tokens and one.role in louder else one for one in changes]
    there = {one.role for one in moved if not one.tokens}
    for name, colour in louder.items():
        if name in there:
            continue
        texts, fixes = _counts(known, set(known.tokens.tokens_of(study)[name]), hard)
        moved.append(Change(name, study.role(name).colour, colour, texts, fixes))
    return sorted(moved, key=lambda one: (-one.texts, one.role))


def _as(role: Role, rgb: tuple[float, float, float]) -> Colour:
    return Colour(*rgb, role.colour.alpha)


def _counts(known: KnownSite, tokens: set[int], hard: set[int]) -> tuple[int, int]:
    involved = known.index.involving(tokens)
    return len(_texts(known, involved)), len(_texts(known, hard & set(involved)))


def _place_of(known: KnownSite, study: Study, group: MovedAsOne, hard: set[int]) -> str:
    """Return a phrase for the place of a part of a role: its background, its section, or its selector."""
    roles, coat_names = known.tokens.roles(study), {coat.id: coat.label for coat in study.coats}
    own, involved = study.role(group.role), known.index.involving(set(group.tokens))
    words = [p for p in involved if known.index.text_token(p) in group.tokens]
    below = Counter(
        roles[t] for p in ([p for p in words if p in hard] or words)
        for t in known.index.background_tokens(p) if t in roles
    )  # fmt: skip
    if below:
        on = study.role(max(sorted(below), key=lambda name: below[name]))
        if on.coat is not None and on.coat != own.coat:
            return f"on {coat_names[on.coat]}"
        if on.coat is None and on.kind != "background":
            return f"on {on.label.lower()}"
    regions: Counter[int] = Counter()
    texts = sorted(_texts(known, involved))
    for text in texts:
        regions.update(known.survey.chains[known.survey.runs[text].chain])
    # the narrowest place that most of its texts are in
    inside = [region for region, count in regions.items() if count > 0.8 * len(texts)]
    if inside:
        return f"in {known.survey.regions[max(inside, key=lambda one: len(known.survey.regions[one].key))].label}"
    name = name_of_tokens(known.survey.tokens[token] for token in sorted(group.tokens))
    if not name or name.lower() == own.label.lower():
        return "elsewhere"
    return name.lower() if name.lower().startswith("around") else f"in {name.lower()}"


def hard_to_read(known: KnownSite, study: Study) -> set[int]:
    """Return the pairings that count and are hard to read under a study."""
    verdict = known.compiled(study).read(known.tokens.values(study), study.aim).verdict
    return {int(n) for n in np.nonzero(verdict == FAIL)[0] if known.index.counts(int(n))}


def hard_texts(known: KnownSite, study: Study) -> set[int]:
    """Return the texts that are hard to read under a study in what they wear."""
    return known.read(study).failing_texts() if study.worn else _texts(known, hard_to_read(known, study))


def _texts(known: KnownSite, pairings: Iterable[int]) -> set[int]:
    return set(known.index.runs_of(list(pairings)).tolist())
