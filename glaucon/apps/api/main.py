"""The HTTP API: all routers, and the one place where errors become answers."""

from __future__ import annotations

import logging

from django.http import Http404, HttpRequest, HttpResponse
from ninja import NinjaAPI, Schema
from ninja.errors import AuthenticationError, HttpError, ValidationError
from ninja.security import django_auth

from glaucon.apps.api import (
    accounts,
    acts,
    backdrops,
    closeup,
    colours,
    hand_back,
    layout,
    own_css,
    palette,
    projects,
    releases,
    searches,
    sections,
    seeing,
    sites,
    studies,
    study,
)
from glaucon.apps.errors import Refused, answer_to, body_of
from glaucon.apps.work.router import router as work_router
from glaucon.core.errors import GlauconError
from glaucon.core.validation import told_of

_log = logging.getLogger(__name__)
api = NinjaAPI(title="Glaucon", version="1", auth=django_auth, docs_url=None, openapi_url=None, urls_namespace="api")
for each in (
    accounts, sites, study, acts, searches, palette, studies, colours, sections, backdrops, closeup, own_css, layout,
    seeing, releases, hand_back, projects,
):  # fmt: skip
    api.add_router("", each.router)
api.add_router("", work_router)


class ErrorBody(Schema):
    """Every error's body: a code for machines, one sentence for people."""

    code: str
    message: str
    details: dict[str, object] = {}


def _answer(request: HttpRequest, status: int, code: str, message: str, **details: object) -> HttpResponse:
    return api.create_response(request, body_of(code, message, details), status=status)


@api.exception_handler(Refused)
@api.exception_handler(GlauconError)
@api.exception_handler(Http404)
@api.exception_handler(Exception)
def _known(request: HttpRequest, error: Exception) -> HttpResponse:
    known = answer_to(error)
    if known is None:
        _log.error("an answer broke", exc_info=error)
        known = 500, body_of("error", "Something went wrong on our side. Nothing was changed. Try again.", {})
    return api.create_response(request, known[1], status=known[0])


@api.exception_handler(AuthenticationError)
def _signed_out(request: HttpRequest, error: AuthenticationError) -> HttpResponse:
    return _answer(request, 401, "signed-out", "You are signed out. Sign in and do it again.")


@api.exception_handler(ValidationError)
def _invalid(request: HttpRequest, error: ValidationError) -> HttpResponse:
    first = error.errors[0] if error.errors else {"loc": [], "msg": "it is not understood"}
    place = [part for part in first["loc"][2:] if part is not None]
    return _answer(request, 422, "invalid", f"What was sent cannot be used: {told_of(first, place)}.")


@api.exception_handler(HttpError)
def _http_error(request: HttpRequest, error: HttpError) -> HttpResponse:
    said = {
        403: "This did not come from a page of Glaucon's own that is up to date. Load the page again and retry."
    }.get(error.status_code, "What was sent is not understood. Load the page again and retry.")
    return _answer(request, error.status_code, "http", said)
