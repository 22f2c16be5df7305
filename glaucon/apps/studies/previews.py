"""Previews: pages of a site as the bench frames them, at signed, expiring addresses.

What was brought in is hostile until shown otherwise. A preview is sandboxed to an origin of its own, its policy
lets nothing in but the site's own pictures, fonts and styles, and the only script that runs is our bridge, known
by its hash. The signature stands in the path, since a relative address drops a query.

A frame of opaque origin shares no cache with the next, so every frame asks for every stylesheet again. What is served
is therefore made once for a site's content and mapping, kept compressed, and told apart by a validator.
"""

from __future__ import annotations

import base64
import contextlib
import gzip
import hashlib
import mimetypes
import posixpath
import shutil
from collections.abc import Iterable
from pathlib import Path
from threading import Lock

from django.conf import settings
from django.core import signing
from django.http import Http404, HttpRequest, HttpResponse, HttpResponseNotModified

from glaucon.apps.accounts.passes import is_let_in, word_of_asker
from glaucon.apps.content_host import content_root, framed_by
from glaucon.apps.errors import Refused
from glaucon.apps.sites.backdrops import file_of
from glaucon.apps.sites.blobs import get_blob, write_whole
from glaucon.apps.sites.effort import is_costly
from glaucon.apps.sites.models import Site, SiteFile
from glaucon.apps.sites.surveys import known_of
from glaucon.apps.studies.models import Revision
from glaucon.apps.work import queue
from glaucon.core.backdrops.pictures import FOLDER
from glaucon.core.cascade.text import decode_source
from glaucon.core.exchange.preview import PreviewMaker, Root
from glaucon.core.layout.document import measuring_script
from glaucon.core.study.study import Study
from glaucon.core.survey.site import is_page

_SALT = "glaucon.preview"
_HERE = Path(__file__).parent


def _expression(name: str) -> str:
    """Return a script that is an expression, without the line that says what it does."""
    return (_HERE / name).read_text("utf-8").partition("\n")[2].strip().rstrip(";")


_BRIDGE = (
    (_HERE / "bridge.js")
    .read_text("utf-8")
    .replace("/* measure */ null", measuring_script().strip().rstrip(";"))
    .replace("/* picture */ null", _expression("picture_spot.js"))
    .replace("/* opened */ null", _expression("opened.js"))
)
_BRIDGE_HASH = base64.b64encode(hashlib.sha256(_BRIDGE.encode()).digest()).decode()
_FALLBACK_TYPE = "application/octet-stream"
_MADE_BY = hashlib.sha256(f"previews 5 {_BRIDGE_HASH}".encode()).hexdigest()[:8]  # changes when what is made does
_MOST_MAPPINGS = 40  # kept for all sites together; older ones are made again when asked for
_locks: dict[Path, Lock] = {}
_locks_lock = Lock()


def preview_root(site: Site, revision: Revision, within: float | None = None) -> str:
    """Return the address that previews of a revision live under: for the session that asks, and for some hours.

    It names the mapping, so that no cache shows one that is gone, and the revision, which never changes: what is asked
    for late is what was meant. With `within` the pages carry the palette that would be proposed (see `propose`).
    """
    study = _document(site, revision, within)
    names = [site.pk, mapping_name(site, study), revision.pk, within, word_of_asker()]
    return f"{content_root()}/preview/{signing.dumps(names, salt=_SALT, compress=False)}/"


def _document(site: Site, revision: Revision, within: float | None) -> Study:
    study = revision.read()
    return study if within is None else known_of(site).proposed(study, within)


def mapping_name(site: Site, study: Study) -> str:
    """Return a short name of a site's files and which of their tokens come under which role."""
    kinds = sorted((role.id, role.is_text) for role in study.roles)
    content = repr((site.content, sorted(study.mapping.items()), kinds, _MADE_BY))
    return hashlib.sha256(content.encode()).hexdigest()[:16]


def show_preview(request: HttpRequest, signature: str, path: str) -> HttpResponse:
    """Answer with one file of a site as the bench shows it."""
    try:
        named = signing.loads(signature, salt=_SALT, max_age=settings.PREVIEW_SECONDS)
        number, mapping, revision, within, word = named
    except (signing.BadSignature, ValueError, TypeError) as error:
        raise Http404 from error
    site = Site.objects.filter(pk=number).first()
    if site is None or not is_let_in(word, site.owner_id):
        raise Http404
    file = SiteFile.objects.select_related("site").filter(site_id=number, path=wanted_path(path)).first()
    if file is None:
        return _show_backdrop(request, signature, number, path)
    etag = f'"{file.blob[:20]}-{mapping}"'
    if request.headers.get("If-None-Match") == etag:
        return _guarded(request, HttpResponseNotModified(), signature, etag)
    is_made = is_page(file.path) or file.path.lower().endswith(".css")
    if not is_made:
        return _guarded(
            request, HttpResponse(get_blob(file.blob), content_type=content_type(file.path)), signature, etag
        )
    if _as_work(file, mapping, revision, within):
        return _guarded(request, _being_made(), signature, etag)
    body = kept_preview(file, mapping, revision, within)
    kind = "text/html; charset=utf-8" if is_page(file.path) else "text/css; charset=utf-8"
    if "gzip" in request.headers.get("Accept-Encoding", ""):
        response = HttpResponse(body, content_type=kind)
        response["Content-Encoding"] = "gzip"
    else:
        response = HttpResponse(gzip.decompress(body), content_type=kind)
    return _guarded(request, response, signature, etag)


