"""Bringing a site in, step by step. The site is there whole at the end, or not at all."""

from __future__ import annotations

import hashlib
import time
import uuid
from collections.abc import Callable, Iterable
from pathlib import Path

from django.conf import settings
from django.db import transaction

from glaucon.apps.errors import Refused
from glaucon.apps.sites.blobs import put_blob
from glaucon.apps.sites.models import Job, Site, SiteFile
from glaucon.apps.sites.surveys import make_survey
from glaucon.apps.studies.services import start_study
from glaucon.core.cascade.markup import read_markup
from glaucon.core.cascade.text import decode_source
from glaucon.core.errors import SiteError
from glaucon.core.palette.proposal import propose
from glaucon.core.survey.model import Survey
from glaucon.core.survey.site import MAX_ARCHIVE_BYTES, SiteFiles, read_archive, read_site

_TELL_EVERY_SECONDS = 0.2
_SAMPLE = "sample:"

SAMPLES = {
    "otterlock": ("Otterlock Boats", "A canal-boat hire yard: nine pages, two stylesheets, honest trouble."),
}


class Cancelled(Exception):
    """The owner has cancelled the job."""


def keep_upload(chunks: Iterable[bytes]) -> Path:
    """Write an uploaded archive to disk and return where; larger ones than allowed are refused."""
    folder = Path(settings.DATA_DIR) / "uploads"
    folder.mkdir(parents=True, exist_ok=True)
    path = folder / f"{uuid.uuid4().hex}.zip"
    size = 0
    try:
        with path.open("wb") as file:
            for chunk in chunks:
                size += len(chunk)
                if size > MAX_ARCHIVE_BYTES:
                    raise Refused(413, "too-large", "The archive is larger than 60 MB; leave out films and downloads.")
                file.write(chunk)
    except BaseException:
        path.unlink(missing_ok=True)
        raise
    return path


def refuse_while_busy(owner: object) -> None:
    """Refuse where a site of an owner is being brought in already.

    Raises: Refused: 409.
    """
    if Job.objects.filter(owner=owner, state__in=(Job.State.WAITING, Job.State.RUNNING)).exists():
        raise Refused(409, "busy", "Another site of yours is being brought in; wait for it or cancel it first.")


def open_job(owner: object, name: str, source: str) -> Job:
    """Open a job for an owner; one at a time.

    Raises: Refused: 409 while another of theirs is under way.
    """
    with transaction.atomic():
        refuse_while_busy(owner)
        return Job.objects.create(owner=owner, name=name.strip()[:80] or "A site", source=source)


def sample_source(name: str) -> tuple[str, str]:
    """Return (the site's name, the job source) of a sample.

    Raises: Refused: 404 where there is no such sample.
    """
    if name not in SAMPLES:
        raise Refused(404, "no-sample", f"There is no sample called “{name}”; choose one of {', '.join(SAMPLES)}.")
    return SAMPLES[name][0], f"{_SAMPLE}{name}"


def run_job(number: int) -> None:
    """Do a job to its end, whatever the end is."""
    if not Job.objects.filter(pk=number, state=Job.State.WAITING).update(state=Job.State.RUNNING):
        return  # cancelled before it began
    job = Job.objects.get(pk=number)
    try:
        site = bring_in(job)
    except Cancelled:
        _close(job, Job.State.CANCELLED, "Cancelled; nothing was kept.")
    except SiteError as error:
        _close(job, Job.State.REFUSED, str(error))
    except Exception:
        _close(job, Job.State.REFUSED, "Something went wrong here while reading the site; nothing was kept. Try again.")
        raise
    else:
        _close(job, Job.State.DONE, "", site=site)
    finally:
        if not job.source.startswith(_SAMPLE):
            Path(job.source).unlink(missing_ok=True)


def _close(job: Job, state: str, message: str, site: Site | None = None) -> None:
    Job.objects.filter(pk=job.pk).update(state=state, message=message[:400], site=site)


