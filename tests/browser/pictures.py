"""Takes the pictures of the main views for docs/screenshots from the demo: python -m tests.browser.pictures [NAME …]"""

from __future__ import annotations

import contextlib
import re
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, TimeoutError, sync_playwright

from tests import chromium
from tests.running import Running, running

OUT = Path(__file__).parents[2] / "docs" / "screenshots"
SITE = "/sites/otterlock-boats"


def settle(page: Page) -> None:
    """Wait until frames and fonts are there: studies may still ask for palettes, so not for a silent network."""
    with contextlib.suppress(TimeoutError):
        page.wait_for_load_state("networkidle", timeout=8_000)
    page.wait_for_timeout(1500)


def shelf(page: Page) -> None:
    page.goto("/")
    page.locator(".ShelfCard").first.wait_for()


def came_in(page: Page) -> None:
    page.goto(f"{SITE}/came-in")
    page.locator(".PageMiniature iframe").first.wait_for()


def found(page: Page) -> None:
    page.goto(f"{SITE}/found")
    page.locator(".FoundBar").first.wait_for()


def palette(page: Page) -> None:
    page.goto(f"{SITE}/palette")
    page.locator(".PaletteRow").first.wait_for()


def ways_out(page: Page) -> None:
    release(page)
    page.get_by_role("button", name="Download for my own host").click()
    page.get_by_role("dialog").get_by_text("An add-on stylesheet").click()
    page.get_by_role("button", name="Check this download").click()
    page.get_by_text("have the colours you chose").wait_for()


def bench(page: Page) -> None:
    page.goto(f"{SITE}/bench")
    page.locator(".FindingCard").get_by_role("button", name="Apply").first.wait_for()


def tray(page: Page) -> None:
    bench(page)
    page.locator('[data-tile="link"]').click()
    page.locator(".MixTray").get_by_role("button", name="Use").wait_for()


def fix_all(page: Page) -> None:
    bench(page)
    page.get_by_role("button", name="Fix all…").click()
    page.locator(".FixAllChange").first.wait_for(timeout=30_000)


def close_up(page: Page) -> None:
    page.goto(f"{SITE}/close-up?page=index.html")
    page.locator(".CloseUpPage iframe").wait_for()
    page.wait_for_timeout(1500)
    page.locator(".CloseUpPage").focus()
    for key in ("ArrowDown", "ArrowRight", "ArrowRight", "ArrowDown", "ArrowDown"):
        page.keyboard.press(key)
        page.wait_for_timeout(500)


def opened_menu(page: Page) -> None:
    page.goto("/")
    page.get_by_role("button", name="Fenholt Ferry").click()
    page.get_by_role("heading", name="2 pages with").wait_for()
    page.get_by_role("link", name="Bench", exact=True).click()
    page.get_by_role("combobox", name="What is opened").press("Enter")
    page.get_by_role("option", name="opened: Menu", exact=True).click()
    page.get_by_text("only with “Menu” opened").first.wait_for()


def sections(page: Page) -> None:
    page.goto(f"{SITE}/sections")
    page.locator('[data-block="index.html from-the-towpath"]').click()
    page.locator('[data-block="index.html boats-at-the-yard"]').click(modifiers=["Control"])


def backdrop(page: Page) -> None:
    bench(page)
    page.get_by_role("link", name="Sections", exact=True).click()
    page.locator('[data-block="index.html from-the-towpath"]').click()
    page.get_by_role("button", name="Backdrop…").click()
    page.locator(".PictureShelf li", has_text="Mist on the cut").get_by_role("button").click()
    page.get_by_text("mist, fills it").wait_for(timeout=30_000)
    page.locator(".told b").wait_for(timeout=30_000)
    if page.get_by_role("button", name="Lay the least veil over it").is_visible():
        page.get_by_role("button", name="Lay the least veil over it").click()
        page.get_by_role("slider", name="Strength").wait_for(timeout=30_000)
    page.wait_for_timeout(2500)


def release(page: Page) -> None:
    page.goto(f"{SITE}/release")
    page.get_by_role("button", name="Release to the live site").wait_for()


def studies(page: Page) -> None:
    page.goto(f"{SITE}/studies")
    entry = page.get_by_label("Colours", exact=True)
    entry.fill("#7a3fe0")
    entry.press("Enter")
    page.locator(".GivenColours button").wait_for()
    page.get_by_role("button", name="Make palettes").click()
    page.locator(".choices li").nth(2).wait_for(timeout=60_000)
    page.locator(".made [role=status]").wait_for(state="detached", timeout=60_000)


def compare(page: Page) -> None:
    page.goto(f"{SITE}/studies")
    page.get_by_role("button", name="Tunnel mouth").click()
    page.get_by_role("button", name=re.compile("^Keep “")).click(timeout=60_000)
    page.get_by_role("heading", name="Hard to read").wait_for()
    page.goto(f"{SITE}/studies")
    for place in (0, 1):
        page.locator(".StudyCard").nth(place).get_by_role("button", name="Compare").click()
    page.get_by_role("button", name="Compare these two").click()
    page.locator(".CompareColumn").first.wait_for()


def reading(page: Page) -> None:
    page.goto(f"{SITE}/reading")
    page.locator(".LadderLane .text").first.wait_for()


def beyond(page: Page) -> None:
    page.goto(f"{SITE}/reading?view=beyond")
    page.locator(".BeyondCard").first.wait_for()


def eyes(page: Page) -> None:
    page.goto(f"{SITE}/reading?view=eyes")
    page.get_by_role("heading", name="Hard to tell apart").wait_for()


def sheet(page: Page) -> None:
    page.goto(f"{SITE}/sheet")
    page.get_by_role("heading", name="The colours of").wait_for()


VIEWS: dict[str, Callable[[Page], None]] = {
    "shelf": shelf, "came-in": came_in, "found": found, "palette": palette, "bench": bench, "bench-tray": tray,
    "fix-all": fix_all,
    "sections": sections, "close-up": close_up, "backdrop": backdrop,
    "release": release, "ways-out": ways_out, "studies": studies, "compare": compare, "sheet": sheet,
    "reading": reading, "beyond-text": beyond, "other-eyes": eyes,
    "opened-menu": opened_menu,  # last: it brings in another site
}  # fmt: skip


def prepare(demo: Running) -> None:
    """Give the demo some changes to show: a first release, then three more colours."""
    demo.act({"act": "set-colour", "role": "accent", "value": "#b23a22"})
    status, answer = demo.release()
    if status == 202:
        demo.done("GET", f"/api/work/{answer['work']}")
    colours = {"quiet": "#5d5c50", "hull.background": "#0f3a4a", "hull.link": "#8fc7de"}
    demo.act(*({"act": "set-colour", "role": role, "value": value} for role, value in colours.items()))


def main() -> None:
    """Write every picture, or those that are named."""
    wanted = set(sys.argv[1:]) or set(VIEWS)
    with tempfile.TemporaryDirectory() as data, running(Path(data)) as demo, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium.executable(), args=chromium.ARGUMENTS)
        page = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=demo.address)
        page.goto("/")
        page.locator(".ShelfCard").first.wait_for()
        page.evaluate("localStorage.setItem('glaucon.first-steps', 'seen')")
        prepare(demo)
        for name, go in VIEWS.items():
            if name not in wanted:
                continue
            go(page)
            settle(page)
            page.screenshot(path=OUT / f"{name}.png")
        browser.close()


if __name__ == "__main__":
    main()
