"""Killed while it brings in and while it releases: after a restart the last good state is there and usable."""

from __future__ import annotations

import contextlib
import random
import threading
import time
from pathlib import Path

import pytest

from tests.apps.conftest import zipped
from tests.made_sites import many_pages
from tests.running import Running, running

STUDY = "/api/sites/otterlock-boats/study"
RELEASE = "/api/sites/otterlock-boats/release"


def wait_until(demo: Running, number: int, doing: str) -> None:
    """Wait until a job does a certain step."""
    for _ in range(600):
        job = demo.call("GET", f"/api/jobs/{number}")[1]
        if doing in job["doing"] or job["state"] not in ("waiting", "running"):
            return
        time.sleep(0.02)


@pytest.mark.prove
def test_a_kill_while_a_site_comes_in_leaves_the_last_good_state(tmp_path: Path, otterlock: Path) -> None:
    archive = zipped(many_pages(otterlock, 12))
    with running(tmp_path) as demo:
        demo.call("POST", STUDY, {"base": 1, "values": {"background": "#e0f0ff"}})
        assert demo.call("POST", RELEASE, {"base": 2})[0] == 200
        job = demo.upload(archive, "long.zip")
        wait_until(demo, job["number"], "reading pages")
        demo.kill()

    with running(tmp_path) as demo:
        cut_off = demo.call("GET", f"/api/jobs/{job['number']}")[1]
        assert cut_off["state"] == "cut-off"
        assert "Bring it in again" in cut_off["message"]
        assert [site["slug"] for site in demo.call("GET", "/api/sites")[1]] == ["otterlock-boats"]
        again = demo.upload(archive, "long.zip")
        wait_until(demo, again["number"], "nothing")
        assert demo.call("GET", f"/api/jobs/{again['number']}")[1]["state"] == "done"
        assert b"glaucon-" in demo.call("GET", "/live/otterlock-boats/")[1]
        assert demo.stop() == 0


@pytest.mark.prove
def test_a_kill_in_a_release_leaves_what_was_live(tmp_path: Path, otterlock: Path) -> None:
    with running(tmp_path) as demo:
        demo.call("POST", STUDY, {"base": 1, "values": {"background": "#e0f0ff"}})
        assert demo.call("POST", RELEASE, {"base": 2})[0] == 200
        job = demo.upload(zipped(many_pages(otterlock, 30)), "long.zip")
        wait_until(demo, job["number"], "nothing")
        slug = demo.call("GET", f"/api/jobs/{job['number']}")[1]["site"]
        demo.call("POST", f"/api/sites/{slug}/study", {"base": 1, "values": {"background": "#ffe0f0"}})
        thread = threading.Thread(target=_release, args=(demo, slug))
        thread.start()
        time.sleep(0.25)
        demo.kill()
        thread.join()

    with running(tmp_path) as demo:
        live = demo.call("GET", f"/live/{slug}/")
        plan = demo.call("GET", f"/api/sites/{slug}/release")[1]
        if live[0] == 200:  # it was through: then it is whole
            assert plan["live"] and plan["changes"] == []
        else:
            assert not plan["live"] and len(plan["changes"]) == 1
        assert demo.call("POST", f"/api/sites/{slug}/release", {"base": 2})[0] == 200
        assert b"glaucon-" in demo.call("GET", f"/live/{slug}/")[1]
        assert b"glaucon-" in demo.call("GET", "/live/otterlock-boats/")[1]
        assert demo.stop() == 0


def _is_whole(demo: Running, slug: str, pages: set[int]) -> None:
    """Hold a site against being half: its pages, their files, its reading."""
    status, site = demo.call("GET", f"/api/sites/{slug}")
    assert status == 200 and len(site["pages"]) in pages
    for page in (site["pages"][0], site["pages"][-1]):
        assert demo.call("GET", page["preview"])[0] == 200
    root = site["pages"][0]["preview"].rsplit("/", 1)[0]
    assert demo.call("GET", f"{root}/css/site.css")[0] == 200
    assert demo.call("GET", f"/api/sites/{slug}/study")[1]["reading"]["texts"] > 0


@pytest.mark.prove
def test_twenty_kills_never_leave_half_a_site(tmp_path: Path, otterlock: Path) -> None:
    """Kill at random moments, bring-in and bring-in-again by turns; then each is tried once more and succeeds."""
    chance = random.Random(7)
    small, large = (zipped(many_pages(otterlock, pages)) for pages in (24, 30))
    again = "/api/sites/otterlock-boats/again/zip"
    told = []
    for number in range(20):
        is_again = number % 2 == 1
        with running(tmp_path) as demo:
            _is_whole(demo, "otterlock-boats", {9, 24, 30})
            for site in demo.call("GET", "/api/sites")[1]:
                _is_whole(demo, site["slug"], {9, 24, 30})
            archive = small if number % 4 < 2 else large
            job = demo.upload(archive, f"yard-{number}.zip", again if is_again else "/api/bring/zip")
            time.sleep(chance.uniform(0.0, 3.0))
            told.append(demo.call("GET", f"/api/jobs/{job['number']}")[1]["doing"])
            demo.kill()
    with running(tmp_path) as demo:
        for path, pages in (("/api/bring/zip", 24), (again, 30)):
            job = demo.upload(zipped(many_pages(otterlock, pages)), "retry.zip", path)
            wait_until(demo, job["number"], "nothing")
            done = demo.call("GET", f"/api/jobs/{job['number']}")[1]
            assert done["state"] == "done", done
            _is_whole(demo, done["site"], {pages})
    print("killed while:", ", ".join(told))
    assert len(set(told)) >= 3, "the moments were not spread"


def _release(demo: Running, slug: str) -> None:
    with contextlib.suppress(OSError):  # the connection goes with the server
        demo.call("POST", f"/api/sites/{slug}/release", {"base": 2})
