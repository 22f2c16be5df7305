"""A site's files as brought in: from a folder or an archive, within limits, never altered."""

from __future__ import annotations

import lzma
import posixpath
import stat
import zipfile
import zlib
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from pathlib import Path
from typing import IO
from urllib.parse import unquote, urlsplit

from glaucon.core.cascade.text import decode_source
from glaucon.core.errors import SiteError

MAX_ARCHIVE_BYTES = 60 * 1024 * 1024
MAX_FILES = 3000
MAX_UNPACKED_BYTES = 250 * 1024 * 1024
MAX_FILE_BYTES = 25 * 1024 * 1024
MAX_TEXT_BYTES = 5 * 1024 * 1024
MAX_PATH_LENGTH = 400

PAGE_SUFFIXES = (".html", ".htm", ".xhtml")
_IGNORED_PARTS = frozenset({"__MACOSX", ".git", ".svn", "node_modules", ".DS_Store", "Thumbs.db", "desktop.ini"})

Progress = Callable[[str, int, int], None]


@dataclass(slots=True)
class SiteFiles:
    """The files of a site by path within it (forward slashes, no leading one).

    `origin` is the scheme and host the site came from, where it came by address: its own addresses may name it.
    `most_pages` says how many of its pages are read, those nearest to its top first; 0 for all. All files are kept.
    `stood` has the HTML of pages once their scripts had run, which are read by that (see `core.snapshot`).
    """

    files: dict[str, bytes]
    notes: list[str] = field(default_factory=list)
    origin: str = ""
    most_pages: int = 0
    stood: dict[str, str] = field(default_factory=dict)

    def page_text(self, page: str) -> str:
        """Return the HTML that a page is read by."""
        stood = self.stood.get(page)
        return decode_source(self.files[page]).text if stood is None else stood

    @property
    def pages(self) -> list[str]:
        """Return the paths of the pages that are read, in path order."""
        pages = self.all_pages
        if self.most_pages and len(pages) > self.most_pages:
            nearest = sorted(pages, key=lambda path: (path.count("/"), not path.lower().startswith("index."), path))
            return sorted(nearest[: self.most_pages])
        return pages

    @property
    def all_pages(self) -> list[str]:
        """Return the paths of all pages, in path order."""
        return sorted(path for path in self.files if is_page(path))

    def resolve(self, url: str, base: str) -> str | None:
        """Return the path of the file an address names, seen from the file `base`; None if it is not here."""
        try:
            parts = urlsplit(self.without_origin(url.strip()))
        except ValueError:
            return None
        if parts.scheme or parts.netloc:
            return None
        path = unquote(parts.path)
        if not path:
            return None
        joined = path.lstrip("/") if path.startswith("/") else posixpath.join(posixpath.dirname(base), path)
        normal = posixpath.normpath(joined)
        return normal if normal in self.files else None

    def without_origin(self, url: str) -> str:
        """Return an address of the site's own without scheme and host; any other as it is."""
        if self.origin:
            host = self.origin.split("://", 1)[1]
            for start in (f"https://{host}", f"http://{host}", f"//{host}"):
                if url.lower().startswith(start) and url[len(start) : len(start) + 1] in ("", "/", "?", "#"):
                    return url[len(start) :] or "/"
        return url


def is_page(path: str) -> bool:
    """Return whether a path is that of an HTML page."""
    return path.lower().endswith(PAGE_SUFFIXES)


def read_site(path: Path) -> SiteFiles:
    """Return the site of a folder or a `.zip`.

    Raises: SiteError: one sentence saying which file and why.
    """
    if path.is_dir():
        return _read_folder(path)
    if not path.exists():
        raise SiteError(f"“{path}” does not exist. Give a folder or a .zip of a website.")
    try:
        with path.open("rb") as handle:
            return read_archive(handle)
    except OSError as error:
        raise SiteError(f"“{path}” could not be read ({error.strerror}). Check that you may open it.") from error


def _read_folder(top: Path) -> SiteFiles:
    files: dict[str, bytes] = {}
    total = 0
    for item in sorted(top.rglob("*")):
        relative = item.relative_to(top).as_posix()
        if item.is_symlink() or not item.is_file() or _is_ignored(relative):
            continue
        size = item.stat().st_size
        total += size
        _check_size(relative, size, total, len(files) + 1)
        try:
            files[relative] = item.read_bytes()
        except OSError as error:
            raise SiteError(f"“{relative}” could not be read ({error.strerror}).") from error
    return _checked(SiteFiles(files))


@dataclass(frozen=True, slots=True)
class Limits:
    """How many files an archive may hold, and how many bytes of them unpacked."""

    files: int = MAX_FILES
    unpacked: int = MAX_UNPACKED_BYTES


def read_archive(handle: IO[bytes], progress: Progress = lambda what, done, total: None) -> SiteFiles:
    """Return the site of an open zip archive; hostile archives are refused whole.

    `handle` is a seekable binary file. `progress` is told ("unpacking", files done, files in all).
    Raises: SiteError: not a zip, no page in it, links, climbing paths, too many or too large files.
    """
    return _checked(SiteFiles(_without_common_folder(read_entries(handle, progress))))


