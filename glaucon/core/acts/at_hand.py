"""The site that acts are applied to: its survey, its files, and what reads it with something tried."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Collection, Iterable, Mapping
from functools import cached_property

from glaucon.core.errors import StudyError
from glaucon.core.exchange.backdrops import Backdrops, Source, backdrops_of, survey_with
from glaucon.core.known.site import KnownSite
from glaucon.core.layout.document import Layouts
from glaucon.core.places.lost_marks import versions_of
from glaucon.core.study.own_css import applied_own
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import SiteFiles
from glaucon.core.survey.survey import survey_site

MOST_VERSIONS = 6  # of a picture


class SiteAtHand(ABC):
    """What acts and searches ask of a site."""

    @property
    @abstractmethod
    def known(self) -> KnownSite:
        """Return the site's survey, with nothing of any study on it."""

    @abstractmethod
    def under(self, study: Study) -> KnownSite:
        """Return the survey as a study's own CSS and backdrops have it; `known` where it has neither."""

    @abstractmethod
    def on_pages(
        self, study: Study, pages: Iterable[str], contexts: Iterable[ContextKey], with_pictures: bool = True
    ) -> KnownSite:
        """Return the survey of some pages as a study has them, in some contexts, while something is tried."""

    @abstractmethod
    def files(self) -> SiteFiles:
        """Return the site's files."""

    @abstractmethod
    def layouts(self, pages: Collection[str] | None = None) -> Layouts:
        """Return what is measured of some pages, or of all."""

    @abstractmethod
    def measured(self) -> Collection[tuple[str, int]]:
        """Return the pages that are measured, with the widths in CSS pixels."""

    @abstractmethod
    def backdrops(self, study: Study, with_pictures: bool = True) -> Backdrops:
        """Return a study's backdrops ready to be written."""

    @abstractmethod
    def pictures(self) -> Collection[str]:
        """Return the paths of all files that a backdrop may name."""

    @abstractmethod
    def versions(self, source: str) -> Mapping[str, bytes]:
        """Return a few files that may be other versions of a picture, by path."""

    def released(self) -> Study | None:
        """Return the study that is live; None where nothing is, or the site as it came in."""
        return None

    def is_made(self, study: Study) -> bool:
        """Note how the files of a study's backdrops are made; return whether all of them are."""
        return True

    def make_files(self, study: Study) -> None:  # noqa: B027
        """Make the files that a study's backdrops name."""

    def hold(self, place: Where) -> Where:
        """Return a place that the site has. Raises: StudyError: it is not there."""
        self.hold_page(place.page)
        region = next((one for one in self.known.survey.regions if one.key == place.region), None)
        is_on = region is not None and (place.page is None or place.page in region.pages)
        if place.region is not None and not is_on:
            raise StudyError(f"“{place.region[:80]}” is not there any more. Look at the map again.")
        return place

    def hold_page(self, page: str | None) -> None:
        """Hold a page to what the site has. Raises: StudyError: it is not there."""
        if page is not None and page not in self.known.survey.pages:
            raise StudyError(f"The page “{page[:80]}” is not there any more. Look at the map again.")


class ReadSite(SiteAtHand):
    """A site read from its files here and now, as the shell and the proofs have it."""

    def __init__(
        self,
        files: SiteFiles,
        layouts: Layouts | None = None,
        contexts: Iterable[ContextKey] | None = None,
        pictures: Source | None = None,
        known: KnownSite | None = None,
    ) -> None:
        """`pictures` has what backdrops show, the site's own files if left out; `known` is its survey, if there is."""
        self._files, self._layouts = files, layouts or {}
        self._contexts = None if contexts is None else list(contexts)
        self._pictures: Source = pictures or files.files.get
        self._given = known
        self._last: tuple[tuple[object, ...], KnownSite] | None = None

    @cached_property
    def known(self) -> KnownSite:
        return self._given or KnownSite(survey_site(self._files, self._contexts, self._layouts))

    def under(self, study: Study) -> KnownSite:
        css = applied_own(study)
        if not css and not study.backdrops:
            return self.known
        painted = tuple(role.value for role in study.roles) if study.backdrops else ()
        said = (css, study.backdrops, painted)
        if self._last is None or self._last[0] != said:
            survey = survey_with(self._files, self.backdrops(study), self._contexts, self._layouts, css)
            self._last = said, KnownSite(survey)
        return self._last[1]

    def on_pages(
        self, study: Study, pages: Iterable[str], contexts: Iterable[ContextKey], with_pictures: bool = True
    ) -> KnownSite:
        behind, pages = self.backdrops(study, with_pictures), list(pages)
        css = applied_own(study)
        return KnownSite(survey_with(self._files, behind, list(contexts), self.layouts(pages), css, pages))

    def files(self) -> SiteFiles:
        return self._files

    def layouts(self, pages: Collection[str] | None = None) -> Layouts:
        return {key: one for key, one in self._layouts.items() if pages is None or key[0] in pages}

    def measured(self) -> Collection[tuple[str, int]]:
        return self._layouts.keys()

    def backdrops(self, study: Study, with_pictures: bool = True) -> Backdrops:
        behind = backdrops_of(study, self.known.survey.regions, self._pictures)
        behind.with_pictures = with_pictures
        return behind

    def pictures(self) -> Collection[str]:
        return self._files.files.keys()

    def versions(self, source: str) -> Mapping[str, bytes]:
        files = self._files.files
        return {path: files[path] for path in versions_of(source, sorted(files))[:MOST_VERSIONS]}
