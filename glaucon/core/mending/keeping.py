"""No text is left worse than it was: what a fix would make so keeps its colour, or the change is undone."""

from __future__ import annotations

import math
import time
from collections import defaultdict
from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import chain, product

from pydantic import ValidationError

from glaucon.core.colour.value import Colour
from glaucon.core.known.site import KnownSite
from glaucon.core.mending.harm import Guard, InContext
from glaucon.core.mending.place_changes import PlaceChange, with_places
from glaucon.core.mending.role_changes import Change, with_changes
from glaucon.core.mending.single_texts import element_of
from glaucon.core.scopes.reading import place_name
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study, token_key
from glaucon.core.survey.model import ContextKey

_MOST = 40  # rounds
_MOST_TOGETHER = 3
_BOTH = (Colour(1.0, 1.0, 1.0), Colour(0.0, 0.0, 0.0))
_MOST_ELEMENTS = 24  # of one change
_MOST_WORN = 300  # places of a study that wear something


@dataclass(frozen=True, slots=True)
class Keeping:
    """A fix or made palette being checked: the study before, the changes to it, and the guard that finds worse texts.

    `base` is what the changes are made in: the study itself, or a made palette. `others` are colours that a text may
    have instead of its own.
    """

    known: KnownSite
    before: Study
    base: Study
    guard: Guard
    changes: tuple[Change, ...]
    places: tuple[PlaceChange, ...]
    others: tuple[Colour, ...] = ()
    in_places: bool = False  # alone: no part of a role is made

    def made(self) -> Study:
        """Return the study with all changes made."""
        return with_places(with_changes(self.base, self.changes), self.places)

    def until_kept(self, until: float) -> Keeping:
        """Return this with what is made worse kept, as far as it can be; `until` is in this thread's processor time."""
        now, worse = self, self.guard.worse(self.made())
        for _ in range(_MOST):
            better = next(now._better(worse), None) if worse and time.thread_time() < until else None
            if better is None:
                break
            now, worse = better
        return now

    def _better(self, worse: set[InContext]) -> Iterator[tuple[Keeping, set[InContext]]]:
        """Yield what makes fewer texts worse, and nothing else hard to read, with those that are still worse."""
        hard = self.known.read(self.made()).failing_in()
        for tried, runs in self._ways(worse):
            study = tried.made()
            still = self.guard.worse(study)
            if still < worse and {run for run, _ in self.known.read(study).failing_in() - hard} <= runs:
                yield tried, still

    def _ways(self, worse: set[InContext]) -> Iterator[tuple[Keeping, set[int]]]:
        """Yield ways to keep what some texts wear, each with its texts.

        A fix is by place first: a found colour may be that of many. A made palette has given all of them others.
        """
        fixed = self.made()
        words, grounds = self._seen(worse, fixed)
        ways = [self._by_place(words, fixed), self._by_token(words, grounds)]
        if self.in_places:
            ways = ways[:1]
        yield from chain.from_iterable(ways if self.base is self.before else reversed(ways))

    def _by_place(self, words: _ByColour, fixed: Study) -> Iterator[tuple[Keeping, set[int]]]:
        of_use: dict[tuple[str, str, Colour], set[int]] = defaultdict(set)
        for (token, was), runs in words.items():
            role = fixed.role(self.known.tokens.roles(fixed)[token])
            of_use[role.use, role.id, was] |= runs
        for (use, name, was), runs in of_use.items():
            for places, colour in product(_places(self.known, fixed, runs), (was, *self.others)):
                if not any(scope.where in places and use in scope.set for scope in fixed.worn):
                    label, now = place_name(self.known.survey, places[0]), fixed.role(name).colour
                    one = PlaceChange(places[0], label, name, use, now, colour, 0, 0, also=tuple(places[1:]))
                    yield replace(self, places=(*self.places, one)), runs

    def _by_token(self, words: _ByColour, grounds: _ByColour) -> Iterator[tuple[Keeping, set[int]]]:
        together, touched = self, set[int]()
        for (token, was), runs in [*words.items(), *grounds.items()]:
            yield self._without_part(token, was), runs
            together, touched = together._without_part(token, was), touched | runs
        yield together, touched
        # putting a gradient's colours back can make other texts on it worse: put those back too
        for _ in range(_MOST_TOGETHER):
            study = together.made()
            every = {(run, context) for run, context in self.guard.worse(study) if run not in touched}
            if not every:
                break
            for (token, was), runs in chain(*(one.items() for one in together._seen(every, study))):
                together, touched = together._without_part(token, was), touched | runs
            yield together, touched

    def _seen(self, worse: set[InContext], fixed: Study) -> tuple[_ByColour, _ByColour]:
        """Return the tokens of some texts and of the layers behind them, each with its colour before the change."""
        known, words, grounds = (
            self.known,
            defaultdict[_TokenColour, set[int]](set),
            defaultdict[_TokenColour, set[int]](set),
        )
        index = (known.dressed(fixed) if fixed.worn else known).index
        mapped, values = known.tokens.roles(fixed), known.tokens.values(self.before)
        wanted: dict[ContextKey, set[int]] = defaultdict(set)
        for run, context in worse:
            wanted[context].add(run)
        for context, some in wanted.items():
            sightings = index.survey.sightings[context]
            for run, row in zip(sightings.runs, sightings.pairings, strict=True):
                if run not in some:
                    continue
                token = index.text_token(row)
                if token in mapped:
                    words[token, self.guard.own_colour(run, context)].add(run)
                for below in index.background_tokens(row):
                    if below in mapped:
                        grounds[below, Colour(*values[below].tolist())].add(run)
        return words, grounds

    def _without_part(self, token: int, was: Colour) -> Keeping:
        """Return this with a found colour as it was, a part of its role."""
        key = token_key(self.known.survey.tokens[token])
        role = self.base.role(self.known.tokens.roles(self.base)[token])
        if not role.is_text:
            was = was.with_alpha(role.colour.alpha)  # of which a found colour has its own share
        if key is None or any(one.tokens == (key,) and one.after == was for one in self.changes):
            return self
        others = [
            replace(one, tokens=left) if one.tokens else one for one in self.changes
            if not one.tokens or (left := tuple(k for k in one.tokens if k != key))
        ]  # fmt: skip
        runs = self.known.index.runs_of(self.known.index.involving({token}))
        own = Change(role.id, role.colour, was, len(runs), 0, (key,), "where it stays")
        return replace(self, changes=(*others, own))


