"""Does the work that waits, beside the server: one such process for one set of data."""

from __future__ import annotations

import signal
import threading

from django.core.management.base import BaseCommand, CommandError

from glaucon.apps.bringing.jobs import recover
from glaucon.apps.bringing.sweeping import sweep
from glaucon.apps.bringing.tidying import tidy
from glaucon.apps.releases.services import put_due_live
from glaucon.apps.work.sole import AlreadyRunning, sole_worker
from glaucon.apps.work.worker import run

_TIDY_SECONDS = 600.0
_DUE_SECONDS = 10.0
_SWEEP_SECONDS = 3600.0


class Command(BaseCommand):
    """Recover work that a killed worker left open, then work through the queue until told to end."""

    help = __doc__

    def handle(self, *args: object, **options: object) -> None:
        ended = threading.Event()
        for each in (signal.SIGTERM, signal.SIGINT):
            signal.signal(each, lambda number, frame: ended.set())
        try:
            with sole_worker():
                recover()
                tidy(seconds=0)
                run([(_TIDY_SECONDS, tidy), (_DUE_SECONDS, put_due_live), (_SWEEP_SECONDS, sweep)], ended)
        except AlreadyRunning as error:
            raise CommandError(str(error)) from error
