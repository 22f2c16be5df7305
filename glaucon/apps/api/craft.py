"""Finding colours: made and starting palettes, pictures, palette files, swap, the palette on one page."""

from __future__ import annotations

import posixpath
from urllib.parse import quote

import numpy as np
from coloraide import Color
from django.http import Http404, HttpRequest
from ninja import File, Router, UploadedFile

from glaucon.apps.api.answers import current, revision_out
from glaucon.apps.api.fixing import fix_out, place_out
from glaucon.apps.api.schemas.study import (
    MadeOut,
    MakeIn,
    NamedColourOut,
    PaletteTextIn,
    PictureColourOut,
    PictureOut,
    RevisionOut,
    SheetCoat,
    SheetOut,
    SheetPair,
    SheetRole,
    SitePictureOut,
    StartingOut,
    SwapIn,
    SwapLookIn,
    SwapPlaceOut,
)
from glaucon.apps.api.strips import strip
from glaucon.apps.sites.access import own_site
from glaucon.apps.sites.blobs import get_blob
from glaucon.apps.sites.effort import light, light_change
from glaucon.apps.sites.surveys import known_for, known_of
from glaucon.apps.studies import services
from glaucon.apps.studies.previews import preview_root
from glaucon.apps.work.heavy import heavy
from glaucon.core.colour.oklab import oklab_from_srgb, oklch_from_oklab
from glaucon.core.colour.value import read_colour
from glaucon.core.exchange.palette_files import read_palette
from glaucon.core.making.making import DIRECTIONS, counterpart, is_dark, make_study
from glaucon.core.making.picture import main_colours, seeds_of
from glaucon.core.making.starting import STARTING, starting_study
from glaucon.core.reading.findings import Finding
from glaucon.core.study.roles import Role
from glaucon.core.study.study import Study
from glaucon.core.study.swap import places_of, swap

router = Router(tags=["craft"])
_PICTURES = (".png", ".jpg", ".jpeg", ".gif", ".webp")
_MOST_PICTURES = 60
_MOST_PAIRS = 60


@router.get("/directions", response=list[str], operation_id="listDirections")
def list_directions(request: HttpRequest) -> list[str]:
    return [direction.name for direction in DIRECTIONS]


@router.get("/starting", response=list[StartingOut], operation_id="listStarting")
def list_starting(request: HttpRequest) -> list[StartingOut]:
    return [
        StartingOut(name=one.name, is_dark=not one.way.is_light, **{part: c.hex() for part, c in one.looks().items()})
        for one in STARTING
    ]


@router.post("/sites/{slug}/made", response=MadeOut, operation_id="makeStudy")
@heavy
def make(request: HttpRequest, slug: str, wanted: MakeIn) -> MadeOut:
    """Work out one made palette; nothing is written."""
    site = own_site(request, slug)
    known, study = known_of(site), current(site).read()
    if wanted.starting == "counterpart":
        made = counterpart(known, study)
    elif wanted.starting is not None:
        made = starting_study(known, study, wanted.starting)
    else:
        places = {role: read_colour(text) for role, text in wanted.places.items()}
        given = [read_colour(text) for text in wanted.colours]
        made = make_study(known, study, given, wanted.direction, wished=places)
    return MadeOut(
        name=made.study.name, about=made.about, values={role.id: role.value for role in made.base.roles},
        parts=[fix_out(known, made.base, one) for one in made.parts],
        places=[place_out(known, made.study, one) for one in made.places], fades=made.fades,
        given=made.given, hard_texts=made.failing, samples=made.left, colours=strip(known, made.study),
        is_dark=is_dark(made.study), is_blocked=made.is_blocked,
    )  # fmt: skip


@router.get("/sites/{slug}/pictures", response=list[SitePictureOut], operation_id="listPictures")
@light
def list_pictures(request: HttpRequest, slug: str) -> list[SitePictureOut]:
    """Return the site's pictures, what is called a logo first."""
    site = own_site(request, slug)
    root = preview_root(site, current(site).read())
    paths = [path for path in site.files.values_list("path", flat=True) if path.lower().endswith(_PICTURES)]
    found = [
        SitePictureOut(path=path, address=root + quote(path), is_logo="logo" in posixpath.basename(path).lower())
        for path in sorted(paths)
    ]
    return sorted(found, key=lambda one: not one.is_logo)[:_MOST_PICTURES]


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


