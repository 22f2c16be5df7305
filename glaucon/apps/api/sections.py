"""The section map: pages as stacks of sections, coats and who wears them, and what is done with both."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from glaucon.apps.api.answers import added_css, current, revision_out
from glaucon.apps.api.places import hold_to_the_site, place_of
from glaucon.apps.api.schemas.site import ColourText
from glaucon.apps.api.schemas.study import RevisionOut, WhereIn
from glaucon.apps.errors import Refused
from glaucon.apps.sites.access import own_site
from glaucon.apps.sites.effort import light, light_change
from glaucon.apps.sites.layouts import kept_layouts, read_kept
from glaucon.apps.sites.models import Site
from glaucon.apps.sites.surveys import files_of, known_for, known_of
from glaucon.apps.studies import services
from glaucon.core.colour.contrast import contrast_ratio, cut_ratio
from glaucon.core.colour.oklab import Floats
from glaucon.core.colour.value import Colour, read_colour
from glaucon.core.places.joining import join_sections, part_sections
from glaucon.core.places.plain import PLAIN, plain_coat, plain_values, wear_by_turns
from glaucon.core.places.worn import came_apart, came_with, coats_worn, pages_with_a_rest, runs_in, told_apart
from glaucon.core.proposal.dressing import place_name
from glaucon.core.proposal.known import KnownSite
from glaucon.core.reading.reading import LEVELS
from glaucon.core.study import coats
from glaucon.core.study.dress import coat_values
from glaucon.core.study.roles import Kind
from glaucon.core.study.scopes import Like, Use, Where
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey

router = Router(tags=["sections"])
_CONTENT = frozenset({"region", "article", "band", "content", "welcome"})
_SAMPLED: tuple[Kind, ...] = ("background", "text", "heading", "link")


class RegionOut(Schema):
    """A section or a part: what it is, where, how many texts lie in it, and which coat it wears."""

    key: str
    label: str
    kind: str
    selector: str
    is_section: bool
    within: str
    pages: list[str]
    texts: int
    coat: str | None


class BlockOut(Schema):
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


class StackOut(Schema):
    """A page as its stack of sections; `coat` is what the whole page wears, `own` the values set on it by kind."""

    path: str
    blocks: list[BlockOut]
    coat: str | None
    own: dict[str, str]


class WornCoatOut(Schema):
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


class SampleWordsOut(Schema):
    """Words of the owner's own to show a coat with."""

    heading: str
    text: str
    link: str


class MapOut(Schema):
    """The whole map: pages, regions, and coats, the site's own colours first (id "")."""

    revision: int
    sample: SampleWordsOut
    pages: list[StackOut]
    regions: list[RegionOut]
    coats: list[WornCoatOut]


class WearIn(Schema):
    """Places that wear a coat, or several by turns in their order, and values by kind.

    "" is the page's own colours; null is none: with no values they are as they came.

    With `like` they take the colours of that place from now on, and nothing else counts.
    """

    base: int
    places: list[WhereIn] = Field([], max_length=400)
    like: WhereIn | None = None
    coats: list[str | None] = Field([None], max_length=12)
    values: dict[Annotated[str, Field(max_length=40)], ColourText] = Field({}, max_length=80)


class JoinIn(Schema):
    """Sections that become one where they lie one under another, on one page or on all; or are parted again."""

    base: int
    sections: list[Annotated[str, Field(max_length=200)]] = Field(max_length=60)
    page: str | None = Field(None, max_length=400)
    apart: bool = False


class ShownOut(Schema):
    """The rules that a study adds to the site."""

    css: str


class NewCoatIn(Schema):
    """A coat to be made from a background, or as a copy of another."""

    what: Literal["new"]
    label: str = Field(max_length=200)
    background: ColourText = "#ffffff"
    like: str | None = Field(None, max_length=60)


class RenameCoatIn(Schema):
    """A coat called otherwise."""

    what: Literal["rename"]
    coat: str = Field(max_length=60)
    label: str = Field(max_length=200)


class DeleteCoatIn(Schema):
    """A coat to be deleted; with `is_answered` its wearers wear `to`, or the site's own colours."""

    what: Literal["delete"]
    coat: str = Field(max_length=60)
    to: str | None = Field(None, max_length=60)
    is_answered: bool = False


class CoatChangeIn(Schema):
    """One change to the coats, from the revision the writer has seen."""

    base: int
    change: Annotated[NewCoatIn | RenameCoatIn | DeleteCoatIn, Field(discriminator="what")]


@router.get("/sites/{slug}/sections", response=MapOut, operation_id="getSections")
@light
def get_sections(request: HttpRequest, slug: str) -> MapOut:
    site = own_site(request, slug)
    revision = current(site)
    study = revision.read()
    return _map(known_for(site, study), known_of(site), study, revision.number)


@router.post("/sites/{slug}/worn", response=RevisionOut, operation_id="wearThere")
@light_change
def wear_there(request: HttpRequest, slug: str, asked: WearIn) -> RevisionOut:
    """Give some places a coat, several by turns, or values of their own; or take it off again."""
    site = own_site(request, slug)
    places, change = _wearing(site, asked)
    what = "A section changed" if len(places) == 1 else f"{len(places)} sections changed"
    return revision_out(site, services.change(site, asked.base, change, what))


@router.post("/sites/{slug}/worn/shown", response=ShownOut, operation_id="showThere")
@light
def show_there(request: HttpRequest, slug: str, asked: WearIn) -> ShownOut:
    """Return the rules that would show it, while a colour is drawn; nothing is saved."""
    site = own_site(request, slug)
    _, change = _wearing(site, asked)
    return ShownOut(css=added_css(site, change(current(site).read())))


