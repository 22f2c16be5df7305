"""Routes for backdrops: list them, add pictures to them, and serve the library and the patterns."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from ninja import File, Router
from ninja.files import UploadedFile

from glaucon.apps.api.schemas.asked import RevisionName
from glaucon.apps.api.schemas.backdrops import (
    BackdropOut,
    BackdropsOut,
    LibraryOut,
    OwnPictureOut,
    PatternOut,
    PictureColoursOut,
    TakeLibraryIn,
)
from glaucon.apps.errors import Refused
from glaucon.apps.sites.access import own_site
from glaucon.apps.sites.backdrops import add_from_library, add_picture, backdrops_for
from glaucon.apps.sites.blobs import get_blob
from glaucon.apps.sites.effort import light
from glaucon.apps.sites.models import Site, SitePicture
from glaucon.apps.sites.surveys import known_of
from glaucon.apps.studies import services
from glaucon.apps.studies.previews import preview_root
from glaucon.apps.work.heavy import heavy
from glaucon.core.backdrops import library
from glaucon.core.backdrops.patterns import PATTERNS, drawn
from glaucon.core.backdrops.picture_colours import main_colours
from glaucon.core.backdrops.pictures import BUDGET_BYTES, edge_colour
from glaucon.core.colour.value import Colour
from glaucon.core.layout.drawing import cleaned, is_drawing
from glaucon.core.scopes.reading import place_name

router = Router(tags=["backdrops"])
_SITE_PICTURES = (".png", ".jpg", ".jpeg", ".webp", ".gif", ".avif", ".svg")


@router.get("/sites/{slug}/backdrops", response=BackdropsOut, by_alias=True, operation_id="getBackdrops")
@light
def get_backdrops(request: HttpRequest, slug: str) -> BackdropsOut:
    site = own_site(request, slug)
    revision = services.current_of(site)
    study = revision.read()
    survey = known_of(site).survey
    behind = backdrops_for(site, study, survey.regions)
    return BackdropsOut(
        base=RevisionName.of(revision),
        backdrops=[
            BackdropOut(
                backdrop=one, pages=len(behind.pages_of(one, survey.pages)),
                name=place_name(survey, one.where) if one.where is not None else "The whole site",
            )
            for one in study.backdrops
        ],
        pictures=_pictures(site, preview_root(site, revision)),
        library=[
            LibraryOut(name=name, label=one.label, address=f"/api/library/{name}")
            for name, one in library.LIBRARY.items()
        ],
        patterns=[PatternOut(name=name, family=tile.family) for name, tile in PATTERNS.items()],
        budget=BUDGET_BYTES,
    )  # fmt: skip


@router.get("/library/{name}", operation_id="showLibraryPicture", include_in_schema=False)
def show_library_picture(request: HttpRequest, name: str) -> HttpResponse:
    """Answer with a small picture of the library."""
    response = HttpResponse(library.small_picture(name), content_type="image/webp")
    response["Cache-Control"] = "private, max-age=86400"
    return response


@router.get("/patterns/{name}", operation_id="showPattern", include_in_schema=False)
def show_pattern(request: HttpRequest, name: str) -> HttpResponse:
    """Answer with a tile of a pattern in ink."""
    response = HttpResponse(drawn(name, Colour(0.1, 0.1, 0.1)), content_type="image/svg+xml")
    response["Cache-Control"] = "private, max-age=86400"
    response["Content-Security-Policy"] = "default-src 'none'"
    return response


@router.get("/sites/{slug}/library/near", response=list[str], operation_id="searchLibrary")
@heavy
def search_library(request: HttpRequest, slug: str, words: str = "", role: str = "") -> list[str]:
    """Return the names of the library's pictures that hold all the words, and that go with a colour of the palette."""
    own = own_site(request, slug)
    near: list[Colour] = [services.current_of(own).read().role(role[:80]).colour] if role else []
    return library.search(words[:200], near)


@router.post("/sites/{slug}/backdrops/pictures", response=OwnPictureOut, operation_id="addPicture")
@heavy
def send_picture(request: HttpRequest, slug: str, picture: File[UploadedFile]) -> OwnPictureOut:
    """Take a picture of the owner's in."""
    site = own_site(request, slug)
    data = picture.read()
    taken = _picture_out(site, add_picture(site, data, picture.name or "picture"))
    if is_drawing(data) and cleaned(data)[1]:
        taken.note = "Scripts and links to elsewhere in the drawing were left out."
    return taken


@router.post("/sites/{slug}/backdrops/library", response=OwnPictureOut, operation_id="takeLibraryPicture")
@heavy
def take_library_picture(request: HttpRequest, slug: str, asked: TakeLibraryIn) -> OwnPictureOut:
    """Take a picture of the library in."""
    site = own_site(request, slug)
    return _picture_out(site, add_from_library(site, asked.name))


@router.get("/sites/{slug}/backdrops/colours", response=PictureColoursOut, operation_id="readBackdropPicture")
@heavy
def read_backdrop_picture(request: HttpRequest, slug: str, path: str) -> PictureColoursOut:
    """Return the colours of a picture of the owner's or of the site's."""
    site = own_site(request, slug)
    file = site.pictures.filter(path=path).first() or site.files.filter(path=path).first()
    if file is None:
        raise Refused(404, "no-picture", "That picture is not there any more. Choose another one.")
    data = get_blob(file.blob)
    colours = [one.colour.hex() for one in main_colours(data)]
    red, green, blue = edge_colour(data)
    return PictureColoursOut(colours=colours, edge=f"#{red:02x}{green:02x}{blue:02x}")


def _pictures(site: Site, root: str) -> list[OwnPictureOut]:
    own = [_picture_out(site, picture) for picture in site.pictures.all()]
    files = [
        OwnPictureOut(
            path=file.path, label=file.path.rsplit("/", 1)[-1], address=f"{root}{file.path}", width=0, height=0,
            bytes=file.size, is_seamless=False, is_own=False,
        )
        for file in site.files.all() if file.path.lower().endswith(_SITE_PICTURES)
    ]  # fmt: skip
    return [*own, *files][:200]


def _picture_out(site: Site, picture: SitePicture) -> OwnPictureOut:
    return OwnPictureOut(
        path=picture.path, label=picture.label, address=f"/api/sites/{site.slug}/backdrops/picture?path={picture.path}",
        width=picture.width, height=picture.height, bytes=picture.size, is_seamless=picture.is_seamless, is_own=True,
    )  # fmt: skip


@router.get("/sites/{slug}/backdrops/picture", operation_id="showOwnPicture", include_in_schema=False)
def show_own_picture(request: HttpRequest, slug: str, path: str) -> HttpResponse:
    """Answer with a picture of the owner's."""
    picture = own_site(request, slug).pictures.filter(path=path).first()
    if picture is None:
        raise Refused(404, "no-picture", "That picture is not there any more. Choose another one.")
    response = HttpResponse(get_blob(picture.blob), content_type="image/webp")
    response["Cache-Control"] = "private, max-age=600"
    return response
