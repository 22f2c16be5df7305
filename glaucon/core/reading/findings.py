"""Findings: which text colour is hard to read on which ground, how often, where and in which states."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from glaucon.core.cascade.expression import Expression, Literal, tokens_in
from glaucon.core.reading.reading import TokenValue, Verdict, read_pairings
from glaucon.core.survey.model import Fill, Pairing, Shade, Survey

_RANK = {"fail": 0, "unsure": 1, "pass": 2, "exempt": 3}


@dataclass(slots=True)
class PairingUse:
    """Where a pairing of a survey shows."""

    runs: set[int] = field(default_factory=set)
    states: set[str] = field(default_factory=set)
    widths: set[int] = field(default_factory=set)


@dataclass(frozen=True, slots=True)
class Side:
    """The words or the ground of a finding: the role it wears, if any, and the colour seen."""

    role: str | None
    colour: str


@dataclass(slots=True)
class Finding:
    """One text colour on one ground. Counts are of texts (runs) and pages, over all states and widths.

    `pairings` are the survey's pairings that have this verdict.
    """

    words: Side
    ground: Side
    verdict: str
    ratio: float | None
    required: float | None
    large_only: bool
    places: int
    pages: list[str]
    states: list[str]
    widths: list[int]
    sample: str
    why: str
    characters: int = 0
    pairings: tuple[int, ...] = ()


@dataclass(slots=True)
class RoleReading:
    """What the rail shows of a role: its lowest ratio, as words or as ground, and where it is used."""

    lowest: float | None = None
    verdict: str = "pass"
    places: int = 0
    pages: int = 0


@dataclass(slots=True)
class SiteReading:
    """A whole study read on a whole site."""

    findings: list[Finding]
    pairs: list[Finding]
    roles: dict[str, RoleReading]
    page_counts: dict[str, int]
    texts: int
    hard: int
    unsure: int


class SurveyIndex:
    """A survey with what each pairing's reading needs, made once and used for every palette edit."""

    def __init__(self, survey: Survey) -> None:
        self.survey = survey
        self.uses = [PairingUse() for _ in survey.pairings]
        for key, sightings in survey.sightings.items():
            for sighting in sightings:
                use = self.uses[sighting.pairing]
                use.runs.add(sighting.run)
                use.states.add(key.state)
                use.widths.add(key.width)
        self.words_token = [_single_token(pairing.colour) for pairing in survey.pairings]
        self.ground_tokens = [_ground_tokens(pairing) for pairing in survey.pairings]
        self.all_tokens = [_all_tokens(pairing) for pairing in survey.pairings]

    def involving(self, tokens: set[int]) -> list[int]:
        """Return the pairings that count for reading and in which any of some tokens shows."""
        return [
            number
            for number, own in enumerate(self.all_tokens)
            if own & tokens and not self.survey.pairings[number].exempt and self.uses[number].runs
        ]


def _single_token(expression: Expression) -> int | None:
    return next(tokens_in(expression), None)


def _ground_tokens(pairing: Pairing) -> tuple[int, ...]:
    for layer in reversed(pairing.below):
        found: list[int] = []
        if isinstance(layer, Fill):
            found = list(tokens_in(layer.colour))
            if not found and isinstance(layer.colour, Literal) and layer.colour.colour.alpha == 1:
                return ()
        elif isinstance(layer, Shade):
            found = [token for stop in layer.stops for token in tokens_in(stop)]
        if found:
            return tuple(found)
    return ()


def _all_tokens(pairing: Pairing) -> set[int]:
    tokens = set(tokens_in(pairing.colour))
    for layer in (*pairing.below, *pairing.above):
        if isinstance(layer, Fill):
            tokens |= set(tokens_in(layer.colour))
        elif isinstance(layer, Shade):
            tokens |= {token for stop in layer.stops for token in tokens_in(stop)}
    return tokens


