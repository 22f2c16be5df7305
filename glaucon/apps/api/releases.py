"""Releases: what would change, the one act, what went before."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from django.http import HttpRequest
from ninja import Router

from glaucon.apps.api.schemas.asked import RevisionName
from glaucon.apps.api.schemas.release import ChangeOut, PlaceChangeOut, PlanOut, ReleaseIn, ReleaseOut, TakeBackIn
from glaucon.apps.api.schemas.study import FadeOut
from glaucon.apps.api.shaping.answers import reading_of
from glaucon.apps.releases import services
from glaucon.apps.releases.models import Release
from glaucon.apps.sites.access import own_site
from glaucon.apps.sites.at_hand import KeptSite
from glaucon.apps.sites.effort import light
from glaucon.apps.sites.models import Site
from glaucon.apps.sites.surveys import known_of
from glaucon.apps.studies.services import current_of
from glaucon.apps.work.heavy import heavy
from glaucon.core.acts.show import added_css
from glaucon.core.exchange.live_wear import as_it_came, live_wear
from glaucon.core.known.strip import strip_of
from glaucon.core.scopes.reading import place_name
from glaucon.core.study.differences import differences
from glaucon.core.study.scopes import Scope, Where
from glaucon.core.study.study import Study
from glaucon.core.survey.model import Survey
from glaucon.core.wording import counted

router = Router(tags=["release"])


@router.get("/sites/{slug}/release", response=PlanOut, operation_id="getPlan")
@light
def get_plan(request: HttpRequest, slug: str) -> PlanOut:
    return _plan(own_site(request, slug))


@router.post("/sites/{slug}/release", response=PlanOut, operation_id="releaseStudy")
@heavy
def release_study(request: HttpRequest, slug: str, seen: ReleaseIn) -> PlanOut:
    site = own_site(request, slug)
    services.release(site, seen.base.named, seen.live_number)
    return _plan(site)


@router.post("/sites/{slug}/releases/{number}/live", response=PlanOut, operation_id="takeBack")
@light
def take_back(request: HttpRequest, slug: str, number: int, seen: TakeBackIn) -> PlanOut:
    site = own_site(request, slug)
    services.take_back(site, number, seen.live_number)
    return _plan(site)


def _plan(site: Site) -> PlanOut:
    revision, live_now = current_of(site), services.live_release(site)
    study, live = revision.read(), services.live_study(site)
    now, before = reading_of(site, revision, study), reading_of(site, revision, live or as_it_came(study))
    differs, survey = differences(live, study), known_of(site).survey
    worn = live_wear(study, live, survey.tokens)
    return PlanOut(
        base=RevisionName.of(revision),
        live_number=live_now.number if live_now is not None else None,
        changes=_changes(study, live, differs.roles, {id_: role.places for id_, role in now.roles.items()}),
        fades=[FadeOut(selector=name, opacity=level) for name, level in differs.fades.items()],
        places=[
            *(_place_out(survey, study, scope) for scope in differs.places),
            *(_backdrop_out(survey, study, where) for where in differs.backdrops),
        ],
        own_css=differs.own_css,
        before=worn if live is None else {**worn, "css": added_css(KeptSite(site), live) or None},
        texts=now.texts,
        readable=now.texts - now.hard_texts - now.unsure_texts,
        readable_before=before.texts - before.hard_texts - before.unsure_texts,
        hard=[f for f in now.findings if f.verdict == "fail"],
        lost=now.lost,
        unsure=now.unsure_texts,
        live=live_now is not None,
        address=f"/live/{site.slug}/",
        releases=[_release_out(site, one) for one in site.releases.select_related("revision")],
    )


def _changes(study: Study, live: Study | None, roles: Sequence[str], places: Mapping[str, int]) -> list[ChangeOut]:
    before = {role.id: role.colour.hex() for role in (live or as_it_came(study)).roles}
    return [
        ChangeOut(
            role=id_, label=study.role(id_).label, before=before.get(id_, study.role(id_).found),
            after=study.role(id_).colour.hex(), places=places.get(id_, 0),
        )
        for id_ in roles
    ]  # fmt: skip


def _place_out(survey: Survey, study: Study, scope: Scope) -> PlaceChangeOut:
    coat = next((coat.label for coat in study.coats if coat.id == scope.coat), "")
    wears = f"wears {coat}" if coat else ""
    wears = wears or (counted(len(scope.set), "colour") + " of its own" if scope.set else "")
    return PlaceChangeOut(place=place_name(survey, scope.where), page=scope.where.page, wears=wears)


def _backdrop_out(survey: Survey, study: Study, where: Where | None) -> PlaceChangeOut:
    now = next((one for one in study.backdrops if one.where == where), None)
    return PlaceChangeOut(
        place=place_name(survey, where) if where is not None else "The whole site",
        page=where.page if where is not None else None,
        wears=f"on a backdrop of {counted(len(now.layers), 'layer')}" if now is not None else "",
    )


def _release_out(site: Site, one: Release) -> ReleaseOut:
    study = one.revision.read() if one.revision else current_of(site).read().as_found()
    return ReleaseOut(
        number=one.number, live=one.is_live, live_since=one.live_since.isoformat() if one.live_since else None,
        made=one.made.isoformat(), colours=[c.colour for c in strip_of(known_of(site), study)[:5]],
    )  # fmt: skip
