"""What can be seen of pages that scripts build, and how much is read: python -m tests.oracle.scripted [NAME|FOLDER …]

Chromium with scripts is the oracle: it scrolls each page to its end and back and tells each text that can be seen then,
with its colour (where nothing fades it: no style tells that one). It is held against the survey of the files alone,
and against that of the pages as they stood. Each thing that was opened is then clicked on a page loaded anew; the texts
that come there, or turn another colour, are held against that state.
"""

from __future__ import annotations

import sys
from dataclasses import dataclass, fields
from pathlib import Path
from typing import Any

from playwright.sync_api import sync_playwright

from glaucon.core.cascade.opened import AT_MARK, openings_of
from glaucon.core.cascade.tree import parse_document
from glaucon.core.exchange.reports.audit import audit_survey
from glaucon.core.snapshot.document import as_it_stood
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import SiteFiles, read_site
from glaucon.core.survey.survey import survey_site
from glaucon.measuring import OwnBrowser, own_browser, stand_with
from tests.oracle.scripted_sites import SITES, made
from tests.oracle.server import serve

MOST_PAGES = 3
_CONTEXT = ContextKey(1280, "rest")
_NEAR = 2  # of 255
_SEEN = """async (opener) => {
  const wait = (ms) => new Promise((go) => setTimeout(go, ms));
  const still = () => { for (const one of document.getAnimations()) try { one.finish() } catch { one.cancel() } };
  await wait(1500);
  const high = () => document.scrollingElement.scrollHeight;
  for (let at = 0, n = 0; at < high() && n < 40; at += 500, n++) { scrollTo(0, at); await wait(120); }
  await wait(1000);
  scrollTo(0, 0);
  await wait(1000);
  const SHADOW = "gl-shadow:nth-child(0)";
  const pathOf = (e) => {
    const around = e.parentNode;
    if (!around || around === document) return e.localName;
    const way = around instanceof ShadowRoot ? `${pathOf(around.host)}>${SHADOW}` : pathOf(around);
    return `${way}>${e.localName}:nth-child(${[...around.children].indexOf(e) + 1})`;
  };
  const at = (path) => {
    const [first, ...further] = path.split(`>${SHADOW}`);
    return further.reduce((one, way) => one?.shadowRoot?.querySelector(`:host${way}`), document.querySelector(first));
  };
  // shut in a box no larger than a dot, for those who listen
  const isShut = (e) => {
    const style = getComputedStyle(e);
    const isSmall = e.clientWidth < 2 || e.clientHeight < 2;
    const isDot = isSmall && style.overflow !== "visible" && style.display !== "inline";
    if (style.position === "absolute" && /rect\\(([01]px[, ]*){4}\\)/.test(style.clip)) return true;
    const around = e.assignedSlot ?? e.parentElement ?? e.getRootNode().host;
    return isDot || (!!around && isShut(around));
  };
  const isFaded = (e) => {
    const around = e.assignedSlot ?? e.parentElement ?? e.getRootNode().host;
    return getComputedStyle(e).opacity < 1 || (!!around && isFaded(around));
  };
  const seen = () => {
    const found = [];
    const walk = (root) => {
      for (const e of root.querySelectorAll("*")) {
        if (e.shadowRoot) walk(e.shadowRoot);
        if (e.closest("script,style,noscript,template,title,head")) continue;
        const shown = e.localName === "slot" ? e.assignedNodes() : [...e.childNodes];
        const own = e.shadowRoot ? [] : shown.length || e.localName !== "slot" ? shown : [...e.childNodes];
        const nodes = own.filter((n) => n.nodeType === 3 && n.data.trim());
        if (!nodes.length || !e.checkVisibility({ opacityProperty: true, visibilityProperty: true })) {
          if (!nodes.length || getComputedStyle(e).display !== "contents") continue;
          if (!e.parentElement?.checkVisibility({ opacityProperty: true, visibilityProperty: true })) continue;
        }
        const range = document.createRange();
        const isThere = nodes.some((n) => {
          range.selectNode(n);
          return [...range.getClientRects()].some((r) => r.width > 1 && r.height > 1 && r.right > 0
            && r.bottom + scrollY > 0 && r.left < innerWidth);
        });
        const style = getComputedStyle(e);
        if (!isThere || parseFloat(style.fontSize) < 1 || isShut(e)) continue;
        const text = nodes.map((n) => n.data).join(" ").replace(/\\s+/g, " ").trim().slice(0, 80);
        found.push({ path: pathOf(e), text, colour: isFaded(e) ? "faded" : style.color });
      }
    };
    walk(document);
    return found;
  };
  still();
  const before = seen();
  if (!opener) return { before, after: [] };
  const one = at(opener);
  if (!one) return { before, after: [] };
  for (const [Kind, name] of [[PointerEvent, "pointerdown"], [MouseEvent, "mousedown"], [PointerEvent, "pointerup"],
    [MouseEvent, "mouseup"]]) one.dispatchEvent(new Kind(name, { bubbles: true, cancelable: true, composed: true }));
  one.click();
  await wait(1200);
  still();
  await wait(400);
  return { before, after: seen() };
}"""


