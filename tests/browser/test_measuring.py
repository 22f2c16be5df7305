"""Pages measured in the owner's own browser: told, used, not done twice; and pages that would forge or stop it."""

from __future__ import annotations

import io
import re
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Page, Request, expect

from tests.apps.conftest import zipped
from tests.browser.conftest import LAYOUT, bring

CSS = """
body { margin: 0; font: 17px/1.5 serif; color: #24302b; background: #fff }
.top { position: absolute; left: 0; right: 0; top: 0; padding: 18px 32px; z-index: 5 }
.top a { color: #fff; margin-left: 24px } .top b { color: #12302a; font-size: 22px }
.hero { height: 460px; background: url(canal.png) center/cover; position: relative }
.hero h1 { position: absolute; left: 32px; bottom: 90px; margin: 0; color: #fff; font-size: 44px }
.low { position: absolute; left: 32px; bottom: 40px; margin: 0; color: #f4efe0 }
"""


def canal() -> bytes:
    """Return a picture: pale sky above, dark water below."""
    pixels = np.full((400, 800, 3), 225, dtype=np.uint8)
    pixels[220:] = (24, 52, 70)
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "PNG")
    return out.getvalue()


def page(title: str, more: str = "") -> bytes:
    return (
        f"<!doctype html><html lang=en><title>{title}</title><link rel=stylesheet href=site.css>"
        f"<header class=top><b>Tea House</b><a href=index.html>Menu</a></header>"
        f"<section class=hero><h1>{title}</h1><p class=low>Open when the lock is.</p></section>{more}"
    ).encode()


FILES = {"site.css": CSS.encode(), "canal.png": canal(), "index.html": page("Tea"), "way.html": page("The way here")}


def measured(desk: Page, archive: Path, files: dict[str, bytes]) -> list[str]:
    """Bring files in and wait until their pages have been measured; return what was measured, page by page."""
    desk.unroute(LAYOUT)
    archive.write_bytes(zipped(files))
    sent: list[str] = []
    desk.on("request", lambda asked: note(asked, sent))
    bring(desk, archive)
    return sent


def note(asked: Request, sent: list[str]) -> None:
    if asked.method == "PUT" and LAYOUT.search(asked.url):
        told = asked.post_data_json
        sent.append(f"{told['page']} {told['width']}")


def standing(desk: Page) -> Any:
    """Return how far the measuring is."""
    slug = re.search(r"/sites/([^/]+)/", desk.url)[1]  # type: ignore[index]
    return desk.evaluate("slug => fetch(`/api/sites/${slug}/layout`).then((one) => one.json())", slug)


def settled(desk: Page) -> None:
    """Wait until the reading knows all that can be measured."""
    for _ in range(150):
        now = standing(desk)
        if now["is_used"] and now["measured"] and not now["wanted"]:
            return
        desk.wait_for_timeout(200)
    raise AssertionError(f"not measured: {now}")


def test_a_menu_over_a_picture_is_judged_once_it_is_measured(desk: Page, archive: Path) -> None:
    sent = measured(desk, archive, FILES)
    beside = desk.locator(".HardToRead")
    expect(beside).to_contain_text("Nothing is hard to read so far.")
    expect(beside).to_contain_text("8 places Glaucon cannot judge yet")
    expect(beside).to_contain_text(re.compile(r"Looking closely: \d of 2 pages"))
    settled(desk)
    # white words on the pale sky are hard to read; on the dark water, and dark ones on the sky, are not
    expect(beside).to_contain_text("Welcome area text on a picture")
    expect(beside.locator(".FindingCard")).to_have_count(1)
    expect(beside).not_to_contain_text("cannot judge yet")
    crop = beside.locator(".WorstSpot iframe").content_frame
    expect(crop.locator(".top a")).to_have_css("color", "rgb(255, 255, 255)")
    assert sorted(set(sent)) == sorted(f"{p} {w}" for p in ("index.html", "way.html") for w in (1280, 768, 390))
    assert len(sent) == 6

    # what is measured is measured: not again on another visit
    desk.reload()
    expect(beside).to_contain_text("Welcome area text on a picture")
    desk.wait_for_timeout(2500)
    assert len(sent) == 6

    # in again with one page changed: that page is
    del sent[:]
    archive.write_bytes(zipped({**FILES, "way.html": page("The way to us")}))
    desk.get_by_role("link", name="Site", exact=True).click()
    with desk.expect_file_chooser() as chooser:
        desk.get_by_role("button", name="Choose a .zip…").click()
    chooser.value.set_files(archive)
    desk.get_by_text("1 page has changed: way.html").wait_for()
    desk.get_by_role("link", name="Bench").click()
    settled(desk)
    assert {one.split()[0] for one in sent} == {"way.html"}


