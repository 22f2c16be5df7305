"""Views whose work is done in a process of its own.

Asked, such a view puts its call into the queue and answers as soon as there is an answer, or after a moment with 202
and the number to ask for at /api/work/NUMBER.
"""

from __future__ import annotations

import functools
import inspect
import json
import time
import uuid
from collections.abc import Callable
from contextvars import ContextVar
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.files.uploadedfile import UploadedFile
from django.http import HttpRequest, HttpResponse
from django.utils.module_loading import import_string
from pydantic import BaseModel

from glaucon.apps.work import queue
from glaucon.apps.work.models import Work

_WAITED_SECONDS = 0.4
_LOOKED_SECONDS, _LONGER, _MOST_SECONDS = 0.02, 1.5, 0.12  # between looks, each time a little longer

View = Callable[..., Any]


def heavy(view: View) -> View:
    """Make a view's work be done in a process of its own, within limits."""
    return _elsewhere(view, lambda request, **given: True, lambda request, **given: False)


def outside(view: View) -> View:
    """Make a view that asks other hosts be done in a process of its own, beside what takes the processor."""
    return _elsewhere(view, lambda request, **given: True, lambda request, **given: False, is_outside=True)


def here_unless(is_heavy: Callable[..., bool], is_long: Callable[..., bool]) -> Callable[[View], View]:
    """Make a view answer here as far as that takes milliseconds, and be work of its own otherwise.

    `is_heavy` and `is_long` are asked with the view's own arguments. What turns out to be heavy only on the way says
    so by `TooHeavy`, before it has written anything.
    """
    return lambda view: _elsewhere(view, is_heavy, is_long)


class TooHeavy(Exception):
    """What a view does is more than a web thread may do; it is to be made work."""


_is_web_thread: ContextVar[bool] = ContextVar("_is_web_thread", default=False)


def not_in_a_web_thread() -> None:
    """Raise TooHeavy where a view that can be work of its own is answered in a web thread."""
    if _is_web_thread.get():
        raise TooHeavy


def _elsewhere(
    view: View, is_heavy: Callable[..., bool], is_long: Callable[..., bool], is_outside: bool = False
) -> View:  # fmt: skip
    name = f"{view.__module__}.{view.__qualname__}"

    @functools.wraps(view)
    def asked(request: HttpRequest, *args: Any, **given: Any) -> Any:
        if not settings.GLAUCON_PROCESSES:
            return view(request, *args, **given)
        must_be_long = is_long(request, *args, **given)
        if not must_be_long and not is_heavy(request, *args, **given):
            token = _is_web_thread.set(True)
            try:
                return view(request, *args, **given)
            except TooHeavy:
                must_be_long = True
            finally:
                _is_web_thread.reset(token)
        return answer_of(queue.add(request.user, name, _packed(given), must_be_long, is_outside))

    asked.__signature__ = inspect.signature(view, eval_str=True)  # type: ignore[attr-defined]
    asked.view = view  # type: ignore[attr-defined]
    return asked


def long_work(owner: object, call: str, given: dict[str, Any]) -> HttpResponse:
    """Have a function, named by its path, called in a process of its own that may take its time."""
    if not settings.GLAUCON_PROCESSES:
        import_string(call)(**given)
        return HttpResponse(status=204)
    return answer_of(queue.add(owner, call, given, is_long=True))


def answer_of(work: Work) -> HttpResponse:
    """Return a work's answer, or after a moment how it stands."""
    until, looked = time.monotonic() + _WAITED_SECONDS, _LOOKED_SECONDS
    while work.is_open and time.monotonic() < until:
        time.sleep(looked)
        looked = min(_MOST_SECONDS, _LONGER * looked)
        work.refresh_from_db(fields=["state"])
    if work.is_open:
        ahead = queue.ahead_of(work) if work.state == Work.State.WAITING else 0
        return _json(202, json.dumps({"work": work.pk, "state": work.state, "ahead": ahead}))
    work.refresh_from_db()
    if work.state == Work.State.CANCELLED:
        said = "This was stopped before it was done. Nothing was changed."
        return _json(409, json.dumps({"code": "stopped", "message": said, "details": {}}))
    return _json(work.status, work.body)


def _json(status: int, body: str) -> HttpResponse:
    return HttpResponse(body, status=status, content_type="application/json; charset=utf-8")


def _packed(given: dict[str, Any]) -> dict[str, Any]:
    """Return arguments as JSON; a file that was sent is laid down and named by its path."""
    packed: dict[str, Any] = {}
    for name, value in given.items():
        if isinstance(value, UploadedFile):
            folder = Path(settings.DATA_DIR) / "uploads"
            folder.mkdir(parents=True, exist_ok=True)
            path = folder / f"{uuid.uuid4().hex}.sent"
            with path.open("wb") as file:
                for chunk in value.chunks():
                    file.write(chunk)
            packed[name] = {"file": str(path), "name": (value.name or "")[:120]}
        else:
            packed[name] = value.model_dump(mode="json") if isinstance(value, BaseModel) else value
    return packed
