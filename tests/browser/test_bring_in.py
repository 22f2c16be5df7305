"""Bringing a site in by archive and by address, its three looks, and handing it back, in a real browser."""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from glaucon.standin.host import hosting
from tests.apps.conftest import zipped
from tests.browser.conftest import brought, choose, choose_zip

QUIET = "rgb(140, 138, 120)"


def test_three_looks_end_on_the_bench(desk: Page, archive: Path) -> None:
    desk.goto("/")
    choose_zip(desk, archive)
    expect(desk.get_by_role("heading", name=re.compile("^9 pages with 301 texts"))).to_be_visible()
    expect(desk.get_by_text("Text inside pictures is not checked.")).to_be_visible()

    # the colours found: where one stands, and what sliding joins
    desk.get_by_role("button", name="See the colours found").click()
    joins = desk.locator(".effect")
    expect(joins).to_contain_text("colours are merged with others")
    as_it_is = joins.inner_text()
    desk.get_by_role("button", name=re.compile(r"^#22302B, \d+ places?")).first.click()
    places = desk.get_by_role("complementary", name="#22302B")
    expect(places.get_by_text("css/site.css, line 4")).to_be_visible()
    expect(places.get_by_text("body { margin: 0; background: #fbf7ef; color: #22302b;")).to_be_visible()
    slider = desk.get_by_role("slider", name=re.compile("^How similar"))
    slider.focus()
    for _ in range(3):
        slider.press("ArrowLeft")
    expect(desk.get_by_text("Merge colours that look the same")).to_be_visible()
    expect(joins).not_to_have_text(as_it_is)
    for _ in range(2):
        slider.press("ArrowRight")
    expect(joins).to_have_text(as_it_is)

    # seen before it is taken: nothing is written
    desk.get_by_role("button", name="See it on the pages").click()
    dialog = desk.get_by_role("dialog")
    frame = dialog.locator("iframe").nth(1).content_frame
    quiet = frame.locator("footer small, .hint, .small").first
    dialog.get_by_text("Original").click()
    expect(quiet).not_to_have_css("color", QUIET)  # a page in a frame follows a moment later
    dialog.get_by_text("With this palette").click()
    expect(quiet).to_have_css("color", QUIET)
    desk.keyboard.press("Escape")
    expect(desk.get_by_role("button", name="Undo")).to_be_disabled()

    # taken, named, a colour moved
    desk.get_by_role("button", name="Use this palette").click()
    expect(desk.get_by_role("heading", name=re.compile("site colours, .* for sections"))).to_be_visible()
    row = desk.get_by_role("listitem").filter(has=desk.get_by_role("heading", name="Quiet text #8C8A78", exact=True))
    row.get_by_role("button", name="Rename").click()
    desk.get_by_label("Name of the colour").fill("Small print")
    desk.get_by_label("Name of the colour").press("Enter")
    expect(desk.get_by_role("heading", name="Small print #8C8A78")).to_be_visible()
    merged = desk.locator(".PaletteRow").filter(has=desk.locator(".chip >> nth=1")).first
    chip = merged.locator(".chip").last
    colour = chip.inner_text().strip()
    chip.click()
    choose(desk, f"Move {colour} to", "Small print")
    row = desk.get_by_role("listitem").filter(has=desk.get_by_role("heading", name="Small print #8C8A78"))
    expect(row.get_by_role("button", name=colour)).to_be_visible()
    expect(merged.get_by_role("button", name=colour)).to_have_count(0)
    desk.get_by_role("button", name="Go to the bench").click()
    expect(desk.locator('[data-tile="quiet"]')).to_contain_text("Small print")
    expect(desk.locator(".PageMiniature iframe").first).to_be_visible()


def test_handed_back_in_four_ways_and_read_again(desk: Page, few: Path) -> None:
    desk.goto(f"/sites/{brought(desk, few)}/found")
    desk.get_by_role("button", name="Use this palette").click()
    desk.get_by_role("button", name="Go to the bench").click()
    desk.get_by_role("link", name="Release", exact=True).click()
    desk.get_by_role("button", name="Download for my own host").click()
    dialog = desk.get_by_role("dialog")
    dialog.get_by_text("Only the files that differ").click()
    expect(dialog.get_by_text("css/site.css")).to_be_visible()
    with desk.expect_download() as waiting:
        dialog.get_by_role("link", name="Download site.zip").click()
    archive_back = zipfile.ZipFile(io.BytesIO(Path(waiting.value.path()).read_bytes()))
    assert any(re.fullmatch(r"glaucon-[0-9a-f]{12}\.css", name) for name in archive_back.namelist())
    for way in ("The whole site", "An add-on stylesheet"):
        dialog.get_by_text(way, exact=True).click()
        dialog.get_by_role("button", name="Check this download").click()
        expect(
            dialog.get_by_text(re.compile(r"^All [\d,]+ texts on 4 pages have the colours you chose"))
        ).to_be_visible()
    expect(dialog.locator("pre")).to_contain_text("Keep it after everything else")
    dialog.get_by_text("CSS variables only").click()
    expect(dialog.locator("pre")).to_contain_text("--gl-quiet: #8c8a78;")
    dialog.get_by_text("Design Tokens", exact=True).click()
    expect(dialog.locator("pre")).to_contain_text('"colorSpace": "srgb"')


