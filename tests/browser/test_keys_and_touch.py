"""From an archive to a readable site that is live, by keyboard alone, and by touch alone on a phone."""

from __future__ import annotations

import re
from collections.abc import Callable
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Locator, Page, expect

from tests.browser.conftest import nothing_wrong, watched

NAME = """() => { const one = document.activeElement;
  return (one.getAttribute("aria-label") || one.innerText || one.value || "").trim() }"""
MOST_TABS = 120

Press = Callable[[str], None]


def until_live(page: Page, press: Press, archive: Path) -> None:
    """Bring the sample in, have all of it fixed, put it live; nothing is typed."""
    page.goto("/")
    page.wait_for_load_state("networkidle")
    with page.expect_file_chooser() as chooser:
        press("Choose a .zip…")
    chooser.value.set_files(archive)
    page.get_by_role("heading", name=re.compile(r"^\d+ pages with")).wait_for(timeout=60_000)
    press("Bench")
    page.get_by_role("heading", name="Hard to read").wait_for()
    hard = int(page.locator("header .tag").inner_text())
    press("Fix all…")
    page.get_by_role("button", name="Apply", exact=True).wait_for(timeout=60_000)
    press("Apply")
    expect(page.locator("header .tag")).not_to_have_text(str(hard))
    assert int(page.locator("header .tag").inner_text()) < hard / 2
    press("Release")
    press("Release to the live site")
    expect(page.get_by_text("It is live.")).to_be_visible(timeout=60_000)


@pytest.mark.prove
def test_by_keyboard_alone(desk: Page, few: Path) -> None:
    def press(name: str) -> None:
        there = desk.get_by_role("button", name=re.compile(f"^{name}"))
        expect(there.or_(desk.get_by_role("link", name=name)).first).to_be_visible()
        for _ in range(MOST_TABS):
            desk.keyboard.press("Tab")
            if re.match(rf"{re.escape(name)}( \d|$)", desk.evaluate(NAME)):
                # what has the focus shows it
                ring = desk.evaluate("() => { const s = getComputedStyle(document.activeElement); "
                                     "return s.boxShadow + s.outlineStyle + s.borderColor }")  # fmt: skip
                assert ring
                desk.keyboard.press("Enter")
                return
        raise AssertionError(f"{name} is not reached by Tab")

    until_live(desk, press, few)


@pytest.mark.prove
def test_by_touch_alone(browser: Browser, desk: Page, few: Path, base_url: str) -> None:
    context = browser.new_context(
        base_url=base_url, viewport={"width": 390, "height": 844}, has_touch=True, is_mobile=True
    )
    context.add_cookies(desk.context.cookies())  # type: ignore[arg-type]
    phone = context.new_page()
    complaints = watched(phone)
    phone.set_viewport_size({"width": 390, "height": 844})

    def press(name: str) -> None:
        found: Locator = phone.get_by_role("button", name=re.compile(rf"^{re.escape(name)}( \d|$)"))
        found = found.or_(phone.get_by_role("link", name=name, exact=True))
        expect(phone.locator("html")).to_have_js_property("scrollWidth", 390)
        found.locator("visible=true").first.tap()

    until_live(phone, press, few)
    assert nothing_wrong(complaints), complaints
    context.close()
