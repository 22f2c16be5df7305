"""Long work, done by huey's worker beside the server."""

from huey.contrib.djhuey import db_task

from glaucon.apps.bringing.jobs import run_job


@db_task()
def bring_in_site(number: int) -> None:
    """Do the job of that number."""
    run_job(number)
