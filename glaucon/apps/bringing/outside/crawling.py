"""A site by its address: its pages up to a limit, their stylesheets, pictures and fonts; robots.txt respected."""

from __future__ import annotations

import hashlib
import time
from collections import deque
from dataclasses import dataclass, field
from urllib.parse import urlsplit
from urllib.robotparser import RobotFileParser

from glaucon.apps.bringing.outside.fetching import AGENT, Answer, Fetcher
from glaucon.apps.bringing.outside.robots import robots_of
from glaucon.core.bringing.links import addresses_in_css, base_of, file_of, files_asked, origin_of, pages_asked, tidied
from glaucon.core.cascade.markup import read_markup
from glaucon.core.cascade.text import decode_source
from glaucon.core.errors import SiteError
from glaucon.core.survey.site import (
    MAX_FILE_BYTES,
    MAX_FILES,
    MAX_PATH_LENGTH,
    MAX_TEXT_BYTES,
    MAX_UNPACKED_BYTES,
    Progress,
    SiteFiles,
)

_HTML = ("text/html", "application/xhtml+xml")
_TOLD = 40
_MOST_SECONDS = 1200  # a host that answers slowly, or never the same, comes to an end too
_VARIANTS = 12  # of one path by its query


@dataclass(slots=True)
class _State:
    files: dict[str, bytes] = field(default_factory=dict)
    seen: set[str] = field(default_factory=set)
    bodies: dict[str, str] = field(default_factory=dict)  # hash of a page's bytes → its address
    variants: dict[str, int] = field(default_factory=dict)
    notes: list[str] = field(default_factory=list)
    pages: int = 0
    size: int = 0
    asked: int = 0  # whatever came of it
    doubles: int = 0
    forbidden: int = 0
    elsewhere: dict[str, int] = field(default_factory=dict)


