"""A kept site as acts and searches ask of it."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping

from glaucon.apps.sites import backdrops, surveys
from glaucon.apps.sites.blobs import get_blob
from glaucon.apps.sites.layouts import kept_layouts, read_kept
from glaucon.apps.sites.models import Site
from glaucon.core.acts.at_hand import MOST_VERSIONS, SiteAtHand
from glaucon.core.exchange.backdrops import Backdrops
from glaucon.core.known.site import KnownSite
from glaucon.core.layout.document import Layouts
from glaucon.core.places.lost_marks import versions_of
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import SiteFiles


class KeptSite(SiteAtHand):
    """A site of the database; its surveys are kept by content, and read here only where that takes milliseconds."""

    def __init__(self, site: Site) -> None:
        self.site = site

    @property
    def known(self) -> KnownSite:
        return surveys.known_of(self.site)

    def under(self, study: Study) -> KnownSite:
        return surveys.known_for(self.site, study)

    def on_pages(
        self, study: Study, pages: Iterable[str], contexts: Iterable[ContextKey], with_pictures: bool = True
    ) -> KnownSite:
        return surveys.known_on_pages(self.site, study, pages, contexts, with_pictures)

    def files(self) -> SiteFiles:
        return surveys.files_of(self.site)

    def layouts(self, pages: Collection[str] | None = None) -> Layouts:
        kept = kept_layouts(self.site)
        return read_kept({key: path for key, path in kept.items() if pages is None or key[0] in pages})

    def measured(self) -> Collection[tuple[str, int]]:
        return kept_layouts(self.site).keys()

    def backdrops(self, study: Study, with_pictures: bool = True) -> Backdrops:
        return backdrops.backdrops_for(self.site, study, self.known.survey.regions, with_pictures)

    def pictures(self) -> Collection[str]:
        own = self.site.pictures.values_list("path", flat=True)
        return {*own, *self.site.files.values_list("path", flat=True)}

    def versions(self, source: str) -> Mapping[str, bytes]:
        files = dict(self.site.files.values_list("path", "blob"))
        return {path: get_blob(files[path]) for path in versions_of(source, sorted(files))[:MOST_VERSIONS]}

    def is_made(self, study: Study) -> bool:
        return backdrops.note_recipes(self.site, self.backdrops(study).recipes())

    def make_files(self, study: Study) -> None:
        backdrops.made_files(self.site, study, self.known.survey.regions)
