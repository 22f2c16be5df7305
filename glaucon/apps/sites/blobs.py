"""File contents, kept once each under the name of their hash, packed where that saves room.

A blob is written whole or not at all: as it is, or as NAME.zst (zstandard).
"""

from __future__ import annotations

import hashlib
import os
import tempfile
from pathlib import Path

import zstandard
from django.conf import settings

PACKED = ".zst"
_SAVES = 0.9  # of its size, at the most: what is packed already gains nothing
_LEVEL = 9


def _folder() -> Path:
    return Path(settings.DATA_DIR) / "blobs"


def blob_path(name: str, folder: Path | None = None) -> Path:
    """Return where a blob lies, or would lie as it is."""
    path = (folder or _folder()) / name[:2] / name
    packed = path.with_name(name + PACKED)
    return packed if packed.exists() and not path.exists() else path


def put_blob(data: bytes) -> str:
    """Keep some bytes and return their name."""
    name = hashlib.sha256(data).hexdigest()
    path = blob_path(name)
    if path.exists():
        os.utime(path)  # what is taken up again is not old, though nothing may name it yet
        return name
    packed = zstandard.compress(data, _LEVEL)
    if len(packed) < _SAVES * len(data):
        write_whole(path.with_name(name + PACKED), packed)
    else:
        write_whole(path, data)
    return name


def get_blob(name: str) -> bytes:
    """Return the bytes of a blob."""
    return unpacked(blob_path(name))


def unpacked(path: Path) -> bytes:
    """Return the bytes of a blob's file. Raises: OSError: it is not there, or damaged."""
    data = path.read_bytes()
    try:
        return zstandard.decompress(data) if path.suffix == PACKED else data
    except zstandard.ZstdError as error:
        raise OSError(f"{path.name} is damaged") from error


def is_whole(path: Path) -> bool:
    """Return whether a blob's file still holds what it is named by."""
    try:
        return hashlib.sha256(unpacked(path)).hexdigest() == path.name.removesuffix(PACKED)
    except OSError:
        return False


def write_whole(path: Path, data: bytes) -> None:
    """Write a file so that after a crash it is there whole or not at all."""
    path.parent.mkdir(parents=True, exist_ok=True)
    handle, temporary = tempfile.mkstemp(dir=path.parent, prefix=".new-")
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        os.replace(temporary, path)
    except BaseException:
        Path(temporary).unlink(missing_ok=True)
        raise