class Crawler:
    """Brings one site. `most_pages` is the limit the owner set."""

    def __init__(self, fetcher: Fetcher, most_pages: int, tell: Progress) -> None:
        self._fetcher = fetcher
        self._most_pages = most_pages
        self._tell = tell
        self._state = _State()
        self._origin = ""
        self._began = time.monotonic()
        self._robots: RobotFileParser | None = None

    def crawl(self, address: str) -> SiteFiles:
        """Return the site at an address.

        Raises: SiteError: it does not answer, answers without HTML, needs a sign-in, or lies on a private network.
        """
        start = tidied(address if "://" in address else f"https://{address.strip()}")
        if start is None:
            raise SiteError(f"“{address[:120]}” is not a web address. Write it like https://your-site.example.")
        self._tell("asking for the first page", 0, 1)
        first = self._fetcher.fetch(start, MAX_TEXT_BYTES)
        if first.kind not in _HTML:
            raise SiteError(
                f"{first.url} answers with {first.kind or 'something unnamed'}, not with a web page. "
                "Give the address of the site's first page."
            )
        self._origin = origin_of(tidied(first.url) or first.url)
        self._robots = robots_of(self._fetcher, self._origin)
        waiting: deque[str] = deque([tidied(first.url) or first.url])
        known: Answer | None = first
        wanted: dict[str, str] = {}
        while waiting and self._state.pages < self._most_pages and self._has_room():
            url = waiting.popleft()
            if url in self._state.seen:
                continue
            answer, known = (known, None) if known is not None else (self._page(url), None)
            self._state.seen.add(url)
            if answer is not None:
                self._take_page(url, answer, waiting, wanted)
            all_ = self._state.pages + len(dict.fromkeys(w for w in waiting if w not in self._state.seen))
            self._tell("fetching pages", self._state.pages, min(self._most_pages, max(1, all_)))
        left = len({url for url in waiting if url not in self._state.seen})
        if left:
            self._note(
                f"The first {self._state.pages} pages were brought in, the limit you set; at least {left} were not. "
                "Raise the page limit to bring in more."
            )
        self._fetch_files(wanted)
        return self._finished()

    def _may(self, url: str) -> bool:
        return self._robots is None or self._robots.can_fetch(AGENT, url)

    def _stays(self, url: str) -> bool:
        return origin_of(url) == self._origin

    def _page(self, url: str) -> Answer | None:
        if not self._may(url):
            self._state.forbidden += 1
            return None
        self._state.asked += 1
        try:
            answer = self._fetcher.fetch(url, MAX_TEXT_BYTES, self._stays)
        except SiteError as error:
            self._note(str(error))
            return None
        return answer if answer.kind in _HTML else None

    def _take_page(self, url: str, answer: Answer, waiting: deque[str], wanted: dict[str, str]) -> None:
        final = tidied(answer.url) or answer.url
        digest = hashlib.sha256(answer.data).hexdigest()
        if digest in self._state.bodies or (final != url and final in self._state.seen):
            self._state.doubles += 1
            return
        self._state.bodies[digest] = final
        self._state.seen.add(final)
        data = answer.data
        markup = read_markup(decode_source(data).text)
        base = base_of(markup, answer.url)
        self._keep(file_of(final, page=True), data)
        self._state.pages += 1
        for asked in pages_asked(markup, base):
            if self._stays(asked) and asked not in self._state.seen and self._is_new_variant(asked):
                waiting.append(asked)
        for kind, asked in files_asked(markup, base):
            self._want(kind, asked, wanted)

    def _is_new_variant(self, url: str) -> bool:
        """Return whether a query variant of a path is one of the first; calendars make endless ones."""
        path = urlsplit(url)._replace(query="").geturl()
        if not urlsplit(url).query:
            return True
        self._state.variants[path] = self._state.variants.get(path, 0) + 1
        return self._state.variants[path] <= _VARIANTS

    def _want(self, kind: str, url: str, wanted: dict[str, str]) -> None:
        if self._stays(url):
            if wanted.get(url) != "style":
                wanted[url] = kind
        elif kind == "style":
            self._state.elsewhere[url] = self._state.elsewhere.get(url, 0) + 1

    def _fetch_files(self, wanted: dict[str, str]) -> None:
        """Fetch stylesheets first, with what they ask for, then everything else."""
        done = 0
        styles = deque(url for url, kind in wanted.items() if kind == "style")
        others = {url: None for url, kind in wanted.items() if kind != "style"}
        while styles and self._has_room():
            url = styles.popleft()
            if url in self._state.seen:
                continue
            self._state.seen.add(url)
            self._tell("fetching stylesheets", done, done + len(styles) + 1)
            done += 1
            answer = self._file(url, MAX_TEXT_BYTES)
            if answer is None:
                continue
            self._keep(file_of(url, page=False), answer.data)
            for kind, asked in addresses_in_css(decode_source(answer.data).text, answer.url):
                if self._stays(asked) and asked not in self._state.seen:
                    styles.append(asked) if kind == "style" else others.setdefault(asked)
        for n, url in enumerate(others):
            if url in self._state.seen or not self._has_room():
                continue
            self._state.seen.add(url)
            self._tell("fetching pictures and fonts", n, len(others))
            answer = self._file(url, MAX_FILE_BYTES)
            if answer is not None and answer.kind not in _HTML:
                self._keep(file_of(url, page=False), answer.data)

    def _file(self, url: str, most_bytes: int) -> Answer | None:
        if not self._may(url):
            self._state.forbidden += 1
            return None
        self._state.asked += 1
        try:
            return self._fetcher.fetch(url, most_bytes, self._stays)
        except SiteError as error:
            self._note(str(error))
            return None

    def _has_room(self) -> bool:
        state = self._state
        is_left = state.asked < 2 * self._most_pages + MAX_FILES and time.monotonic() - self._began < _MOST_SECONDS
        return len(state.files) < MAX_FILES and state.size < MAX_UNPACKED_BYTES and is_left

    def _keep(self, path: str, data: bytes) -> None:
        too_long = len(path) > MAX_PATH_LENGTH or any(ord(c) < 32 for c in path) or ".." in path.split("/")
        if too_long or path in self._state.files or self._state.size + len(data) > MAX_UNPACKED_BYTES:
            return
        self._state.files[path] = data
        self._state.size += len(data)

    def _note(self, sentence: str) -> None:
        if len(self._state.notes) < _TOLD and sentence not in self._state.notes:
            self._state.notes.append(sentence)

    def _finished(self) -> SiteFiles:
        state = self._state
        if state.forbidden:
            self._note(f"{_addresses(state.forbidden)} left alone, as the site's robots.txt asks.")
        if state.doubles:
            self._note(f"{_addresses(state.doubles)} not kept: the page there had come in already.")
        for url, pages in list(state.elsewhere.items())[:10]:
            self._note(
                f"The stylesheet {url} lies on another host and was not read: what it colours on "
                f"{'one page' if pages == 1 else f'{pages} pages'} is not known."
            )
        if not self._has_room():
            self._note("The site is larger than Glaucon takes (3,000 files, 250 MB). What fits was brought in.")
        return SiteFiles(state.files, state.notes, self._origin)


def _addresses(count: int) -> str:
    return "One address was" if count == 1 else f"{count} addresses were"