def bring_in(job: Job) -> Site:
    """Read, survey and keep the site of a job.

    Raises: SiteError: it is refused. Cancelled: the owner has cancelled.
    """
    tell = _teller(job)
    files = _read(job, tell)
    content = content_hash(files)
    survey = make_survey(content, files, tell)
    tell("proposing a palette", 0, 1)
    study = propose(survey).study(survey, "First study")
    blobs = {}
    for done, (path, data) in enumerate(sorted(files.files.items())):
        tell("keeping files", done, len(files.files))
        blobs[path] = put_blob(data)
    tell("finishing", 1, 1)
    with transaction.atomic():
        _check(job)
        site = Site.objects.create(
            owner=job.owner,
            name=job.name,
            slug=Site.objects.free_slug(job.name),
            content=content,
            notes=_notes(survey),
            titles={page: page_title(files.files[page]) for page in files.pages},
        )
        SiteFile.objects.bulk_create(
            [SiteFile(site=site, path=path, blob=blob, size=len(files.files[path])) for path, blob in blobs.items()],
            batch_size=200,
        )
        start_study(site, study)
    return site


def _read(job: Job, tell: Callable[[str, int, int], None]) -> SiteFiles:
    if job.source.startswith(_SAMPLE):
        return read_site(settings.SAMPLES_DIR / job.source.removeprefix(_SAMPLE))
    with Path(job.source).open("rb") as handle:
        return read_archive(handle, tell)


def _check(job: Job) -> None:
    if Job.objects.filter(pk=job.pk, state=Job.State.CANCELLED).exists():
        raise Cancelled


def _teller(job: Job) -> Callable[[str, int, int], None]:
    """Return a progress function that writes now and then and stops a cancelled job."""
    last = ["", 0.0]

    def tell(what: str, done: int, total: int) -> None:
        now = time.monotonic()
        if what == last[0] and done < total and now - float(last[1]) < _TELL_EVERY_SECONDS:
            return
        last[0], last[1] = what, now
        open_still = Job.objects.filter(pk=job.pk, state=Job.State.RUNNING)
        if not open_still.update(doing=what, done=done, total=total):
            raise Cancelled

    return tell


def cancel_job(job: Job) -> None:
    """Cancel a job that has yet to end; its worker stops at its next step and keeps nothing."""
    Job.objects.filter(pk=job.pk, state__in=(Job.State.WAITING, Job.State.RUNNING)).update(
        state=Job.State.CANCELLED, message="Cancelled; nothing was kept."
    )


def content_hash(files: SiteFiles) -> str:
    """Return one hash over all paths and contents."""
    total = hashlib.sha256()
    for path, data in sorted(files.files.items()):
        total.update(hashlib.sha256(path.encode()).digest())
        total.update(hashlib.sha256(data).digest())
    return total.hexdigest()


def _notes(survey: Survey) -> list[str]:
    broken = [
        f"{p.file}, line {p.line}: this part of the stylesheet does not parse and browsers drop it."
        for p in survey.problems
    ]
    return [*dict.fromkeys([*survey.notes, *broken])][:60]


def page_title(data: bytes) -> str:
    """Return a page's title, or an empty text."""
    markup = read_markup(decode_source(data).text)
    title = next((t for t in markup.tags if t.name == "title" and t.content), None)
    if title is None or title.content is None:
        return ""
    return " ".join(markup.source[slice(*title.content)].split())[:120]


def remove_site(site: Site) -> None:
    """Remove a site with its studies and releases."""
    with transaction.atomic():
        # in this order, since live and current things protect what they stand on
        site.releases.all().delete()
        site.studies.update(current=None)
        for study in site.studies.all():
            for revision in study.revisions.order_by("-number"):
                revision.delete()
        site.delete()


def recover() -> None:
    """Put right what a killed process left: open jobs are over, no release is under way, nothing half stays."""
    Job.objects.filter(state__in=(Job.State.WAITING, Job.State.RUNNING)).update(
        state=Job.State.CUT_OFF,
        message="Glaucon was stopped while this site came in; nothing was kept. Bring it again.",
    )
    Site.objects.filter(is_releasing=True).update(is_releasing=False)
    for left in (Path(settings.DATA_DIR) / "uploads").glob("*.zip"):
        left.unlink(missing_ok=True)
