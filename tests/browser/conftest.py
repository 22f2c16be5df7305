"""Fixtures of the browser's tests: a signed-up owner in a real browser, and watchful eyes on its console."""

from __future__ import annotations

import re
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from django.conf import settings
from django.contrib.auth import get_user_model
from django.core import mail
from django.core.cache import cache
from django.test import Client
from playwright.sync_api import Page, expect
from pytest_django.live_server_helper import LiveServer

from tests.apps.conftest import folder_files, zipped

expect.set_options(timeout=40_000)  # two cores, a browser that draws in software, and the checks run beside at first

# refusals answer with a 4xx, and scripts of framed sites are kept from running: the browser notes both by itself
_EXPECTED = ("status of 4", "Content Security Policy", "Blocked script execution", "blocked by CORS", "ERR_FAILED",
             "ERR_INTERNET_DISCONNECTED")  # fmt: skip


CSRF = "q" * 32
FEW = ("index.html", "prices.html", "boats/index.html", "notices/index.html")
NOTHING_TO_TELL = {"scripts": [], "wanted": [], "measured": 0, "total": 0, "is_used": True}
LAYOUT = re.compile(r"/api/sites/[^/]+/layout$")


@pytest.fixture(scope="session")
def base_url(live_server: LiveServer) -> str:
    return str(live_server.url)


def watched(page: Page) -> list[str]:
    """Set a page up as all tests here have it; return the list its complaints come into."""
    complaints: list[str] = []
    page.on("console", lambda said: complaints.append(said.text) if said.type == "error" else None)
    page.on("pageerror", lambda error: complaints.append(str(error)))
    page.set_viewport_size({"width": 1280, "height": 800})
    page.set_default_timeout(40_000)
    # pages are measured in idle time, which would go on while a test ends; it has tests of its own
    page.route(LAYOUT, lambda route: route.fulfill(json=NOTHING_TO_TELL))
    return complaints


def nothing_wrong(complaints: list[str]) -> bool:
    return not [one for one in complaints if not any(known in one for known in _EXPECTED)]


def sign_up(page: Page, address: str) -> None:
    """Sign up by hand and confirm the address on the page that the letter names."""
    page.get_by_label("Mail address").fill(address)
    page.get_by_label("Password", exact=True).fill("lock keeper 9")
    page.get_by_role("button", name="Sign up").click()
    page.get_by_role("heading", name="Look into your mail").wait_for()
    page.goto(page_in_letter("confirm"))
    page.get_by_role("button", name="Confirm my address").click()


def page_in_letter(what: str) -> str:
    """Return the page of Glaucon's that the last letter names."""
    found = re.search(rf"/account/{what}/\S+", str(mail.outbox[-1].body))
    assert found is not None
    return found.group(0)


@pytest.fixture
def newcomer(page: Page, transactional_db: None) -> Iterator[Page]:
    """Yield the page of a person who has just signed up; anything the console complains of fails the test."""
    complaints = watched(page)
    cache.clear()  # what was tried in another test
    page.goto("/")
    sign_up(page, "marl@yard.example")
    page.get_by_role("heading", name="Your sites", exact=True).wait_for()
    yield page
    assert nothing_wrong(complaints), complaints


@pytest.fixture
def desk(page: Page, base_url: str, transactional_db: None) -> Iterator[Page]:
    """Yield an empty page of a person who is signed in; anything the console complains of fails the test."""
    complaints = watched(page)
    sign_in(page, base_url)
    yield page
    assert nothing_wrong(complaints), complaints


def sign_in(page: Page, base_url: str) -> None:
    """Give a page the cookies of a person who is signed in."""
    signed_in = Client()
    signed_in.force_login(get_user_model().objects.create_user("Marl"))
    cookies = {settings.SESSION_COOKIE_NAME: signed_in.session.session_key, settings.CSRF_COOKIE_NAME: CSRF}
    page.context.add_cookies([{"name": name, "value": value, "url": base_url} for name, value in cookies.items()])


@pytest.fixture
def archive(tmp_path: Path, otterlock: Path) -> Path:
    path = tmp_path / "otterlock.zip"
    path.write_bytes(zipped(folder_files(otterlock)))
    return path


@pytest.fixture
def few(tmp_path: Path, otterlock: Path) -> Path:
    """Return the archive of a few pages of the sample, for what needs no more of them."""
    path = tmp_path / "otterlock.zip"
    files = folder_files(otterlock)
    path.write_bytes(zipped({name: data for name, data in files.items() if ".html" not in name or name in FEW}))
    return path


def choose_zip(page: Page, archive: Path) -> None:
    # once what is told of the site is there: until then the button moves down under the pointer
    page.wait_for_load_state("networkidle")
    with page.expect_file_chooser() as chooser:
        page.get_by_role("button", name="Choose a .zip…").click()
    chooser.value.set_files(archive)


def brought(page: Page, archive: Path) -> str:
    """Bring an archive in and return its site's name in addresses; the screens on the way have tests of their own."""
    sent = {"name": "otterlock.zip", "mimeType": "application/zip", "buffer": archive.read_bytes()}
    token = next(one["value"] for one in page.context.cookies() if one["name"] == settings.CSRF_COOKIE_NAME)
    asked = page.request.post("/api/bring/zip", multipart={"archive": sent}, headers={"X-CSRFToken": token})
    assert asked.ok, asked.text()
    job: dict[str, Any] = asked.json()
    while job["state"] in ("waiting", "running"):
        time.sleep(0.05)
        job = page.request.get(f"/api/jobs/{job['number']}").json()
    return str(job["site"])


def bring(page: Page, archive: Path) -> None:
    """Bring an archive in and wait for its bench."""
    page.goto(f"/sites/{brought(page, archive)}/bench")
    page.get_by_role("heading", name="Hard to read").wait_for()


def choose(page: Page, label: str, option: str) -> None:
    """Choose from a list of colours, opened by keyboard."""
    field = page.get_by_role("combobox", name=label, exact=True)
    expect(page.locator(".el-select-dropdown").locator("visible=true")).to_have_count(0)
    field.focus()
    field.press("ArrowDown")
    page.locator(f"#{field.get_attribute('aria-controls')}").get_by_role("option", name=option, exact=True).click()


def at_rest(page: Page) -> None:
    """Wait until nothing moves or fades any more: what is half there has other colours."""
    page.evaluate("() => Promise.allSettled(document.getAnimations().map((one) => one.finished))")
    page.evaluate("() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))")
