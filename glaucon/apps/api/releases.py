"""Releases: what would change, the one act, what went before."""

from __future__ import annotations

from collections.abc import Mapping

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router

from glaucon.apps.api.schemas.asked import RevisionName
from glaucon.apps.api.schemas.reading import FindingOut, ReadingOut
from glaucon.apps.api.schemas.release import (
    ChangeOut,
    DownloadOut,
    LetThroughOut,
    PlanOut,
    ReleaseIn,
    ReleaseNameIn,
    ReleaseOut,
    ReleasesComparedOut,
    TakeBackIn,
)
from glaucon.apps.api.shaping.answers import reading_of
from glaucon.apps.content_host import content_root
from glaucon.apps.errors import Refused
from glaucon.apps.releases import services
from glaucon.apps.releases.models import Release
from glaucon.apps.sites.access import own_site
from glaucon.apps.sites.at_hand import KeptSite
from glaucon.apps.sites.effort import light
from glaucon.apps.sites.models import Site
from glaucon.apps.sites.surveys import known_for, known_of
from glaucon.apps.studies.models import Revision
from glaucon.apps.studies.services import current_of
from glaucon.apps.work.heavy import heavy
from glaucon.core.acts.show import added_css
from glaucon.core.changes.places import hard_places, places_of
from glaucon.core.changes.shown import as_it_came, shown_changes
from glaucon.core.exchange.live_wear import live_wear
from glaucon.core.exchange.reports.paper import statement_page
from glaucon.core.known.strip import strip_of
from glaucon.core.seeing.summary import summary_of
from glaucon.core.study.study import Study

router = Router(tags=["release"])


@router.get("/sites/{slug}/release", response=PlanOut, operation_id="getPlan")
@light
def get_plan(request: HttpRequest, slug: str) -> PlanOut:
    return _plan(own_site(request, slug))


@router.post("/sites/{slug}/release", response=PlanOut, operation_id="releaseStudy")
@heavy
def release_study(request: HttpRequest, slug: str, seen: ReleaseIn) -> PlanOut:
    """Release the study, now or at the time given."""
    site = own_site(request, slug)
    revision = current_of(site)
    study = revision.read()
    reading = reading_of(site, revision, study)
    given = services.Given(
        name=seen.name, due=seen.due, texts=reading.texts, hard=reading.hard_texts, unsure=reading.unsure_texts,
        let_through=_let_through(reading, seen), statement=_statement(site, study) if seen.with_statement else None,
    )  # fmt: skip
    services.release(site, seen.base.named, seen.live_number, given)
    return _plan(site)


@router.post("/sites/{slug}/releases/{number}/live", response=PlanOut, operation_id="takeBack")
@light
def take_back(request: HttpRequest, slug: str, number: int, seen: TakeBackIn) -> PlanOut:
    """Put an earlier release live again."""
    site = own_site(request, slug)
    services.take_back(site, number, seen.live_number)
    return _plan(site)


@router.post("/sites/{slug}/releases/{number}/name", response=PlanOut, operation_id="nameRelease")
@light
def name_release(request: HttpRequest, slug: str, number: int, asked: ReleaseNameIn) -> PlanOut:
    site = own_site(request, slug)
    services.rename(site, number, asked.name)
    return _plan(site)


@router.delete("/sites/{slug}/releases/{number}", response=PlanOut, operation_id="callOffRelease")
@light
def call_off_release(request: HttpRequest, slug: str, number: int) -> PlanOut:
    """Take away a release that waits for its time."""
    site = own_site(request, slug)
    services.call_off(site, number)
    return _plan(site)


@router.get("/sites/{slug}/release/compare", response=ReleasesComparedOut, operation_id="compareReleases")
@light
def compare_releases(request: HttpRequest, slug: str, one: int, other: int | None = None) -> ReleasesComparedOut:
    """Tell what changed from one release to another; without another, to the open study."""
    site = own_site(request, slug)
    study = current_of(site).read()
    before = _study_of(site, one)
    after = _study_of(site, other) if other is not None else study
    return ReleasesComparedOut(
        changes=_changes(site, before, after or as_it_came(study)), before=_worn(site, study, before),
        after=_worn(site, study, after),
    )  # fmt: skip


