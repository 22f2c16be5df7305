"""An automated accessibility pass (axe-core) on each main view: no finding."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Page

from tests.browser.conftest import at_rest, bring

AXE = (Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js").read_text("utf-8")
# Framed pages and specimens of the owner's colours are exempt, from the contrast rule only.
FINDINGS = """async (part) => {
  const wanted = { iframes: false, resultTypes: ['violations'], elementRef: true };
  const { violations } = await axe.run(document.querySelector(part), wanted);
  const counts = (rule, node) => rule !== 'color-contrast' || !node.element.closest('[data-specimen]');
  return violations.map((v) => [v.id, v.nodes.filter((node) => counts(v.id, node)).map((node) => node.html)])
    .filter(([, nodes]) => nodes.length).map(([id, nodes]) => `${id}: ${nodes.join(' | ')}`);
}"""


def shelf(page: Page) -> None:
    page.get_by_role("link", name="Glaucon: your sites").click()
    page.locator(".ShelfCard").wait_for()


def came_in(page: Page) -> None:
    page.get_by_role("link", name="Site", exact=True).click()
    page.get_by_role("heading", name="4 pages with").wait_for()


def found(page: Page) -> None:
    page.get_by_role("link", name="Site", exact=True).click()
    page.get_by_role("link", name="2 Colours found").click()
    page.locator(".FoundBar button").first.click()
    page.locator(".PlacesPanel li").first.wait_for()


def palette(page: Page) -> None:
    page.get_by_role("link", name="Site", exact=True).click()
    page.get_by_role("link", name="3 What each colour is for").click()
    page.locator(".PaletteRow .chip").first.click()


def ways_out(page: Page) -> None:
    release(page)
    page.get_by_role("button", name="Download for my own host").click()
    page.get_by_role("dialog").get_by_text("CSS variables only").click()
    page.get_by_role("button", name="Copy all").wait_for()
    at_rest(page)


def bench(page: Page) -> None:
    page.locator(".FindingCard").get_by_role("button", name=re.compile("^Apply")).first.wait_for()


def tray(page: Page) -> None:
    page.locator('[data-tile="quiet"]').click()
    page.get_by_role("region", name="Mix Quiet text").get_by_role("button", name="Use").wait_for()


def release(page: Page) -> None:
    page.get_by_role("link", name="Release").click()
    page.get_by_role("button", name="Release to the live site").wait_for()


def ladder(page: Page) -> None:
    page.get_by_role("link", name="Reading", exact=True).click()
    page.locator(".LadderLane .text").first.wait_for()


def text_list(page: Page) -> None:
    page.get_by_text("List", exact=True).click()
    page.locator(".TextList tbody tr").first.wait_for()


def beyond(page: Page) -> None:
    page.get_by_text("Beyond text", exact=True).click()
    page.locator(".BeyondCard").first.wait_for()
    page.get_by_role("button", name="It need not stand out…").first.click()


def comfort(page: Page) -> None:
    page.get_by_text("Comfort", exact=True).click()
    page.get_by_text("Nothing tires the eyes here.").wait_for()


def eyes(page: Page) -> None:
    page.get_by_text("Other eyes", exact=True).click()
    page.get_by_role("heading", name="Hard to tell apart").wait_for()
    page.get_by_text("In the sun").click()
    page.locator(".OtherEyes .pair").first.wait_for()


def studies(page: Page) -> None:
    page.get_by_role("link", name="Studies").click()
    page.locator(".starting li").first.wait_for()
    page.get_by_text("Picture", exact=True).click()
    page.get_by_role("button", name="Colours of img/heron.jpg").click()
    page.locator(".PictureColours .bar button").first.wait_for()


def compare(page: Page) -> None:
    page.get_by_role("link", name="Studies").click()
    page.locator(".StudyCard").first.get_by_role("button", name="Copy").click()
    for place in (0, 1):
        page.locator(".StudyCard").nth(place).get_by_role("button", name="Compare").click()
    page.get_by_role("button", name="Compare these two").click()
    page.get_by_role("table").wait_for()


def sheet(page: Page) -> None:
    page.get_by_role("link", name="Studies").click()
    page.get_by_role("link", name="Palette sheet").click()
    page.get_by_role("heading", name="The colours of").wait_for()


def mend_all(page: Page) -> None:
    page.get_by_role("button", name="Fix all…").click()
    page.get_by_role("button", name="Apply", exact=True).wait_for(timeout=40_000)


def swap(page: Page) -> None:
    page.locator('[data-tile="heading"]').click()
    page.get_by_role("button", name="Swap…").click()
    page.get_by_role("dialog").get_by_role("checkbox").first.wait_for()
    at_rest(page)


def sections(page: Page) -> None:
    page.get_by_role("link", name="Sections", exact=True).click()
    page.locator('[data-block="index.html footer"]').click()
    page.get_by_role("button", name="New coat…").click()
    page.get_by_label("Background of the new coat").wait_for()


def close_up(page: Page) -> None:
    page.get_by_role("link", name="Sections", exact=True).click()
    page.locator(".PageStack").get_by_role("link", name="Prices", exact=True).click()
    page.locator(".CloseUpPage iframe").wait_for()
    page.locator(".CloseUpPage iframe").content_frame.locator("h1").first.wait_for()
    at_rest(page)
    for key in ("ArrowDown", "ArrowRight"):  # past the link that only Tab shows, to the header
        page.locator(".CloseUpPage").press(key)
    page.get_by_role("button", name=re.compile("^Change Background, Rest")).first.click()
    page.locator(".ChangeHere").wait_for()


def own_css(page: Page) -> None:
    page.get_by_role("button", name="Own CSS…").click()
    page.locator(".cm-content").fill("h2 { color: redd }")
    page.get_by_text("is nothing that color can be").first.wait_for()


def tie(page: Page) -> None:
    page.locator('[data-tile="heading"]').click()
    page.get_by_role("button", name="Follow…").click()
    page.get_by_role("dialog").get_by_label("Lighter").wait_for()
    at_rest(page)


def backdrop(page: Page) -> None:
    page.get_by_role("link", name="Sections", exact=True).click()
    page.get_by_role("button", name="Backdrop of the whole site…").click()
    page.get_by_role("button", name="pattern", exact=True).click()
    page.get_by_role("button", name="gradient", exact=True).click()
    page.get_by_role("slider", name="Stop 1 of 2").wait_for()
    page.locator(".told b").wait_for()


def let_go(page: Page) -> None:
    page.get_by_role("button", name="Put back").click()
    page.get_by_text("You have laid nothing behind it yet.").wait_for()


def is_it_there(page: Page) -> None:
    page.get_by_role("dialog").get_by_role("button", name="Close").click()
    page.get_by_role("button", name="Is it there?").click()
    page.get_by_label("Where your site is on the web").wait_for()
    at_rest(page)


def account(page: Page) -> None:
    page.get_by_role("button", name="Marl").click()
    page.get_by_role("menuitem", name="Your account").click()
    page.get_by_role("button", name="Set it up").click()
    page.get_by_label("The code that it shows now").wait_for()
    page.get_by_role("button", name="Delete my account…").click()
    at_rest(page)


def forgotten(page: Page) -> None:
    page.get_by_role("link", name="Forgot the password?").click()
    page.get_by_role("heading", name="Forgot the password?").wait_for()


def sign_in(page: Page) -> None:
    page.get_by_role("button", name="Marl").click()
    page.get_by_role("menuitem", name="Sign out").click()
    page.get_by_role("heading", name="Sign in").wait_for()
    at_rest(page)


# views that one brought-in site serves, one after the other
VIEWS = {
    "bringing in": [came_in, found, palette],
    "the bench": [bench, tray, mend_all, swap, tie],
    "studies": [backdrop, let_go, sections, close_up, own_css, studies, compare, sheet],
    "reading": [ladder, text_list, beyond, comfort, eyes],
    "release and around": [release, ways_out, is_it_there, shelf],
    "an account": [shelf, account, sign_in, forgotten],
}
# these begin on a bench as it opens; the others are gone to from the one before
FROM_THE_BENCH = [tray, mend_all, swap, tie, shelf]
# where a view is but a part of the bench, that part: the whole of it has been gone through before
PARTS = {tray: ".MixTray", mend_all: ".FixAll", swap: "#dialogs", tie: "#dialogs"}


def gone_through(desk: Page, few: Path, some: str) -> Iterator[Callable[[Page], None]]:
    """Go to some views one after the other; yield each once it is shown and axe is there."""
    bring(desk, few)
    start = desk.url
    for view in VIEWS[some]:
        if view in FROM_THE_BENCH:
            desk.goto(start)
            desk.get_by_role("heading", name="Hard to read").wait_for()
        view(desk)
        desk.evaluate(AXE)
        yield view


@pytest.mark.parametrize("some", VIEWS)
def test_views_have_no_accessibility_finding(desk: Page, few: Path, some: str) -> None:
    for view in gone_through(desk, few, some):
        assert desk.evaluate(FINDINGS, PARTS.get(view, "body")) == [], view.__name__


@pytest.mark.prove
@pytest.mark.parametrize("some", VIEWS)
def test_views_hold_on_a_tablet_and_a_phone(desk: Page, few: Path, some: str) -> None:
    """No finding there either, and nothing is wider than the screen."""
    found = []
    for view in gone_through(desk, few, some):
        for width in (1024, 390):
            desk.set_viewport_size({"width": width, "height": 800})
            at_rest(desk)
            wide = desk.evaluate("document.documentElement.scrollWidth")
            found += [f"{view.__name__} at {width}: {wide} wide"] if wide > width else []
            found += [f"{view.__name__} at {width}: {one}" for one in desk.evaluate(FINDINGS, PARTS.get(view, "body"))]
        desk.set_viewport_size({"width": 1280, "height": 800})
    assert found == []
