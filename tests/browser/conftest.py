"""Fixtures of the browser's tests: a signed-up owner in a real browser, and watchful eyes on its console."""

from __future__ import annotations

import base64
import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any
from urllib.parse import urljoin

import pytest
from playwright.sync_api import Page, expect
from pytest_django.live_server_helper import LiveServer

from tests.apps.conftest import folder_files, zipped

expect.set_options(timeout=15_000)  # two cores, and a browser that draws in software

# refusals answer with a 4xx, and scripts of framed sites are kept from running: the browser notes both by itself
_EXPECTED = ("status of 4", "Content Security Policy", "Blocked script execution", "blocked by CORS", "ERR_FAILED")


LAYOUT = re.compile(r"/api/sites/[^/]+/layout$")


@pytest.fixture
def desk(page: Page, live_server: LiveServer, transactional_db: None) -> Iterator[Page]:
    """Yield a page of a person who has just signed up; anything the console complains of fails the test."""
    complaints: list[str] = []
    page.on("console", lambda said: complaints.append(said.text) if said.type == "error" else None)
    page.on("pageerror", lambda error: complaints.append(str(error)))
    page.set_viewport_size({"width": 1280, "height": 800})
    page.set_default_timeout(15_000)
    # pages are measured in idle time, which would go on while a test ends; it has tests of its own
    page.route(LAYOUT, lambda route: route.fulfill(json={"wanted": [], "measured": 0, "total": 0, "is_used": True}))
    page.goto(live_server.url)
    page.get_by_label("Name").fill("Marl")
    page.get_by_label("Password", exact=True).fill("lock keeper 9")
    page.get_by_role("button", name="Sign up").click()
    page.get_by_role("heading", name="Your sites").wait_for()
    yield page
    assert [one for one in complaints if not any(known in one for known in _EXPECTED)] == []


@pytest.fixture
def archive(tmp_path: Path, otterlock: Path) -> Path:
    path = tmp_path / "otterlock.zip"
    path.write_bytes(zipped(folder_files(otterlock)))
    return path


def choose_zip(page: Page, archive: Path) -> None:
    # once what is told of the site is there: until then the button moves down under the pointer
    page.wait_for_load_state("networkidle")
    with page.expect_file_chooser() as chooser:
        page.get_by_role("button", name="Choose a .zip…").click()
    chooser.value.set_files(archive)


_SEND = """async (base64) => {
  const token = /csrftoken=([^;]+)/.exec(document.cookie)[1];
  const body = new FormData();
  body.append("archive", new Blob([Uint8Array.from(atob(base64), (one) => one.charCodeAt(0))]), "otterlock.zip");
  const sent = await fetch("/api/bring/zip", { method: "POST", headers: { "X-CSRFToken": token }, body });
  return sent.json();
}"""


def bring(page: Page, archive: Path) -> None:
    """Bring an archive and wait for its bench; the screens on the way have tests of their own."""
    job: dict[str, Any] = {}
    for _ in range(6):  # on a busy machine the very first write after signing up may still be answered 401
        job = page.evaluate(_SEND, base64.b64encode(archive.read_bytes()).decode())
        if "state" in job:
            break
        page.wait_for_timeout(500)
    while job["state"] in ("waiting", "running"):
        page.wait_for_timeout(50)
        job = page.evaluate("number => fetch(`/api/jobs/${number}`).then((one) => one.json())", job["number"])
    page.goto(urljoin(page.url, f"/sites/{job['site']}/bench"))
    page.get_by_role("heading", name="Hard to read").wait_for()


def choose(page: Page, label: str, option: str) -> None:
    """Choose from a list of colours, opened by keyboard."""
    field = page.get_by_role("combobox", name=label, exact=True)
    expect(page.locator(".el-select-dropdown").locator("visible=true")).to_have_count(0)
    field.focus()
    field.press("ArrowDown")
    page.locator(f"#{field.get_attribute('aria-controls')}").get_by_role("option", name=option, exact=True).click()
