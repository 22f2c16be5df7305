"""Where colours come from: starts, pictures, palette files; and the palette on one page."""

from __future__ import annotations

import posixpath
from urllib.parse import quote

from django.http import Http404, HttpRequest
from ninja import File, Router, UploadedFile

from glaucon.apps.api.schemas.palette import (
    NamedColourOut,
    PaletteTextIn,
    PictureColourOut,
    PictureOut,
    SitePictureOut,
    StartingOut,
)
from glaucon.apps.sites.access import own_site
from glaucon.apps.sites.blobs import get_blob
from glaucon.apps.sites.effort import light
from glaucon.apps.sites.surveys import known_for
from glaucon.apps.studies import services
from glaucon.apps.studies.previews import preview_root
from glaucon.apps.work.heavy import heavy
from glaucon.core.backdrops.picture_colours import main_colours, seeds_of
from glaucon.core.exchange.palette_files import read_palette
from glaucon.core.exchange.sheet import Sheet, sheet_of
from glaucon.core.making.making import DIRECTIONS
from glaucon.core.making.starting import STARTING

router = Router(tags=["craft"])
_PICTURES = (".png", ".jpg", ".jpeg", ".gif", ".webp")
_MOST_PICTURES = 60


@router.get("/directions", response=list[str], operation_id="listDirections")
def list_directions(request: HttpRequest) -> list[str]:
    return [direction.name for direction in DIRECTIONS]


@router.get("/starting", response=list[StartingOut], operation_id="listStarting")
def list_starting(request: HttpRequest) -> list[StartingOut]:
    return [
        StartingOut(name=one.name, is_dark=not one.way.is_light, **{part: c.hex() for part, c in one.looks().items()})
        for one in STARTING
    ]


@router.get("/sites/{slug}/pictures", response=list[SitePictureOut], operation_id="listPictures")
@light
def list_pictures(request: HttpRequest, slug: str) -> list[SitePictureOut]:
    """Return the site's pictures, what is called a logo first."""
    site = own_site(request, slug)
    root = preview_root(site, services.current_of(site))
    paths = [path for path in site.files.values_list("path", flat=True) if path.lower().endswith(_PICTURES)]
    paths.sort(key=lambda path: ("logo" not in posixpath.basename(path).lower(), path))
    return [SitePictureOut(path=path, address=root + quote(path)) for path in paths[:_MOST_PICTURES]]


@router.get("/sites/{slug}/pictures/colours", response=PictureOut, operation_id="readSitePicture")
@heavy
def read_site_picture(request: HttpRequest, slug: str, path: str) -> PictureOut:
    file = own_site(request, slug).files.filter(path=path).first()
    if file is None:
        raise Http404
    return _picture_out(get_blob(file.blob))


@router.post("/pictures/colours", response=PictureOut, operation_id="readPicture")
@heavy
def read_picture(request: HttpRequest, picture: File[UploadedFile]) -> PictureOut:
    return _picture_out(picture.read())


def _picture_out(data: bytes) -> PictureOut:
    found = main_colours(data)
    return PictureOut(
        colours=[PictureColourOut(colour=one.colour.hex(), share=one.share) for one in found],
        seeds=[colour.hex() for colour in seeds_of(found)],
    )


@router.post("/palette/read", response=list[NamedColourOut], operation_id="readPaletteFile")
@heavy
def read_palette_file(request: HttpRequest, given: PaletteTextIn) -> list[NamedColourOut]:
    return [NamedColourOut(name=one.name, colour=one.colour.hex()) for one in read_palette(given.text)]


@router.get("/sites/{slug}/sheet", response=Sheet, operation_id="getSheet")
@light
def get_sheet(request: HttpRequest, slug: str) -> Sheet:
    site = own_site(request, slug)
    revision = services.current_of(site)
    study = revision.read()
    return sheet_of(known_for(site, study), study, site.name, revision.study.name)
