"""Read a site again with what its owner's browser reported: its pages after their scripts ran, and their layouts."""

from __future__ import annotations

from dataclasses import replace

from glaucon.apps.bringing.bring_in import read_in, take_up
from glaucon.apps.sites.models import Site
from glaucon.apps.sites.standing import are_all_used, told_of
from glaucon.apps.sites.surveys import files_of, known_of, use_layouts
from glaucon.apps.studies.previews import make_previews
from glaucon.apps.studies.services import current_of
from glaucon.core.snapshot.document import as_it_stood
from glaucon.core.survey.site import is_page
from glaucon.core.wording import counted

_SECONDS_AT_LEAST, _SECONDS_A_PAGE = 27.0, 6.0


def use_told(site_number: int) -> None:
    """Read a site, by number, by all that is told of it: a piece of work."""
    site = Site.objects.filter(pk=site_number).first()
    if site is not None:
        use_stood(site)
        use_layouts(site)


def _allowance(site_number: int) -> float:
    """Return the seconds of processor time that reading a site again may take."""
    site = Site.objects.filter(pk=site_number).first()
    pages = 0 if site is None else sum(is_page(path) for path in site.files.values_list("path", flat=True))
    return _SECONDS_AT_LEAST + _SECONDS_A_PAGE * pages


use_told.allowance = _allowance  # type: ignore[attr-defined]


def ready_for_the_bench(site: Site) -> None:
    """Make the previews that the bench asks for first, while progress is still shown; use what is told already."""
    use_stood(site)
    use_layouts(site)
    make_previews(site, current_of(site), known_of(site).survey.pages[:12])


def use_stood(site: Site) -> bool:
    """Read a site by its pages as they stood. Return False if it is read so already."""
    if are_all_used(site):
        return False
    told = told_of(site)
    stood = {page: one for page, one in told.items() if one is not None}
    fallen = [page for page, one in told.items() if one is None]
    files = as_it_stood(replace(files_of(site), stood={}), stood)
    files.notes += [f"{page} is read as its file says: its scripts never came to an end." for page in fallen]
    read = read_in(files, lambda what, done, total: None)
    said = [f"{counted(len(stood), 'page')} read as visitors have them, with what their scripts make."]
    take_up(site, read, said, "Read as its scripts make it", anew=True)
    return True
