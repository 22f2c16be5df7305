"""Surveys of sites, kept by content: costly once, read from disk or memory after."""

from __future__ import annotations

import gzip
import hashlib
import pickle
import time
from collections.abc import Iterable
from pathlib import Path
from threading import Lock

from cachetools import LRUCache
from django.conf import settings

from glaucon.apps.errors import Refused
from glaucon.apps.sites.backdrops import backdrops_for
from glaucon.apps.sites.blobs import get_blob, write_whole
from glaucon.apps.sites.layouts import Wanted, digest_of, kept_layouts, read_kept
from glaucon.apps.sites.models import Site
from glaucon.apps.work.heavy import not_in_a_web_thread
from glaucon.core.exchange.backdrops import survey_with
from glaucon.core.known.site import KnownSite
from glaucon.core.layout.document import Layouts
from glaucon.core.study.own_css import NAME, applied_own, palette_for_own
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey, Survey
from glaucon.core.survey.origins import Tracer
from glaucon.core.survey.site import Progress, SiteFiles
from glaucon.core.survey.survey import ENGINE, Surveyor

_MOST_BYTES = 400_000_000  # of surveys in memory, pickled; what is read with them takes about as much again
VARIANT = "-with-"  # in the name of a survey with a study's own CSS and backdrops
_SECONDS_AT_LEAST, _SECONDS_A_PAGE = 27.0, 3.0
_EFFORT = "effort"
_BYTES = "bytes"  # of a survey as it is pickled
_known: LRUCache[str, KnownSite] = LRUCache(
    _MOST_BYTES, getsizeof=lambda known: min(known.remembered.get(_BYTES, 0), _MOST_BYTES)
)  # fmt: skip
_tracers: LRUCache[str, Tracer] = LRUCache(3)  # each holds all stylesheets of its site, parsed
_lock = Lock()


def _path(name: str) -> Path:
    return Path(settings.DATA_DIR) / "surveys" / f"{name}-{ENGINE}.pickle.gz"


def survey_name(site: Site) -> str:
    """Return the name that a site's survey is kept under."""
    return f"{site.content}-{site.pk}-{site.layout}" if site.layout else site.content


def make_survey(
    name: str, files: SiteFiles, progress: Progress = lambda what, done, total: None, layouts: Layouts | None = None
) -> Survey:
    """Return the survey of a site's files, made now if it is not kept under that name."""
    known = _read(name)
    if known is not None:
        return known.survey
    return _keep(name, Surveyor(files, layouts=layouts).survey(progress=progress))


def _read(name: str) -> KnownSite | None:
    """Return the survey that is kept under a name, if any."""
    path = _path(name)
    if not path.exists():
        return None
    data = gzip.decompress(path.read_bytes())
    known = KnownSite(pickle.loads(data))  # written below by this installation only
    known.remembered[_BYTES] = len(data)
    return known


def _keep(name: str, survey: Survey) -> Survey:
    data = pickle.dumps(survey, protocol=pickle.HIGHEST_PROTOCOL)
    write_whole(_path(name), gzip.compress(data, 3))
    return survey


def drop_survey(name: str) -> None:
    """Remove a kept survey that no site has."""
    _path(name).unlink(missing_ok=True)


def use_layouts(site: Site) -> bool:
    """Survey a site anew with its measured layouts. Return False if its survey has them already."""
    kept = kept_layouts(site)
    digest = digest_of(kept)
    if digest == site.layout:
        return False
    before = survey_name(site)
    content = site.content
    site.layout = digest
    make_survey(survey_name(site), files_of(site), layouts=read_kept(kept))
    # brought in again meanwhile, it is not what was measured
    if not Site.objects.filter(pk=site.pk, content=content).update(layout=digest, effort=None):
        drop_survey(survey_name(site))
        return False
    site.effort = None
    known_of(site)
    if before != content:
        drop_survey(before)
    return True


def are_used(site: Site, kept: dict[Wanted, Path]) -> bool:
    """Return whether a site is read with all that is measured of it."""
    return digest_of(kept) == site.layout


def layouts_of(site: Site) -> Layouts:
    """Return what is measured of a site, where it is read with that."""
    return read_kept(kept_layouts(site)) if site.layout else {}


