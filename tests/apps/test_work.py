"""Heavy work: the queue is fair, answers come through it as they would without, and each piece ends within limits."""

from __future__ import annotations

import json
import shutil
import time
from pathlib import Path
from threading import Thread

import pytest
from django.core.cache import cache
from pytest_django import Settings

from glaucon.apps.errors import Refused
from glaucon.apps.sites import effort, surveys
from glaucon.apps.sites.models import Site
from glaucon.apps.work import queue
from glaucon.apps.work.calls import answer_of_call
from glaucon.apps.work.models import Work
from tests.apps.conftest import Api, folder_files, zipped
from tests.running import Running, running

MEND = "glaucon.apps.api.searches.search_heavy"
PALETTE = "glaucon.apps.api.colours.read_palette_file"


def taken() -> list[str]:
    """Return whose work is begun, one after the other, until none may start."""
    begun = []
    while (work := queue.take_next()) is not None:
        begun.append(f"{work.owner.username}{' brings' if work.is_long else ''}")
    return begun


def test_each_owner_has_a_turn(wren: Api, stranger: Api) -> None:
    other = Api("sedge")
    for _ in range(3):
        queue.add(wren.user, PALETTE, {})
    queue.add(wren.user, MEND, {}, is_long=True)
    queue.add(stranger.user, MEND, {}, is_long=True)
    queue.add(other.user, MEND, {}, is_long=True)
    queue.add(stranger.user, PALETTE, {})
    # one thing at a time for each, and bringing sites in never takes all places
    assert taken() == ["wren", "wren brings", "stranger brings"]
    Work.objects.filter(owner=wren.user, state=Work.State.RUNNING).update(state=Work.State.DONE)
    assert taken() == ["wren", "sedge brings"]
    Work.objects.filter(owner=stranger.user, state=Work.State.RUNNING).update(state=Work.State.CANCELLED)
    assert taken() == ["stranger"]


def test_nobody_fills_the_queue(wren: Api, stranger: Api) -> None:
    for _ in range(12):
        queue.add(wren.user, PALETTE, {})
    with pytest.raises(Refused, match="waiting already"):
        queue.add(wren.user, PALETTE, {})
    assert queue.ahead_of(queue.add(stranger.user, PALETTE, {})) == 12


ASKED = {"search": "fix-all", "base": {"study": 1, "revision": 1}}
CALLS = {
    "a palette": (PALETTE, {"given": {"text": "#0b5c7a teal"}}, 200, "#0b5c7a"),
    "no palette": (PALETTE, {"given": {"text": "rgb(" * 30_000}}, 422, "No colour was found"),
    "no such site": (MEND, {"slug": "nowhere", "asked": ASKED}, 404, "nothing of that name"),
}  # fmt: skip


@pytest.mark.parametrize("name", CALLS)
def test_a_call_answers_as_its_view_does(wren: Api, name: str) -> None:
    call, given, status, words = CALLS[name]
    answered, body = answer_of_call(call, wren.user, given)
    assert (answered, words in body) == (status, True), body


def test_after_an_update_sites_are_read_anew_apart(
    wren: Api, settings: Settings, monkeypatch: pytest.MonkeyPatch
) -> None:
    wren.bring(zipped({"index.html": b"<p>Moored"}))
    (site,) = Site.objects.of(wren.user)
    settings.GLAUCON_PROCESSES = True
    asked = ("/sites", f"/sites/{site.slug}", f"/sites/{site.slug}/study")
    assert [wren.get(path).status_code for path in asked] == [200, 200, 200]
    surveys.drop_survey(surveys.survey_name(site))
    surveys._known.clear()
    monkeypatch.setattr(surveys, "ENGINE", 10_000)
    answers = [wren.get(path) for path in asked]
    assert [answer.status_code for answer in answers] == [202, 202, 202]
    work = Work.objects.get(pk=answers[1].json()["work"])
    status, body = answer_of_call(work.call, wren.user, work.given)
    assert status == 200 and json.loads(body)["slug"] == site.slug
    assert [wren.get(path).status_code for path in asked] == [200, 200, 200]


