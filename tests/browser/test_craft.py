"""Colour craft in a real browser: picture to palette to released site, a tie, a swap, two studies compared, mending."""

from __future__ import annotations

import io
import re
import zipfile
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Browser, Page, Route, expect
from pytest_django.live_server_helper import LiveServer

from glaucon.core.acts.whole.find_fixes import FoundFixes
from glaucon.core.acts.whole.fix import Fix
from glaucon.core.colour.value import read_colour
from glaucon.core.errors import StudyError
from glaucon.core.exchange.hand_back import hand_back
from glaucon.core.known.site import KnownSite
from glaucon.core.making.making import counterpart
from glaucon.core.survey.site import read_site
from glaucon.core.survey.survey import survey_site
from tests.apps.conftest import zipped
from tests.browser.conftest import bring, choose
from tests.core.test_colour_craft import HULL, painted, saved
from tests.core.test_fixing import HEAD, SHARED_WHITE
from tests.oracle.server import serve


def code(page: Page, role: str) -> str:
    return page.locator(f'[data-tile="{role}"] .code').inner_text().lower()


def set_colour(page: Page, role: str, label: str, value: str) -> None:
    page.locator(f'[data-tile="{role}"]').click()
    entry = page.get_by_label(f"Colour of {label}", exact=True)
    entry.fill(value)
    entry.press("Enter")


def test_faded_text_is_faded_less_by_a_rule_that_goes_out(desk: Page, few: Path) -> None:
    bring(desk, few)
    card = desk.locator(".FindingCard", has_text="Winter painting begins")
    card.scroll_into_view_if_needed()
    card.get_by_role("button", name="Fade .ended to 81 % only").click()
    desk.get_by_text("Faded less than the page has it (1)").click()
    miniature = desk.locator('.PageMiniature iframe[title*="Notices"]')
    miniature.scroll_into_view_if_needed()
    expect(miniature.content_frame.locator(".ended").first).to_have_css("opacity", "0.81")
    desk.get_by_role("link", name="Release").click()
    expect(desk.get_by_role("button", name="Take back: Faded text faded to 81 %")).to_be_visible()
    desk.get_by_role("button", name="Release to the live site").click()
    expect(desk.get_by_text("It is live.")).to_be_visible()
    address = desk.locator(".live a").get_attribute("href")
    desk.goto(f"{address}notices/index.html")
    expect(desk.locator(".ended").first).to_have_css("opacity", "0.81")


@pytest.mark.prove
def test_picture_to_palette_to_released_site(
    desk: Page, live_server: LiveServer, archive: Path, tmp_path: Path
) -> None:
    bring(desk, archive)
    desk.get_by_role("link", name="Studies").click()
    (tmp_path / "bad.png").write_bytes(b"no picture at all")
    (tmp_path / "hull.png").write_bytes(saved(painted(HULL), "PNG"))
    # as many codes as one likes at once; what is none is told and stays
    codes, given = desk.get_by_label("Colours", exact=True), desk.locator(".GivenColours button")
    codes.fill("slow water")
    codes.press("Enter")
    expect(desk.get_by_role("alert")).to_contain_text("No colour was found")
    expect(codes).to_have_value("slow water")
    codes.fill("#0b5c7a teal, rgb(29 92 122)")
    codes.press("Enter")
    expect(given).to_have_count(3)
    for _ in range(3):
        given.first.click()
    desk.get_by_text("Picture", exact=True).click()
    chooser = desk.get_by_label("Picture to take colours from")
    chooser.set_input_files(tmp_path / "bad.png")
    expect(desk.get_by_role("alert")).to_contain_text("cannot read that picture")
    chooser.set_input_files(tmp_path / "hull.png")
    bar = desk.locator(".PictureColours .bar button")
    expect(bar).to_have_count(3)
    expect(bar.first).to_contain_text("50 %")
    # the lens gives the very pixel
    lens = desk.get_by_role("application")
    lens.focus()
    lens.press("Shift+ArrowRight")
    lens.press("Enter")
    expect(desk.locator(".GivenColours button")).to_have_count(1)
    desk.get_by_role("button", name=re.compile("^Use these")).click()
    wanted = desk.get_by_label(re.compile("^What #.* is for$"))
    names = [str(one.get_attribute("aria-label")) for one in wanted.all()[:2]]
    for name in names:  # one role wears one colour
        choose(desk, name, "Buttons")
    lines = desk.locator(".GivenColours li")
    expect(lines.first).to_contain_text("Glaucon decides")
    expect(lines.nth(1)).to_contain_text("Buttons")
    choose(desk, names[1], "Glaucon decides")
    desk.get_by_role("button", name="Make palettes").click()
    choices = desk.locator(".choices li")
    expect(choices.first).to_be_visible(timeout=60_000)
    desk.get_by_role("button", name="Stop").click()
    desk.get_by_role("button", name=re.compile("^Keep “")).click()
    expect(desk.get_by_role("heading", name="Hard to read")).to_be_visible()
    ground = code(desk, "background")
    assert ground != "#fbf7ef"
    desk.get_by_role("button", name=re.compile("^Release .* changes…")).click()
    desk.get_by_role("button", name="Release to the live site").click()
    expect(desk.get_by_text("It is live.")).to_be_visible()
    visitor = desk.context.new_page()
    visitor.goto(f"{live_server.url}/live/otterlock/")
    levels = ", ".join(str(int(ground[i : i + 2], 16)) for i in (1, 3, 5))
    expect(visitor.locator("body")).to_have_css("background-color", f"rgb({levels})")