@pytest.fixture
def outside(otterlock: Path, settings: Any) -> Iterator[str]:
    with hosting(otterlock) as address:
        settings.GLAUCON_ALLOWED_ADDRESSES = frozenset({address.removeprefix("http://")})
        yield address


def test_by_address_and_again(desk: Page, outside: str) -> None:
    desk.goto("/")
    field = desk.get_by_label("Web address")
    field.fill("http://127.0.0.1:1/")
    desk.get_by_role("button", name="Bring it in").click()
    expect(desk.get_by_role("alert")).to_contain_text("private network")
    desk.get_by_role("link", name="Back to your sites").click()
    field.fill(outside)
    desk.get_by_role("button", name="Bring it in").click()
    expect(desk.get_by_role("heading", name="9 pages with 301 texts.")).to_be_visible()
    expect(desk.get_by_text(f"From {outside}/.")).to_be_visible()
    desk.get_by_role("button", name="Update from the web address").click()
    expect(desk.get_by_text("Every file is as it was.")).to_be_visible()
    desk.get_by_role("link", name="Release", exact=True).click()
    # nothing is changed: what the host has is what this study shows
    desk.get_by_role("button", name="Is it there?").click()
    expect(desk.get_by_label("Where your site is on the web")).to_have_value(f"{outside}/")
    desk.get_by_role("button", name="Look", exact=True).click()
    expect(desk.get_by_text("9 of 9 pages")).to_be_visible()


CANARY = """<!doctype html><title>Canary</title><meta http-equiv=refresh content="0;url=/canary-refresh">
<base target=_top><script>fetch('/canary-inline'); top.canary = 1; alert(1)</script>
<script src=canary.js></script><img src=x onerror="fetch('/canary-onerror')"><body onload="fetch('/canary-onload')">
<svg onload="fetch('/canary-svg')"><script>fetch('/canary-svg-script')</script></svg>
<img src=picture.svg><object data=picture.svg></object>
<iframe srcdoc="<script>fetch('/canary-frame')</script>"></iframe>
<a href="javascript:fetch('/canary-link')">words to read</a><form action=/canary-form><button>send</button></form>
<link rel=stylesheet href=a.css><style>
@import "//outside.example/canary.css"; p { background: url(//outside.example/c.png) }</style>
<p style="background: url('javascript:fetch(1)')">More words</p>
<math><mtext></form><mglyph><style><img src=y onerror="fetch('/canary-mxss')"></style></mglyph></mtext></math>"""


def test_no_script_of_a_site_ever_runs(desk: Page, tmp_path: Path) -> None:
    svg = b"<svg xmlns='http://www.w3.org/2000/svg'><script>fetch('/canary-picture')</script></svg>"
    css = b"p { color: #336699; behavior: url(x.htc); background: url(https://outside.example/canary.png) }"
    path = tmp_path / "canary.zip"
    path.write_bytes(
        zipped({"index.html": CANARY.encode(), "canary.js": b"fetch('/canary-js')", "picture.svg": svg, "a.css": css})
    )
    asked: list[str] = []
    dialogs: list[str] = []
    desk.on("requestfinished", lambda request: asked.append(request.url))
    # what the policy stops is a failed request too, but never leaves the browser
    desk.on("requestfailed", lambda request: asked.append(request.url) if request.failure != "csp" else None)
    desk.on("dialog", lambda dialog: (dialogs.append(dialog.message), dialog.dismiss()))
    desk.goto("/")
    choose_zip(desk, path)
    desk.get_by_role("heading", name=re.compile("1 page with")).wait_for()
    slug = re.search(r"/sites/([\w-]+)/", desk.url)
    assert slug is not None
    for screen in ("came-in", "found", "palette", "bench", "release"):
        desk.goto(f"/sites/{slug[1]}/{screen}")
        desk.get_by_role("link", name="Site", exact=True).wait_for()
        desk.wait_for_timeout(700)
    assert desk.evaluate("window.canary") is None
    assert dialogs == []
    assert [url for url in asked if "/canary-" in url or "outside.example" in url] == []


def test_the_shelf_waits_for_sites_that_are_read_again(desk: Page, few: Path) -> None:
    brought(desk, few)
    listed = desk.request.get("/api/sites").json()
    waits: dict[str, Any] = {"status": 202, "json": {"work": 7, "state": "running", "ahead": 0}}
    desk.route("**/api/sites", lambda route: route.fulfill(**waits))
    desk.route("**/api/work/7", lambda route: route.fulfill(**waits))
    desk.goto("/")
    expect(desk.get_by_text("Your sites are being read again. This takes a moment…")).to_be_visible()
    expect(desk.get_by_role("button", name="Choose a .zip…")).to_be_enabled()
    waits = {"json": listed}
    expect(desk.locator(".cards")).to_contain_text(listed[0]["name"])
