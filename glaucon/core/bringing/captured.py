"""What a browser or a crawl has kept of a site, answer by answer, laid down as the files of that site."""

from __future__ import annotations

import html
import posixpath
import re
from collections import Counter
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from urllib.parse import quote, unquote, urljoin, urlsplit

from glaucon.core.bringing.links import addresses_written, base_of, file_of, origin_of, tags_asking, tidied
from glaucon.core.cascade.markup import Markup, read_markup
from glaucon.core.cascade.text import decode_source
from glaucon.core.errors import SiteError
from glaucon.core.survey.site import (
    MAX_FILE_BYTES,
    MAX_FILES,
    MAX_PATH_LENGTH,
    MAX_TEXT_BYTES,
    MAX_UNPACKED_BYTES,
    SiteFiles,
    is_page,
)

HTML = ("text/html", "application/xhtml+xml")
_ELSEWHERE = "elsewhere"  # where files of other hosts are kept
_ON_DISK = "file://"


@dataclass(frozen=True, slots=True)
class Captured:
    """An answer as it was kept: where from (http, https, file or cid), its media type, its bytes.

    `charset` is what the answer's header said, "" for nothing. `is_page`: somebody looked at it as a page of its own.
    """

    address: str
    kind: str
    data: bytes
    charset: str = ""
    is_page: bool = False


def site_of(captured: Iterable[Captured], what: str) -> SiteFiles:
    """Return the site that most of the captured pages belong to; `what` names their archive, as in "This WARC".

    A page keeps its place, so that what it asks of its own host is found as it stands. What other hosts gave it is kept
    in a folder, and asked for there. Raises: SiteError: there is no page.
    """
    kept: dict[str, Captured] = {}
    notes = _Notes()
    for one in captured:
        address = plain_address(one.address)
        if address is None or (one.kind in HTML and not one.is_page):
            continue
        most = MAX_TEXT_BYTES if one.is_page or one.kind == "text/css" else MAX_FILE_BYTES
        if len(one.data) > most:
            notes.large += 1
        elif address not in kept:
            kept[address] = one
        elif kept[address].data != one.data:
            notes.others += 1
    hosts = Counter(_host(address) for address, one in kept.items() if one.is_page)
    if not hosts:
        raise SiteError(f"{what} holds no web page. Save a page of the site with all its parts, and bring that.")
    home = max(hosts, key=lambda host: hosts[host])
    notes.strangers = sum(hosts.values()) - hosts[home]
    own = {address: one for address, one in kept.items() if not one.is_page or _host(address) == home}
    return _Laying(own, home, notes).site()


def plain_address(text: str) -> str | None:
    """Return an address as two that mean the same are written; None: it is none that a file could have come from."""
    text = text.strip()
    if text.lower().startswith("cid:"):
        return "cid:" + text[4:]
    if text.lower().startswith("file:"):
        return _ON_DISK + "/" + posixpath.normpath(unquote(urlsplit(text).path).replace("\\", "/")).lstrip("/")
    return tidied(text)


@dataclass(slots=True)
class _Notes:
    large: int = 0
    others: int = 0
    strangers: int = 0
    unfit: int = 0

    def sentences(self) -> list[str]:
        """Return what was left out, in words."""
        told = [
            (self.strangers, "page of other hosts was left out: a site is one host's.",
             "pages of other hosts were left out: a site is one host's."),
            (self.large, "file larger than Glaucon reads was left out.",
             "files larger than Glaucon reads were left out."),
            (self.others, "answer was left out: its address had given another one before.",
             "answers were left out: their addresses had given others before."),
            (self.unfit, "file was left out: its address cannot be a file's name, or there was no more room.",
             "files were left out: their addresses cannot be files' names, or there was no more room."),
        ]  # fmt: skip
        return [f"{count:,} {one if count == 1 else more}" for count, one, more in told if count]


