"""CSS rules for texts that no palette colour can make readable; each is offered, never applied unasked.

A browser gives some text its colour (`GrayText`), some mixes it from its own background, some lies under a half-clear
sheet. Such a rule is one of the owner's own stylesheet, and none is offered that makes other text hard to read.
"""

from __future__ import annotations

import math
import time
from collections.abc import Callable, Collection, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

import numpy as np
import tinycss2

from glaucon.core.cascade.selectors.selectors import compile_selectors
from glaucon.core.cascade.selectors.state import State
from glaucon.core.cascade.tree import Document, Element
from glaucon.core.colour.contrast import contrast_ratios
from glaucon.core.colour.oklab import Floats, delta_e_ok
from glaucon.core.colour.value import Colour
from glaucon.core.known.site import KnownSite
from glaucon.core.reading.candidates import candidates_of
from glaucon.core.reading.findings import SiteReading
from glaucon.core.reading.reading import FAIL
from glaucon.core.study.study import Study
from glaucon.core.study.wearing import Property
from glaucon.core.survey.model import Fill, Layer, PaintGroup, Photo
from glaucon.core.survey.pointing import ways_to

RuleWay = Literal["lift", "clear", "colour", "background"]
Seen = Callable[[str, Collection[str]], KnownSite]  # surveys some pages with more CSS of the owner's own
_MOST = 24  # rules
_MOST_PAGES = 8  # surveyed again and again
_FARTHER = 0.08  # ΔE OK: what a colour of the palette may be farther away than the nearest that reads
_WORDS = ("text", "quiet", "heading", "link")
Text = tuple[str, str]  # its page and path
_PAINTS: tuple[RuleWay, RuleWay] = ("colour", "background")
_REST = State()


@dataclass(slots=True)
class HelpingRule:
    """A rule that makes texts readable: how, by what selector, the colour it gives, and how many texts it fixes."""

    selector: str
    texts: set[Text]
    state: str = ""  # the one state it is for
    ways: list[RuleWay] = field(default_factory=list)
    colour: Colour | None = None
    role: str = ""  # whose colour it is, "" where it is none of the palette's

    @property
    def css(self) -> str:
        """Return the rule as it is written."""
        said = [_LIFTED] if "lift" in self.ways else []
        said += ["filter: none !important"] if "clear" in self.ways else []
        value = f"var({Property(self.role).name})" if self.role else self.colour.hex() if self.colour else ""
        if "colour" in self.ways:
            said.append(f"color: {value} !important")
        if "background" in self.ways:
            said.append(f"background-color: {value} !important")
        # what is positioned already stays where it is: a selector of no weight loses to the page's own
        first = f":where({self.selector}) {{ position: relative }}\n" if "lift" in self.ways else ""
        return f"{first}{self.selector} {{ {'; '.join(said)} }}"


_LIFTED = "z-index: 1"


@dataclass(frozen=True, slots=True)
class _Shown:
    """How a text is shown in one context: its colours, what lies behind and over it."""

    words: tuple[float, ...]
    grounds: tuple[tuple[float, ...], tuple[float, ...]]
    required: float
    fails: bool
    state: str
    below: tuple[Layer, ...]
    is_under: bool  # something half clear lies over it
    is_on_picture: bool


def helping_rules(
    known: KnownSite, study: Study, left: Iterable[int], documents: Mapping[str, Document], seen: Seen,
    until: float = math.inf,
) -> list[HelpingRule]:  # fmt: skip
    """Return the rules that make some texts readable which are hard to read under a study.

    `left` are texts of `known`; `documents` are the pages a rule is looked at on; `seen` surveys pages with more CSS.
    `until` is in processor time of this thread; what is not known to help by then is left out.
    """
    runs = known.survey.runs
    wanted = {(runs[number].page, runs[number].path) for number in left}
    before = _shown(known.read(study), {page for page, _ in wanted})
    hard = {text for text, some in before.items() if any(one.fails for one in some)}
    # what lies on a picture is helped by a veil
    wanted = {text for text in wanted & hard if not any(one.is_on_picture for one in before[text] if one.fails)}
    rules = list(_rules_for(sorted(wanted), hard, before, documents))[:_MOST]
    if not rules:
        return []
    # a rule may find elements of other pages
    pages = {page for rule in rules for page in _pages_of(rule, documents)}
    if len(pages) > _MOST_PAGES:
        return []
    for rule in rules:
        rule.ways = list(_ways_first([one for text in rule.texts for one in before[text]]))
    now = first = _reads(seen, study, [rule for rule in rules if rule.ways], pages) or before
    for way in _PAINTS:
        if time.thread_time() > until:
            return []
        _give_colours([rule for rule in rules if _is_hard(rule, now)], way, first, study)
        now = _reads(seen, study, rules, pages) or now
    good = [rule for rule in rules if rule.ways and not _is_hard(rule, now)]
    return _harmless(good, _reads(seen, study, good, pages), seen, study, hard, pages)