def read_entries(handle: IO[bytes], progress: Progress, limits: Limits = Limits()) -> dict[str, bytes]:
    """Return all files of an open zip archive by their paths. Raises: SiteError, as `read_archive`."""
    try:
        archive = zipfile.ZipFile(handle)
    except (zipfile.BadZipFile, OSError, ValueError, NotImplementedError, IndexError) as error:
        raise SiteError(
            "This file is not a zip archive. Pack the website's folder as a .zip and choose that."
        ) from error
    with archive:
        entries = [entry for entry in archive.infolist() if not entry.filename or not entry.is_dir()]
        kept = _checked_entries(entries, limits)
        files: dict[str, bytes] = {}
        total = 0
        for done, (name, entry) in enumerate(kept):
            progress("unpacking", done, len(kept))
            data = _read_entry(archive, entry, name)
            total += len(data)
            _check_size(name, len(data), total, len(files) + 1, limits)
            files[name] = data
    return files


def _checked_entries(entries: Iterable[zipfile.ZipInfo], limits: Limits) -> list[tuple[str, zipfile.ZipInfo]]:
    kept: list[tuple[str, zipfile.ZipInfo]] = []
    seen: set[str] = set()
    total = 0
    for entry in entries:
        name = _safe_name(entry.filename)
        if stat.S_ISLNK(entry.external_attr >> 16):
            raise SiteError(f"“{name}” in the archive is a link. Pack the files themselves and bring it again.")
        if _is_ignored(name):
            continue
        if entry.flag_bits & 0x1:
            raise SiteError(f"“{name}” in the archive is locked with a password. Pack it without one.")
        if name in seen:
            raise SiteError(f"“{name}” is in the archive twice. Pack the folder again.")
        seen.add(name)
        total += entry.file_size
        _check_size(name, entry.file_size, total, len(kept) + 1, limits)
        kept.append((name, entry))
    return kept


def _safe_name(name: str) -> str:
    normal = name.replace("\\", "/")
    if not normal.strip("/."):
        raise SiteError("A file in the archive has no name. Pack the website's folder again.")
    parts = normal.split("/")
    if normal.startswith("/") or ".." in parts or (len(parts[0]) == 2 and parts[0][1] == ":"):
        raise SiteError(f"“{name[:120]}” in the archive leads out of its folder. Pack the website's folder again.")
    if len(normal) > MAX_PATH_LENGTH or any(ord(c) < 32 for c in normal):
        shown = "".join(c if ord(c) >= 32 else "�" for c in normal[:120])
        raise SiteError(f"“{shown}” in the archive has a name that cannot be used. Rename it and pack again.")
    return posixpath.normpath(normal)


def _read_entry(archive: zipfile.ZipFile, entry: zipfile.ZipInfo, name: str) -> bytes:
    try:
        with archive.open(entry) as handle:
            # One byte more than allowed: an archive may lie about a size.
            data = handle.read(MAX_FILE_BYTES + 1)
    except (
        zipfile.BadZipFile,
        zlib.error,
        EOFError,
        NotImplementedError,
        RuntimeError,
        OSError,
        ValueError,
        lzma.LZMAError,
    ) as error:
        raise SiteError(f"“{name}” in the archive is damaged. Pack the website's folder again.") from error
    if len(data) > MAX_FILE_BYTES:
        raise SiteError(f"“{name}” is larger than 25 MB. Leave it out or make it smaller.")
    return data


def _check_size(name: str, size: int, total: int, count: int, limits: Limits = Limits()) -> None:
    if size > MAX_FILE_BYTES:
        raise SiteError(f"“{name}” is larger than 25 MB. Leave it out or make it smaller.")
    if name.lower().endswith((*PAGE_SUFFIXES, ".css")) and size > MAX_TEXT_BYTES:
        raise SiteError(f"“{name}” is larger than 5 MB, too large for a page or stylesheet. Leave it out or split it.")
    if total > limits.unpacked:
        most = limits.unpacked // (1024 * 1024)
        raise SiteError(
            f"The site is larger than {most} MB unpacked. Leave out films and downloads and bring it again."
        )
    if count > limits.files:
        most = limits.files
        raise SiteError(
            f"The site has more than {most:,} files. Leave out what the pages do not show and bring it again."
        )


def _is_ignored(name: str) -> bool:
    return any(part in _IGNORED_PARTS for part in name.split("/"))


def _without_common_folder(files: dict[str, bytes]) -> dict[str, bytes]:
    """Return the files without the one folder that packing a folder puts around them."""
    tops = {path.split("/", 1)[0] for path in files}
    if len(tops) != 1 or any("/" not in path for path in files):
        return files
    return {path.split("/", 1)[1]: data for path, data in files.items()}


def _checked(site: SiteFiles) -> SiteFiles:
    if not site.pages:
        raise SiteError("There is no HTML page in it. Bring the folder that holds index.html and its pages.")
    return site