@dataclass(slots=True)
class Counted:
    """Texts that can be seen; how many of them the files tell, how many the pages as they stood, in their colour."""

    seen: int = 0
    in_files: int = 0
    as_stood: int = 0
    judged: int = 0
    in_colour: int = 0
    opened: int = 0
    come: int = 0
    come_read: int = 0


def count(browser: OwnBrowser, folder: Path, pages: list[str]) -> Counted:
    """Return the counts over some pages of a folder."""
    site, total = read_site(folder), Counted()
    with serve(folder, with_scripts=True) as address:
        for page in pages:
            truth = _truth(browser, address + page, "")["before"]
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
            if stood is not None:
                _count_opened(browser, address + page, as_it_stood(only, {page: stood}), page, total)
    return total


def _count_opened(browser: OwnBrowser, address: str, site: SiteFiles, page: str, total: Counted) -> None:
    """Count the texts that come or turn once something is opened, and those that are read so."""
    document = parse_document(site.page_text(page))
    survey = survey_site(site)
    for opened in openings_of(document):
        by = next((one for one in document.elements if one.attributes.get(AT_MARK) == str(opened.by)), None)
        key = ContextKey(_CONTEXT.width, opened.state)
        if by is None:
            continue
        seen = _truth(browser, address, by.path())
        was = {one["path"]: one["colour"] for one in seen["before"]}
        come = [one for one in seen["after"] if was.get(one["path"]) != one["colour"]]
        rows = audit_survey(survey, key, "AA")["runs"] if key in survey.sightings else []
        read = {(row["path"], row["text"]): row for row in rows}
        by_text = {row["text"]: row for row in rows}
        total.opened += bool(come)
        for one in come:
            row = read.get((one["path"], one["text"])) or by_text.get(one["text"])
            theirs = _colour(one["colour"])
            is_so = row is not None and (
                theirs is None or not row.get("colour")
                or max(abs(a - b) for a, b in zip(_bytes(row["colour"]), theirs, strict=True)) <= _NEAR
            )  # fmt: skip
            total.come += 1
            total.come_read += is_so
            if not is_so:
                said = row["colour"] if row else "not read"
                print(f"    opened {opened.label}: {one['text'][:40]!r} {one['colour']} {said} {one['path'][-60:]}")


def _truth(browser: OwnBrowser, address: str, opener: str) -> dict[str, list[dict[str, Any]]]:
    context = browser.connected.new_context(viewport={"width": 1280, "height": 800}, reduced_motion="reduce")
    try:
        tab = context.new_page()
        tab.route("**/*", lambda route: route.continue_() if "127.0.0.1" in route.request.url else route.abort())
        tab.on("dialog", lambda dialog: dialog.dismiss())
        tab.goto(address, wait_until="load")
        found: dict[str, list[dict[str, Any]]] = tab.evaluate(_SEEN, opener)
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


def main(wanted: list[str]) -> None:
    """Run it and print a row for each site: the pinned ones, some of them, or folders."""
    named = {site.name: site for site in SITES}
    whole = Counted()
    with sync_playwright() as playwright:
        for name in wanted or named:
            folder = made(named[name]) if name in named else Path(name)
            pages = list(named[name].pages) if name in named else read_site(folder).pages[:MOST_PAGES]
            with own_browser(playwright) as browser:
                one = count(browser, folder, pages)
            _tell(Path(name).name, len(pages), one)
            for field in fields(Counted):
                setattr(whole, field.name, getattr(whole, field.name) + getattr(one, field.name))
    _tell("all", 0, whole)


def _tell(name: str, pages: int, one: Counted) -> None:
    print(
        f"| {name} | {pages} | {one.seen} | {one.in_files} | {one.as_stood} | {one.in_colour} of {one.judged} | "
        f"{one.opened} | {one.come_read} of {one.come} |", flush=True,
    )  # fmt: skip


if __name__ == "__main__":
    main(sys.argv[1:])