def test_what_looks_at_a_costly_site_is_work(wren: Api, settings: Settings, monkeypatch: pytest.MonkeyPatch) -> None:
    wren.bring(zipped({"index.html": b"<h1>Moored</h1><p>Here"}))
    (site,) = Site.objects.of(wren.user)
    assert 0 < (site.effort or 0) < 0.5
    edit = {"base": wren.base(site.slug), "acts": [{"act": "set-aim", "aim": "AAA"}]}
    page = wren.get(f"/sites/{site.slug}").json()["pages"][0]["preview"]
    settings.GLAUCON_PROCESSES = True
    shutil.rmtree(Path(settings.DATA_DIR) / "previews")
    site.effort = 5.0
    site.save()
    path = f"/sites/{site.slug}"
    part = f"{path}/part?page=index.html&path=html>body:nth-child(2)>p:nth-child(2)"
    for answer in (wren.get(f"{path}/study"), wren.post(f"{path}/acts", edit), wren.get(part)):
        assert answer.status_code == 202
        work = Work.objects.get(pk=answer.json()["work"])
        status, body = answer_of_call(work.call, wren.user, work.given)
        assert (status, "Moored" in body or "mapping" in body or "because" in body) == (200, True), body
    # a frame cannot be told to ask again as a script can: its page does so itself
    asks = [wren.client.get(page) for _ in range(2)]
    assert [(one.status_code, one["Refresh"]) for one in asks] == [(503, "1")] * 2
    (work,) = Work.objects.filter(call__endswith="make_previews_of")
    assert answer_of_call(work.call, wren.user, work.given) == (204, "")
    assert wren.client.get(page).status_code == 200


def test_trying_again_with_other_numbers_is_answered_here_once_it_was_short(
    wren: Api, settings: Settings, monkeypatch: pytest.MonkeyPatch
) -> None:
    wren.bring(zipped({"index.html": b"<body><h1>Moored</h1><p>Here for the night"}))
    (site,) = Site.objects.of(wren.user)
    path, base = f"/sites/{site.slug}/searches", wren.base(site.slug)
    settings.GLAUCON_PROCESSES = True
    cache.clear()

    def asked(opacity: float, *more: object) -> int:
        layers = [{"colour": "#fff"}, {"veil": {"colour": "#222", "opacity": opacity}}, *more]
        asked = {"search": "try-backdrop", "backdrop": {"in": None, "layers": layers}, "page": "index.html"}
        return wren.post(path, {"base": base, **asked}).status_code

    assert asked(0.3) == 202
    work = Work.objects.get()
    assert answer_of_call(work.call, wren.user, work.given)[0] == 200
    # another layer is another kind of try
    assert [asked(0.4), asked(0.5), asked(0.5, {"glow": {"colour": "#eee"}})] == [200, 200, 202]
    monkeypatch.setattr(effort, "_MOST_TRIED_HERE", 0.0)
    assert asked(0.4) == 202


def test_what_proves_heavy_on_the_way_is_work_and_changes_nothing_before(
    wren: Api, settings: Settings, monkeypatch: pytest.MonkeyPatch
) -> None:
    wren.bring(zipped({"index.html": b"<h1>Moored</h1><p>Here again"}))
    (site,) = Site.objects.of(wren.user)
    path = f"/sites/{site.slug}"
    saved = wren.act(site.slug, {"act": "write-css", "css": "p { color: #777 }"})
    assert saved.status_code == 200, saved.content
    assert wren.move(site.slug, "undo").status_code == 200
    base = wren.base(site.slug)
    settings.GLAUCON_PROCESSES = True
    # the survey with the owner's CSS is gone meanwhile, and made again nowhere but in a process of work
    for kept in (Path(settings.DATA_DIR) / "surveys").glob(f"*{surveys.VARIANT}*"):
        kept.unlink()
    surveys._known.clear()
    answer = wren.post(f"{path}/redo", {"base": base})
    assert answer.status_code == 202
    work = Work.objects.get(pk=answer.json()["work"])
    assert work.is_long
    assert wren.get(f"{path}/study").json()["base"] == base
    status, body = answer_of_call(work.call, wren.user, work.given)
    assert (status, json.loads(body)["base"]["revision"]) == (200, 2)


