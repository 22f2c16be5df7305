"""Sites: the shelf, bringing in, what came in."""

from __future__ import annotations

from pathlib import Path
from urllib.parse import quote

from django.http import HttpRequest, HttpResponse
from ninja import File, Form, Router, UploadedFile

from glaucon.apps.api.schemas.site import (
    AddressIn,
    AwayIn,
    FoundOut,
    GoneOut,
    JobOut,
    OpenedOut,
    PageOut,
    SampleIn,
    SampleOut,
    SiteCard,
    SiteNameIn,
    SiteOut,
)
from glaucon.apps.api.shaping.found_groups import found_groups
from glaucon.apps.bringing import jobs, shelf, sources
from glaucon.apps.bringing.sources import MOST_PAGES, MOST_PAGES_EVER
from glaucon.apps.bringing.tasks import start_job
from glaucon.apps.errors import Refused
from glaucon.apps.releases.services import live_release, live_study
from glaucon.apps.sites.access import own_job, own_site
from glaucon.apps.sites.effort import light
from glaucon.apps.sites.models import Job, Site
from glaucon.apps.sites.room import refuse_another_site
from glaucon.apps.sites.surveys import known_for, known_of
from glaucon.apps.studies.previews import preview_root
from glaucon.apps.studies.services import current_of
from glaucon.apps.work.heavy import heavy
from glaucon.core.cascade.selectors.state import OPENED
from glaucon.core.changes.shown import shown_changes
from glaucon.core.known.strip import strip_of
from glaucon.core.places.page_names import page_titles, short_names
from glaucon.core.survey.walk.openings import opened_states

router = Router(tags=["site"])


@router.get("/samples", response=list[SampleOut], operation_id="getSamples")
def get_samples(request: HttpRequest) -> list[SampleOut]:
    return [SampleOut(name=name, title=title, about=about) for name, (title, about) in sources.SAMPLES.items()]


@router.get("/sites", response=list[SiteCard], operation_id="getSites")
@light
def get_sites(request: HttpRequest) -> list[SiteCard]:
    return [_card(site) for site in Site.objects.of(request.user)]


def _card(site: Site) -> SiteCard:
    study, known = current_of(site).read(), known_of(site)
    reading = known_for(site, study).read(study)
    live = live_release(site)
    return SiteCard(
        slug=site.slug,
        name=site.name,
        pages=len(known.survey.pages),
        strip=strip_of(known, study),
        texts=reading.texts,
        readable=reading.texts - reading.hard - reading.unsure,
        live_since=live.live_since.isoformat() if live and live.live_since else None,
        is_away=site.is_away,
        waiting=len(shown_changes(known_of(site), live_study(site), study)),
    )


@router.get("/sites/{slug}", response=SiteOut, operation_id="getSite")
@light
def get_site(request: HttpRequest, slug: str) -> SiteOut:
    site = own_site(request, slug)
    root = preview_root(site, current_of(site))
    live = live_release(site)
    survey = known_of(site).survey
    titles = page_titles(site.titles, site.headings, survey.pages)
    names = short_names(titles)
    scripted = set(site.files.exclude(stood="").values_list("path", flat=True))
    pages = [
        PageOut(
            path=path, title=titles[path], name=names[path], preview=root + quote(path), is_scripted=path in scripted
        )
        for path in titles
    ]
    pages.sort(key=lambda page: (page.path.count("/"), page.path != "index.html", page.path))
    return SiteOut(
        slug=site.slug,
        name=site.name,
        pages=pages,
        opened=[
            OpenedOut(label=state.removeprefix(OPENED), pages=some) for state, some in opened_states(survey).items()
        ],
        notes=site.notes,
        address=site.address,
        hosted_at=site.hosted_at or site.address,
        live=live is not None,
        live_since=live.live_since.isoformat() if live and live.live_since else None,
    )


@router.delete("/sites/{slug}", operation_id="deleteSite")
def delete_site(request: HttpRequest, slug: str) -> HttpResponse:
    """Delete a site; it can be taken back for 30 days."""
    shelf.delete_site(own_site(request, slug))
    return HttpResponse(status=204)


@router.post("/sites/{slug}/name", response=SiteCard, operation_id="renameSite")
@light
def rename_site(request: HttpRequest, slug: str, asked: SiteNameIn) -> SiteCard:
    site = own_site(request, slug)
    shelf.rename_site(site, asked.name)
    return _card(site)


@router.post("/sites/{slug}/copy", response=SiteCard, operation_id="copySite")
@heavy
def copy_site(request: HttpRequest, slug: str) -> SiteCard:
    return _card(shelf.copy_site(own_site(request, slug)))


@router.post("/sites/{slug}/away", response=SiteCard, operation_id="putSiteAway")
@light
def put_site_away(request: HttpRequest, slug: str, asked: AwayIn) -> SiteCard:
    """Put a site away, or back among those worked on."""
    site = own_site(request, slug)
    shelf.put_away(site, asked.is_away)
    return _card(site)


