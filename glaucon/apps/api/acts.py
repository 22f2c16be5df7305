"""The one route that does acts, and the moves between revisions. All is worked out before the write lock is taken."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from django.http import HttpRequest
from ninja import Router

from glaucon.apps.api.schemas.acts import ActsIn
from glaucon.apps.api.schemas.asked import BaseIn
from glaucon.apps.api.schemas.study import RevisionOut
from glaucon.apps.api.shaping.answers import reading_of, revision_out
from glaucon.apps.releases.at_hand import ReleasedSite
from glaucon.apps.sites.access import own_site
from glaucon.apps.sites.effort import light
from glaucon.apps.studies import services
from glaucon.apps.studies.models import Revision
from glaucon.apps.work.heavy import heavy
from glaucon.core.acts.any_act import applied, label_of

router = Router(tags=["study"])


@router.post("/sites/{slug}/acts", response=RevisionOut, operation_id="doActs")
def do_acts(request: HttpRequest, slug: str, asked: ActsIn) -> Any:
    """Do some acts as one step; a base that is not current is refused, and nothing is written."""
    is_heavy = any(act.effort == "heavy" for act in asked.acts)
    return (do_heavy_acts if is_heavy else do_light_acts)(request, slug=slug, asked=asked)


@light
def do_light_acts(request: HttpRequest, slug: str, asked: ActsIn) -> RevisionOut:
    """Do acts that take milliseconds."""
    return _done(request, slug, asked)


@heavy
def do_heavy_acts(request: HttpRequest, slug: str, asked: ActsIn) -> RevisionOut:
    """Do acts that may take seconds."""
    return _done(request, slug, asked)


def _done(request: HttpRequest, slug: str, asked: ActsIn) -> RevisionOut:
    site = own_site(request, slug)
    at_hand, revision = ReleasedSite(site), services.current_at(site, asked.base.named)
    before = revision.read()
    after = applied(at_hand, before, asked.acts)
    if after == before:
        return revision_out(site, revision)
    for act in asked.acts:
        act.get_ready(at_hand, after)
    touches = frozenset[str]().union(*(act.touches(before, after) for act in asked.acts))
    reading = reading_of(site, revision, after)
    made = services.write(site, asked.base.named, after, label_of(asked.acts, before, after), touches)
    return revision_out(site, made, reading)


@router.post("/sites/{slug}/undo", response=RevisionOut, operation_id="undo")
@light
def undo(request: HttpRequest, slug: str, seen: BaseIn) -> RevisionOut:
    return _moved(request, slug, seen, services.before_of)


@router.post("/sites/{slug}/redo", response=RevisionOut, operation_id="redo")
@light
def redo(request: HttpRequest, slug: str, seen: BaseIn) -> RevisionOut:
    return _moved(request, slug, seen, services.after_of)


def _moved(request: HttpRequest, slug: str, seen: BaseIn, way: Callable[[Revision], Revision]) -> RevisionOut:
    site = own_site(request, slug)
    to = way(services.current_at(site, seen.base.named))
    reading = reading_of(site, to, to.read())
    return revision_out(site, services.move(site, seen.base.named, to), reading)
