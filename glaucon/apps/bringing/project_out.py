"""A site with everything, written as a project archive."""

from __future__ import annotations

import gzip
import json
import os
import tempfile
import time
from pathlib import Path
from typing import IO

from django.conf import settings
from django.db.models import Max

from glaucon.apps.releases.models import Release
from glaucon.apps.releases.services import download_of
from glaucon.apps.sites.blobs import get_blob
from glaucon.apps.sites.layouts import folder_name, kept_layouts
from glaucon.apps.sites.models import Site
from glaucon.apps.studies.models import Revision, Study
from glaucon.core.exchange.project.archive import digest, document_bytes, write_project
from glaucon.core.exchange.project.document import (
    FORMAT,
    KIND,
    KeptDownload,
    KeptFile,
    KeptLayout,
    KeptPicture,
    KeptRelease,
    KeptRevision,
    KeptSiteFile,
    KeptStudy,
    KeptWaived,
    Project,
    RevisionAt,
)

_FRESH_SECONDS = 600


def save_project(site: Site, out: IO[bytes]) -> None:
    """Write a site's project archive."""
    studies = list(site.studies.exclude(current=None).select_related("current").order_by("pk"))
    places = {study.pk: place for place, study in enumerate(studies, start=1)}
    paths = kept_layouts(site)
    layouts = {key: document_bytes(json.loads(gzip.decompress(path.read_bytes()))) for key, path in paths.items()}
    download = download_of(site)
    project = Project(
        kind=KIND, format=FORMAT, name=site.name, origin=site.origin, came_by=site.address, hosted_at=site.hosted_at,
        most_pages=site.most_pages, brought_in=site.brought_in,
        files=tuple(
            KeptSiteFile(path=path, sha256=blob, stood=stood or None)
            for path, blob, stood in site.files.values_list("path", "blob", "stood")
        ),
        pictures=tuple(KeptPicture(path=o.path, label=o.label, sha256=o.blob) for o in site.pictures.all()),
        layouts=tuple(KeptLayout(page=p, width=w, sha256=digest(data)) for (p, w), data in sorted(layouts.items())),
        studies=tuple(map(_study, studies)),
        releases=tuple(_release(one, places) for one in _releases_of(site)),
        download=KeptDownload(revision=_at(download.revision, places), made=download.made) if download else None,
    )  # fmt: skip
    of_layout = {digest(data): data for data in layouts.values()}

    def document(place: int, number: int) -> bytes:
        return document_bytes(studies[place - 1].revisions.get(number=number).document)

    write_project(out, project, get_blob, document, of_layout.__getitem__)


def project_file(site: Site) -> Path:
    """Return where a site's project archive lies, made now."""
    folder = Path(settings.DATA_DIR) / "handed"
    folder.mkdir(parents=True, exist_ok=True)
    with tempfile.NamedTemporaryFile(dir=folder, prefix=".new-", delete=False) as out:
        try:
            save_project(site, out)
            out.close()
            os.replace(out.name, _kept(site))
        except BaseException:
            Path(out.name).unlink(missing_ok=True)
            raise
    return _kept(site)


def fresh_project_file(site: Site) -> Path | None:
    """Return where the archive lies that was made a moment ago, None where there is none."""
    kept = _kept(site)
    is_fresh = kept.exists() and time.time() - kept.stat().st_mtime < _FRESH_SECONDS
    return kept if is_fresh else None


def _kept(site: Site) -> Path:
    # what was worked on since, or another site under the number of one that is gone, is another archive
    last = Revision.objects.filter(study__site=site).aggregate(last=Max("pk"))["last"]
    name = f"project-{folder_name(site)}-{last}-{site.releases.count()}.zip"
    return Path(settings.DATA_DIR) / "handed" / name


def _releases_of(site: Site) -> list[Release]:
    return list(site.releases.select_related("revision").order_by("number"))


def _study(study: Study) -> KeptStudy:
    assert study.current is not None
    return KeptStudy(
        name=study.name, is_open=study.is_open, deleted=study.deleted, current=study.current.number,
        revisions=tuple(map(_revision, study.revisions.select_related("base"))),
    )  # fmt: skip


def _revision(one: Revision) -> KeptRevision:
    return KeptRevision(
        number=one.number, base=one.base.number if one.base is not None else None, what=one.what,
        touches=tuple(one.touches), made=one.made, sha256=digest(document_bytes(one.document)),
    )  # fmt: skip


def _at(revision: Revision, places: dict[int, int]) -> RevisionAt:
    return RevisionAt(study=places[revision.study_id], number=revision.number)


def _release(one: Release, places: dict[int, int]) -> KeptRelease:
    return KeptRelease(
        number=one.number, revision=_at(one.revision, places) if one.revision is not None else None,
        is_live=one.is_live, made=one.made, live_since=one.live_since, due=one.due, name=one.name,
        stylesheet=one.stylesheet, statement=one.statement, texts=one.texts, hard=one.hard, unsure=one.unsure,
        let_through=tuple(KeptWaived.model_validate(said) for said in one.let_through),
        files=tuple(KeptFile(path=path, sha256=blob) for path, blob in one.files.values_list("path", "blob")),
    )  # fmt: skip