@router.get("/gone", response=list[GoneOut], operation_id="getGoneSites")
def get_gone_sites(request: HttpRequest) -> list[GoneOut]:
    """Return the asker's deleted sites that can still be taken back."""
    return [
        GoneOut(slug=site.slug, name=site.name, until=(site.deleted + shelf.KEPT).isoformat())
        for site in Site.objects.gone_of(request.user)
    ]


@router.post("/gone/{gone}/back", operation_id="takeSiteBack")
def take_site_back(request: HttpRequest, gone: str) -> HttpResponse:
    shelf.take_site_back(request.user, gone)
    return HttpResponse(status=204)


@router.delete("/gone/{gone}", operation_id="deleteForGood")
def delete_for_good(request: HttpRequest, gone: str) -> HttpResponse:
    shelf.delete_for_good(request.user, gone)
    return HttpResponse(status=204)


@router.get("/sites/{slug}/found", response=FoundOut, operation_id="getFound")
@light
def get_found(request: HttpRequest, slug: str) -> FoundOut:
    site = own_site(request, slug)
    known, study = known_of(site), current_of(site).read()
    survey = known.survey
    shown = {one.colour for one in known.found if one.is_seen}
    return FoundOut(
        colours=len(shown),
        unseen=len({one.colour for one in known.found} - shown),
        short_roles=len(study.short_roles()),
        short_coats=len(study.short_coats()),
        pages=len(survey.pages),
        texts=len(survey.runs),
        groups=found_groups(known, study),
        notes=site.notes,
        changes=site.changes,
    )


@router.post("/bring/zip", response=JobOut, operation_id="bringZip")
def bring_zip(
    request: HttpRequest, archive: File[UploadedFile], name: Form[str] = "", most_pages: Form[int] = MOST_PAGES
) -> JobOut:
    if not 1 <= most_pages <= MOST_PAGES_EVER:
        raise Refused(422, "most-pages", "The page limit is a whole number from 1 to 3,000.")
    filename = archive.name or "site.zip"
    jobs.refuse_while_busy(request.user)
    refuse_another_site(request.user)  # before anything is laid down
    source = sources.keep_upload(archive.chunks())
    title = name.strip() or filename.rsplit(".", 1)[0].replace("-", " ").replace("_", " ").strip().capitalize()
    return _start(request, title, str(source), most_pages=most_pages)


@router.post("/bring/sample", response=JobOut, operation_id="bringSample")
def bring_sample(request: HttpRequest, sample: SampleIn) -> JobOut:
    return _start(request, *sources.sample_source(sample.name))


@router.post("/bring/address", response=JobOut, operation_id="bringAddress")
def bring_address(request: HttpRequest, wanted: AddressIn) -> JobOut:
    source = sources.address_source(wanted.address)
    return _start(request, sources.name_of(source), source, most_pages=wanted.most_pages)


@router.post("/sites/{slug}/again/zip", response=JobOut, operation_id="bringZipAgain")
def bring_zip_again(request: HttpRequest, slug: str, archive: File[UploadedFile]) -> JobOut:
    site = own_site(request, slug)
    jobs.refuse_while_busy(request.user)
    source = str(sources.keep_upload(archive.chunks()))
    return _start(request, site.name, source, again=site, most_pages=site.most_pages)


@router.post("/sites/{slug}/again/address", response=JobOut, operation_id="bringAddressAgain")
def bring_address_again(request: HttpRequest, slug: str) -> JobOut:
    site = own_site(request, slug)
    if not site.address:
        raise Refused(409, "no-address", "This site did not come from a web address. Choose its folder or .zip again.")
    return _start(request, site.name, site.address, again=site, most_pages=site.most_pages)


def _start(
    request: HttpRequest, name: str, source: str, again: Site | None = None, most_pages: int = MOST_PAGES
) -> JobOut:
    try:
        job = start_job(request.user, name, source, again, most_pages)
    except Refused:
        if sources.is_upload(source):
            Path(source).unlink(missing_ok=True)
        raise
    job.refresh_from_db()
    return _job_out(job)


@router.get("/jobs", response=list[JobOut], operation_id="getJobs")
def get_jobs(request: HttpRequest) -> list[JobOut]:
    return [_job_out(job) for job in Job.objects.filter(owner=request.user)[:5]]


@router.get("/jobs/{number}", response=JobOut, operation_id="getJob")
def get_job(request: HttpRequest, number: int) -> JobOut:
    return _job_out(own_job(request, number))


@router.delete("/jobs/{number}", response=JobOut, operation_id="cancelJob")
def cancel_job(request: HttpRequest, number: int) -> JobOut:
    job = own_job(request, number)
    if not job.is_open:
        raise Refused(409, "ended", "That has already ended. There is nothing to cancel.")
    jobs.cancel_job(job)
    job.refresh_from_db()
    return _job_out(job)


def _job_out(job: Job) -> JobOut:
    return JobOut(
        number=job.pk, name=job.name, state=job.state, doing=job.doing, done=job.done, total=job.total,
        message=job.message, site=job.site.slug if job.site else None,
        again=job.again.slug if job.again else None,
    )  # fmt: skip
