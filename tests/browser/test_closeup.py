"""The close-up in a real browser: a part clicked and stepped to, changed as far as chosen; CSS of the owner's own."""

from __future__ import annotations

from pathlib import Path

import pytest
from playwright.sync_api import Browser, Frame, Page, expect

from tests.browser.conftest import bring
from tests.browser.test_sections import shown
from tests.oracle import corpus
from tests.oracle.fresh import FRESH
from tests.oracle.origins import prove as prove_origins
from tests.oracle.reach import prove as prove_reach

WIDE = 1280
# fields and buttons that the browser draws itself show in pixels only what reaches them
LEAST_REACHES = {"controls": 2, "spectre-docs": 8}


def close_up(page: Page, name: str) -> Frame:
    """Open a page from the map and return the inside of its frame."""
    page.get_by_role("link", name="Sections").click()
    page.locator(".PageStack").get_by_role("link", name=name, exact=True).click()
    handle = page.locator(".CloseUpPage iframe").element_handle()
    frame = handle.content_frame() if handle else None
    assert frame is not None
    frame.wait_for_load_state()
    # clicks are worked out from the frame's box, which is drawn to fit a moment later
    page.wait_for_function("""() => { const one = document.querySelector('.CloseUpPage iframe');
      return Math.abs(one.getBoundingClientRect().width - one.parentElement.clientWidth) < 4 }""")
    return frame


def click_in(page: Page, frame: Frame, selector: str) -> None:
    """Click the middle of an element in the frame, which is drawn smaller than it is."""
    middle = """s => { const b = document.querySelector(s).getBoundingClientRect();
      return [b.left + b.width / 2, b.top + b.height / 2] }"""
    x, y = frame.evaluate(middle, selector)
    box = page.locator(".CloseUpPage iframe").bounding_box()
    assert box is not None
    page.mouse.click(box["x"] + x * box["width"] / WIDE, box["y"] + y * box["width"] / WIDE)


def test_a_part_is_changed_as_far_as_chosen(desk: Page, archive: Path) -> None:
    bring(desk, archive)
    frame = close_up(desk, "Prices")
    click_in(desk, frame, "[aria-current]")
    side = desk.get_by_label("What is chosen")
    expect(side.get_by_role("heading", name="Current menu item", exact=True)).to_be_visible()
    expect(side.get_by_label("What it lies in")).to_contain_text("Prices › Header › Menu › Current menu item")
    side.get_by_text("all like it, on every page").click()
    expect(side.locator(".elsewhere")).to_contain_text("and 3 more pages")
    side.get_by_label("Change Link, Rest").click()
    field = desk.get_by_label("Link here", exact=True)
    field.fill("#c05000")
    field.press("Enter")
    expect(side.get_by_label("Change Link, Rest")).to_contain_text("#c05000")
    # arrow keys: up to the menu's item, the menu, the header; Esc leaves
    desk.get_by_role("button", name="Close the tray").click()
    desk.locator(".CloseUpPage").focus()
    for _ in range(3):
        desk.keyboard.press("ArrowUp")
    expect(side.get_by_role("heading", level=2)).not_to_have_text("Current menu item")
    desk.keyboard.press("Escape")
    expect(desk.get_by_role("heading", name="Sections", exact=True)).to_be_attached()
    desk.get_by_role("link", name="Bench").click()
    expect(shown(desk, "Prices").locator(".nav a").first).to_have_css("color", "rgb(11, 92, 122)")
    expect(shown(desk, "Prices").locator("[aria-current]")).to_have_css("color", "rgb(192, 80, 0)")
    desk.get_by_role("button", name="Undo").click()
    expect(shown(desk, "Prices").locator("[aria-current]")).to_have_css("color", "rgb(140, 138, 120)")


def test_own_css_shows_as_it_is_typed_and_wins(desk: Page, few: Path) -> None:
    bring(desk, few)
    frame = close_up(desk, "Otterlock Boats")
    desk.get_by_role("button", name="Own CSS…").click()
    editor = desk.locator(".cm-content")
    editor.click()
    desk.keyboard.type("h2 { color: var(--gl-acc")
    desk.get_by_role("option", name="Buttons #c8452b").click()
    expect(frame.locator("h2").first).to_have_css("color", "rgb(200, 69, 43)")
    expect(desk.get_by_text("There it wins over Heading")).to_be_visible()
    desk.keyboard.press("Control+End")
    desk.keyboard.type("\np {{ color red ")
    expect(desk.get_by_text("Not applied.")).to_be_visible()
    expect(desk.get_by_text("saved", exact=True)).to_be_visible()
    desk.reload()
    desk.get_by_role("button", name="Own CSS…").click()
    expect(desk.locator(".cm-content")).to_contain_text("p {{ color red")


def test_where_colours_come_from_holds_in_chromium(browser: Browser) -> None:
    found = prove_origins(browser, corpus.OWN / "cascade-order", 2, 4)
    assert found.examples == [] and found.won_right == found.won > 0 and found.lost_right == found.lost > 0


def test_reach_is_what_changes_in_chromium(browser: Browser) -> None:
    found = prove_reach(browser, corpus.OWN / "variables", 2, 3)
    assert found.examples == [] and found.texts_right == found.elements_right == found.reaches == 2


@pytest.mark.prove
@pytest.mark.parametrize("name", ["otterlock", *sorted(p.name for p in corpus.own_sites()), *(s.name for s in FRESH)])
def test_reach_and_origins_hold_on_every_site(browser: Browser, name: str) -> None:
    fresh = {site.name: site for site in FRESH}
    own = corpus.ROOT / "samples" / name if name == "otterlock" else corpus.OWN / name
    folder = corpus.fetch(fresh[name]) if name in fresh else own
    origins, reach = prove_origins(browser, folder, 10, 1), prove_reach(browser, folder, 10, 1, measured=True)
    assert origins.won_right == origins.won and origins.lost_right == origins.lost, origins.examples
    assert reach.elements_right == reach.reaches, reach.examples
    assert reach.texts_right >= LEAST_REACHES.get(name, 10), reach.examples
