"""Killed while it brings in and while it releases: after a restart the last good state is there and usable."""

from __future__ import annotations

import contextlib
import http.client
import os
import random
import signal
import threading
import time
from collections import Counter
from pathlib import Path

import pytest

from tests.apps.conftest import zipped
from tests.made_sites import many_pages
from tests.running import Running, running


def paint(colour: str) -> dict[str, str]:
    return {"act": "set-colour", "role": "background", "value": colour}


def released(demo: Running, slug: str) -> int:
    """Release a site and wait for it; return the status of the answer."""
    status, answer = demo.release(slug)
    return demo.done("GET", f"/api/work/{answer['work']}")[0] if status == 202 else status


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
        demo.act(paint("#e0f0ff"))
        assert released(demo, "otterlock-boats") == 200
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
        demo.act(paint("#e0f0ff"))
        assert released(demo, "otterlock-boats") == 200
        job = demo.upload(zipped(many_pages(otterlock, 30)), "long.zip")
        wait_until(demo, job["number"], "nothing")
        slug = demo.call("GET", f"/api/jobs/{job['number']}")[1]["site"]
        demo.act(paint("#ffe0f0"), site=slug)
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
        assert released(demo, slug) == 200
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
        demo.release(slug)


ROUNDS = 200
_WAITED_SECONDS = 150  # what nobody watches any more is closed within two minutes


def _start(demo: Running, what: str, archive: bytes) -> threading.Thread:
    """Begin a piece of work, and wait for it elsewhere: its answer may never come."""
    site = "/api/sites/otterlock-boats"

    def ask() -> None:
        with contextlib.suppress(OSError, http.client.HTTPException, AssertionError):
            if what in ("zip", "again"):
                demo.upload(archive, "yard.zip", "/api/bring/zip" if what == "zip" else f"{site}/again/zip")
            elif what == "release":
                demo.release()
            elif what == "fix":
                demo.search("fix-all")
            else:
                demo.search("palette", colours=["#0b5d4a"])

    thread = threading.Thread(target=ask, daemon=True)
    thread.start()
    return thread


def _settled(demo: Running) -> bool:
    """Return whether, after a while, nothing waits or runs any more."""
    for _ in range(_WAITED_SECONDS * 2):
        jobs = demo.call("GET", "/api/jobs")[1]
        if not any(job["state"] in ("waiting", "running") for job in jobs):
            return True
        time.sleep(0.5)
    return False


def _is_up(demo: Running) -> bool:
    for _ in range(20):
        with contextlib.suppress(OSError, http.client.HTTPException):
            if demo.call("GET", "/api/session")[0] == 200:
                return True
        time.sleep(0.1)
    return False


@pytest.mark.prove
def test_two_hundred_kills_of_any_process_lose_nothing_and_leave_nothing(tmp_path: Path, otterlock: Path) -> None:
    """At random moments of all heavy work; what was acknowledged is there afterwards, and nothing waits for ever."""
    dice, archive = random.Random(11), zipped(many_pages(otterlock, 3))
    demo, restarts, killed = Running(tmp_path), 0, Counter[str]()
    study = "/api/sites/otterlock-boats/study"
    try:
        for number in range(ROUNDS):
            value = f"#e0{number:02x}ff"
            status, said = demo.act(paint(value))
            assert status == 200, said
            what = dice.choice(("zip", "again", "release", "fix", "make"))
            asked = _start(demo, what, archive)
            time.sleep(dice.uniform(0.0, 1.5))
            victim, words = dice.choice(demo.processes()), []
            with contextlib.suppress(OSError):
                words = Path(f"/proc/{victim}/cmdline").read_text().strip("\0").split("\0")
                killed[" ".join(words[1:3])[:44]] += 1
                os.kill(victim, signal.SIGKILL)
            time.sleep(1.5)  # what ends with what was killed has ended
            if not demo.is_running or not _is_up(demo):
                demo.kill()
                demo, restarts = Running(tmp_path), restarts + 1
            asked.join(_WAITED_SECONDS)
            assert not asked.is_alive() and _settled(demo), (number, what, words, demo.call("GET", "/api/jobs")[1])
            now = demo.call("GET", study)[1]
            assert next(role["value"] for role in now["roles"] if role["id"] == "background") == value, (number, what)
            if number % 10 == 9:
                for site in demo.call("GET", "/api/sites")[1]:
                    _is_whole(demo, site["slug"], {3, 9})
                    if site["slug"] != "otterlock-boats":
                        assert demo.call("DELETE", f"/api/sites/{site['slug']}")[0] == 204
        assert demo.stop() == 0
        demo = Running(tmp_path)
        left = [path for path in tmp_path.rglob("*") if path.name.startswith(".new-") or path.parent.name == "uploads"]
        assert left == []
    finally:
        demo.kill()
    print(f"{restarts} restarts; killed:", dict(killed))
    assert len(killed) > 3 and 0 < restarts < ROUNDS
