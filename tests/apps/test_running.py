"""Through the real server, as `bin/demo` starts it: who is let in, one worker, and writes that need not wait."""

from __future__ import annotations

import http.client
import json
import os
import subprocess
import sys
import threading
import time
from pathlib import Path

import pytest

from tests.apps.conftest import zipped
from tests.running import ROOT, Running, running

PROXIES = ("X-Forwarded-For", "X-Forwarded-Host", "Forwarded", "Via", "X-Real-IP")
SITE = "otterlock-boats"


def _session(demo: Running, headers: dict[str, str]) -> str | None:
    """Return who a newcomer with some headers is taken for."""
    asked = http.client.HTTPConnection("127.0.0.1", demo.port, timeout=20)
    asked.request("GET", "/api/session", headers=headers)
    name: str | None = json.loads(asked.getresponse().read())["name"]
    asked.close()
    return name


@pytest.mark.prove
def test_the_demo_as_it_runs(tmp_path: Path) -> None:
    with running(tmp_path) as demo:
        # whoever a proxy speaks for is somebody else, though the proxy itself is on this machine
        assert _session(demo, {}) == "wren"
        for header in PROXIES:
            assert _session(demo, {header: "203.0.113.7"}) is None, header
        # a second worker would take the first one's jobs for left behind: it is refused, and the first goes on
        environment = {**os.environ, "GLAUCON_DATA": str(tmp_path), "DJANGO_SETTINGS_MODULE": "glaucon.settings.base"}
        second = subprocess.run(
            [sys.executable, "-m", "glaucon.manage", "run_work"], env=environment, cwd=ROOT, capture_output=True,
            text=True, timeout=60, check=False,
        )  # fmt: skip
        assert second.returncode != 0 and "already" in second.stderr + second.stdout
        status, found = demo.done("POST", f"/api/sites/{SITE}/searches", {"base": demo.base(), "search": "fix-all"})
        assert (status, found["search"]) == (200, "fix-all")


def test_the_demo_answers_to_no_other_name(tmp_path: Path) -> None:
    environment = {**os.environ, "GLAUCON_DATA": str(tmp_path), "GLAUCON_HOSTS": "localhost,boats.example"}
    refused = subprocess.run(
        [str(ROOT / "bin" / "demo")], env=environment, capture_output=True, text=True, timeout=60, check=False
    )
    assert refused.returncode == 1 and "leave boats.example out of GLAUCON_HOSTS" in refused.stderr


@pytest.mark.prove
def test_four_writers_beside_slow_surveys_wait_for_nobody(tmp_path: Path) -> None:
    seconds, waits, wrong = 60.0, [], []

    def write(writer: Running, site: str, number: int, until: float) -> None:
        turn = 0
        while time.monotonic() < until:
            turn += 1
            act = {"act": "set-colour", "role": "link", "value": f"#{number}{turn % 10}{turn % 7}abc"}
            base = writer.base(site)
            start = time.monotonic()
            status, said = writer.call("POST", f"/api/sites/{site}/acts", {"base": base, "acts": [act]})
            waits.append(time.monotonic() - start)
            if status != 200:
                wrong.append((status, said))

    with running(tmp_path) as demo:
        writers = [demo.as_owner(f"writer-{number}") for number in range(4)]
        archive = _archive()
        sites = []
        for writer in writers:
            job = writer.upload(archive, "own.zip")
            while job["state"] not in ("done", "failed"):
                time.sleep(0.2)
                job = writer.call("GET", f"/api/jobs/{job['number']}")[1]
            sites.append(job["site"])
        until = time.monotonic() + seconds
        threads = [threading.Thread(target=write, args=(one, sites[n], n + 1, until)) for n, one in enumerate(writers)]
        for thread in threads:
            thread.start()
        surveys = 0
        while time.monotonic() < until:
            # the backdrop of a whole site has it surveyed anew
            backdrop = {"in": None, "layers": [{"colour": f"#{surveys % 10}0a0b0"}]}
            status, said = demo.act({"act": "lay-backdrop", "backdrop": backdrop})
            surveys += 1
            if status != 200:
                wrong.append((status, said))
        for thread in threads:
            thread.join()
    print(f"{len(waits)} writes beside {surveys} surveys: longest {max(waits):.2f} s")
    assert wrong == [] and len(waits) > 100 and surveys > 3
    assert max(waits) < 1.0


def _archive() -> bytes:
    page = "<title>Quay</title><body><h1>Quay</h1><p>Moored <a href=#>here</a></p>"
    css = "body { background: #fbf7ef; color: #22302b } a { color: #0b5c7a } h1 { color: #14342b }"
    return zipped({"index.html": f"<style>{css}</style>{page}".encode()})