def _show_backdrop(request: HttpRequest, signature: str, number: int, path: str) -> HttpResponse:
    """Answer with a file that a backdrop names."""
    site = Site.objects.filter(pk=number).first() if path.startswith(FOLDER) else None
    data = file_of(site, path) if site is not None else None
    if data is None:
        raise Http404
    etag = f'"{hashlib.sha256(data).hexdigest()[:20]}"'
    return _guarded(request, HttpResponse(data, content_type=content_type(path)), signature, etag)


def _guarded(request: HttpRequest, response: HttpResponse, signature: str, etag: str) -> HttpResponse:
    here = f"{request.scheme}://{request.get_host()}/preview/{signature}/"
    response["Content-Security-Policy"] = (
        f"sandbox allow-scripts; default-src 'none'; script-src 'sha256-{_BRIDGE_HASH}'; "
        f"style-src {here} 'unsafe-inline'; img-src {here} data:; font-src {here} data:; media-src 'none'; "
        f"frame-src 'none'; object-src 'none'; form-action 'none'; base-uri {here}; frame-ancestors {framed_by()}"
    )
    response["Access-Control-Allow-Origin"] = "*"  # fonts are asked for from the frame's opaque origin
    response["X-Content-Type-Options"] = "nosniff"
    response["Referrer-Policy"] = "no-referrer"
    response["Cache-Control"] = "private, max-age=600"
    response["ETag"] = etag
    response["Vary"] = "Accept-Encoding"
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


# what is made, and kept


def _folder() -> Path:
    return Path(settings.DATA_DIR) / "previews"


def _lock_of(path: Path) -> Lock:
    with _locks_lock:
        if len(_locks) > 5000:
            _locks.clear()
        return _locks.setdefault(path, Lock())


def kept_preview(file: SiteFile, mapping: str, revision: int, within: float | None = None) -> bytes:
    """Return a page or stylesheet for the bench, gzipped: made now if it is not kept, once however many ask.

    Raises: Http404: the site's files are others by now, or the revision is gone.
    """
    path = _path_of(file, mapping)
    if not path.exists():
        with _lock_of(path):
            if not path.exists():
                row = Revision.objects.filter(pk=revision, study__site=file.site_id).first()
                study = _document(file.site, row, within) if row is not None else None
                if study is None or mapping_name(file.site, study) != mapping:
                    raise Http404
                write_whole(path, gzip.compress(_made(file, study), 5, mtime=0))
    return path.read_bytes()


def _path_of(file: SiteFile, mapping: str) -> Path:
    name = hashlib.sha256(file.path.encode()).hexdigest()[:20]
    return _folder() / "made" / mapping / f"{name}-{file.blob[:20]}.gz"


def _as_work(file: SiteFile, mapping: str, revision: int, within: float | None) -> bool:
    """Return whether a page is left to a process of work: that of a site which is costly to look at, not made yet."""
    if not settings.GLAUCON_PROCESSES or not is_page(file.path) or not is_costly(file.site):
        return False
    if _path_of(file, mapping).exists():
        return False
    given = {
        "site_number": file.site_id, "page": file.path, "mapping": mapping, "revision": revision, "within": within,
    }  # fmt: skip
    with contextlib.suppress(Refused):  # where much waits already it is asked for again
        queue.add_once(file.site.owner, f"{__name__}.{make_previews_of.__qualname__}", given)
    return True


def make_previews_of(site_number: int, page: str, mapping: str, revision: int, within: float | None) -> None:
    """Make the previews of one page and of all stylesheets of a site, by number: a piece of work."""
    site = Site.objects.filter(pk=site_number).first()
    if site is not None:
        with contextlib.suppress(Http404):  # the files or the revision are gone meanwhile
            _make(site, mapping, {page}, revision, within)


def _being_made() -> HttpResponse:
    """Return a page that asks again in a second."""
    response = HttpResponse("<!doctype html><title>Being made</title>", status=503)
    response["Refresh"] = "1"
    return response


def _made(file: SiteFile, study: Study) -> bytes:
    tokens = known_of(file.site).tokens_of_file(file.path)
    defaults = known_of(file.site).tokens_of_file("")
    maker = PreviewMaker(file.path, [*defaults, *tokens], study, Root("", file.site.origin, file.path))
    source = decode_source(get_blob(file.stood or file.blob))
    if is_page(file.path):
        return maker.page(source, f"<script>{_BRIDGE}</script>").encode("utf-8", "replace")
    return maker.stylesheet(source).encode("utf-8", "replace")


def make_previews(site: Site, revision: Revision, pages: Iterable[str] = ()) -> None:
    """Make what the bench will ask for first: all stylesheets, and some pages."""
    _make(site, mapping_name(site, revision.read()), set(pages), revision.pk)


def _make(site: Site, mapping: str, pages: set[str], revision: int, within: float | None = None) -> None:
    for file in site.files.select_related("site"):
        if file.path.lower().endswith(".css") or file.path in pages:
            kept_preview(file, mapping, revision, within)
    _drop_old()


def _drop_old() -> None:
    """Keep the previews of the mappings made last."""
    folder = _folder() / "made"
    made = sorted(folder.iterdir(), key=lambda one: one.stat().st_mtime, reverse=True) if folder.exists() else []
    for old in made[_MOST_MAPPINGS:]:
        shutil.rmtree(old, ignore_errors=True)