def test_a_tie_shows_on_the_rail_and_follows(desk: Page, few: Path) -> None:
    bring(desk, few)
    desk.locator('[data-tile="heading"]').click()
    desk.get_by_role("button", name="Follow…").click()
    dialog = desk.get_by_role("dialog", name="Let Heading follow another colour")
    choose(desk, "The colour it follows", "Link")
    dialog.get_by_label("Lighter").fill("-8")
    dialog.get_by_role("button", name="Follow", exact=True).click()
    expect(dialog).to_be_hidden()
    expect(desk.locator('[data-tile="heading"] .signs')).to_contain_text("Link")
    tied = code(desk, "heading")
    assert tied != "#14342b"
    set_colour(desk, "link", "Link", "#7a1f5c")
    expect(desk.locator('[data-tile="heading"] .code')).not_to_have_text(tied)
    heading = desk.locator(".PageMiniature iframe").first.content_frame.locator("h2").first
    now = code(desk, "heading")
    expect(heading).to_have_css("color", "rgb({}, {}, {})".format(*(int(now[i : i + 2], 16) for i in (1, 3, 5))))
    desk.locator('[data-tile="link"]').click()
    desk.locator('[data-tile="link"]').click()
    desk.get_by_role("button", name="Follow…").click()
    dialog = desk.get_by_role("dialog", name="Let Link follow another colour")
    choose(desk, "The colour it follows", "Heading")
    expect(dialog.locator(".RoleSelect").first).to_contain_text("Heading")
    dialog.get_by_role("button", name="Follow", exact=True).click()
    expect(dialog.get_by_role("alert")).to_contain_text("in a circle")


def test_a_swap_shows_its_places_first_and_is_one_undo(desk: Page, few: Path) -> None:
    bring(desk, few)
    desk.locator('[data-tile="heading"]').click()
    desk.get_by_role("button", name="Swap…").click()
    dialog = desk.get_by_role("dialog", name="Swap a colour everywhere")
    boxes = dialog.get_by_role("checkbox")
    expect(boxes.first).to_be_visible()
    count = boxes.count()
    dialog.get_by_role("listitem").filter(has_not_text="Heading").first.get_by_role("checkbox").uncheck()
    expect(dialog.get_by_role("status")).to_contain_text(f"{count} places found, {count - 1} chosen")
    entry = dialog.get_by_label("New colour")
    entry.fill("#512a0f")
    entry.press("Enter")
    dialog.get_by_role("button", name=f"Swap {count - 1} places").click()
    expect(dialog).to_be_hidden()
    expect(desk.get_by_role("navigation", name="Palette")).to_contain_text("#512a0f")
    desk.get_by_role("button", name="Undo").click()
    expect(desk.get_by_role("navigation", name="Palette")).not_to_contain_text("#512a0f")
    expect(desk.get_by_role("button", name="Undo")).to_be_disabled()


