"""Bringing in, done in a process of its own."""

from django.conf import settings
from huey import crontab
from huey.contrib.djhuey import db_periodic_task, db_task

from glaucon.apps.bringing.jobs import run_job
from glaucon.apps.bringing.tidying import tidy
from glaucon.apps.sites.models import Job
from glaucon.apps.work import queue
from glaucon.apps.work.tasks import do_waiting_work


def bring_in_site(job: Job) -> None:
    """Have a job done."""
    if not settings.GLAUCON_PROCESSES:
        _do_here(job.pk)
        return
    queue.add(job.owner, f"{run_job.__module__}.{run_job.__qualname__}", {"number": job.pk}, is_long=True)
    do_waiting_work()


@db_periodic_task(crontab(minute="*/10"))
def _tidy() -> None:
    tidy()


@db_task()
def _do_here(number: int) -> None:
    run_job(number)
