"""Starts all of Glaucon together, and ends it together: python -m glaucon.operating.start

Web, work and timers are children of this process. One that ends by itself ends all, so that whoever watches over this
process starts everything anew.
"""

from __future__ import annotations

import fcntl
import os
import signal
import subprocess
import sys
import time
from pathlib import Path
from types import FrameType
from typing import IO

from glaucon.operating.surroundings import problems

_REFUSED = 2
_END_SECONDS = 20.0


def main() -> int:
    """Start, or say in one sentence each what stands in the way; the exit status is 2 then."""
    os.environ["DJANGO_SETTINGS_MODULE"] = "glaucon.settings.production"
    data = Path(os.environ.get("GLAUCON_DATA") or "var").resolve()
    os.environ["GLAUCON_DATA"] = str(data)
    if found := list(problems(os.environ, data)):
        return _refuse(*found)
    lock = locked(data)
    if lock is None:
        return _refuse(f"Glaucon is running on {data} already: end it, or set GLAUCON_DATA to another folder.")
    with lock:
        return _prepared_and_run()


def _refuse(*sentences: str) -> int:
    for one in sentences:
        print(f"glaucon: {one}", file=sys.stderr)
    return _REFUSED


def locked(data: Path) -> IO[bytes] | None:
    """Return the open lock file of some data, held; None where another process holds it."""
    file = (data / "serving.lock").open("ab")
    try:
        fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        file.close()
        return None
    return file


def _prepared_and_run() -> int:
    import django
    from django.core.management import call_command
    from django.core.management.base import SystemCheckError

    django.setup()
    if newer := newer_migrations():
        return _refuse(
            f"This data was last used by a newer Glaucon (it has {newer[0]}): install that version or a later one, or "
            "restore a backup made before."
        )
    try:
        call_command("check", deploy=True, fail_level="WARNING", verbosity=0)
    except SystemCheckError as error:
        return _refuse(str(error))
    call_command("migrate", verbosity=0, interactive=False)
    call_command("createcachetable", verbosity=0)
    call_command("collectstatic", verbosity=0, interactive=False, clear=True)
    return _run()


def newer_migrations() -> list[str]:
    """Return the migrations that the data has been through and this version does not know."""
    from django.db import connection
    from django.db.migrations.loader import MigrationLoader

    loader = MigrationLoader(connection, ignore_no_migrations=True)
    known = set(loader.disk_migrations)
    ours = {label for label, _ in known}
    return sorted(
        f"{app}.{name}" for app, name in loader.applied_migrations if app in ours and (app, name) not in known
    )


def _run() -> int:
    from django.conf import settings
    from django.db import connections

    connections.close_all()
    commands = [
        [sys.executable, "-m", "glaucon.manage", "run_work"],
        [sys.executable, "-m", "glaucon.serve", settings.GLAUCON_ADDRESS, str(settings.GLAUCON_PORT)],
    ]
    children = [subprocess.Popen(command) for command in commands]
    told: list[int] = []

    def end(number: int, frame: FrameType | None) -> None:
        told.append(number)

    for each in (signal.SIGTERM, signal.SIGINT):
        signal.signal(each, end)
    print(f"Glaucon is at http://{settings.GLAUCON_ADDRESS}:{settings.GLAUCON_PORT}/", flush=True)
    while not told and all(child.poll() is None for child in children):
        time.sleep(0.2)
    _end(children)
    return 0 if told else 1


def _end(children: list[subprocess.Popen[bytes]]) -> None:
    for child in children:
        if child.poll() is None:
            child.terminate()
    until = time.monotonic() + _END_SECONDS
    for child in children:
        try:
            child.wait(max(0.1, until - time.monotonic()))
        except subprocess.TimeoutExpired:
            child.kill()


if __name__ == "__main__":
    raise SystemExit(main())