def read_site(index: SurveyIndex, token_value: TokenValue, roles: Mapping[int, str], level: str) -> SiteReading:
    """Return the reading of a study on a site.

    `token_value` gives each token's colour under the study, `roles` the role of each mapped token.
    """
    survey = index.survey
    verdicts = read_pairings(survey.pairings, token_value, level)
    groups: dict[tuple[Side, Side], list[int]] = {}
    for number, verdict in enumerate(verdicts):
        if index.uses[number].runs and verdict.verdict != "exempt":
            groups.setdefault(_sides(index, number, verdict, roles), []).append(number)
    findings = [_finding(index, verdicts, sides, members) for sides, members in groups.items()]
    findings.sort(key=lambda f: (_RANK[f.verdict], f.ratio or 0.0, -f.places, f.sample))
    hard = {run for n, v in enumerate(verdicts) if v.verdict == "fail" for run in index.uses[n].runs}
    unsure = {run for n, v in enumerate(verdicts) if v.verdict == "unsure" for run in index.uses[n].runs} - hard
    wanting = [f for f in findings if f.verdict == "fail"]
    page_counts = dict.fromkeys(survey.pages, 0)
    for finding in wanting:
        for page in finding.pages:
            page_counts[page] += 1
    return SiteReading(
        findings=[f for f in findings if f.verdict in ("fail", "unsure")],
        pairs=findings,
        roles=_role_readings(index, verdicts, roles),
        page_counts=page_counts,
        texts=len(survey.runs),
        hard=len(hard),
        unsure=len(unsure),
    )


def _sides(index: SurveyIndex, number: int, verdict: Verdict, roles: Mapping[int, str]) -> tuple[Side, Side]:
    token = index.words_token[number]
    words_role = roles.get(token) if token is not None else None
    ground_role = next((roles[t] for t in index.ground_tokens[number] if t in roles), None)
    words = verdict.colour.hex() if verdict.colour else ""
    ground = verdict.background.hex() if verdict.background else verdict.why
    return (
        Side(words_role, "" if words_role else words),
        Side(ground_role, ground if ground_role is None or verdict.kind != "solid" else ""),
    )


def _finding(index: SurveyIndex, verdicts: Sequence[Verdict], sides: tuple[Side, Side], members: list[int]) -> Finding:
    """Return what several pairings of the same roles come to: the worst of them speaks."""
    worst = min(members, key=lambda n: (_RANK[verdicts[n].verdict], _margin(verdicts[n])))
    verdict = verdicts[worst]
    telling = [n for n in members if verdicts[n].verdict == verdict.verdict]
    runs = {run for n in telling for run in index.uses[n].runs}
    longest = max(
        (index.survey.runs[run] for run in index.uses[worst].runs), key=lambda r: (min(r.characters, 60), r.path)
    )
    return Finding(
        words=Side(sides[0].role, verdict.colour.hex() if verdict.colour else ""),
        ground=Side(sides[1].role, verdict.background.hex() if verdict.background else ""),
        verdict=verdict.verdict,
        ratio=verdict.ratio,
        required=verdict.required,
        large_only=verdict.verdict == "fail" and verdict.ratio is not None and verdict.ratio >= 3,
        places=len(runs),
        pages=sorted({index.survey.runs[run].page for run in runs}),
        states=sorted({s for n in telling for s in index.uses[n].states}, key=_state_order),
        widths=sorted({w for n in telling for w in index.uses[n].widths}, reverse=True),
        sample=longest.text,
        why=verdict.why,
        characters=sum(index.survey.runs[run].characters for run in runs),
        pairings=tuple(telling),
    )


def _margin(verdict: Verdict) -> float:
    if verdict.ratio is None or verdict.required is None:
        return 0.0
    return verdict.ratio / verdict.required


def _state_order(state: str) -> int:
    return ("rest", "hover", "focus", "active", "visited").index(state)


def _role_readings(index: SurveyIndex, verdicts: Sequence[Verdict], roles: Mapping[int, str]) -> dict[str, RoleReading]:
    runs: dict[str, set[int]] = {}
    result: dict[str, RoleReading] = {}
    for number, verdict in enumerate(verdicts):
        involved = set()
        token = index.words_token[number]
        for one in (*(() if token is None else (token,)), *index.ground_tokens[number]):
            if one in roles:
                involved.add(roles[one])
        for role in involved:
            reading = result.setdefault(role, RoleReading())
            runs.setdefault(role, set()).update(index.uses[number].runs)
            if verdict.ratio is None or verdict.verdict == "exempt":
                continue
            reading.lowest = verdict.ratio if reading.lowest is None else min(reading.lowest, verdict.ratio)
            if verdict.verdict == "fail":
                half = verdict.ratio >= 3
                reading.verdict = "half" if half and reading.verdict != "fail" else "fail"
    for role, reading in result.items():
        reading.places = len(runs[role])
        reading.pages = len({index.survey.runs[run].page for run in runs[role]})
    return result
