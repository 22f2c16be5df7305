"""Backdrops: what lies behind the site, its pages and sections; pictures for them; what reads on them and would."""

from __future__ import annotations

from collections import Counter
from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import File, Router, Schema
from ninja.files import UploadedFile
from pydantic import Field, ValidationError

from glaucon.apps.api.answers import added_css, current, revision_out
from glaucon.apps.api.places import hold_to_the_site
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
    MOST_PAGES,
    VEILED,
    before_backdrop,
    plate_behind,
    room_of_backdrop,
    seen_with,
    with_backdrop,
)
from glaucon.apps.studies import services
from glaucon.apps.studies.previews import preview_root
from glaucon.apps.work.heavy import heavy
from glaucon.core.backdrops import library
from glaucon.core.backdrops.bases import readable_base
from glaucon.core.backdrops.panels import firmest_needed, panels_on
from glaucon.core.backdrops.patterns import PATTERNS, drawn
from glaucon.core.backdrops.pictures import BUDGET_BYTES, PHONE_PX, edge_colour
from glaucon.core.backdrops.room import Side, bare_of
from glaucon.core.backdrops.trying import at_focus, best_focus, text_turned, texts_on
from glaucon.core.backdrops.veils import least_veil, with_veil
from glaucon.core.colour.contrast import cut_ratio
from glaucon.core.colour.value import Colour, read_colour
from glaucon.core.making.drawing import cleaned, is_drawing
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


class BackdropIn(Schema):
    """The layers behind a place, as a study's document has them; `place` null: behind the whole site."""

    place: WhereIn | None = None
    layers: list[dict[str, Any]] = Field(max_length=12)
    panels: float = Field(1, ge=0, le=1)
    phone: dict[str, Any] | None = None
    plate: dict[str, Any] | None = None


class BackdropOut(Schema):
    """A backdrop as a study has it, what its place is called, and how many pages it lies on."""

    place: WhereIn | None
    name: str
    pages: int
    of: str
    layers: list[dict[str, Any]]
    panels: float
    phone: dict[str, Any] | None
    plate: dict[str, Any] | None


class OwnPictureOut(Schema):
    """A picture that a backdrop may show: where it is shown from, its size, whether it tiles without a seam."""

    path: str
    label: str
    address: str
    width: int
    height: int
    bytes: int
    is_seamless: bool
    is_own: bool
    note: str = ""


class LibraryOut(Schema):
    """A picture of the library."""

    name: str
    label: str
    address: str
    goes_with: list[str]


class PatternOut(Schema):
    """A drawn pattern and the family it is of."""

    name: str
    family: str


class BackdropsOut(Schema):
    """All backdrops of the open study, and what they may be made of."""

    revision: int
    backdrops: list[BackdropOut]
    pictures: list[OwnPictureOut]
    library: list[LibraryOut]
    patterns: list[PatternOut]
    budget: int


class KeepIn(BackdropIn):
    """A backdrop to be kept, from the revision the writer has seen; without layers the place has none any more.

    With `coat` it is kept with a coat: whoever is given that lies on it.
    """

    base: int
    coat: str = Field("", max_length=60)


class ShownBackdropOut(Schema):
    """The rules that would show it; `is_ready` is false while pictures for it have yet to be made."""

    css: str
    is_ready: bool


class TryIn(BackdropIn):
    """A backdrop to be read on a page at a width."""

    page: str = Field(max_length=400)
    width: int = Field(1280, ge=200, le=4000)


class OnItOut(Schema):
    """A text on a backdrop: its ratio where it is hardest to read, and what it needs."""

    path: str
    text: str
    ratio: float | None
    required: float
    verdict: str


class TurnedOut(Schema):
    """The text turned "light" or "dark": a colour in which all of it on the backdrop could be read."""

    way: str
    colour: str


class InkOut(Schema):
    """A colour of text in the backdrop's place, and the ratio it needs."""

    colour: str
    required: float


