"""Measures how a site's pages are laid out, in a headless Chromium: `glaucon measure`.

The pages are answered from memory, nothing else is asked of any host, and no script of theirs runs; or once, to see
what it makes of them (`stand_with`), in a browser of its own that is ended with the page.
"""

from __future__ import annotations

import contextlib
import json
import mimetypes
import os
import posixpath
import secrets
import shutil
import signal
import subprocess
import tempfile
import threading
import time
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from urllib.parse import quote, unquote, urlsplit

from glaucon.core.cascade.text import decode_source
from glaucon.core.errors import GlauconError
from glaucon.core.exchange.preview import stateful
from glaucon.core.layout.document import LIMITS, measuring_script
from glaucon.core.snapshot.document import LIMITS as STANDING_LIMITS
from glaucon.core.snapshot.document import Snapshot, SnapshotError, Stood, read_stood, standing_script
from glaucon.core.snapshot.told_apart import marked
from glaucon.core.survey.site import Progress, SiteFiles, is_page
from glaucon.core.survey.survey import STANDARD_WIDTHS

_HOST = "http://pages.invalid/"
_ARGUMENTS = (
    "--no-sandbox --disable-gpu --disable-background-networking --disable-component-update --disable-sync".split()
)
_HEIGHT_PX = 800
_LOADS_MS = 20_000
_POLICY = "script-src 'none'; object-src 'none'; frame-src 'none'"
_POLICY_OF_SCRIPTS = "object-src 'none'; frame-src 'none'; worker-src 'none'; form-action 'none'"
_ARGUMENTS_OF_SCRIPTS = ("--js-flags=--max-old-space-size=512", "--mute-audio", "--disable-extensions")
_STANDS_MS = 24_000  # that a page may take to stand, of which the script itself takes less
_OPENS_MS = 24_000  # and to have things opened then
_ENDS_SECONDS = 32.0  # after which its browser is ended if nothing stands; and after so much again in any case
_STARTS_SECONDS = 20.0
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


def stand_site(site: SiteFiles, progress: Progress = lambda what, done, total: None) -> tuple[Snapshot, list[str]]:
    """Return what stands on each page once its scripts have run on a wide screen, and the pages that never stood.

    Raises: MeasureError: Playwright or a Chromium is missing.
    """
    found: dict[str, Stood] = {}
    fallen: list[str] = []
    pages = list(site.pages)
    with _playwright()() as running:
        while len(found) + len(fallen) < len(pages):
            with own_browser(running) as browser:
                while not browser.is_gone and len(found) + len(fallen) < len(pages):
                    done = len(found) + len(fallen)
                    progress("running scripts", done, len(pages))
                    stood = stand_with(browser, site, pages[done])
                    if stood is None:
                        fallen.append(pages[done])
                    else:
                        found[pages[done]] = stood
    return found, fallen


@dataclass(slots=True)
class OwnBrowser:
    """A Chromium whose process is ours, so that it can be ended whatever a page does to it."""

    connected: Any
    process: subprocess.Popen[bytes]
    is_gone: bool = False

    def end(self) -> None:
        """End it with all its processes at once."""
        self.is_gone = True
        with contextlib.suppress(ProcessLookupError):
            os.killpg(self.process.pid, signal.SIGKILL)


@contextlib.contextmanager
def own_browser(playwright: Any) -> Iterator[OwnBrowser]:
    """Yield a started Chromium; it is ended at the end. Raises: MeasureError: it does not start."""
    with tempfile.TemporaryDirectory(prefix="glaucon-", ignore_cleanup_errors=True) as profile:
        command = [
            _chromium(), "--headless=new", *_ARGUMENTS, *_ARGUMENTS_OF_SCRIPTS, "--remote-debugging-port=0",
            f"--user-data-dir={profile}", "about:blank",
        ]  # fmt: skip
        quiet = subprocess.DEVNULL
        process = subprocess.Popen(command, stdin=quiet, stdout=quiet, stderr=quiet, start_new_session=True)
        browser = OwnBrowser(None, process)
        try:
            browser.connected = playwright.chromium.connect_over_cdp(f"http://127.0.0.1:{_port_of(profile, process)}")
            yield browser
        finally:
            browser.end()
            process.wait()


def _port_of(profile: str, process: subprocess.Popen[bytes]) -> int:
    said = Path(profile) / "DevToolsActivePort"
    until = time.monotonic() + _STARTS_SECONDS
    while time.monotonic() < until and process.poll() is None:
        if said.exists() and (text := said.read_text().split()):
            return int(text[0])
        time.sleep(0.05)
    raise MeasureError("Chromium did not start. Try it by hand, or name another in GLAUCON_CHROMIUM.")