# each would forge what is measured, flood it, or keep it from ending
HOSTILE = {
    "forms that answer for the page": "<form><input name=parentNode><input name=childNodes><input name=localName>"
    "<input name=getBoundingClientRect><input name=nodeType><input name=children><p>Named fields</p></form>",
    "names of the document's own": "".join(
        f"<img name={name} alt=''><form name={name}></form>"
        for name in ("fonts", "scrollingElement", "adoptedStyleSheets", "querySelectorAll", "elementsFromPoint",
                     "getAnimations", "createRange", "documentElement", "body", "defaultView")
    ),
    "a script that posts what it likes": "<script>document.title = 'taken'; parent.postMessage({glaucon: 'measured', "
    "nonce: '', measured: {}}, '*'); while (true);</script>",
    "frames with names": "<iframe name=parent src='javascript:1'></iframe><iframe name=top srcdoc='<p>1'></iframe>",
    "giant boxes": "<div style='width:1e9px;height:1e9px;position:relative'><p style='position:absolute;left:9e8px'>Far"
    "</div>",
    "no numbers": "<p style='transform:scale(0);width:calc(infinity*1px)'>None</p><p style='zoom:1e-9'>Small</p>",
    "forty thousand boxes": "<i></i>" * 40_000,
    "a line of a hundred thousand words": "<p>" + "on " * 100_000 + "</p>",
    "deep": "<div style='position:relative'>" * 500 + "<p>Deep</p>",
    "endless movement": "<style>@keyframes m { to { translate: 300px } } p { animation: m 1s infinite }</style>"
    + "<p>Moving</p>" * 200,
    "a font that never comes": "<style>@font-face { font-family: n; src: url(never.woff2) } p { font-family: n }"
    "</style><p>Waiting</p>",
    "a base that leads away": "<base href='http://elsewhere.invalid/'><p>Based</p>",
    "a page that goes elsewhere": "<meta http-equiv=refresh content='0;url=index.html'><p>Gone</p>",
}  # fmt: skip


@pytest.mark.prove
def test_no_page_forges_floods_or_stops_the_measuring(desk: Page, archive: Path) -> None:
    hostile = {f"h{number}.html": page(f"Hull {number}", more) for number, more in enumerate(HOSTILE.values())}
    sent = measured(desk, archive, {**FILES, **hostile})
    # somebody else in the same browser who knows the words, but is no frame that was asked
    desk.evaluate(
        "setInterval(() => postMessage({glaucon: 'measured', nonce: '', measured: {forged: 1}}, '*'), 50)"
    )  # fmt: skip
    settled_in = "index.html 390"
    desk.wait_for_function(
        "() => !document.querySelector('.HardToRead')?.textContent.includes('Looking')", timeout=5_000
    )
    for _ in range(600):
        if settled_in in sent and "way.html 390" in sent:
            break
        desk.wait_for_timeout(200)
    desk.wait_for_timeout(1500)
    pages = {one.split()[0] for one in sent}
    assert {"index.html", "way.html"} <= pages
    assert len(sent) == len(set(sent))
    assert "taken" not in desk.title()
    assert standing(desk)["measured"] >= 6
    reading = desk.evaluate(
        "fetch(location.pathname.replace('/bench', '/study').replace('/sites', '/api/sites')).then((one) => one.json())"
    )["reading"]
    # the same verdict on every page: no page's words moved another's
    (finding,) = (one for one in reading["findings"] if one["on"] == "picture" and one["verdict"] == "fail")
    assert set(finding["pages"]) >= {"index.html", "way.html"}
