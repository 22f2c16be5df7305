"""Findings: which text colour is hard to read on which background, how often, where and in which states."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from types import MappingProxyType

import numpy as np
from numpy.typing import NDArray

from glaucon.core.cascade.selectors.state import STATES
from glaucon.core.colour.contrast import cut_ratio, ratio_of_luminances, relative_luminance
from glaucon.core.colour.gamut import levels
from glaucon.core.colour.oklab import Floats
from glaucon.core.reading.reading import EXEMPT, FAIL, PASS, UNSURE, VERDICTS, CompiledPairings, Readings, token_array
from glaucon.core.reading.tokens_behind import all_tokens_of, background_tokens_of, what_lies_behind
from glaucon.core.survey.model import ContextKey, PaintGroup, Survey

Numbers = NDArray[np.int64]
# of each verdict, worst first
RANK = np.array([2, 0, 1, 3])
_RANK_OF = dict(zip(VERDICTS, RANK.tolist(), strict=True))
_HALF = 3.0


@dataclass(frozen=True, slots=True)
class Side:
    """The text or the background of a finding: its role, if any, and the colour seen."""

    role: str | None
    colour: str


@dataclass(slots=True)
class Finding:
    """One text colour on one background. Counts are of texts (runs) and pages, over all states and widths.

    `pairings` are the survey's pairings that have this verdict; `faded` is the opacity, 0 to 1, that the page gives
    the worst of them.
    """

    text: Side
    background: Side
    verdict: str
    ratio: float | None
    required: float | None
    places: int
    pages: list[str]
    states: list[str]
    widths: list[int]
    sample: str
    why: str
    seen: WorstSeen | None = None
    characters: int = 0
    pairings: tuple[int, ...] = ()
    faded: float = 1.0
    on: str = ""  # "picture" or "gradient", where one lies behind the worst of them
    dress: int = 0  # what is worn there, of the reading's index
    where: str = ""  # what the regions are called that wear it

    @property
    def key(self) -> str:
        """Return what names the finding in its reading: the roles of its sides, or their colours, and where."""
        background = self.background.role or self.on or self.background.colour
        return f"{self.text.role or self.text.colour} on {background}" + (f" in {self.where}" if self.where else "")


@dataclass(frozen=True, slots=True)
class WorstSeen:
    """One text of a finding, by its number, on the widest screen and at rest before other states."""

    run: int
    width: int
    state: str


@dataclass(slots=True)
class RoleReading:
    """What the rail shows of a role: its lowest ratio, as text or as background, and where it is used."""

    lowest: float | None = None
    verdict: str = "pass"
    places: int = 0
    pages: int = 0


@dataclass(slots=True)
class SiteReading:
    """A whole study read on a whole site; `readings` has the verdict of every pairing."""

    findings: list[Finding]
    roles: dict[str, RoleReading]
    page_counts: dict[str, int]
    texts: int
    hard: int
    unsure: int
    readings: Readings
    groups: _Groups
    index: SurveyIndex

    def failing_texts(self) -> set[int]:
        """Return the numbers of the texts that are hard to read in what they wear."""
        rows = np.nonzero((self.readings.verdict == FAIL) & self.index.is_used)[0]
        return set(self.index.runs_of(rows).tolist())

    def failing_in(self, among: Callable[[ContextKey], bool] = lambda key: True) -> set[tuple[int, str]]:
        """Return the texts that are hard to read in some contexts, each with a state in which it is."""
        hard = (self.readings.verdict == FAIL) & self.index.is_used
        found: set[tuple[int, str]] = set()
        for context, sightings in self.index.survey.sightings.items():
            if not among(context):
                continue
            runs = np.asarray(sightings.runs)[hard[np.asarray(sightings.pairings)]]
            found.update((run, context.state) for run in runs.tolist())
        return found

    def pairs_of(self, role: str) -> list[Finding]:
        """Return everything a role is read with, as text or as background, hardest first."""
        return self.index.pairs_of(self.readings, self.groups, role)


@dataclass(slots=True)
class PairingRoles:
    """The roles of a mapping by number, and what each pairing wears of them (-1: none)."""

    names: list[str]
    text: Numbers
    background: Numbers
    readings: dict[str, RoleReading]
    involved: list[Numbers]  # for each role, its pairings


@dataclass(slots=True)
class _Groups:
    """Pairings that count, gathered by the sides they show; the worst of each group first."""

    roles: PairingRoles
    members: list[Numbers]


@dataclass(frozen=True, slots=True)
class _Use:
    """Where some pairings show."""

    places: int
    pages: list[str]
    states: list[str]
    widths: list[int]
    longest: int  # text
    sample: str
    characters: int


class SurveyIndex:
    """A survey with what each pairing's reading needs, made once and used for every palette edit."""

    def __init__(self, survey: Survey, compiled: CompiledPairings | None = None) -> None:
        self.survey = survey
        self.compiled = compiled or CompiledPairings(survey.pairings, survey.tokens)
        self.dress: Numbers = np.zeros(len(survey.pairings), dtype=np.int64)  # what each row wears (see `dressed`)
        self._page_numbers = {page: number for number, page in enumerate(survey.pages)}
        self._known_roles: tuple[Mapping[int, str], PairingRoles] | None = None
        self._gather_runs()
        self._gather_uses()
        self._gather_tokens()

    def _gather_runs(self) -> None:
        runs = self.survey.runs
        self._run_page = np.array([self._page_numbers[run.page] for run in runs], dtype=np.int64)
        self._run_characters = np.array([run.characters for run in runs], dtype=np.int64)

    def _gather_tokens(self) -> None:
        pairings = self.survey.pairings
        self._text_token = [next(pairing.word_tokens(), None) for pairing in pairings]
        self._tell_weakest([number for number, pairing in enumerate(pairings) if pairing.fill])
        self._background_tokens = [background_tokens_of(pairing, self.survey.tokens) for pairing in pairings]
        self._all_tokens = [all_tokens_of(pairing) for pairing in pairings]
        self._lies_on = [what_lies_behind(pairing, self.survey.tokens) for pairing in pairings]
        self._on_picture = np.array([one == "picture" for one in self._lies_on], dtype=bool)

    def _tell_weakest(self, filled: list[int]) -> None:
        """Take, where a background is cut to the words, the one of its colours that is hardest to read."""
        tokens = self.survey.tokens
        if not filled:
            return
        ground = self.compiled.only(np.array(filled)).read(token_array(tokens)).ground
        for number, behind in zip(filled, ground, strict=True):
            some = list(dict.fromkeys(self.survey.pairings[number].word_tokens()))
            if some:
                shown = relative_luminance(np.array([tokens[token].colour.rgb for token in some]))
                ratios = ratio_of_luminances(shown, relative_luminance(behind))
                self._text_token[number] = some[int(np.argmin(ratios))]

    def _gather_uses(self) -> None:
        size = len(self.survey.pairings)
        self._widths = sorted({key.width for key in self.survey.sightings}, reverse=True)
        self._states = list(dict.fromkeys([*STATES, *(key.state for key in self.survey.sightings)]))
        self._in_states = np.zeros((size, len(self._states)), dtype=bool)
        self._width_bits = np.zeros(size, dtype=np.int64)
        runs = len(self.survey.runs)
        # a pairing and a run as one number: sorting those is much quicker than sorting rows of two
        pairs: list[Numbers] = [np.zeros(0, dtype=np.int64)]
        for key, sightings in self.survey.sightings.items():
            pairing = np.asarray(sightings.pairings, dtype=np.int64)
            pairs.append(np.unique(pairing * runs + np.asarray(sightings.runs, dtype=np.int64)))
            used = np.unique(pairing)
            self._in_states[used, self._states.index(key.state)] = True
            self._width_bits[used] |= 1 << self._widths.index(key.width)
        both = np.unique(np.concatenate(pairs))
        self._runs = both % max(1, runs)
        self._starts = np.searchsorted(both // max(1, runs), np.arange(size + 1))
        self.is_used = self._starts[1:] > self._starts[:-1]
        self._pages = np.zeros((size, len(self.survey.pages)), dtype=bool)
        self._pages[both // max(1, runs), self._run_page[self._runs]] = True
        self._known_uses: dict[bytes, _Use] = {}

    def pairs(self) -> tuple[Numbers, Numbers]:
        """Return each text with each pairing that it shows in any width and state, once: two arrays alike."""
        return self._runs, np.repeat(np.arange(len(self._starts) - 1), np.diff(self._starts))

    @property
    def at_rest(self) -> NDArray[np.bool_]:
        """Return which pairings show at rest, shape (pairings,)."""
        return np.asarray(self._in_states[:, self._states.index("rest")])

    @property
    def text_counts(self) -> Numbers:
        """Return how many texts show each pairing, shape (pairings,)."""
        return np.diff(self._starts)

    def text_token(self, pairing: int) -> int | None:
        """Return the found colour of a pairing's text, None where it has none."""
        return self._text_token[pairing]

    def runs_of(self, pairings: Numbers | list[int]) -> Numbers:
        """Return the texts that show any of some pairings, each once."""
        mask = np.zeros(len(self.survey.runs), dtype=bool)
        for number in pairings:
            mask[self._runs[self._starts[number] : self._starts[number + 1]]] = True
        return np.nonzero(mask)[0]

    def tokens_of(self, pairing: int) -> set[int]:
        """Return the found colours that a pairing's colours are made of."""
        return self._all_tokens[pairing]

    def background_tokens(self, pairing: int) -> tuple[int, ...]:
        """Return the found colours of the layer next to a pairing's text."""
        return self._background_tokens[pairing]

    def lies_on(self, pairing: int) -> str:
        """Return what varied thing a pairing's text lies on: "picture", "gradient" or nothing."""
        return self._lies_on[pairing]

    def counts(self, pairing: int) -> bool:
        """Return whether a pairing shows anywhere and is not exempt."""
        return bool(self.is_used[pairing]) and not self.survey.pairings[pairing].exempt

    def involving(self, tokens: set[int]) -> list[int]:
        """Return the pairings that count for reading and in which any of some tokens shows."""
        return [
            number for number, own in enumerate(self._all_tokens)
            if self.is_used[number] and not self.survey.pairings[number].exempt and own & tokens
        ]  # fmt: skip

    def roles_of(self, roles: Mapping[int, str]) -> PairingRoles:
        """Return what each pairing wears under a mapping of tokens to roles, remembered for the last mapping."""
        if self._known_roles is not None and self._known_roles[0] == roles:
            return self._known_roles[1]
        found = self._find_roles(roles)
        self._known_roles = (dict(roles), found)
        return found

    def _find_roles(self, roles: Mapping[int, str]) -> PairingRoles:
        names = list(dict.fromkeys(roles.values()))
        numbers = {name: number for number, name in enumerate(names)}
        size = len(self.survey.pairings)
        text, background = np.full(size, -1), np.full(size, -1)
        involved: list[list[int]] = [[] for _ in names]
        for pairing in range(size):
            token = self._text_token[pairing]
            if token is not None and token in roles:
                text[pairing] = numbers[roles[token]]
            below = [numbers[roles[t]] for t in self._background_tokens[pairing] if t in roles]
            if below:
                background[pairing] = below[0]
            if self.is_used[pairing]:
                for role in {*below, int(text[pairing])} - {-1}:
                    involved[role].append(pairing)
        arrays = [np.array(one, dtype=np.int64) for one in involved]
        return PairingRoles(names, text, background, self._counted(names, arrays), arrays)

    def _counted(self, names: list[str], involved: list[Numbers]) -> dict[str, RoleReading]:
        """Return on how many texts and pages some roles show, given the rows of each."""
        readings = {}
        for name, rows in zip(names, involved, strict=True):
            runs = self.runs_of(rows)
            readings[name] = RoleReading(places=len(runs), pages=int(self._pages[rows].any(axis=0).sum()))
        return readings

    def group(self, readings: Readings, roles: PairingRoles) -> _Groups:
        """Return the pairings gathered by sides: by role, and by the colour seen where a side has none."""
        counted = np.nonzero(self.is_used & (readings.verdict != EXEMPT))[0]
        if not len(counted):
            return _Groups(roles, [])
        text, background = roles.text[counted], roles.background[counted]
        known = ~np.isnan(readings.ratio[counted])
        plain = known & ~readings.varied[counted] & ~self._on_picture[counted]
        keys = (
            text,
            background,
            np.where(text >= 0, -1, _packed(readings.words[counted])),
            np.where(plain, np.where(background >= 0, -1, _packed(readings.ground[counted])), np.where(known, -3, -2)),
            self.dress[counted],
        )
        margin = np.where(known, readings.ratio[counted] / readings.required[counted], 0.0)
        order = np.lexsort((margin, RANK[readings.verdict[counted]], *keys))
        differs = np.zeros(len(counted) - 1, dtype=bool)
        for key in keys:
            differs |= np.diff(key[order]) != 0
        return _Groups(roles, np.split(counted[order], np.nonzero(differs)[0] + 1))

    def findings(self, readings: Readings, roles: PairingRoles, groups: Sequence[Numbers]) -> list[Finding]:
        """Return what each of some groups of the same sides comes to, worst first: its worst, the first, speaks."""
        rows = np.array([members[0] for members in groups], dtype=np.int64)
        known = ~np.isnan(readings.ratio[rows])
        words, ground = (_packed(side[rows]).tolist() for side in (readings.words, readings.ground))
        is_seen = ~np.isnan(readings.words[rows, 0])
        found = []
        for place, (worst, members) in enumerate(zip(rows.tolist(), groups, strict=True)):
            verdict = readings.verdict[worst]
            telling = members[readings.verdict[members] == verdict] if len(members) > 1 else members
            use, own = self._use_of(telling), self._use_of(members[:1])
            ratio = cut_ratio(float(readings.ratio[worst])) if known[place] else None
            required = float(readings.required[worst])
            found.append(
                Finding(
                    text=Side(_name(roles, roles.text[worst]), f"#{words[place]:06x}" if is_seen[place] else ""),
                    background=Side(
                        _name(roles, roles.background[worst]), f"#{ground[place]:06x}" if known[place] else ""
                    ),
                    verdict=VERDICTS[verdict],
                    ratio=ratio,
                    required=None if math.isnan(required) else required,
                    places=use.places,
                    pages=use.pages,
                    states=use.states,
                    widths=use.widths,
                    sample=own.sample,
                    why=readings.why[worst],
                    seen=WorstSeen(own.longest, max(own.widths), own.states[0]),
                    on=self._lies_on[worst] if readings.varied[worst] or roles.background[worst] < 0 else "",
                    characters=use.characters,
                    pairings=tuple(telling.tolist()),
                    faded=self.fading(worst, readings.fades),
                    dress=int(self.dress[worst]),
                )
            )
        return sorted(found, key=lambda f: (_RANK_OF[f.verdict], f.ratio or 0.0, -f.places, f.sample))

    def _use_of(self, pairings: Numbers) -> _Use:
        """Return where some pairings show, remembered: from one palette edit to the next most stay together."""
        key = pairings.tobytes()
        found = self._known_uses.get(key)
        if found is None:
            if len(self._known_uses) > 20_000:
                self._known_uses.clear()
            found = self._known_uses[key] = self._find_use(pairings)
        return found

    def _find_use(self, pairings: Numbers) -> _Use:
        runs = self.runs_of(pairings)
        longest = int(runs[np.argmax(np.minimum(self._run_characters[runs], 60))])
        states: list[bool] = np.any(self._in_states[pairings], axis=0).tolist()
        widths = int(np.bitwise_or.reduce(self._width_bits[pairings]))
        on_pages = np.nonzero(self._pages[pairings].any(axis=0))[0]
        return _Use(
            len(runs),
            [self.survey.pages[page] for page in on_pages.tolist()],
            [state for state, is_shown in zip(self._states, states, strict=True) if is_shown],
            [width for bit, width in enumerate(self._widths) if widths >> bit & 1],
            longest,
            self.survey.runs[longest].text,
            int(self._run_characters[runs].sum()),
        )

    def every_finding(self, readings: Readings, groups: _Groups) -> list[Finding]:
        """Return everything that is read, whatever its verdict, worst first."""
        return self.findings(readings, groups.roles, groups.members)

    def findings_of(self, readings: Readings, groups: _Groups) -> list[Finding]:
        """Return the findings that fail or cannot be told, worst first."""
        some = [members for members in groups.members if readings.verdict[members[0]] in (FAIL, UNSURE)]
        return self.findings(readings, groups.roles, some)

    def pairs_of(self, readings: Readings, groups: _Groups, role: str) -> list[Finding]:
        """Return everything a role is read with, whatever its verdict, worst first."""
        roles = groups.roles
        if role not in roles.names:
            return []
        number = roles.names.index(role)
        some = [m for m in groups.members if number in (roles.text[m[0]], roles.background[m[0]])]
        return self.findings(readings, roles, some)

    @cached_property
    def faded_by(self) -> frozenset[str]:
        """Return the selectors of the page's rules that fade text."""
        layers = (layer for pairing in self.survey.pairings for layer in pairing.all_layers())
        return frozenset(layer.by for layer in layers if isinstance(layer, PaintGroup) and layer.by)

    def fading(self, pairing: int, fades: Mapping[str, float] = MappingProxyType({})) -> float:
        """Return the opacity, 0 to 1, that the page's own `opacity` gives the text of a pairing.

        `fades` are the opacities that a study gives instead, by the selector of the page's rule.
        """
        groups = [layer for layer in self.survey.pairings[pairing].below if isinstance(layer, PaintGroup)]
        return math.prod(fades.get(group.by, group.opacity) for group in groups)

    def read(
        self, values: Floats, roles: Mapping[int, str], aim: str, fades: Mapping[str, float] = MappingProxyType({})
    ) -> SiteReading:
        """Return the reading of a study.

        `values` are the tokens' colours under it, shape (tokens, 4), `fades` the opacities it gives by selector.
        """
        return self.reading(self.compiled.faded(fades).read(values, aim), roles)

    def reading(self, readings: Readings, roles: Mapping[int, str]) -> SiteReading:
        """Return what the verdicts of all rows come to."""
        known = self.roles_of(roles)
        groups = self.group(readings, known)
        findings = self.findings_of(readings, groups)
        hard = self.runs_of(np.nonzero(self.is_used & (readings.verdict == FAIL))[0])
        unsure = self.runs_of(np.nonzero(self.is_used & (readings.verdict == UNSURE))[0])
        counts = np.bincount(self._run_page[hard], minlength=len(self.survey.pages))
        return SiteReading(
            findings=findings,
            roles=_role_readings(readings, known),
            page_counts=dict(zip(self.survey.pages, counts.tolist(), strict=True)),
            texts=len(self.survey.runs),
            hard=len(hard),
            unsure=len(np.setdiff1d(unsure, hard, assume_unique=True)),
            readings=readings,
            groups=groups,
            index=self,
        )


def _name(roles: PairingRoles, number: int) -> str | None:
    return roles.names[number] if number >= 0 else None


def _packed(srgb: Floats) -> Numbers:
    """Return sRGB as one number each, as 8-bit channels hold it."""
    whole = levels(np.nan_to_num(srgb, nan=0.0)).astype(np.int64)
    return np.asarray(whole[:, 0] << 16 | whole[:, 1] << 8 | whole[:, 2])


def _role_readings(readings: Readings, roles: PairingRoles) -> dict[str, RoleReading]:
    used = [(name, pairings) for name, pairings in zip(roles.names, roles.involved, strict=True) if len(pairings)]
    if not used:
        return {}
    flat = np.concatenate([pairings for _, pairings in used])
    starts = np.cumsum([0, *(len(pairings) for _, pairings in used[:-1])])
    verdict, ratio = readings.verdict[flat], readings.ratio[flat]
    judged = np.where((verdict == PASS) | (verdict == FAIL), ratio, np.inf)
    lowest = np.minimum.reduceat(judged, starts)
    worst = np.minimum.reduceat(np.where(verdict == FAIL, ratio, np.inf), starts)
    result: dict[str, RoleReading] = {}
    for (name, _), low, bad in zip(used, lowest.tolist(), worst.tolist(), strict=True):
        use = roles.readings[name]
        word = "pass" if bad == np.inf else "half" if bad >= _HALF else "fail"
        result[name] = RoleReading(None if low == np.inf else cut_ratio(low), word, use.places, use.pages)
    return result
