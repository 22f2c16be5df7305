"""Every address: the API, previews, live sites, and the one page of the front end."""

from __future__ import annotations

import re

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.urls import include, path, re_path
from django.views.decorators.clickjacking import xframe_options_exempt

from glaucon.apps.api.main import api
from glaucon.apps.releases.live import show_live
from glaucon.apps.studies.previews import show_preview
from glaucon.apps.studies.running import show_running
from glaucon.operating.support import support

# what a screen of a site asks for first is on its way before its script is read
_AHEAD = '<link rel="preload" as="fetch" crossorigin="anonymous" href="/api/{what}" />'
_SITE = re.compile(r"/sites/([-\w]+)/")


def front_end(request: HttpRequest) -> HttpResponse:
    """Answer with the front end's page; its own router does the rest."""
    page = settings.BASE_DIR / "web" / "dist" / "index.html"
    if not page.exists():
        return HttpResponse("The front end is not built; run bin/setup.", status=503, content_type="text/plain")
    html = page.read_text(encoding="utf-8")
    if (site := _SITE.match(request.path)) and request.user.is_authenticated:
        asked = (f"sites/{site[1]}", f"sites/{site[1]}/study", "session")
        ahead = "".join(_AHEAD.format(what=what) for what in asked)
        html = html.replace("</title>", f"</title>{ahead}", 1)
    response = HttpResponse(html, content_type="text/html; charset=utf-8")
    response["Content-Security-Policy"] = _policy(request)
    response["Cache-Control"] = "no-cache"
    return response


def _policy(request: HttpRequest) -> str:
    """Return what the application's page may load: scripts of its own alone, strangers' files only to look at."""
    static = f"{request.scheme}://{request.get_host()}{settings.STATIC_URL}"
    theirs = settings.GLAUCON_CONTENT_HOST
    return (
        f"default-src 'self'; script-src {static}; worker-src 'none'; style-src 'self' 'unsafe-inline'; "
        f"img-src 'self' data: {theirs}; font-src 'self' data:; frame-src 'self' {theirs}; object-src 'none'; "
        "base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
    )


urlpatterns = [
    path("api/", api.urls),
    path("auth/", include("allauth.headless.urls")),
    path("admin/", support.urls),
    path("preview/with-scripts/<str:signature>/<path:path>", xframe_options_exempt(show_running)),
    path("preview/<str:signature>/<path:path>", xframe_options_exempt(show_preview)),
    path("live/<slug:slug>/", xframe_options_exempt(show_live)),
    path("live/<slug:slug>/<path:path>", xframe_options_exempt(show_live)),
    re_path(r"^(?!static/|api/|auth/|admin/|preview/|live/).*$", front_end),
]
