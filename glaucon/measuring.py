"""Measures how a site's pages are laid out, in a headless Chromium: `glaucon measure`.

The pages are answered from memory, nothing else is asked of any host, and no script of theirs runs.
"""

from __future__ import annotations

import json
import mimetypes
import os
import posixpath
import shutil
from collections.abc import Callable, Iterable
from typing import Any
from urllib.parse import quote, unquote, urlsplit

from glaucon.core.cascade.text import decode_source
from glaucon.core.errors import GlauconError
from glaucon.core.exchange.preview import stateful
from glaucon.core.layout.document import LIMITS, measuring_script
from glaucon.core.survey.site import SiteFiles, is_page

_HOST = "http://pages.invalid/"
_ARGUMENTS = (
    "--no-sandbox --disable-gpu --disable-background-networking --disable-component-update --disable-sync".split()
)
_HEIGHT_PX = 800
_LOADS_MS = 20_000
_POLICY = "script-src 'none'; object-src 'none'; frame-src 'none'"
# fonts and pictures have come, what moves stands still at its end
_SETTLE = """async () => {
  document.querySelectorAll('[loading=lazy]').forEach((one) => (one.loading = 'eager'));
  const wait = (ms) => new Promise((go) => setTimeout(go, ms));
  await Promise.race([document.fonts.ready, wait(3000)]);
  const pictures = [...document.images].filter((one) => !one.complete);
  const come = pictures.map((one) => new Promise((go) => (one.onload = one.onerror = go)));
  await Promise.race([Promise.all(come), wait(3000)]);
  for (const moving of document.getAnimations()) try { moving.finish() } catch { moving.cancel() }
}"""


class MeasureError(GlauconError):
    """There is no browser to measure with."""


def measure_site(
    site: SiteFiles, widths: Iterable[int], progress: Callable[[int, int], None] = lambda done, total: None
) -> dict[tuple[str, int], Any]:
    """Return what a browser measured of every page at each width, as `measure.js` gives it.

    Raises: MeasureError: Playwright or a Chromium is missing.
    """
    playwright = _playwright()
    with playwright() as running:
        browser = running.chromium.launch(executable_path=_chromium(), args=_ARGUMENTS)
        try:
            return measure_with(browser, site, widths, progress)
        finally:
            browser.close()


def measure_with(
    browser: Any,
    site: SiteFiles,
    widths: Iterable[int],
    progress: Callable[[int, int], None] = lambda done, total: None,
    is_measured: bool = True,
) -> dict[tuple[str, int], Any]:
    """Return what a running browser measured of every page at each width; without `is_measured` it only loads them."""
    pages, wide = site.pages, list(widths)
    found: dict[tuple[str, int], Any] = {}
    for width in wide:
        context = browser.new_context(viewport={"width": width, "height": _HEIGHT_PX}, reduced_motion="reduce")
        try:
            tab = context.new_page()
            tab.route("**/*", lambda route: _answer(route, site))
            for page in pages:
                progress(len(found), len(pages) * len(wide))
                if is_measured:
                    found[page, width] = _measured(tab, page)
                else:
                    _loaded(tab, page)
        finally:
            context.close()
    progress(len(found), len(found))
    return found


def _playwright() -> Any:
    try:
        from playwright.sync_api import sync_playwright
    except ImportError as error:
        raise MeasureError(
            "Measuring needs Playwright, which is not installed. Install it with: pip install 'glaucon[measure]'."
        ) from error
    return sync_playwright


def _chromium() -> str:
    named = os.environ.get("GLAUCON_CHROMIUM")
    found = named or shutil.which("chromium") or shutil.which("chromium-browser")
    if not found:
        raise MeasureError("Measuring needs Chromium, and none was found. Install it, or name it in GLAUCON_CHROMIUM.")
    return found


def _loaded(tab: Any, page: str) -> None:
    tab.goto(_HOST + quote(page), wait_until="load", timeout=_LOADS_MS)
    tab.evaluate(_SETTLE)


def _measured(tab: Any, page: str) -> Any:
    _loaded(tab, page)
    # as one text: what is handed over value by value takes longer than the measuring
    return json.loads(tab.evaluate(f"async (limits) => JSON.stringify(await ({measuring_script()})(limits))", LIMITS))


def _answer(route: Any, site: SiteFiles) -> None:
    parts = urlsplit(route.request.url)
    path = posixpath.normpath(unquote(parts.path).lstrip("/") or "index.html")
    if f"{parts.scheme}://{parts.netloc}/" != _HOST and site.without_origin(route.request.url) == route.request.url:
        route.abort()
        return
    data = site.files.get(path) or site.files.get(f"{path}/index.html")
    if data is None:
        route.fulfill(status=404, body="")
        return
    kind = "text/html" if is_page(path) else mimetypes.guess_type(path)[0] or "application/octet-stream"
    if kind in ("text/html", "text/css"):
        text = stateful(decode_source(data).text, is_page(path))
        kind, data = f"{kind}; charset=utf-8", text.encode()
    route.fulfill(status=200, body=data, headers={"Content-Type": kind, "Content-Security-Policy": _POLICY})
