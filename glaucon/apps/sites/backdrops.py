"""A site's backdrops: the pictures its owner gave, and the files that its studies' backdrops name, made once."""

from __future__ import annotations

import json
from pathlib import Path

from django.conf import settings
from django.db import transaction

from glaucon.apps.errors import Refused
from glaucon.apps.sites.blobs import get_blob, put_blob, write_whole
from glaucon.apps.sites.models import Site, SitePicture
from glaucon.apps.sites.room import refuse_without_room
from glaucon.core.backdrops import library
from glaucon.core.backdrops.css import Recipe
from glaucon.core.backdrops.pictures import FOLDER, is_seamless, refuse_unfit, size_of, take_in
from glaucon.core.errors import ColourError, StudyError
from glaucon.core.exchange.backdrops import Backdrops, Source, file_made
from glaucon.core.study.backdrops import Picture
from glaucon.core.study.study import Study
from glaucon.core.survey.model import Region

MOST_PICTURES = 60


def source_for(site: Site) -> Source:
    """Return what finds the bytes of a picture: one of the owner's, or a file of the site."""

    def source(path: str) -> bytes | None:
        own = site.pictures.filter(path=path).first()
        file = own or site.files.filter(path=path).first()
        return get_blob(file.blob) if file is not None else None

    return source


def backdrops_for(site: Site, study: Study, regions: list[Region], with_pictures: bool = True) -> Backdrops:
    """Return a study's backdrops made ready to be written; sizes of pictures are kept."""
    own = {picture.path: (picture.width, picture.height) for picture in site.pictures.all()} if study.backdrops else {}
    source = source_for(site)

    def size(path: str) -> tuple[int, int]:
        return own.get(path) or _size_of_file(site, path, source)

    by_key = {region.key: region for region in regions}
    return Backdrops(study, by_key, size, source, with_pictures, made=lambda: made_files(site, study, regions))


def _size_of_file(site: Site, path: str, source: Source) -> tuple[int, int]:
    kept = folder_of(site) / "sizes.json"
    known: dict[str, list[int]] = json.loads(kept.read_text("utf-8")) if kept.exists() else {}
    if path not in known:
        data = source(path)
        if data is None:
            raise StudyError(f"The picture “{path[:80]}” is not there any more. Choose another one for the backdrop.")
        known[path] = list(size_of(data))
        write_whole(kept, json.dumps(known).encode())
    return known[path][0], known[path][1]


def folder_of(site: Site) -> Path:
    """Return the folder of what is made for a site's backdrops, as its files are now."""
    return Path(settings.DATA_DIR) / "backdrops" / f"{site.pk}-{site.content[:16]}"


def note_recipes(site: Site, recipes: dict[str, Recipe]) -> bool:
    """Keep how files are made, so that a preview may ask for them; return whether all of them are made."""
    folder = folder_of(site)
    are_made = True
    for path, recipe in recipes.items():
        target = folder / path.removeprefix(FOLDER)
        if target.exists():
            continue
        if recipe.picture is None:
            write_whole(target, recipe.drawing)
            continue
        are_made = False
        said = {"picture": recipe.picture.model_dump(mode="json"), "width": recipe.width}
        write_whole(target.with_suffix(".json"), json.dumps(said).encode())
    return are_made


def file_of(site: Site, path: str) -> bytes | None:
    """Return a file that a backdrop names, made now from what was noted where it is not kept; None: unknown."""
    name = path.removeprefix(FOLDER)
    kept = {one.name for one in folder_of(site).glob("*")}  # a name from outside leads to nothing but one of these
    target = folder_of(site) / name
    if name.endswith(".json") or not {name, target.with_suffix(".json").name if name else ""} & kept:
        return None
    if name not in kept:
        noted = target.with_suffix(".json")
        said = json.loads(noted.read_text("utf-8"))
        recipe = Recipe(picture=Picture.model_validate(said["picture"]), width=said["width"])
        try:
            write_whole(target, file_made(recipe, source_for(site)))
        except (ColourError, StudyError):
            return None
    return target.read_bytes()


def made_files(site: Site, study: Study, regions: list[Region]) -> dict[str, bytes]:
    """Return the files that a study's backdrops name, each made once."""
    recipes = backdrops_for(site, study, regions).recipes()
    note_recipes(site, recipes)
    return {path: data for path in recipes if (data := file_of(site, path)) is not None}


def add_picture(site: Site, data: bytes, name: str, label: str = "") -> SitePicture:
    """Return a picture taken in for a site's backdrops; the very same one is taken once.

    Raises: ColourError: it is no good. Refused: the site has too many.
    """
    refuse_unfit(data)
    taken = take_in(data, name)
    blob, is_tile = put_blob(taken.data), is_seamless(taken.data)
    with transaction.atomic():
        same = site.pictures.filter(blob=blob).first()
        if same is not None:
            return same
        if site.pictures.count() >= MOST_PICTURES:
            said = f"A site can have {MOST_PICTURES} pictures for backdrops. Use one of those that are there."
            raise Refused(409, "too-many", said)
        refuse_without_room(site.owner, len(taken.data))
        path, number = taken.name, 1
        while site.pictures.filter(path=path).exists():
            number += 1
            path = taken.name.replace(".webp", f"-{number}.webp")
        said = " ".join((label or name.rsplit(".", 1)[0]).split())[:80]
        return SitePicture.objects.create(
            site=site, path=path, label=said or "Picture", blob=blob, width=taken.width, height=taken.height,
            size=len(taken.data), is_seamless=is_tile,
        )  # fmt: skip


def add_from_library(site: Site, name: str) -> SitePicture:
    """Return a picture of the library taken in for a site's backdrops. Raises: StudyError: there is none."""
    return add_picture(site, library.draw(name), f"{name}.png", library.LIBRARY[name].label)