@pytest.mark.prove
def test_two_studies_are_compared_on_all_pages(desk: Page, few: Path) -> None:
    bring(desk, few)
    desk.get_by_role("link", name="Studies").click()
    card = desk.locator(".StudyCard")
    card.first.get_by_role("button", name="Copy").click()
    expect(card).to_have_count(2)
    card.nth(1).get_by_role("button", name="Work on this one").click()
    set_colour(desk, "background", "Background", "#dfe9f2")
    expect(desk.locator('[data-tile="background"] .code')).to_have_text("#dfe9f2")
    expect(desk.get_by_role("button", name="Undo")).to_be_enabled()
    desk.get_by_role("link", name="Studies").click()
    for place in (0, 1):
        card.nth(place).get_by_role("button", name="Compare").click()
    desk.get_by_role("button", name="Compare these two").click()
    expect(desk.get_by_role("table")).to_contain_text("1 colour differs")
    for column, ground in ((0, "rgb(251, 247, 239)"), (1, "rgb(223, 233, 242)")):
        frame = desk.locator(".CompareColumn").nth(column).locator("iframe").first.content_frame
        expect(frame.locator("body")).to_have_css("background-color", ground)
    desk.get_by_role("button", name="Work on this one").first.click()
    expect(desk.locator('[data-tile="background"] .code')).to_have_text("#fbf7ef")
    # put away, asked once, and brought back
    desk.get_by_role("link", name="Studies").click()
    card.nth(1).get_by_role("button", name="Delete").click()
    desk.get_by_role("button", name="Delete First study, copy").click()
    desk.get_by_role("button", name="Restore").click()
    expect(card.nth(1).get_by_role("button", name="Work on this one")).to_be_visible()


def read_count(page: Page) -> int:
    """Return how many texts are hard to read, once what is tried has been read."""
    expect(page.locator("header .verdict")).to_have_attribute("aria-busy", "false")
    return int(page.locator("header .tag").inner_text())


def test_fix_all_with_a_lock_in_the_way(desk: Page, few: Path) -> None:
    bring(desk, few)
    hard = int(desk.locator("header .tag").inner_text())
    desk.locator('[data-tile="quiet"]').click()
    lock = desk.get_by_role("button", name="Lock", exact=True)
    expect(desk.get_by_text("Where it is read")).to_be_visible()  # the tray has its height
    lock.click()
    expect(desk.locator('[data-tile="quiet"] .signs')).to_contain_text("locked")
    desk.get_by_role("button", name="Close the tray").click()
    desk.get_by_role("button", name="Fix all…").click()
    panel = desk.get_by_role("region", name="Fix all")
    expect(panel.get_by_text("while Quiet text is locked").first).to_be_visible(timeout=30_000)
    footer = desk.locator(".PageMiniature iframe").first.content_frame.locator("footer p").last
    change = panel.get_by_text("Teal footer text", exact=True)
    expect(footer).to_have_css("color", "rgb(127, 158, 147)")
    # as it was while B is held; refused, one change goes back at once
    desk.keyboard.down("b")
    expect(footer).to_have_css("color", "rgb(93, 122, 112)")
    desk.keyboard.up("b")
    expect(footer).to_have_css("color", "rgb(127, 158, 147)")
    count = panel.get_by_role("checkbox", checked=True).count()
    # what is tried is read: the count follows, and is no other once it is applied
    with_all = read_count(desk)
    change.click()
    expect(footer).to_have_css("color", "rgb(93, 122, 112)")
    refused = read_count(desk)
    assert with_all < refused < hard
    panel.get_by_role("button", name=f"Apply {count - 1} of them").click()
    expect(panel.get_by_role("button", name="Fix all…")).to_be_visible()
    expect(desk.locator("header .tag")).to_have_text(str(refused))
    assert code(desk, "quiet") == "#8c8a78"
    desk.keyboard.press("Control+z")
    expect(desk.locator("header .tag")).to_have_text(str(hard))


