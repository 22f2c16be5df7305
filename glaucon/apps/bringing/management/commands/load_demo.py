"""Loads the demo: its visitor and the sample site, once."""

from __future__ import annotations

from allauth.account.models import EmailAddress
from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.management.base import BaseCommand, CommandError

from glaucon.apps.bringing.jobs import open_job, recover, run_job
from glaucon.apps.bringing.sources import sample_source
from glaucon.apps.sites.models import Site
from glaucon.apps.work.sole import AlreadyRunning, sole_worker

# the demo signs its visitor in; who has signed out comes in again with these
_YARD, _PASSWORD = "otterlock.example", "narrowboat 7"
_FIRST = "otterlock"  # the sample it begins with; others are there to be asked for


class Command(BaseCommand):
    """Make what the demo shows if it is not there yet."""

    help = __doc__

    def handle(self, *args: object, **options: object) -> None:
        try:
            with sole_worker():
                recover()
                self._load()
        except AlreadyRunning as error:
            raise CommandError(str(error)) from error

    def _load(self) -> None:
        users = get_user_model()
        user, made = users.objects.get_or_create(username=settings.GLAUCON_DEMO_USER)
        if made:
            user.set_password(_PASSWORD)
            user.email = f"{user.username}@{_YARD}"
            user.save()
            EmailAddress.objects.create(user=user, email=user.email, verified=True, primary=True)
        if made or not Site.objects.of(user).exists():
            name, source = sample_source(_FIRST)
            run_job(open_job(user, name, source).pk)
