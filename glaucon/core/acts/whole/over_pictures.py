"""What is offered for text on pictures that no colour makes readable: a veil over all, or a plate behind the text."""

from __future__ import annotations

import time
from collections.abc import Collection, Iterator

import numpy as np

from glaucon.core.acts.act import Answer
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.acts.behind.trying import VEILED, before_backdrop, plate_behind, seen_with
from glaucon.core.acts.whole.fix import SectionVeil
from glaucon.core.backdrops.css import veil_strength
from glaucon.core.backdrops.marked import Text
from glaucon.core.backdrops.veils import veils_over
from glaucon.core.colour.contrast import relative_luminance
from glaucon.core.colour.value import Colour, read_colour
from glaucon.core.exchange.preview import PAGE_ATTRIBUTE
from glaucon.core.mending.fixed import Fixed
from glaucon.core.mending.harm import Guard
from glaucon.core.places.behind import sections_behind
from glaucon.core.study.backdrops import Backdrop, OfRole
from glaucon.core.study.coat_backdrops import with_backdrop
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study

_MOST = 3  # sections
_MIDDLE = 0.18  # luminance
OVER_SECONDS = 9.0  # of processor time: after that no more is begun; most sites take one or two


class VeilOffer(Answer):
    """The least veil over a section's picture with which text on it is readable, and the rules that show it.

    With `behind`, selectors within the section, it is a plate: right behind those texts, and over nothing else.
    """

    section: str
    label: str
    page: str
    colour: str
    role: str | None
    opacity: float
    fixes: int
    css: str
    behind: list[str] = []

    @property
    def given(self) -> SectionVeil:
        """Return it as the act of fixing takes it."""
        return SectionVeil(
            section=self.section, role=self.role, colour=self.colour, opacity=self.opacity, behind=tuple(self.behind)
        )


def over_pictures(site: SiteAtHand, fixed: Fixed, guard: Guard) -> list[VeilOffer]:
    """Return the veils, or plates where every veil harms, that make text readable which no change of colour does."""
    until = time.thread_time() + OVER_SECONDS
    known = site.known
    left = [number for one in fixed.left if one.why in ("picture", "shared") for number in one.texts]
    texts = {(known.survey.runs[number].page, known.survey.runs[number].path) for number in left}
    found: list[VeilOffer] = []
    tried = []
    for region, page in sections_behind(known.survey, left)[:_MOST]:
        bare = Backdrop.model_validate({"in": Where(section=region.key), "layers": ()})
        if not any(one.where == bare.where for one in fixed.study.backdrops):
            tried.append((region, page, _ways(site, fixed.study, bare, texts, until)))
    while tried:  # the first way of each section before the second of any
        region, page, ways = tried.pop(0)
        way = next(ways, None)
        if way is not None and _makes_worse(site, fixed.study, way[0], guard):
            tried.append((region, page, ways))
        elif way is not None:
            found.append(_told(site, fixed.study, region.key, region.label, page, *way))
    return sorted(found, key=lambda one: -one.fixes)


def _ways(
    site: SiteAtHand, study: Study, bare: Backdrop, texts: Collection[Text], until: float
) -> Iterator[tuple[Backdrop, int]]:
    """Yield what may be laid over a section or behind its texts, and how many texts that fixes, until the time is over.

    Veils come first: the best one, and if that harms a text the best of those on the other side of middle grey.
    """
    if time.thread_time() >= until:
        return
    seen, before = seen_with(site, study, bare), before_backdrop(site, study, bare)
    sides: set[bool] = set()
    for over in veils_over(seen, before, study, bare, texts):
        veil = over.backdrop.layers[0].veil
        if time.thread_time() >= until or veil is None:
            return
        is_dark = float(relative_luminance(np.array(_colour(study, veil.colour).rgb))) < _MIDDLE
        if is_dark not in sides:
            sides.add(is_dark)
            yield over.backdrop, over.fixes
    if time.thread_time() < until and (plated := plate_behind(site, study, bare)) is not None:
        backdrop, least = plated
        if fixes := len((set(least.texts) & set(texts)) - set(least.hard)):
            yield backdrop, fixes


def _colour(study: Study, paint: OfRole | str) -> Colour:
    return study.role(paint.role).colour if isinstance(paint, OfRole) else read_colour(paint)


def _told(site: SiteAtHand, study: Study, section: str, label: str, page: str, laid: Backdrop, fixes: int) -> VeilOffer:
    veil, plate = (laid.layers[0].veil if laid.layers else None), laid.plate
    what = veil or plate
    assert what is not None
    colour = what.colour
    rules = site.backdrops(study.model_copy(update={"backdrops": (laid,)}))
    return VeilOffer(
        section=section, label=label, page=page, role=colour.role if isinstance(colour, OfRole) else None,
        colour=_colour(study, colour).hex(),
        opacity=veil_strength(veil) if veil is not None else plate.opacity if plate is not None else 0.0,
        fixes=fixes, css=rules.for_previews(site.known.survey.pages, PAGE_ATTRIBUTE),
        behind=list(plate.behind) if plate is not None else [],
    )  # fmt: skip


def _makes_worse(site: SiteAtHand, study: Study, backdrop: Backdrop, guard: Guard) -> bool:
    """Return whether a backdrop makes a text worse: one that stays hard to read, on what is darker or lighter now."""
    pages = site.backdrops(study).pages_of(backdrop, site.known.survey.pages)
    with_it = with_backdrop(study, backdrop)
    return bool(guard.worse_in(site.on_pages(with_it, sorted(pages), VEILED), with_it))
