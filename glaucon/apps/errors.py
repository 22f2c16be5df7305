"""Refusals of the application: a status, a code, one sentence for people and what machines may need."""

from __future__ import annotations

import errno
import re

from django.core.exceptions import BadRequest, ObjectDoesNotExist, SuspiciousOperation
from django.db import DatabaseError, OperationalError
from django.http import Http404, UnreadablePostError
from django.http.multipartparser import MultiPartParserError

from glaucon.core.errors import GlauconError

# what somebody typed is told back to them, but not the whole of a novel
_LONG_WORDS = re.compile(r"“([^”]{80})[^”]+”")


class Refused(Exception):
    """Something the application will not do, with the way out."""

    def __init__(self, status: int, code: str, sentence: str, **details: object) -> None:
        super().__init__(sentence)
        self.status = status
        self.code = code
        self.details = details


def answer_to(error: Exception) -> tuple[int, dict[str, object]] | None:
    """Return the status and body of the answer that an error is; None for one that is none of ours."""
    if isinstance(error, Refused):
        return error.status, body_of(error.code, str(error), error.details)
    if isinstance(error, GlauconError):
        return 422, body_of(error.code, str(error), {})
    if isinstance(error, Http404 | ObjectDoesNotExist):
        said = "There is nothing of that name among your sites. Go back to them."
        return 404, body_of("not-found", said, {})
    if isinstance(error, MultiPartParserError | BadRequest | SuspiciousOperation | UnreadablePostError):
        return 400, body_of("not-a-request", "What was sent is no whole request. Load the page again and retry.", {})
    if isinstance(error, OperationalError) and "locked" in str(error):
        said = "Glaucon is busy writing for others just now. Nothing was changed and nothing is lost. Try again."
        return 503, body_of("busy", said, {})
    if _is_full(error):
        said = (
            "There is no room left on Glaucon's disk, so nothing could be kept. Nothing was changed. Make room first."
        )
        return 507, body_of("disk-full", said, {})
    if _is_closed(error):
        said = "Glaucon's disk cannot be written to just now, so nothing was changed. Its operator has to see to it."
        return 507, body_of("disk-closed", said, {})
    return None


def _is_full(error: Exception) -> bool:
    if isinstance(error, OSError):
        return error.errno in (errno.ENOSPC, errno.EDQUOT)
    return isinstance(error, DatabaseError) and "disk is full" in str(error)


def _is_closed(error: Exception) -> bool:
    if isinstance(error, OSError):
        return error.errno == errno.EROFS
    return isinstance(error, DatabaseError) and "readonly" in str(error)


def body_of(code: str, message: str, details: dict[str, object]) -> dict[str, object]:
    """Return an error's body: a code for machines, one sentence for people."""
    return {"code": code, "message": _LONG_WORDS.sub(r"“\1…”", message), "details": details}
