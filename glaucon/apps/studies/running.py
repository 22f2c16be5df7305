"""Pages framed with their own scripts: to see once what those make of them, and to look at a study alive.

The frame has an origin of nobody's, no network but the site's own files, and nothing of the application's. Its address
is signed, belongs to one session, and is good for minutes.
"""

from __future__ import annotations

import hashlib
import io
import zipfile
from pathlib import Path

from django.conf import settings
from django.core import signing
from django.http import Http404, HttpRequest, HttpResponse

from glaucon.apps.accounts.passes import is_let_in, word_of_asker
from glaucon.apps.content_host import content_root, framed_by
from glaucon.apps.sites.backdrops import backdrops_for
from glaucon.apps.sites.blobs import get_blob, write_whole
from glaucon.apps.sites.models import Site, SiteFile
from glaucon.apps.sites.surveys import files_of, known_of
from glaucon.apps.studies.models import Revision
from glaucon.apps.studies.previews import content_type, wanted_path
from glaucon.core.cascade.text import decode_source
from glaucon.core.exchange.preview import Root, running_page, with_root
from glaucon.core.exchange.recolour import recolour_site
from glaucon.core.snapshot.document import standing_script
from glaucon.core.survey.site import is_page
from glaucon.core.survey.survey import ENGINE

_SALT = "glaucon.running"
_SECONDS = 1800
_SCRIPT = (
    (Path(__file__).parent / "running.js").read_text("utf-8").replace("/* stood */ null", f"({standing_script()})")
)  # fmt: skip


def running_root(site: Site, dressed: str = "") -> str:
    """Return the address that a site's pages run under: as they came, or as `dressed` made them."""
    signature = signing.dumps([site.pk, word_of_asker(), dressed], salt=_SALT, compress=False)
    return f"{content_root()}/preview/with-scripts/{signature}/"


def dressed(site: Site, revision: Revision) -> str:
    """Make the files that a release of a revision would change, and return what they are kept as."""
    says = (site.pk, site.content, ENGINE, "alive", revision.document)
    name = hashlib.sha256(repr(says).encode()).hexdigest()[:32]
    if not _kept(name).exists():
        study, survey = revision.read(), known_of(site).survey
        made = recolour_site(files_of(site), survey, study, backdrops=backdrops_for(site, study, survey.regions))
        packed = io.BytesIO()
        with zipfile.ZipFile(packed, "w") as archive:
            for path, data in made.files.items():
                archive.writestr(path, data)
        write_whole(_kept(name), packed.getvalue())
    return name


def _kept(name: str) -> Path:
    return Path(settings.DATA_DIR) / "handed" / f"{name}.alive"


def _dressed_file(name: str, path: str) -> bytes | None:
    """Return a file as a study has it; None where it is as it came. Raises: Http404: what was made is gone."""
    try:
        with zipfile.ZipFile(_kept(name)) as archive:
            return archive.read(path) if path in archive.namelist() else None
    except (OSError, zipfile.BadZipFile) as error:
        raise Http404 from error


def show_running(request: HttpRequest, signature: str, path: str) -> HttpResponse:
    """Answer with one file of a site as it came, a page with what tells how it stands."""
    try:
        number, word, worn = signing.loads(signature, salt=_SALT, max_age=_SECONDS)
    except (signing.BadSignature, ValueError, TypeError) as error:
        raise Http404 from error
    site = Site.objects.filter(pk=number).first()
    if site is None or not is_let_in(word, site.owner_id):
        raise Http404
    wanted = wanted_path(path)
    data = _dressed_file(worn, wanted) if worn else None
    if data is None:
        file = SiteFile.objects.filter(site=site, path=wanted).first()
        if file is None:
            raise Http404
        data = get_blob(file.blob)
    response = _answer(data, wanted, Root("", site.origin, wanted))
    here = f"{request.scheme}://{request.get_host()}/preview/with-scripts/{signature}/"
    return _kept_in(response, here)


def _answer(data: bytes, path: str, root: Root) -> HttpResponse:
    if is_page(path):
        page = running_page(decode_source(data), root, f"<script>{_SCRIPT}</script>")
        return HttpResponse(page.encode("utf-8", "replace"), content_type="text/html; charset=utf-8")
    if path.lower().endswith(".css"):
        text = with_root(decode_source(data).text, root)
        return HttpResponse(text.encode("utf-8", "replace"), content_type="text/css; charset=utf-8")
    return HttpResponse(data, content_type=content_type(path))


def _kept_in(response: HttpResponse, here: str) -> HttpResponse:
    """Return an answer that may ask for nothing but what lies under `here`, and get at nothing else."""
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
