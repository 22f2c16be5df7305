"""Puts right what a killed process left; run before the server and its worker start."""

from __future__ import annotations

from django.core.management.base import BaseCommand

from glaucon.apps.bringing.jobs import recover
from glaucon.apps.releases.models import ReleaseFile
from glaucon.apps.sites.blobs import sweep_blobs
from glaucon.apps.sites.models import SiteFile


class Command(BaseCommand):
    """Close what was cut off and remove files that nothing names."""

    help = __doc__

    def handle(self, *args: object, **options: object) -> None:
        recover()
        kept = set(SiteFile.objects.values_list("blob", flat=True))
        kept |= set(ReleaseFile.objects.values_list("blob", flat=True))
        sweep_blobs(kept)
