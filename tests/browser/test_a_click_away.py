"""From wherever a page is drawn to the part under the pointer, and back; what is pressed early waits its turn."""

from __future__ import annotations

import json
import re
from pathlib import Path

from playwright.sync_api import Page, Route, expect

from tests.apps.conftest import folder_files, zipped
from tests.browser.conftest import LAYOUT, bring
from tests.browser.test_sections import block

CLOSE_UP = re.compile(r"/close-up\?page=")


def on_page(page: Page, name: str, across: float, down: float) -> None:
    """Click a page where it is drawn small, at a share of what is shown of it."""
    drawn = page.locator(".PageMiniature", has=page.locator(f'iframe[title*="{name}"]')).first
    drawn.scroll_into_view_if_needed()
    # where things lie is known once the page's own styles have come
    expect(drawn.locator("iframe").content_frame.locator("body")).to_have_css("background-color", "rgb(251, 247, 239)")
    expect(drawn.locator("iframe").content_frame.locator("footer.foot")).to_be_visible()
    box = drawn.bounding_box()
    assert box is not None
    page.mouse.click(box["x"] + across * box["width"], box["y"] + down * box["height"])


def test_a_click_on_a_drawn_page_chooses_what_lies_there_and_esc_goes_back(desk: Page, archive: Path) -> None:
    bring(desk, archive)
    chosen = desk.get_by_label("What is chosen").get_by_role("heading", level=2)
    on_page(desk, "Tunnel shut", 0.2, 0.17)
    expect(desk).to_have_url(CLOSE_UP)
    expect(chosen).to_have_text("Heading")
    expect(desk.get_by_label("What is chosen")).to_contain_text("this heading alone")
    desk.keyboard.press("Escape")
    expect(desk.get_by_role("heading", name="Bench:")).to_be_attached()
    desk.wait_for_function("() => document.querySelector('.table').scrollTop > 50")
    # from the release too, where before and after lie over each other
    desk.get_by_role("link", name="Release", exact=True).click()
    desk.locator(".BeforeAfter .scroller").click(position={"x": 120, "y": 130})
    expect(desk).to_have_url(re.compile("at=html"))
    desk.keyboard.press("Escape")
    expect(desk.get_by_role("heading", name="Release")).to_be_attached()
    # by keyboard the page as a whole; from where the site is shown as it came too
    desk.get_by_role("link", name="Site", exact=True).click()
    desk.get_by_role("link", name="Prices: close up").press("Enter")
    expect(desk.get_by_text("Click anything on the page.")).to_be_visible()
    desk.keyboard.press("Escape")
    expect(desk.get_by_role("link", name="Prices: close up")).to_be_visible()


def test_one_text_alone_is_changed_from_the_bench_in_two_clicks(desk: Page, archive: Path) -> None:
    bring(desk, archive)
    on_page(desk, "Tunnel shut", 0.2, 0.17)
    desk.get_by_label("Change Heading, Rest").or_(desk.get_by_label("Change Text, Rest")).first.click()
    field = desk.get_by_label(re.compile("here$"))
    field.fill("#7a2fb0")
    field.press("Enter")
    inside = desk.locator(".CloseUpPage iframe").content_frame
    expect(inside.locator("h1")).to_have_css("color", "rgb(122, 47, 176)")
    desk.locator(".TopBar").get_by_role("link", name="Bench").click()
    others = desk.locator('.PageMiniature iframe[title*="Prices"]').content_frame
    expect(others.locator("h1")).not_to_have_css("color", "rgb(122, 47, 176)")


def test_a_finding_says_where_it_is_and_is_shown_there_in_its_state(desk: Page, archive: Path) -> None:
    bring(desk, archive)
    card = desk.locator(".FindingCard", has_text="only when hovered").first
    expect(card).to_contain_text(re.compile(r"\w+ · \w+"))
    card.get_by_role("link", name=re.compile("^Show it")).click()
    expect(desk.get_by_role("radio", name="Hover")).to_be_checked()
    expect(desk.get_by_label("What it lies in").locator("[aria-current]")).to_be_visible()
    desk.get_by_role("button", name="‹ Back").click()
    expect(desk.get_by_role("radio", name="At rest")).to_be_checked()
    # a page's own number lists what that page has
    tag = desk.locator(".caption .tag").first
    count = tag.inner_text().split()[0]
    tag.click()
    expect(desk.locator(".HardToRead")).to_contain_text(f"{count} texts, in")
    desk.get_by_role("button", name="All pages").click()
    expect(desk.locator(".HardToRead .only")).to_have_count(0)


def test_what_is_pressed_at_once_waits_for_what_it_needs(desk: Page, few: Path) -> None:
    held: list[Route] = []
    desk.route("**/api/directions", lambda route: held.append(route))
    bring(desk, few)
    desk.get_by_role("link", name="Studies").click()
    entry = desk.get_by_label("Colours", exact=True)
    entry.fill("#7a3fe0")
    desk.get_by_role("button", name="Make palettes").click()
    expect(desk.get_by_role("button", name="Make palettes")).to_have_class(re.compile("is-loading"))
    desk.wait_for_function("() => document.querySelector('.GivenColours button')")
    held[0].continue_()
    desk.locator(".choices li").nth(2).wait_for(timeout=60_000)


def test_a_release_waits_until_the_pages_have_been_looked_at(desk: Page, few: Path) -> None:
    held: list[Route] = []
    desk.unroute(LAYOUT)
    desk.route("**/layout/use", lambda route: held.append(route))
    bring(desk, few)
    desk.get_by_role("link", name="Release").click()
    desk.get_by_role("button", name="Release to the live site").click()
    expect(desk.get_by_text("then it is released.")).to_be_visible()
    expect(desk.get_by_text("It is live.")).to_have_count(0)
    for one in held:
        one.continue_()
    desk.unroute("**/layout/use")
    expect(desk.get_by_text("It is live.")).to_be_visible(timeout=30_000)


