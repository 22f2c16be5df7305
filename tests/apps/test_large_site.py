"""A site of 500 pages: in within a minute and 600 MB, with progress that moves; cancelled within two seconds."""

from __future__ import annotations

import time
from pathlib import Path

import pytest

from tests.apps.conftest import zipped
from tests.made_sites import many_pages
from tests.running import running


def _blobs(data: Path) -> set[str]:
    return {path.name for folder in ("blobs", "surveys", "uploads") for path in (data / folder).rglob("*.*")} | {
        path.name for path in (data / "blobs").rglob("*") if path.is_file()
    }


@pytest.mark.prove
def test_500_pages_come_in_and_can_be_cancelled(tmp_path: Path, otterlock: Path) -> None:
    archive = zipped(many_pages(otterlock, 500))
    with running(tmp_path) as demo:
        before = _blobs(tmp_path)
        job = demo.upload(archive, "long.zip")
        path = f"/api/jobs/{job['number']}"
        while "reading pages" not in demo.call("GET", path)[1]["doing"]:
            time.sleep(0.05)
        time.sleep(1)
        start = time.monotonic()
        answer = demo.call("DELETE", path)[1]
        answered = time.monotonic() - start
        while _blobs(tmp_path) != before and time.monotonic() - start < 10:
            time.sleep(0.05)
        emptied = time.monotonic() - start
        assert (answer["state"], _blobs(tmp_path)) == ("cancelled", before)
        assert [site["pages"] for site in demo.call("GET", "/api/sites")[1]] == [9]

        start = time.monotonic()
        job = demo.upload(archive, "long.zip")
        path = f"/api/jobs/{job['number']}"
        seen: list[tuple[str, int]] = []
        while (now := demo.call("GET", path)[1])["state"] in ("waiting", "running"):
            seen.append((now["doing"], now["done"]))
            time.sleep(0.1)
        seconds = time.monotonic() - start
        largest = demo.largest_mb()
        print(
            f"cancel answered in {answered:.2f} s, nothing left after {emptied:.2f} s; 500 pages in {seconds:.1f} s, "
            f"{largest:.0f} MB, {len(set(seen))} different signs of progress"
        )
        assert now["state"] == "done", now
        assert answered < 2 and emptied < 2
        assert seconds < 60 and largest < 600
        assert len(set(seen)) > 20
