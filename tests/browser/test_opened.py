"""A site that scripts build, from its sample to its release: what opens is chosen, fixed, looked at alive, released."""

from __future__ import annotations

import re
from pathlib import Path

from playwright.sync_api import Page, expect

from tests import captures
from tests.browser.conftest import LAYOUT, at_rest
from tests.browser.test_accessibility import AXE, FINDINGS
from tests.core.test_bringing import SAMPLE


def assert_accessible(page: Page) -> None:
    page.evaluate(AXE)
    at_rest(page)
    assert page.evaluate(FINDINGS, "body") == []


def choose_opened(page: Page, name: str) -> None:
    page.get_by_role("combobox", name="What is opened").press("Enter")
    page.get_by_role("option", name=f"opened: {name}", exact=True).click()


def test_what_a_click_opens_from_the_sample_to_the_release(desk: Page) -> None:
    desk.unroute(LAYOUT)
    desk.goto("/")
    desk.get_by_role("button", name="Fenholt Ferry").click()
    desk.get_by_role("heading", name="2 pages with").wait_for()
    desk.get_by_role("link", name="Bench", exact=True).click()
    # pressed while scripts are still run: it waits, and goes on where the site is read anew
    desk.get_by_role("button", name="Fix all…").click()
    desk.get_by_role("button", name="Apply", exact=True).wait_for()
    told = desk.locator(".FixAll")
    fixed, of = map(int, re.findall(r"(\d+) of (\d+) fixed", told.inner_text())[0])
    assert fixed == of > 20, told.inner_text()
    desk.get_by_role("button", name="Cancel", exact=True).click()

    first = desk.locator(".BenchScreen iframe, .PageMiniature iframe").first.content_frame
    expect(first.get_by_text("Ring the bell")).to_be_hidden()
    choose_opened(desk, "Menu")
    expect(first.get_by_text("Ring the bell")).to_be_visible()
    expect(desk.get_by_text("only with “Menu” opened").first).to_be_visible()
    assert_accessible(desk)

    desk.get_by_role("button", name="Fix all…").click()
    desk.get_by_role("button", name="Apply", exact=True).click()
    expect(desk.get_by_text("Everything is readable.")).to_be_visible()
    site = desk.url.split("/")[4]
    desk.goto(f"/sites/{site}/close-up?page=index.html&state=rest&opened=Menu&at=html>body>header>nav>span")
    page = desk.locator(".CloseUpPage iframe").content_frame
    expect(page.get_by_text("Ring the bell")).to_be_visible()
    assert_accessible(desk)
    desk.get_by_role("button", name="Let it run").click()
    alive = desk.locator(".AlivePage iframe").content_frame
    alive.get_by_text("High water twice a day").wait_for()  # which a script writes
    alive.get_by_role("button", name="Menu").evaluate("one => one.click()")
    hint = alive.get_by_text("Ring the bell")
    expect(hint).to_be_visible()
    assert hint.evaluate("one => getComputedStyle(one).color") != "rgb(143, 180, 184)"  # as it came
    assert_accessible(desk)
    desk.get_by_role("button", name="Hold it still").click()
    expect(page.get_by_text("Ring the bell")).to_be_visible()

    desk.get_by_role("link", name="Release", exact=True).click()
    desk.get_by_role("button", name="Release to the live site").click()
    desk.get_by_text("It is live.").wait_for()


def test_pages_saved_from_a_browser_come_in_together(desk: Page, tmp_path: Path) -> None:
    some = []
    for page in ("index.html", "prices.html"):
        some.append(tmp_path / f"Otterlock {page}.mhtml")
        some[-1].write_bytes(captures.as_mhtml(SAMPLE, page))
    desk.goto("/")
    desk.wait_for_load_state("networkidle")
    with desk.expect_file_chooser() as chooser:
        desk.get_by_role("button", name="Choose saved pages…").click()
    chooser.value.set_files(some)
    desk.get_by_role("heading", name="2 pages with").wait_for()
    assert desk.request.get(f"/api/sites/{desk.url.split('/')[4]}").json()["name"] == "Otterlock index.html"