class TriedOut(Schema):
    """How the texts of a page read on a backdrop.

    `inks` are the colours of its texts, the most used first.
    `bytes` is what its pictures weigh on this screen, `panels` how many kinds of boxes lie on it. Unless `is_measured`,
    nobody knows yet where the texts lie on it. `is_small`: its place shows hardly anything of it; `bare` are the sides
    that its picture leaves bare.
    """

    texts: int
    hard: int
    unsure: int
    lowest: float | None
    bytes: int
    panels: int
    is_measured: bool
    is_small: bool
    bare: list[Side]
    turned: TurnedOut | None
    inks: list[InkOut]
    worst: list[OnItOut]


class FailedOut(Schema):
    """How many texts are hard to read on a backdrop whose pictures fail to load."""

    hard: int


class HardOut(Schema):
    """A text by its page and path."""

    page: str
    path: str


class LeastOut(Schema):
    """The least veil, as layers with it; `hard` texts stay hard to read whatever the veil, by page and path."""

    opacity: float
    hard: list[HardOut]
    layers: list[dict[str, Any]]


class FirmestOut(Schema):
    """The least strength of the boxes that suffices, and how many texts stay hard to read whatever it is."""

    panels: float
    hard: int


class PlateOut(Schema):
    """The least plate behind the texts that are hard to read, null where none helps; `hard` stay so even on it."""

    plate: dict[str, Any] | None
    hard: int


class BaseOut(Schema):
    """Layers with a base colour on which text can be read where no picture loads; `hard` texts stay so on any."""

    layers: list[dict[str, Any]]
    hard: int


class FocusOut(Schema):
    """The part of the picture that the texts read best on, as layers with it."""

    at: list[float]
    lowest: float | None
    layers: list[dict[str, Any]]


class PictureColoursOut(Schema):
    """A picture's main colours, and that of its edges."""

    colours: list[str]
    edge: str


class TakeLibraryIn(Schema):
    """A picture of the library, to be taken for the site."""

    name: str = Field(max_length=40)


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
                pages=len(behind.pages_of(one, survey.pages)), layers=_layers(one), panels=one.panels,
                phone=one.phone.model_dump(mode="json") if one.phone is not None else None, of=one.of or "",
                plate=_plate(one),
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
    backdrop = _backdrop(site, asked)

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
    study = with_backdrop(current(site).read(), _backdrop(site, asked))
    behind = backdrops_for(site, study, known_of(site).survey.regions)
    is_ready = note_recipes(site, behind.recipes())
    return ShownBackdropOut(css=added_css(site, study), is_ready=is_ready)


@router.post("/sites/{slug}/backdrops/made", response=ShownBackdropOut, operation_id="makeBackdropFiles")
@heavy
def make_backdrop_files(request: HttpRequest, slug: str, asked: BackdropIn) -> ShownBackdropOut:
    """Make the files that a backdrop names, and return the rules that show it."""
    site = own_site(request, slug)
    study = with_backdrop(current(site).read(), _backdrop(site, asked))
    made_files(site, study, known_of(site).survey.regions)
    return ShownBackdropOut(css=added_css(site, study), is_ready=True)


@router.post("/sites/{slug}/backdrops/tried", response=TriedOut, operation_id="tryBackdrop")
@trying
def try_backdrop(request: HttpRequest, slug: str, asked: TryIn) -> TriedOut:
    """Return how the texts of one page would read on a backdrop."""
    site = own_site(request, slug)
    _hold_page(site, asked.page)
    backdrop = _backdrop(site, asked)
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
    _hold_page(site, asked.page)
    backdrop = _backdrop(site, asked)
    if not list(backdrop.pictures):
        return FailedOut(hard=0)
    study = with_backdrop(current(site).read(), backdrop)
    failed = known_on_pages(site, study, [asked.page], [ContextKey(asked.width, "rest")], with_pictures=False)
    found = texts_on(failed, study, backdrop, before_backdrop(site, study, backdrop))
    return FailedOut(hard=sum(VERDICTS[one.verdict] == "fail" for one in found))


