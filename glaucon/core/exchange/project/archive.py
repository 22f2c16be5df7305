"""Project archives written and read. What is read is hostile until all of it has been checked."""

from __future__ import annotations

import hashlib
import json
import zipfile
from collections import Counter
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from typing import IO, Any

from pydantic import ValidationError

from glaucon.core.backdrops.pictures import FOLDER
from glaucon.core.errors import GlauconError, SiteError
from glaucon.core.exchange.project.document import FORMAT, KIND, KeptStudy, Project, RevisionAt
from glaucon.core.layout.document import read_page_layout
from glaucon.core.study.study import Study, read_study
from glaucon.core.survey.site import Limits, Progress, is_page, read_entries
from glaucon.core.validation import told_error

DOCUMENT = "project.json"
_STAMP = (1980, 1, 1, 0, 0, 0)  # the same contents make the same archive
_LIMITS = Limits(files=40_000, unpacked=600 * 1024 * 1024)
_AGAIN = "Save the project anew where it comes from, and bring that"


@dataclass(frozen=True, slots=True)
class ReadProject:
    """A project as it was read: its document, the site's files by path, all contents by SHA-256, and its studies.

    `documents` are the revisions as they were written, by the study's place from 1 and the revision's number.
    """

    document: Project
    files: dict[str, bytes]
    contents: dict[str, bytes]
    documents: dict[tuple[int, int], dict[str, Any]]
    layouts: dict[tuple[str, int], Any]


def digest(data: bytes) -> str:
    """Return the SHA-256 of some bytes, in hex."""
    return hashlib.sha256(data).hexdigest()


def document_bytes(document: object) -> bytes:
    """Return a JSON document as it lies in an archive."""
    return (json.dumps(document, indent=1, ensure_ascii=False) + "\n").encode()


def write_project(
    out: IO[bytes], project: Project, content: Callable[[str], bytes], document: Callable[[int, int], bytes],
    layout: Callable[[str], bytes],
) -> None:  # fmt: skip
    """Write an archive; `content` gives a file's bytes by SHA-256, `document` a revision's, `layout` a layout's."""
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as archive:
        _add(archive, DOCUMENT, document_bytes(project.model_dump(mode="json")))
        there = set[str]()
        for path, sha256 in _plain(project):
            _add(archive, path, content(sha256))
            there.add(sha256)
        for place, study in enumerate(project.studies, start=1):
            for one in study.revisions:
                _add(archive, _document_path(place, one.number), document(place, one.number))
        for sha256 in dict.fromkeys(one.sha256 for one in project.layouts):
            _add(archive, f"layouts/{sha256}.json", layout(sha256))
        for release in project.releases:
            for file in release.files:
                if file.sha256 not in there:
                    there.add(file.sha256)
                    _add(archive, f"content/{file.sha256}", content(file.sha256))


def _add(archive: zipfile.ZipFile, path: str, data: bytes) -> None:
    entry = zipfile.ZipInfo(path, _STAMP)
    entry.compress_type, entry.external_attr = zipfile.ZIP_DEFLATED, 0o644 << 16
    archive.writestr(entry, data)


def _plain(project: Project) -> Iterator[tuple[str, str]]:
    """Yield where the site's own files lie in the archive, and what its scripts made of them, each with its SHA-256."""
    yield from ((f"site/{one.path}", one.sha256) for one in project.files)
    yield from ((one.path, one.sha256) for one in project.pictures)
    own = {one.sha256 for one in project.files}
    stood = dict.fromkeys(one.stood for one in project.files if one.stood is not None)
    yield from ((f"content/{sha256}", sha256) for sha256 in stood if sha256 not in own)


def _document_path(place: int, number: int) -> str:
    return f"studies/{place}/{number:06}.json"


def is_project(handle: IO[bytes]) -> bool:
    """Return whether an open archive says that it is a project; it may still be a broken one."""
    try:
        with zipfile.ZipFile(handle) as archive, archive.open(DOCUMENT) as file:
            return f'"{KIND}"'.encode() in file.read(400)
    except (zipfile.BadZipFile, KeyError, OSError, ValueError, RuntimeError, NotImplementedError, EOFError):
        return False
    finally:
        handle.seek(0)


def read_project(handle: IO[bytes], progress: Progress = lambda what, done, total: None) -> ReadProject:
    """Return the project of an open archive. Raises: SiteError: one sentence saying what is wrong with it."""
    entries = read_entries(handle, progress, _LIMITS)
    project = _document(entries)
    _check_shape(project)
    contents = dict[str, bytes]()
    for path, sha256 in _plain(project):
        contents[sha256] = _held(entries, path, sha256)
    files = {one.path: contents[one.sha256] for one in project.files}
    for release in project.releases:
        for one in release.files:
            if one.sha256 not in contents:
                contents[one.sha256] = _held(entries, f"content/{one.sha256}", one.sha256)
    documents = {
        (place, one.number): _study(entries, _document_path(place, one.number), one.sha256)
        for place, study in enumerate(project.studies, start=1)
        for one in study.revisions
    }
    layouts = {(one.page, one.width): _layout(entries, one.sha256) for one in project.layouts}
    return ReadProject(project, files, contents, documents, layouts)


