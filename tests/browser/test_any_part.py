"""From a drawn page to any part of it: two clicks and the colour, for random texts of sites not built against."""

from __future__ import annotations

import random
import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.apps.conftest import folder_files, zipped
from tests.browser.conftest import bring
from tests.oracle import corpus
from tests.oracle.fresh import FRESH

COLOUR, SEEN = "#7a2fb0", "rgb(122, 47, 176)"
PARTS = 6  # of each site
# what can be clicked: elements with words of their own that a person sees, where they lie, their way down
TEXTS = """body => {
  const way = one => one.parentElement
    ? `${way(one.parentElement)} > ${one.localName}:nth-child(${[...one.parentElement.children].indexOf(one) + 1})`
    : "html";
  const found = [];
  for (const one of body.querySelectorAll("*")) {
    if (![...one.childNodes].some(node => node.nodeType === 3 && node.data.trim().length > 2)) continue;
    const box = one.getClientRects()[0];
    if (!box || box.width < 12 || box.height < 8) continue;
    const [x, y] = [box.left + Math.min(box.width / 2, 30), box.top + box.height / 2];
    if (x > 0 && y > 0 && x < innerWidth && y < innerHeight && document.elementFromPoint(x, y) === one)
      found.push({ way: way(one), x: x / innerWidth, y: y / innerHeight });
  }
  return found;
}"""


@pytest.mark.prove
@pytest.mark.parametrize("site", FRESH[:5], ids=lambda site: site.name)
def test_any_part_is_two_clicks_and_a_colour_away(desk: Page, tmp_path: Path, site: corpus.RealSite) -> None:
    archive = tmp_path / "site.zip"
    archive.write_bytes(zipped(folder_files(corpus.fetch(site))))
    bring(desk, archive)
    bench, dice = desk.url, random.Random(site.name)
    done, outside, tried = 0, 0, set[str]()
    while done < PARTS and len(tried) < 4 * PARTS:
        desk.goto(bench)
        desk.get_by_role("heading", name="Hard to read").wait_for()
        drawn = desk.locator(".pages .PageMiniature").first
        body = drawn.locator("iframe").content_frame.locator("body")
        body.wait_for()
        desk.wait_for_timeout(1500)  # fonts and pictures move what is below them
        left = [one for one in body.evaluate(TEXTS) if one["way"] not in tried]
        if not left:
            break
        text = dice.choice(left)
        tried.add(text["way"])
        box = drawn.bounding_box()
        assert box is not None
        desk.mouse.click(box["x"] + text["x"] * box["width"], box["y"] + text["y"] * box["height"])
        change = desk.get_by_label(re.compile("^Change .*, Rest,")).last
        change.wait_for()
        if change.is_disabled():  # a colour that is in no file
            outside += 1
            continue
        change.click()
        entry = desk.get_by_label(re.compile("here$|^Colour of ")).first
        entry.fill(COLOUR)
        entry.press("Enter")
        part = desk.locator(".CloseUpPage iframe").content_frame.locator(text["way"])
        expect(part).to_have_css("color", SEEN)
        done += 1
    assert done >= min(PARTS, len(tried) - outside) and done >= 3, (done, outside, tried)
