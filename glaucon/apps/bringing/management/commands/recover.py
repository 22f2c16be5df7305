"""Puts right what a killed process left; run before the server and its worker start."""

from __future__ import annotations

from django.core.management.base import BaseCommand

from glaucon.apps.bringing.jobs import recover
from glaucon.apps.bringing.tidying import tidy


class Command(BaseCommand):
    """Close what was cut off and remove files that nothing names."""

    help = __doc__

    def handle(self, *args: object, **options: object) -> None:
        recover()
        tidy(seconds=0)
