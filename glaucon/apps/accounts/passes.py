"""The word in the address of a preview: it belongs to one session, and ends with it.

A frame of a site has no cookie to say who asks. So each session has a word of its own; whoever signs out, or is signed
out elsewhere, leaves addresses behind that lead nowhere.
"""

from __future__ import annotations

import secrets
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar

from django.contrib.sessions.backends.base import SessionBase
from django.contrib.sessions.models import Session
from django.db import IntegrityError
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from glaucon.apps.accounts.models import PreviewPass

_KEY = "previews"
_asking: ContextVar[SessionBase | str | None] = ContextVar("_asking", default=None)


def remembers_who_asks(answer: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """Return a middleware that keeps whose session addresses are made for."""

    def asked(request: HttpRequest) -> HttpResponse:
        with asking(request.session):
            return answer(request)

    return asked


@contextmanager
def asking(session: SessionBase | str | None) -> Iterator[None]:
    """Make addresses for a session, or with a word that one has."""
    token = _asking.set(session)
    try:
        yield
    finally:
        _asking.reset(token)


def word_of_asker() -> str:
    """Return the word of the session that asks, made now if it has none; "" where nobody asks."""
    session = _asking.get()
    if session is None or isinstance(session, str):
        return session or ""
    word = session.get(_KEY)
    if word is None:
        if session.session_key is None:
            return ""
        word = session[_KEY] = secrets.token_urlsafe(15)
    _note(word, str(session.session_key), session.get("_auth_user_id"))
    return str(word)


def _note(word: str, session_key: str, owner: str | None) -> None:
    if owner is None or PreviewPass.objects.filter(word=word, session_key=session_key).exists():
        return
    # a session gets another key when its password changes; its word stays
    try:
        PreviewPass.objects.update_or_create(word=word, defaults={"session_key": session_key, "owner_id": int(owner)})
    except IntegrityError:  # the same session asks twice at once, or its account has just ended
        return


def is_let_in(word: str, owner: int) -> bool:
    """Return whether a word is of a session of that owner's which has not ended."""
    keys = PreviewPass.objects.filter(word=word, owner_id=owner).values("session_key")
    return Session.objects.filter(session_key__in=keys, expire_date__gt=timezone.now()).exists()


def sweep_passes() -> None:
    """Remove the words of sessions that are gone."""
    PreviewPass.objects.exclude(session_key__in=Session.objects.values("session_key")).delete()