def _harmless(
    rules: list[HelpingRule], now: dict[Text, list[_Shown]] | None, seen: Seen, study: Study, hard: set[Text],
    pages: Collection[str],
) -> list[HelpingRule]:  # fmt: skip
    """Return the rules by which no other text gets hard to read; one at a time where it is not plain which do."""
    if now is None or not rules:
        return []
    other = {text for text, some in _of_no_rules(seen, study, pages).items() if any(one.fails for one in some)} | hard
    if not any(one.fails for text, some in now.items() if text not in other for one in some):
        return [rule for rule in rules if not _is_hard(rule, now)]
    return [
        rule for rule in rules
        if (alone := _reads(seen, study, [rule], pages)) is not None and not _is_hard(rule, alone)
        and not any(one.fails for text, some in alone.items() if text not in other for one in some)
    ]  # fmt: skip


def _of_no_rules(seen: Seen, study: Study, pages: Collection[str]) -> dict[Text, list[_Shown]]:
    return _shown(seen("", pages).read(study), pages)


def _reads(
    seen: Seen, study: Study, rules: Sequence[HelpingRule], pages: Collection[str]
) -> dict[Text, list[_Shown]] | None:
    """Return how texts are shown with some rules, None where there is no rule."""
    css = "\n".join(rule.css for rule in rules if rule.ways)
    return _shown(seen(css, pages).read(study), pages) if css else None


def _is_hard(rule: HelpingRule, now: Mapping[Text, Sequence[_Shown]]) -> bool:
    return any(one.fails for text in rule.texts for one in now.get(text, ()))


def _shown(reading: SiteReading, pages: Collection[str]) -> dict[Text, list[_Shown]]:
    """Return how the texts of some pages are shown in every context."""
    survey, readings = reading.index.survey, reading.readings
    found: dict[Text, list[_Shown]] = {}
    for key, sightings in survey.sightings.items():
        for sighting in sightings:
            run = survey.runs[sighting.run]
            if run.page not in pages:
                continue
            row = sighting.pairing
            pairing = survey.pairings[row]
            sides = (readings.darkest, readings.lightest) if readings.varied[row] else (readings.ground,) * 2
            words, darkest, lightest = (tuple(one[row].tolist()) for one in (readings.words, *sides))
            found.setdefault((run.page, run.path), []).append(
                _Shown(
                    words, (darkest, lightest), float(readings.required[row]),
                    bool(readings.verdict[row] == FAIL), key.state, pairing.below,
                    bool(pairing.above or any(above for _, above in pairing.others)),
                    any(isinstance(layer, Photo) for layer in pairing.all_layers()),
                )
            )  # fmt: skip
    return found


def _rules_for(
    wanted: Sequence[Text], hard: Collection[Text], before: Mapping[Text, Sequence[_Shown]],
    documents: Mapping[str, Document],
) -> Iterator[HelpingRule]:  # fmt: skip
    """Yield an empty rule for each selector that finds texts that are wanted and nothing that is readable."""
    done: set[Text] = set()
    for text in wanted:
        element = _at(documents, text)
        if text in done or element is None:
            continue
        state = _only_state([one for one in before[text] if one.fails])
        pseudo = text[1][len(text[1].split("::")[0]) :]
        for selector in ways_to(element):
            found = set(_found(selector, pseudo, documents, before))
            if text in found and found <= set(hard):
                done |= found
                yield HelpingRule(f"{selector}{':' if state else ''}{state}{pseudo}", found, state)
                break


def _only_state(failing: Sequence[_Shown]) -> str:
    """Return the one state in which a text is hard to read, "" where it is at rest too."""
    states = {one.state for one in failing}
    return states.pop() if len(states) == 1 and states <= {"hover", "focus", "active", "visited"} else ""


def _found(
    selector: str, pseudo: str, documents: Mapping[str, Document], shown: Mapping[Text, object]
) -> Iterator[Text]:
    compiled = compile_selectors(tinycss2.parse_component_value_list(selector))
    for page, document in documents.items():
        for element in document.elements:
            if any(one.matches(element, _REST) for one in compiled):
                text = (page, element.path() + pseudo)
                if text in shown or element.own_text:
                    yield text