def _wearing(site: Site, asked: WearIn) -> tuple[list[Where], Callable[[Study], Study]]:
    """Return the places of a question and what it does to a study. Raises: Refused."""
    places = [place_of(place) for place in asked.places]
    if not places:
        raise Refused(422, "no-place", "Nothing is chosen. Choose a section or a page first.")
    known = known_of(site)
    for place in places:
        hold_to_the_site(known, place)

    like = place_of(asked.like) if asked.like is not None else None
    if like is not None:
        hold_to_the_site(known, like)

    def change(study: Study) -> Study:
        if like is not None:
            return coats.wear_as(
                study, places, Like.model_validate({"in": like, "came": came_with(known, study, like)})
            )
        given = asked.coats or [None]
        return wear_by_turns(known, study, places, given[:1] if asked.values else given, asked.values)

    return places, change


@router.post("/sites/{slug}/joined", response=RevisionOut, operation_id="joinSections")
@light_change
def join_there(request: HttpRequest, slug: str, asked: JoinIn) -> RevisionOut:
    """Close the gaps between sections that lie one under another, or open them again."""
    site = own_site(request, slug)
    known = known_of(site)
    for key in asked.sections:
        hold_to_the_site(known, Where(section=key, page=asked.page))
    regions = [region for region in known.survey.regions if region.key in asked.sections]
    pages = known.survey.pages if asked.page is None else [asked.page]

    def change(study: Study) -> Study:
        if asked.apart:
            return part_sections(study, asked.sections)
        layouts = read_kept({one: path for one, path in kept_layouts(site).items() if one[0] in pages})
        return join_sections(study, files_of(site), layouts, regions, pages)

    said = "Sections parted" if asked.apart else "Sections joined"
    return revision_out(site, services.change(site, asked.base, change, said))


@router.post("/sites/{slug}/coats", response=RevisionOut, operation_id="changeCoat")
@light_change
def change_coat(request: HttpRequest, slug: str, asked: CoatChangeIn) -> RevisionOut:
    site = own_site(request, slug)
    change = asked.change

    def step(study: Study) -> Study:
        if isinstance(change, NewCoatIn):
            return coats.add_coat(study, change.label, change.background, change.like)[0]
        if isinstance(change, RenameCoatIn):
            return coats.rename_coat(study, change.coat, change.label)
        return coats.delete_coat(study, change.coat, change.to, change.is_answered)

    said = {"new": "Coat added", "rename": "Coat renamed", "delete": "Coat deleted"}[change.what]
    return revision_out(site, services.change(site, asked.base, step, said))


@dataclass(frozen=True, slots=True)
class _Worn:
    """What each region wears, by its number, and which came with a background of their own."""

    coats: dict[int, str | None]
    apart: frozenset[int]


def _worn(known: KnownSite, came: KnownSite, study: Study) -> _Worn:
    """Return what regions wear; what they came with is read of the site without the study's backdrops and CSS.

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


def _map(known: KnownSite, came: KnownSite, study: Study, revision: int) -> MapOut:
    survey = known.survey
    runs, worn = runs_in(known), _worn(known, came, study)
    return MapOut(
        revision=revision,
        sample=_sample(known),
        pages=_stacks(known, study, worn),
        regions=[
            RegionOut(
                key=r.key, label=r.label, kind=r.kind, selector=r.selector, is_section=r.is_section, within=r.within,
                pages=sorted(r.pages), texts=runs[n], coat=worn.coats.get(n),
            )
            for n, r in enumerate(survey.regions)
        ],
        coats=list(_coats(known, study, worn)),
    )  # fmt: skip


def _stacks(known: KnownSite, study: Study, worn: _Worn) -> list[StackOut]:
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
        count[2] += int(verdicts[sighting.pairing] == 1)
        # what stands in fields and buttons tells nothing of the section around them
        if not np.isnan(grounds[sighting.pairing][0]) and not run.is_control:
            seen[f"{_hex(grounds[sighting.pairing])} {_hex(words[sighting.pairing])}"] += run.characters
    whole = {s.where.page: s for s in study.worn if s.where.is_page}
    return [
        StackOut(
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
) -> BlockOut:  # fmt: skip
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
    return BlockOut(
        key=region.key if region else "", label=region.label if region else "The rest of the page", texts=count[0],
        characters=count[1], background=background, text=text, coat=coat, hard=count[2],
        apart=number in worn.apart,
        own=dict(last.set) if last is not None else {},
        like=place_name(known.survey, last.like.where) if last is not None and last.like is not None else "",
        joined=any(s.join is not None and page in s.join.pages for s in here),
        scope="" if last is None else "here" if last.where.page is not None else "everywhere",
    )  # fmt: skip


def _sample(known: KnownSite) -> SampleWordsOut:
    """Return words of the owner's own: of the first section with a heading, some text and a link."""
    survey = known.survey
    inside = [r for r in survey.runs if any(survey.regions[n].kind in _CONTENT for n in survey.chains[r.chain])]
    runs = inside or survey.runs
    return SampleWordsOut(
        heading=next((r.text for r in runs if r.is_heading), "A heading"),
        text=next((r.text for r in runs if not (r.is_heading or r.is_link) and r.characters > 40), "Some text"),
        link=next((r.text for r in runs if r.is_link and not r.is_heading), "a link"),
    )


def _hex(srgb: Floats) -> str:
    red, green, blue = (float(channel) for channel in np.clip(srgb, 0, 1))
    return Colour(red, green, blue).hex()


def _coats(known: KnownSite, study: Study, worn: _Worn) -> Iterator[WornCoatOut]:
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
        yield WornCoatOut(
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
