"""File contents, kept once each under the name of their hash. A blob is written whole or not at all."""

from __future__ import annotations

import hashlib
import os
import tempfile
from pathlib import Path

from django.conf import settings


def _folder() -> Path:
    return Path(settings.DATA_DIR) / "blobs"


def put_blob(data: bytes) -> str:
    """Keep some bytes and return their name."""
    name = hashlib.sha256(data).hexdigest()
    path = _folder() / name[:2] / name
    if not path.exists():
        write_whole(path, data)
    else:
        os.utime(path)  # what is taken up again is not old, though nothing may name it yet
    return name


def get_blob(name: str) -> bytes:
    """Return the bytes of a blob."""
    return (_folder() / name[:2] / name).read_bytes()


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
