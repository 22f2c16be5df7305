"""Backdrops by hand: a picture behind a section made readable, a weave behind the whole site; and held by Chromium."""

from __future__ import annotations

import re
from collections.abc import Iterable
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Locator, Page, expect

from glaucon.core.backdrops import library
from glaucon.core.exchange.backdrops import backdrops_of, source_of
from glaucon.core.exchange.recolour import recolour_site
from glaucon.core.known.site import KnownSite
from glaucon.core.study.study import read_study
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import read_site
from glaucon.core.survey.survey import survey_site
from tests.browser.conftest import LAYOUT, bring
from tests.oracle import corpus
from tests.oracle.agreement import Tally
from tests.oracle.backdrops import Outcome, prove
from tests.oracle.fresh import FRESH
from tests.oracle.handing_back import folder_of


def open_backdrop(page: Page, block: str) -> None:
    page.get_by_role("link", name="Sections").click()
    page.locator(f'[data-block="{block}"]').click()
    page.get_by_role("button", name="Backdrop…").click()
    page.locator(".PictureShelf").wait_for()


def behind(page: Page, selector: str) -> Locator:
    return page.locator(".CloseUpPage iframe").content_frame.locator(selector)


def test_a_picture_behind_the_welcome_is_made_readable_kept_and_taken_back(desk: Page, few: Path) -> None:
    desk.unroute(LAYOUT)
    bring(desk, few)
    open_backdrop(desk, "index.html welcome-area")
    side = desk.get_by_label("Backdrop of Welcome area")
    desk.locator(".PictureShelf li", has_text="Still water").get_by_role("button").click()
    expect(side.get_by_text("still-water, fills it")).to_be_visible(timeout=30_000)
    welcome = behind(desk, ".welcome")
    expect(welcome).to_have_css("background-image", re.compile(r"/preview/.*/backdrops/still-water-\w+\.webp"))
    told = desk.locator(".told")
    expect(told.get_by_text("is hard to read")).to_be_visible(timeout=30_000)
    told.get_by_role("button", name="Lay the least veil over it").click()
    veil = side.get_by_role("slider", name="Strength")
    expect(veil).to_be_visible(timeout=30_000)
    least = int(str(veil.get_attribute("aria-valuenow")).split(".")[-1].ljust(2, "0")[:2])
    assert 5 < least < 60
    # what no veil helps is said, with the way to it
    expect(told.get_by_text("No veil alone makes it readable")).to_be_visible(timeout=30_000)
    expect(told.get_by_role("button", name="Change this text")).to_be_visible()
    expect(told.get_by_role("button", name="Turn its text light")).to_be_visible()
    # or a plate behind those words alone, which comes off again
    told.get_by_role("button", name="Put a plate behind these words").click()
    expect(told.get_by_text("All 3 texts on it can be read")).to_be_visible(timeout=30_000)
    expect(behind(desk, ".welcome a").first).to_have_css("box-decoration-break", "clone")
    expect(behind(desk, ".welcome .button").first).not_to_have_css("box-decoration-break", "clone")
    side.get_by_role("button", name="Remove the plate").click()
    expect(told.get_by_text("is hard to read")).to_be_visible(timeout=30_000)
    # by keyboard, and the page follows
    before = welcome.evaluate("e => getComputedStyle(e).backgroundImage")
    veil.press("Shift+ArrowRight")
    expect(welcome).not_to_have_css("background-image", before)
    side.get_by_role("button", name="Keep", exact=True).click()
    expect(desk.get_by_role("button", name="Release 1 change")).to_be_visible(timeout=30_000)
    told.get_by_role("button", name="Turn its text light").click()
    expect(told.get_by_text("All 3 texts on it can be read")).to_be_visible(timeout=30_000)
    expect(behind(desk, ".welcome a").first).to_have_css("color", "rgb(251, 247, 239)")
    desk.get_by_role("button", name="Undo").click()
    desk.get_by_role("link", name="Bench").click()
    shown = desk.locator(".PageMiniature iframe").first.content_frame.locator(".welcome")
    expect(shown).to_have_css("background-image", re.compile("still-water"))
    desk.get_by_role("button", name="Undo").click()
    expect(shown).not_to_have_css("background-image", re.compile("still-water"))


def test_a_picture_goes_on_behind_the_header_of_that_page_alone(desk: Page, few: Path) -> None:
    bring(desk, few)
    open_backdrop(desk, "index.html welcome-area")
    desk.locator(".PictureShelf li", has_text="Still water").get_by_role("button").click()
    side = desk.get_by_label("Backdrop of Welcome area")
    expect(side.get_by_text("still-water, fills it")).to_be_visible(timeout=30_000)
    side.get_by_role("button", name="Go on behind Header").click()
    expect(side.get_by_text("still-water, fills it, stays")).to_be_visible(timeout=30_000)
    link = side.get_by_role("link", name="How Header reads on it")
    expect(link).to_be_visible(timeout=30_000)
    both = [behind(desk, one).evaluate("e => getComputedStyle(e).background") for one in (".welcome", "header.top")]
    assert all("still-water" in one and "fixed" in one for one in both), both
    link.click()
    header = desk.get_by_label("Backdrop of Header")
    expect(header.get_by_text("still-water, fills it, stays")).to_be_visible(timeout=30_000)
    places = desk.evaluate(
        "() => fetch('/api/sites' + location.pathname.slice(6).replace('backdrop', 'backdrops'))"
        ".then((one) => one.json()).then((one) => one.backdrops.map((b) => b.backdrop.in))"
    )
    assert [one["page"] for one in places if one["section"] == "header"] == ["index.html"], places


