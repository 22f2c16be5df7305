"""Studies and their revisions."""

from __future__ import annotations

from django.db import models

from glaucon.apps.sites.models import Site
from glaucon.core.study import study as core


class Study(models.Model):
    """A candidate set of colours for a site; `current` is the revision its owner stands on.

    One study of a site is open: the one worked on. A deleted one is kept, so that deleting can be undone.
    """

    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="studies")
    name = models.CharField(max_length=80)
    current = models.ForeignKey("Revision", null=True, on_delete=models.PROTECT, related_name="+")
    is_open = models.BooleanField(default=False)
    deleted = models.DateTimeField(null=True, default=None)

    class Meta:
        ordering = ("pk",)
        constraints = (
            models.UniqueConstraint(fields=("site",), condition=models.Q(is_open=True), name="one_open_study"),
            models.CheckConstraint(
                condition=models.Q(is_open=False) | models.Q(deleted=None), name="an_open_study_is_not_deleted"
            ),
        )

    def __str__(self) -> str:
        return self.name


class Revision(models.Model):
    """One immutable state of a study. `base` is the revision it was made from: undo goes there."""

    study = models.ForeignKey(Study, on_delete=models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    base = models.ForeignKey("self", null=True, on_delete=models.PROTECT, related_name="next")
    document = models.JSONField()
    what = models.CharField(max_length=160, default="")
    touches = models.JSONField(default=list, help_text="keys of what it changed, see `core/study/differences`")
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("number",)
        constraints = (models.UniqueConstraint(fields=("study", "number"), name="one_revision_per_number"),)

    def __str__(self) -> str:
        return f"{self.study_id}/{self.number}"

    def save(self, *args: object, **kwargs: object) -> None:
        """Write a new revision; an old one is never changed."""
        if self.pk is not None:
            raise ValueError("a revision is immutable. Make a new one")
        super().save(*args, **kwargs)

    def read(self) -> core.Study:
        """Return the document as the core knows it."""
        return core.read_study(self.document)
