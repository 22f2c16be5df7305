"""Where things lie on the pages: what the owner's browser is asked to measure, and what it has measured."""

from __future__ import annotations

from urllib.parse import quote

from django.http import HttpRequest, HttpResponse
from ninja import Router

from glaucon.apps.accounts.rates import refuse_too_often
from glaucon.apps.api.schemas.layout import BoxOut, LayoutOut, MeasuredIn, RunOut, StoodIn, WantedOut, WorstIn, WorstOut
from glaucon.apps.errors import Refused
from glaucon.apps.sites import surveys
from glaucon.apps.sites.access import own_site
from glaucon.apps.sites.effort import light
from glaucon.apps.sites.layouts import keep_layout, kept_layouts, read_kept, worth_measuring
from glaucon.apps.sites.standing import are_all_used, keep_stood, worth_running
from glaucon.apps.studies import services
from glaucon.apps.studies.previews import preview_root
from glaucon.apps.studies.running import running_root
from glaucon.apps.work.heavy import heavy, long_work
from glaucon.core.colour.contrast import cut_ratio
from glaucon.core.layout.document import Box
from glaucon.core.places.worst_spot import sights_of, worst_spot
from glaucon.core.survey.site import is_page
from glaucon.core.survey.survey import Surveyor

router = Router(tags=["site"])
_MOST_BYTES = 3_000_000
_MOST_STOOD_BYTES = 4_000_000
_MOST_SIGHTS = 3  # of a finding, looked at until one shows it
_MOST_TOLD = 60  # pages to be measured, told at once


@router.get("/sites/{slug}/layout", response=LayoutOut, operation_id="getLayout")
@light
def get_layout(request: HttpRequest, slug: str) -> LayoutOut:
    site = own_site(request, slug)
    kept = kept_layouts(site)
    revision = services.current_of(site)
    study = revision.read()
    open_ = [one for one in worth_measuring(surveys.known_for(site, study).survey) if one not in kept]
    root = preview_root(site, revision)
    pages = worth_running(site, surveys.known_of(site).survey.pages)[:_MOST_TOLD]
    return LayoutOut(
        scripts=[RunOut(page=page, address=running_root(site) + quote(page)) for page in pages],
        wanted=[WantedOut(page=page, width=width, address=root + quote(page)) for page, width in open_[:_MOST_TOLD]],
        measured=len(kept), total=len(kept) + len(open_), is_used=surveys.are_used(site, kept) and are_all_used(site),
    )  # fmt: skip


@router.put("/sites/{slug}/layout", operation_id="putLayout")
def put_layout(request: HttpRequest, slug: str, given: MeasuredIn) -> HttpResponse:
    """Keep what was measured of a page."""
    if len(request.body) > _MOST_BYTES:
        raise Refused(413, "too-large", "This page has more on it than Glaucon measures. It is read without a layout.")
    refuse_too_often(request.user, "measurings")
    kept: HttpResponse = keep_measured(request, slug=slug, given=given)
    return kept


@light
def keep_measured(request: HttpRequest, slug: str, given: MeasuredIn) -> HttpResponse:
    """Keep what was measured of a page, where the site has such a page and is read at that width."""
    site = own_site(request, slug)
    # a backdrop may make bands of widths of its own
    survey = surveys.known_for(site, services.current_of(site).read()).survey
    if given.page not in survey.pages:
        raise Refused(422, "no-page", f"“{given.page[:80]}” is no page of this site. Load the site again.")
    if given.width not in {key.width for key in survey.sightings}:
        raise Refused(422, "no-width", f"Pages of this site are not read at {given.width} pixels. Load it again.")
    paths = {run.path for run in survey.runs if run.page == given.page}
    keep_layout(site, given.page, given.width, given.measured, paths)
    return HttpResponse(status=204)


@router.put("/sites/{slug}/snapshot", operation_id="putSnapshot")
def put_snapshot(request: HttpRequest, slug: str, given: StoodIn) -> HttpResponse:
    """Keep what a page was once its scripts had run."""
    if len(request.body) > _MOST_STOOD_BYTES:
        raise Refused(413, "too-large", "What the scripts made of this page is too large. It is read as its file says.")
    refuse_too_often(request.user, "measurings")
    site = own_site(request, slug)
    if not site.files.filter(path=given.page).exists() or not is_page(given.page):
        raise Refused(422, "no-page", f"“{given.page[:80]}” is no page of this site. Load the site again.")
    keep_stood(site, given.page, given.stood)
    return HttpResponse(status=204)


@router.post("/sites/{slug}/layout/worst", response=list[WorstOut], operation_id="worstSpots")
@heavy
def worst(request: HttpRequest, slug: str, asked: WorstIn) -> list[WorstOut]:
    """Return where some findings are hardest to read; none for those that no measured page shows."""
    site = own_site(request, slug)
    revision = services.current_at(site, asked.base.named)
    study = revision.read()
    known = surveys.known_for(site, study)
    wanted, kept = set(asked.keys), kept_layouts(site)
    findings = [one for one in known.read(study).findings if one.key in wanted]
    surveyor, root = Surveyor(surveys.files_of(site)), preview_root(site, revision)
    found = []
    for finding in findings:
        for sight in sights_of(known, finding, set(kept))[:_MOST_SIGHTS]:
            place = sight.page, sight.context.width
            layout = read_kept({place: kept[place]})[place]
            spot = worst_spot(surveyor, layout, sight, study)
            if spot is not None:
                found.append(WorstOut(
                    key=finding.key, page=sight.page, width=sight.context.width, state=sight.context.state,
                    address=root + quote(sight.page), height=layout.height, line=_box_out(spot.line),
                    spot=_box_out(spot.spot), ratio=cut_ratio(spot.ratio),
                ))  # fmt: skip
                break
    return found


def _box_out(box: Box) -> BoxOut:
    return BoxOut(left=box.left, top=box.top, width=box.width, height=box.height)


@router.post("/sites/{slug}/layout/use", operation_id="useLayout")
def use_layout(request: HttpRequest, slug: str) -> HttpResponse:
    """Read the site with all that is measured of it: work that may take its time."""
    site = own_site(request, slug)
    return long_work(request.user, "glaucon.apps.bringing.as_it_stands.use_told", {"site_number": site.pk})
