"""Whole sites: called otherwise, copied, put away, deleted with time to think, deleted for good."""

from __future__ import annotations

from datetime import timedelta

from django.db import transaction
from django.utils import timezone

from glaucon.apps.errors import Refused
from glaucon.apps.releases.services import remove_site
from glaucon.apps.sites.models import Site, SiteFile, SitePicture
from glaucon.apps.sites.room import refuse_another_site, refuse_without_room
from glaucon.apps.studies.services import add_study, open_study, start_study, study_of

KEPT = timedelta(days=30)  # a deleted site, and its address
_COPIED = ("content", "layout", "notes", "titles", "headings", "origin", "address", "most_pages", "hosted_at")


def rename_site(site: Site, name: str) -> None:
    """Call a site otherwise; its address stays. Raises: Refused: 422: the name says nothing."""
    site.name = _name(name)
    site.save(update_fields=["name"])


def _name(name: str) -> str:
    name = " ".join(name.split())[:80]
    if not name:
        raise Refused(422, "no-name", "A site needs a name. Type what it is, such as “Otterlock Boats”.")
    return name


def copy_site(site: Site) -> Site:
    """Return a copy of a site: its files, its pictures and its studies as they stand, without releases.

    Raises: Refused: 409: the owner has no room for it.
    """
    refuse_another_site(site.owner)
    rows = (*site.files.values_list("size", flat=True), *site.pictures.values_list("size", flat=True))
    refuse_without_room(site.owner, sum(rows))
    name = _name(f"{site.name[:72]}, copy")
    with transaction.atomic():
        fields = {field: getattr(site, field) for field in _COPIED}
        made = Site.objects.create(owner=site.owner, name=name, slug=Site.objects.free_slug(name), **fields)
        for model, rows_of in ((SiteFile, site.files), (SitePicture, site.pictures)):
            copies = []
            for row in rows_of.all():
                row.pk, row.site = None, made
                copies.append(row)
            model.objects.bulk_create(copies, batch_size=300)
        opened = study_of(site)
        for study in site.studies.filter(deleted=None).select_related("current"):
            if study.current is None:
                continue
            document = study.current.read()
            # a study goes by its row's name, which its document was made with
            document = document.model_copy(update={"name": study.name})
            if not made.studies.exists():
                start_study(made, document)
            else:
                copied = add_study(made, document, "Copied")
                if study.pk == opened.pk:
                    open_study(copied)
    return made


def put_away(site: Site, is_away: bool) -> None:
    """Put a site away, or back among those worked on."""
    site.is_away = is_away
    site.save(update_fields=["is_away"])


def delete_site(site: Site) -> None:
    """Delete a site; it can be taken back for 30 days, and nobody else gets its address meanwhile."""
    site.deleted = timezone.now()
    site.save(update_fields=["deleted"])


def take_site_back(owner: object, slug: str) -> Site:
    """Return a deleted site that is there again. Raises: Refused: 404; 409: the owner has too many sites by now."""
    site = _gone(owner, slug)
    refuse_another_site(owner)
    site.deleted = None
    site.save(update_fields=["deleted"])
    return site


def delete_for_good(owner: object, slug: str) -> None:
    """Delete a deleted site at once. Raises: Refused: 404."""
    remove_site(_gone(owner, slug))


def _gone(owner: object, slug: str) -> Site:
    site = Site.objects.gone_of(owner).filter(slug=slug).first()
    if site is None:
        raise Refused(404, "no-site", f"No deleted site of yours is called “{slug}”. It may be gone for good.")
    return site


def remove_what_is_due() -> None:
    """Remove for good what was deleted long enough ago."""
    for site in Site.objects.filter(deleted__lt=timezone.now() - KEPT):
        remove_site(site)
