"""Surveys of sites, kept by content: costly once, read from disk or memory after."""

from __future__ import annotations

import gzip
import pickle
from collections import OrderedDict
from pathlib import Path
from threading import Lock

from django.conf import settings

from glaucon.apps.sites.blobs import get_blob, write_whole
from glaucon.apps.sites.models import Site
from glaucon.core.proposal.known import KnownSite
from glaucon.core.survey.model import Survey
from glaucon.core.survey.origins import Tracer
from glaucon.core.survey.site import Progress, SiteFiles
from glaucon.core.survey.survey import ENGINE, Surveyor

_KEPT_IN_MEMORY = 12
_known: OrderedDict[str, KnownSite] = OrderedDict()
_tracers: OrderedDict[str, Tracer] = OrderedDict()
_MOST_TRACERS = 3  # each holds all stylesheets of its site, parsed
_lock = Lock()


def _path(content: str) -> Path:
    return Path(settings.DATA_DIR) / "surveys" / f"{content}-{ENGINE}.pickle.gz"


def make_survey(content: str, files: SiteFiles, progress: Progress = lambda what, done, total: None) -> Survey:
    """Return the survey of a site's files, made now if it is not kept."""
    path = _path(content)
    if path.exists():
        with gzip.open(path) as handle:
            kept: Survey = pickle.load(handle)  # written below by this installation only
        return kept
    survey = Surveyor(files).survey(progress=progress)
    write_whole(path, gzip.compress(pickle.dumps(survey, protocol=pickle.HIGHEST_PROTOCOL), 3))
    return survey


def drop_survey(content: str) -> None:
    """Remove a kept survey that no site has."""
    _path(content).unlink(missing_ok=True)


def files_of(site: Site) -> SiteFiles:
    """Return a site's files as brought in."""
    return SiteFiles({file.path: get_blob(file.blob) for file in site.files.all()}, [], site.origin, site.most_pages)


def known_of(site: Site) -> KnownSite:
    """Return a site's survey with all that its studies are read with."""
    with _lock:
        if site.content in _known:
            _known.move_to_end(site.content)
            return _known[site.content]
    path = _path(site.content)
    files = SiteFiles({}) if path.exists() else files_of(site)
    known = KnownSite(make_survey(site.content, files))
    with _lock:
        _known[site.content] = known
        while len(_known) > _KEPT_IN_MEMORY:
            _known.popitem(last=False)
    return known


def tracer_of(site: Site) -> Tracer:
    """Return what traces where a site's colours come from, kept for the sites looked at last."""
    with _lock:
        if site.content in _tracers:
            _tracers.move_to_end(site.content)
            return _tracers[site.content]
    tracer = Tracer(files_of(site))
    with _lock:
        _tracers[site.content] = tracer
        while len(_tracers) > _MOST_TRACERS:
            _tracers.popitem(last=False)
    return tracer
