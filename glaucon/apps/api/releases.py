"""Releases: what would change, the one act, what went before."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router, Schema

from glaucon.apps.api.answers import (
    added_css,
    current,
    waiting_backdrops,
    waiting_fades,
    waiting_places,
    waiting_roles,
    waits_own_css,
)
from glaucon.apps.api.reading import read_study
from glaucon.apps.api.schemas.study import BaseIn, FadeOut, FindingOut, LostMarkOut
from glaucon.apps.api.strips import strip
from glaucon.apps.releases import services
from glaucon.apps.releases.models import Release
from glaucon.apps.sites.access import own_site
from glaucon.apps.sites.effort import light
from glaucon.apps.sites.models import Site
from glaucon.apps.sites.surveys import known_of
from glaucon.apps.work.heavy import heavy
from glaucon.core.exchange.preview import token_property
from glaucon.core.proposal.dressing import place_name
from glaucon.core.study.scopes import Scope, Where
from glaucon.core.study.study import Study, token_key
from glaucon.core.study.wearing import Worn, share_of_opacity, wear_of
from glaucon.core.survey.model import Survey
from glaucon.core.wording import counted

router = Router(tags=["release"])


class ChangeOut(Schema):
    """One role's change, and what it does to reading."""

    role: str
    label: str
    before: str
    after: str
    places: int
    merges: bool


class PlaceChangeOut(Schema):
    """Where something else is worn, or lies behind, from now on: what that is, "" for what the site has."""

    place: str
    page: str | None
    wears: str


class ReleaseOut(Schema):
    """A release; number 0 is the site as brought in."""

    number: int
    live: bool
    live_since: str | None
    made: str
    colours: list[str]


class PlanOut(Schema):
    """What a release would do, measured against what is live."""

    base: int
    changes: list[ChangeOut]
    fades: list[FadeOut]
    places: list[PlaceChangeOut]
    own_css: bool
    before: dict[str, str | None]  # custom properties that show what is live, and under "css" the rules it adds
    texts: int
    readable: int
    readable_before: int
    hard: list[FindingOut]
    lost: list[LostMarkOut]
    unsure: int
    live: bool
    address: str
    releases: list[ReleaseOut]


@router.get("/sites/{slug}/release", response=PlanOut, operation_id="getPlan")
@light
def get_plan(request: HttpRequest, slug: str) -> PlanOut:
    return _plan(own_site(request, slug))


@router.post("/sites/{slug}/release", response=PlanOut, operation_id="releaseStudy")
@heavy
def release_study(request: HttpRequest, slug: str, seen: BaseIn) -> PlanOut:
    site = own_site(request, slug)
    services.release(site, seen.base)
    return _plan(site)


@router.post("/sites/{slug}/releases/{number}/live", response=PlanOut, operation_id="takeBack")
@light
def take_back(request: HttpRequest, slug: str, number: int) -> PlanOut:
    site = own_site(request, slug)
    services.take_back(site, number)
    return _plan(site)


def _plan(site: Site) -> PlanOut:
    revision = current(site)
    study, live = revision.read(), services.live_study(site)
    now, before = read_study(site, study), read_study(site, live or _original(study))
    places = {id_: role.places for id_, role in now.roles.items()}
    return PlanOut(
        base=revision.number,
        changes=_changes(study, live, places),
        fades=[FadeOut(selector=name, opacity=level) for name, level in waiting_fades(study, live).items()],
        places=[
            *(_place_out(known_of(site).survey, study, scope) for scope in waiting_places(study, live)),
            *(_backdrop_out(known_of(site).survey, study, where) for where in waiting_backdrops(study, live)),
        ],
        own_css=waits_own_css(study, live),
        before=_shown_before(site, study, live),
        texts=now.texts,
        readable=now.texts - now.hard_texts - now.unsure_texts,
        readable_before=before.texts - before.hard_texts - before.unsure_texts,
        hard=[f for f in now.findings if f.verdict == "fail"],
        lost=now.lost,
        unsure=now.unsure_texts,
        live=services.live_release(site) is not None,
        address=f"/live/{site.slug}/",
        releases=[_release_out(site, one) for one in site.releases.select_related("revision")],
    )


def _original(study: Study) -> Study:
    """Return the study of a site as it came, with the roles of another."""
    return study.as_found().model_copy(update={"worn": (), "backdrops": (), "extra_css": ""})


def _shown_before(site: Site, study: Study, live: Study | None) -> dict[str, str | None]:
    """Return what shows on the previews of a study how the site is live.

    A colour that the study has set apart from its role is one of the role's there, or as it came.
    """
    tokens, original = known_of(site).survey.tokens, _original(study)
    if live is None:
        return wear_of(original, tokens)
    were = {role.id: role for role in live.roles}
    past = original.model_copy(update={"roles": tuple(were.get(role.id, role) for role in original.roles)})
    worn = wear_of(past, tokens)
    for token in tokens:
        key = token_key(token)
        was = live.mapping.get(key) if key is not None else None
        if key is None or was == study.mapping.get(key):
            continue
        role = were.get(was) if was is not None else None
        is_worn = role is not None and role.is_changed
        worn[token_property(token)] = (
            Worn(token, role, share_of_opacity(role, token)).text if role is not None and is_worn else token.text
        )
    return {**worn, "css": added_css(site, live) or None}


def _changes(study: Study, live: Study | None, places: dict[str, int]) -> list[ChangeOut]:
    before = {role.id: role.colour.hex() for role in (live or _original(study)).roles}
    return [
        ChangeOut(
            role=id_, label=study.role(id_).label, before=before.get(id_, study.role(id_).found),
            after=study.role(id_).colour.hex(), places=places.get(id_, 0), merges=study.role(id_).taken,
        )
        for id_ in waiting_roles(study, live)
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
    study = one.revision.read() if one.revision else current(site).read().as_found()
    return ReleaseOut(
        number=one.number, live=one.is_live, live_since=one.live_since.isoformat() if one.live_since else None,
        made=one.made.isoformat(), colours=[c.colour for c in strip(known_of(site), study)[:5]],
    )  # fmt: skip