@dataclass(slots=True)
class _Laying:
    """Lays answers down as files: those of `home`, and what they ask of others."""

    kept: dict[str, Captured]
    home: str
    notes: _Notes
    top: str = ""  # the folder that a site lies in on disk
    files: dict[str, bytes] = field(default_factory=dict)
    size: int = 0
    waiting: list[str] = field(default_factory=list)

    def site(self) -> SiteFiles:
        pages = [address for address, one in self.kept.items() if one.is_page]
        if self.home == _ON_DISK:
            self.top = posixpath.commonpath([posixpath.dirname(urlsplit(one).path) for one in pages])
        self.waiting = [*pages, *(one for one in self.kept if _host(one) == self.home)]
        done = set[str]()
        while self.waiting:
            address = self.waiting.pop(0)
            if address not in done:
                done.add(address)
                self._lay(address)
        origin = "" if self.home == _ON_DISK else self.home
        return SiteFiles(self.files, self.notes.sentences(), origin)

    def _lay(self, address: str) -> None:
        one, path = self.kept[address], self._path(address)
        is_unfit = len(path) > MAX_PATH_LENGTH or any(ord(c) < 32 for c in path) or (is_page(path) and not one.is_page)
        if is_unfit or path in self.files or len(self.files) >= MAX_FILES:
            self.notes.unfit += 1
            return
        data = as_told(one.data, one.charset) if one.is_page or one.kind == "text/css" else one.data
        if one.is_page:
            data = self._page(data, address, path)
        elif one.kind == "text/css" or path.endswith(".css"):
            data = self._sheet(data, address, path)
        self.size += len(data)
        if self.size > MAX_UNPACKED_BYTES:
            self.notes.unfit += 1
            return
        self.files[path] = data

    def _path(self, address: str) -> str:
        one, parts = self.kept[address], urlsplit(address)
        if parts.scheme == "cid":
            name = re.sub(r"[^A-Za-z0-9._-]+", "-", address[4:])[-80:]
            return f"{_ELSEWHERE}/parts/{name}{'.css' if one.kind == 'text/css' else ''}"
        if parts.scheme == "file":
            inside = posixpath.relpath(parts.path, self.top)
            path = inside if not inside.startswith("..") else f"{_ELSEWHERE}/{posixpath.basename(parts.path)}"
            return path if not one.is_page or is_page(path) else f"{path}.html"
        if _host(address) == self.home:
            return file_of(address, page=one.is_page)
        # what a query tells apart is told apart here: there is no other way back to it than this one
        bare, dot, suffix = (unquote(parts.path).strip("/") or "index").rpartition(".")
        query = f"~{re.sub(r'[^A-Za-z0-9=_-]+', '-', parts.query)[:80]}" if parts.query else ""
        path = f"{bare}{query}{dot}{suffix}" if dot and "/" not in suffix else f"{bare}{dot}{suffix}{query}"
        return f"{_ELSEWHERE}/{parts.netloc.replace(':', '-')}/{path}"

    def _page(self, data: bytes, address: str, path: str) -> bytes:
        source = decode_source(data)
        markup = read_markup(source.text)
        return _with(data, source.text, self._edits_of_page(markup, base_of(markup, address), path))

    def _edits_of_page(self, markup: Markup, base: str, path: str) -> list[tuple[int, int, str]]:
        def turned(text: str) -> str | None:
            return self._turned(text, base, path)

        edits: list[tuple[int, int, str]] = []
        for attribute, form in tags_asking(markup):
            value = attribute.value
            new = _replaced(value, form, turned)
            if new != value:
                edits.append((attribute.start, attribute.end, html.escape(new)))
        for tag in markup.tags:
            if tag.name == "style" and tag.content:
                text = markup.source[slice(*tag.content)]
                new = _replaced(text, "css", turned)
                if new != text:
                    edits.append((*tag.content, new))
        return edits

    def _sheet(self, data: bytes, address: str, path: str) -> bytes:
        source = decode_source(data)
        base = self._base_of_sheet(address)
        new = _replaced(source.text, "css", lambda text: self._turned(text, base, path))
        return data if new == source.text else _with(data, source.text, [(0, len(source.text), new)])

    def _base_of_sheet(self, address: str) -> str:
        """Return where a sheet's own addresses start from: one that stood in a page, at that page."""
        if not address.startswith("cid:"):
            return address
        return next((page for page, one in self.kept.items() if one.is_page and address.encode() in one.data), address)

    def _turned(self, text: str, base: str, path: str) -> str | None:
        """Return how the file at `path` asks for what it called by an address; None: as it does."""
        text = text.strip()
        if not text or text.startswith(("#", "data:")):
            return None
        try:
            address = plain_address(text if base.startswith("cid:") else urljoin(base, text))
        except ValueError:
            return None
        if address is None or address not in self.kept:
            return None
        if self.kept[address].is_page and self.home != _ON_DISK:
            return None
        is_at_home = _host(address) == self.home and self.home != _ON_DISK
        if is_at_home and not path.startswith(f"{_ELSEWHERE}/"):
            return None
        self.waiting.append(address)
        return quote(posixpath.relpath(self._path(address), posixpath.dirname(path) or "."), safe="/~=")


def _host(address: str) -> str:
    """Return what pages of one site have in common: scheme and host."""
    return _ON_DISK if address.startswith(_ON_DISK) else "" if address.startswith("cid:") else origin_of(address)


def _replaced(text: str, form: str, turned: Callable[[str], str | None]) -> str:
    pieces, at = [], 0
    for start, end in addresses_written(text, form):
        new = turned(text[start:end])
        if new is not None:
            pieces += [text[at:start], new]
            at = end
    return "".join([*pieces, text[at:]])


def _with(data: bytes, text: str, edits: list[tuple[int, int, str]]) -> bytes:
    if not edits:
        return data
    pieces, at = [], 0
    for start, end, new in sorted(edits):
        pieces += [text[at:start], new]
        at = end
    return as_bytes("".join([*pieces, text[at:]]))


def as_told(data: bytes, charset: str) -> bytes:
    """Return a text file so that it is read in the charset its answer named, which goes before what it says itself."""
    try:
        text = data.decode(charset, "replace") if charset else None
    except LookupError:
        text = None
    return data if text is None or decode_source(data).text == text else as_bytes(text)


def as_bytes(text: str) -> bytes:
    """Return a text as bytes that are read as that text, whatever charset it says it is in."""
    data = text.encode("utf-8", "replace")
    return data if decode_source(data).text == text else b"\xef\xbb\xbf" + data


def media_type(header: str) -> tuple[str, str]:
    """Return a Content-Type's media type and its charset, in lower case."""
    kind, _, rest = header.partition(";")
    found = re.search(r"charset\s*=\s*[\"']?([\w.:-]+)", rest, re.I)
    return kind.strip().lower(), found.group(1).lower() if found else ""
