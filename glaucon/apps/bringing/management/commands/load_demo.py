"""Loads the demo: its visitor and the sample site, once."""

from __future__ import annotations

from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.management.base import BaseCommand

from glaucon.apps.bringing.jobs import open_job, run_job
from glaucon.apps.bringing.sources import SAMPLES, sample_source
from glaucon.apps.sites.models import Site


class Command(BaseCommand):
    """Make what the demo shows if it is not there yet."""

    help = __doc__

    def handle(self, *args: object, **options: object) -> None:
        users = get_user_model()
        user, made = users.objects.get_or_create(username=settings.GLAUCON_DEMO_USER)
        if made:
            user.set_unusable_password()
            user.save()
        if made or not Site.objects.of(user).exists():
            for sample in SAMPLES:
                name, source = sample_source(sample)
                run_job(open_job(user, name, source).pk)