def files_of(site: Site) -> SiteFiles:
    """Return a site's files as brought in.

    Raises: Refused: 404 where the site was deleted meanwhile, 409 where it was brought in again: what is made of the
        files is kept by the site's contents and serves others too, so they have to be those.
    """
    files = list(site.files.all())
    # after the files: where they have been replaced meanwhile it tells
    content = Site.objects.filter(pk=site.pk).values_list("content", flat=True).first()
    if not files:
        raise Refused(404, "not-found", "This site is not there any more. Go back to your sites.")
    if content != site.content:
        raise Refused(409, "brought-again", "The site was brought in again just now. Load the page again.")
    stood = {file.path: get_blob(file.stood).decode() for file in files if file.stood}
    return SiteFiles({file.path: get_blob(file.blob) for file in files}, [], site.origin, site.most_pages, stood)


def is_at_hand(site: Site) -> bool:
    """Return whether a site need not be read first: after an update of Glaucon it is read anew."""
    name = survey_name(site)
    return name in _known or _path(name).exists()


def known_of(site: Site) -> KnownSite:
    """Return a site's survey with all that its studies are read with."""
    name = survey_name(site)
    with _lock:
        known = _known.get(name)
    if known is None:
        known = _remembered(name, _opened(site, name))
    if site.effort is None and (effort := known.remembered.get(_EFFORT)) is not None:
        site.effort = effort
        Site.objects.filter(pk=site.pk, content=site.content, layout=site.layout).update(effort=effort)
    return known


def _opened(site: Site, name: str) -> KnownSite:
    """Return a site's survey, read where it is not kept; and where nobody knows, how much work that is from there."""
    if not _path(name).exists():
        not_in_a_web_thread()
        make_survey(name, files_of(site), layouts=layouts_of(site))
    start = time.thread_time()
    known = _read(name)
    assert known is not None
    if site.effort is None:
        _ = known.as_found
        known.remembered[_EFFORT] = time.thread_time() - start
    return known


def _remembered(name: str, known: KnownSite) -> KnownSite:
    with _lock:
        _known[name] = known
    return known


def known_for(site: Site, study: Study) -> KnownSite:
    """Return a site's survey as a study's own CSS and backdrops have it; the site's plain one where it has neither."""
    css = applied_own(study)
    if not css and not study.backdrops:
        return known_of(site)
    behind = backdrops_for(site, study, known_of(site).survey.regions)
    said = (palette_for_own(study.as_found()), css, behind.for_previews(known_of(site).survey.pages, "page"))
    name = f"{survey_name(site)}{VARIANT}{hashlib.sha256(repr(said).encode()).hexdigest()[:20]}"
    with _lock:
        known = _known.get(name)
    if known is not None:
        return known
    known = _read(name)
    if known is None:
        not_in_a_web_thread()
        _keep(name, survey_with(files_of(site), behind, None, layouts_of(site), css))
        known = _read(name)
    assert known is not None
    return _remembered(name, known)


def known_on_pages(
    site: Site, study: Study, pages: Iterable[str], contexts: Iterable[ContextKey], with_pictures: bool = True
) -> KnownSite:
    """Return the survey of some pages as a study has them, in some contexts, while something is tried; it is not kept.

    Where a page is not measured at a width, what lies behind its texts is as far as it is known without.
    """
    behind = backdrops_for(site, study, known_of(site).survey.regions, with_pictures)
    pages, contexts = list(pages), list(contexts)
    layouts = read_kept({one: path for one, path in kept_layouts(site).items() if one[0] in pages})
    return KnownSite(survey_with(files_of(site), behind, contexts, layouts, applied_own(study), pages))


def tracer_for(site: Site, study: Study) -> Tracer:
    """Return what traces where a site's colours come from under a study, kept for those looked at last."""
    css = applied_own(study)
    palette = palette_for_own(study.as_found()) if css else ""
    name = f"{site.content} {palette} {css}"
    with _lock:
        tracer = _tracers.get(name)
    if tracer is None:
        tracer = Tracer(files_of(site), css, NAME, palette)
        with _lock:
            _tracers[name] = tracer
    return tracer
