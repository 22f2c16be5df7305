"""Pages framed with their own scripts, to see once what those make of them.

The frame has an origin of nobody's, no network but the site's own files, and nothing of the application's. Its address
is signed, belongs to one session, and is good for minutes.
"""

from __future__ import annotations

from pathlib import Path

from django.core import signing
from django.http import Http404, HttpRequest, HttpResponse

from glaucon.apps.accounts.passes import is_let_in, word_of_asker
from glaucon.apps.content_host import content_root, framed_by
from glaucon.apps.sites.blobs import get_blob
from glaucon.apps.sites.models import Site, SiteFile
from glaucon.apps.studies.previews import content_type, wanted_path
from glaucon.core.cascade.text import decode_source
from glaucon.core.exchange.preview import Root, running_page, with_root
from glaucon.core.snapshot.document import standing_script
from glaucon.core.survey.site import is_page

_SALT = "glaucon.running"
_SECONDS = 1800
_SCRIPT = (
    (Path(__file__).parent / "running.js").read_text("utf-8").replace("/* stood */ null", f"({standing_script()})")
)  # fmt: skip


def running_root(site: Site) -> str:
    """Return the address that a site's pages run under."""
    signature = signing.dumps([site.pk, word_of_asker()], salt=_SALT, compress=False)
    return f"{content_root()}/preview/with-scripts/{signature}/"


def show_running(request: HttpRequest, signature: str, path: str) -> HttpResponse:
    """Answer with one file of a site as it came, a page with what tells how it stands."""
    try:
        number, word = signing.loads(signature, salt=_SALT, max_age=_SECONDS)
    except (signing.BadSignature, ValueError, TypeError) as error:
        raise Http404 from error
    file = SiteFile.objects.select_related("site").filter(site_id=number, path=wanted_path(path)).first()
    if file is None or not is_let_in(word, file.site.owner_id):
        raise Http404
    data = get_blob(file.blob)
    root = Root("", file.site.origin, file.path)
    if is_page(file.path):
        page = running_page(decode_source(data), root, f"<script>{_SCRIPT}</script>")
        response = HttpResponse(page.encode("utf-8", "replace"), content_type="text/html; charset=utf-8")
    elif file.path.lower().endswith(".css"):
        text = with_root(decode_source(data).text, root)
        response = HttpResponse(text.encode("utf-8", "replace"), content_type="text/css; charset=utf-8")
    else:
        response = HttpResponse(data, content_type=content_type(file.path))
    here = f"{request.scheme}://{request.get_host()}/preview/with-scripts/{signature}/"
    response["Content-Security-Policy"] = (
        f"sandbox allow-scripts; default-src 'none'; script-src {here} 'unsafe-inline' 'unsafe-eval' blob: data:; "
        f"style-src {here} 'unsafe-inline' blob:; img-src {here} data: blob:; font-src {here} data:; "
        f"connect-src {here} data: blob:; media-src 'none'; frame-src 'none'; worker-src 'none'; object-src 'none'; "
        f"form-action 'none'; base-uri {here}; frame-ancestors {framed_by()}"
    )
    response["Access-Control-Allow-Origin"] = "*"  # modules and data are asked for from the frame's opaque origin
    response["X-Content-Type-Options"] = "nosniff"
    response["Referrer-Policy"] = "no-referrer"
    response["Cache-Control"] = "private, max-age=600"
    return response
