"""Watching over work: each piece in a process of its own, ended when it is cancelled or passes its limits."""

from __future__ import annotations

import contextlib
import json
import multiprocessing
import os
import signal
import time
from multiprocessing.context import ForkServerContext
from multiprocessing.context import ForkServerProcess as Process
from threading import Lock

from django.utils.module_loading import import_string

from glaucon.apps.work import queue
from glaucon.apps.work.calls import files_of
from glaucon.apps.work.child import main
from glaucon.apps.work.limits import LONG, OUTSIDE, SHORT, Limits, cpu_seconds_of
from glaucon.apps.work.models import Work

_LOOKED_SECONDS = 0.05
_lock, _ready = Lock(), Lock()
_context: ForkServerContext | None = None
_watched: set[int] = set()  # the numbers of what is watched here
_missed: set[int] = set()  # of what was seen running and is not watched here


def mind() -> None:
    """Close what runs in name only, as its watching broke off or its process' end was never heard of.

    Only whoever watches can tell, so this is called in the process that does.
    """
    for work in Work.objects.filter(state=Work.State.RUNNING):
        # one that was taken up a moment ago may be on its way to be watched
        if work.pk not in _watched and work.pk in _missed:
            _see_off(work, _BROKEN)
    _missed.clear()
    _missed.update(Work.objects.filter(state=Work.State.RUNNING).exclude(pk__in=_watched).values_list("pk", flat=True))


def watch(work: Work) -> None:
    """Have a piece of work done, and see to its end."""
    _watched.add(work.pk)
    try:
        _watch(work)
    finally:
        _watched.discard(work.pk)


def _watch(work: Work) -> None:
    limits = OUTSIDE if work.is_outside else LONG if work.is_long else SHORT
    process = _forking().Process(target=main, args=(work.pk, limits), daemon=True)
    try:
        process.start()
    except (EOFError, OSError):  # what it is forked from was ended; the next one finds a new one
        _see_off(work, _BROKEN)
        return
    why: str | None = _BROKEN
    try:
        why = _outcome(process, work, limits)
    finally:
        # whatever became of the watching: nothing runs on, and nobody waits for ever behind it
        process.kill()
        process.join()
        process.close()
        _see_off(work, why)


def _see_off(work: Work, why: str | None) -> None:
    """Close work that was ended, tell its call, and remove what was laid down for it."""
    call = import_string(work.call)
    if why and queue.close(work, 500 if why == _BROKEN else 413, _body(why)):
        if (ended := getattr(call, "ended", None)) is not None:
            ended(why, **work.given)
    elif why is None and (cancelled := getattr(call, "cancelled", None)) is not None:
        cancelled(**work.given)
    for left in files_of(work):
        left.unlink(missing_ok=True)


_BROKEN = "Something went wrong on our side. Nothing was changed. Try again."


def _outcome(process: Process, work: Work, limits: Limits) -> str | None:
    """Wait for a process, or end it. Return "" if it finished, None if it was cancelled, else the reason."""
    started = time.monotonic()
    allowance = getattr(import_string(work.call), "allowance", None)
    allowed = 0.0 if allowance is not None else float(limits.cpu_seconds)
    while True:
        process.join(_LOOKED_SECONDS)
        if process.exitcode is not None:
            return _why(process.exitcode, limits)
        work.refresh_from_db(fields=["state"])
        if not work.is_open:
            return "" if work.state == Work.State.DONE else None
        if allowance is not None:
            # it grows as more of the work is known
            allowed = max(allowed, allowance(**work.given))
        if (cpu_seconds_of(process.pid or 0) or 0.0) > allowed:
            return f"This takes too long: Glaucon works {allowed:.0f} seconds on something of its size at most."
        if time.monotonic() - started > limits.wall_seconds:
            return f"This was not done within {limits.wall_seconds} seconds, the longest that Glaucon tries."


def _why(exit_code: int, limits: Limits) -> str:
    if exit_code == 0:
        return ""
    if exit_code == -signal.SIGKILL:
        return "This was ended by the system: most likely it takes more memory than there is."
    if exit_code < 0:
        return f"This takes more than the {limits.cpu_seconds} seconds that Glaucon works on one thing."
    return _BROKEN


def _body(why: str) -> str:
    return json.dumps({"code": "limit", "message": why, "details": {}})


def get_ready() -> None:
    """Start what processes are forked from, so that the first piece of work need not wait for it."""
    # told to end while it starts, there is nothing more to get ready
    with _ready, contextlib.suppress(EOFError, OSError):
        process = _forking().Process(target=os.getpid, daemon=True)
        process.start()
        process.join()


def _forking() -> ForkServerContext:
    """Return where processes are forked from: one that has imported all they need and holds nothing else."""
    global _context
    with _lock:
        if _context is None:
            os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
            _context = multiprocessing.get_context("forkserver")
            _context.set_forkserver_preload(["glaucon.apps.work.preload"])
    return _context
