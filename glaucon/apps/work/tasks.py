"""The task that does whatever waits; huey's consumer runs it, beside the server."""

from huey.contrib.djhuey import db_task, on_startup

from glaucon.apps.work.watching import do_all, get_ready


@on_startup()
def _ready() -> None:
    get_ready()


@db_task()
def do_waiting_work() -> None:
    """Do work until none may start."""
    do_all()
