"""Each request in the log as one line, without contents and tokens; a number that its other lines share."""

from __future__ import annotations

import logging
import re
import secrets
import time
from collections import deque
from collections.abc import Callable
from contextvars import ContextVar

from django.http import HttpRequest, HttpResponse

Answer = Callable[[HttpRequest], HttpResponse]
_log = logging.getLogger("glaucon.requests")
_request: ContextVar[tuple[str, int | None]] = ContextVar("_request", default=("", None))
_TOKENS = re.compile(r"^/(preview|account/confirm|account/reset)/[^/]+")
MOST_TRACEBACKS, _SECONDS = 30, 60.0


def told(answer: Answer) -> Answer:
    """Return a middleware that numbers each request and tells of it when it is answered."""

    def numbered(request: HttpRequest) -> HttpResponse:
        number = secrets.token_hex(6)
        token = _request.set((number, None))
        began = time.monotonic()
        try:
            response = answer(request)
            # asked of nobody who was not asked for already: a page that needs no account looks nothing up
            user = request.__dict__.get("_cached_user")
            _request.set((number, user.pk if user is not None else None))
            took = round(1000 * (time.monotonic() - began))
            _log.info("%s %s %s %s ms", request.method, without_tokens(request.path), response.status_code, took)
            response["X-Request-Id"] = number
            return response
        finally:
            _request.reset(token)

    return numbered


def without_tokens(path: str) -> str:
    """Return an address without what lets its reader in."""
    return _TOKENS.sub(r"/\1/…", path)


class WithRequest(logging.Filter):
    """Gives each line the number of its request and its owner."""

    def filter(self, record: logging.LogRecord) -> bool:
        record.request, record.owner = _request.get()
        return True


class BoundedTracebacks(logging.Filter):
    """Lets so many tracebacks a minute through; more are told in one line each."""

    def __init__(self) -> None:
        super().__init__()
        self._told: deque[float] = deque()

    def filter(self, record: logging.LogRecord) -> bool:
        if not record.exc_info:
            return True
        now = time.monotonic()
        while self._told and now - self._told[0] > _SECONDS:
            self._told.popleft()
        if len(self._told) >= MOST_TRACEBACKS:
            kind = record.exc_info[0] if isinstance(record.exc_info, tuple) else None
            record.msg, record.args = f"{record.getMessage()} ({kind.__name__ if kind else 'an error'})", ()
            record.exc_info = record.exc_text = None
        else:
            self._told.append(now)
        return True
