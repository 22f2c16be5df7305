"""What people come to do, each walked by hand on the sample: docs/journeys.md says with how many clicks and entries."""

from __future__ import annotations

import json
import re
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

import pytest
from playwright.sync_api import FrameLocator, Locator, Page, expect

from tests.browser.conftest import bring
from tests.browser.test_a_click_away import on_page
from tests.browser.test_sections import block, coat, shown
from tests.oracle import corpus

TOLD = corpus.ROOT / "docs" / "journeys.md"
QUICK = ("links", "one heading", "fix all", "section", "live")  # walked in every run of the tests, the rest in proofs


@dataclass
class Hand:
    """A person's hand on the screen, from the bench of the sample: it counts."""

    page: Page
    clicks: int = 0
    entries: int = 0

    def click(self, what: str | Locator, role: str = "button") -> None:
        self.clicks += 1
        found = self.page.get_by_role(role, name=what, exact=True) if isinstance(what, str) else what  # type: ignore[arg-type]
        found.first.click()

    def enter(self, field: str, value: str) -> None:
        self.entries += 1
        entry = self.page.get_by_label(re.compile(field)).first
        entry.fill(value)
        entry.press("Enter")

    def give(self, field: Locator, name: str, data: bytes, kind: str = "application/json") -> None:
        self.entries += 1
        field.set_input_files({"name": name, "mimeType": kind, "buffer": data})

    def on(self, title: str, across: float, down: float) -> None:
        self.clicks += 1
        on_page(self.page, title, across, down)

    def tile(self, id_: str) -> None:
        self.click(self.page.locator(f'[data-tile="{id_}"]'))

    def to(self, screen: str) -> None:
        self.click(screen, "link")


Walk = Callable[[Hand, Page], None]
WALKS: dict[str, Walk] = {}


def walk(name: str) -> Callable[[Walk], Walk]:
    def kept(one: Walk) -> Walk:
        WALKS[name] = one
        return one

    return kept


def close_up(page: Page) -> FrameLocator:
    return page.locator(".CloseUpPage iframe").content_frame


@walk("links")
def _links(hand: Hand, page: Page) -> None:
    hand.tile("link")
    hand.enter("^Colour of Link$", "#7a2fb0")
    link = shown(page, "Otterlock Boats").get_by_role("link", name="See the boats")
    expect(link).to_have_css("color", "rgb(122, 47, 176)")


@walk("one heading")
def _one_heading(hand: Hand, page: Page) -> None:
    hand.on("Tunnel shut", 0.2, 0.17)
    hand.click(page.get_by_label("Change Heading, Rest"))
    hand.enter("here$", "#7a2fb0")
    expect(close_up(page).locator("h1")).to_have_css("color", "rgb(122, 47, 176)")


@walk("all buttons")
def _all_buttons(hand: Hand, page: Page) -> None:
    hand.on("Otterlock Boats", 0.15, 0.435)
    hand.click(page.get_by_text("all that looks like it"))
    hand.click(page.get_by_label(re.compile("^Change Buttons, Rest")))
    hand.enter("here$", "#0b5c7a")
    page.get_by_role("link", name="Bench", exact=True).click()
    sends = shown(page, "Book").get_by_role("button", name="Send it to the yard")
    expect(sends).to_have_css("background-color", "rgb(11, 92, 122)")


@walk("section")
def _section(hand: Hand, page: Page) -> None:
    hand.to("Sections")
    hand.click(block(page, "boats-at-the-yard"))
    hand.click(coat(page, "sand"))
    expect(block(page, "boats-at-the-yard")).to_contain_text("Sand band")


@walk("whole page")
def _whole_page(hand: Hand, page: Page) -> None:
    hand.to("Sections")
    hand.click(page.locator(".PageStack", has_text="Prices").get_by_role("button", name="whole page"))
    hand.click(coat(page, "sand"))
    page.get_by_role("link", name="Bench", exact=True).click()
    expect(shown(page, "Prices").locator("body")).to_have_css("background-color", "rgb(228, 211, 176)")


@walk("that colour")
def _that_colour(hand: Hand, page: Page) -> None:
    hand.click("What colour is this?")
    hand.on("Heron", 0.3, 0.45)
    panel = page.get_by_role("status", name="What colour is this?")
    hand.click(panel.get_by_role("combobox"))
    hand.click("Line", "option")
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()


@walk("what is hard on a page")
def _hard_on_a_page(hand: Hand, page: Page) -> None:
    hand.click(page.locator(".caption .tag").first)
    hand.click(page.get_by_role("link", name=re.compile("^Show it")))
    expect(page.get_by_label("What it lies in").locator("[aria-current]")).to_be_visible()


@walk("one finding")
def _one_finding(hand: Hand, page: Page) -> None:
    hard = int(page.locator("header .tag").inner_text())
    hand.click(page.get_by_role("button", name=re.compile("^Apply #")))
    expect(page.locator("header .tag")).not_to_have_text(str(hard))
    assert int(page.locator("header .tag").inner_text()) < hard


@walk("fix all")
def _fix_all(hand: Hand, page: Page) -> None:
    hand.click("Fix all…")
    hand.click(page.get_by_role("button", name="Apply"))
    expect(page.locator("header .tag")).to_have_text("8", timeout=30_000)


@walk("phone, hovered")
def _phone(hand: Hand, page: Page) -> None:
    hand.click(page.get_by_text("Phone", exact=True))
    hand.click(page.get_by_text("Hover", exact=True))
    link = shown(page, "Otterlock Boats").get_by_role("link", name="See the boats")
    expect(link).to_have_css("color", "rgb(200, 69, 43)")


