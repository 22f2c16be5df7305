"""The worker: looks for work that waits and has each piece watched over in a thread; does what is due now and then."""

from __future__ import annotations

import logging
import threading
import time
from collections.abc import Callable, Sequence

from django.db import DatabaseError, connections

from glaucon.apps.work import queue
from glaucon.apps.work.models import Work
from glaucon.apps.work.watching import get_ready, mind, watch

Timer = tuple[float, Callable[[], object]]  # every so many seconds
_log = logging.getLogger(__name__)
_LOOKED_SECONDS = 0.04
_MIND_SECONDS = 60.0


def run(timers: Sequence[Timer] = (), until: threading.Event | None = None) -> None:
    """Do what waits until told to end; one piece after the other is taken up as there is room for it."""
    threading.Thread(target=get_ready, daemon=True).start()
    ended = until or threading.Event()
    due = [[time.monotonic() + every, every, do] for every, do in (*timers, (_MIND_SECONDS, mind))]
    while not ended.wait(_LOOKED_SECONDS):
        try:
            _take_up()
            _do_due(due)
        except DatabaseError:
            _log.exception("the worker could not read its queue")
            time.sleep(1)


def _take_up() -> None:
    # cheap to ask: taking the write lock twenty times a second would not be
    while Work.objects.filter(state=Work.State.WAITING).exists() and (work := queue.take_next()) is not None:
        threading.Thread(target=_watched, args=(work,), daemon=True).start()


def _watched(work: Work) -> None:
    try:
        watch(work)
    except Exception:
        # its owner may be gone meanwhile; others still wait
        _log.exception("watching over “%s” broke", work.call)
    finally:
        connections.close_all()


def _do_due(due: list[list[object]]) -> None:
    now = time.monotonic()
    for one in due:
        at, every, do = one
        if now >= at:  # type: ignore[operator]
            one[0] = now + every  # type: ignore[operator]
            try:
                do()  # type: ignore[operator]
            except Exception:
                _log.exception("what is done every %s seconds broke", every)
