"""Surveys of sites, kept by content: costly once, read from disk or memory after."""

from __future__ import annotations

import gzip
import hashlib
import pickle
from collections import OrderedDict
from pathlib import Path
from threading import Lock

from django.conf import settings

from glaucon.apps.sites.blobs import get_blob, write_whole
from glaucon.apps.sites.models import Site
from glaucon.core.proposal.known import KnownSite
from glaucon.core.study.own_css import NAME, own_css, palette_for_own, problems_of
from glaucon.core.study.study import Study
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
    return _remembered(site.content, KnownSite(make_survey(site.content, files)))


def _remembered(name: str, known: KnownSite) -> KnownSite:
    with _lock:
        _known[name] = known
        while len(_known) > _KEPT_IN_MEMORY:
            _known.popitem(last=False)
    return known


def known_for(site: Site, study: Study) -> KnownSite:
    """Return a site's survey as a study's own CSS has it; the site's plain one where it has none that applies."""
    css = own_css(study)
    if not css.strip() or any(one.stops for one in problems_of(css)):
        return known_of(site)
    palette = palette_for_own(study.as_found())
    name = f"{site.content}-{hashlib.sha256(f'{palette} {css}'.encode()).hexdigest()[:20]}"
    with _lock:
        if name in _known:
            _known.move_to_end(name)
            return _known[name]
    return _remembered(name, KnownSite(Surveyor(files_of(site), css, NAME, palette).survey()))


def tracer_for(site: Site, study: Study) -> Tracer:
    """Return what traces where a site's colours come from under a study, kept for those looked at last."""
    css = own_css(study)
    css = "" if any(one.stops for one in problems_of(css)) else css
    palette = palette_for_own(study.as_found()) if css else ""
    name = f"{site.content} {palette} {css}"
    with _lock:
        if name in _tracers:
            _tracers.move_to_end(name)
            return _tracers[name]
    tracer = Tracer(files_of(site), css, NAME, palette)
    with _lock:
        _tracers[name] = tracer
        while len(_tracers) > _MOST_TRACERS:
            _tracers.popitem(last=False)
    return tracer
