"""Removing what nothing names: files of sites that are gone, and what work that was ended left behind."""

from __future__ import annotations

import fcntl
import time
from collections.abc import Iterator
from pathlib import Path

from django.conf import settings

from glaucon.apps.releases.models import ReleaseFile
from glaucon.apps.sites.backdrops import folder_of
from glaucon.apps.sites.blobs import PACKED
from glaucon.apps.sites.layouts import folder_name
from glaucon.apps.sites.models import Job, Site, SiteFile, SitePicture
from glaucon.apps.sites.surveys import VARIANT, survey_name
from glaucon.apps.work import queue
from glaucon.apps.work.calls import files_of
from glaucon.apps.work.models import Work
from glaucon.core.survey.survey import ENGINE

MOST_VARIANTS = 60
TRIED_SECONDS = 86_400
BACKUP_LOCK = "backup.lock"
SECONDS = 600  # what is younger may belong to work that is under way


def tidy(seconds: float = SECONDS) -> int:
    """Remove what nothing has named for some time; return how many files that were."""
    queue.sweep()
    if is_backing_up():
        return 0  # what it names stays until it is copied
    removed = 0
    before = time.time() - seconds
    for path in _unnamed():
        try:
            if path.stat().st_mtime <= before:
                path.unlink(missing_ok=True)
                removed += 1
        except FileNotFoundError:
            continue
    return removed


def is_backing_up() -> bool:
    """Return whether a backup of the data is being made."""
    with (Path(settings.DATA_DIR) / BACKUP_LOCK).open("ab") as file:
        try:
            fcntl.flock(file, fcntl.LOCK_SH | fcntl.LOCK_NB)
        except OSError:
            return True
        return False


def _variants(data: Path, sites: list[Site]) -> set[str]:
    """Return the names of the surveys with backdrops or own CSS that are kept: those looked at last."""
    starts = tuple(f"{survey_name(site)}{VARIANT}" for site in sites)
    kept = [path for path in (data / "surveys").glob(f"*{VARIANT}*") if path.name.startswith(starts)]
    return {path.name for path in sorted(kept, key=lambda one: one.stat().st_mtime)[-MOST_VARIANTS:]}


def _unnamed() -> Iterator[Path]:
    data = Path(settings.DATA_DIR)
    blobs = {blob for both in SiteFile.objects.values_list("blob", "stood") for blob in both}
    blobs |= set(SitePicture.objects.values_list("blob", flat=True))
    blobs |= set(ReleaseFile.objects.values_list("blob", flat=True))
    yield from (path for path in (data / "blobs").glob("*/*") if path.name.removesuffix(PACKED) not in blobs)
    sites = list(Site.objects.all())
    surveys = {f"{name}-{ENGINE}.pickle.gz" for site in sites for name in (site.content, survey_name(site))}
    yield from (path for path in (data / "surveys").glob("*") if path.name not in surveys | _variants(data, sites))
    behind = {folder_of(site).name for site in sites}
    # what was only tried out; what is kept is made again when it is asked for
    old = time.time() - TRIED_SECONDS
    yield from (
        path for path in (data / "backdrops").glob("*/*")
        if path.parent.name not in behind or path.stat().st_mtime < old
    )  # fmt: skip
    yield from (path for path in (data / "handed").glob("*") if path.stat().st_mtime < old)
    folders = {folder_name(site) for site in sites}
    for what in ("layouts", "stood"):
        yield from (path for path in (data / what).glob("*/*") if path.parent.name not in folders)
    yield from data.glob("made/*/.new-*")
    open_jobs = Job.objects.filter(state__in=(Job.State.WAITING, Job.State.RUNNING))
    sent = {path for paths in open_jobs.values_list("source", "fetched") for path in paths}
    for work in Work.objects.filter(state__in=(Work.State.WAITING, Work.State.RUNNING)):
        sent.update(map(str, files_of(work)))
    yield from (path for path in (data / "uploads").glob("*") if str(path) not in sent)
