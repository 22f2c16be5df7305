"""Backups: the database as it stands at one moment, and every file that it names, checked, while Glaucon runs.

A backup is a zip archive. `manifest.json` says when it was made, by which version of the data, and names every file
with its SHA-256 and size. Surveys, previews and all else that can be made again are left out.
"""

from __future__ import annotations

import contextlib
import fcntl
import hashlib
import json
import os
import shutil
import sqlite3
import tempfile
import zipfile
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path
from typing import IO, Any

from glaucon.apps.bringing.tidying import BACKUP_LOCK
from glaucon.apps.sites.blobs import blob_path, is_whole
from glaucon.core.errors import GlauconError

FORMAT = 1
DATABASE = "glaucon.sqlite3"
_PIECE = 1 << 20
_NAMING = (
    ("glaucon_sites_sitefile", "blob"), ("glaucon_sites_sitefile", "stood"), ("glaucon_sites_sitepicture", "blob"),
    ("glaucon_releases_releasefile", "blob"),
)  # fmt: skip


class BackupError(GlauconError):
    """A backup that cannot be made or restored; the sentence says why and what to do."""


def make_backup(data: Path, target: Path) -> dict[str, Any]:
    """Write a backup of some data to a file that is there whole or not at all; return its manifest.

    Raises: BackupError: the target is there already, a file that the database names is missing, or there is no room.
    """
    if target.exists():
        raise BackupError(f"{target} is there already. Choose another name, or move it away first.")
    with _sole_backup(data), tempfile.TemporaryDirectory(dir=data, prefix=".backup-") as folder:
        copy = Path(folder) / DATABASE
        _copy_database(data / DATABASE, copy)
        new = target.with_name(f".new-{target.name}")
        try:
            manifest = _write(data, copy, new)
            check_archive(new)
            os.replace(new, target)
        except OSError as error:
            raise BackupError(
                f"{target} cannot be written ({error.strerror}). Choose a folder with more room."
            ) from error
        finally:
            new.unlink(missing_ok=True)
    return manifest


@contextlib.contextmanager
def _sole_backup(data: Path) -> Iterator[None]:
    """Hold the lock that keeps tidying away from what a backup names."""
    with (data / BACKUP_LOCK).open("ab") as file:
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as error:
            raise BackupError("A backup of this data is being made already. Wait until it is done.") from error
        yield


def _copy_database(source: Path, copy: Path) -> None:
    if not source.exists():
        raise BackupError(f"There is no database in {source.parent}. Set GLAUCON_DATA to the folder that has one.")
    with contextlib.closing(sqlite3.connect(source)) as live, contextlib.closing(sqlite3.connect(copy)) as made:
        live.backup(made, pages=2000, sleep=0.01)
        if (told := made.execute("PRAGMA integrity_check").fetchone()[0]) != "ok":
            raise BackupError(f"The database is damaged ({told[:120]}). Restore the last good backup.")
        made.execute("PRAGMA journal_mode=DELETE")


def _write(data: Path, copy: Path, target: Path) -> dict[str, Any]:
    files: dict[str, dict[str, Any]] = {}
    with zipfile.ZipFile(target, "w", zipfile.ZIP_STORED, allowZip64=True) as archive:
        for name, path in (*_named_files(data, copy), (DATABASE, copy)):
            files[name] = _add(archive, name, path)
        manifest = {
            "format": FORMAT, "made": datetime.now(UTC).isoformat(timespec="seconds"),
            "migrations": _migrations(copy), "files": files,
        }  # fmt: skip
        archive.writestr("manifest.json", json.dumps(manifest))
    with target.open("rb") as file:
        os.fsync(file.fileno())
    return manifest


def _blobs(database: sqlite3.Connection) -> list[str]:
    """Return the names of all blobs that a database names; one of an earlier version names fewer kinds."""
    found = set[str]()
    for table, column in _NAMING:
        if column in {row[1] for row in database.execute(f"PRAGMA table_info({table})")}:
            found |= {blob for (blob,) in database.execute(f"SELECT {column} FROM {table}") if blob}
    return sorted(found)


def _named_files(data: Path, copy: Path) -> Iterator[tuple[str, Path]]:
    """Yield what a database names, and the layouts that browsers have measured."""
    with contextlib.closing(sqlite3.connect(copy)) as database:
        for blob in _blobs(database):
            path = blob_path(blob, data / "blobs")
            if not path.exists():
                raise BackupError(f"The file {blob} is missing, which a site needs. Run glaucon-admin check.")
            yield f"blobs/{blob[:2]}/{path.name}", path
    for path in sorted((data / "layouts").glob("*/*.json.gz")):
        yield f"layouts/{path.parent.name}/{path.name}", path