_TokenColour = tuple[int, Colour]
_ByColour = dict[_TokenColour, set[int]]


def kept_in_places(known: KnownSite, before: Study, after: Study) -> Study:
    """Return a study in which places were given colours, with texts that are worse for it in the colour they had."""
    guard = Guard(known, before, disabled=False)
    return Keeping(known, before, after, guard, (), (), _BOTH, in_places=True).until_kept(math.inf).made()


def without_harm(
    known: KnownSite, study: Study, guard: Guard, changes: list[Change], places: list[PlaceChange]
) -> tuple[list[Change], list[PlaceChange]]:
    """Return changes without those that make texts worse, one by one, the one whose going leaves the least harm."""
    while worse := guard.worse(with_places(with_changes(study, changes), places)):
        changes, places = _without_worst(known, study, guard, changes, places, worse)
    return changes, places


def _places(known: KnownSite, study: Study, runs: Collection[int]) -> Iterator[Sequence[Where]]:
    """Yield where some texts are: the narrowest place that holds all, each alone, then the places of most of them."""
    survey = known.survey
    chains = [survey.chains[survey.runs[run].chain] for run in runs]
    common = [n for n in chains[0] if all(n in chain for chain in chains)]
    for number in reversed(common):
        region = survey.regions[number]
        yield [Where(section=region.key) if region.is_section else Where(part=region.key)]
    try:
        alone = list(dict.fromkeys(element_of(survey, survey.runs[run]) for run in sorted(runs)))
    except ValidationError:  # a tag that no selector can be made of
        alone = []
    if 0 < len(alone) <= min(_MOST_ELEMENTS, _MOST_WORN - len(study.worn)):
        yield alone
    innermost = dict.fromkeys(chain[-1] for chain in chains if chain)
    for number in innermost:
        region = survey.regions[number]
        yield [Where(section=region.key) if region.is_section else Where(part=region.key)]


def _without_worst(
    known: KnownSite, study: Study, guard: Guard, changes: list[Change], places: list[PlaceChange],
    worse: set[InContext],
) -> tuple[list[Change], list[PlaceChange]]:  # fmt: skip
    shown = {token for pairing in guard.pairings(worse) for token in known.index.tokens_of(pairing)}
    of_role, keys = known.tokens.tokens_of(study), {token_key(known.survey.tokens[token]) for token in shown}
    touching = [c for c in changes if (keys & set(c.tokens) if c.tokens else shown & set(of_role.get(c.role, ())))]
    ways = [([c for c in changes if c is not one], places) for one in touching]
    runs = [known.survey.runs[run] for run in sorted({run for run, _ in worse})]
    around = {known.survey.regions[number].key for run in runs for number in known.survey.chains[run.chain]}
    pages = {run.page for run in runs}
    near = [p for p in places if any(w.region in around or (w.region is None and w.page in pages) for w in p.places)]
    ways += [(changes, [p for p in places if p is not one]) for one in near]

    def left(way: tuple[list[Change], list[PlaceChange]]) -> tuple[int, int]:
        tried = with_places(with_changes(study, way[0]), way[1])
        return len(guard.worse(tried)), len(known.read(tried).failing_texts())

    return min(ways, key=left) if ways else ([], [])
