"""Reading: the ladder is pulled at and moves at once; the list is filtered, copied and leads to its places."""

from __future__ import annotations

import re
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.browser.conftest import bring

CLOSE_UP = re.compile(r"/close-up\?page=")


def to_reading(page: Page, archive: Path) -> None:
    bring(page, archive)
    page.get_by_role("link", name="Reading", exact=True).click()
    page.locator(".LadderLane .text").first.wait_for()


def test_a_text_is_pulled_along_its_lane_and_all_of_its_colour_move(desk: Page, archive: Path) -> None:
    to_reading(desk, archive)
    hard = int(desk.locator("header .tag").inner_text())
    lane = desk.locator(".LadderLane", has=desk.get_by_text("Pale grey band", exact=True))
    text = lane.get_by_role("link", name=re.compile("Ring us.*contrast 3.9"))
    expect(text).to_have_class(re.compile("fallen"))
    box = text.bounding_box()
    assert box is not None
    desk.mouse.move(box["x"] + 20, box["y"] + 8)
    desk.mouse.down()
    desk.mouse.move(box["x"] + 120, box["y"] + 8, steps=6)
    desk.mouse.move(box["x"] + 260, box["y"] + 8, steps=6)
    # it stands on firm ground before anything is asked of the server, and so do others of its colour
    moved = desk.locator(".LadderLane .text", has_text="Ring us").and_(desk.locator(":not(.fallen)"))
    expect(moved).to_have_count(3)
    desk.mouse.up()
    expect(desk.get_by_role("button", name="Undo")).to_be_enabled()
    expect(desk.locator("header .tag")).not_to_have_text(str(hard))
    assert int(desk.locator("header .tag").inner_text()) < hard
    # a key does the same in small steps, and is kept once it rests
    footer = desk.locator(".LadderLane", has=desk.get_by_text("Deep teal footer", exact=True))
    faint = footer.get_by_role("link", name=re.compile("Day boats.*contrast 2.88"))
    faint.focus()
    for _ in range(14):
        desk.keyboard.down("ArrowRight")
    desk.keyboard.up("ArrowRight")
    expect(footer.get_by_role("link", name=re.compile("Day boats.*contrast [45]"))).to_be_visible()
    # a click that pulls nothing opens the page there
    desk.locator(".LadderLane .text", has_text="Eleven narrow").first.click()
    expect(desk).to_have_url(CLOSE_UP)


def test_the_list_is_filtered_sorted_and_shows_its_places(desk: Page, archive: Path) -> None:
    to_reading(desk, archive)
    desk.get_by_text("List", exact=True).click()
    told = desk.locator(".told [role=status]").first
    expect(told).to_have_text("301 texts")
    desk.get_by_label("Find text").fill("heron")
    expect(told).not_to_have_text("301 texts")
    rows = desk.locator(".TextList tbody tr")
    expect(rows.first).to_contain_text(re.compile("heron", re.I))
    desk.get_by_role("button", name="Show all").click()
    expect(told).to_have_text("301 texts")
    desk.get_by_role("button", name="Contrast").click()
    expect(desk.get_by_role("columnheader", name="Contrast")).to_have_attribute("aria-sort", "ascending")
    desk.get_by_role("button", name=re.compile("^Show more")).click()
    expect(rows).to_have_count(120)
    # the row in hand is shown where it is, outlined
    rows.nth(2).get_by_role("link").focus()
    inside = desk.locator(".TextPlace iframe").content_frame
    expect(inside.locator("[data-gl-marks] > *")).to_have_count(1)
    with desk.expect_download() as saved:
        desk.get_by_role("button", name="Copy or save…").click()
        desk.get_by_text("Save as CSV").click()
    lines = Path(saved.value.path()).read_text("utf-8").splitlines()
    assert len(lines) == 302 and lines[0].startswith("page,section,part,path,text")
    rows.first.get_by_role("link").click()
    expect(desk).to_have_url(CLOSE_UP)


def test_what_is_hard_to_see_is_mended_or_let_through_with_a_word(desk: Page, archive: Path) -> None:
    to_reading(desk, archive)
    desk.get_by_text("Beyond text", exact=True).click()
    fields = desk.get_by_role("region", name="Fields and buttons")
    card = fields.locator(".BeyondCard", has_text="4 fields").first
    expect(card).to_contain_text("needs 3")
    card.get_by_role("button", name="It need not stand out…").click()
    card.get_by_text("Something else tells it").click()
    card.get_by_label("Why, in a word").fill("Each stands under its label")
    card.get_by_role("button", name="Let it through").click()
    expect(fields.get_by_text("All of them stand out.")).to_be_visible()
    fields.locator("summary").click()
    expect(fields).to_contain_text("Something else tells it: Each stands under its label.")
    fields.get_by_role("button", name="Let it count again").click()
    fields.get_by_role("button", name="Add a border").click()
    expect(fields.get_by_text("All of them stand out.")).to_be_visible(timeout=60_000)
    # texts are counted apart, and the focus still is as it was
    assert int(desk.locator("header .tag").inner_text()) == 83
    expect(desk.get_by_role("region", name="Keyboard focus").locator(".BeyondCard").first).to_be_visible()


def test_pages_are_painted_as_other_eyes_see_them(desk: Page, archive: Path) -> None:
    to_reading(desk, archive)
    desk.get_by_text("Other eyes", exact=True).click()
    inside = desk.locator(".OtherEyes iframe").first.content_frame
    expect(inside.locator("#gl-eyes feColorMatrix")).to_have_attribute("values", re.compile("^0.367322 "))
    desk.get_by_label("How strongly").fill("50")
    expect(inside.locator("#gl-eyes feColorMatrix")).to_have_attribute("values", re.compile("^0.547494 "))
    desk.get_by_text("Low vision", exact=True).click()
    expect(inside.locator("html")).to_have_css("filter", "blur(2px)")
    # gone with the screen
    desk.get_by_role("link", name="Bench", exact=True).click()
    bench = desk.locator(".PageMiniature iframe").first.content_frame
    expect(bench.locator("html")).to_have_css("filter", "none")
