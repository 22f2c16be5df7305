"""All pressed the moment it can be, with a server ten times slower: nothing dropped, nothing promised too soon."""

from __future__ import annotations

import re
import time
from pathlib import Path
from typing import Any

import pytest
from django.core.handlers.wsgi import WSGIHandler
from playwright.sync_api import Locator, Page, expect

from tests.apps.conftest import folder_files, zipped
from tests.browser.conftest import LAYOUT, at_rest
from tests.oracle.corpus import FETCHED

TIMES_SLOWER = 10
MOST_SECONDS = 1.5  # what a browser waits more for one answer: frames ask for hundreds of files
REAL = ("clean-blog-6", "agency-7", "shop-homepage-5", "freelancer-7", "landing-page-6", "modern-business-5",
        "creative-7", "bamboo-css", "flask-doc")  # fmt: skip
PATIENCE = 240_000
LOOKED_AT = re.compile(r"(\d+) of (\d+) texts are readable")


def slowed(monkeypatch: pytest.MonkeyPatch) -> None:
    """Have the server take ten times as long for each answer of the application."""
    answer = WSGIHandler.get_response

    def late(self: WSGIHandler, request: Any) -> Any:
        begun = time.monotonic()
        response = answer(self, request)
        if request.path.startswith("/api/"):
            time.sleep(min((TIMES_SLOWER - 1) * (time.monotonic() - begun), MOST_SECONDS))
        return response

    monkeypatch.setattr(WSGIHandler, "get_response", late)


def archive_of(name: str, otterlock: Path, folder: Path) -> Path:
    site = otterlock if name == "otterlock" else FETCHED / name
    if not site.is_dir():
        pytest.skip(f"{name} is not on this machine")
    path = folder / f"{name}.zip"
    path.write_bytes(zipped(folder_files(site)))
    return path


def at_once(page: Page, name: str) -> None:
    """Press what is called so as soon as it is there and can be pressed."""
    button = page.get_by_role("button", name=re.compile(rf"^{re.escape(name)}( \d|$)"))
    there: Locator = button.or_(page.get_by_role("link", name=name, exact=True)).locator("visible=true").first
    there.click(timeout=PATIENCE)


def count_in_head(page: Page) -> int:
    tag = page.locator("header .tag")
    return int(tag.inner_text()) if tag.count() else 0


@pytest.mark.parametrize("name", [
    pytest.param("otterlock", marks=pytest.mark.prove), *(pytest.param(one, marks=pytest.mark.prove) for one in REAL),
])  # fmt: skip
def test_a_person_in_a_hurry_loses_nothing(
    name: str, desk: Page, otterlock: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    slowed(monkeypatch)
    desk.unroute(LAYOUT)
    desk.set_default_timeout(PATIENCE)
    desk.goto("/")
    with desk.expect_file_chooser() as chooser:
        at_once(desk, "Choose a .zip…")
    chooser.value.set_files(archive_of(name, otterlock, tmp_path))
    at_once(desk, "Bench")
    calm = desk.get_by_text(re.compile(r"^(Nothing is hard to read so far|Everything is readable)\."))
    calm.or_(desk.get_by_role("button", name="Fix all…")).first.wait_for(timeout=PATIENCE)
    is_fixed = not calm.count()
    if is_fixed:
        at_once(desk, "Fix all…")
        at_once(desk, "Apply")
    at_once(desk, "Release")
    at_once(desk, "Release to the live site")
    expect(desk.get_by_text("It is live.")).to_be_visible(timeout=PATIENCE)
    # what was pressed was done
    if is_fixed:
        expect(desk.get_by_role("button", name="Undo")).to_be_enabled()
    promised = LOOKED_AT.search(desk.get_by_label("What would change").inner_text())
    assert promised, "nothing is said of what can be read"
    # what is said once everything has been looked at is what was said as it went live
    desk.reload()
    expect(desk.get_by_text(LOOKED_AT)).to_be_visible(timeout=PATIENCE)
    desk.wait_for_load_state("networkidle")
    later = LOOKED_AT.search(desk.get_by_label("What would change").inner_text())
    assert later and later.groups() == promised.groups()
    assert int(later[2]) - int(later[1]) == count_in_head(desk)
    # a palette made as soon as its button is there
    at_once(desk, "Studies")
    entry = desk.get_by_label("Colours", exact=True)
    entry.fill("#7a3fe0")
    at_once(desk, "Make palettes")
    desk.locator(".choices li").nth(1).wait_for(timeout=PATIENCE)
    at_rest(desk)
