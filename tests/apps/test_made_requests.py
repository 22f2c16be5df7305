"""Every operation of the API, asked thousands of things that its description allows and forbids, on a running demo."""

from __future__ import annotations

import re
import subprocess
import sys
from pathlib import Path

import pytest

from tests.running import ROOT, running

# these would sign the asker out or take the site away; signing in and up have tests of their own
LEFT_OUT = ("signOut", "signIn", "signUp", "removeSite")
MOST_SECONDS = 2
LEAST_CASES = 5_000


@pytest.mark.prove
def test_no_request_breaks_the_application_or_takes_it_long(tmp_path: Path) -> None:
    settings = tmp_path / "settings.toml"
    settings.write_text('[parameters]\n"path.slug" = "otterlock-boats"\n')
    with running(tmp_path) as demo:
        cookies = {one.name: str(one.value) for one in demo.cookies}
        run = [
            str(Path(sys.executable).parent / "schemathesis"), "--config-file", str(settings), "run",
            str(ROOT / "docs" / "openapi.json"), "--url", demo.address, "--no-color", "--workers", "2", "--seed", "1",
            "--header", "Cookie: " + "; ".join(f"{name}={value}" for name, value in cookies.items()),
            "--header", f"X-CSRFToken: {cookies['csrftoken']}",
            "--checks", "not_a_server_error", "--max-response-time", str(MOST_SECONDS), "--continue-on-failure",
            "--phases", "coverage,fuzzing", "--max-examples", "40",
            *(word for name in LEFT_OUT for word in ("--exclude-operation-id", name)),
        ]  # fmt: skip
        said = subprocess.run(run, capture_output=True, text=True, check=False, cwd=tmp_path).stdout
        asked = re.search(r"(\d+) generated, (\d+) passed", said)
        assert asked is not None, said[-6000:]
        made, passed = int(asked[1]), int(asked[2])
        assert made == passed >= LEAST_CASES, said[-6000:]
        # it was asked by somebody who is signed in, and the site is as usable as before
        assert "Authentication failed" not in said
        assert demo.call("GET", "/api/sites/otterlock-boats/study")[0] == 200
