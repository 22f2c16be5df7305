"""A site with everything, brought in from a project archive: there whole at the end, or not at all."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.db import transaction

from glaucon.apps.bringing.bring_in import Check, SiteAsRead, add_files, read_in
from glaucon.apps.bringing.sources import is_upload
from glaucon.apps.releases.models import Download, Release, ReleaseFile
from glaucon.apps.sites.blobs import put_blob
from glaucon.apps.sites.layouts import keep_layout
from glaucon.apps.sites.models import Job, Site, SitePicture
from glaucon.apps.sites.room import refuse_without_room
from glaucon.apps.studies.models import Revision, Study
from glaucon.core.backdrops.pictures import is_seamless, size_of
from glaucon.core.errors import ColourError, SiteError
from glaucon.core.exchange.project.archive import ReadProject, is_project, read_project
from glaucon.core.exchange.project.document import KeptRelease, KeptStudy, RevisionAt
from glaucon.core.survey.site import Progress, SiteFiles


def is_project_job(job: Job) -> bool:
    """Return whether what a job brings in is a project, not just a site's files."""
    if not is_upload(job.source):
        return False
    with Path(job.source).open("rb") as handle:
        return is_project(handle)


def bring_project_in(job: Job, tell: Progress, check: Check) -> Site:
    """Return the site of a project with all that it had. Raises: SiteError: it is refused."""
    if job.again is not None:
        raise SiteError("This is a project with studies of its own. Bring it in as a site beside this one.")
    with Path(job.source).open("rb") as handle:
        project = read_project(handle, tell)
    pictures = _pictures(project)
    added = sum(len(data) for data in project.contents.values())
    refuse_without_room(job.owner, added)
    said = project.document
    files = SiteFiles(project.files, [], said.origin, said.most_pages, _stood(project))
    read = read_in(files, tell)
    for data in project.contents.values():
        put_blob(data)
    with transaction.atomic():
        check()
        site = _create(job, project, read)
        SitePicture.objects.bulk_create([SitePicture(site=site, **fields) for fields in pictures], batch_size=100)
        revisions = _add_studies(site, project)
        _add_releases(site, project, revisions)
    _keep_layouts(site, project, read)
    return site


def _create(job: Job, project: ReadProject, read: SiteAsRead) -> Site:
    said = project.document
    site = Site.objects.create(
        owner=job.owner, name=said.name, slug=Site.objects.free_slug(said.name), origin=said.origin,
        address=said.came_by, hosted_at=said.hosted_at, most_pages=said.most_pages, **read.fields(),
    )  # fmt: skip
    Site.objects.filter(pk=site.pk).update(brought_in=said.brought_in)
    site.refresh_from_db()
    add_files(site, read)
    return site


def _stood(project: ReadProject) -> dict[str, str]:
    """Return a project's pages as their scripts made them. Raises: SiteError: one is no text."""
    try:
        return {one.path: project.contents[one.stood].decode() for one in project.document.files if one.stood}
    except UnicodeDecodeError as error:
        raise SiteError("A page in the project, as its scripts made it, is no text. Save the project again.") from error


def _pictures(project: ReadProject) -> list[dict[str, Any]]:
    """Return the fields of a project's pictures. Raises: SiteError: one is none."""
    found = []
    for one in project.document.pictures:
        data = project.contents[one.sha256]
        try:
            width, height = size_of(data)
            if data[8:12] != b"WEBP":
                raise ColourError("it is no WebP picture.")
            is_tile = is_seamless(data)
        except (ColourError, OSError, ValueError) as error:
            raise SiteError(f"“{one.path}” in the project cannot be used: {error}") from error
        size = {"width": width, "height": height, "size": len(data), "is_seamless": is_tile}
        found.append({"path": one.path, "label": one.label, "blob": one.sha256, **size})
    return found


def _add_studies(site: Site, project: ReadProject) -> dict[tuple[int, int], Revision]:
    made = dict[tuple[int, int], Revision]()
    for place, said in enumerate(project.document.studies, start=1):
        study = Study.objects.create(site=site, name=said.name, is_open=said.is_open, deleted=said.deleted)
        made.update(_add_revisions(study, place, said, project))
        study.current = made[place, said.current]
        study.save(update_fields=["current"])
    return made


def _add_revisions(
    study: Study, place: int, said: KeptStudy, project: ReadProject
) -> dict[tuple[int, int], Revision]:  # fmt: skip
    made = dict[tuple[int, int], Revision]()
    # in this order: what one is made from has a lower number
    for one in sorted(said.revisions, key=lambda one: one.number):
        base = made[place, one.base] if one.base is not None else None
        revision = Revision.objects.create(
            study=study, number=one.number, base=base, document=project.documents[place, one.number], what=one.what,
            touches=list(one.touches),
        )  # fmt: skip
        Revision.objects.filter(pk=revision.pk).update(made=one.made)
        made[place, one.number] = revision
    return made


def _add_releases(site: Site, project: ReadProject, revisions: dict[tuple[int, int], Revision]) -> None:
    def at(named: RevisionAt | None) -> Revision | None:
        return revisions[named.study, named.number] if named is not None else None

    own = {one.sha256 for one in project.document.files}
    for said in project.document.releases:
        fields = _fields(said)
        added = sum(len(project.contents[one.sha256]) for one in said.files if one.sha256 not in own)
        release = Release.objects.create(site=site, revision=at(said.revision), added_bytes=added, **fields)
        Release.objects.filter(pk=release.pk).update(made=said.made)
        files = [ReleaseFile(release=release, path=one.path, blob=one.sha256) for one in said.files]
        ReleaseFile.objects.bulk_create(files, batch_size=300)
    if (taken := project.document.download) is not None:
        Download.objects.create(site=site, revision=at(taken.revision), made=taken.made)


def _fields(said: KeptRelease) -> dict[str, Any]:
    names = ("number", "is_live", "live_since", "due", "name", "stylesheet", "statement", "texts", "hard", "unsure")
    let_through = [one.model_dump(mode="json") for one in said.let_through]
    return {**{name: getattr(said, name) for name in names}, "let_through": let_through}


def _keep_layouts(site: Site, project: ReadProject, read: SiteAsRead) -> None:
    paths = dict[str, set[str]]()
    for run in read.known.survey.runs:
        paths.setdefault(run.page, set()).add(run.path)
    for (page, width), measured in project.layouts.items():
        keep_layout(site, page, width, measured, paths.get(page, set()))