def _study_of(site: Site, number: int) -> Study | None:
    """Return the study of a release, None for the site as it was brought in."""
    found = site.releases.filter(number=number).select_related("revision").first()
    if found is None:
        raise Refused(404, "no-release", f"This site has no release {number}. Choose one from its history.")
    return found.revision.read() if found.revision is not None else None


def _plan(site: Site) -> PlanOut:
    services.put_due_live(site)
    revision, live_now = current_of(site), services.live_release(site)
    study, live = revision.read(), services.live_study(site)
    now, before = reading_of(site, revision, study), known_for(site, live or as_it_came(study))
    was = before.read(live or as_it_came(study))
    releases = list(site.releases.select_related("revision"))
    last = next((one for one in releases if one.let_through), None)
    said = {str(one["key"]): str(one["why"]) for one in (last.let_through if last is not None else [])}
    return PlanOut(
        base=RevisionName.of(revision),
        live_number=live_now.number if live_now is not None else None,
        changes=_changes(site, live, study),
        before=_worn(site, study, live),
        texts=now.texts,
        readable=now.texts - now.hard_texts - now.unsure_texts,
        readable_before=was.texts - was.hard - was.unsure,
        hard=_hard(now),
        reasons={one.key: said[one.key] for one in _hard(now) if said.get(one.key)},
        lost=now.lost,
        unsure=now.unsure_texts,
        live=live_now is not None,
        address=f"{content_root()}/live/{site.slug}/",
        downloaded=_downloaded(site, revision),
        releases=[_release_out(site, one) for one in releases],
    )


def _downloaded(site: Site, current: Revision) -> DownloadOut | None:
    found = services.download_of(site)
    if found is None:
        return None
    is_open = found.revision.document == current.document
    return DownloadOut(made=found.made.isoformat(), is_open=is_open)


def _worn(site: Site, study: Study, other: Study | None) -> dict[str, str | None]:
    """Return what shows another study on the previews of the open one; None: the site as it was brought in."""
    worn = live_wear(study, other, known_of(site).survey.tokens)
    return worn if other is None else {**worn, "css": added_css(KeptSite(site), other) or None}


def _changes(site: Site, before: Study | None, after: Study) -> list[ChangeOut]:
    known, earlier = known_for(site, after), before or as_it_came(after)
    survey = known_for(site, earlier)
    was_hard = hard_places(survey.survey, survey.read(earlier))
    told = shown_changes(known, before, after)
    places = places_of(known, after, known.read(after), was_hard, told)
    return [
        ChangeOut(
            key=one.key, kind=one.kind, label=one.label, says=one.says, role=one.role, before=one.before,
            after=one.after, page=one.where.page if one.where is not None else None, texts=places[one.key].texts,
            mended=places[one.key].mended, pages=dict(places[one.key].pages), sections=list(places[one.key].sections),
            lines=list(one.lines),
        )
        for one in told
    ]  # fmt: skip


def _hard(reading: ReadingOut) -> list[FindingOut]:
    return [one for one in reading.findings if one.verdict == "fail"]


def _let_through(reading: ReadingOut, seen: ReleaseIn) -> list[Mapping[str, object]]:
    """Return what goes out hard to read, each with the word why."""
    return [
        LetThroughOut(
            key=one.key, sample=one.sample, where=one.seen.section, text=one.text.label or one.text.colour,
            background=one.background.label or one.background.colour, ratio=one.ratio, required=one.required,
            places=one.places, why=" ".join((seen.reasons.get(one.key) or seen.reason).split()),
        ).model_dump()
        for one in _hard(reading)
    ]  # fmt: skip


def _statement(site: Site, study: Study) -> bytes:
    summary = summary_of(known_for(site, study), known_of(site), study)
    return statement_page(site.name, summary, timezone.localdate()).encode()


def _release_out(site: Site, one: Release) -> ReleaseOut:
    study = one.revision.read() if one.revision else current_of(site).read().as_found()
    return ReleaseOut(
        number=one.number, name=one.name, live=one.is_live, made=one.made.isoformat(),
        live_since=one.live_since.isoformat() if one.live_since else None, due=one.due.isoformat() if one.due else None,
        colours=[c.colour for c in strip_of(known_of(site), study)[:5]], texts=one.texts, hard=one.hard,
        unsure=one.unsure, let_through=one.let_through, statement=one.statement,
    )  # fmt: skip
