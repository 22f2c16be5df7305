"""Sections in a real browser: coats given, by turns, here only, dragged, undone, released; a whole page at once."""

from __future__ import annotations

import io
import re
from pathlib import Path

from PIL import Image
from playwright.sync_api import FrameLocator, Locator, Page, expect

from tests.apps.conftest import folder_files, zipped
from tests.browser.conftest import LAYOUT, bring, choose_zip

HOME = ("welcome-area", "strip", "boats-at-the-yard", "from-the-towpath", "before-you-cast-off", "what-people-say")


def block(page: Page, key: str, path: str = "index.html") -> Locator:
    """Return a section where it lies on its page, which takes until the page is there."""
    return page.locator(f'.block[data-block="{path} {key}"]')


def coat(page: Page, id_: str) -> Locator:
    return page.locator(f'[data-coat="{id_}"] .crop')


def on_map(page: Page, title: str) -> FrameLocator:
    """Return the inside of a page on the section map."""
    return page.locator(f'.WholePage iframe[title*="{title}"]').first.content_frame


def shown(page: Page, title: str) -> FrameLocator:
    """Return the inside of a page's miniature on the bench."""
    frame = page.locator(f'.PageMiniature iframe[title*="{title}"][title$="look"]')
    frame.scroll_into_view_if_needed()
    return frame.content_frame


def test_a_coat_everywhere_here_only_and_back(desk: Page, archive: Path) -> None:
    bring(desk, archive)
    desk.get_by_role("link", name="Sections").click()
    block(desk, "footer").click()
    expect(desk.get_by_text("On all 9 pages")).to_be_visible()
    coat(desk, "lamp-evenings").click()
    for path in ("index.html", "prices.html"):
        expect(block(desk, "footer", path)).to_contain_text("Yellow band")
    desk.get_by_text("On this page only").click()
    coat(desk, "sand").click()
    expect(block(desk, "footer")).to_contain_text("Sand band, here")
    expect(block(desk, "footer", "prices.html")).to_contain_text("Yellow band")
    desk.get_by_role("link", name="Bench").click()
    for title, colour in (("Otterlock Boats", "rgb(228, 211, 176)"), ("Prices", "rgb(242, 193, 78)")):
        expect(shown(desk, title).locator("footer.foot")).to_have_css("background-color", colour)
        # what came on it is as it was, or made readable: never its own pale grey on a light coat
        expect(shown(desk, title).locator("footer.foot .fine")).not_to_have_css("color", "rgb(93, 122, 112)")
    desk.get_by_role("link", name="Sections").click()
    desk.get_by_role("button", name="Undo").click()
    expect(block(desk, "footer")).not_to_contain_text("here")
    desk.get_by_role("link", name="Release").click()
    expect(desk.get_by_text("wears Yellow band")).to_be_visible()
    desk.get_by_role("button", name="Release to the live site").click()
    expect(desk.get_by_text("It is live.")).to_be_visible()
    address = desk.locator(".live a").get_attribute("href")
    desk.goto(f"{address}prices.html")
    expect(desk.locator("footer.foot")).to_have_css("background-color", "rgb(242, 193, 78)")


def test_a_section_takes_the_colours_of_another(desk: Page, archive: Path) -> None:
    bring(desk, archive)
    desk.get_by_role("link", name="Sections").click()
    block(desk, "footer").click()
    desk.get_by_role("button", name="Colours as in…").click()
    desk.get_by_role("menuitem", name="From the towpath").click()
    expect(block(desk, "footer")).to_contain_text("Sand")
    expect(desk.get_by_text("It takes its colours from “From the towpath”")).to_be_visible()
    block(desk, "from-the-towpath").click()
    coat(desk, "lamp-evenings").click()
    expect(block(desk, "footer", "prices.html")).to_contain_text("Yellow band")
    desk.get_by_role("button", name="New coat…").click()
    desk.get_by_role("button", name="From a picture…").click()
    desk.get_by_role("button", name="Colours of img/heron.jpg").click()
    desk.locator(".PictureColours .bar button").first.click()
    expect(desk.get_by_label("Background of the new coat")).not_to_have_value("#e8ddc4")


