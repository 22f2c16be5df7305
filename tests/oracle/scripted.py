"""What can be seen of pages that scripts build, and how much is read: python -m tests.oracle.scripted FOLDER[:PAGE,…] …

Chromium with scripts is the oracle: it scrolls each page to its end and back and tells each text that can be seen then,
with its colour. It is held against the survey of the files alone, and against that of the pages as they stood.
"""

from __future__ import annotations

import sys
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from playwright.sync_api import sync_playwright

from glaucon.core.exchange.reports.audit import audit_survey
from glaucon.core.snapshot.document import as_it_stood
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import SiteFiles, read_site
from glaucon.core.survey.survey import survey_site
from glaucon.measuring import OwnBrowser, own_browser, stand_with
from tests.oracle.server import serve

MOST_PAGES = 3
_CONTEXT = ContextKey(1280, "rest")
_NEAR = 2  # of 255
_SEEN = """async () => {
  const wait = (ms) => new Promise((go) => setTimeout(go, ms));
  await wait(1500);
  const high = () => document.scrollingElement.scrollHeight;
  for (let at = 0, n = 0; at < high() && n < 40; at += 500, n++) { scrollTo(0, at); await wait(120); }
  await wait(1000);
  scrollTo(0, 0);
  await wait(1000);
  for (const one of document.getAnimations()) try { one.finish() } catch { one.cancel() }
  const pathOf = (e) => e.parentElement
    ? `${pathOf(e.parentElement)}>${e.localName}:nth-child(${[...e.parentElement.children].indexOf(e) + 1})`
    : e.localName;
  const found = [];
  const walk = (root, inShadow) => {
    for (const e of root.querySelectorAll("*")) {
      if (e.shadowRoot) walk(e.shadowRoot, true);
      if (e.closest("script,style,noscript,template,title,head")) continue;
      const nodes = [...e.childNodes].filter((n) => n.nodeType === 3 && n.data.trim());
      if (!nodes.length || !e.checkVisibility({ opacityProperty: true, visibilityProperty: true })) continue;
      const range = document.createRange();
      const isThere = nodes.some((n) => {
        range.selectNode(n);
        return [...range.getClientRects()].some((r) => r.width > 1 && r.height > 1 && r.right > 0
          && r.bottom + scrollY > 0 && r.left < innerWidth);
      });
      const size = parseFloat(getComputedStyle(e).fontSize);
      if (!isThere || size < 1) continue;
      const text = nodes.map((n) => n.data).join(" ").replace(/\\s+/g, " ").trim().slice(0, 80);
      found.push({ path: inShadow ? "" : pathOf(e), text, colour: getComputedStyle(e).color });
    }
  };
  walk(document, false);
  return found;
}"""


@dataclass(slots=True)
class Counted:
    """Texts that can be seen; how many of them the files tell, how many the pages as they stood, in their colour."""

    seen: int = 0
    in_files: int = 0
    as_stood: int = 0
    judged: int = 0
    in_colour: int = 0


def count(browser: OwnBrowser, folder: Path, pages: list[str]) -> Counted:
    """Return the counts over some pages of a folder."""
    site, total = read_site(folder), Counted()
    with serve(folder, with_scripts=True) as address:
        for page in pages:
            truth = _truth(browser, address + page)
            stood = stand_with(browser, site, page)
            only = SiteFiles({path: data for path, data in site.files.items() if path == page or ".html" not in path})
            before = _rows(only)
            after = _rows(only if stood is None else as_it_stood(only, {page: stood}))
            for one in truth:
                row = after.get(one["path"])
                total.seen += 1
                total.in_files += before.get(one["path"], {}).get("text") == one["text"]
                if row is None or row["text"] != one["text"]:
                    print(f"    missed: {one['text'][:50]!r} {one['path'][-80:]}")
                    continue
                total.as_stood += 1
                theirs = _colour(one["colour"])
                if theirs is not None and row.get("colour"):
                    total.judged += 1
                    mine = _bytes(row["colour"])
                    total.in_colour += max(abs(a - b) for a, b in zip(mine, theirs, strict=True)) <= _NEAR
    return total


def _truth(browser: OwnBrowser, address: str) -> list[dict[str, Any]]:
    context = browser.connected.new_context(viewport={"width": 1280, "height": 800}, reduced_motion="reduce")
    try:
        tab = context.new_page()
        tab.route("**/*", lambda route: route.continue_() if "127.0.0.1" in route.request.url else route.abort())
        tab.on("dialog", lambda dialog: dialog.dismiss())
        tab.goto(address, wait_until="load")
        found: list[dict[str, Any]] = tab.evaluate(_SEEN)
        return found
    finally:
        context.close()


def _rows(site: SiteFiles) -> dict[str, dict[str, Any]]:
    report = audit_survey(survey_site(site, [_CONTEXT]), _CONTEXT, "AA")
    return {row["path"]: row for row in report["runs"]}


def _colour(said: str) -> tuple[int, int, int] | None:
    """Return an opaque computed colour."""
    if not said.startswith("rgb("):
        return None
    red, green, blue = (int(float(part)) for part in said[4:-1].split(","))
    return red, green, blue


def _bytes(hex_: str) -> tuple[int, ...]:
    return tuple(int(hex_[i : i + 2], 16) for i in (1, 3, 5))


def main(folders: list[str]) -> None:
    """Run it and print a row for each folder, or folder:page,page."""
    with sync_playwright() as playwright:
        for given in folders:
            name, _, some = given.partition(":")
            pages = some.split(",") if some else read_site(Path(name)).pages[:MOST_PAGES]
            with own_browser(playwright) as browser:
                one = count(browser, Path(name), pages)
            print(
                f"| {Path(name).name} | {len(pages)} | {one.seen} | {one.in_files} | {one.as_stood} | "
                f"{one.in_colour} of {one.judged} |", flush=True,
            )  # fmt: skip


if __name__ == "__main__":
    main(sys.argv[1:])
