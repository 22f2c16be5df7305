"""A site fetched by its address, apart from reading it: whoever waits for a slow host keeps nobody else from work.

What was fetched is laid down as an archive, which the job is read from then.
"""

from __future__ import annotations

import json
import uuid
import zipfile
from collections.abc import Callable
from pathlib import Path

from django.conf import settings

from glaucon.apps.bringing.outside.crawling import Crawler
from glaucon.apps.bringing.outside.fetching import Fetcher
from glaucon.apps.bringing.outside.guard import Guard
from glaucon.core.survey.site import Progress, SiteFiles

_SAID = "fetched.json"


def by_address(url: str, most_pages: int, tell: Progress) -> SiteFiles:
    """Return the site at an address, within the server's own rules of what may be asked."""
    beat: tuple[str, int, int] = ("asking for the first page", 0, 1)

    def heard(what: str, done: int, total: int) -> None:
        nonlocal beat
        beat = what, done, total
        tell(what, done, total)

    def wait() -> None:
        # told again while waiting, so that a cancel is noticed
        tell(*beat)

    fetcher = own_fetcher(wait)
    try:
        return Crawler(fetcher, most_pages, heard).crawl(url)
    finally:
        fetcher.close()


def own_fetcher(wait: Callable[[], None] = lambda: None) -> Fetcher:
    """Return what asks the outside as the operator allows it."""
    guard = Guard(settings.GLAUCON_ALLOWED_ADDRESSES, settings.GLAUCON_PORTS, frozenset(settings.ALLOWED_HOSTS) - {"*"})
    return Fetcher(guard, settings.GLAUCON_PACE_SECONDS, wait)


def lay_down(files: SiteFiles) -> Path:
    """Write what was fetched to disk, and return where."""
    folder = Path(settings.DATA_DIR) / "uploads"
    folder.mkdir(parents=True, exist_ok=True)
    path = folder / f"{uuid.uuid4().hex}.fetched"
    said = {"notes": files.notes, "origin": files.origin, "most_pages": files.most_pages}
    with zipfile.ZipFile(path, "w", zipfile.ZIP_STORED) as archive:
        archive.writestr(_SAID, json.dumps(said))
        for name, data in files.files.items():
            archive.writestr(f"site/{name}", data)
    return path


def take_up(path: Path) -> SiteFiles:
    """Return what was laid down."""
    with zipfile.ZipFile(path) as archive:
        said = json.loads(archive.read(_SAID))
        names = [name for name in archive.namelist() if name != _SAID]
        files = {name.removeprefix("site/"): archive.read(name) for name in names}
    return SiteFiles(files, list(said["notes"]), said["origin"], said["most_pages"])
