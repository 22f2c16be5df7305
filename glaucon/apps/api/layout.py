"""Where things lie on the pages: what the owner's browser is asked to measure, and what it has measured."""

from __future__ import annotations

from typing import Any
from urllib.parse import quote

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema
from pydantic import Field

from glaucon.apps.api.answers import current
from glaucon.apps.errors import Refused
from glaucon.apps.sites import surveys
from glaucon.apps.sites.access import own_site
from glaucon.apps.sites.layouts import keep_layout, kept_layouts, worth_measuring
from glaucon.apps.studies.previews import preview_root
from glaucon.apps.work import queue
from glaucon.apps.work.heavy import answer_of
from glaucon.apps.work.tasks import do_waiting_work

router = Router(tags=["site"])
_MOST_BYTES = 3_000_000
_MOST_TOLD = 60  # pages to be measured, told at once


class WantedOut(Schema):
    """A page that is worth measuring at a width (CSS pixels), and where it is framed from."""

    page: str
    width: int
    address: str


class LayoutOut(Schema):
    """How far the measuring is, in pages at a width; with `is_used` the reading knows all that is measured."""

    wanted: list[WantedOut]
    measured: int
    total: int
    is_used: bool


class MeasuredIn(Schema):
    """What Glaucon's own script measured of a page at a width."""

    page: str = Field(max_length=400)
    width: int = Field(ge=200, le=4000)
    measured: dict[str, Any]


@router.get("/sites/{slug}/layout", response=LayoutOut, operation_id="getLayout")
def get_layout(request: HttpRequest, slug: str) -> LayoutOut:
    site = own_site(request, slug)
    kept = kept_layouts(site)
    open_ = [one for one in worth_measuring(surveys.known_of(site).survey) if one not in kept]
    root = preview_root(site, current(site).read())
    return LayoutOut(
        wanted=[WantedOut(page=page, width=width, address=root + quote(page)) for page, width in open_[:_MOST_TOLD]],
        measured=len(kept), total=len(kept) + len(open_), is_used=surveys.are_used(site, kept),
    )  # fmt: skip


@router.put("/sites/{slug}/layout", operation_id="putLayout")
def put_layout(request: HttpRequest, slug: str, given: MeasuredIn) -> HttpResponse:
    """Keep what was measured of a page."""
    site = own_site(request, slug)
    if len(request.body) > _MOST_BYTES:
        raise Refused(413, "too-large", "This page has more on it than Glaucon measures. It is read without a layout.")
    survey = surveys.known_of(site).survey
    if given.page not in survey.pages:
        raise Refused(422, "no-page", f"“{given.page[:80]}” is no page of this site. Load the site again.")
    if given.width not in {key.width for key in survey.sightings}:
        raise Refused(422, "no-width", f"Pages of this site are not read at {given.width} pixels. Load it again.")
    paths = {run.path for run in survey.runs if run.page == given.page}
    keep_layout(site, given.page, given.width, given.measured, paths)
    return HttpResponse(status=204)


@router.post("/sites/{slug}/layout/use", operation_id="useLayout")
def use_layout(request: HttpRequest, slug: str) -> HttpResponse:
    """Read the site with all that is measured of it: work that may take its time."""
    site = own_site(request, slug)
    work = queue.add(request.user, "glaucon.apps.sites.surveys.use_layouts_of", {"site_number": site.pk}, is_long=True)
    do_waiting_work()
    return answer_of(work)