def test_every_second_section_of_a_page_and_a_whole_page(desk: Page, archive: Path) -> None:
    """Give every second section of the home page the sand coat; put the price page on white: counted in clicks."""
    bring(desk, archive)
    desk.get_by_role("link", name="Sections").click()
    # dragged down from the first to the last
    first, last = (block(desk, key).bounding_box() for key in (HOME[0], "footer"))
    assert first is not None and last is not None
    desk.mouse.move(first["x"] + 60, first["y"] + 4)
    desk.mouse.down()
    desk.mouse.move(first["x"] + 60, first["y"] + 100, steps=4)
    desk.mouse.move(first["x"] + 60, last["y"] + 4, steps=6)
    expect(block(desk, "footer")).to_have_class(re.compile("chosen"))
    desk.mouse.up()
    block(desk, "footer").click(modifiers=["Control"])
    expect(desk.get_by_role("heading", name="6 sections chosen")).to_be_visible()
    desk.get_by_role("button", name="Take turns…").click()
    coat(desk, "sand").click()
    coat(desk, "").click()
    desk.get_by_role("button", name="Apply").click()
    # what came in colours of its own is plain where it is plain's turn
    for place, key in enumerate(HOME):
        expect(block(desk, key)).to_contain_text("Plain" if place % 2 else "Sand")
    home = on_map(desk, "Otterlock Boats")
    for heading, colour in (("Boats at the yard", "rgb(228, 211, 176)"), ("From the towpath", "rgb(251, 247, 239)")):
        expect(home.locator("section", has_text=heading)).to_have_css("background-color", colour)
    desk.get_by_role("button", name="The chosen sections as they came").click()
    expect(block(desk, HOME[1])).to_contain_text("Deep teal band")
    desk.keyboard.press("Control+z")
    expect(block(desk, HOME[1])).to_contain_text("Plain")
    # a new coat from a background, given to a whole page; what is chosen would wear it at once
    desk.locator(".SectionsScreen").press("Escape")
    desk.get_by_role("button", name="New coat…").click()
    desk.get_by_role("textbox", name="Name", exact=True).fill("White")
    entry = desk.get_by_label("Background of the new coat")
    entry.fill("#ffffff")
    entry.press("Enter")
    desk.get_by_role("button", name="Add", exact=True).click()
    expect(coat(desk, "white")).to_be_visible()
    desk.locator(".PageStack", has_text="Prices").get_by_role("button", name="whole page").click()
    coat(desk, "white").click()
    desk.get_by_role("link", name="Bench").click()
    expect(shown(desk, "Prices").locator("body")).to_have_css("background-color", "rgb(255, 255, 255)")
    expect(shown(desk, "Routes").locator("body")).not_to_have_css("background-color", "rgb(255, 255, 255)")


GAPS = """<!doctype html><html lang=en><title>Marlstone Moorings</title><style>body { margin: 0; background: #fff }
section { margin: 0 0 40px; padding: 20px; background: #eee }</style>
<section id=berths><h2>Berths</h2><p>Forty along the cut, with water and power at each.</p></section>
<section id=tolls><h2>Tolls</h2><p>Paid at the lock house before noon.</p></section>
<section id=wharf><h2>The wharf</h2><p>Coal, gas and rope from the shed by the crane.</p></section></html>"""


