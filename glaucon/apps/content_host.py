"""Strangers' files on a host of their own, which serves nothing else and knows no cookie of the application's."""

from __future__ import annotations

from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect

Answer = Callable[[HttpRequest], HttpResponse]
_THEIRS = ("/live/", "/preview/")


def content_root() -> str:
    """Return what addresses of strangers' files begin with: "//host", or "" where they share the application's."""
    return f"//{settings.GLAUCON_CONTENT_HOST}" if settings.GLAUCON_CONTENT_HOST else ""


def framed_by() -> str:
    """Return who may frame a stranger's page, as the policy of contents says it."""
    return " ".join(settings.GLAUCON_ORIGINS) if settings.GLAUCON_CONTENT_HOST else "'self'"


def strangers_apart(answer: Answer) -> Answer:
    """Return a middleware that keeps the two hosts apart."""

    def apart(request: HttpRequest) -> HttpResponse:
        content = settings.GLAUCON_CONTENT_HOST
        if not content:
            return answer(request)
        is_theirs = request.path.startswith(_THEIRS)
        if request.get_host() != content:
            if request.path.startswith("/live/") and request.method in ("GET", "HEAD"):
                return HttpResponseRedirect(f"//{content}{request.get_full_path()}")
            return _nothing() if is_theirs else answer(request)
        if not is_theirs:
            is_page = settings.GLAUCON_DEMO and request.method == "GET"
            return HttpResponseRedirect(f"{settings.GLAUCON_ORIGINS[0]}/") if is_page else _nothing()
        request.COOKIES = {}
        response = answer(request)
        response.cookies.clear()
        return response

    return apart


def _nothing() -> HttpResponse:
    return HttpResponse("There is nothing at this address.", status=404, content_type="text/plain; charset=utf-8")
