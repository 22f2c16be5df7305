"""Looks at a site on its own host, page by page, for what was handed back: politely, and past caches where it must."""

from __future__ import annotations

import contextlib
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from urllib.parse import quote, urljoin

from glaucon.apps.bringing.outside.fetching import AGENT, Answer, Fetcher, Unanswered
from glaucon.apps.bringing.outside.robots import robots_of
from glaucon.core.bringing.links import addresses_in_css, base_of, file_of, files_asked, origin_of, tidied
from glaucon.core.cascade.markup import read_markup
from glaucon.core.cascade.text import decode_source
from glaucon.core.errors import SiteError
from glaucon.core.exchange.arrival import Came, FileFound, earlier_contents, file_found
from glaucon.core.survey.site import MAX_TEXT_BYTES

_INDEX = "index.html"


@dataclass(slots=True)
class Seen:
    """What a visitor gets: pages and sheets by path, how each has come, which sheets each page links, and each
    of those asks for."""

    files: dict[str, bytes] = field(default_factory=dict)
    pages: dict[str, FileFound] = field(default_factory=dict)
    sheets: dict[str, FileFound] = field(default_factory=dict)
    linked: dict[str, list[str]] = field(default_factory=dict)
    inner: dict[str, list[str]] = field(default_factory=dict)

    def needed(self, page: str) -> list[FileFound]:
        """Return how the sheets have come that a page needs, with what those ask for."""
        paths = list(self.linked.get(page, []))
        for path in paths:
            paths += [one for one in self.inner.get(path, []) if one not in paths]
        return [self.sheets[path] for path in paths]


class Looker:
    """Fetches a site's pages and stylesheets from its own host.

    `wanted` are the files as they were handed back, by path; `earlier` are earlier versions of the whole site.
    """

    def __init__(
        self, fetcher: Fetcher, address: str, wanted: Mapping[str, bytes], earlier: tuple[Mapping[str, bytes], ...]
    ) -> None:
        self._fetcher, self._wanted, self._earlier = fetcher, wanted, earlier
        # a site may lie in a folder of its host
        self._root = urljoin(address, ".")
        self._origin = origin_of(address)
        self._robots = robots_of(fetcher, self._origin)

    def look(self, pages: list[str]) -> Seen:
        """Return what some pages are like there, with the stylesheets that they link."""
        seen = Seen()
        for path in pages:
            url, came = self._page(path)
            seen.pages[path] = file_found(path, came, self._wanted[path], earlier_contents(path, *self._earlier))
            if came.data is None:
                continue
            seen.files[path] = came.data
            # the sheets of the page that is there once no cache holds it
            linked = [*self._linked(url, came.data), *(self._linked(url, came.fresh) if came.fresh else [])]
            seen.linked[path] = list(dict.fromkeys(linked))
            for sheet in seen.linked[path]:
                if sheet not in seen.sheets:
                    self._look_at_sheet(sheet, seen)
        return seen

    def _look_at_sheet(self, path: str, seen: Seen) -> None:
        """Look at a sheet, and at what it asks for: other sheets, and pictures that were handed back with it."""
        came = self._came(self._url(path), path)
        seen.sheets[path] = file_found(path, came, self._wanted[path], earlier_contents(path, *self._earlier))
        if came.data is None:
            return
        seen.files[path] = came.data
        if not path.endswith(".css"):
            return
        for kind, asked in addresses_in_css(decode_source(came.data).text, self._url(path)):
            inner = file_of(self._without_root(asked), page=False) if asked.startswith(self._root) else ""
            is_new = inner in self._wanted and all(inner not in before for before in self._earlier)
            if inner in self._wanted and inner not in seen.sheets and (kind == "style" or is_new):
                self._look_at_sheet(inner, seen)
                seen.inner.setdefault(path, []).append(inner)

    def _page(self, path: str) -> tuple[str, Came]:
        """Return a page and its address: hosts have pages with and without their suffix."""
        first: tuple[str, Came] | None = None
        for url in self._addresses(path):
            came = self._came(url, path)
            if came.data is not None:
                return url, came
            first = first or (url, came)
        assert first is not None
        return first

    def _addresses(self, path: str) -> Iterator[str]:
        stem, dot, suffix = path.rpartition(".")
        if "~" in stem:  # a page by its query, as `file_of` keeps it
            plain, _, query = stem.partition("~")
            yield self._url(f"{plain}{dot}{suffix}") + f"?{quote(query, safe='=')}"
            yield self._url(plain) + f"?{quote(query, safe='=')}"
            return
        if path == _INDEX or path.endswith(f"/{_INDEX}"):
            yield self._url(path[: -len(_INDEX)])
        yield self._url(path)
        if suffix == "html" and stem:
            yield self._url(stem)

    def _url(self, path: str) -> str:
        return urljoin(self._root, quote(path))

    def _came(self, url: str, path: str) -> Came:
        if not self._robots.can_fetch(AGENT, url):
            return Came(None, why="The site's robots.txt asks robots to stay out, so Glaucon did not look.")
        try:
            answer = self._ask(url)
        except Unanswered as error:
            return Came(None, why=str(error))
        fresh = None
        if file_found(path, Came(answer.data), self._wanted[path], ()).state != "new":
            with contextlib.suppress(SiteError):
                fresh = self._ask(url, past_caches=True).data
        return Came(answer.data, fresh, held_seconds=answer.held_seconds)

    def _ask(self, url: str, past_caches: bool = False) -> Answer:
        stays = lambda led: origin_of(led) == self._origin  # noqa: E731
        return self._fetcher.fetch(url, MAX_TEXT_BYTES, stays, past_caches)

    def _linked(self, url: str, data: bytes) -> list[str]:
        """Return the stylesheets that a page links and that were handed back, by their paths."""
        markup = read_markup(decode_source(data).text)
        asked = [address for kind, address in files_asked(markup, base_of(markup, url)) if kind == "style"]
        inside = (one for one in asked if one.startswith(self._root))
        paths = (file_of(self._without_root(one), page=False) for one in inside)
        return [path for path in paths if path in self._wanted]

    def _without_root(self, url: str) -> str:
        tidy = tidied(url) or url
        return f"{self._origin}/{tidy.removeprefix(self._root)}".split("?", 1)[0]
