"""What Chromium says of a page: its rendered texts, their computed colours and the pixels under them."""

from __future__ import annotations

import asyncio
import base64
import io
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from itertools import pairwise
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image
from playwright.sync_api import Browser, CDPSession, Page
from scipy.ndimage import median_filter, minimum_filter

_COLLECT = (Path(__file__).parent / "collect.js").read_text("utf-8")
_EVERYTHING = "*, *::before, *::after, *::placeholder, *::marker, *::first-line, *::first-letter"
# `color: transparent` would change what currentColor paints; the fill of the glyphs changes only the words.
_WORDS = (
    _EVERYTHING + " {{ -webkit-text-fill-color: {fill} !important; text-shadow: none !important; "
    "caret-color: transparent !important; text-decoration-color: transparent !important; "
    "-webkit-text-stroke-color: transparent !important }} svg text, svg tspan {{ fill: {fill} !important }}"
)
# Thick strokes fill the line box, so that the colour the words come out in can be read off; words of their own alpha
# would be painted twice and are left to arithmetic.
_THICK = _EVERYTHING + " { -webkit-text-stroke: 8px !important; text-shadow: none !important }"
# where not even such strokes change a pixel something lies over the words
_SPREAD = _EVERYTHING + " { -webkit-text-stroke: 8px #ff00ff !important; text-shadow: none !important }"
_STILL = """*, *::before, *::after {
  transition: none !important; scroll-behavior: auto !important; content-visibility: visible;
  animation-duration: 0s !important; animation-delay: 0s !important; animation-iteration-count: 1 !important }"""
FORCED = {
    "rest": [],
    "hover": ["hover"],
    "focus": ["focus", "focus-visible", "focus-within"],
    "active": ["active", "hover", "focus", "focus-visible", "focus-within"],
}
_MOST_TRIES = 4
_GAP = 1.5  # of a line's height, between two glyphs
_LINES_OVERLAP_PX = 2.5
_WHERE = """[...document.body.querySelectorAll('*')].map(e => {
  const b = e.getBoundingClientRect(); return Math.round(b.top * 8) + Math.round(b.left * 8) }).join()"""
# what is cut to words is first not shown at all, then whole (inline boxes are not painted anew and look bare)
_CUT_TO_WORDS = """said => document.querySelectorAll("*").forEach(e => {
  if (said) {
    if (e.glaucon === undefined) {
      if (!getComputedStyle(e).backgroundClip.includes("text")) return;
      e.glaucon = e.getAttribute("style");
    }
    e.style.removeProperty("background");
    e.style.setProperty(...said, "important");
  } else if (e.glaucon !== undefined) {
    if (e.glaucon === null) e.removeAttribute("style"); else e.setAttribute("style", e.glaucon);
    delete e.glaucon;
  }
})"""
_MAX_HEIGHT_PX = 40_000
_PIECE_PX = 8_000


@dataclass(slots=True)
class TrueRun:
    """A text as Chromium renders it. `ground` holds the different pixels under its words, shape (n, 3), `counts` how
    many of each; `seen` is the colour its words come out in, 0..255, where it could be read off.

    `colour` is the computed fill, r, g, b of 255 and alpha of 1; `opacity` that of all ancestors. `covered` holds
    where not one pixel changes when the words are painted otherwise. `inks` is what a background that is cut to the
    words shows on each pixel of `ground`, None where there is none; `own` the plain background inside the faded box
    that the words stand in.
    """

    path: str
    text: str
    colour: tuple[float, float, float, float]
    opacity: float
    size_px: float
    weight: int
    ground: np.ndarray
    counts: np.ndarray
    seen: np.ndarray | None
    covered: bool
    scrolled_out: bool
    inks: np.ndarray | None = None
    own: tuple[float, float, float] | None = None

    @property
    def is_uniform(self) -> bool:
        """Return whether all pixels under the words are the same, two steps aside."""
        return len(self.ground) > 0 and int(np.ptp(self.ground, axis=0).max()) <= 2


@contextmanager
def opened(browser: Browser, url: str, width: int, scheme: str = "light") -> Iterator[Page]:
    """Yield a page, loaded and still, with pictures that load late there and other hosts not asked."""
    context = browser.new_context(viewport={"width": width, "height": 800}, color_scheme=scheme)  # type: ignore[arg-type]
    try:
        page = context.new_page()
        page.route("**/*", lambda route: route.continue_() if "127.0.0.1" in route.request.url else route.abort())
        page.goto(url, wait_until="load")
        page.evaluate("document.querySelectorAll('[loading=lazy]').forEach(e => e.loading = 'eager')")
        page.evaluate("document.fonts.ready.then(() => 0)")
        page.evaluate("new Promise(go => requestAnimationFrame(() => requestAnimationFrame(() => go(0))))")
        _add_style(page, _STILL)
        # what is rendered only once it comes near the view moves the rest in the midst of a picture
        page.evaluate(
            "document.querySelectorAll('*').forEach(e => { if (getComputedStyle(e).contentVisibility === 'auto') "
            "e.style.setProperty('content-visibility', 'visible', 'important') })"
        )
        page.evaluate(
            "document.getAnimations().forEach(a => { try { a.finish() } catch { a.cancel() } }); scrollTo(0, 0)"
        )
        yield page
    finally:
        context.close()


