"""Backdrops: what lies behind the site, its pages and sections; pictures for them; what reads on them and would."""

from __future__ import annotations

from collections import Counter
from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import File, Router
from ninja.files import UploadedFile
from pydantic import ValidationError

from glaucon.apps.api.answers import added_css, current, revision_out
from glaucon.apps.api.places import hold_to_the_site
from glaucon.apps.api.schemas.backdrops import (
    BackdropIn,
    BackdropOut,
    BackdropsOut,
    FailedOut,
    InkOut,
    KeepIn,
    LibraryOut,
    OnItOut,
    OwnPictureOut,
    PatternOut,
    PictureColoursOut,
    ShownBackdropOut,
    TakeLibraryIn,
    TriedOut,
    TryIn,
    TurnedOut,
)
from glaucon.apps.api.schemas.study import RevisionOut, WhereIn
from glaucon.apps.errors import Refused
from glaucon.apps.sites.access import own_site
from glaucon.apps.sites.backdrops import (
    add_from_library,
    add_picture,
    backdrops_for,
    made_files,
    note_recipes,
)
from glaucon.apps.sites.blobs import get_blob
from glaucon.apps.sites.effort import light, trying
from glaucon.apps.sites.layouts import kept_layouts
from glaucon.apps.sites.models import Site, SitePicture
from glaucon.apps.sites.surveys import known_of, known_on_pages
from glaucon.apps.sites.trying import (
    before_backdrop,
    room_of_backdrop,
    with_backdrop,
)
from glaucon.apps.studies import services
from glaucon.apps.studies.previews import preview_root
from glaucon.apps.work.heavy import heavy
from glaucon.core.backdrops import library
from glaucon.core.backdrops.panels import panels_on
from glaucon.core.backdrops.patterns import PATTERNS, drawn
from glaucon.core.backdrops.pictures import BUDGET_BYTES, PHONE_PX, edge_colour
from glaucon.core.backdrops.room import bare_of
from glaucon.core.backdrops.trying import text_turned, texts_on
from glaucon.core.colour.contrast import cut_ratio
from glaucon.core.colour.value import Colour, read_colour
from glaucon.core.layout.drawing import cleaned, is_drawing
from glaucon.core.making.picture import main_colours
from glaucon.core.proposal.dressing import place_name
from glaucon.core.reading.reading import VERDICTS
from glaucon.core.study.backdrops import Backdrop, OfRole
from glaucon.core.study.coat_backdrops import with_coat_backdrop
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey

router = Router(tags=["backdrops"])
_MOST_INKS = 8
_MOST_TEXTS = 40
_SITE_PICTURES = (".png", ".jpg", ".jpeg", ".webp", ".gif", ".avif", ".svg")


