"""What a crawl has met: WARC (ISO 28500), and WACZ, which packs it with a list of its pages."""

from __future__ import annotations

import json
import zipfile
import zlib
from collections.abc import Iterator
from typing import IO, Any

from warcio.archiveiterator import ArchiveIterator
from warcio.exceptions import ArchiveLoadFailed

from glaucon.core.bringing.captured import HTML, Captured, media_type, plain_address
from glaucon.core.errors import SiteError
from glaucon.core.survey.site import MAX_FILE_BYTES, MAX_UNPACKED_BYTES, Progress

_MOST_ANSWERS = 20_000
_PIECE = 65536
_BROKEN = (ArchiveLoadFailed, zlib.error, EOFError, OSError, ValueError, UnicodeError, KeyError, AttributeError)


def read_warc(handle: IO[bytes], tell: Progress, pages: frozenset[str] | None = None) -> Iterator[Captured]:
    """Yield the answers of an open WARC, packed or not; `pages` says which of them are pages, None: all HTML.

    Raises: SiteError: it is damaged, cut off, or more than is read.
    """
    size = 0
    earlier: dict[str, Captured] = {}  # by what their contents' digest is: a later record only says "the same"
    try:
        for count, record in enumerate(ArchiveIterator(handle)):
            if count % 50 == 0:
                tell("reading the archive", count, count + 50)
            one = _answer(record, pages, earlier)
            _refuse_cut_off(record)
            if one is None:
                continue
            size += len(one.data)
            if size > MAX_UNPACKED_BYTES or count > _MOST_ANSWERS:
                raise SiteError("This archive unpacks to more than 250 MB. Crawl fewer pages, and bring that.")
            yield one
    except SiteError:
        raise
    except _BROKEN as error:
        raise SiteError("This WARC is damaged or cut off. Write it once more, and bring that.") from error


def _answer(record: Any, pages: frozenset[str] | None, earlier: dict[str, Captured]) -> Captured | None:
    headers = record.rec_headers
    address = (headers.get_header("WARC-Target-URI") or "").strip("<>")
    digest = headers.get_header("WARC-Payload-Digest") or ""
    if record.rec_type == "resource":
        kind, charset = media_type(headers.get_header("Content-Type") or "")
    elif record.rec_type in ("response", "revisit") and record.http_headers is not None:
        if record.http_headers.get_statuscode() != "200":
            return None
        kind, charset = media_type(record.http_headers.get_header("Content-Type") or "")
    else:
        return None
    is_page = kind in HTML and (pages is None or plain_address(address) in pages)
    if record.rec_type == "revisit":
        same = earlier.get(digest)
        return None if same is None else Captured(address, same.kind, same.data, same.charset, is_page)
    data = record.content_stream().read(MAX_FILE_BYTES + 1)
    found = Captured(address, kind, data, charset, is_page)
    if digest:
        earlier.setdefault(digest, found)
    return found


def _refuse_cut_off(record: Any) -> None:
    while record.raw_stream.read(_PIECE):
        pass
    if record.raw_stream.limit > 0:
        raise EOFError


def is_wacz(archive: zipfile.ZipFile) -> bool:
    """Return whether an open zip is a WACZ: it has records, and says what it holds."""
    names = archive.namelist()
    return "datapackage.json" in names and any(_is_warc(name) for name in names)


def read_wacz(archive: zipfile.ZipFile, tell: Progress) -> Iterator[Captured]:
    """Yield the answers of an open WACZ. Raises: SiteError, as `read_warc`."""
    pages = _pages_of(archive)
    for entry in archive.infolist():
        if _is_warc(entry.filename):
            try:
                with archive.open(entry) as handle:
                    yield from read_warc(handle, tell, pages)
            except (zipfile.BadZipFile, NotImplementedError, RuntimeError) as error:
                raise SiteError("This WACZ is damaged. Write it once more, and bring that.") from error


def _is_warc(name: str) -> bool:
    return name.startswith("archive/") and name.endswith((".warc", ".warc.gz"))


def _pages_of(archive: zipfile.ZipFile) -> frozenset[str] | None:
    """Return the addresses that a WACZ lists as pages; None where it lists none: any HTML may be one."""
    found = set[str]()
    for name in ("pages/pages.jsonl", "pages/extraPages.jsonl"):
        try:
            with archive.open(name) as handle:
                text = handle.read(MAX_FILE_BYTES).decode("utf-8", "replace")
        except (KeyError, zipfile.BadZipFile, NotImplementedError, RuntimeError, zlib.error, EOFError):
            continue
        for line in text.splitlines():
            try:
                found.add(plain_address(str(json.loads(line)["url"])) or "")
            except (ValueError, KeyError, TypeError, RecursionError):
                continue  # its first line says what the others are
    return frozenset(found - {""}) or None
