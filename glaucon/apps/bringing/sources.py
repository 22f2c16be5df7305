"""Where a site comes from: a sample, an archive, an address."""

from __future__ import annotations

import uuid
from collections.abc import Iterable
from pathlib import Path
from urllib.parse import urlsplit

from django.conf import settings

from glaucon.apps.bringing.fetching_in import by_address, take_up
from glaucon.apps.errors import Refused
from glaucon.apps.sites.models import Job
from glaucon.core.bringing.links import tidied
from glaucon.core.bringing.reading import read_open
from glaucon.core.survey.site import MAX_ARCHIVE_BYTES, Progress, SiteFiles, read_site

MOST_PAGES, MOST_PAGES_EVER = 500, 3000  # read of a site unless its owner says otherwise, and at the most

_SAMPLE = "sample:"
_ADDRESS = ("http://", "https://")

SAMPLES = {
    "otterlock": ("Otterlock Boats", "A canal-boat hire yard: nine pages, some text that is hard to read."),
    "fenholt": ("Fenholt Ferry", "A river ferry: two pages that scripts build, with a menu, tabs and a night switch."),
}


def keep_upload(chunks: Iterable[bytes]) -> Path:
    """Write an uploaded file to disk and return where; larger ones than allowed are refused."""
    folder = Path(settings.DATA_DIR) / "uploads"
    folder.mkdir(parents=True, exist_ok=True)
    path = folder / f"{uuid.uuid4().hex}.zip"
    size = 0
    try:
        with path.open("wb") as file:
            for chunk in chunks:
                size += len(chunk)
                if size > MAX_ARCHIVE_BYTES:
                    raise Refused(413, "too-large", "This file is larger than 60 MB. Leave out films and downloads.")
                file.write(chunk)
    except BaseException:
        path.unlink(missing_ok=True)
        raise
    return path


def sample_source(name: str) -> tuple[str, str]:
    """Return (the site's name, the job source) of a sample.

    Raises: Refused: 404 where there is no such sample.
    """
    if name not in SAMPLES:
        raise Refused(404, "no-sample", f"There is no sample called “{name}”. Choose one of {', '.join(SAMPLES)}.")
    return SAMPLES[name][0], f"{_SAMPLE}{name}"


def address_source(text: str) -> str:
    """Return the job source of a typed address.

    Raises: Refused: 422 where it is none.
    """
    text = text.strip()
    url = tidied(text if "://" in text else f"https://{text}") if text and " " not in text else None
    if url is None:
        raise Refused(422, "address", f"“{text[:120]}” is not a web address. Write it like https://your-site.example.")
    return url


def name_of(url: str) -> str:
    """Return what a site is called until its owner says otherwise: its host, as a person writes it."""
    host = urlsplit(url).hostname or url
    return host.removeprefix("www.")


def is_address(source: str) -> bool:
    """Return whether a job's source is an address."""
    return source.startswith(_ADDRESS)


def is_upload(source: str) -> bool:
    """Return whether a job's source is an archive of its own, to be removed at its end."""
    return not is_address(source) and not source.startswith(_SAMPLE)


def read_source(job: Job, tell: Progress) -> SiteFiles:
    """Return the files of a job's site.

    Raises: SiteError: they cannot be had.
    """
    if job.source.startswith(_SAMPLE):
        files = read_site(settings.SAMPLES_DIR / job.source.removeprefix(_SAMPLE))
    elif job.fetched:
        files = take_up(Path(job.fetched))
    elif is_address(job.source):
        files = by_address(job.source, job.most_pages, tell)
    else:
        with Path(job.source).open("rb") as handle:
            files = read_open(handle, tell)
    files.most_pages = job.most_pages
    return files
