"""How smoothly a colour is dragged with all pages on the bench: python -m tests.bench.dragging [pages …]

The demo runs as its people run it; the pointer is moved by the browser's own input, 60 times a second for five seconds.
Delays are from the pointer's event to when a miniature says that it has painted that value or a newer one.
"""

from __future__ import annotations

import statistics
import sys
import tempfile
import time
from dataclasses import dataclass
from pathlib import Path

from playwright.sync_api import Browser, Page, sync_playwright

from tests import chromium
from tests.apps.conftest import zipped
from tests.browser.conftest import bring
from tests.made_sites import many_pages
from tests.running import running

OTTERLOCK = Path(__file__).parents[2] / "samples" / "otterlock"
SECONDS = 5.0

# what is sent to a frame and what comes back is seen through a proxy of its window; the application is as it ships
WATCH = """
(() => {
  const proxies = new WeakMap(), own = Object.getOwnPropertyDescriptor(HTMLIFrameElement.prototype, "contentWindow");
  const log = (window.dragLog = { moves: [], frames: [], sent: [], painted: [], read: [] });
  const proxyOf = (real) => {
    if (!proxies.has(real)) {
      const postMessage = (data, ...more) => {
        if (data.glaucon === "wear") log.sent.push([data.number, performance.now()]);
        real.postMessage(data, ...more);
      };
      proxies.set(real, new Proxy({}, { get: (_, name) => (name === "postMessage" ? postMessage : real[name]) }));
    }
    return proxies.get(real);
  };
  Object.defineProperty(HTMLIFrameElement.prototype, "contentWindow", {
    get() { const w = own.get.call(this); return w && proxyOf(w); },
  });
  const source = Object.getOwnPropertyDescriptor(MessageEvent.prototype, "source");
  Object.defineProperty(MessageEvent.prototype, "source", {
    get() { const w = source.get.call(this); return w && w !== window && w.parent === window ? proxyOf(w) : w; },
  });
  addEventListener("message", (event) => {
    if (event.data?.glaucon === "painted") log.painted.push([event.data.number, performance.now(), event.source]);
  });
  addEventListener("pointermove", (event) => event.buttons && log.moves.push(event.timeStamp), true);
  addEventListener("pointerup", (event) => (log.dropped = event.timeStamp), true);
  const fetched = window.fetch;
  window.fetch = async (...all) => {
    const answer = await fetched(...all), { url, method } = all[0];
    if (method === "POST" && /\\/study$/.test(url) && log.dropped)
      void answer.clone().text().then(() =>
        requestAnimationFrame(() => requestAnimationFrame(() => log.read.push(performance.now()))));
    return answer;
  };
  const frame = (now) => { log.frames.push(now); requestAnimationFrame(frame); };
  requestAnimationFrame(frame);
})();
"""

# each frame's messages in order: when sent, when painted
TOLD = """
() => {
  const { moves, frames, sent, painted } = window.dragLog;
  const when = new Map(sent), byFrame = new Map();
  for (const [number, at, source] of painted) {
    if (!byFrame.has(source)) byFrame.set(source, []);
    byFrame.get(source).push([when.get(number), at]);
  }
  return { moves, frames, painted: [...byFrame.values()] };
}
"""


@dataclass(frozen=True, slots=True)
class Drag:
    """One drag's figures, milliseconds."""

    pages: int
    frames: list[float]
    delays: list[float]
    early: float
    late: float
    read_again: float

    def row(self) -> str:
        """Return the figures as a row of a table."""
        return (
            f"| {self.pages} | {statistics.median(self.frames):.1f} / {at_95(self.frames):.1f} | "
            f"{statistics.median(self.delays):.0f} / {at_95(self.delays):.0f} | "
            f"{self.early:.0f} → {self.late:.0f} | {self.read_again:.0f} |"
        )


def at_95(figures: list[float]) -> float:
    return sorted(figures)[int(len(figures) * 0.95)]


def dragged(browser: Browser, address: str, pages: int, folder: Path) -> Drag:
    """Bring a site of some pages, drag its background's lightness and measure."""
    archive = folder / f"{pages}.zip"
    files = many_pages(OTTERLOCK, pages)
    for name in sorted(name for name in files if name.endswith(".html") and name != "index.html")[pages - 1 :]:
        del files[name]
    archive.write_bytes(zipped(files))
    page = browser.new_page(viewport={"width": 1600, "height": 1400})
    page.add_init_script(WATCH)
    page.goto(address)
    bring(page, archive)
    page.locator('[data-role="background"]').click()
    page.wait_for_timeout(4000)
    shown = page.locator(".PageMiniature iframe").count()
    if shown != pages:
        raise RuntimeError(f"{shown} of {pages} pages are on the bench")
    box = page.get_by_role("slider", name="Lightness", exact=True).bounding_box()
    assert box is not None
    y = box["y"] + box["height"] / 2
    page.mouse.move(box["x"] + box["width"] * 0.9, y)
    page.mouse.down()
    _move(page, box, y, 0.5)  # the first values are not measured: caches warm
    page.evaluate("Object.values(dragLog).forEach((one) => (one.length = 0))")
    _move(page, box, y, SECONDS)
    page.wait_for_timeout(400)
    told = page.evaluate(TOLD)
    again = _after_the_drop(page)
    page.close()
    return _figures(pages, told, again)


def _move(page: Page, box: dict[str, float], y: float, seconds: float) -> None:
    start = time.perf_counter()
    step = 0
    while (gone := time.perf_counter() - start) < seconds:
        share = 0.5 + 0.4 * abs((gone * 0.7) % 2 - 1)
        page.mouse.move(box["x"] + box["width"] * share, y)
        step += 1
        time.sleep(max(0.0, start + step / 60 - time.perf_counter()))


def _after_the_drop(page: Page) -> float:
    """Let go; return how long until the reading of what was saved stands on the bench."""
    page.mouse.up()
    for _ in range(200):
        if page.evaluate("dragLog.read.length"):
            return float(page.evaluate("dragLog.read[0] - dragLog.dropped"))
        page.wait_for_timeout(50)
    raise RuntimeError("nothing was saved after the drop")


def _figures(pages: int, told: dict[str, list], again: float) -> Drag:  # type: ignore[type-arg]
    frames = [b - a for a, b in zip(told["frames"], told["frames"][1:], strict=False)]
    first, last = told["moves"][0], told["moves"][-1]
    timed: list[tuple[float, float]] = []
    for messages in told["painted"]:
        for move in told["moves"]:
            shown = next((at for sent, at in messages if sent is not None and sent >= move), None)
            if shown is not None:
                timed.append((move, shown - move))
    return Drag(
        pages, frames, [delay for _, delay in timed],
        statistics.median([delay for move, delay in timed if move < first + 1000]),
        statistics.median([delay for move, delay in timed if move > last - 1000]), again,
    )  # fmt: skip


def table(counts: list[int]) -> str:
    """Return the measured table for some numbers of pages."""
    rows = [
        "| pages on the bench | frame, median / 95th (ms) | a miniature shows the value after, median / 95th (ms) | "
        "median of the first second → of the last | reading after the drop (ms) |",
        "|---|---|---|---|---|",
    ]
    with tempfile.TemporaryDirectory() as data, running(Path(data)) as demo, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium.executable(), args=chromium.ARGUMENTS)
        for pages in counts:
            rows.append(dragged(browser, demo.address, pages, Path(data)).row())
            print(rows[-1], flush=True)
        browser.close()
    return "\n".join(rows)


if __name__ == "__main__":
    print(table([int(one) for one in sys.argv[1:]] or [12, 6]))