def test_a_release_waits_for_what_was_pressed_before_it(desk: Page, few: Path) -> None:
    bring(desk, few)
    desk.get_by_role("button", name="Fix all…").click()
    apply = desk.get_by_role("button", name="Apply", exact=True)
    apply.wait_for(timeout=60_000)
    held: list[Route] = []
    desk.route("**/acts", lambda route: held.append(route))
    apply.click()
    desk.get_by_role("link", name="Release", exact=True).click()
    desk.wait_for_function("() => document.querySelector('.ReleaseScreen')")
    held[0].continue_()
    desk.unroute("**/acts")
    desk.get_by_role("button", name="Release to the live site").click()
    expect(desk.get_by_text("It is live.")).to_be_visible(timeout=30_000)
    expect(desk.get_by_text("changed in another window")).to_have_count(0)


def test_the_colour_of_a_photograph_is_the_one_that_is_seen(desk: Page, archive: Path) -> None:
    bring(desk, archive)
    desk.get_by_role("button", name="What colour is this?").click()
    on_page(desk, "Heron", 0.3, 0.45)
    panel = desk.get_by_role("status", name="What colour is this?")
    expect(panel).to_contain_text(re.compile("Picture #[0-9A-F]{6}"))
    expect(panel).not_to_contain_text("#FBF7EF")
    panel.get_by_role("combobox").click()
    desk.get_by_role("option", name="Line", exact=True).click()
    expect(desk.get_by_role("button", name="Undo")).to_be_enabled()


def test_a_long_page_is_drawn_once_on_the_map_however_high_its_screen(
    desk: Page, otterlock: Path, tmp_path: Path
) -> None:
    """A welcome area as high as the screen must not grow with the frame that the page is drawn in."""
    files = folder_files(otterlock)
    files["css/site.css"] += b"\n.welcome { min-height: 100vh } main { padding-bottom: 40vh }"
    archive = tmp_path / "high.zip"
    archive.write_bytes(zipped(files))
    bring(desk, archive)
    desk.get_by_role("link", name="Sections").click()
    area = block(desk, "welcome-area")
    expect(area).to_be_visible()
    desk.wait_for_function(
        """() => { const one = document.querySelector('[data-block="index.html welcome-area"]');
        return one.offsetHeight / one.closest('.sheet').offsetWidth < 0.8 }"""
    )


def test_the_five_steps_lead_through_the_job_and_are_closed_for_good(desk: Page, few: Path) -> None:
    bring(desk, few)

    def ask(what: str) -> None:
        desk.locator(".who").click()
        desk.get_by_role("menuitem", name=what).click()

    ask("Help: the five steps")
    card = desk.get_by_role("dialog")
    for title in ("Your site, unchanged", "What is hard to read", "Change one colour", "Fix all", "Release"):
        expect(card.get_by_role("heading")).to_have_text(title)
        expect(desk.locator(".FirstSteps .ring")).to_be_visible()
        card.get_by_role("button", name=re.compile("Next|Done")).click()
    expect(card).to_have_count(0)
    assert desk.url.endswith("/release")
    ask("Help: what words mean")
    expect(desk.get_by_role("dialog")).to_contain_text("A set of colours for a section")
    desk.keyboard.press("Escape")
    ask("Help: the five steps")
    desk.keyboard.press("Escape")
    expect(card).to_have_count(0)
    assert desk.evaluate("localStorage.getItem('glaucon.first-steps')") == "seen"


def test_a_palette_of_another_site_is_taken_with_its_names(desk: Page, few: Path) -> None:
    tokens = {"page-background": "#eef3f6", "link": "#7a2fb0", "note-paper": "#123456", "button text": "#ffffff"}
    document = {name: {"$type": "color", "$value": value} for name, value in tokens.items()}
    bring(desk, few)
    desk.get_by_role("link", name="Studies").click()
    desk.get_by_text("Palette file").click()
    desk.get_by_label("A palette file").set_input_files(
        {"name": "quay.json", "mimeType": "application/json", "buffer": json.dumps(document).encode()}
    )
    panel = desk.get_by_role("region", name="of its colours fit here")
    expect(panel).to_contain_text("link → Link")
    # it is looked at on the owner's pages before it is taken
    shown = desk.locator(".MakeStudies iframe").first.content_frame.locator("body")
    expect(shown).to_have_css("background-color", "rgb(238, 243, 246)")
    panel.get_by_role("button", name="Take this palette").click()
    expect(desk.get_by_role("heading", name="Bench:")).to_be_attached()
    expect(desk.locator('.PaletteRail [data-tile="link"]')).to_contain_text(re.compile("7a2fb0", re.I))


def test_what_is_changed_offline_is_kept_and_saved_once_back(desk: Page, few: Path) -> None:
    bring(desk, few)
    desk.locator('[data-tile="link"]').click()
    desk.context.set_offline(True)
    expect(desk.get_by_text("You are offline.")).to_be_visible()
    entry = desk.get_by_label("Colour of Link", exact=True)
    entry.fill("#7a2fb0")
    entry.press("Enter")
    expect(desk.get_by_role("status").filter(has_text="not saved")).to_be_visible()
    desk.context.set_offline(False)
    expect(desk.get_by_text("You are offline.")).to_have_count(0)
    expect(desk.get_by_role("button", name="Undo")).to_be_enabled()
    desk.reload()
    expect(desk.locator('[data-tile="link"] .code')).to_have_text("#7a2fb0")
