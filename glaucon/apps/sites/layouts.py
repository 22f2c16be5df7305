"""Layouts of a site's pages as its owner's browser measured them, kept by what they were measured of and by width.

A page is measured anew only when it, or anything that it may be laid out by, has changed.
"""

from __future__ import annotations

import gzip
import hashlib
import json
import shutil
from collections.abc import Collection
from pathlib import Path
from typing import Any

import numpy as np
from django.conf import settings

from glaucon.apps.sites.blobs import write_whole
from glaucon.apps.sites.models import Site
from glaucon.core.layout.document import Layouts, measuring_script, read_page_layout
from glaucon.core.survey.model import Photo, Shade, Survey
from glaucon.core.survey.site import is_page

_MADE_BY = hashlib.sha256(measuring_script().encode()).hexdigest()[:8]  # another script measures other things
_MOST_BYTES = 60_000_000  # of one site, unpacked when read
Wanted = tuple[str, int]  # a page and a width


def folder_name(site: Site) -> str:
    """Return the name of the folder that what is measured of a site is kept in: its own, and no later one's."""
    return f"{site.pk}-{site.brought_in:%Y%m%d%H%M%S%f}"


def _folder(site: Site) -> Path:
    return Path(settings.DATA_DIR) / "layouts" / folder_name(site)


def _names(site: Site) -> dict[str, str]:
    """Return, for each page, the name of what it is laid out by: itself, and all that is no page."""
    shared = hashlib.sha256(_MADE_BY.encode())
    pages = []
    for path, blob, stood in site.files.values_list("path", "blob", "stood"):
        if is_page(path):
            pages.append((path, f"{blob} {stood}" if stood else blob))
        else:
            shared.update(f"{path} {blob}\n".encode())
    common = shared.hexdigest()
    return {path: hashlib.sha256(f"{path} {blob} {common}".encode()).hexdigest()[:32] for path, blob in pages}


def kept_layouts(site: Site) -> dict[Wanted, Path]:
    """Return which pages are measured at which widths, and where that is kept."""
    names = {name: page for page, name in _names(site).items()}
    found: dict[Wanted, Path] = {}
    for path in sorted(_folder(site).glob("*.json.gz")):
        name, _, width = path.name.removesuffix(".json.gz").partition("-")
        if name in names and width.isdigit():
            found[names[name], int(width)] = path
    return found


def keep_layout(site: Site, page: str, width: int, measured: Any, known_paths: set[str]) -> None:
    """Save a page's measured layout, without entries for elements that the page does not have.

    Raises: LayoutError: it is not what a browser could have measured.
    """
    read_page_layout(measured)
    kept = {**_of_known(measured, known_paths), "width": width}
    if measured.get("hovered") is not None:
        kept["hovered"] = _of_known(measured["hovered"], known_paths)
    data = json.dumps(kept, separators=(",", ":")).encode()
    write_whole(_folder(site) / f"{_names(site)[page]}-{width}.json.gz", gzip.compress(data, 5, mtime=0))


def _of_known(measured: Any, known_paths: set[str]) -> dict[str, Any]:
    return {**measured, "runs": [row for row in measured["runs"] if _path_of(measured, row) in known_paths]}


def _path_of(measured: Any, row: list[Any]) -> str:
    return str(measured["paths"][row[0]]) + ("", "::before", "::after")[row[1]]


def read_kept(paths: dict[Wanted, Path]) -> Layouts:
    """Return the layouts that are kept."""
    found: Layouts = {}
    size = 0
    for key, path in paths.items():
        data = gzip.decompress(path.read_bytes())
        size += len(data)
        if size > _MOST_BYTES:
            break
        found[key] = read_page_layout(json.loads(data))
    return found


def digest_of(paths: dict[Wanted, Path]) -> str:
    """Return a short name of a set of layouts, an empty text for none."""
    if not paths:
        return ""
    told = (f"{path.name} {path.stat().st_size} {path.stat().st_mtime_ns}" for path in paths.values())
    return hashlib.sha256("\n".join(told).encode()).hexdigest()[:16]


def drop_layouts(folder: str) -> None:
    """Remove what browsers told of a site that is gone, by its `folder_name`."""
    for what in ("layouts", "stood"):
        shutil.rmtree(Path(settings.DATA_DIR) / what / folder, ignore_errors=True)


def drop_old_layouts(site: Site, widths: Collection[int]) -> None:
    """Remove what no survey can use: measured of pages that are no longer so, or at widths that are not read."""
    wanted = {path for (_, width), path in kept_layouts(site).items() if width in widths}
    for path in _folder(site).glob("*.json.gz"):
        if path not in wanted:
            path.unlink(missing_ok=True)


def worth_measuring(survey: Survey) -> list[Wanted]:
    """Return the pages, with the widths, on which layout decides what lies behind some text; the widest first."""
    open_ = np.array(
        [
            not one.laid and (one.adrift or any(isinstance(layer, Shade | Photo) for layer in one.all_layers()))
            for one in survey.pairings
        ],
        dtype=bool,
    )
    if not open_.any():
        return []
    number_of = {page: number for number, page in enumerate(survey.pages)}
    page_of = np.array([number_of[run.page] for run in survey.runs], dtype=np.int64)
    found: dict[Wanted, None] = {}
    for key in sorted(survey.sightings, key=lambda key: -key.width):
        sightings = survey.sightings[key]
        if not len(sightings) or key.scheme != "light":
            continue
        pairings, runs = np.array(sightings.pairings), np.array(sightings.runs)
        for number in np.unique(page_of[runs[open_[pairings]]]).tolist():
            found[survey.pages[number], key.width] = None
    return list(found)
