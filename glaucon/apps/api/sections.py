"""The section map."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router

from glaucon.apps.api.schemas.asked import RevisionName
from glaucon.apps.api.schemas.parts import MapOut
from glaucon.apps.sites.access import own_site
from glaucon.apps.sites.effort import light
from glaucon.apps.sites.surveys import known_for, known_of
from glaucon.apps.studies import services
from glaucon.core.places.section_map import section_map

router = Router(tags=["sections"])


@router.get("/sites/{slug}/sections", response=MapOut, operation_id="getSections")
@light
def get_sections(request: HttpRequest, slug: str) -> MapOut:
    site = own_site(request, slug)
    revision = services.current_of(site)
    study = revision.read()
    drawn = section_map(known_for(site, study), known_of(site), study)
    return MapOut(base=RevisionName.of(revision), **dict(drawn))