def _add(archive: zipfile.ZipFile, name: str, path: Path) -> dict[str, Any]:
    digest, size = hashlib.sha256(), 0
    with path.open("rb") as source, archive.open(zipfile.ZipInfo(name), "w", force_zip64=True) as target:
        while piece := source.read(_PIECE):
            digest.update(piece)
            size += len(piece)
            target.write(piece)
    if name.startswith("blobs/") and not is_whole(path):
        raise BackupError(f"The file {path.name} is damaged. Run glaucon-admin check to see whose it is.")
    return {"sha256": digest.hexdigest(), "size": size}


def _migrations(copy: Path) -> list[str]:
    with contextlib.closing(sqlite3.connect(copy)) as database:
        return sorted(f"{app}.{name}" for app, name in database.execute("SELECT app, name FROM django_migrations"))


def check_archive(path: Path) -> dict[str, Any]:
    """Return the manifest of a backup whose every file is there and as it was. Raises: BackupError: it is not so."""
    try:
        with zipfile.ZipFile(path) as archive:
            manifest: dict[str, Any] = json.loads(archive.read("manifest.json"))
            if manifest.get("format") != FORMAT:
                raise BackupError(f"{path} is a backup of another format. Restore it with the version that made it.")
            for name, said in manifest["files"].items():
                if not _is_plain(name):
                    raise BackupError(f"{path} names a file outside of the data. It was not made by Glaucon.")
                with archive.open(name) as file:
                    if _digest(file) != said["sha256"]:
                        raise BackupError(f"{path} is damaged at {name}. Take another backup.")
    except (zipfile.BadZipFile, KeyError, ValueError, TypeError, AttributeError, EOFError, OSError) as error:
        raise BackupError(f"{path} is no backup that can be read. Take another one.") from error
    return manifest


def _digest(file: IO[bytes]) -> str:
    digest = hashlib.sha256()
    while piece := file.read(_PIECE):
        digest.update(piece)
    return digest.hexdigest()


def _is_plain(name: str) -> bool:
    parts = name.split("/")
    return name == DATABASE or (
        parts[0] in ("blobs", "layouts", "stood")
        and len(parts) == 3
        and all(p and not p.startswith(".") for p in parts)
    )


def restore(data: Path, source: Path, over: bool = False) -> dict[str, Any]:
    """Put a backup in place; the database comes last, in one step, so that whatever ends this leaves a whole state.

    Raises: BackupError: the backup is damaged, or there is a database and `over` does not say that it goes.
    """
    manifest = check_archive(source)
    data.mkdir(parents=True, exist_ok=True)
    if (data / DATABASE).exists() and not over:
        raise BackupError(f"{data} has a database already. Choose an empty folder, or add --over to replace it.")
    with tempfile.TemporaryDirectory(dir=data, prefix=".restoring-") as folder, zipfile.ZipFile(source) as archive:
        for name in manifest["files"]:
            if name == DATABASE:
                continue
            path = data / name
            if not (path.exists() and path.stat().st_size == manifest["files"][name]["size"]):
                _unpack(archive, name, path, Path(folder))
        _unpack(archive, DATABASE, Path(folder) / DATABASE, Path(folder))
        _close_log(data / DATABASE)
        os.replace(Path(folder) / DATABASE, data / DATABASE)
    shutil.rmtree(data / "surveys", ignore_errors=True)  # made again of what is there now
    return manifest


def _unpack(archive: zipfile.ZipFile, name: str, path: Path, folder: Path) -> None:
    path.parent.mkdir(parents=True, exist_ok=True)
    handle, new = tempfile.mkstemp(dir=folder)
    with os.fdopen(handle, "wb") as target, archive.open(name) as source:
        shutil.copyfileobj(source, target, _PIECE)
        target.flush()
        os.fsync(target.fileno())
    os.replace(new, path)


def _close_log(database: Path) -> None:
    """Write what a database's log still holds into it and remove the log: beside another database it would harm."""
    if database.exists():
        with contextlib.suppress(sqlite3.DatabaseError), contextlib.closing(sqlite3.connect(database)) as old:
            old.execute("PRAGMA wal_checkpoint(TRUNCATE)")
            old.execute("PRAGMA journal_mode=DELETE")
    for ending in ("-wal", "-shm"):
        database.with_name(database.name + ending).unlink(missing_ok=True)
