"""Jobs that bring sites in: opened, run, cancelled, put right after a crash; and sites removed."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

from django.db import transaction
from django.db.models import Q

from glaucon.apps.bringing.as_it_stands import ready_for_the_bench
from glaucon.apps.bringing.bring_in import bring_in
from glaucon.apps.bringing.fetching_in import by_address, lay_down
from glaucon.apps.bringing.project_in import bring_project_in, is_project_job
from glaucon.apps.bringing.sources import is_upload
from glaucon.apps.errors import Refused, answer_to
from glaucon.apps.sites.models import Job, Site
from glaucon.apps.sites.room import refuse_another_site
from glaucon.apps.work import queue
from glaucon.apps.work.models import Work
from glaucon.core.errors import SiteError

_TELL_EVERY_SECONDS = 0.2


class Cancelled(Exception):
    """The owner has cancelled the job."""


def refuse_while_busy(owner: object) -> None:
    """Refuse where a site of an owner is being brought in already.

    Raises: Refused: 409.
    """
    if Job.objects.filter(owner=owner, state__in=(Job.State.WAITING, Job.State.RUNNING)).exists():
        raise Refused(409, "busy", "Another site of yours is still being read. Wait for it, or cancel it.")


def open_job(owner: object, name: str, source: str, again: Site | None = None, most_pages: int = 200) -> Job:
    """Open a job for an owner; one at a time.

    Raises: Refused: 409 while another of theirs is under way, or where they have as many sites as they may.
    """
    with transaction.atomic():
        refuse_while_busy(owner)
        if again is None:
            refuse_another_site(owner)
        title = name.strip()[:80] or "A site"
        return Job.objects.create(owner=owner, name=title, source=source, again=again, most_pages=most_pages)


def name_of_call(call: Callable[..., object]) -> str:
    """Return the path of a function, as work names it."""
    return f"{call.__module__}.{call.__qualname__}"


def fetch_job(number: int) -> None:
    """Fetch what a job's address gives, then leave the job to be read."""
    if not Job.objects.filter(pk=number, state=Job.State.WAITING).update(state=Job.State.RUNNING):
        return  # cancelled before it began
    job = Job.objects.get(pk=number)
    with _ends(job):
        job.fetched = str(lay_down(by_address(job.source, job.most_pages, _teller(job))))
        with transaction.atomic():
            _check(job)
            Job.objects.filter(pk=number).update(fetched=job.fetched)
            queue.add(job.owner, name_of_call(run_job), {"number": number}, is_long=True)
        return
    _drop_upload(number)


def run_job(number: int) -> None:
    """Do a job to its end, whatever the end is."""
    is_next = Q(state=Job.State.WAITING) | (Q(state=Job.State.RUNNING) & ~Q(fetched=""))
    if not Job.objects.filter(is_next, pk=number).update(state=Job.State.RUNNING):
        return  # cancelled before it began
    job = Job.objects.select_related("again").get(pk=number)
    try:
        with _ends(job):
            way = bring_project_in if is_project_job(job) else bring_in
            site = way(job, _teller(job), lambda: _check(job))
            ready_for_the_bench(site)
            _close(job, Job.State.DONE, "", site=site)
    finally:
        _drop_upload(number)


@contextmanager
def _ends(job: Job) -> Iterator[None]:
    """Close a job that is cancelled, refused or broken on the way."""
    left = "The site is as it was" if job.again_id else "Nothing was kept"
    try:
        yield
    except Cancelled:
        _close(job, Job.State.CANCELLED, f"Cancelled. {left}.")
    except (SiteError, Refused) as error:
        _close(job, Job.State.REFUSED, str(error))
    except Exception as error:
        known = answer_to(error)
        if known is not None:
            _close(job, Job.State.REFUSED, str(known[1]["message"]))
            return
        _close(job, Job.State.REFUSED, f"Something went wrong on our side while reading the site. {left}. Try again.")
        raise


def _ended(why: str, number: int) -> None:
    """Close a job whose process was ended."""
    job = Job.objects.get(pk=number)
    left = "The site is as it was" if job.again_id else "Nothing was kept"
    at = f" It stopped while {job.doing}." if job.doing else ""
    if job.is_open:
        _close(job, Job.State.REFUSED, f"{why}{at} {left}. Leave out what is unusual there, or bring in fewer pages.")
    _drop_upload(number)


def _drop_upload(number: int) -> None:
    job = Job.objects.get(pk=number)
    for left in (job.source if is_upload(job.source) else "", job.fetched):
        if left:
            Path(left).unlink(missing_ok=True)


# processor time that a site may take: 30 s for one page, and for each further one what a page of a framework's
# templates with a megabyte of styles takes on a slow machine
_SECONDS_ANYWAY, _SECONDS_A_PAGE = 27, 3.0


def _allowance(number: int) -> float:
    """Return the seconds of processor time that a job may take, as far as its pages are known."""
    job = Job.objects.get(pk=number)
    return _SECONDS_ANYWAY + _SECONDS_A_PAGE * (job.total if job.doing.endswith("pages") else 0)


# what whoever watches the process of a job needs (see `work.watching`)
run_job.ended = fetch_job.ended = _ended  # type: ignore[attr-defined]
run_job.cancelled = fetch_job.cancelled = _drop_upload  # type: ignore[attr-defined]
run_job.allowance = _allowance  # type: ignore[attr-defined]


_CALLS = (name_of_call(run_job), name_of_call(fetch_job))


def _close(job: Job, state: str, message: str, site: Site | None = None) -> None:
    Job.objects.filter(pk=job.pk).update(state=state, message=message[:400], site=site)


def _check(job: Job) -> None:
    if Job.objects.filter(pk=job.pk, state=Job.State.CANCELLED).exists():
        raise Cancelled


def _teller(job: Job) -> Callable[[str, int, int], None]:
    """Return a progress function that writes now and then and stops a cancelled job."""
    last: tuple[str, float] = ("", 0.0)

    def tell(what: str, done: int, total: int) -> None:
        nonlocal last
        now = time.monotonic()
        if what == last[0] and now - last[1] < _TELL_EVERY_SECONDS:
            return
        last = what, now
        open_still = Job.objects.filter(pk=job.pk, state=Job.State.RUNNING)
        if not open_still.update(doing=what, done=done, total=total):
            raise Cancelled

    return tell


def cancel_job(job: Job) -> None:
    """Cancel a job that has yet to end; its worker stops at its next step and keeps nothing."""
    left = "The site is as it was" if job.again_id else "Nothing was kept"
    Job.objects.filter(pk=job.pk, state__in=(Job.State.WAITING, Job.State.RUNNING)).update(
        state=Job.State.CANCELLED, message=f"Cancelled. {left}."
    )
    for work in Work.objects.filter(owner=job.owner_id, call__in=_CALLS, given__number=job.pk):
        queue.cancel(work)


def recover() -> None:
    """Put right what a killed process left: open jobs are over, no release is under way, nothing half stays."""
    open_jobs = Job.objects.filter(state__in=(Job.State.WAITING, Job.State.RUNNING))
    open_jobs.filter(again__isnull=False).update(
        state=Job.State.CUT_OFF,
        message="Glaucon was stopped while it updated this site. The site is as it was. Update it again.",
    )
    open_jobs.update(
        state=Job.State.CUT_OFF,
        message="Glaucon was stopped while it read this site. Nothing was kept. Bring it in again.",
    )
    Site.objects.filter(is_releasing=True).update(is_releasing=False)
    queue.recover()
