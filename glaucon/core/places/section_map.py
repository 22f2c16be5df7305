"""The section map: pages as stacks of sections, what each wears and how it reads, and the coats there are."""

from __future__ import annotations

import textwrap
from collections import Counter
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np
from pydantic import BaseModel

from glaucon.core.colour.contrast import contrast_ratio, cut_ratio
from glaucon.core.colour.oklab import Floats
from glaucon.core.colour.value import Colour, read_colour
from glaucon.core.known.site import KnownSite
from glaucon.core.places.plain import plain_values
from glaucon.core.reading.reading import FAIL, LEVELS
from glaucon.core.scopes.coats_worn import came_apart, coats_worn, pages_with_a_rest, runs_in, told_apart
from glaucon.core.scopes.reading import place_name
from glaucon.core.scopes.values import coat_values
from glaucon.core.study.plain import PLAIN, plain_coat
from glaucon.core.study.roles import Kind
from glaucon.core.study.scopes import Use
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey

_CONTENT = frozenset({"region", "article", "band", "content", "welcome"})
_SHORT, _SAMPLE = 40, 70  # characters: up to which text may be a label, and that a coat is shown with
_SAMPLED: tuple[Kind, ...] = ("background", "text", "heading", "link")


class SampleWords(BaseModel):
    """Words of the owner's own to show a coat with."""

    heading: str
    text: str
    link: str


class MapRegion(BaseModel):
    """A section or a part: what it is, where, how many texts lie in it, and which coat it wears.

    `words` are a section's own, to show coats with.
    """

    key: str
    label: str
    kind: str
    selector: str
    is_section: bool
    within: str
    pages: list[str]
    texts: int
    coat: str | None
    words: SampleWords | None


class MapBlock(BaseModel):
    """A section as it stands on a page, in order: how much text it holds, its colours, what is worn there.

    `coat` is "" where it was made plain, null where it has its original colours; `apart`: it came with a background
    of its own, neither the page's nor a coat's. `own` are values that are set here by kind, beside or without a coat.

    `joined`: it goes on into the section below it.

    `key` is "" for what lies in no section. `scope` says what is worn here: on every page or on this page alone; `like`
    what the place is called whose colours it takes, "" for none.
    """

    key: str
    label: str
    texts: int
    characters: int
    background: str
    text: str
    coat: str | None
    apart: bool
    scope: Literal["", "everywhere", "here"]
    like: str
    own: dict[str, str]
    hard: int
    joined: bool


class MapPage(BaseModel):
    """A page as its stack of sections; `coat` is what the whole page wears, `own` the values set on it by kind."""

    path: str
    blocks: list[MapBlock]
    coat: str | None
    own: dict[str, str]


class MapCoat(BaseModel):
    """A coat with what it gives a section, and how many places wear it."""

    id: str
    label: str
    came: bool
    wearers: int
    pages: int
    background: str
    heading: str
    text: str
    link: str
    lowest: float
    verdict: str


class SectionMap(BaseModel):
    """The whole map: pages, regions, and coats, the site's own colours first (id "")."""

    sample: SampleWords
    pages: list[MapPage]
    regions: list[MapRegion]
    coats: list[MapCoat]


@dataclass(frozen=True, slots=True)
class _Worn:
    """What each region wears, by its number, and which came with a background of their own."""

    coats: dict[int, str | None]
    apart: frozenset[int]


def _worn(known: KnownSite, came: KnownSite, study: Study) -> _Worn:
    """Return the coat of each region; original coats are read without the study's backdrops and CSS.

    A section on a veil in the colour of a coat wears no coat by it.
    """
    coats, apart = coats_worn(came, study), came_apart(came, study)
    numbers = {region.key: number for number, region in enumerate(came.survey.regions)}
    found = {n: numbers.get(region.key, -1) for n, region in enumerate(known.survey.regions)}
    plain = plain_coat(study)
    worn = {n: coats.get(number) for n, number in found.items()}
    return _Worn(
        {n: PLAIN if plain is not None and coat == plain else coat for n, coat in worn.items()},
        frozenset(n for n, number in found.items() if number in apart),
    )


