"""What Chromium says of a page: its rendered texts, their computed colours and the pixels under them."""

from __future__ import annotations

import base64
import io
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image
from playwright.sync_api import Browser, Page

_COLLECT = (Path(__file__).parent / "collect.js").read_text("utf-8")
# `color: transparent` would change what currentColor paints; the fill of the glyphs changes only the words.
_BLANK = """*, *::before, *::after, *::placeholder, *::marker, *::first-line, *::first-letter {
  -webkit-text-fill-color: transparent !important; text-shadow: none !important; caret-color: transparent !important;
  text-decoration-color: transparent !important; -webkit-text-stroke-color: transparent !important }"""
_STILL = """*, *::before, *::after {
  transition: none !important; animation: none !important; scroll-behavior: auto !important }"""
_FORCED = {
    "rest": [],
    "hover": ["hover"],
    "focus": ["focus", "focus-visible", "focus-within"],
    "active": ["active", "hover", "focus", "focus-visible", "focus-within"],
}


@dataclass(frozen=True, slots=True)
class TrueRun:
    """A text as Chromium renders it. `ground` holds the pixels under its words, shape (n, 3)."""

    path: str
    colour: tuple[float, float, float, float]
    size_px: float
    weight: int
    ground: np.ndarray

    @property
    def is_uniform(self) -> bool:
        """Return whether all pixels under the words are the same, one step aside."""
        return len(self.ground) > 0 and int(np.ptp(self.ground, axis=0).max()) <= 2


def true_runs(browser: Browser, url: str, width: int, state: str) -> dict[str, TrueRun]:
    """Return Chromium's runs of a page by path, at a width, every element forced into a state."""
    context = browser.new_context(viewport={"width": width, "height": 800})
    try:
        page = context.new_page()
        page.route("**/*", lambda route: route.continue_() if "127.0.0.1" in route.request.url else route.abort())
        page.goto(url, wait_until="load")
        _add_style(page, _STILL)
        _force(page, _FORCED[state])
        found: list[dict[str, Any]] = page.evaluate(_COLLECT)
        _add_style(page, _BLANK)
        picture = _picture(page)
        return {one["path"]: _true_run(one, picture) for one in found}
    finally:
        context.close()


def read_computed(browser: Browser, url: str, width: int, states: tuple[str, ...]) -> int:
    """Read a page's texts and computed styles in some states, without pixels; return how many texts there were."""
    context = browser.new_context(viewport={"width": width, "height": 800})
    texts = 0
    try:
        page = context.new_page()
        page.route("**/*", lambda route: route.continue_() if "127.0.0.1" in route.request.url else route.abort())
        page.goto(url, wait_until="load")
        _add_style(page, _STILL)
        for state in states:
            _force(page, _FORCED[state])
            texts += len(page.evaluate(_COLLECT))
    finally:
        context.close()
    return texts


def _add_style(page: Page, css: str) -> None:
    """Add style without adding an element, which would move :nth-child paths."""
    page.evaluate(
        "css => { const s = new CSSStyleSheet(); s.replaceSync(css); document.adoptedStyleSheets.push(s) }", css
    )


def _force(page: Page, pseudo_classes: list[str]) -> None:
    if not pseudo_classes:
        return
    session = page.context.new_cdp_session(page)
    session.send("DOM.enable")
    session.send("CSS.enable")
    pending = [session.send("DOM.getDocument", {"depth": -1})["root"]]
    while pending:
        node = pending.pop()
        pending.extend(node.get("children", []))
        if node["nodeType"] == 1:
            session.send("CSS.forcePseudoState", {"nodeId": node["nodeId"], "forcedPseudoClasses": pseudo_classes})


def _picture(page: Page) -> np.ndarray:
    size = page.evaluate("[document.documentElement.scrollWidth, document.documentElement.scrollHeight]")
    session = page.context.new_cdp_session(page)
    shot = session.send(
        "Page.captureScreenshot",
        {
            "format": "png",
            "captureBeyondViewport": True,
            "clip": {"x": 0, "y": 0, "width": size[0], "height": size[1], "scale": 1},
        },
    )
    image = Image.open(io.BytesIO(base64.b64decode(shot["data"]))).convert("RGB")
    return np.asarray(image)


def _true_run(one: dict[str, Any], picture: np.ndarray) -> TrueRun:
    pixels = [_inside(picture, box) for box in one["boxes"][:12]]
    ground = np.concatenate(pixels) if pixels else np.zeros((0, 3), dtype=np.uint8)
    return TrueRun(one["path"], tuple(one["colour"]), one["size"], one["weight"], ground)


def _inside(picture: np.ndarray, box: list[float]) -> np.ndarray:
    """Return the pixels of a line box without its outer parts, where neighbours and rounding show."""
    left, top, width, height = box
    x0, x1 = int(np.ceil(left + width * 0.02)), int(left + width * 0.98)
    y0, y1 = int(np.ceil(top + height * 0.15)), int(top + height * 0.85)
    part = picture[max(0, y0) : max(0, y1), max(0, x0) : max(0, x1)]
    return part.reshape(-1, 3)
