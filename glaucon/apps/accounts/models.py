"""What belongs to accounts beside django-allauth's: letters kept, limits of one owner, words that let frames in."""

from __future__ import annotations

from django.conf import settings
from django.db import models


class Letter(models.Model):
    """A letter that was to be sent and is kept instead, where there is no mail server: in the demo."""

    to = models.CharField(max_length=320)
    subject = models.CharField(max_length=300)
    body = models.TextField()
    sent = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("-pk",)

    def __str__(self) -> str:
        return f"{self.subject} to {self.to}"


class PreviewPass(models.Model):
    """The word that lets a session's frames see previews (see `passes`)."""

    word = models.CharField(max_length=40, primary_key=True)
    session_key = models.CharField(max_length=40, db_index=True)
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")

    def __str__(self) -> str:
        return f"pass of {self.owner_id}"


class Quota(models.Model):
    """Limits of one owner; None: as for all (see `limits`)."""

    owner = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="quota")
    sites = models.PositiveIntegerField(null=True, blank=True)
    mb = models.PositiveIntegerField(null=True, blank=True)
    releases = models.PositiveIntegerField(null=True, blank=True)
    works_an_hour = models.PositiveIntegerField(null=True, blank=True)

    def __str__(self) -> str:
        return f"quota of {self.owner_id}"
