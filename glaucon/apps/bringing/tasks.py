"""Bringing in, done in a process of its own."""

from django.conf import settings
from django.db import transaction

from glaucon.apps.accounts.rates import refuse_too_often
from glaucon.apps.bringing.jobs import fetch_job, name_of_call, open_job, run_job
from glaucon.apps.bringing.sources import is_address
from glaucon.apps.sites.models import Job, Site
from glaucon.apps.work import queue


def start_job(owner: object, name: str, source: str, again: Site | None, most_pages: int) -> Job:
    """Create a job and queue its work in the same transaction, so that no job is left without work.

    Raises: Refused: 409 while another of the owner's is under way; 429 after too many within the hour.
    """
    refuse_too_often(owner, "bring-ins")
    if not settings.GLAUCON_PROCESSES:
        job = open_job(owner, name, source, again, most_pages)
        run_job(job.pk)
        return job
    with transaction.atomic():
        job = open_job(owner, name, source, again, most_pages)
        if is_address(source):
            queue.add(owner, name_of_call(fetch_job), {"number": job.pk}, is_outside=True)
        else:
            queue.add(owner, name_of_call(run_job), {"number": job.pk}, is_long=True)
    return job
