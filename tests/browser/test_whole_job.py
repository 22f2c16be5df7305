"""The whole job in a real browser: bring a site, break its reading, mend it, go live, go back."""

from __future__ import annotations

import re
from pathlib import Path

from playwright.sync_api import Page, expect
from pytest_django.live_server_helper import LiveServer

from tests.apps.conftest import zipped
from tests.browser.conftest import bring, choose_zip

OLD_GROUND, NEW_GROUND = "rgb(251, 247, 239)", "rgb(63, 90, 82)"


def colours(page: Page, address: str) -> tuple[str, str]:
    """Return the ground of the page and the colour of its words as a visitor's browser computes them."""
    page.goto(address)
    ground, words = page.evaluate(
        """[getComputedStyle(document.body).backgroundColor,
            getComputedStyle(document.querySelector(".section h2")).color]"""
    )
    return ground, words


def test_the_whole_job(newcomer: Page, live_server: LiveServer, archive: Path) -> None:
    bring(newcomer, archive)
    hard_at_first = int(newcomer.locator("header .tag").inner_text())

    apply = newcomer.get_by_role("button", name="Heading on Background", exact=True)
    card = newcomer.get_by_role("listitem").filter(has=apply)
    expect(card).to_have_count(0)

    # a ground that is darker than the words can bear
    newcomer.get_by_role("group", name="Site colours").get_by_role("button", name="Background").click()
    entry = newcomer.get_by_label("Colour of Background")
    entry.fill("#3f5a52")
    entry.press("Enter")
    expect(card).to_be_visible()
    expect(newcomer.locator("header .tag")).not_to_have_text(str(hard_at_first))
    expect(newcomer.get_by_role("status").filter(has_text="saved")).to_have_text("saved")

    # every page shows it
    frames = newcomer.locator(".PageMiniature iframe")
    for place in range(6):
        body = frames.nth(place).content_frame.locator("body")
        expect(body).to_have_css("background-color", NEW_GROUND)

    # the nearest readable words
    card.scroll_into_view_if_needed()  # offers are worked out for the findings in sight
    card.get_by_role("button", name=re.compile("^Apply .* to Heading")).first.click()
    expect(card).to_have_count(0)
    words = newcomer.locator('[data-tile="heading"] .code').inner_text().lower()
    assert words != "#14342b", "the offer was for the words"

    # live
    newcomer.get_by_role("button", name="Release 2 changes…").click()
    expect(newcomer.get_by_role("heading", name="2 changes, 9 pages")).to_be_visible()
    newcomer.get_by_role("button", name="Release to the live site").click()
    expect(newcomer.get_by_text("It is live.")).to_be_visible()
    visitor = newcomer.context.new_page()
    address = f"{live_server.url}/live/otterlock/"
    ground, seen = colours(visitor, address)
    assert (ground, seen) == (NEW_GROUND, _rgb(words))

    # and back
    newcomer.get_by_role("listitem").filter(has_text="Original").get_by_role(
        "button", name="Go back to this release"
    ).click()
    expect(newcomer.get_by_text("The original site is live.")).to_be_visible()
    assert colours(visitor, address) == (OLD_GROUND, "rgb(20, 52, 43)")


def _rgb(hex_: str) -> str:
    return "rgb({}, {}, {})".format(*(int(hex_[i : i + 2], 16) for i in (1, 3, 5)))


def test_drag_repaints_the_pages_before_anything_is_saved(desk: Page, few: Path) -> None:
    bring(desk, few)
    desk.locator('[data-tile="background"]').click()
    track = desk.get_by_role("slider", name="Lightness", exact=True)
    box = track.bounding_box()
    assert box is not None
    body = desk.locator(".PageMiniature iframe").first.content_frame.locator("body")
    expect(body).to_have_css("background-color", OLD_GROUND)
    desk.mouse.move(box["x"] + box["width"] * 0.9, box["y"] + 10)
    desk.mouse.down()
    desk.mouse.move(box["x"] + box["width"] * 0.3, box["y"] + 10, steps=6)
    expect(body).not_to_have_css("background-color", OLD_GROUND)
    expect(desk.get_by_role("button", name="Undo")).to_be_disabled()
    desk.mouse.up()
    expect(desk.get_by_role("button", name="Undo")).to_be_enabled()
    desk.keyboard.press("Control+z")
    expect(body).to_have_css("background-color", OLD_GROUND)


def test_states_show_on_the_bench(desk: Page, few: Path) -> None:
    bring(desk, few)
    link = desk.locator(".PageMiniature iframe").first.content_frame.get_by_role("link", name="See the boats")
    for state, colour in (("Hover", "rgb(200, 69, 43)"), ("At rest", "rgb(11, 92, 122)")):
        desk.get_by_text(state, exact=True).click()
        expect(link).to_have_css("color", colour)


def test_two_windows_the_stale_one_is_told(desk: Page, few: Path) -> None:
    bring(desk, few)
    other = desk.context.new_page()
    other.goto(desk.url)
    for page, role, value in ((other, "Background", "#ffeedd"), (desk, "Line", "#ddeeff")):
        page.get_by_role("group", name="Site colours").get_by_role("button", name=role).click()
        entry = page.get_by_label(f"Colour of {role}")
        entry.fill(value)
        with page.expect_response(re.compile("/acts$")):  # one write after the other, however slow
            entry.press("Enter")
    dialog = desk.get_by_role("dialog", name="These colours were changed in another window")
    dialog.get_by_role("button", name="Keep mine").click()
    expect(dialog).to_be_hidden()
    expect(desk.locator('[data-tile="background"] .code')).to_have_text("#ffeedd")
    expect(desk.locator('[data-tile="line"] .code')).to_have_text("#ddeeff")


def test_what_is_refused_says_so_and_loses_nothing(desk: Page, archive: Path, tmp_path: Path) -> None:
    not_a_zip = tmp_path / "site.zip"
    not_a_zip.write_bytes(b"GIF89a")
    desk.goto("/")
    choose_zip(desk, not_a_zip)
    expect(desk.get_by_role("alert")).to_have_text(re.compile("This file is no website"))
    desk.get_by_role("link", name="Back to your sites").click()
    bring(desk, archive)
    desk.locator('[data-tile="link"]').click()
    entry = desk.get_by_label("Colour of Link", exact=True)
    entry.fill("blurple")
    entry.press("Enter")
    expect(desk.get_by_role("alert").filter(has_text="blurple")).to_contain_text("Did you mean “purple”?")
    expect(entry).to_have_value("blurple")
    expect(desk.locator('[data-tile="link"] .code')).to_have_text("#0b5c7a")


def test_a_page_alone_is_shown_from_top_to_bottom(desk: Page, tmp_path: Path) -> None:
    """Screen by screen, each scrolled to its own; of many pages only how each begins."""
    parts = "".join(f"<section style='height: 700px'><h2>Reach {n}</h2></section>" for n in range(1, 5))
    archive = tmp_path / "long.zip"
    archive.write_bytes(zipped({"index.html": f"<!doctype html><title>The cut</title>{parts}".encode()}))
    bring(desk, archive)
    frames = desk.locator(".PageMiniature iframe")
    expect(frames).to_have_count(4)
    expect(desk.get_by_text("4 of 4")).to_be_visible()

    def tops() -> list[float]:
        return [frames.nth(n).content_frame.locator("html").evaluate("() => scrollY") for n in range(4)]

    for _ in range(50):  # each is told where to stand once it is there
        if min(tops()[1:]) > 0:
            break
        desk.wait_for_timeout(100)
    first, second, third, fourth = tops()
    assert (first, second) == (0, 860) and second < third <= fourth