def section_map(known: KnownSite, came: KnownSite, study: Study) -> SectionMap:
    """Return the map of a site under a study; `came` is its survey with nothing of any study on it."""
    survey = known.survey
    runs, worn, words = runs_in(known), _worn(known, came, study), _words_in(known)
    return SectionMap(
        sample=_sample(known),
        pages=_stacks(known, study, worn),
        regions=[
            MapRegion(
                key=r.key, label=r.label, kind=r.kind, selector=r.selector, is_section=r.is_section, within=r.within,
                pages=sorted(r.pages), texts=runs[n], coat=worn.coats.get(n), words=words.get(n),
            )
            for n, r in enumerate(survey.regions)
        ],
        coats=list(_coats(known, study, worn)),
    )  # fmt: skip


def _stacks(known: KnownSite, study: Study, worn: _Worn) -> list[MapPage]:
    survey, reading = known.survey, known.read(study)
    widest = max((key.width for key in survey.sightings), default=0)
    blocks: dict[str, dict[int, Counter[str]]] = {page: {} for page in survey.pages}
    counts: dict[tuple[str, int], list[int]] = {}
    rest = reading.index.survey.sightings.get(ContextKey(widest, "rest"), ())
    verdicts, grounds, words = reading.readings.verdict, reading.readings.ground, reading.readings.words
    for sighting in rest:
        run = survey.runs[sighting.run]
        section = next((n for n in reversed(survey.chains[run.chain]) if survey.regions[n].is_section), -1)
        seen = blocks[run.page].setdefault(section, Counter())
        count = counts.setdefault((run.page, section), [0, 0, 0])
        count[0] += 1
        count[1] += run.characters
        count[2] += int(verdicts[sighting.pairing] == FAIL)
        # what stands in fields and buttons tells nothing of the section around them
        if not np.isnan(grounds[sighting.pairing][0]) and not run.is_control:
            seen[f"{_hex(grounds[sighting.pairing])} {_hex(words[sighting.pairing])}"] += run.characters
    whole = {s.where.page: s for s in study.worn if s.where.is_page}
    return [
        MapPage(
            path=page,
            blocks=[_block(known, study, page, n, seen, counts[page, n], worn) for n, seen in of_page.items()],
            coat=whole[page].coat if page in whole else None,
            own=dict(whole[page].set) if page in whole else {},
        )
        for page, of_page in blocks.items()
    ]


def _colours_of(seen: Counter[str]) -> tuple[str, str]:
    """Return the background that most text stands on, and the colour of most text on it; white cards count together."""
    grounds: Counter[str] = Counter()
    for both, characters in seen.items():
        grounds[both.split()[0]] += characters
    if not grounds:
        return "#ffffff", "#000000"
    background = grounds.most_common(1)[0][0]
    on_it = {both: characters for both, characters in seen.items() if both.split()[0] == background}
    return background, max(on_it, key=lambda both: on_it[both]).split()[1]


def _block(
    known: KnownSite, study: Study, page: str, number: int, seen: Counter[str], count: list[int], worn: _Worn
) -> MapBlock:  # fmt: skip
    region = known.survey.regions[number] if number >= 0 else None
    background, text = _colours_of(seen)
    key = region.key if region is not None else None
    here = [
        s for s in study.worn
        if key is not None and s.where.region == key and s.where.page in (None, page) and s.where.at is None
    ]  # fmt: skip
    last = max(here, key=lambda scope: scope.where.page is not None, default=None)
    coat = last.coat if last is not None else worn.coats.get(number)
    coat = PLAIN if coat is not None and coat == plain_coat(study) else coat
    return MapBlock(
        key=region.key if region else "", label=region.label if region else "The rest of the page", texts=count[0],
        characters=count[1], background=background, text=text, coat=coat, hard=count[2],
        apart=number in worn.apart,
        own=dict(last.set) if last is not None else {},
        like=place_name(known.survey, last.like.where) if last is not None and last.like is not None else "",
        joined=any(s.join is not None and page in s.join.pages for s in here),
        scope="" if last is None else "here" if last.where.page is not None else "everywhere",
    )  # fmt: skip


