"""Every address: the API, previews, live sites, and the one page of the front end."""

from __future__ import annotations

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.urls import path, re_path
from django.views.decorators.clickjacking import xframe_options_deny

from glaucon.apps.api.main import api
from glaucon.apps.releases.live import show_live
from glaucon.apps.studies.previews import show_preview

_POLICY = (
    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self' data:; "
    "frame-src 'self'; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
)


@xframe_options_deny
def front_end(request: HttpRequest) -> HttpResponse:
    """Answer with the front end's page; its own router does the rest."""
    page = settings.BASE_DIR / "web" / "dist" / "index.html"
    if not page.exists():
        return HttpResponse("The front end is not built; run bin/setup.", status=503, content_type="text/plain")
    response = HttpResponse(page.read_bytes(), content_type="text/html; charset=utf-8")
    response["Content-Security-Policy"] = _POLICY
    response["Cache-Control"] = "no-cache"
    return response


urlpatterns = [
    path("api/", api.urls),
    path("preview/<str:signature>/<path:path>", show_preview),
    path("live/<slug:slug>/", show_live),
    path("live/<slug:slug>/<path:path>", show_live),
    re_path(r"^(?!static/|api/|preview/|live/).*$", front_end),
]