FERRY = {
    "index.html": b"<!doctype html><title>Reed Ferry</title><link rel=stylesheet href=a.css><header><h1>Reed Ferry</h1>"
    b"<p>Across the mere and back, every half hour.</p><a class=b href=t.html>See the times</a></header>"
    b"<main><h2>Today</h2><p>The ferry sails. Bring a coat, the wind is from the west.</p></main>",
    "a.css": b"body { margin: 0; font: 18px sans-serif; background: #fff; color: #222 } main { padding: 40px }"
    b"header { padding: 90px 40px; background: #1abc9c; color: #fff } h1 { font-size: 56px; margin: 0 }"
    b".b { color: #fff }",
}


def test_the_two_ways_of_a_fix_are_shown_and_one_is_chosen_by_keyboard(desk: Page, tmp_path: Path) -> None:
    archive = tmp_path / "ferry.zip"
    archive.write_bytes(zipped(FERRY))
    bring(desk, archive)
    desk.get_by_role("button", name="Fix all…").click()
    ways = desk.get_by_role("group", name="Which looks more like you?")
    dark, deeper = ways.get_by_label("Keeps the teal, words turn dark"), ways.get_by_label("the teal gets deeper")
    expect(dark).to_be_checked()
    # each on the owner's own first page, as it would be
    pictures = [ways.locator("iframe").nth(place).content_frame.locator("header") for place in (0, 1)]
    expect(pictures[0]).to_have_css("background-color", "rgb(26, 188, 156)")
    expect(pictures[1]).to_have_css("color", "rgb(255, 255, 255)")
    dark.focus()
    desk.keyboard.press("ArrowDown")
    expect(deeper).to_be_checked()
    page = desk.locator(".pages .PageMiniature iframe").first.content_frame.locator("header")
    expect(page).to_have_css("color", "rgb(255, 255, 255)")
    expect(page).not_to_have_css("background-color", "rgb(26, 188, 156)")
    desk.keyboard.press("ArrowUp")  # the choice keeps the focus, and there is a way back
    expect(page).to_have_css("background-color", "rgb(26, 188, 156)")
    desk.keyboard.press("ArrowDown")
    expect(page).to_have_css("color", "rgb(255, 255, 255)")
    desk.get_by_role("button", name="Apply", exact=True).click()
    expect(desk.get_by_role("region", name="Fix all")).to_have_count(0)
    expect(page).to_have_css("color", "rgb(255, 255, 255)")


def test_a_search_is_stopped_and_nothing_is_changed(desk: Page, few: Path) -> None:
    bring(desk, few)
    hard = desk.locator("header .tag").inner_text()

    def as_work(route: Route) -> None:  # as a server with processes of its own answers; these tests run without
        if route.request.method == "DELETE":
            route.fulfill(status=204)
        else:
            route.fulfill(status=202, json={"work": 7, "ahead": 0})

    for address in ("**/searches", "**/api/work/7"):
        desk.route(address, as_work)
    panel = desk.get_by_role("region", name="Fix all")
    # it begins once the pages have been looked at
    with desk.expect_request(lambda asked: "fix-all" in (asked.post_data or "")):
        panel.get_by_role("button", name="Fix all…").click()
    stop = panel.get_by_role("button", name="Stop")
    expect(stop).to_be_visible()
    with desk.expect_request(lambda asked: asked.method == "DELETE" and asked.url.endswith("/api/work/7")):
        stop.click()
    expect(stop).not_to_be_visible()
    expect(panel.get_by_role("alert")).not_to_be_visible()
    expect(desk.locator("header .tag")).to_have_text(hard)
    desk.unroute("**/searches")
    with desk.expect_response(lambda got: "fix-all" in (got.request.post_data or "")) as found:
        panel.get_by_role("button", name="Fix all…").click()
    expect(panel.get_by_role("button", name="Apply")).to_be_visible(timeout=30_000)
    with desk.expect_request("**/acts") as sent:
        panel.get_by_role("button", name="Apply").click()
    # what the screen sends is the act that the shell and the proofs do
    act = FoundFixes.model_validate(found.value.json()).taken(()).model_dump(mode="json")
    assert Fix.model_validate(sent.value.post_data_json["acts"][0]).model_dump(mode="json") == act