def _pages_of(rule: HelpingRule, documents: Mapping[str, Document]) -> Iterator[str]:
    plain = rule.selector.split("::")[0].removesuffix(f":{rule.state}" if rule.state else "")
    compiled = compile_selectors(tinycss2.parse_component_value_list(plain))
    for page, document in documents.items():
        if any(one.matches(element, _REST) for one in compiled for element in document.elements):
            yield page


def _at(documents: Mapping[str, Document], text: Text) -> Element | None:
    document, path = documents.get(text[0]), text[1].split("::")[0]
    return next((one for one in document.elements if one.path() == path), None) if document is not None else None


def _ways_first(shown: Iterable[_Shown]) -> Iterator[RuleWay]:
    """Yield what has to be done before any colour helps: words lifted over a sheet, a filter that fades them undone."""
    some = [one for one in shown if one.fails]
    if any(one.is_under for one in some):
        yield "lift"
    if any(isinstance(layer, PaintGroup) and layer.filters for one in some for layer in one.below):
        yield "clear"


def _give_colours(
    rules: Sequence[HelpingRule], way: RuleWay, now: Mapping[Text, Sequence[_Shown]], study: Study
) -> None:  # fmt: skip
    """Give rules the nearest colours that read: one for all whose texts look alike now, where one serves them all."""
    alike: dict[str, list[HelpingRule]] = {}
    for rule in rules:
        worst = next((one for one in _where_it_counts(rule, now) if one.fails), None)
        if worst is not None:
            alike.setdefault(_own(worst, way).hex() + " ".join(rule.ways), []).append(rule)
    for some in alike.values():
        if not _give_colour(some, way, now, study):
            for rule in some:
                _give_colour([rule], way, now, study)


def _where_it_counts(rule: HelpingRule, now: Mapping[Text, Sequence[_Shown]]) -> list[_Shown]:
    return [
        one for text in rule.texts for one in now.get(text, ())
        if np.isfinite([one.required, *one.words, *one.grounds[0], *one.grounds[1]]).all()
        and one.state in (rule.state or one.state)
    ]  # fmt: skip


def _own(shown: _Shown, way: RuleWay) -> Colour:
    """Return the colour that a rule changes, as it looks now."""
    return Colour(*np.clip(shown.words if way == "colour" else shown.grounds[0], 0, 1).tolist()).rounded()


def _give_colour(
    rules: Sequence[HelpingRule], way: RuleWay, now: Mapping[Text, Sequence[_Shown]], study: Study
) -> bool:  # fmt: skip
    """Give some rules the nearest colour that reads wherever their texts are, the palette's where it has one near."""
    some = [one for rule in rules for one in _where_it_counts(rule, now)]
    if way == "background" and not all(isinstance(one.below[-1], Fill) for one in some if one.below):
        return False
    beside = np.array([side for one in some for side in (one.grounds if way == "colour" else (one.words,) * 2)])
    required = np.repeat([one.required for one in some], 2)

    def reads(colours: Floats) -> np.ndarray:
        ratios = contrast_ratios(colours[:, None, :], np.clip(beside, 0, 1)[None])
        return np.asarray((ratios >= required).all(axis=1))

    start = _own(next(one for one in some if one.fails), way)
    candidates = candidates_of(start.rgb)
    good = np.nonzero(reads(candidates.colours))[0]
    if not len(good):
        return False
    nearest = good[int(np.argmin(candidates.delta_e_ok[good]))]
    role = _of_palette(study, start, float(candidates.delta_e_ok[nearest]), reads) if way == "colour" else ""
    for rule in rules:
        rule.colour, rule.role = Colour(*candidates.colours[nearest].tolist()), role
        rule.ways = [one for one in rule.ways if one not in _PAINTS] + [way]
    return True


def _of_palette(study: Study, own: Colour, nearest: float, reads: Callable[[Floats], np.ndarray]) -> str:
    """Return the role for words whose colour reads and is about as near as the nearest one, "" where there is none."""
    roles = [
        role for role in study.roles
        if role.kind in _WORDS and role.state == "rest" and role.coat is None and role.tier == "main"
        and role.colour.alpha == 1
    ]  # fmt: skip
    if not roles:
        return ""
    colours = np.array([role.colour.rgb for role in roles])
    apart = np.where(reads(colours), delta_e_ok(colours, np.array(own.rgb)[None]), np.inf)
    best = int(np.argmin(apart))
    return roles[best].id if apart[best] <= nearest + _FARTHER else ""
