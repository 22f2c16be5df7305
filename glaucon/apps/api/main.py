"""The HTTP API: all routers, and the one place where errors become answers."""

from __future__ import annotations

import logging

from django.http import Http404, HttpRequest, HttpResponse
from ninja import NinjaAPI, Schema
from ninja.errors import AuthenticationError, HttpError, ValidationError
from ninja.security import django_auth

from glaucon.apps.api.accounts import router as accounts_router
from glaucon.apps.api.backdrop_help import router as backdrop_help_router
from glaucon.apps.api.backdrops import router as backdrops_router
from glaucon.apps.api.closeup import router as closeup_router
from glaucon.apps.api.craft import router as craft_router
from glaucon.apps.api.hand_back import router as hand_back_router
from glaucon.apps.api.layout import router as layout_router
from glaucon.apps.api.own_css import router as own_css_router
from glaucon.apps.api.palette import router as palette_router
from glaucon.apps.api.releases import router as releases_router
from glaucon.apps.api.sections import router as sections_router
from glaucon.apps.api.sites import router as sites_router
from glaucon.apps.api.studies import router as several_studies_router
from glaucon.apps.api.study import router as studies_router
from glaucon.apps.errors import Refused, answer_to, body_of
from glaucon.apps.work.router import router as work_router
from glaucon.core.errors import GlauconError

_log = logging.getLogger(__name__)
api = NinjaAPI(title="Glaucon", version="1", auth=django_auth, docs_url=None, openapi_url=None, urls_namespace="api")
api.add_router("", accounts_router)
api.add_router("", sites_router)
api.add_router("", studies_router)
api.add_router("", palette_router)
api.add_router("", several_studies_router)
api.add_router("", craft_router)
api.add_router("", sections_router)
api.add_router("", backdrops_router)
api.add_router("", backdrop_help_router)
api.add_router("", closeup_router)
api.add_router("", own_css_router)
api.add_router("", layout_router)
api.add_router("", releases_router)
api.add_router("", hand_back_router)
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
    place = ".".join(str(part) for part in first["loc"][1:]) or "the request"
    return _answer(request, 422, "invalid", f"What was sent cannot be used: {place}: {first['msg']}.")


@api.exception_handler(HttpError)
def _http_error(request: HttpRequest, error: HttpError) -> HttpResponse:
    said = {
        403: "This did not come from a page of Glaucon's own that is up to date. Load the page again and retry.",
    }.get(error.status_code, "What was sent is not understood. Load the page again and retry.")
    return _answer(request, error.status_code, "http", said)
