"""Studies: the palette of a site, its reading, its changes."""

from __future__ import annotations

import numpy as np
from django.http import HttpRequest
from ninja import Router

from glaucon.apps.releases.services import live_study
from glaucon.apps.sites.access import own_site
from glaucon.apps.sites.models import Site
from glaucon.apps.sites.previews import mapping_name
from glaucon.apps.sites.surveys import known_of
from glaucon.apps.studies import services
from glaucon.apps.studies.models import Revision
from glaucon.apps.studies.reading import mend_out, nearest_out, offers_out, read_study
from glaucon.apps.studies.schemas import (
    AmongIn,
    AmongOut,
    BaseIn,
    ChangeIn,
    ColourIn,
    ColourOut,
    DraftIn,
    MendIn,
    MendOut,
    OfferOut,
    ReadingOut,
    RevisionOut,
    RoleDetailOut,
    RoleOut,
    TieOut,
)
from glaucon.core.colour.oklab import oklab_from_srgb, oklch_from_oklab
from glaucon.core.colour.value import read_colour
from glaucon.core.exchange.preview import preview_values
from glaucon.core.proposal.offers import readable_among
from glaucon.core.proposal.usage import RoleUse
from glaucon.core.study.study import Study

router = Router(tags=["study"])


def revision_out(site: Site, revision: Revision) -> RevisionOut:
    """Return a revision with its palette and reading."""
    study = revision.read()
    return RevisionOut(
        number=revision.number,
        what=revision.what,
        can_undo=revision.base_id is not None,
        can_redo=services.can_redo(revision),
        study=services.study_of(site).name,
        level=study.aim,
        mapping=mapping_name(site, study),
        roles=_roles_out(site, study),
        waiting=len(waiting_roles(study, live_study(site))),
        reading=read_study(site, study),
    )


def waiting_roles(study: Study, live: Study | None) -> list[str]:
    """Return the roles whose colours differ from what is live (from what was brought in, where nothing is)."""
    before = {role.name: (role.value, role.is_changed) for role in live.roles} if live else {}
    return [
        role.name for role in study.roles if (role.value, role.is_changed) != before.get(role.name, (role.found, False))
    ]


def _roles_out(site: Site, study: Study) -> list[RoleOut]:
    known = known_of(site)
    tokens = known.survey.tokens
    properties = preview_values(study, tokens)
    found: dict[str, dict[str, None]] = {}
    uses = known.role_uses(study)
    unused = RoleUse("other", None)
    for number, role in known.tokens.roles(study).items():
        found.setdefault(role, {})[tokens[number].colour.hex()] = None
    return [
        RoleOut(
            name=role.name, label=role.label, value=role.colour.hex(), found=read_colour(role.found).hex(),
            taken=role.taken, changed=role.is_changed, reason=role.reason,
            kind=uses.get(role.name, unused).kind, seen_with=uses.get(role.name, unused).seen_with,
            properties=properties[role.name], locked=role.locked,
            tie=TieOut(**role.tie.model_dump()) if role.tie else None,
            found_colours=list(found.get(role.name, {})),
        )
        for role in study.roles
    ]  # fmt: skip


def current(site: Site) -> Revision:
    """Return the revision the owner stands on."""
    revision = services.study_of(site).current
    assert revision is not None
    return revision


@router.get("/sites/{slug}/study", response=RevisionOut, operation_id="getStudy")
def get_study(request: HttpRequest, slug: str) -> RevisionOut:
    site = own_site(request, slug)
    return revision_out(site, current(site))


@router.post("/sites/{slug}/study", response=RevisionOut, operation_id="changeStudy")
def change_study(request: HttpRequest, slug: str, change: ChangeIn) -> RevisionOut:
    site = own_site(request, slug)
    return revision_out(site, services.change_values(site, change.base, change.values, change.take))


@router.post("/sites/{slug}/undo", response=RevisionOut, operation_id="undo")
def undo(request: HttpRequest, slug: str, seen: BaseIn) -> RevisionOut:
    site = own_site(request, slug)
    return revision_out(site, services.undo(site, seen.base))


@router.post("/sites/{slug}/redo", response=RevisionOut, operation_id="redo")
def redo(request: HttpRequest, slug: str, seen: BaseIn) -> RevisionOut:
    site = own_site(request, slug)
    return revision_out(site, services.redo(site, seen.base))


@router.post("/sites/{slug}/reading", response=ReadingOut, operation_id="readDraft")
def read_draft(request: HttpRequest, slug: str, draft: DraftIn) -> ReadingOut:
    site = own_site(request, slug)
    study = current(site).read().with_values(draft.values)
    reading = read_study(site, study, draft.role)
    reading.tied = {role.name: role.colour.hex() for role in study.roles if role.tie is not None}
    return reading


@router.get("/sites/{slug}/roles/{role}", response=RoleDetailOut, operation_id="getRole")
def get_role(request: HttpRequest, slug: str, role: str) -> RoleDetailOut:
    site = own_site(request, slug)
    study = current(site).read()
    study.role(role)
    return RoleDetailOut(pairs=read_study(site, study, role).pairs, nearest=nearest_out(site, study, role))


@router.post("/sites/{slug}/roles/{role}/among", response=AmongOut, operation_id="readAmong")
def read_among(request: HttpRequest, slug: str, role: str, asked: AmongIn) -> AmongOut:
    site = own_site(request, slug)
    study = current(site).read().with_values(asked.values)
    colours = [read_colour(text) for text in asked.colours]
    reads = readable_among(known_of(site), study, role, colours)
    return AmongOut(reads="".join("1" if one else "0" for one in reads))


@router.post("/sites/{slug}/mend", response=MendOut, operation_id="mendAll")
def look_at_mending(request: HttpRequest, slug: str, asked: MendIn) -> MendOut:
    """Work out how everything could be mended; nothing is written."""
    site = own_site(request, slug)
    return mend_out(site, current(site).read(), asked)


@router.get("/sites/{slug}/offers", response=list[OfferOut], operation_id="getOffers")
def get_offers(request: HttpRequest, slug: str, most: int = 24) -> list[OfferOut]:
    site = own_site(request, slug)
    return offers_out(site, current(site).read(), min(most, 100))


@router.post("/colour", response=ColourOut, operation_id="readColour")
def read_typed_colour(request: HttpRequest, typed: ColourIn) -> ColourOut:
    colour = read_colour(typed.text)
    lightness, chroma, hue = oklch_from_oklab(oklab_from_srgb(np.array(colour.rounded().rgb))).tolist()
    return ColourOut(hex=colour.hex(), lightness=lightness, chroma=chroma, hue=hue, alpha=colour.alpha)