def _document(entries: dict[str, bytes]) -> Project:
    data = entries.get(DOCUMENT)
    if data is None:
        raise SiteError(f"There is no {DOCUMENT} in this archive. {_AGAIN}.")
    document = _json(DOCUMENT, data)
    if isinstance(document, dict) and document.get("kind") == KIND and document.get("format") != FORMAT:
        raise SiteError("This project was saved by a newer Glaucon. Bring it in there, or update this one first.")
    try:
        return Project.model_validate(document)
    except ValidationError as error:
        raise SiteError(f"This project cannot be read: {told_error(error)}. {_AGAIN}.") from error


def _json(path: str, data: bytes) -> object:
    try:
        return json.loads(data)
    except (ValueError, RecursionError) as error:
        raise SiteError(f"“{path}” in the project is not JSON. {_AGAIN}.") from error


def _held(entries: dict[str, bytes], path: str, sha256: str) -> bytes:
    """Return a content of the archive that is what the project says it is."""
    data = entries.get(path)
    if data is None:
        raise SiteError(f"“{path[:120]}” is missing from the project. {_AGAIN}.")
    if digest(data) != sha256:
        raise SiteError(f"“{path[:120]}” in the project is not what was saved. {_AGAIN}.")
    return data


def _study(entries: dict[str, bytes], path: str, sha256: str) -> dict[str, Any]:
    document = _json(path, _held(entries, path, sha256))
    try:
        study: Study = read_study(document)
    except GlauconError as error:
        raise SiteError(f"“{path}” in the project is no study: {error}") from error
    return study.model_dump(mode="json")


def _layout(entries: dict[str, bytes], sha256: str) -> Any:
    path = f"layouts/{sha256}.json"
    document = _json(path, _held(entries, path, sha256))
    try:
        read_page_layout(document)
    except GlauconError as error:
        raise SiteError(f"A layout in the project cannot be read: {error}") from error
    return document


def _check_shape(project: Project) -> None:
    """Raise SiteError where what a project says does not hang together."""
    _once("file", (one.path for one in project.files))
    _once("picture", (one.path for one in project.pictures))
    _once("layout", (f"{one.page} at {one.width} px" for one in project.layouts))
    _once("release", (f"number {one.number}" for one in project.releases))
    pages = {one.path for one in project.files if is_page(one.path)}
    _need(bool(pages), "it has no HTML page")
    _need(all(one.stood is None or one.path in pages for one in project.files), "scripts made a page of what is none")
    _need(all(one.page in pages for one in project.layouts), "a layout is of a page that it does not have")
    _need(all(one.path.startswith(FOLDER) for one in project.pictures), "a picture lies elsewhere")
    opened = [one for one in project.studies if one.is_open and one.deleted is None]
    _need(len(opened) == 1 == sum(one.is_open for one in project.studies), "not one of its studies is open")
    for study in project.studies:
        _check_study(study)
    _need(sum(one.is_live for one in project.releases) <= 1, "two of its releases are live")
    for release in project.releases:
        _once("file of a release", (one.path for one in release.files))
        _need((release.number == 0) == (release.revision is None), "a release is of no study")
        paths = {one.path for one in release.files}
        _need(not release.statement or release.statement in paths, "a release lacks the statement that it names")
    named = [one.revision for one in project.releases if one.revision is not None]
    named += [project.download.revision] if project.download is not None else []
    _need(all(_is_there(project, one) for one in named), "a release is of a revision that it does not have")


def _check_study(study: KeptStudy) -> None:
    numbers = [one.number for one in study.revisions]
    _once("revision", (f"{number} of “{study.name}”" for number in numbers))
    known = set(numbers)
    _need(study.current in known, f"the study “{study.name}” stands on a revision that is not there")
    is_made_of = all(one.base is None or (one.base in known and one.base < one.number) for one in study.revisions)
    _need(is_made_of, f"a revision of “{study.name}” is made from one that is not there")


def _is_there(project: Project, at: RevisionAt) -> bool:
    if at.study > len(project.studies):
        return False
    return any(one.number == at.number for one in project.studies[at.study - 1].revisions)


def _once(what: str, names: Iterable[str]) -> None:
    twice = next((name for name, count in Counter(names).items() if count > 1), None)
    if twice is not None:
        raise SiteError(f"This project cannot be read: the {what} {twice[:120]} is in it twice. {_AGAIN}.")


def _need(holds: bool, otherwise: str) -> None:
    if not holds:
        raise SiteError(f"This project cannot be read: {otherwise}. {_AGAIN}.")