def _sample(known: KnownSite) -> SampleWords:
    """Return words of the owner's own: of the first section with a heading, some text and a link."""
    survey = known.survey
    inside = [r for r in survey.runs if any(survey.regions[n].kind in _CONTENT for n in survey.chains[r.chain])]
    runs = inside or survey.runs
    text = next((r.text for r in runs if not (r.is_heading or r.is_link) and r.characters > _SHORT), "Some text")
    return SampleWords(
        heading=next((r.text for r in runs if r.is_heading), "A heading"),
        text=textwrap.shorten(text, _SAMPLE, placeholder="…"),
        link=next((r.text for r in runs if r.is_link and not r.is_heading), "a link"),
    )


def _words_in(known: KnownSite) -> dict[int, SampleWords]:
    """Return, for each section with text, words of its own; what it has none of is left to stand-ins."""
    survey = known.survey
    found: dict[int, dict[str, str]] = {}
    for run in survey.runs:
        what = "heading" if run.is_heading else "link" if run.is_link else "text"
        for number in survey.chains[run.chain]:
            if survey.regions[number].is_section:
                own = found.setdefault(number, {})
                if what not in own or (what == "text" and len(own[what]) <= _SHORT < run.characters):
                    own[what] = textwrap.shorten(run.text, _SAMPLE, placeholder="…")
    general = {"heading": "A heading", "text": "Some text", "link": "a link"}
    return {number: SampleWords(**{**general, **own}) for number, own in found.items()}


def _hex(srgb: Floats) -> str:
    red, green, blue = (float(channel) for channel in np.clip(srgb, 0, 1))
    return Colour(red, green, blue).hex()


def _coats(known: KnownSite, study: Study, worn: _Worn) -> Iterator[MapCoat]:
    of, regions, rest = worn.coats, list(told_apart(known, worn.coats)), pages_with_a_rest(known)
    shown = [(coat.id, coat.label, coat.came) for coat in study.coats if coat.id != plain_coat(study)]
    for id_, label, came in ((PLAIN, "Plain", True), *shown):
        wearers = [
            region for n, region in regions
            if (region.is_section or id_) and (of.get(n) or "") == id_
            and (of.get(n) is not None or n not in worn.apart)
        ]  # fmt: skip
        bare = rest if id_ == PLAIN else set()
        pages = {page for region in wearers for page in region.pages} | bare
        sample = _sampled(plain_values(known, study) if id_ == PLAIN else coat_values(study, id_))
        ground = read_colour(sample["background"])
        lowest = min(contrast_ratio(read_colour(sample[kind]), ground) for kind in ("text", "heading", "link"))
        verdict = "pass" if lowest >= LEVELS[study.aim][0] else "half" if lowest >= LEVELS[study.aim][1] else "fail"
        yield MapCoat(
            id=id_, label=label, came=came, wearers=len(wearers) + bool(bare), pages=len(pages),
            lowest=cut_ratio(lowest), verdict=verdict, **sample,
        )  # fmt: skip


def _sampled(values: Mapping[Use, Colour]) -> dict[str, str]:
    at_rest = {kind: colour.hex() for (kind, state), colour in values.items() if state == "rest"}
    text = at_rest.get("text", "#000000")
    return {
        "background": at_rest.get("background", "#ffffff"), "text": text, "heading": at_rest.get("heading", text),
        "link": at_rest.get("link", text),
    }  # fmt: skip
