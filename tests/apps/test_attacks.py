"""Attacks with the source at hand, each held off: bodies of nobody, a hundred archives, slow hosts, a full disk."""

from __future__ import annotations

import errno
import io
import json
import os
import threading
import time
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from django.conf import settings as django_settings
from django.core.cache import cache
from django.test import Client
from waitress.adjustments import Adjustments

from glaucon.apps.accounts import turns
from glaucon.apps.errors import Refused
from glaucon.apps.sites import blobs
from glaucon.apps.sites.models import Job, Site
from glaucon.apps.work import queue
from glaucon.apps.work.models import Work
from glaucon.operating.bodies import MOST_UNKNOWN, OwnersParser
from tests.apps.conftest import Api, folder_files, zipped


def _begun(cookie: str, length: int | None) -> OwnersParser:
    """Return how the server takes the head of a request that says how long its body is, None for in pieces."""
    size = "Transfer-Encoding: chunked" if length is None else f"Content-Length: {length}"
    parser = OwnersParser(Adjustments(max_request_body_size=64 * 1024 * 1024))
    head = f"POST /api/bring/zip HTTP/1.1\r\nHost: colours.example\r\nCookie: {cookie}\r\n{size}\r\n\r\n"
    parser.received(head.encode())
    if length is None:
        piece = b"10000\r\n" + b"x" * 0x10000 + b"\r\n"
        for _ in range(8):
            rest = piece
            while rest and not parser.completed:
                rest = rest[parser.received(rest) :]
    return parser


def test_a_large_body_is_refused_before_it_is_read_unless_somebody_is_signed_in(wren: Api) -> None:
    name = django_settings.SESSION_COOKIE_NAME
    signed_in = f"{name}={wren.client.session.session_key}; csrftoken=x"
    nobody = Client()
    nobody.get("/api/session")
    begun = nobody.session
    begun["something"] = 1
    begun.save()
    for cookie in ("", f"{name}=made-up", f"{name}={begun.session_key}", "{name}", "a=b; " * 90):
        for length in (MOST_UNKNOWN, 60_000_000, None):
            parser = _begun(cookie, length)
            assert parser.completed and parser.error is not None, (cookie, length)
            assert parser.error.code == 401 and "Sign in" in parser.error.body
        assert _begun(cookie, MOST_UNKNOWN - 1).error is None
    for length in (60_000_000, None):
        assert _begun(signed_in, length).error is None
    assert _begun(signed_in, 65 * 1024 * 1024).error.code == 413
    wren.client.logout()
    assert _begun(signed_in, 60_000_000).error.code == 401


def test_a_hundred_archives_stop_at_what_an_owner_may_have(wren: Api, stranger: Api, settings: Any) -> None:
    settings.GLAUCON_MOST_MB, settings.GLAUCON_MOST_SITES = 30, 200
    # 100 kB of zip that unpack to 12 MB of picture each, and are another site every time
    told = []
    for number in range(100):
        page = f"<p>Boat {number}</p><img src=big.bin>".encode()
        archive = zipped({"index.html": page, "big.bin": b"\x00" * 12_000_000})
        assert len(archive) < 100_000
        told.append(wren.bring(archive).json())
    states = [one["state"] for one in told]
    assert states == ["done"] * 2 + ["refused"] * 98
    assert all("MB left" in one["message"] for one in told[2:])
    assert stranger.bring(zipped({"index.html": b"<p>Here"})).json()["state"] == "done"


def test_bring_ins_and_measurings_stop_for_the_hour(wren: Api, stranger: Api, yard: str, settings: Any) -> None:
    cache.clear()
    settings.GLAUCON_MOST_BRING_INS_AN_HOUR = settings.GLAUCON_MOST_MEASURINGS_AN_HOUR = 3
    small = zipped({"index.html": b"<p>Here"})
    told = [wren.bring(small).status_code for _ in range(5)]
    assert told == [200] * 3 + [429] * 2 and stranger.bring(small).status_code == 200
    measured = {"page": "index.html", "width": 1280, "measured": {}}
    told = [
        wren.client.put(f"/api/sites/{yard}/layout", measured, content_type="application/json").status_code
        for _ in range(5)
    ]
    assert 429 not in told[:3] and told[3:] == [429] * 2
    cache.clear()


def test_a_hundred_works_leave_room_for_others(wren: Api, stranger: Api) -> None:
    added = 0
    for _ in range(100):
        try:
            queue.add(wren.user, "glaucon.apps.bringing.jobs.run_job", {"number": 0}, is_long=True)
            added += 1
        except Exception as refusal:
            assert getattr(refusal, "status", None) == 429
    assert added == 12
    mine = queue.add(stranger.user, "glaucon.apps.bringing.jobs.run_job", {"number": 0})
    taken = [queue.take_next() for _ in range(6)]
    assert mine in taken and sum(one is not None and one.owner_id == wren.user.pk for one in taken) == 1


def test_slow_hosts_keep_nobody_else_from_reading(wren: Api) -> None:
    """However many wait for hosts outside, the places of what takes the processor stay free."""
    owners = [Api(f"owner {number}") for number in range(12)]
    for each in owners:
        queue.add(each.user, "glaucon.apps.bringing.jobs.fetch_job", {"number": 0}, is_outside=True)
    while queue.take_next() is not None:
        pass
    assert Work.objects.filter(state=Work.State.RUNNING).count() == queue.OUTSIDE_SLOTS
    for is_long in (True, True, False):
        queue.add(Api(f"reader {is_long} {Work.objects.count()}").user, "x", {}, is_long=is_long)
    assert [queue.take_next() is not None for _ in range(4)] == [True, True, True, False]
    assert queue.take_next() is None


