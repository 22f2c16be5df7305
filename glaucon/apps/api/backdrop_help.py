"""What would make the text on a backdrop readable: one act each, tried and answered with the layers it would have."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router

from glaucon.apps.api.answers import current
from glaucon.apps.api.backdrops import asked_backdrop, hold_page, layers_of, plate_of
from glaucon.apps.api.schemas.backdrops import (
    BackdropIn,
    BaseOut,
    FirmestOut,
    FocusOut,
    HardOut,
    LeastOut,
    PlateOut,
    StopsOut,
    TryIn,
)
from glaucon.apps.errors import Refused
from glaucon.apps.sites.access import own_site
from glaucon.apps.sites.trying import MOST_PAGES, VEILED, before_backdrop, plate_behind, seen_with
from glaucon.apps.work.heavy import heavy
from glaucon.core.backdrops.bases import readable_base
from glaucon.core.backdrops.panels import firmest_needed
from glaucon.core.backdrops.stops import readable_stops
from glaucon.core.backdrops.trying import at_focus, best_focus, texts_on
from glaucon.core.backdrops.veils import least_veil, with_veil
from glaucon.core.colour.contrast import cut_ratio
from glaucon.core.survey.model import ContextKey

router = Router(tags=["backdrops"])


@router.post("/sites/{slug}/backdrops/least-veil", response=LeastOut, operation_id="findLeastVeil")
@heavy
def find_least_veil(request: HttpRequest, slug: str, asked: BackdropIn) -> LeastOut:
    """Return the least veil with which no text is hard to read that a veil can help, on wide and narrow screens."""
    site = own_site(request, slug)
    backdrop = asked_backdrop(site, asked)
    study = current(site).read()
    seen = seen_with(site, study, backdrop, VEILED, MOST_PAGES)
    least = least_veil(seen, study, backdrop, before_backdrop(site, study, backdrop))
    veiled = with_veil(study, backdrop, least.opacity, least.colour)
    hard = [HardOut(page=page, path=path) for page, path in least.hard]
    return LeastOut(opacity=least.opacity, hard=hard, layers=layers_of(veiled))


@router.post("/sites/{slug}/backdrops/panels", response=FirmestOut, operation_id="findPanels")
@heavy
def find_panels(request: HttpRequest, slug: str, asked: BackdropIn) -> FirmestOut:
    """Return how solid the boxes on a backdrop have to be for the texts on them."""
    site = own_site(request, slug)
    backdrop = asked_backdrop(site, asked)
    study = current(site).read()
    seen = seen_with(site, study, backdrop, VEILED, MOST_PAGES)
    panels, hard = firmest_needed(seen, study, backdrop, before_backdrop(site, study, backdrop))
    return FirmestOut(panels=panels, hard=hard)


@router.post("/sites/{slug}/backdrops/plate", response=PlateOut, operation_id="findPlate")
@heavy
def find_plate(request: HttpRequest, slug: str, asked: BackdropIn) -> PlateOut:
    """Return the least plate behind those texts of a backdrop's place that are hard to read, on all screens."""
    site = own_site(request, slug)
    backdrop = asked_backdrop(site, asked).model_copy(update={"plate": None})
    found = plate_behind(site, current(site).read(), backdrop)
    return PlateOut(plate=plate_of(found[0]) if found else None, hard=len(found[1].hard) if found else 0)


@router.post("/sites/{slug}/backdrops/base", response=BaseOut, operation_id="findBase")
@heavy
def find_base(request: HttpRequest, slug: str, asked: BackdropIn) -> BaseOut:
    """Return the base colour nearest to a backdrop's own on which its texts can be read should its pictures fail."""
    site = own_site(request, slug)
    backdrop = asked_backdrop(site, asked)
    study = current(site).read()
    seen = seen_with(site, study, backdrop, VEILED, MOST_PAGES, with_pictures=False)
    found = readable_base(seen, study, backdrop, before_backdrop(site, study, backdrop))
    return BaseOut(layers=layers_of(found.backdrop), hard=len(found.hard))


@router.post("/sites/{slug}/backdrops/stops", response=StopsOut, operation_id="findStops")
@heavy
def find_stops(request: HttpRequest, slug: str, asked: BackdropIn) -> StopsOut:
    """Return other colours of the topmost gradient's stops, as few as will do, with which text over it can be read."""
    site = own_site(request, slug)
    backdrop = asked_backdrop(site, asked)
    study = current(site).read()
    seen = seen_with(site, study, backdrop, VEILED, MOST_PAGES)
    found = readable_stops(seen, study, backdrop, before_backdrop(site, study, backdrop))
    if found is None:
        return StopsOut(layers=layers_of(backdrop), moved=0, hard=None)
    return StopsOut(layers=layers_of(found.backdrop), moved=len(found.moved), hard=len(found.hard))


@router.post("/sites/{slug}/backdrops/focus", response=FocusOut, operation_id="findFocus")
@heavy
def find_focus(request: HttpRequest, slug: str, asked: TryIn) -> FocusOut:
    """Return the part of the topmost picture on which the texts of a page read best at a width."""
    site = own_site(request, slug)
    hold_page(site, asked.page)
    backdrop = asked_backdrop(site, asked)
    if not list(backdrop.pictures):
        raise Refused(422, "no-picture", "There is no picture behind this. Add one first.")
    study = current(site).read()
    seen = seen_with(site, study, backdrop, [ContextKey(asked.width, "rest")], 1, asked.page)
    before = before_backdrop(site, study, backdrop)
    at = best_focus(seen, study, backdrop, lambda done, total: None, before)
    there = at_focus(backdrop, at)
    ratios = [one.ratio for one in texts_on(seen(there), study, there, before) if one.ratio is not None]
    return FocusOut(at=list(at), lowest=cut_ratio(min(ratios)) if ratios else None, layers=layers_of(there))
