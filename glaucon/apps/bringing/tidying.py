"""Removing what nothing names: files of sites that are gone, and what work that was ended left behind."""

from __future__ import annotations

import time
from collections.abc import Iterator
from pathlib import Path

from django.conf import settings

from glaucon.apps.releases.models import ReleaseFile
from glaucon.apps.sites.layouts import folder_name
from glaucon.apps.sites.models import Job, Site, SiteFile
from glaucon.apps.sites.surveys import survey_name
from glaucon.apps.work import queue
from glaucon.apps.work.calls import files_of
from glaucon.apps.work.models import Work
from glaucon.core.survey.survey import ENGINE

SECONDS = 600  # what is younger may belong to work that is under way


def tidy(seconds: float = SECONDS) -> int:
    """Remove what nothing has named for some time; return how many files that were."""
    queue.sweep()
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


def _unnamed() -> Iterator[Path]:
    data = Path(settings.DATA_DIR)
    blobs = set(SiteFile.objects.values_list("blob", flat=True))
    blobs |= set(ReleaseFile.objects.values_list("blob", flat=True))
    yield from (path for path in (data / "blobs").glob("*/*") if path.name not in blobs)
    sites = list(Site.objects.all())
    surveys = {f"{name}-{ENGINE}.pickle.gz" for site in sites for name in (site.content, survey_name(site))}
    yield from (path for path in (data / "surveys").glob("*") if path.name not in surveys)
    folders = {folder_name(site) for site in sites}
    yield from (path for path in (data / "layouts").glob("*/*") if path.parent.name not in folders)
    yield from data.glob("made/*/.new-*")
    open_jobs = Job.objects.filter(state__in=(Job.State.WAITING, Job.State.RUNNING))
    sent = set(open_jobs.values_list("source", flat=True))
    for work in Work.objects.filter(state__in=(Work.State.WAITING, Work.State.RUNNING)):
        sent.update(map(str, files_of(work)))
    yield from (path for path in (data / "uploads").glob("*") if str(path) not in sent)