# (what is done, of whom): each is tried on a disk that has no room and on one that cannot be written
STEPS: dict[str, Callable[[Api, str, Path], Any]] = {
    "bringing in": lambda a, yard, o: a.bring(zipped({"index.html": b"<p>Another", "a.bin": os.urandom(99)})),
    "bringing in again": lambda a, yard, o: a.client.post(
        f"/api/sites/{yard}/again/zip",
        {"archive": _named(zipped({**folder_files(o), "new.html": b"<p>New"}))},
    ),
    "a change": lambda a, yard, o: a.colour(yard, {"link": "#0b3c7a"}),
    "a release": lambda a, yard, o: a.release(yard),
    "a download": lambda a, yard, o: a.get(f"/sites/{yard}/hand-back/site/file"),
    "a project": lambda a, yard, o: a.get(f"/sites/{yard}/project/file"),
    "a picture": lambda a, yard, o: a.client.post(
        f"/api/sites/{yard}/backdrops/pictures", {"picture": _named((o / "img" / "heron.jpg").read_bytes(), "h.jpg")}
    ),
}  # fmt: skip


def _named(data: bytes, name: str = "yard.zip") -> io.BytesIO:
    file = io.BytesIO(data)
    file.name = name
    return file


@pytest.mark.parametrize("number", [errno.ENOSPC, errno.EROFS], ids=["a full disk", "a read-only disk"])
@pytest.mark.parametrize("step", STEPS)
def test_without_a_disk_to_write_to_nothing_is_lost(
    wren: Api, yard: str, otterlock: Path, monkeypatch: pytest.MonkeyPatch, step: str, number: int
) -> None:
    wren.colour(yard, {"background": "#eef4f0"})
    before, sites = wren.get(f"/sites/{yard}/study").json(), Site.objects.count()
    releases = wren.get(f"/sites/{yard}/release").json()["releases"]

    def refused(*given: Any, **more: Any) -> Any:
        raise OSError(number, os.strerror(number))

    with monkeypatch.context() as patched:
        for module, name in _writers():
            patched.setattr(module, name, refused)
        answer = STEPS[step](wren, yard, otterlock)
    told = json.loads(answer.content) if "json" in answer["Content-Type"] else {}
    if answer.status_code == 200 and "state" in told:
        assert told["state"] == "refused" and told["message"].endswith("."), told
    elif answer.status_code != 200:
        assert answer.status_code == 507 and told["code"] in ("disk-full", "disk-closed"), told
        assert told["message"].endswith(".") and "othing was changed" in told["message"]
    assert not Job.objects.filter(state__in=(Job.State.WAITING, Job.State.RUNNING)).exists()
    assert Site.objects.count() == sites
    if step != "a change":
        assert wren.get(f"/sites/{yard}/study").json()["base"] == before["base"]
        assert wren.get(f"/sites/{yard}/release").json()["releases"] == releases
    # and once there is room again it goes
    again = STEPS[step](wren, yard, otterlock)
    assert again.status_code == 200
    if "json" in again["Content-Type"] and "state" in again.json():
        assert again.json()["state"] == "done"


def _writers() -> list[tuple[Any, str]]:
    """Return what writes files, wherever it is imported."""
    import sys

    found = []
    for module in list(sys.modules.values()):
        for name in ("write_whole", "put_blob"):
            if getattr(module, "__name__", "").startswith("glaucon.") and getattr(module, name, None) is getattr(
                blobs, name
            ):
                found.append((module, name))
    return found


def test_no_path_climbs_out(wren: Api, yard: str, otterlock: Path) -> None:
    wren.release(yard)
    preview = wren.get(f"/sites/{yard}").json()["pages"][0]["preview"].rsplit("/", 1)[0]
    secret = Path(django_settings.DATA_DIR) / "secret.txt"
    secret.write_text("the lock's key")
    climbs = ("../" * 9 + "secret.txt", "%2e%2e/" * 9 + "secret.txt", "..%2f" * 9 + "secret.txt", "....//secret.txt",
              "..\\..\\secret.txt", "backdrops/../../secret.txt", "/etc/passwd", "%00",
              "css/../../../secret.txt")  # fmt: skip
    for start in (f"/live/{yard}/", f"{preview}/", "/static/", f"/live/{yard}/../", f"/api/sites/{yard}/../"):
        for path in climbs:
            answer = wren.client.get(start + path)
            body = b"".join(answer.streaming_content) if answer.streaming else answer.content
            assert answer.status_code in (301, 302, 400, 404) and b"the lock's key" not in body, (start, path)
    for name in ("../out.html", "a/../../out.html", "/out.html", "..\\out.html", "C:/out.html"):
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w") as archive:
            archive.writestr("index.html", "<p>Here")
            archive.writestr(name, "<p>Out")
        assert wren.bring(out.getvalue()).json()["state"] == "refused", name


def test_who_asks_much_at_once_waits_for_their_own(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(turns, "MOST_WAITING", 3)
    monkeypatch.setattr(turns, "MOST_SECONDS", 5.0)
    all_turns, held, told = turns.Turns(), threading.Event(), list[str]()

    def hold(client: str) -> None:
        try:
            with all_turns.one(client):
                told.append("answered")
                held.wait(10)
        except Refused as refusal:
            told.append(str(refusal.status))

    threads = [threading.Thread(target=hold, args=("one",)) for _ in range(8)]
    for thread in threads:
        thread.start()
    until = time.monotonic() + 5
    while len(told) < 5 and time.monotonic() < until:
        time.sleep(0.01)
    # two are answered, three wait, three are refused; another's turn comes at once
    assert sorted(told) == ["429"] * 3 + ["answered"] * 2
    with all_turns.one("other"):
        held.set()
    for thread in threads:
        thread.join()
    assert sorted(told) == ["429"] * 3 + ["answered"] * 5
