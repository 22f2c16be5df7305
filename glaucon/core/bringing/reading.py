"""A site from whatever it is brought as: a folder, a zip of one, pages a browser saved, an archive of a crawl."""

from __future__ import annotations

import base64
import binascii
import hashlib
import io
import mimetypes
import re
import zipfile
from pathlib import Path
from typing import IO
from urllib.parse import unquote_to_bytes

from glaucon.core.bringing.captured import Captured, as_bytes, site_of
from glaucon.core.bringing.har import read_har
from glaucon.core.bringing.mhtml import read_mhtml
from glaucon.core.bringing.warc import is_wacz, read_wacz, read_warc
from glaucon.core.cascade.markup import read_markup
from glaucon.core.cascade.text import decode_source
from glaucon.core.errors import SiteError
from glaucon.core.survey.site import MAX_TEXT_BYTES, Progress, SiteFiles, is_page, read_archive, read_entries, read_site

_HEAD = 4096
_CAPTURES = (".mhtml", ".mht", ".har", ".warc", ".warc.gz", ".wacz")
_MHTML = re.compile(rb"^(?:content-type:\s*multipart/related|mime-version:|snapshot-content-location:)", re.I | re.M)
_PAGE = re.compile(rb"<(?:!doctype\s+html|html|head|body|!--|meta|title|link|style)[\s>-]", re.I)
_NOTHING = (
    "This file is no website: neither a .zip of its folder, nor a page saved by a browser (.mhtml, .html), nor an "
    "archive of a visit (.har, .warc, .wacz)."
)


def _quietly(what: str, done: int, total: int) -> None:
    pass


def read_brought(path: Path) -> SiteFiles:
    """Return the site of a folder or of any file that one is brought as. Raises: SiteError."""
    if path.is_dir() or not path.exists():
        return read_site(path)
    try:
        with path.open("rb") as handle:
            return read_open(handle)
    except OSError as error:
        raise SiteError(f"“{path}” could not be read ({error.strerror}). Check that you may open it.") from error


def read_open(handle: IO[bytes], tell: Progress = _quietly) -> SiteFiles:
    """Return the site of an open, seekable file, told by what is in it. Raises: SiteError: it is none."""
    handle.seek(0)
    head = handle.read(_HEAD)
    handle.seek(0)
    if head.startswith(b"PK"):
        return _of_zip(handle, tell)
    captured = _captured(head, handle, tell)
    if captured is not None:
        return site_of(captured, "This file")
    if _PAGE.search(head):
        return _of_page(handle.read(MAX_TEXT_BYTES * 6 + 1))
    raise SiteError(_NOTHING)


def _captured(head: bytes, handle: IO[bytes], tell: Progress) -> list[Captured] | None:
    if head.startswith((b"WARC/", b"\x1f\x8b")):
        return list(read_warc(handle, tell))
    if head.lstrip(b"\xef\xbb\xbf \t\r\n").startswith(b"{"):
        return read_har(handle.read())
    if _MHTML.search(head) and not head.lstrip().startswith(b"<"):
        return read_mhtml(handle.read())
    return None


def _of_zip(handle: IO[bytes], tell: Progress) -> SiteFiles:
    """Return the site of a zip: a folder's, a WACZ, or one with what a browser saved, a file for each page."""
    try:
        archive = zipfile.ZipFile(handle)
    except (zipfile.BadZipFile, OSError, ValueError, NotImplementedError, IndexError):
        return read_archive(handle, tell)  # which says so
    with archive:
        if is_wacz(archive):
            return site_of(list(read_wacz(archive, tell)), "This WACZ")
        names = [name for name in archive.namelist() if not name.startswith("__MACOSX/")]
    handle.seek(0)
    if not any(name.lower().endswith(_CAPTURES) for name in names) or any(is_page(name) for name in names):
        return read_archive(handle, tell)
    found: list[Captured] = []
    for name, data in read_entries(handle, tell).items():
        if name.lower().endswith(_CAPTURES):
            found += _of_entry(name, data, tell)
    return site_of(found, "This .zip")


def _of_entry(name: str, data: bytes, tell: Progress) -> list[Captured]:
    if not data.startswith(b"PK"):
        return _captured(data[:_HEAD], io.BytesIO(data), tell) or []
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            return list(read_wacz(archive, tell))
    except (zipfile.BadZipFile, NotImplementedError) as error:
        raise SiteError(f"“{name}” in the archive is damaged. Write it once more, and bring that.") from error


_SHEET = re.compile(r"^data:text/css((?:;[\w-]+(?:=[^;,]*)?)*),", re.I)


def _of_page(data: bytes) -> SiteFiles:
    """Return the site of one page with everything in it. Sheets that it links to within itself become its own."""
    text = decode_source(data).text
    markup = read_markup(text)
    pieces, at = [], 0
    for tag in markup.tags:
        href = tag.attribute("href") if tag.name == "link" else None
        rel = tag.attribute("rel")
        if href is None or rel is None or "stylesheet" not in rel.value.lower().split():
            continue
        sheet = _sheet_in(href.value)
        if sheet is not None and "</style" not in sheet.lower():
            media = tag.attribute("media")
            kept = f' media="{media.raw}"' if media is not None else ""
            pieces += [text[at : tag.start], f"<style{kept}>{sheet}</style>"]
            at = tag.end
    if pieces:
        data = as_bytes("".join([*pieces, text[at:]]))
    files = {"index.html": data}
    if len(data) > MAX_TEXT_BYTES:
        files = _with_parts_beside("".join([*pieces, text[at:]]))
    if len(files["index.html"]) > MAX_TEXT_BYTES:
        raise SiteError("This page is larger than 5 MB without its pictures, too large to be read. Split it.")
    return SiteFiles(files)


_PART = re.compile(r"data:((?:image|font|audio|video|application)/[\w.+-]+);base64,([A-Za-z0-9+/=%\s]{4000,})", re.I)


def _with_parts_beside(text: str) -> dict[str, bytes]:
    """Return a page that is large with what is in it, and its pictures and fonts as files of their own."""
    files: dict[str, bytes] = {}

    def beside(match: re.Match[str]) -> str:
        try:
            data = base64.b64decode(unquote_to_bytes(match.group(2)))
        except (binascii.Error, ValueError):
            return match.group(0)
        path = f"parts/{hashlib.sha256(data).hexdigest()[:16]}{mimetypes.guess_extension(match.group(1)) or ''}"
        files[path] = data
        return path

    return {"index.html": as_bytes(_PART.sub(beside, text)), **files}


def _sheet_in(address: str) -> str | None:
    found = _SHEET.match(address.strip())
    if found is None:
        return None
    try:
        body = unquote_to_bytes(address.strip()[found.end() :])
        return decode_source(base64.b64decode(body) if ";base64" in found.group(1).lower() else body).text
    except (binascii.Error, ValueError):
        return None
