"""Whether everything is there and opens: the database, each file, each revision, each release."""

from __future__ import annotations

from collections.abc import Iterator

from django.db import connection

from glaucon.apps.releases.models import Release, ReleaseFile
from glaucon.apps.sites.blobs import blob_path, is_whole
from glaucon.apps.sites.models import SiteFile, SitePicture
from glaucon.apps.studies.models import Revision
from glaucon.core.errors import GlauconError


def faults() -> Iterator[str]:
    """Yield what is wrong with the data, a sentence each."""
    with connection.cursor() as cursor:
        for (told,) in cursor.execute("PRAGMA integrity_check").fetchall():
            if told != "ok":
                yield f"The database is damaged: {told[:200]}."
        for table, row, parent, _ in cursor.execute("PRAGMA foreign_key_check").fetchall():
            yield f"Row {row} of {table} names a row of {parent} that is not there."
    bad = {name: why for name in sorted(_named()) if (why := _fault_of(name))}
    for name, why in bad.items():
        yield f"The file {name}, of {_whose(name)}, {why}."
    for revision in Revision.objects.select_related("study__site").iterator(chunk_size=50):
        try:
            revision.read()
        except GlauconError as error:
            yield f"Revision {revision.number} of “{revision.study.name}” on {revision.study.site.slug}: {error}"
    for release in Release.objects.select_related("site"):
        if not release.files.exists():
            yield f"Release {release.number} of {release.site.slug} has no files."


def _named() -> set[str]:
    named = {
        name for model in (SiteFile, SitePicture, ReleaseFile) for name in model.objects.values_list("blob", flat=True)
    }
    return named | set(SiteFile.objects.exclude(stood="").values_list("stood", flat=True))


def _fault_of(name: str) -> str:
    path = blob_path(name)
    if not path.exists():
        return "is missing"
    return "" if is_whole(path) else "is not what it was"


def _whose(name: str) -> str:
    for model, field, blob in (
        (SiteFile, "site", "blob"), (SiteFile, "site", "stood"), (SitePicture, "site", "blob"),
        (ReleaseFile, "release__site", "blob"),
    ):  # fmt: skip
        found = model.objects.filter(**{blob: name}).values_list(f"{field}__slug", "path").first()
        if found is not None:
            return f"{found[0]} ({found[1]})"
    return "nobody"
