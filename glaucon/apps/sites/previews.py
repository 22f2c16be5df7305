"""Previews: pages of a site as the bench frames them, at signed, expiring addresses.

What was brought in is hostile until shown otherwise. A preview is sandboxed to an origin of its own, its policy
lets nothing in but the site's own pictures, fonts and styles, and the only script that runs is our bridge, known
by a nonce. The signature stands in the path, since a relative address drops a query.
"""

from __future__ import annotations

import hashlib
import mimetypes
import posixpath
import secrets
from pathlib import Path

from django.conf import settings
from django.core import signing
from django.http import Http404, HttpRequest, HttpResponse

from glaucon.apps.sites.blobs import get_blob
from glaucon.apps.sites.models import Site, SiteFile
from glaucon.apps.sites.surveys import known_of
from glaucon.apps.studies.services import study_of
from glaucon.core.cascade.text import decode_source
from glaucon.core.exchange.preview import Root, preview_page, preview_stylesheet
from glaucon.core.study.study import Study
from glaucon.core.survey.site import is_page

_SALT = "glaucon.preview"
_BRIDGE = (Path(__file__).parent / "bridge.js").read_text("utf-8")
_FALLBACK_TYPE = "application/octet-stream"


def preview_root(site: Site, study: Study, within: float | None = None, number: int | None = None) -> str:
    """Return the address that a site's previews live under, good for some hours.

    It names the mapping, so that no cache shows one that is gone. With `within` the pages carry the palette that
    would be proposed (see `propose`), not the study's; `number` is that of a study other than the open one.
    """
    names = [site.pk, mapping_name(site, study), within, number]
    return f"/preview/{signing.dumps(names, salt=_SALT, compress=False)}/"


def mapping_name(site: Site, study: Study) -> str:
    """Return a short name of a site's files and which of their tokens come under which role."""
    content = repr((site.content, sorted(study.mapping.items())))
    return hashlib.sha256(content.encode()).hexdigest()[:16]


def show_preview(request: HttpRequest, signature: str, path: str) -> HttpResponse:
    """Answer with one file of a site as the bench shows it."""
    try:
        number, _, within, of = signing.loads(signature, salt=_SALT, max_age=settings.PREVIEW_SECONDS)
    except (signing.BadSignature, ValueError, TypeError) as error:
        raise Http404 from error
    file = SiteFile.objects.select_related("site").filter(site_id=number, path=wanted_path(path)).first()
    if file is None:
        raise Http404
    nonce = secrets.token_urlsafe(16)
    body, kind = _body(file, Root(f"/preview/{signature}/", file.site.origin), nonce, within, of)
    response = HttpResponse(body, content_type=kind)
    here = f"{request.scheme}://{request.get_host()}/preview/{signature}/"
    response["Content-Security-Policy"] = (
        f"sandbox allow-scripts; default-src 'none'; script-src 'nonce-{nonce}'; style-src {here} 'unsafe-inline'; "
        f"img-src {here} data:; font-src {here} data:; media-src 'none'; frame-src 'none'; object-src 'none'; "
        f"form-action 'none'; base-uri {here}; frame-ancestors 'self'"
    )
    response["Access-Control-Allow-Origin"] = "*"  # fonts are asked for from the frame's opaque origin
    response["X-Content-Type-Options"] = "nosniff"
    response["Referrer-Policy"] = "no-referrer"
    response["Cache-Control"] = "no-store" if is_page(file.path) else "private, max-age=600"
    return response


def wanted_path(path: str) -> str:
    """Return the path of the file an address asks for; a folder's is its index page."""
    path = posixpath.normpath(path) if path else "index.html"
    return path if "." in posixpath.basename(path) else posixpath.join(path.rstrip("/"), "index.html")


def content_type(path: str) -> str:
    """Return the type a file is served as, with the encoding of texts left to what they say themselves."""
    if is_page(path):
        return "text/html"
    kind, _ = mimetypes.guess_type(path)
    return kind or _FALLBACK_TYPE


def _body(file: SiteFile, root: Root, nonce: str, within: float | None, of: int | None) -> tuple[bytes, str]:
    data = get_blob(file.blob)
    is_style = file.path.lower().endswith(".css")
    if not is_style and not is_page(file.path):
        return data, content_type(file.path)
    study_row = study_of(file.site) if of is None else file.site.studies.select_related("current").get(pk=of)
    revision = study_row.current
    assert revision is not None
    study, tokens = revision.read(), known_of(file.site).survey.tokens
    if within is not None:
        study = known_of(file.site).proposed(study, within)
    source = decode_source(data)
    if is_style:
        text = preview_stylesheet(file.path, source, tokens, study, root)
        return text.encode("utf-8", "replace"), "text/css; charset=utf-8"
    bridge = f'<script nonce="{nonce}">{_BRIDGE}</script>'
    text = preview_page(file.path, source, tokens, study, root, bridge)
    return text.encode("utf-8", "replace"), "text/html; charset=utf-8"
