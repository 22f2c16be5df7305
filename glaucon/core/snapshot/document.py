"""What stands on pages once their scripts have run: the document a browser hands over, checked against the files."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from glaucon.core.errors import GlauconError
from glaucon.core.survey.site import MAX_TEXT_BYTES, SiteFiles

FORMAT = 1
# What `stood.js` keeps to; times in milliseconds. A page is asked to be still for `still`, and waited for no longer
# than `quiet`.
LIMITS = {
    "still": 300, "quiet": 5_000, "after": 1_500, "scrolling": 10_000, "step": 30, "elements": 60_000,
    "letters": 3_500_000,
    # what clicks open: how many, for how long in all; after a click a moment, and so long until it is open
    "openers": 40, "opening": 20_000, "moment": 40, "opens": 800, "drifts": 250, "nodes": 5_000,
}  # fmt: skip
TOLD = {
    "restless": "it never came to rest",
    "endless": "it has no end, so it is read as far as was scrolled",
    "canvas": "a part of it is drawn on a canvas, whose words are not read",
    "more": "more of it opens at a click than is looked at: 40 things, in 20 seconds",
}


class SnapshotError(GlauconError):
    """A snapshot that is not what a browser could have told of this site."""


@dataclass(frozen=True, slots=True)
class Stood:
    """A page as it stood: its HTML, and what was noticed on the way, as keys of TOLD."""

    html: str
    told: tuple[str, ...] = ()


Snapshot = Mapping[str, Stood]


def standing_script() -> str:
    """Return the script that tells what stands on a page: an expression, a function of the limits."""
    return _expression("stood.js").replace("/* opening */ null", f"({_expression('opening.js')})")


def _expression(name: str) -> str:
    text = (Path(__file__).parent / name).read_text("utf-8")
    return text.partition("*/\n")[2].strip().rstrip(";")


def read_stood(given: Any) -> Stood:
    """Return what `stood.js` handed over. Raises: SnapshotError: it is nothing that could stand on a page."""
    html = given.get("html") if isinstance(given, dict) else None
    told = given.get("told", []) if isinstance(given, dict) else None
    if not isinstance(html, str) or not isinstance(told, list) or "<" not in html:
        raise SnapshotError("This is not a page that Glaucon's own script told of. Have it looked at again.")
    if len(html.encode("utf-8", "replace")) > MAX_TEXT_BYTES:
        raise SnapshotError("What the scripts made of this page is larger than 5 MB, too large to be read.")
    # a lone half of a letter cannot be written down
    return Stood(html.encode("utf-8", "replace").decode(), tuple(one for one in TOLD if one in told))


def file_name_of(data: bytes) -> str:
    """Return what a snapshot knows a page's file by."""
    return hashlib.sha256(data).hexdigest()


def written_snapshot(site: SiteFiles, snapshot: Snapshot) -> dict[str, Any]:
    """Return a snapshot as it is kept beside the layout."""
    pages = [
        {"page": page, "file": file_name_of(site.files[page]), "html": stood.html, "told": list(stood.told)}
        for page, stood in sorted(snapshot.items())
    ]
    return {"format": FORMAT, "pages": pages}


def read_snapshot(given: Any, site: SiteFiles) -> dict[str, Stood]:
    """Return the snapshot that `written_snapshot` gave, of the site that it was taken of.

    Raises: SnapshotError: it is none, of a newer format, or of other files.
    """
    try:
        newer, pages = given["format"] != FORMAT, [(str(one["page"]), str(one["file"]), one) for one in given["pages"]]
    except (KeyError, TypeError) as error:
        raise SnapshotError("This file holds no snapshot. Make one with: glaucon measure PATH --scripts.") from error
    if newer:
        raise SnapshotError("This snapshot is of a newer format than this Glaucon reads. Measure the site again.")
    for page, file, _ in pages:
        if file_name_of(site.files.get(page, b"")) != file:
            raise SnapshotError(
                f"This snapshot does not belong to these files: “{page[:120]}” is another one. Measure the site again."
            )
    return {page: read_stood(one) for page, _, one in pages}


def as_it_stood(site: SiteFiles, snapshot: Snapshot) -> SiteFiles:
    """Return a site whose pages are read as they stood; its files stay what they are."""
    stood = {page: one.html for page, one in snapshot.items() if page in site.files}
    notes = [
        f"{page} is read as its scripts made it: {TOLD[what]}." for page, one in snapshot.items() for what in one.told
    ]
    return replace(site, stood=stood, notes=[*site.notes, *notes])