@router.post("/sites/{slug}/backdrops/least-veil", response=LeastOut, operation_id="findLeastVeil")
@heavy
def find_least_veil(request: HttpRequest, slug: str, asked: BackdropIn) -> LeastOut:
    """Return the least veil with which no text is hard to read that a veil can help, on wide and narrow screens."""
    site = own_site(request, slug)
    backdrop = _backdrop(site, asked)
    study = current(site).read()
    seen = seen_with(site, study, backdrop, VEILED, MOST_PAGES)
    least = least_veil(seen, study, backdrop, before_backdrop(site, study, backdrop))
    veiled = with_veil(study, backdrop, least.opacity, least.colour)
    hard = [HardOut(page=page, path=path) for page, path in least.hard]
    return LeastOut(opacity=least.opacity, hard=hard, layers=_layers(veiled))


@router.post("/sites/{slug}/backdrops/panels", response=FirmestOut, operation_id="findPanels")
@heavy
def find_panels(request: HttpRequest, slug: str, asked: BackdropIn) -> FirmestOut:
    """Return how solid the boxes on a backdrop have to be for the texts on them."""
    site = own_site(request, slug)
    backdrop = _backdrop(site, asked)
    study = current(site).read()
    seen = seen_with(site, study, backdrop, VEILED, MOST_PAGES)
    panels, hard = firmest_needed(seen, study, backdrop, before_backdrop(site, study, backdrop))
    return FirmestOut(panels=panels, hard=hard)


@router.post("/sites/{slug}/backdrops/plate", response=PlateOut, operation_id="findPlate")
@heavy
def find_plate(request: HttpRequest, slug: str, asked: BackdropIn) -> PlateOut:
    """Return the least plate behind those texts of a backdrop's place that are hard to read, on all screens."""
    site = own_site(request, slug)
    backdrop = _backdrop(site, asked).model_copy(update={"plate": None})
    found = plate_behind(site, current(site).read(), backdrop)
    return PlateOut(plate=_plate(found[0]) if found else None, hard=len(found[1].hard) if found else 0)


@router.post("/sites/{slug}/backdrops/base", response=BaseOut, operation_id="findBase")
@heavy
def find_base(request: HttpRequest, slug: str, asked: BackdropIn) -> BaseOut:
    """Return the base colour nearest to a backdrop's own on which its texts can be read should its pictures fail."""
    site = own_site(request, slug)
    backdrop = _backdrop(site, asked)
    study = current(site).read()
    seen = seen_with(site, study, backdrop, VEILED, MOST_PAGES, with_pictures=False)
    found = readable_base(seen, study, backdrop, before_backdrop(site, study, backdrop))
    return BaseOut(layers=_layers(found.backdrop), hard=len(found.hard))


@router.post("/sites/{slug}/backdrops/focus", response=FocusOut, operation_id="findFocus")
@heavy
def find_focus(request: HttpRequest, slug: str, asked: TryIn) -> FocusOut:
    """Return the part of the topmost picture on which the texts of a page read best at a width."""
    site = own_site(request, slug)
    _hold_page(site, asked.page)
    backdrop = _backdrop(site, asked)
    if not list(backdrop.pictures):
        raise Refused(422, "no-picture", "There is no picture behind this. Add one first.")
    study = current(site).read()
    seen = seen_with(site, study, backdrop, [ContextKey(asked.width, "rest")], 1, asked.page)
    before = before_backdrop(site, study, backdrop)
    at = best_focus(seen, study, backdrop, lambda done, total: None, before)
    there = at_focus(backdrop, at)
    ratios = [one.ratio for one in texts_on(seen(there), study, there, before) if one.ratio is not None]
    return FocusOut(at=list(at), lowest=cut_ratio(min(ratios)) if ratios else None, layers=_layers(there))


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


def _backdrop(site: Site, asked: BackdropIn) -> Backdrop:
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


def _hold_page(site: Site, page: str) -> None:
    if page not in known_of(site).survey.pages:
        raise Refused(422, "no-page", f"The page “{page[:80]}” is not there any more. Look at the map again.")


def _shown(study: Study, paint: OfRole | str) -> str:
    return study.role(paint.role).colour.hex() if isinstance(paint, OfRole) else read_colour(paint).hex()


def _layers(backdrop: Backdrop) -> list[dict[str, Any]]:
    return [layer.model_dump(mode="json", exclude_none=True) for layer in backdrop.layers]


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


def _plate(backdrop: Backdrop) -> dict[str, Any] | None:
    return backdrop.plate.model_dump(mode="json") if backdrop.plate is not None else None