def _kept(hand: Hand, page: Page) -> None:
    hand.click(page.get_by_role("button", name=re.compile("^Keep “")))
    expect(page.get_by_role("heading", name="Hard to read")).to_be_visible()
    expect(page.locator('[data-tile="background"] .code')).not_to_have_text("#fbf7ef")


@walk("dark version")
def _dark(hand: Hand, page: Page) -> None:
    hand.to("Studies")
    hand.click("Make the dark version")
    _kept(hand, page)


@walk("palette of a colour")
def _palette(hand: Hand, page: Page) -> None:
    hand.to("Studies")
    hand.entries += 1
    page.get_by_label("Colours", exact=True).fill("#7a3fe0")
    hand.click("Make palettes")
    page.locator(".choices li").nth(2).wait_for(timeout=60_000)
    _kept(hand, page)


@walk("palette of a photograph")
def _photograph(hand: Hand, page: Page) -> None:
    hand.to("Studies")
    hand.click(page.get_by_text("Picture", exact=True))
    hand.click("Colours of img/heron.jpg")
    hand.click(page.get_by_role("button", name=re.compile("^Use these")))
    hand.click("Make palettes")
    page.locator(".choices li").first.wait_for(timeout=60_000)
    _kept(hand, page)


@walk("palette of another site")
def _another_site(hand: Hand, page: Page) -> None:
    hand.to("Studies")
    hand.click(page.get_by_text("Palette file"))
    tokens = {"page-background": {"$type": "color", "$value": "#eef3f6"}}
    hand.give(page.get_by_label("A palette file"), "quay.json", json.dumps(tokens).encode())
    hand.click("Take this palette")
    expect(page.locator('[data-tile="background"] .code')).to_have_text("#eef3f6")


@walk("picture behind a section")
def _picture(hand: Hand, page: Page) -> None:
    hand.to("Sections")
    hand.click(block(page, "what-people-say"))
    hand.click("Backdrop…")
    hand.click(page.locator(".PictureShelf li", has_text="Still water").get_by_role("button"))
    expect(page.get_by_text("still-water, fills it")).to_be_visible(timeout=30_000)
    hand.click("Lay the least veil over it")
    expect(page.get_by_role("slider", name="Strength")).to_be_visible(timeout=30_000)
    hand.click("Keep")
    expect(page.get_by_role("button", name="Release 1 change")).to_be_visible(timeout=30_000)


@walk("gradient behind a section")
def _gradient(hand: Hand, page: Page) -> None:
    hand.to("Sections")
    hand.click(block(page, "what-people-say"))
    hand.click("Backdrop…")
    hand.click("gradient")
    hand.click("Keep")
    expect(page.get_by_role("button", name="Release 1 change")).to_be_visible(timeout=30_000)


@walk("swap")
def _swap(hand: Hand, page: Page) -> None:
    hand.tile("heading")
    hand.click("Swap…")
    hand.enter("^New colour$", "#512a0f")
    hand.click(page.get_by_role("button", name=re.compile(r"^Swap \d+ places$")))
    expect(page.get_by_role("navigation", name="Palette")).to_contain_text("#512a0f")


@walk("nearly alike")
def _nearly_alike(hand: Hand, page: Page) -> None:
    hand.tile("link")
    hand.click(page.get_by_role("button", name=re.compile("^Merge these")))
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()


@walk("follow")
def _follow(hand: Hand, page: Page) -> None:
    hand.tile("heading")
    hand.click("Follow…")
    hand.click("Follow")
    expect(page.locator('[data-tile="heading"] .signs')).not_to_be_empty()


@walk("side by side")
def _side_by_side(hand: Hand, page: Page) -> None:
    hand.to("Studies")
    hand.click("Copy")
    expect(page.locator(".StudyCard")).to_have_count(2)
    for place in (0, 1):
        hand.click(page.locator(".StudyCard").nth(place).get_by_role("button", name="Compare"))
    hand.click("Compare these two")
    expect(page.locator(".CompareColumn")).to_have_count(2)


def _changed(page: Page) -> None:
    page.locator('[data-tile="line"]').click()
    entry = page.get_by_label("Colour of Line")
    entry.fill("#7a2fb0")
    entry.press("Enter")
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()


@walk("live")
def _live(hand: Hand, page: Page) -> None:
    _changed(page)
    hand.click(page.get_by_role("button", name="Release 1 change"))
    hand.click("Release to the live site")
    expect(page.get_by_text("It is live.")).to_be_visible()


@walk("back to what was live")
def _back(hand: Hand, page: Page) -> None:
    _live(Hand(page), page)
    page.get_by_role("link", name="Bench", exact=True).click()
    hand.to("Release")
    hand.click("Go back to this release")
    expect(page.get_by_text("The original site is live.")).to_be_visible()


@walk("take it back")
def _take_back(hand: Hand, page: Page) -> None:
    _changed(page)
    hand.click("Undo")
    expect(page.get_by_role("button", name="Undo")).to_be_disabled()


def _told() -> dict[str, tuple[int, int]]:
    """Return what docs/journeys.md says: clicks and entries of each walk."""
    rows = re.findall(r"^\| ([^|]+?) \| [^|]+ \| (\d+) \| (\d+) \|$", TOLD.read_text("utf-8"), re.M)
    return {name: (int(clicks), int(entries)) for name, clicks, entries in rows}


def test_every_walk_is_told() -> None:
    assert _told().keys() == WALKS.keys() and len(WALKS) == 23


@pytest.mark.parametrize("name", [pytest.param(n, marks=() if n in QUICK else pytest.mark.prove) for n in WALKS])
def test_a_journey_takes_as_many_clicks_as_it_is_told_to(desk: Page, archive: Path, name: str) -> None:
    bring(desk, archive)
    hand = Hand(desk)
    WALKS[name](hand, desk)
    assert (hand.clicks, hand.entries) == _told()[name]