def test_fix_all_gives_one_place_its_own_and_veils_a_picture(desk: Page, tmp_path: Path) -> None:
    slope = np.repeat(np.linspace(0x98, 0xD0, 64).astype(np.uint8)[None, :], 64, axis=0)
    picture = io.BytesIO()
    Image.fromarray(slope).convert("RGB").save(picture, "PNG")
    page, css = SHARED_WHITE
    welcome = (
        f"<header id=top><h1>Quay</h1>{'<p class=pale>Pale words over a pale morning</p>' * 4}"
        "<p class='pale tag'>Pale words on slate</p></header>"
    )
    files = {
        "index.html": (
            HEAD + "<title>Quay</title>" + welcome + page.replace("header>", "section>") + "<p class=late>Tied up</p>"
        ).encode(),
        "a.css": (
            css.replace("header", "section").replace("h1 {", "section h1 {")
            + " #top { background: url(a.png) 0 0 / 100% 100% } .pale, #top h1 { color: #f4f4f4 }"
            " .tag { background: #25323a } .late { color: GrayText; background: #fff }"
        ).encode(),
        "a.png": picture.getvalue(),
    }
    archive = tmp_path / "quay.zip"
    archive.write_bytes(zipped(files))
    bring(desk, archive)
    shown = desk.locator(".PageMiniature iframe").first.content_frame
    expect(shown.locator("section .w")).to_have_css("color", "rgb(255, 255, 255)")
    fixing = desk.get_by_role("region", name="Fix all")
    fixing.get_by_role("button", name="Fix all").click()
    place = fixing.get_by_role("listitem").filter(has_text="gets its own colour")
    expect(place).to_contain_text("1 text")
    expect(shown.locator("section .w")).not_to_have_css("color", "rgb(255, 255, 255)")
    expect(shown.locator("footer .w")).to_have_css("color", "rgb(255, 255, 255)")
    # not taken, it is as it was; a veil is off unless taken
    place.locator("label").click()
    expect(shown.locator("section .w")).to_have_css("color", "rgb(255, 255, 255)")
    place.locator("label").click()
    expect(shown.locator("#top")).to_have_css("box-shadow", "none")
    veil = fixing.get_by_role("listitem").filter(has_text="over Header, at")
    veil.locator("label").click()
    expect(shown.locator("#top")).to_have_css("box-shadow", re.compile("9999px inset"))
    # what the browser colours gets a rule of the owner's own CSS, where it is taken
    late, as_it_was = shown.locator(".late"), "rgb(128, 128, 128)"
    expect(late).to_have_css("color", as_it_was)
    fixing.get_by_role("listitem").filter(has_text="Tied up").locator("label").click()
    expect(late).not_to_have_css("color", as_it_was)
    fixing.get_by_role("button", name="Apply").click()
    expect(desk.locator(".HardToRead")).to_contain_text("Everything is readable.")
    expect(shown.locator("#top")).to_have_css("box-shadow", re.compile("9999px inset"))
    # released, it is what is live, also once the study goes on
    own = shown.locator("section .w").evaluate("one => getComputedStyle(one).color")
    desk.get_by_role("link", name="Release", exact=True).click()
    desk.get_by_role("button", name="Release to the live site").click()
    expect(desk.get_by_role("heading", name="Nothing differs from what is live")).to_be_visible()
    desk.get_by_role("link", name="Bench").click()
    desk.get_by_role("button", name="Undo").click()
    expect(shown.locator("#top")).to_have_css("box-shadow", "none")
    desk.get_by_role("link", name="Release", exact=True).click()
    before, after = (desk.locator(f"iframe[title$={which}]").content_frame for which in ("before", "after"))
    expect(before.locator("section .w")).to_have_css("color", own)
    expect(before.locator("#top")).to_have_css("box-shadow", re.compile("9999px inset"))
    expect(after.locator("section .w")).to_have_css("color", "rgb(255, 255, 255)")
    expect(after.locator("#top")).to_have_css("box-shadow", "none")