@router.post("/sites/{slug}/swap/look", response=list[SwapPlaceOut], operation_id="lookAtSwap")
@light
def look_at_swap(request: HttpRequest, slug: str, asked: SwapLookIn) -> list[SwapPlaceOut]:
    site = own_site(request, slug)
    known, study = known_of(site), current(site).read()
    labels = study.labels
    return [
        SwapPlaceOut(
            key=place.key, colour=place.colour.hex(), role=place.role, label=labels.get(place.role or "", ""),
            file=place.token.file, line=place.token.line, property=place.token.property,
            selector=place.token.selector, texts=len(known.uses[place.token.number].runs),
        )
        for place in places_of(known.tokens, study, read_colour(asked.colour), asked.within)
    ]  # fmt: skip


@router.post("/sites/{slug}/swap", response=RevisionOut, operation_id="swapColour")
@light_change
def swap_colour(request: HttpRequest, slug: str, wanted: SwapIn) -> RevisionOut:
    site = own_site(request, slug)
    known, to = known_of(site), read_colour(wanted.to)

    def change(study: Study) -> Study:
        return swap(study, known.tokens, wanted.keys, to)

    return revision_out(site, services.change(site, wanted.base, change, f"Swapped for {to.hex()}"))


@router.get("/sites/{slug}/sheet", response=SheetOut, operation_id="getSheet")
@light
def get_sheet(request: HttpRequest, slug: str) -> SheetOut:
    site = own_site(request, slug)
    row, study = services.study_of(site), current(site).read()
    known = known_for(site, study)
    labels = study.labels
    shown = [role for role in study.roles if role.tier != "unseen"]
    reading = known.read(study)
    pairs: dict[tuple[str, str], Finding] = {}
    for role in shown:
        for finding in reading.pairs_of(role.id) if role.id in reading.roles else []:
            if finding.text.role and finding.background.role and finding.ratio is not None:
                pairs.setdefault((finding.text.role, finding.background.role), finding)
    ordered = sorted(pairs.values(), key=lambda one: -one.characters)[:_MOST_PAIRS]
    return SheetOut(
        site=site.name, study=row.name,
        roles=[_sheet_role(study, role) for role in study.short_roles()],
        coats=[
            SheetCoat(label=coat.label, roles=[_sheet_role(study, r) for r in _main_at_rest(study, coat.id)])
            for coat in study.short_coats()
        ],
        details=[_sheet_role(study, role) for role in shown if role.tier == "detail" and role.state == "rest"],
        pairs=[
            SheetPair(
                text=labels[one.text.role or ""], background=labels[one.background.role or ""],
                text_colour=one.text.colour, background_colour=one.background.colour, ratio=one.ratio,
                use=_may_be_used(one.ratio or 1.0), sample=one.sample,
            )
            for one in ordered
        ],
    )  # fmt: skip


def _main_at_rest(study: Study, coat: str) -> list[Role]:
    return [role for role in study.roles_of(coat) if role.tier == "main" and role.state == "rest"]


def _sheet_role(study: Study, role: Role) -> SheetRole:
    colour = role.colour
    red, green, blue = colour.bytes
    alpha = "" if colour.alpha == 1 else f" / {round(colour.alpha, 3):g}"
    hue, saturation, lightness = Color("srgb", list(colour.rgb)).convert("hsl").coords(nans=False)
    light, chroma, turn = oklch_from_oklab(oklab_from_srgb(np.array(colour.rgb))).tolist()
    return SheetRole(
        id=role.id, label=role.label, hex=colour.hex(), rgb=f"rgb({red} {green} {blue}{alpha})",
        hsl=f"hsl({hue:.0f} {saturation * 100:.0f}% {lightness * 100:.0f}%{alpha})",
        oklch=f"oklch({light * 100:.1f}% {chroma:.3f} {turn if chroma > 0.002 else 0:.0f}{alpha})",
        follows=study.labels.get(role.tie.to, "") if role.tie else "",
        states=_states(study, role) if role.tier == "main" else {},
    )  # fmt: skip


def _states(study: Study, role: Role) -> dict[str, str]:
    return {one.state: one.colour.hex() for one in study.roles if study.rest_of(one) == role}


def _may_be_used(ratio: float) -> str:
    if ratio >= 7:
        return "all text, AAA (strict)"
    if ratio >= 4.5:
        return "all text, AA (normal)"
    return "large text only" if ratio >= 3 else "not for text"
