"""All that is an owner's: as one archive, and the end of it."""

from __future__ import annotations

import io
import json
import zipfile
from pathlib import Path
from typing import Any

from django.contrib.sessions.models import Session
from django.db import transaction

from glaucon.apps.accounts.models import Letter
from glaucon.apps.bringing.tidying import tidy
from glaucon.apps.releases.services import remove_site
from glaucon.apps.sites.blobs import get_blob
from glaucon.apps.sites.models import Job, Site
from glaucon.apps.work import queue
from glaucon.apps.work.models import Work

_OPEN = (Work.State.WAITING, Work.State.RUNNING)


def own_data(user: Any) -> bytes:
    """Return all that is kept of an owner as a zip archive: what they are called, and each site as it is."""
    out = io.BytesIO()
    sites = list(Site.objects.filter(owner=user))
    about = {
        "name": user.get_username(), "address": user.email, "joined": user.date_joined.isoformat(),
        "last_in": user.last_login.isoformat() if user.last_login else None, "sites": [_about(site) for site in sites],
    }  # fmt: skip
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("account.json", json.dumps(about, indent=1, ensure_ascii=False))
        for site in sites:
            _add_site(archive, site)
    return out.getvalue()


def _about(site: Site) -> dict[str, Any]:
    return {
        "name": site.name, "address": site.slug, "brought_in": site.brought_in.isoformat(), "came_by": site.address,
        "hosted_at": site.hosted_at,
        "releases": [
            {
                "number": one.number, "name": one.name, "made": one.made.isoformat(), "live": one.is_live,
                "let_through": one.let_through,
            }
            for one in site.releases.all()
        ],
    }  # fmt: skip


def _add_site(archive: zipfile.ZipFile, site: Site) -> None:
    for path, blob in site.files.values_list("path", "blob"):
        archive.writestr(f"{site.slug}/site/{path}", get_blob(blob))
    for path, blob in site.pictures.values_list("path", "blob"):
        archive.writestr(f"{site.slug}/{path}", get_blob(blob))
    for study in site.studies.select_related("current"):
        if study.current is not None:
            document = json.dumps(study.current.document, indent=1, ensure_ascii=False)
            archive.writestr(f"{site.slug}/studies/{study.pk} {_plain(study.name)}.json", document)


def _plain(name: str) -> str:
    return "".join(c for c in name if c.isalnum() or c in " -_")[:60].strip() or "study"


def end_account(user: Any) -> None:
    """Delete an owner with all that is theirs: sites, files, pictures, works, letters, sessions.

    Files that were touched a moment ago may be another owner's too; the next tidying decides.
    """
    for work in Work.objects.filter(owner=user, state__in=_OPEN):
        queue.cancel(work)
    sent = list(Job.objects.filter(owner=user).values_list("source", flat=True))
    number, addresses = str(user.pk), {user.email} | set(user.emailaddress_set.values_list("email", flat=True))
    with transaction.atomic():
        for site in Site.objects.filter(owner=user):
            remove_site(site)
        Letter.objects.filter(to__in=addresses - {""}).delete()
        for session in Session.objects.all():
            if session.get_decoded().get("_auth_user_id") == number:
                session.delete()
        user.delete()
    for source in sent:
        if source.startswith("/"):
            Path(source).unlink(missing_ok=True)
    tidy()  # what is younger than its grace goes with the timer
