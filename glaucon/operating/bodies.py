"""Bodies of requests that are refused before they are read: nobody who is not signed in sends more than a form.

The server buffers what is sent before a thread takes it up; so whoever asks is looked up once the headers are there.
"""

from __future__ import annotations

from http.cookies import CookieError, SimpleCookie
from typing import Any

from django.conf import settings
from django.contrib.sessions.models import Session
from django.db import DatabaseError
from django.utils import timezone
from waitress.channel import HTTPChannel
from waitress.parser import HTTPRequestParser
from waitress.utilities import Error, RequestEntityTooLarge

MOST_UNKNOWN = 100_000  # bytes, of somebody who is not signed in


class _SignedOut(Error):  # type: ignore[misc]
    code = 401
    reason = "Unauthorized"


class _Less:
    """The server's settings with less room for a body."""

    max_request_body_size = MOST_UNKNOWN

    def __init__(self, whole: Any) -> None:
        self._whole = whole

    def __getattr__(self, name: str) -> Any:
        return getattr(self._whole, name)


class OwnersParser(HTTPRequestParser):  # type: ignore[misc]
    """Reads requests as they come in; a large body only of somebody who is signed in."""

    adj: Any
    error: Any

    def parse_header(self, header_plus: bytes) -> None:
        super().parse_header(header_plus)
        is_large = self.chunked or self.content_length >= MOST_UNKNOWN
        if is_large and not is_signed_in(self.headers.get("COOKIE", "")):
            self.adj = _Less(self.adj)

    def received(self, data: bytes) -> int:
        consumed: int = super().received(data)
        if isinstance(self.adj, _Less) and isinstance(self.error, RequestEntityTooLarge):
            self.error = _SignedOut("Sign in before you send files. Nothing was kept.")
        return consumed


def use_in_server() -> None:
    """Have the server of this process read requests so."""
    HTTPChannel.parser_class = OwnersParser


def is_signed_in(cookies: str) -> bool:
    """Return whether the cookies of a request are of somebody's session."""
    try:
        found = SimpleCookie(cookies).get(settings.SESSION_COOKIE_NAME)
        if found is None:
            return False
        session = Session.objects.filter(session_key=found.value, expire_date__gt=timezone.now()).first()
        return session is not None and "_auth_user_id" in session.get_decoded()
    except (CookieError, DatabaseError):
        return False