def true_runs(
    browser: Browser, url: str, width: int, states: Iterable[str], more_css: str = "", as_read: bool = False
) -> dict[str, dict[str, TrueRun]]:
    """Return Chromium's runs of a page by state and path, every element forced into the state.

    `more_css` stands after all that the page has. With `as_read` a ground is what the words are read on: without what
    lies over them, and without hairlines (two pixels at most) that cross them.
    """
    result: dict[str, dict[str, TrueRun]] = {}
    with opened(browser, url, width) as page:
        if more_css:
            _add_style(page, more_css)
        session = page.context.new_cdp_session(page)
        for state in states:
            _force(session, FORCED[state])
            for _ in range(_MOST_TRIES):
                stands = page.evaluate(_WHERE)
                found = page.evaluate(_COLLECT)
                _set_words(page, "transparent")
                blank = _picture(session, found)
                _set_words(page, "#ff00ff")
                marked = _picture(session, found)
                _set_words(page, "thick")
                thick = _picture(session, found)
                spread = None
                if as_read:
                    _set_words(page, "spread")
                    spread = _picture(session, found)
                _set_words(page, None)
                if page.evaluate(_WHERE) == stands:
                    break  # else something came to be rendered late and moved the rest
            every = np.array([box for one in found["runs"] for box in one["boxes"]]).reshape(-1, 4)
            owner = np.repeat(range(len(found["runs"])), [len(one["boxes"]) for one in found["runs"]])
            result[state] = {
                one["path"]: _true_run(one, every[owner != number], blank, marked, thick)
                for number, one in enumerate(found["runs"])
            }
            _look_into_words(page, session, found, result[state])
            if spread is not None:
                for number, one in enumerate(found["runs"]):
                    others = every[owner != number]
                    _keep_what_is_read_on(result[state][one["path"]], one["boxes"], others, blank, spread)
    return result


def _look_into_words(page: Page, session: CDPSession, found: dict[str, Any], runs: dict[str, TrueRun]) -> None:
    """Give the texts that a background is cut to what they show and what is behind them."""
    all_filled = [one for one in found["runs"] if one.get("filled")]
    for one in all_filled:
        if not one["boxes"]:  # generated text, whose place is told by its colour, which it has none of
            runs[one["path"]].ground = runs[one["path"]].ground[:0]
    filled = [one for one in all_filled if one["boxes"]]
    if not filled:
        return
    _set_words(page, "transparent")
    page.evaluate(_CUT_TO_WORDS, ["background", "none"])
    bare = _picture(session, found)
    page.evaluate(_CUT_TO_WORDS, ["-webkit-background-clip", "border-box"])
    whole = _picture(session, found)
    page.evaluate(_CUT_TO_WORDS, None)
    _set_words(page, None)
    for one in filled:
        both = [np.concatenate([_inside(bare, box), _inside(whole, box)], axis=1) for box in one["boxes"][:12]]
        pixels, counts = np.unique(np.concatenate(both), axis=0, return_counts=True)
        if len(pixels):
            run = runs[one["path"]]
            run.ground, run.counts = pixels[:, :3], counts
            if run.colour[3] == 0:
                run.inks, run.covered = pixels[:, 3:], False


def _keep_what_is_read_on(
    run: TrueRun, boxes: list[list[float]], others: np.ndarray, blank: np.ndarray, spread: np.ndarray
) -> None:
    if not boxes or run.covered or run.inks is not None:  # of cut out words each pixel has its own behind it
        return
    found = []
    for box in boxes[:12]:
        plain, other = _part(blank, box), _part(spread, box)
        if plain.size:
            changed = (plain != other).any(axis=-1)
            for left, top, right, bottom in _overlapping(box, others):
                changed[max(0, top) : max(0, bottom), max(0, left) : max(0, right)] = False
            # the edge of what lies over words is neither
            found.append(median_filter(plain, size=(5, 5, 1))[minimum_filter(changed, size=3)])
    pixels = np.concatenate(found) if found else np.zeros((0, 3), dtype=np.uint8)
    run.covered = not len(pixels)
    run.ground, run.counts = _colours_of(pixels)


