"""One worker for one set of data: whoever does its work holds a lock file, and touches it every second."""

from __future__ import annotations

import contextlib
import fcntl
import os
import threading
import time
from collections.abc import Iterator
from pathlib import Path

from django.conf import settings

_BEAT_SECONDS = 1.0


class AlreadyRunning(Exception):
    """Another process does the work of this data."""


@contextlib.contextmanager
def sole_worker() -> Iterator[None]:
    """Hold the data's lock file; it is let go of when the process ends, however it ends.

    Raises: AlreadyRunning: another process holds it.
    """
    path = Path(settings.DATA_DIR) / "worker.lock"
    with path.open("a+") as file:
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as error:
            ago = max(0, round(time.time() - path.stat().st_mtime))
            raise AlreadyRunning(
                f"Glaucon is running on this data already (seen {ago} s ago: {path}). End it, or set GLAUCON_DATA."
            ) from error
        ended = threading.Event()
        threading.Thread(target=_beat, args=(path, ended), daemon=True).start()
        try:
            yield
        finally:
            ended.set()


def _beat(path: Path, ended: threading.Event) -> None:
    while not ended.wait(_BEAT_SECONDS):
        os.utime(path)
