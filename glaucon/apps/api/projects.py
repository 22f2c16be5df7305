"""A site with everything as one open archive; brought in again as any other archive is."""

from __future__ import annotations

from django.http import FileResponse, HttpRequest, HttpResponse
from ninja import Router

from glaucon.apps.api.schemas.site import ProjectOut
from glaucon.apps.bringing.project_out import fresh_project_file, project_file
from glaucon.apps.errors import Refused
from glaucon.apps.sites.access import own_site
from glaucon.apps.sites.models import Site
from glaucon.apps.work.heavy import heavy

router = Router(tags=["site"])


@router.get("/sites/{slug}/project", response=ProjectOut, operation_id="makeProject")
@heavy
def make_project(request: HttpRequest, slug: str) -> ProjectOut:
    """Write a site with its studies, their history, releases, pictures and layouts as one archive."""
    site = own_site(request, slug)
    return ProjectOut(filename=_filename(site), bytes=project_file(site).stat().st_size)


@router.get("/sites/{slug}/project/file", operation_id="downloadProject")
def download_project(request: HttpRequest, slug: str) -> HttpResponse:
    """Give the archive that was written a moment ago, else one that is written now."""
    site = own_site(request, slug)
    if fresh_project_file(site) is None:
        made = make_project(request, slug=slug)
        if isinstance(made, HttpResponse) and made.status_code >= 400:
            return made
    kept = fresh_project_file(site)
    if kept is None:
        raise Refused(503, "not-yet", "The file is still being made. Ask for it again in a moment.")
    return FileResponse(kept.open("rb"), as_attachment=True, filename=_filename(site), content_type="application/zip")


def _filename(site: Site) -> str:
    return f"{site.slug}-project.zip"
