"""A site's open study: its palette and its reading, as they are and as they would be."""

from __future__ import annotations

import numpy as np
from django.http import HttpRequest
from ninja import Router

from glaucon.apps.api.schemas.acts import DraftIn
from glaucon.apps.api.schemas.asked import RevisionName
from glaucon.apps.api.schemas.palette import ColourIn, ColourOut
from glaucon.apps.api.schemas.reading import PairsOut, ReadingOut
from glaucon.apps.api.schemas.study import RevisionOut
from glaucon.apps.api.shaping.answers import reading_of, revision_out
from glaucon.apps.api.shaping.reading import finding_out
from glaucon.apps.sites.access import own_site
from glaucon.apps.sites.at_hand import KeptSite
from glaucon.apps.sites.effort import light
from glaucon.apps.sites.surveys import known_for
from glaucon.apps.studies import services
from glaucon.core.acts.any_act import applied
from glaucon.core.colour.oklab import oklab_from_srgb, oklch_from_oklab
from glaucon.core.colour.value import read_colour

router = Router(tags=["study"])


@router.get("/sites/{slug}/study", response=RevisionOut, operation_id="getStudy")
@light
def get_study(request: HttpRequest, slug: str) -> RevisionOut:
    site = own_site(request, slug)
    return revision_out(site, services.current_of(site))


@router.post("/sites/{slug}/reading", response=ReadingOut, operation_id="readDraft")
@light
def read_draft(request: HttpRequest, slug: str, draft: DraftIn) -> ReadingOut:
    """Return how all would read after some acts; nothing is written."""
    site = own_site(request, slug)
    revision = services.current_at(site, draft.base.named)
    study = applied(KeptSite(site), revision.read(), draft.acts)
    return reading_of(site, revision, study, draft.role)


@router.get("/sites/{slug}/roles/{role}", response=PairsOut, operation_id="getPairs")
@light
def get_pairs(request: HttpRequest, slug: str, role: str) -> PairsOut:
    site = own_site(request, slug)
    revision = services.current_of(site)
    study = revision.read()
    study.role(role)
    reading = known_for(site, study).read(study)
    pairs = [finding_out(one, study.labels, reading.index) for one in reading.pairs_of(role)]
    return PairsOut(base=RevisionName.of(revision), pairs=pairs)


@router.post("/colour", response=ColourOut, operation_id="readColour")
def read_typed_colour(request: HttpRequest, typed: ColourIn) -> ColourOut:
    colour = read_colour(typed.text)
    lightness, chroma, hue = oklch_from_oklab(oklab_from_srgb(np.array(colour.rounded().rgb))).tolist()
    return ColourOut(hex=colour.hex(), lightness=lightness, chroma=chroma, hue=hue, alpha=colour.alpha)
