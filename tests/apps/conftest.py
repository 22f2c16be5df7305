"""Fixtures of the server's tests: owners, their clients, archives, a site of theirs."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from django.contrib.auth import get_user_model
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

Zip = Callable[[dict[str, bytes]], bytes]


def zipped(files: dict[str, bytes]) -> bytes:
    """Return a zip archive of some files."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files.items():
            archive.writestr(name, data)
    return out.getvalue()


def folder_files(folder: Path) -> dict[str, bytes]:
    """Return the files of a folder by path."""
    return {p.relative_to(folder).as_posix(): p.read_bytes() for p in sorted(folder.rglob("*")) if p.is_file()}


def colours(values: dict[str, str]) -> list[dict[str, Any]]:
    """Return the acts that give roles other colours."""
    return [{"act": "set-colour", "role": role, "value": value} for role, value in values.items()]


class Api:
    """A signed-in browser, as far as the API sees one."""

    def __init__(self, name: str) -> None:
        self.client = Client()
        self.user, _ = get_user_model().objects.get_or_create(username=name)
        self.client.force_login(self.user)

    def get(self, path: str, **query: str) -> Any:
        return self.client.get(f"/api{path}", query)

    def post(self, path: str, body: object = None) -> Any:
        return self.client.post(f"/api{path}", json.dumps(body or {}), content_type="application/json")

    def base(self, slug: str, revision: int | None = None) -> dict[str, int]:
        """Return how the current revision of a site's open study is named, or another one of that study."""
        now = self.get(f"/sites/{slug}/study").json()["base"]
        return {**now, "revision": now["revision"] if revision is None else revision}

    def act(self, slug: str, *acts: dict[str, Any], base: int | None = None) -> Any:
        """Do some acts from the current revision, or from another one by its number."""
        return self.post(f"/sites/{slug}/acts", {"base": self.base(slug, base), "acts": acts})

    def colour(self, slug: str, values: dict[str, str], base: int | None = None) -> Any:
        """Give roles other colours."""
        return self.act(slug, *colours(values), base=base)

    def search(self, slug: str, name: str, base: int | None = None, **fields: Any) -> Any:
        """Ask a search about the current revision, or about another one by its number."""
        return self.post(f"/sites/{slug}/searches", {"base": self.base(slug, base), "search": name, **fields})

    def draft(self, slug: str, *acts: dict[str, Any], role: str | None = None) -> Any:
        """Return how all would read after some acts."""
        return self.post(f"/sites/{slug}/reading", {"base": self.base(slug), "acts": acts, "role": role}).json()

    def move(self, slug: str, way: str, base: int | None = None) -> Any:
        """Undo or redo."""
        return self.post(f"/sites/{slug}/{way}", {"base": self.base(slug, base)})

    def release(self, slug: str, base: int | None = None, **seen: Any) -> Any:
        """Release the current revision, or one by its number, with what is live seen as it is."""
        live = self.get(f"/sites/{slug}/release").json()["live_number"]
        return self.post(f"/sites/{slug}/release", {"base": self.base(slug, base), "live_number": live, **seen})

    def take_back(self, slug: str, number: int, **seen: Any) -> Any:
        """Make an earlier release live, with what is live seen as it is."""
        live = self.get(f"/sites/{slug}/release").json()["live_number"]
        return self.post(f"/sites/{slug}/releases/{number}/live", {"live_number": live, **seen})

    def copy(self, slug: str, name: str, *acts: dict[str, Any], **more: Any) -> Any:
        """Copy the open study with some acts done."""
        return self.post(f"/sites/{slug}/studies", {"base": self.base(slug), "name": name, "acts": acts, **more})

    def delete(self, path: str) -> Any:
        return self.client.delete(f"/api{path}")

    def bring(self, archive: bytes, name: str = "yard.zip") -> Any:
        upload = SimpleUploadedFile(name, archive, content_type="application/zip")
        return self.client.post("/api/bring/zip", {"archive": upload})


@pytest.fixture
def wren(db: None) -> Api:
    return Api("wren")


@pytest.fixture
def stranger(db: None) -> Api:
    return Api("stranger")


@pytest.fixture
def yard(wren: Api, otterlock: Path) -> str:
    """Bring the sample in as an archive; return its name in addresses."""
    job = wren.bring(zipped(folder_files(otterlock)), "otterlock.zip").json()
    assert job["state"] == "done", job
    slug: str = job["site"]
    return slug
