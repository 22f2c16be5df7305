"""Releases: revisions made live, with their files."""

from __future__ import annotations

from django.db import models

from glaucon.apps.sites.models import Site
from glaucon.apps.studies.models import Revision


class Release(models.Model):
    """What was, is or will be live. Number 0 is the site as brought in; `is_live` holds for one release of a site.

    One with a time `due` that has never been live waits for it. `let_through` are the texts that went out hard to read,
    each with its owner's word why; `statement` is the path of a readability statement among its files.
    """

    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="releases")
    number = models.PositiveIntegerField()
    revision = models.ForeignKey(Revision, null=True, on_delete=models.PROTECT, related_name="releases")
    is_live = models.BooleanField(default=False)
    stylesheet = models.CharField(max_length=80, default="")
    made = models.DateTimeField(auto_now_add=True)
    live_since = models.DateTimeField(null=True)
    due = models.DateTimeField(null=True, default=None)
    name = models.CharField(max_length=80, default="")
    texts = models.PositiveIntegerField(default=0)
    hard = models.PositiveIntegerField(default=0)
    unsure = models.PositiveIntegerField(default=0)
    let_through = models.JSONField(default=list)
    added_bytes = models.PositiveBigIntegerField(default=0, help_text="of files that are not those brought in")
    statement = models.CharField(max_length=400, default="")

    class Meta:
        ordering = ("-number",)
        constraints = (
            models.UniqueConstraint(fields=("site", "number"), name="one_release_per_number"),
            models.UniqueConstraint(fields=("site",), condition=models.Q(is_live=True), name="one_live_release"),
        )

    def __str__(self) -> str:
        return f"{self.site_id}/{self.number}"

    @property
    def is_waiting(self) -> bool:
        """Return whether it is yet to go live."""
        return self.due is not None and self.live_since is None


class Download(models.Model):
    """What the owner of a site took home last, to upload to a host of their own."""

    site = models.OneToOneField(Site, on_delete=models.CASCADE, related_name="download")
    revision = models.ForeignKey(Revision, on_delete=models.CASCADE, related_name="downloads")
    made = models.DateTimeField()

    def __str__(self) -> str:
        return f"{self.site_id} {self.made:%Y-%m-%d}"


class ReleaseFile(models.Model):
    """One file of a release; the bytes lie in the blob store."""

    release = models.ForeignKey(Release, on_delete=models.CASCADE, related_name="files")
    path = models.CharField(max_length=400)
    blob = models.CharField(max_length=64)

    class Meta:
        constraints = (models.UniqueConstraint(fields=("release", "path"), name="one_released_file_per_path"),)

    def __str__(self) -> str:
        return self.path
