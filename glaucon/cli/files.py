"""Files that commands read and write."""

from __future__ import annotations

import json
import os
from pathlib import Path
from typing import TYPE_CHECKING

from glaucon.core.errors import GlauconError, StudyError

if TYPE_CHECKING:
    from glaucon.core.exchange.backdrops import Source
    from glaucon.core.known.site import KnownSite
    from glaucon.core.layout.document import Layouts
    from glaucon.core.study.study import Study
    from glaucon.core.survey.site import SiteFiles


def read_json(path: Path, what: str) -> object:
    """Return a JSON file's content; `what` names the expected document in errors. Raises: StudyError."""
    try:
        return json.loads(path.read_text("utf-8"))
    except OSError as error:
        raise StudyError(f"“{path}” could not be read ({error.strerror}). Name a file of {what}.") from error
    except (json.JSONDecodeError, UnicodeDecodeError) as error:
        raise StudyError(f"“{path}” is no {what}: it is not JSON ({error}).") from error


def study_or_proposed(path: Path | None, known: KnownSite, name: str = "Proposed") -> Study:
    """Return the study of a file, else the one proposed for a site. Raises: StudyError."""
    from glaucon.core.study.study import read_study

    return known.first_study(name) if path is None else read_study(read_json(path, "study"))


def read_measured(path: Path, measured: Path | None, width: int | None = None) -> tuple[SiteFiles, Layouts]:
    """Return the site of a folder or of a file it is brought as, and its layouts of the file that was named, if any.

    Where that holds a snapshot too, the site's pages are read by it. `width` must be among the layouts.
    Raises: GlauconError.
    """
    from glaucon.core.bringing.reading import read_brought
    from glaucon.core.layout.document import read_layouts
    from glaucon.core.snapshot.document import as_it_stood, read_snapshot

    site = read_brought(path)
    if measured is None:
        return site, {}
    try:
        text = measured.read_text("utf-8")
    except (OSError, UnicodeDecodeError) as error:
        why = error.strerror if isinstance(error, OSError) else "it is no text"
        raise GlauconError(f"“{measured}” could not be read ({why}). Name a layout file.") from error
    found = read_layouts(text)
    snapshot = json.loads(text).get("snapshot")
    if width is not None and not any(width == one for _, one in found):
        raise GlauconError(f"“{measured}” holds no page at {width} px. Measure with --width {width}.")
    return site if snapshot is None else as_it_stood(site, read_snapshot(snapshot, site)), found


def pictures_beside(study: Path | None, site: SiteFiles) -> Source:
    """Return what finds a backdrop's picture: beside the study's file, else among the site's files."""
    from glaucon.core.backdrops.pictures import FOLDER

    def source(path: str) -> bytes | None:
        own = study.parent / path if study is not None else None
        is_own = own is not None and path.startswith(FOLDER) and ".." not in path.split("/") and own.is_file()
        return read_bytes(own) if own is not None and is_own else site.files.get(path)

    return source


def read_bytes(path: Path) -> bytes:
    """Return the bytes of a picture. Raises: GlauconError: it cannot be read."""
    try:
        return path.read_bytes()
    except OSError as error:
        raise GlauconError(f"“{path}” could not be read ({error.strerror}). Name a picture that is there.") from error


def as_json(value: object) -> str:
    """Return a value as JSON, as every command writes it."""
    return json.dumps(value, indent=1, ensure_ascii=False) + "\n"


def study_bytes(study: Study) -> bytes:
    """Return a study as its file holds it."""
    return as_json(study.model_dump(mode="json")).encode()


def write_out(path: Path, data: bytes) -> None:
    """Write a file whole or not at all."""
    part = path.with_name(f".{path.name}.part")
    try:
        part.write_bytes(data)
        os.replace(part, path)
    except OSError as error:
        part.unlink(missing_ok=True)
        raise GlauconError(f"“{path}” could not be written ({error.strerror}). Choose another place.") from error
