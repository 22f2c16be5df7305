"""The task that does whatever waits; huey's consumer runs it, beside the server."""

from huey import crontab
from huey.contrib.djhuey import db_periodic_task, db_task, on_startup

from glaucon.apps.work.watching import do_all, get_ready, mind


@on_startup()
def _ready() -> None:
    get_ready()


@db_periodic_task(crontab())
def _mind() -> None:
    mind()


@db_task()
def do_waiting_work() -> None:
    """Do work until none may start."""
    do_all()