def test_neighbours_become_one_with_no_gap_between(desk: Page, tmp_path: Path) -> None:
    """By the pixels between them, before, while they are one, and after."""
    archive = tmp_path / "marlstone.zip"
    archive.write_bytes(zipped({"index.html": GAPS.encode()}))
    desk.unroute(LAYOUT)
    bring(desk, archive)

    def between() -> tuple[int, int, int]:
        frame = desk.locator(".PageMiniature iframe").first.bounding_box()
        above, below = (shown(desk, "Marlstone").locator("section").nth(n).bounding_box() for n in (0, 1))
        assert frame is not None and above is not None and below is not None
        # what is inside is told as if the frame were not drawn small
        down = (above["y"] + above["height"] + below["y"]) / 2 - frame["y"]
        clip = {"x": frame["x"] + 40, "y": frame["y"] + down * frame["width"] / 1280, "width": 1, "height": 1}
        pixels = Image.open(io.BytesIO(desk.screenshot(clip=clip))).convert("RGB")
        return pixels.getpixel((0, 0))  # type: ignore[return-value]

    def press(name: str) -> None:
        desk.get_by_role("link", name="Sections").click()
        block(desk, "berths").click()
        block(desk, "tolls").click(modifiers=["Shift"])
        desk.get_by_role("button", name=name).click()

    press("Close the gaps")
    expect(desk.get_by_role("alert").filter(has_text="Give them one coat first")).to_be_visible()
    desk.get_by_role("button", name="New coat…").click()
    desk.get_by_role("textbox", name="Name", exact=True).fill("Sand")
    entry = desk.get_by_label("Background of the new coat")
    entry.fill("#e4d3b0")
    entry.press("Enter")
    desk.get_by_role("button", name="Add and give", exact=True).click()
    expect(block(desk, "tolls")).to_contain_text("Sand")
    desk.get_by_role("link", name="Bench").click()
    expect(shown(desk, "Marlstone").locator("#berths")).to_have_css("box-shadow", "none")
    assert between() == (255, 255, 255)
    press("Close the gaps")
    expect(desk.get_by_role("button", name="Open the gaps")).to_be_visible()
    desk.get_by_role("link", name="Bench").click()
    expect(shown(desk, "Marlstone").locator("#berths")).to_have_css("box-shadow", "rgb(228, 211, 176) 0px 41px 0px 0px")
    assert between() == (228, 211, 176)
    press("Open the gaps")
    expect(desk.get_by_role("button", name="Close the gaps")).to_be_visible()
    desk.get_by_role("link", name="Bench").click()
    expect(shown(desk, "Marlstone").locator("#berths")).to_have_css("box-shadow", "none")
    assert between() == (255, 255, 255)


def test_by_keyboard_and_by_dragging_a_coat(desk: Page, archive: Path) -> None:
    bring(desk, archive)
    desk.get_by_role("link", name="Sections").click()
    coat(desk, "sand").drag_to(block(desk, "boats-at-the-yard"))
    expect(block(desk, "boats-at-the-yard")).to_contain_text("Sand")
    block(desk, "header").focus()
    desk.keyboard.press("ArrowDown")
    expect(block(desk, "welcome-area")).to_be_focused()
    desk.keyboard.press("ArrowRight")
    expect(desk.locator("[data-block]:focus")).not_to_have_attribute("data-block", re.compile("^index.html"))
    desk.keyboard.press("Enter")
    expect(desk.get_by_role("heading", name="1 section chosen")).to_be_visible()
    coat(desk, "").focus()
    desk.keyboard.press("Escape")
    expect(desk.get_by_role("heading", name="Choose a section")).to_be_visible()


def test_brought_in_again_keeps_what_is_worn_and_lists_what_is_gone(
    desk: Page, archive: Path, otterlock: Path, tmp_path: Path
) -> None:
    bring(desk, archive)
    desk.get_by_role("link", name="Sections").click()
    block(desk, "footer").click()
    coat(desk, "lamp-evenings").click()
    block(desk, "strip").click()
    coat(desk, "sand").click()
    expect(block(desk, "strip")).to_contain_text("Sand")
    files = folder_files(otterlock)
    files["index.html"] = re.sub(rb'.*class="strip".*\n', b"", files["index.html"])
    newer = tmp_path / "newer.zip"
    newer.write_bytes(zipped(files))
    desk.get_by_role("link", name="Site", exact=True).click()
    choose_zip(desk, newer)
    expect(desk.get_by_text("Not there any more, its colours are kept: strip.")).to_be_visible()
    desk.get_by_role("link", name="Sections").click()
    expect(block(desk, "footer")).to_contain_text("Yellow band")
    expect(block(desk, "strip")).to_have_count(0)