def test_a_weave_behind_the_whole_site_under_panels_of_its_own(desk: Page, few: Path) -> None:
    bring(desk, few)
    desk.get_by_role("link", name="Sections").click()
    desk.get_by_role("button", name="Backdrop of the whole site…").click()
    side = desk.get_by_label("Backdrop of the whole site")
    side.get_by_role("button", name="pattern", exact=True).click()
    expect(side.get_by_text("canvas, 8 %")).to_be_visible()
    expect(side.get_by_text("Base colour")).to_be_visible()
    root = behind(desk, ":root")
    expect(root).to_have_css("background-image", re.compile(r"backdrops/canvas-\w+\.svg"))
    expect(root).to_have_css("background-color", "rgb(251, 247, 239)")
    side.get_by_role("button", name="herringbone").click()
    expect(root).to_have_css("background-image", re.compile("herringbone"))
    side.get_by_text("Drifts slowly").click()
    expect(root).to_have_css("animation-name", re.compile("gl-drift"))
    side.get_by_role("button", name="gradient", exact=True).click()
    stop = side.get_by_role("slider", name="Stop 2 of 2")
    stop.press("Shift+ArrowLeft")
    expect(stop).to_have_attribute("aria-valuenow", "90")
    expect(root).to_have_css("background-image", re.compile(r"90%\), url"))
    # a third stop by a click between, kept when the hand lets go, and taken out again
    side.locator(".GradientTrack .track").click(position={"x": 90, "y": 12})
    third = side.get_by_role("slider", name="Stop 3 of 3")
    expect(third).to_have_class(re.compile("chosen"))
    third.press("ArrowRight")
    expect(side.get_by_role("slider", name=re.compile("^Stop"))).to_have_count(3)
    third.press("Delete")
    expect(side.get_by_role("slider", name=re.compile("^Stop"))).to_have_count(2)
    expect(root).to_have_css("background-image", re.compile(r"90%\), url"))
    # leaving with something not kept asks
    desk.get_by_role("link", name="Bench").click()
    desk.get_by_role("dialog").get_by_role("button", name="Keep it", exact=True).click()
    expect(desk.get_by_role("button", name="Release 1 change")).to_be_visible(timeout=30_000)


def hold(browser: Browser, folders: Iterable[Path], count: int, seed: int) -> None:
    """Hold backdrops on some sites together: verdicts, and ratios by their median and the 95th of a hundred."""
    every = [prove(browser, folder, count, seed) for folder in folders]
    right, judged = (sum(getattr(o.tally, f"verdict_{what}") for o in every) for what in ("right", "judged"))
    ratios = Outcome("all", ratios=[ratio for one in every for ratio in one.ratios])
    examples = [said for one in every for said in one.examples]
    assert Tally.share(right, judged) >= 99 and not any(one.false_on_fixed for one in every), examples[:6]
    assert ratios.off[0] <= 3 and ratios.off[1] <= 15, ratios.off


def test_print_less_movement_and_pictures_that_fail(browser: Browser, otterlock: Path) -> None:
    """What is handed back, served elsewhere: nothing moves or is printed that should not, and the base colour shows."""
    site = read_site(otterlock)
    known = KnownSite(survey_site(site, [ContextKey(1280, "rest")]))
    pattern = {"name": "rope", "colour": "#445566", "drift": {"towards": 90, "seconds": 20}}
    picture = {"file": "backdrops/a.png", "fixed": True}
    document = known.first_study("x").model_dump(mode="json")
    document["backdrops"] = [
        {"layers": [{"pattern": pattern}]},
        {"in": {"section": "welcome-area"}, "layers": [{"colour": "#123b34"}, {"picture": picture}]},
    ]
    study, regions = read_study(document), known.survey.regions
    behind = backdrops_of(study, regions, source_of(site, {"backdrops/a.png": library.draw("dawn")}))
    new = recolour_site(site, known.survey, study, backdrops=behind)
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    root, welcome = page.locator(":root"), page.locator(".welcome")
    with folder_of({**site.files, **new.files}) as address:
        page.goto(f"{address}index.html")
        expect(root).to_have_css("animation-name", re.compile("gl-drift"))
        expect(root).not_to_have_css("background-position", "0px 0px")
        page.emulate_media(reduced_motion="reduce")
        expect(root).to_have_css("animation-name", "none")
        expect(root).to_have_css("background-position", "0px 0px")
        page.emulate_media(media="print")
        for one in (root, welcome):
            expect(one).to_have_css("background-image", "none")
    without = {path: data for path, data in new.files.items() if not path.endswith(".webp")}
    with folder_of({**site.files, **without}) as address:
        page.emulate_media(media="screen")
        page.goto(f"{address}index.html")
        expect(welcome).to_have_css("background-color", "rgb(18, 59, 52)")
    page.close()


def test_backdrops_are_read_as_chromium_paints_them(browser: Browser) -> None:
    hold(browser, [corpus.OWN / "gradients"], 1, 5)


SITES = {
    "our own": lambda: [corpus.ROOT / "samples" / "otterlock", *corpus.own_sites()],
    "the twelve": lambda: [corpus.fetch(site) for site in FRESH],
}


@pytest.mark.prove
@pytest.mark.parametrize("some", SITES)
def test_backdrops_hold_on_every_site(browser: Browser, some: str) -> None:
    hold(browser, SITES[some](), 4, 7)