def picture_of(browser: Browser, url: str, width: int) -> np.ndarray:
    """Return the pixels of a whole page, shape (height, width, 3), 0..255, once two looks agree.

    A large picture may be decoded only after `load`. Marquees are left out: those move on.
    """
    with opened(browser, url, width) as page:
        page.evaluate("document.querySelectorAll('marquee').forEach(one => one.style.visibility = 'hidden')")
        session = page.context.new_cdp_session(page)
        size = page.evaluate(
            "(() => { const s = document.scrollingElement; return { width: Math.max(s.scrollWidth, innerWidth),"
            " height: Math.max(s.scrollHeight, innerHeight) } })()"
        )
        picture = _picture(session, size)
        for _ in range(_MOST_TRIES):
            before, picture = picture, _picture(session, size)
            if np.array_equal(before, picture):
                break
        return picture


def read_computed(browser: Browser, url: str, width: int, states: Iterable[str]) -> int:
    """Read a page's texts and computed styles in some states, without pixels; return how many texts there were."""
    texts = 0
    with opened(browser, url, width) as page:
        session = page.context.new_cdp_session(page)
        for state in states:
            _force(session, FORCED[state])
            texts += len(page.evaluate(_COLLECT)["runs"])
    return texts


def _add_style(page: Page, css: str) -> None:
    """Add style without adding an element, which would move :nth-child paths."""
    page.evaluate(
        "css => { const s = new CSSStyleSheet(); s.replaceSync(css); document.adoptedStyleSheets.push(s) }", css
    )


def _set_words(page: Page, fill: str | None) -> None:
    """Paint all words in one colour, or as they are."""
    css = "" if fill is None else {"thick": _THICK, "spread": _SPREAD}.get(fill) or _WORDS.format(fill=fill)
    page.evaluate(
        """css => {
          if (!globalThis.glaucon) document.adoptedStyleSheets.push(globalThis.glaucon = new CSSStyleSheet());
          globalThis.glaucon.replaceSync(css);
        }""",
        css,
    )


def _force(session: CDPSession, pseudo_classes: list[str]) -> None:
    session.send("DOM.enable")
    session.send("CSS.enable")
    pending = [session.send("DOM.getDocument", {"depth": -1})["root"]]
    elements: list[int] = []
    while pending:
        node = pending.pop()
        pending.extend(node.get("children", []))
        if node["nodeType"] == 1:
            elements.append(node["nodeId"])

    async def force_all() -> None:
        # sent without waiting for one another: each answer alone takes a frame
        for start in range(0, len(elements), 200):
            await asyncio.gather(
                *(
                    session._impl_obj.send(
                        "CSS.forcePseudoState", {"nodeId": number, "forcedPseudoClasses": pseudo_classes}, None
                    )
                    for number in elements[start : start + 200]
                )
            )

    session._sync(force_all())


def _picture(session: CDPSession, size: dict[str, Any]) -> np.ndarray:
    """Return the whole page's pixels, taken in pieces: one picture may not be taller than a texture."""
    height = min(int(size["height"]), _MAX_HEIGHT_PX)
    pieces = []
    for top in range(0, height, _PIECE_PX):
        clip = {"x": 0, "y": top, "width": min(int(size["width"]), 4000), "height": min(_PIECE_PX, height - top)}
        shot = session.send(
            "Page.captureScreenshot",
            {"format": "png", "captureBeyondViewport": True, "optimizeForSpeed": True, "clip": {**clip, "scale": 1}},
        )
        pieces.append(np.asarray(Image.open(io.BytesIO(base64.b64decode(shot["data"]))).convert("RGB")))
    return np.concatenate(pieces)


def _true_run(
    one: dict[str, Any], others: np.ndarray, blank: np.ndarray, marked: np.ndarray, thick: np.ndarray
) -> TrueRun:
    ground = np.zeros((0, 3), dtype=np.uint8)
    covered = False
    wholes = [(_whole(blank, box), _whole(marked, box)) for box in one["whole"][:12]]
    if one["boxes"]:
        ground = np.concatenate([_uncovered(blank, marked, box, others) for box in one["boxes"][:12]])
        covered = len(ground) > 0 and not any(bool((plain != other).any()) for plain, other in wholes)
    elif one.get("glyphs") and wholes:
        ground = np.concatenate([_glyphs(blank, marked, box, one["others"]) for box in one["whole"][:12]])
    r, g, b, alpha = one["colour"]
    seen = None
    if alpha == 1 and one.get("plain") and one["boxes"] and not covered:
        strokes, under = (np.concatenate([_inside(of, box) for box in one["boxes"][:12]]) for of in (thick, blank))
        changed = strokes[(strokes != under).any(axis=-1)]
        if len(changed) > 0.25 * len(strokes):
            colours, counts = _colours_of(changed)
            common = colours[counts.argmax()].astype(float)
            # strokes that hardly differ from the ground are its own noise; the computed colour tells more
            if counts.max() > 0.6 * len(changed) and np.abs(common - np.median(ground, axis=0)).max() > 3:
                seen = common
    colours, counts = _colours_of(ground)
    out = not one["boxes"] and not one.get("glyphs") and not path_is_generated(one["path"])
    return TrueRun(
        one["path"], one["text"], (r, g, b, alpha), one["opacity"], one["size"], one["weight"], colours, counts, seen,
        covered, out, own=tuple(one["own"]) if one.get("own") else None,
    )  # fmt: skip


