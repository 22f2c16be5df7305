"""The one decision of a fix that changes the face of a site, and the ways there are to take it.

Words on a colour by which the site is known may turn dark, or the colour deeper. Where that colour is a tenth of all
backgrounds, or the largest words of the first page stand on it, its owner is shown both. What is taken unasked is what
the search does: the colour moves where a small step is enough, else the words turn (docs/mending.md).
"""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Collection, Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np

from glaucon.core.colour.contrast import relative_luminance
from glaucon.core.colour.oklab import Floats, delta_e_ok
from glaucon.core.known.site import KnownSite
from glaucon.core.mending.fixed import Fixed, fix_all
from glaucon.core.mending.standing import WIDE, areas
from glaucon.core.mending.still_itself import is_colourful
from glaucon.core.proposal.colour_words import word_of
from glaucon.core.reading.reading import FAIL
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey

Keeps = Literal["background", "text"]
WAYS: tuple[Keeps, ...] = ("background", "text")
_WIDE_ENOUGH = 0.1  # of all backgrounds
_MOVED = 0.02  # ΔE OK


@dataclass(frozen=True, slots=True)
class Question:
    """Roles of which one gives way: a text and the background that it stands on."""

    background: str
    text: str


def question_of(known: KnownSite, study: Study) -> Question | None:
    """Return what is to be asked of a site's owner, most text first; None where nothing changes its face."""
    context = max((key for key in known.survey.sightings if key.state == "rest"), key=lambda key: key.width)
    rows, runs = (np.asarray(one, dtype=np.int64) for one in _shown(known, context))
    verdict = known.compiled(study).read(known.tokens.values(study), study.aim).verdict
    roles, area = known.tokens.roles(study), areas(known)
    wide: dict[str, float] = defaultdict(float)
    for number, share in area.items():
        if number in roles:
            wide[roles[number]] += share
    largest = _largest_words(known, context)
    asked = Counter[Question]()
    for row, run in zip(rows[verdict[rows] == FAIL].tolist(), runs[verdict[rows] == FAIL].tolist(), strict=True):
        token, below = known.index.text_token(row), [t for t in known.index.background_tokens(row) if t in roles]
        if token is None or token not in roles or not below or len({roles[t] for t in below}) > 1:
            continue
        ground = study.role(roles[below[0]])
        if is_colourful(ground.colour.rgb) and (wide[ground.id] >= _WIDE_ENOUGH or run == largest):
            asked[Question(ground.id, roles[token])] += known.survey.runs[run].characters
    return asked.most_common(1)[0][0] if asked else None


def fixed_so(
    known: KnownSite, study: Study, question: Question, keeps: Keeps, locks: Collection[str], room: str, seconds: float
) -> Fixed:
    """Return everything fixed with one of the two kept; other wide backgrounds stay as they are."""
    if keeps == "background":
        return fix_all(known, study, {*locks, question.background}, room, seconds)
    roles, area = known.tokens.roles(study), areas(known)
    wide = {roles[token] for token, share in area.items() if token in roles and share > WIDE} - {question.background}
    return fix_all(known, study, {*locks, *wide, question.text}, room, seconds, backgrounds=True)


def in_words(known: KnownSite, study: Study, question: Question, fixed: Study) -> tuple[str, Keeps | None]:
    """Return what a fix keeps, as a person would say it, and which of the two that is; None: neither, or both."""
    owner = known.tokens.roles(study)
    (words, ground), (then, now) = (_sides(known, one, question, owner) for one in (study, fixed))
    light, dark, words_then, now_light = (float(relative_luminance(one)) for one in (words, ground, then, now))
    word = word_of(study.role(question.background).colour.hex()).split()[-1]
    is_moved = float(delta_e_ok(ground, now)) > _MOVED
    deeper = "deeper" if now_light < dark else "lighter"
    tone = "white" if light > 0.85 else "light" if light > dark else "dark"
    if (light > dark) != (words_then > now_light):
        turned = f"words turn {'light' if words_then > now_light else 'dark'}"
        return (
            (f"the {word} gets {deeper}, {turned}", None) if is_moved else (f"keeps the {word}, {turned}", "background")
        )
    if is_moved:
        return f"keeps {tone} words, the {word} gets {deeper}", "text"
    return f"keeps the {word}, words get {'darker' if words_then < light else 'lighter'}", "background"


def _sides(known: KnownSite, study: Study, question: Question, owner: Mapping[int, str]) -> tuple[Floats, Floats]:
    """Return the mean colours, sRGB, of the words of a question and of what they stand on; the roles' if none shows."""
    reading = known.read(study)
    rows = []
    for row in np.nonzero(reading.index.is_used & reading.index.at_rest)[0].tolist():
        below = {owner.get(t) for t in reading.index.background_tokens(row)}
        token = reading.index.text_token(row)
        if below == {question.background} and token is not None and owner.get(token) == question.text:
            rows.append(row)
    if not rows:
        return np.array(study.role(question.text).colour.rgb), np.array(study.role(question.background).colour.rgb)
    return reading.readings.words[rows].mean(axis=0), reading.readings.ground[rows].mean(axis=0)


def _shown(known: KnownSite, context: ContextKey) -> tuple[list[int], list[int]]:
    sightings = known.survey.sightings[context]
    return list(sightings.pairings), list(sightings.runs)


def _largest_words(known: KnownSite, context: ContextKey) -> int:
    """Return the text of the first page that is set largest, by number."""
    sightings, first = known.survey.sightings[context], known.survey.pages[0]
    sizes = [
        (size, -run) for size, run in zip(sightings.sizes_px, sightings.runs, strict=True)
        if known.survey.runs[run].page == first
    ]  # fmt: skip
    return -max(sizes)[1] if sizes else -1
