"""What besides text has to be seen, judged under a study: fields, buttons, focus, links among words, icons.

Source: WCAG 2.2, 1.4.11 (3 : 1), 1.4.1 with technique G183 (3 : 1 to the words around, more on hover and focus), 2.4.7
(a sign of focus at all), 2.4.13 (strong and large enough; AAA).
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from glaucon.core.colour.contrast import cut_ratio, ratio_of_luminances, relative_luminance
from glaucon.core.colour.oklab import Floats
from glaucon.core.colour.value import Colour
from glaucon.core.known.dressed import dresses_of
from glaucon.core.known.site import KnownSite
from glaucon.core.reading.reading import ICONS_NEED, UNSURE, Readings
from glaucon.core.study.study import Study
from glaucon.core.study.waivers import Waiver
from glaucon.core.survey.model import Mark, Thing, ThingKind

_SIGN, _COLOUR_ALONE, _FOCUS_SEEN, _FOCUS_STRONG = "1.4.11", "1.4.1", "2.4.7", "2.4.13"
_SEEN_AT_ALL = 1.05  # a change of less contrast nobody sees
_RANK = {"fail": 0, "unsure": 1, "pass": 2, "exempt": 3}
_EXEMPT = {
    "browser": "The browser draws it by itself; the page changes nothing about it.",
    "words": "A button that is known by its text or icon needs no border.",
}


@dataclass(frozen=True, slots=True)
class BeyondText:
    """The result for one field, button, focus ring, link or icon.

    `colour` shows it and `against` is what it is compared with, as hex; "" where there is none.

    `place` is the key of its section, `label` what that is called; `selector` finds it there.
    """

    page: str
    path: str
    what: ThingKind
    criterion: str
    state: str
    words: str
    selector: str
    place: str
    label: str
    colour: str
    against: str
    ratio: float | None
    required: float | None
    verdict: str
    why: str
    waiver: Waiver | None = None
    is_faded: bool = False


@dataclass(frozen=True, slots=True)
class BeyondFinding:
    """Things that are judged alike; the first of them speaks."""

    key: str
    things: tuple[BeyondText, ...]

    @property
    def first(self) -> BeyondText:
        """Return the thing that stands for all."""
        return self.things[0]


def judged_things(known: KnownSite, study: Study) -> list[BeyondText]:
    """Return every thing of a site with its verdict under a study, in page order; on the widest screen."""
    survey = known.survey
    things: list[Thing | Mark] = [*survey.things, *(mark for mark in survey.marks if _is_telling(mark))]
    if not things:
        return []
    worn, dresses = dresses_of(known, study, ((one.page, one.chain, one.path) for one in things))
    rows = [(row, dress) for one, dress in zip(things, dresses, strict=True) for row in _rows_of(one)]
    numbers, at = np.unique(np.array([row for row, _ in rows], dtype=np.int64), return_inverse=True)
    compiled = known.compiled(study).only(numbers).worn(at, np.array([dress for _, dress in rows], dtype=np.int64))
    readings = compiled.read(worn, study.aim)
    found: list[BeyondText] = []
    start = 0
    for one in things:
        own = range(start, start + len(_rows_of(one)))
        start += len(own)
        found.extend(_Judge(known, study, one, readings, own).judged())
    pages = {page: number for number, page in enumerate(survey.pages)}
    return sorted(found, key=lambda one: pages[one.page])


def beyond_findings(known: KnownSite, study: Study) -> list[BeyondFinding]:
    """Return the things gathered by what is said of them, the worst first."""
    gathered: dict[str, list[BeyondText]] = defaultdict(list)
    for one in judged_things(known, study):
        waived = f" {one.waiver.said}" if one.waiver else ""
        gathered[f"{one.what} {one.criterion} {one.state} {one.colour} on {one.against} {one.verdict}{waived}"].append(
            one
        )
    found = [BeyondFinding(key, tuple(some)) for key, some in gathered.items()]
    return sorted(found, key=lambda one: (_RANK[one.first.verdict], one.first.ratio or 0.0, -len(one.things)))


def _rows_of(thing: Thing | Mark) -> tuple[int, ...]:
    if isinstance(thing, Mark):
        return tuple(pairing for pairing, _ in thing.inks)
    return thing.signs if thing.against is None else (*thing.signs, thing.against)


def _is_telling(mark: Mark) -> bool:
    """Return whether a mark says something: it has a name, or it is all that a link or button shows."""
    return bool(mark.words) or any(f">{tag}:" in mark.path or f">{tag}>" in mark.path for tag in ("a", "button"))


class _Judge:
    """Judges one thing, given the readings of its signs."""

    def __init__(self, known: KnownSite, study: Study, thing: Thing | Mark, readings: Readings, rows: range) -> None:
        self._known, self._study, self._thing = known, study, thing
        self._readings, self._rows = readings, rows
        # of what varies behind it the worst counts, as for text
        self._ratios = readings.ratio[rows.start : rows.stop]

    def judged(self) -> Iterator[BeyondText]:
        """Yield what is said of it: for focus, at AAA, its size apart from its contrast."""
        thing = self._thing
        if isinstance(thing, Mark):
            yield self._icon()
        elif thing.against is not None:
            yield self._link(thing)
        elif thing.what == "focus":
            yield from self._focus(thing)
        else:
            yield self._edge(thing)

    def _icon(self) -> BeyondText:
        assert isinstance(self._thing, Mark)
        told = self._best(range(len(self._rows)))
        if self._thing.kind == "picture" and told[3] != "pass":
            why = "A person has to say what this picture shows: text, a logo or decoration."
            return self._told("icon", _SIGN, "rest", (*told[:3], "unsure"), why)
        return self._told("icon", _SIGN, "rest", told, "")

    def _edge(self, thing: Thing) -> BeyondText:
        told = self._best(range(len(self._rows)))
        if thing.given == "browser" or (thing.given and told[3] != "pass"):
            return self._told(thing.what, _SIGN, thing.state, (*told[:3], "exempt"), _EXEMPT[thing.given])
        why = "It has no border and no fill of its own." if not len(self._rows) else ""
        return self._told(thing.what, _SIGN, thing.state, told, why)

    def _focus(self, thing: Thing) -> Iterator[BeyondText]:
        told = self._best(range(len(self._rows)))
        if thing.given == "browser":
            yield self._told("focus", _SIGN, "focus", ("", "", None, "exempt"), _EXEMPT["browser"])
            return
        if told[2] is not None and told[2] < _SEEN_AT_ALL:
            yield self._told("focus", _FOCUS_SEEN, "focus", told, "Nothing changes when it has the focus.")
            return
        yield self._told("focus", _SIGN, "focus", told, "")
        if self._study.aim == "AAA" and told[3] == "pass" and not thing.is_strong:
            why = "What shows the focus is thinner than 2 pixels."
            yield self._told("focus", _FOCUS_STRONG, "focus", (*told[:3], "fail"), why)

    def _link(self, thing: Thing) -> BeyondText:
        """Judge a link by its colour beside that of the words around it."""
        words = self._readings.words[self._rows.start : self._rows.stop]
        own, around = words[0], words[-1]
        if np.isnan(own).any() or np.isnan(around).any():
            told = ("", "", None, "pass" if thing.given else "unsure")
            return self._told("link-in-text", _COLOUR_ALONE, thing.state, told, "")
        ratio = float(ratio_of_luminances(relative_luminance(own), relative_luminance(around)))
        colours = _hex(own), _hex(around), cut_ratio(ratio)
        if thing.given:
            return self._told("link-in-text", _COLOUR_ALONE, thing.state, (*colours, "pass"), "")
        if ratio < ICONS_NEED:
            why = "Only its colour tells it from the text around it, and that is too close."
            return self._told("link-in-text", _COLOUR_ALONE, thing.state, (*colours, "fail"), why)
        why = "" if thing.is_strong else "Its colour tells it at rest, but hover and focus add nothing."
        return self._told("link-in-text", _COLOUR_ALONE, thing.state, (*colours, "fail" if why else "pass"), why)

    def _is_faded(self) -> bool:
        return any(self._known.index.fading(row) < 1 for row in _rows_of(self._thing))

    def _best(self, some: range) -> tuple[str, str, float | None, str]:
        """Return the sign that stands out most: its colour, what it stands on, the ratio, and the verdict."""
        if not len(some):
            return "", "", 1.0, "fail"
        known = [n for n in some if not np.isnan(self._ratios[n])]
        best = max(known, key=lambda n: float(self._ratios[n]), default=None)
        if best is None:
            return "", "", None, "unsure"
        row = self._rows.start + best
        ratio = float(self._ratios[best])
        rows = slice(self._rows.start + some.start, self._rows.start + some.stop)
        is_unsure = len(known) < len(some) or bool((self._readings.verdict[rows] == UNSURE).any())
        verdict = "pass" if ratio >= ICONS_NEED else "unsure" if is_unsure else "fail"
        return _hex(self._readings.words[row]), _hex(self._readings.ground[row]), cut_ratio(ratio), verdict

    def _told(
        self, what: ThingKind, criterion: str, state: str, told: tuple[str, str, float | None, str], why: str
    ) -> BeyondText:
        thing, survey = self._thing, self._known.survey
        section = next((r for r in map(survey.regions.__getitem__, survey.chains[thing.chain]) if r.is_section), None)
        colour, against, ratio, verdict = told
        selector = " ".join(part for part in (section.selector if section else "", thing.selector) if part)
        waiver = _waiver(self._study.waived, what, selector)
        if waiver is not None and verdict in ("fail", "unsure"):
            verdict = "exempt"
        return BeyondText(
            thing.page, thing.path, what, criterion, state, thing.words, selector, section.key if section else "",
            section.label if section else "", colour, against, ratio, None if verdict == "exempt" else ICONS_NEED,
            verdict, why, waiver if verdict == "exempt" else None, self._is_faded(),
        )  # fmt: skip


def _waiver(waived: Sequence[Waiver], what: str, selector: str) -> Waiver | None:
    return next((one for one in waived if one.what == what and selector in one.selectors), None)


def _hex(srgb: Floats) -> str:
    r, g, b = np.clip(srgb, 0, 1).tolist()
    return Colour(r, g, b).hex()