def _colours_of(pixels: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return the colours of some pixels, each once, and how often each is there; sorted as whole numbers, once."""
    packed = pixels.astype(np.uint32) @ np.array([1 << 16, 1 << 8, 1], dtype=np.uint32)
    found, counts = np.unique(packed, return_counts=True)
    return np.stack([found >> 16, (found >> 8) & 255, found & 255], axis=-1).astype(np.uint8), counts


def path_is_generated(path: str) -> bool:
    """Return whether a run is generated text."""
    return "::" in path


def _glyphs(blank: np.ndarray, marked: np.ndarray, box: list[float], others: list[list[float]]) -> np.ndarray:
    """Return the pixels under the glyphs within a box that stand in none of the other boxes."""
    plain, other = _whole(blank, box), _whole(marked, box)
    changed = (plain != other).any(axis=-1)
    x0, y0 = max(0, int(box[0])), max(0, int(box[1]))
    for left, top, width, height in others:
        rows = slice(max(0, int(top) - y0 - 1), max(0, int(top + height) - y0 + 2))
        changed[rows, max(0, int(left) - x0 - 1) : max(0, int(left + width) - x0 + 2)] = False
    return plain[changed]


def _whole(picture: np.ndarray, box: list[float]) -> np.ndarray:
    left, top, width, height = (int(v) for v in box)
    return picture[max(0, top) : max(0, top + height + 1), max(0, left) : max(0, left + width + 1)]


def _overlapping(box: list[float], others: np.ndarray) -> Iterator[tuple[int, int, int, int]]:
    """Yield what other texts' strokes, with their spikes, reach of a line box that they lie over or are under.

    Counted from the corner of `_part`. Lines that follow one another closely are within each other by little.
    """
    left, top, width, height = box
    x0, y0 = int(np.ceil(left + width * 0.02)), int(np.ceil(top + height * 0.15))
    wide = np.minimum(left + width, others[:, 0] + others[:, 2]) - np.maximum(left, others[:, 0])
    high = np.minimum(top + height, others[:, 1] + others[:, 3]) - np.maximum(top, others[:, 1])
    for place in np.nonzero((wide > 2) & (high > 0))[0]:
        x, y, across, down = others[place].tolist()
        spread = 10 if high[place] > _LINES_OVERLAP_PX else 0
        yield int(x) - x0 - spread, int(y) - y0 - spread, int(x + across) - x0 + spread, int(y + down) - y0 + spread


def _inside(picture: np.ndarray, box: list[float]) -> np.ndarray:
    """Return the pixels of a line box without its outer parts, shape (n, 3)."""
    return _part(picture, box).reshape(-1, 3)


def _uncovered(blank: np.ndarray, marked: np.ndarray, box: list[float], others: np.ndarray) -> np.ndarray:
    """Return the pixels of a line box without its outer parts and without what lies over a stretch of it, (n, 3).

    A stretch longer than a line is high in which marking the words changes nothing, but for other texts' words, is no
    gap between words: all are hovered at once, and a menu that opens may lie over half a heading. Of a line that shows
    nothing all is returned.
    """
    plain, other = _part(blank, box), _part(marked, box)
    changed = (plain != other).any(axis=-1)
    for left, top, right, bottom in _overlapping(box, others) if changed.any() else ():
        changed[max(0, top) : max(0, bottom), max(0, left) : max(0, right)] = False
    columns = changed.any(axis=0)
    if columns.any():
        within = np.nonzero(columns)[0]
        for start, end in pairwise(within.tolist()):
            if end - start <= max(8, _GAP * box[3]):
                columns[start:end] = True
        for place in np.flatnonzero(columns[1:] != columns[:-1]).tolist():  # the edge of what lies over it
            columns[max(0, place - 1) : place + 3] = False
        plain = plain[:, columns] if columns.any() else plain
    return plain.reshape(-1, 3)


def _part(picture: np.ndarray, box: list[float]) -> np.ndarray:
    """Return a line box without its outer parts, where neighbours and rounding show."""
    left, top, width, height = box
    x0, x1 = int(np.ceil(left + width * 0.02)), int(left + width * 0.98)
    y0, y1 = int(np.ceil(top + height * 0.15)), int(top + height * 0.85)
    return picture[max(0, y0) : max(0, y1), max(0, x0) : max(0, x1)]