@pytest.mark.prove
def test_a_spot_on_a_page_tells_its_role_and_the_rail_shows_places(desk: Page, few: Path) -> None:
    bring(desk, few)
    expect(desk.locator(".PageMiniature iframe").first.content_frame.locator("footer")).to_be_visible()
    desk.get_by_role("button", name="What colour is this?").click()
    page = desk.locator(".PageMiniature").first
    page.click(position={"x": 4, "y": 200})
    panel = desk.get_by_role("status", name="What colour is this?")
    expect(panel).to_contain_text(re.compile("Background #[0-9A-F]{6}"))
    panel.get_by_role("button").first.click()
    expect(desk.locator(".MixTray")).to_be_visible()
    frame = desk.locator(".PageMiniature iframe").first.content_frame
    desk.locator('[data-tile="link"]').hover()
    veil = frame.locator("body > div[style*='evenodd']")
    expect(veil).to_have_count(1)
    desk.mouse.move(640, 10)
    expect(veil).to_have_count(0)


@pytest.mark.prove
def test_dragging_keeps_up(desk: Page, archive: Path) -> None:
    """Show 7's figures, measured as they are; written to docs/performance.md by hand."""
    bring(desk, archive)
    desk.set_viewport_size({"width": 1600, "height": 1400})
    desk.locator('[data-tile="background"]').click()
    desk.wait_for_timeout(1500)
    desk.evaluate(
        """() => {
          globalThis.frames_ = []; let last = performance.now();
          const tick = (now) => { frames_.push(now - last); last = now; requestAnimationFrame(tick) };
          requestAnimationFrame(tick);
        }"""
    )
    track = desk.get_by_role("slider", name="Lightness", exact=True).bounding_box()
    assert track is not None
    desk.mouse.move(track["x"] + track["width"] * 0.9, track["y"] + 10)
    desk.mouse.down()
    for step in range(300):
        share = 0.6 + 0.3 * abs((step % 60) - 30) / 30
        desk.mouse.move(track["x"] + track["width"] * share, track["y"] + 10)
        desk.wait_for_timeout(16)
    times = desk.evaluate("frames_.slice(5)")
    desk.mouse.up()
    ordered = sorted(times)
    print(f"frame median {ordered[len(ordered) // 2]:.1f} ms, 95th {ordered[int(len(ordered) * 0.95)]:.1f} ms")
    assert len(times) > 60


@pytest.mark.prove
def test_a_dark_counterpart_is_for_those_who_ask_for_it(browser: Browser, otterlock: Path, tmp_path: Path) -> None:
    site = read_site(otterlock)
    known = KnownSite(survey_site(site))
    light = KnownSite(known.survey).first_study("Light").with_values({"heading": "#7a1f4b"})
    dark = counterpart(known, light).study
    for way in ("site", "addon"):
        handed = hand_back(site, known.survey, light, way, other=dark)
        files = {**site.files}
        if way == "site":
            files = {name: zipfile.ZipFile(io.BytesIO(handed.data)).read(name) for name in _names(handed.data)}
        else:
            files["index.html"] = files["index.html"].replace(b"</head>", b"<style>" + handed.data + b"</style></head>")
        for name, data in files.items():
            (tmp_path / way / name).parent.mkdir(parents=True, exist_ok=True)
            (tmp_path / way / name).write_bytes(data)
        with serve(tmp_path / way) as address:
            for scheme, study in (("light", light), ("dark", dark)):
                page = browser.new_page(color_scheme=scheme)
                page.goto(f"{address}index.html")
                seen = page.evaluate(
                    """[getComputedStyle(document.body).backgroundColor,
                        getComputedStyle(document.querySelector(".section h2")).color]"""
                )
                assert [read_colour(one).hex() for one in seen] == [
                    study.role(name).value.lower() for name in ("background", "heading")
                ]
                page.close()
    with pytest.raises(StudyError, match="are both light"):
        hand_back(site, known.survey, light, "site", other=light)


def _names(archive: bytes) -> list[str]:
    return zipfile.ZipFile(io.BytesIO(archive)).namelist()
