"""Whose site is it: every view asks here."""

from __future__ import annotations

from django.http import Http404, HttpRequest

from glaucon.apps.sites.models import Job, Site


def own_site(request: HttpRequest, slug: str) -> Site:
    """Return the asker's site of that name; anyone else's does not exist for them.

    Raises: Http404.
    """
    site = Site.objects.of(request.user).filter(slug=slug).first()
    if site is None:
        raise Http404
    return site


def own_job(request: HttpRequest, number: int) -> Job:
    """Return the asker's job of that number.

    Raises: Http404.
    """
    job: Job | None = Job.objects.filter(owner=request.user, pk=number).first()
    if job is None:
        raise Http404
    return job
