"""Handing a site's colours back: four ways, what each holds, whether it keeps its promise, whether it has arrived."""

from __future__ import annotations

import hashlib
import mimetypes
from pathlib import Path
from typing import Literal

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from ninja import Router

from glaucon.apps.api.schemas.release import (
    ArrivedIn,
    ArrivedOut,
    CheckedOut,
    FileFoundOut,
    PageFoundOut,
    UnreachedOut,
    WayOut,
)
from glaucon.apps.api.shaping.answers import own_study
from glaucon.apps.bringing.arriving import arrived
from glaucon.apps.bringing.sources import address_source
from glaucon.apps.errors import Refused
from glaucon.apps.releases.services import download_of, note_download
from glaucon.apps.sites.access import own_site
from glaucon.apps.sites.backdrops import backdrops_for
from glaucon.apps.sites.blobs import write_whole
from glaucon.apps.sites.models import Site
from glaucon.apps.sites.surveys import files_of, known_for, known_of, layouts_of
from glaucon.apps.studies.services import current_of
from glaucon.apps.work.heavy import heavy, outside
from glaucon.core.exchange.checking import check_handed_back
from glaucon.core.exchange.hand_back import HandedBack, hand_back
from glaucon.core.survey.survey import ENGINE

router = Router(tags=["hand-back"])
Way = Literal["site", "addon", "variables", "tokens"]


@router.get("/sites/{slug}/hand-back/{way}", response=WayOut, operation_id="lookAtWay")
@heavy
def look_at_way(
    request: HttpRequest, slug: str, way: Way, changed_only: bool = False, other: int | None = None
) -> WayOut:
    """Say what a way gives; `other` is the study for visitors who ask for a dark page, or for a light one."""
    site = own_site(request, slug)
    handed = _handed(site, way, changed_only, other)
    write_whole(_kept(site, way, changed_only, other), f"{handed.filename}\n".encode() + handed.data)
    unreached = [
        UnreachedOut(file=one.token.file, line=one.token.line, colour=one.token.text, why=one.why)
        for one in handed.unreached[:200]
    ]
    text = "" if handed.filename.endswith(".zip") else handed.data.decode()
    return WayOut(
        way=way, filename=handed.filename, bytes=len(handed.data), changed=handed.changed, unreached=unreached,
        missed=handed.missed[:200], text=text,
    )  # fmt: skip


@router.get("/sites/{slug}/hand-back/{way}/file", operation_id="downloadWay")
def download_way(
    request: HttpRequest, slug: str, way: Way, changed_only: bool = False, other: int | None = None
) -> HttpResponse:
    """Give a way's file, as it was made when somebody looked at it; else it is made now, by a process of its own."""
    site = own_site(request, slug)
    kept = _kept(site, way, changed_only, other)
    if not kept.exists():
        made = look_at_way(request, slug=slug, way=way, changed_only=changed_only, other=other)
        if isinstance(made, HttpResponse) and made.status_code >= 400:
            return made
        if not kept.exists():
            raise Refused(503, "not-yet", "The file is still being made. Ask for it again in a moment.")
    if way in ("site", "addon"):
        note_download(site)
    name, _, data = kept.read_bytes().partition(b"\n")
    filename = name.decode()
    response = HttpResponse(data, content_type=mimetypes.guess_type(filename)[0] or "application/octet-stream")
    response["Content-Disposition"] = f'attachment; filename="{site.slug}-{filename}"'
    return response


def _kept(site: Site, way: str, changed_only: bool, other: int | None) -> Path:
    """Return where a way's file is kept: its name in the first line, then what it holds."""
    second = own_study(site, other).current if other is not None else None
    said = [one.document if one is not None else None for one in (current_of(site), second)]
    says = (site.pk, site.content, ENGINE, way, changed_only, said)
    name = hashlib.sha256(repr(says).encode()).hexdigest()[:32]
    return Path(settings.DATA_DIR) / "handed" / name


@router.post("/sites/{slug}/hand-back/{way}/check", response=CheckedOut, operation_id="checkWay")
@heavy
def check_way(request: HttpRequest, slug: str, way: Literal["site", "addon"]) -> CheckedOut:
    site = own_site(request, slug)
    handed = _handed(site, way, False)
    study = current_of(site).read()
    checked = check_handed_back(files_of(site), known_for(site, study), study, way, handed, layouts_of(site))
    return CheckedOut(
        texts=checked.texts, right=checked.right, examples=checked.examples, pages=len(known_of(site).survey.pages)
    )


@router.post("/sites/{slug}/arrived", response=ArrivedOut, operation_id="checkArrived")
@outside
def check_arrived(request: HttpRequest, slug: str, asked: ArrivedIn) -> ArrivedOut:
    """Hold some pages on the site's own host against what its owner took home, or the open study; say what is amiss."""
    site = own_site(request, slug)
    address = address_source(asked.address)
    known = set(known_of(site).survey.pages)
    if unknown := [page for page in asked.pages if page not in known]:
        raise Refused(422, "no-page", f"This site has no page {unknown[0]}. Bring the site in again first.")
    taken = download_of(site) if asked.against == "downloaded" else None
    revision = taken.revision if taken is not None else current_of(site)
    found = arrived(site, revision.read(), address, asked.pages)
    if site.hosted_at != address:
        Site.objects.filter(pk=site.pk).update(hosted_at=address)
    return ArrivedOut(
        address=address,
        pages=[
            PageFoundOut(
                path=one.path, state=one.state, file=one.file, why=one.why, held_seconds=one.held_seconds,
                texts=one.texts, right=one.right,
                sheets=[FileFoundOut(path=sheet.path, state=sheet.state, why=sheet.why) for sheet in one.sheets],
            )
            for one in found
        ],
    )  # fmt: skip


def _handed(site: Site, way: str, changed_only: bool, other: int | None = None) -> HandedBack:
    second = None
    if other is not None:
        study = own_study(site, other)
        assert study.current is not None
        second = study.current.read()
    survey, first = known_of(site).survey, current_of(site).read()
    behind = backdrops_for(site, first, survey.regions)
    return hand_back(files_of(site), survey, first, way, changed_only, other=second, backdrops=behind)
