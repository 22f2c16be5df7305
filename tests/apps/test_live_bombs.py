"""What one owner sends to a running Glaucon: another's reading goes on beside it, and each gets an answer of ours."""

from __future__ import annotations

import time
from pathlib import Path

import pytest

from tests.apps.conftest import zipped
from tests.live_bombs import LONG, MOST_MB, MOST_SECONDS, ROWS, Sender, rounds
from tests.running import Running, running


@pytest.mark.prove
def test_whatever_one_owner_sends_another_is_answered(tmp_path: Path) -> None:
    told = dict(rounds(tmp_path, list(ROWS)))
    assert list(told) == list(ROWS)
    broken = {
        name: one for name, one in told.items()
        if not one.said or "500" in one.said or one.reading >= MOST_SECONDS or one.memory >= MOST_MB
    }  # fmt: skip
    assert broken == {}


EDIT = [{"act": "set-colour", "role": "text", "value": "#123456"}]
KINDS: dict[str, tuple[str, str, dict[str, object] | None]] = {
    "making": ("POST", "searches", {"search": "palette", "colours": ["#c8452b"]}),
    "fixing": ("POST", "searches", {"search": "fix-all"}),
    "reading": ("POST", "reading", {"acts": EDIT}),
    "an edit": ("POST", "acts", {"acts": EDIT}),
    "releasing": ("POST", "release", {"live_number": None}),
    "a check of a download": ("POST", "hand-back/site/check", {}),
    "a section": ("GET", "sections", None),
}


def freed(demo: Running, before: set[int]) -> float:
    """Return the seconds until no process is there but those of before."""
    start = time.monotonic()
    while set(demo.processes()) - before and time.monotonic() - start < 10:
        time.sleep(0.02)
    return time.monotonic() - start


@pytest.mark.prove
def test_cancelling_any_kind_of_work_frees_its_process_within_a_second(tmp_path: Path) -> None:
    with running(tmp_path) as demo:
        sender = Sender(demo, "", "")
        assert sender.bring(zipped({"index.html": LONG})) == "done"
        path, before = f"/api/sites/{sender.last}", set(demo.processes())
        took, base = dict[str, float](), {"base": demo.base(sender.last)}
        for name, (method, what, body) in KINDS.items():
            status, work = demo.call(method, f"{path}/{what}", {**base, **body} if body else body)
            assert status == 202 and set(demo.processes()) - before, name
            assert demo.call("DELETE", f"/api/work/{work['work']}")[0] == 204
            took[name] = freed(demo, before)
        job = demo.upload(zipped({f"{n}.html": LONG for n in range(4)}), "long.zip")
        while not set(demo.processes()) - before:
            time.sleep(0.02)
        demo.call("DELETE", f"/api/jobs/{job['number']}")
        took["bringing in"] = freed(demo, before)
        assert max(took.values()) < 1.0, took
        # and it ends at once whatever runs
        demo.upload(zipped({f"{n}.html": LONG for n in range(5)}), "long.zip")
        demo.call("POST", f"{path}/searches", {**base, "search": "fix-all"})
        start = time.monotonic()
        assert demo.stop() == 0 and time.monotonic() - start < 5