def stand_with(browser: OwnBrowser, site: SiteFiles, page: str, width: int = STANDARD_WIDTHS[0]) -> Stood | None:
    """Return what stands on one page once its scripts have run; None where it does not come to stand.

    A script that never ends holds all that is asked of its browser: that is ended then.
    """
    given: list[str] = []  # how it stands, and with what opens once that is told
    ends = [
        threading.Timer(_ENDS_SECONDS, lambda: None if given else browser.end()),
        threading.Timer(2 * _ENDS_SECONDS, browser.end),
    ]
    for timer in ends:
        timer.start()
    try:
        with contextlib.suppress(Exception):  # whatever a page does to its browser
            _stand(browser.connected, site, page, width, given)
        return read_stood(json.loads(given[-1])) if given else None
    except SnapshotError:  # it is read as its file says
        return None
    finally:
        for timer in ends:
            timer.cancel()


# each is told from the page as soon as it is there; a page that is held by a loop of its own answers nothing, so that
# the ends of both are waited for from outside
_STAND = """([word, limits, wanted]) => {
  const kept = (window[word].kept ??= { stage: 0 });
  if (!kept.isBegun) {
    kept.isBegun = true;
    const tell = (stage) => (one) => window[word](JSON.stringify(one)).then(() => (kept.stage = stage));
    (STANDING)(limits, tell(1)).then(tell(2), () => (kept.stage = 2));
  }
  return kept.stage >= wanted;
}"""


def _stand(browser: Any, site: SiteFiles, page: str, width: int, given: list[str]) -> None:
    context = browser.new_context(
        viewport={"width": width, "height": _HEIGHT_PX}, reduced_motion="reduce", service_workers="block",
        accept_downloads=False,
    )  # fmt: skip
    try:
        word = f"glaucon{secrets.token_hex(8)}"
        context.expose_binding(word, lambda source, text: given.append(str(text)))
        tab = context.new_page()
        context.on("page", lambda other: None if other is tab else other.close())
        tab.on("dialog", lambda dialog: dialog.dismiss())
        address, opened = _HOST + quote(page), set[str]()
        tab.route("**/*", lambda route: _answer_with_scripts(route, site, opened))
        tab.goto(address, wait_until="commit", timeout=_STANDS_MS)
        with contextlib.suppress(Exception):  # what loads for ever is looked at as it is
            tab.wait_for_load_state("load", timeout=_STANDS_MS // 3)
        script = _STAND.replace("STANDING", standing_script())
        for stage, most in ((1, _STANDS_MS), (2, _OPENS_MS)):
            tab.wait_for_function(script, arg=[word, STANDING_LIMITS, stage], timeout=most, polling=100)
    finally:
        with contextlib.suppress(Exception):
            context.close()


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
    path = _path_of(route, site)
    data = _found(route, site, path)
    if path is None or data is None:
        return
    kind = _kind_of(path)
    if kind in ("text/html", "text/css"):
        text = stateful(site.page_text(path) if is_page(path) else decode_source(data).text, is_page(path))
        kind, data = f"{kind}; charset=utf-8", text.encode("utf-8", "replace")
    route.fulfill(status=200, body=data, headers={"Content-Type": kind, "Content-Security-Policy": _POLICY})


def _answer_with_scripts(route: Any, site: SiteFiles, opened: set[str]) -> None:
    """Answer with a file as it is; the page itself once, since a script that leads elsewhere is not followed."""
    path = _path_of(route, site)
    if route.request.is_navigation_request():
        if opened or not path:
            route.fulfill(status=204)  # to which a browser stays where it is
            return
        opened.add(path)
    data = _found(route, site, path)
    if path is None or data is None:
        return
    headers = {"Content-Type": _kind_of(path)}
    if is_page(path):
        data = marked(decode_source(data).text).encode("utf-8", "replace")
        headers = {"Content-Type": "text/html; charset=utf-8", "Content-Security-Policy": _POLICY_OF_SCRIPTS}
    route.fulfill(status=200, body=data, headers=headers)


def _found(route: Any, site: SiteFiles, path: str | None) -> bytes | None:
    """Return the bytes of a file that is asked for; where there is none, answer so."""
    if path is None:
        route.abort()
        return None
    data = site.files.get(path) if path else None
    if data is None:
        route.fulfill(status=404, body="")
    return data


def _path_of(route: Any, site: SiteFiles) -> str | None:
    """Return the file that is asked for, "" where there is none of that name; None: another host is asked."""
    parts = urlsplit(route.request.url)
    if f"{parts.scheme}://{parts.netloc}/" != _HOST and site.without_origin(route.request.url) == route.request.url:
        return None
    path = posixpath.normpath(unquote(parts.path).lstrip("/") or "index.html")
    return next((one for one in (path, f"{path}/index.html") if one in site.files), "")


def _kind_of(path: str) -> str:
    return "text/html" if is_page(path) else mimetypes.guess_type(path)[0] or "application/octet-stream"