def test_work_is_its_owners(wren: Api, stranger: Api, settings: Settings) -> None:
    work = queue.add(wren.user, PALETTE, {})
    assert stranger.get(f"/work/{work.pk}").status_code == stranger.delete(f"/work/{work.pk}").status_code == 404
    assert wren.get(f"/work/{work.pk}").json() == {"work": work.pk, "state": "waiting", "ahead": 0}
    assert wren.delete(f"/work/{work.pk}").status_code == 204
    assert wren.get(f"/work/{work.pk}").json()["code"] == "stopped"


def read(demo: Running) -> float:
    """Return how many seconds another reading takes."""
    start = time.monotonic()
    status, _ = demo.call("GET", "/api/sites/otterlock-boats/study")
    assert status == 200
    return time.monotonic() - start


def followed(demo: Running, status: int, body: dict[str, object]) -> tuple[int, dict[str, object]]:
    while status == 202:
        time.sleep(0.1)
        status, body = demo.call("GET", f"/api/work/{body['work']}")
    return status, body


@pytest.mark.prove
def test_what_one_sends_does_not_stop_another(tmp_path: Path) -> None:
    made = {"search": "palette", "colours": ["#c8452b"], "direction": 1}
    with running(tmp_path) as demo:
        # a page that takes for ever is given up, in a sentence, and reading goes on beside it
        bomb = b"<!doctype html>" + b"<div class=a>" * 400 + b"<p>x</p>" * 3000 + b"<style>" + b"".join(
            b"[a%d] ~ p ~ p:not(:has(~ .b%d)) {color:red}" % (n, n) for n in range(400)) + b"</style>"  # fmt: skip
        job, waits = demo.upload(zipped({"index.html": bomb}), "bomb.zip"), []
        while job["state"] in ("waiting", "running"):
            waits.append(read(demo))
            time.sleep(0.2)
            job = demo.call("GET", f"/api/jobs/{job['number']}")[1]
        assert sorted(waits)[int(len(waits) * 0.95)] < 0.3
        assert job["state"] == "done" or "Nothing was kept" in job["message"], job
        # eight made palettes at once wait for each other, readings do not wait for them
        asked = ("POST", "/api/sites/otterlock-boats/searches", {**made, "base": demo.base()})
        threads = [Thread(target=demo.call, args=asked) for _ in range(8)]
        for thread in threads:
            thread.start()
        waits = [read(demo) for _ in range(60)]
        for thread in threads:
            thread.join()
        assert sorted(waits)[57] < 0.3
        start = time.monotonic()
        assert demo.stop() == 0 and time.monotonic() - start < 5


@pytest.mark.prove
def test_ten_owners_with_thirty_works_each_have_their_turn(tmp_path: Path, otterlock: Path) -> None:
    archive = zipped(folder_files(otterlock))
    ended: dict[str, list[object]] = {}
    with running(tmp_path) as demo:
        owners = {f"owner-{number}": demo.as_owner(f"owner-{number}") for number in range(10)}

        def work(name: str) -> None:
            owner = owners[name]
            job = owner.upload(archive, "yard.zip")
            while job["state"] in ("waiting", "running"):
                time.sleep(0.3)
                job = owner.call("GET", f"/api/jobs/{job['number']}")[1]
            asked = (owner.search("fix-all", site=job["site"], backgrounds=wide) for wide in (False, True))
            ended[name] = [job["state"], *(followed(owner, *answer)[0] for answer in asked)]

        threads = [Thread(target=work, args=(name,)) for name in owners]
        for thread in threads:
            thread.start()
        waits = []
        while any(thread.is_alive() for thread in threads):
            waits.append(read(demo))
            time.sleep(0.15)
        assert ended == {name: ["done", 200, 200] for name in owners}
        assert sorted(waits)[int(len(waits) * 0.95)] < 0.3
