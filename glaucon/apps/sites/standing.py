"""Pages as they stand once their scripts have run, as the owner's browser tells them, until the site is read by them.

What is told is kept by what the page was made of: it is asked for once, until the page or another file changes.
"""

from __future__ import annotations

import gzip
import hashlib
import json
import re
from pathlib import Path
from typing import Any

from django.conf import settings

from glaucon.apps.sites.blobs import get_blob, write_whole
from glaucon.apps.sites.layouts import folder_name
from glaucon.apps.sites.models import Site, SiteFile
from glaucon.core.cascade.text import decode_source
from glaucon.core.snapshot.document import Stood, read_stood, standing_script
from glaucon.core.snapshot.told_apart import is_as_file
from glaucon.core.survey.site import is_page

_MADE_BY = hashlib.sha256(standing_script().encode()).hexdigest()[:8]
# scripts that are data, or that no browser runs
_SCRIPT = re.compile(
    r"<script\b(?![^>]*\btype\s*=\s*[\"']?(?!module|text/javascript|application/javascript)[\w/+-])", re.I
)


def _names(site: Site) -> dict[str, str]:
    """Return, for each page, the name of what it stands by: itself, and all that is no page."""
    shared = hashlib.sha256(_MADE_BY.encode())
    pages = []
    for path, blob in site.files.values_list("path", "blob"):
        if is_page(path):
            pages.append((path, blob))
        else:
            shared.update(f"{path} {blob}\n".encode())
    common = shared.hexdigest()
    return {path: hashlib.sha256(f"{path} {blob} {common}".encode()).hexdigest()[:32] for path, blob in pages}


def _path(site: Site, name: str) -> Path:
    return Path(settings.DATA_DIR) / "stood" / folder_name(site) / f"{name}.json.gz"


def worth_running(site: Site, pages: list[str]) -> list[str]:
    """Return the pages that have scripts and of which nobody has told yet what those make of them."""
    names = _names(site)
    untold = [page for page in pages if page in names and not _path(site, names[page]).exists()]
    if not untold:
        return []
    blobs = dict(site.files.filter(path__in=untold).values_list("path", "blob"))
    return [page for page in untold if _SCRIPT.search(decode_source(get_blob(blobs[page])).text)]


def keep_stood(site: Site, page: str, told: Any) -> None:
    """Save what a browser told of a page, None where it never stood. Raises: SnapshotError: it is nothing like that."""
    stood = None if told is None else read_stood(told)
    kept = None if stood is None else {"html": stood.html, "told": list(stood.told)}
    file = decode_source(get_blob(site.files.get(path=page).blob)).text
    if stood is not None and is_as_file(stood.html, file):
        kept = {}
    data = json.dumps(kept, ensure_ascii=False).encode()
    write_whole(_path(site, _names(site)[page]), gzip.compress(data, 5, mtime=0))


def told_of(site: Site) -> dict[str, Stood | None]:
    """Return what is told of a site's pages, None of one that never stood; none of those that scripts leave alone."""
    found: dict[str, Stood | None] = {}
    for page, name in _names(site).items():
        path = _path(site, name)
        if path.exists():
            kept = json.loads(gzip.decompress(path.read_bytes()))
            if kept != {}:
                found[page] = None if kept is None else read_stood(kept)
    return found


def are_all_used(site: Site) -> bool:
    """Return whether a site is read by all that is told of it."""
    used = dict(SiteFile.objects.filter(site=site).exclude(stood="").values_list("path", "stood"))
    return all(
        hashlib.sha256(stood.html.encode()).hexdigest() == used.get(page)
        for page, stood in told_of(site).items()
        if stood is not None
    )
