"""A site's open study: its palette, its reading, what would help, its changes."""

from __future__ import annotations

import numpy as np
from django.http import HttpRequest
from ninja import Router

from glaucon.apps.api.answers import current, revision_out
from glaucon.apps.api.fixing import mend_out, with_taken, with_tried
from glaucon.apps.api.reading import nearest_out, offers_out, read_study
from glaucon.apps.api.schemas.study import (
    AmongIn,
    AmongOut,
    BaseIn,
    ChangeIn,
    ColourIn,
    ColourOut,
    DraftIn,
    FadeIn,
    FixesIn,
    MendIn,
    MendOut,
    OffersIn,
    OffersOut,
    ReadingOut,
    RevisionOut,
    RoleDetailOut,
)
from glaucon.apps.sites.access import own_site
from glaucon.apps.sites.effort import light, light_change, searching
from glaucon.apps.sites.surveys import known_for, known_of
from glaucon.apps.studies import services
from glaucon.apps.work.heavy import heavy
from glaucon.core.colour.oklab import oklab_from_srgb, oklch_from_oklab
from glaucon.core.colour.value import read_colour
from glaucon.core.proposal.offers import readable_among

router = Router(tags=["study"])


@router.get("/sites/{slug}/study", response=RevisionOut, operation_id="getStudy")
@light
def get_study(request: HttpRequest, slug: str) -> RevisionOut:
    site = own_site(request, slug)
    return revision_out(site, current(site))


@router.post("/sites/{slug}/study", response=RevisionOut, operation_id="changeStudy")
@light_change
def change_study(request: HttpRequest, slug: str, change: ChangeIn) -> RevisionOut:
    site = own_site(request, slug)
    return revision_out(site, services.change_values(site, change.base, change.values, change.take))


@router.post("/sites/{slug}/fade", response=RevisionOut, operation_id="fadeText")
@light_change
def fade_text(request: HttpRequest, slug: str, asked: FadeIn) -> RevisionOut:
    """Fade the text that a rule of the page fades less, or as the page has it."""
    site = own_site(request, slug)
    return revision_out(site, services.fade(site, known_of(site), asked.base, asked.selector, asked.opacity))


@router.post("/sites/{slug}/undo", response=RevisionOut, operation_id="undo")
@light_change
def undo(request: HttpRequest, slug: str, seen: BaseIn) -> RevisionOut:
    site = own_site(request, slug)
    return revision_out(site, services.undo(site, seen.base))


@router.post("/sites/{slug}/redo", response=RevisionOut, operation_id="redo")
@light_change
def redo(request: HttpRequest, slug: str, seen: BaseIn) -> RevisionOut:
    site = own_site(request, slug)
    return revision_out(site, services.redo(site, seen.base))


@router.post("/sites/{slug}/reading", response=ReadingOut, operation_id="readDraft")
@light
def read_draft(request: HttpRequest, slug: str, draft: DraftIn) -> ReadingOut:
    site = own_site(request, slug)
    study = current(site).read().with_values(draft.values)
    study = with_tried(known_of(site), study.with_roles({name: {"taken": True} for name in draft.taken}), draft)
    reading = read_study(site, study, draft.role)
    reading.tied = {role.id: role.colour.hex() for role in study.roles if role.tie is not None}
    return reading


@router.get("/sites/{slug}/roles/{role}", response=RoleDetailOut, operation_id="getRole")
@light
def get_role(request: HttpRequest, slug: str, role: str) -> RoleDetailOut:
    site = own_site(request, slug)
    study = current(site).read()
    study.role(role)
    return RoleDetailOut(pairs=read_study(site, study, role).pairs, nearest=nearest_out(site, study, role))


@router.post("/sites/{slug}/roles/{role}/among", response=AmongOut, operation_id="readAmong")
@light
def read_among(request: HttpRequest, slug: str, role: str, asked: AmongIn) -> AmongOut:
    site = own_site(request, slug)
    study = current(site).read().with_values(asked.values)
    colours = [read_colour(text) for text in asked.colours]
    reads = readable_among(known_for(site, study), study, role, colours)
    return AmongOut(reads="".join("1" if one else "0" for one in reads))


@router.post("/sites/{slug}/mend", response=MendOut, operation_id="mendAll")
@heavy
def look_at_mending(request: HttpRequest, slug: str, asked: MendIn) -> MendOut:
    """Work out how everything could be fixed; nothing is written."""
    site = own_site(request, slug)
    return mend_out(site, current(site).read(), asked)


@router.post("/sites/{slug}/mend/take", response=RevisionOut, operation_id="takeFixes")
@heavy
def take_fixes(request: HttpRequest, slug: str, asked: FixesIn) -> RevisionOut:
    """Take some of the changes that were found, as one edit."""
    site = own_site(request, slug)
    made = services.change(site, asked.base, lambda study: with_taken(site, study, asked), "Fixed all")
    return revision_out(site, made)


@router.post("/sites/{slug}/offers", response=list[OffersOut], operation_id="getOffers")
@searching
def get_offers(request: HttpRequest, slug: str, asked: OffersIn) -> list[OffersOut]:
    """Work out what would fix some findings; none where the study has moved on meanwhile."""
    site = own_site(request, slug)
    revision = current(site)
    return offers_out(site, revision.read(), asked.keys) if revision.number == asked.revision else []


@router.post("/colour", response=ColourOut, operation_id="readColour")
def read_typed_colour(request: HttpRequest, typed: ColourIn) -> ColourOut:
    colour = read_colour(typed.text)
    lightness, chroma, hue = oklch_from_oklab(oklab_from_srgb(np.array(colour.rounded().rgb))).tolist()
    return ColourOut(hex=colour.hex(), lightness=lightness, chroma=chroma, hue=hue, alpha=colour.alpha)
