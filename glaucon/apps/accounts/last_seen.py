"""When each session was last seen, noted every few minutes: a write for each request would have all wait for a lock."""

from __future__ import annotations

from collections.abc import Callable
from threading import Lock

from allauth.usersessions.internal.usersessionkit import track_activity
from cachetools import TTLCache
from django.http import HttpRequest, HttpResponse

_EVERY_SECONDS = 300
_noted: TTLCache[str, bool] = TTLCache(20_000, ttl=_EVERY_SECONDS)
_lock = Lock()


def notes_sessions(answer: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """Return a middleware that notes who is signed in where."""

    def noted(request: HttpRequest) -> HttpResponse:
        key = request.session.session_key
        with _lock:
            is_due = key is not None and key not in _noted
            if key is not None and is_due:
                _noted[key] = True
        if is_due:
            track_activity(request, user=request.user, session=request.session)
        return answer(request)

    return noted