@router.get("/sites/{slug}/backdrops", response=BackdropsOut, operation_id="getBackdrops")
@light
def get_backdrops(request: HttpRequest, slug: str) -> BackdropsOut:
    site = own_site(request, slug)
    revision = current(site)
    study = revision.read()
    survey = known_of(site).survey
    behind = backdrops_for(site, study, survey.regions)
    return BackdropsOut(
        revision=revision.number,
        backdrops=[
            BackdropOut(
                place=WhereIn(**one.where.model_dump()) if one.where is not None else None,
                name=place_name(survey, one.where) if one.where is not None else "The whole site",
                pages=len(behind.pages_of(one, survey.pages)), layers=layers_of(one), panels=one.panels,
                phone=one.phone.model_dump(mode="json") if one.phone is not None else None, of=one.of or "",
                plate=plate_of(one),
            )
            for one in study.backdrops
        ],
        pictures=_pictures(site, study),
        library=[
            LibraryOut(name=name, label=one.label, address=f"/api/library/{name}", goes_with=one.words.split())
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
    near: list[Colour] = [current(own).read().role(role[:80]).colour] if role else []
    return library.search(words[:200], near)


@router.post("/sites/{slug}/backdrops", response=RevisionOut, operation_id="keepBackdrop")
@heavy
def keep_backdrop(request: HttpRequest, slug: str, asked: KeepIn) -> RevisionOut:
    site = own_site(request, slug)
    backdrop = asked_backdrop(site, asked)

    def change(study: Study) -> Study:
        if asked.coat:
            return with_coat_backdrop(study, asked.coat, backdrop)
        return with_backdrop(study, backdrop)

    study = change(current(site).read())
    made_files(site, study, known_of(site).survey.regions)
    what = "Backdrop changed" if backdrop.layers else "Backdrop taken away"
    what = "Backdrop kept with a coat" if asked.coat else what
    return revision_out(site, services.change(site, asked.base, change, what))


@router.post("/sites/{slug}/backdrops/shown", response=ShownBackdropOut, operation_id="showBackdrop")
@light
def show_backdrop(request: HttpRequest, slug: str, asked: BackdropIn) -> ShownBackdropOut:
    """Return the rules that would show a backdrop while it is tried; nothing is saved."""
    site = own_site(request, slug)
    study = with_backdrop(current(site).read(), asked_backdrop(site, asked))
    behind = backdrops_for(site, study, known_of(site).survey.regions)
    is_ready = note_recipes(site, behind.recipes())
    return ShownBackdropOut(css=added_css(site, study), is_ready=is_ready)


@router.post("/sites/{slug}/backdrops/made", response=ShownBackdropOut, operation_id="makeBackdropFiles")
@heavy
def make_backdrop_files(request: HttpRequest, slug: str, asked: BackdropIn) -> ShownBackdropOut:
    """Make the files that a backdrop names, and return the rules that show it."""
    site = own_site(request, slug)
    study = with_backdrop(current(site).read(), asked_backdrop(site, asked))
    made_files(site, study, known_of(site).survey.regions)
    return ShownBackdropOut(css=added_css(site, study), is_ready=True)


@router.post("/sites/{slug}/backdrops/tried", response=TriedOut, operation_id="tryBackdrop")
@trying
def try_backdrop(request: HttpRequest, slug: str, asked: TryIn) -> TriedOut:
    """Return how the texts of one page would read on a backdrop."""
    site = own_site(request, slug)
    hold_page(site, asked.page)
    backdrop = asked_backdrop(site, asked)
    study = with_backdrop(current(site).read(), backdrop)
    contexts, before = [ContextKey(asked.width, "rest")], before_backdrop(site, study, backdrop)
    found = texts_on(known_on_pages(site, study, [asked.page], contexts), study, backdrop, before)
    behind = backdrops_for(site, study, known_of(site).survey.regions)
    turned = text_turned(study, found)
    room = room_of_backdrop(site, study, backdrop, asked.page, asked.width)
    hard = [one for one in found if VERDICTS[one.verdict] == "fail"]
    ratios = [one.ratio for one in found if one.ratio is not None]
    return TriedOut(
        texts=len(found), hard=len(hard), unsure=sum(VERDICTS[one.verdict] == "unsure" for one in found),
        lowest=cut_ratio(min(ratios)) if ratios else None,
        bytes=behind.weight(backdrop, asked.width <= PHONE_PX), panels=panels_on(backdrop, behind.regions),
        is_measured=(asked.page, asked.width) in kept_layouts(site),
        is_small=room is not None and room.is_small,
        bare=bare_of(backdrop, {one.file: behind.size(one.file) for one in backdrop.pictures}, room) if room else [],
        turned=TurnedOut(way=turned[0], colour=_shown(study, turned[1])) if turned is not None else None,
        inks=[
            InkOut(colour=Colour(*colour).hex(), required=required)
            for (colour, required), _ in Counter(
                (one.colour, one.required) for one in found if one.is_inside and one.colour is not None
            ).most_common(_MOST_INKS)
            if colour is not None
        ],
        worst=[
            OnItOut(
                path=one.path, text=one.text, ratio=cut_ratio(one.ratio) if one.ratio is not None else None,
                required=one.required, verdict=VERDICTS[one.verdict],
            )
            for one in found[:_MOST_TEXTS]
        ],
    )  # fmt: skip


@router.post("/sites/{slug}/backdrops/failed", response=FailedOut, operation_id="tryFailedBackdrop")
@trying
def try_failed_backdrop(request: HttpRequest, slug: str, asked: TryIn) -> FailedOut:
    """Return how many texts of one page would be hard to read should a backdrop's pictures fail to load."""
    site = own_site(request, slug)
    hold_page(site, asked.page)
    backdrop = asked_backdrop(site, asked)
    if not list(backdrop.pictures):
        return FailedOut(hard=0)
    study = with_backdrop(current(site).read(), backdrop)
    failed = known_on_pages(site, study, [asked.page], [ContextKey(asked.width, "rest")], with_pictures=False)
    found = texts_on(failed, study, backdrop, before_backdrop(site, study, backdrop))
    return FailedOut(hard=sum(VERDICTS[one.verdict] == "fail" for one in found))


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


def _shown(study: Study, paint: OfRole | str) -> str:
    return study.role(paint.role).colour.hex() if isinstance(paint, OfRole) else read_colour(paint).hex()


def _pictures(site: Site, study: Study) -> list[OwnPictureOut]:
    root = preview_root(site, study)
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


def asked_backdrop(site: Site, asked: BackdropIn) -> Backdrop:
    """Return a backdrop that fits the site. Raises: Refused: 422 with what is wrong with it."""
    place = asked.place.dict() if asked.place is not None else None
    try:
        backdrop = Backdrop.model_validate(
            {"in": place, "layers": asked.layers, "panels": asked.panels, "phone": asked.phone, "plate": asked.plate}
        )
    except ValidationError as error:
        first = error.errors()[0]
        said = str(first["msg"]).removeprefix("Value error, ").rstrip(".")
        where = ".".join(str(part) for part in first["loc"] if not isinstance(part, int)) or "the backdrop"
        raise Refused(422, "no-backdrop", f"That backdrop cannot be used: {where}: {said}.") from error
    if backdrop.where is not None:
        hold_to_the_site(known_of(site), backdrop.where)
    return backdrop


def hold_page(site: Site, page: str) -> None:
    """Raise Refused: 422 where a page is not there."""
    if page not in known_of(site).survey.pages:
        raise Refused(422, "no-page", f"The page “{page[:80]}” is not there any more. Look at the map again.")


def layers_of(backdrop: Backdrop) -> list[dict[str, Any]]:
    """Return the layers as a document has them."""
    return [layer.model_dump(mode="json", exclude_none=True) for layer in backdrop.layers]


def plate_of(backdrop: Backdrop) -> dict[str, Any] | None:
    """Return what lies behind some words alone, as a document has it."""
    return backdrop.plate.model_dump(mode="json") if backdrop.plate is not None else None
