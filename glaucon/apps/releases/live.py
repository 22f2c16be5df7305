"""The stand-in for a web host: what is released, at /live/<site>/.

Anyone may look. The policy gives a released site an origin of its own, so that its scripts cannot act as its
owner on Glaucon's.
"""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.utils import timezone

from glaucon.apps.releases.models import Release, ReleaseFile
from glaucon.apps.releases.services import put_due_live
from glaucon.apps.sites.blobs import get_blob
from glaucon.apps.sites.models import Site
from glaucon.apps.studies.previews import content_type, wanted_path
from glaucon.core.cascade.text import decode_source
from glaucon.core.exchange.preview import Root, served_page, with_root
from glaucon.core.survey.site import is_page

_POLICY = "sandbox allow-scripts allow-forms allow-popups allow-popups-to-escape-sandbox"


def show_live(request: HttpRequest, slug: str, path: str = "") -> HttpResponse:
    """Answer with one file of a site's live release."""
    if path and not path.endswith("/") and "." not in path.rsplit("/", 1)[-1]:
        return HttpResponseRedirect(f"{request.path}/")
    _put_due_live(slug)
    live = Release.objects.select_related("site").filter(site__slug=slug, site__deleted=None, is_live=True).first()
    if live is None:
        return _plain(404, "No site is live at this address.")
    file = ReleaseFile.objects.filter(release=live, path=wanted_path(path)).first()
    if file is None:
        return _plain(404, "There is no such page on this site.")
    response = HttpResponse(_body(file, Root(f"/live/{slug}/", live.site.origin)), content_type=content_type(file.path))
    _guard(response)
    is_palette = live.stylesheet and file.path == live.stylesheet
    # the palette is named by its content: a new one has a new name, so no cache can show an old one
    response["Cache-Control"] = "public, max-age=31536000, immutable" if is_palette else "no-cache"
    return response


def _put_due_live(slug: str) -> None:
    """Put live what waited for a time that has come, whether a worker has looked since or not."""
    if Release.objects.filter(site__slug=slug, live_since=None, due__lte=timezone.now()).exists():
        put_due_live(Site.objects.get(slug=slug))


def _body(file: ReleaseFile, root: Root) -> bytes:
    data = get_blob(file.blob)
    if is_page(file.path):
        source = decode_source(data)
        return source.encode(served_page(source, root))
    if file.path.lower().endswith(".css"):
        source = decode_source(data)
        return source.encode(with_root(source.text, root))
    return data


def _guard(response: HttpResponse) -> None:
    response["Content-Security-Policy"] = _POLICY
    response["X-Content-Type-Options"] = "nosniff"
    response["Access-Control-Allow-Origin"] = "*"


def _plain(status: int, sentence: str) -> HttpResponse:
    response = HttpResponse(sentence, status=status, content_type="text/plain; charset=utf-8")
    _guard(response)
    return response
