"""Whether Glaucon is up, and whether it is fit to be asked; nothing else is said."""

from __future__ import annotations

import shutil
from collections.abc import Callable
from datetime import timedelta

from django.conf import settings
from django.db import DatabaseError
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from glaucon.apps.work.models import Work

Answer = Callable[[HttpRequest], HttpResponse]
_LONGEST_WAIT = timedelta(minutes=5)


def tells_health(answer: Answer) -> Answer:
    """Return a middleware that answers /health and /ready under any name: who asks may know none of ours."""

    def told(request: HttpRequest) -> HttpResponse:
        if request.path == "/health":
            return _said(200, "up")
        if request.path == "/ready":
            return _said(200, "ready") if is_ready() else _said(503, "not ready")
        return answer(request)

    return told


def is_ready() -> bool:
    """Return whether the database answers, the disk has room, and no work has waited for long."""
    try:
        first = Work.objects.filter(state=Work.State.WAITING).order_by("pk").first()
        has_room = shutil.disk_usage(settings.DATA_DIR).free > settings.GLAUCON_LEAST_FREE_MB * 1_000_000
    except (DatabaseError, OSError):
        return False
    return has_room and (first is None or timezone.now() - first.asked < _LONGEST_WAIT)


def _said(status: int, word: str) -> HttpResponse:
    response = HttpResponse(f"{word}\n", status=status, content_type="text/plain")
    response["Cache-Control"] = "no-store"
    return response
