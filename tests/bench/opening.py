"""How soon the bench shows a site's pages, against the raw pages side by side: python -m tests.bench.opening [--write]

The demo runs as its people run it. For each site the nine raw pages are loaded in nine frames of one page, then the
bench with the same nine in sight: until every frame has fired its load event, and until the first offers stand.
"""

from __future__ import annotations

import argparse
import re
import tempfile
import time
from pathlib import Path

from playwright.sync_api import Browser, Page, sync_playwright

from tests import chromium
from tests.apps.conftest import folder_files, zipped
from tests.oracle import corpus
from tests.oracle.server import serve
from tests.running import Running, running

ROOT = Path(__file__).parents[2]
PAGES = 9
ROUNDS = 5
# what pages ask of other hosts fails at once for both: a resolver that waits five seconds is no part of either
NO_OUTSIDE = "--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE localhost, EXCLUDE 127.0.0.1"
SITES = ("modern-business-4", "gentelella-1", "admin-lte-3")  # Bootstrap 4, 3 with plugins, 4 with 1.3 MB of CSS
_LOADED = """
window.loaded = new Map(); window.offered = 0;
addEventListener("message", (event) => {
  if (event.data?.glaucon === "height" && !loaded.has(event.source)) loaded.set(event.source, performance.now());
});
new MutationObserver(() => {
  if (!offered && document.querySelector(".FindingCard button[aria-label^=Apply]")) offered = performance.now();
}).observe(document, { subtree: true, childList: true });
"""
VIEW = {"width": 1680, "height": 2400}  # all nine pages are in sight


def nine_of(folder: Path) -> dict[str, bytes]:
    """Return a site's files with no more than nine pages, evenly spread."""
    files = folder_files(folder)
    pages = sorted(name for name in files if name.endswith(".html"))
    kept = {pages[i * len(pages) // PAGES] for i in range(PAGES)} if len(pages) > PAGES else set(pages)
    return {name: data for name, data in files.items() if not name.endswith(".html") or name in kept}


def raw_seconds(browser: Browser, files: dict[str, bytes]) -> float:
    """Return how long Chromium takes to load the pages in frames of one page."""
    with tempfile.TemporaryDirectory() as scratch:
        for name, data in files.items():
            (Path(scratch) / name).parent.mkdir(parents=True, exist_ok=True)
            (Path(scratch) / name).write_bytes(data)
        frames = "".join(
            f'<iframe width=1280 height=900 src="{name}"></iframe>' for name in files if name.endswith(".html")
        )
        (Path(scratch) / "all-of-them.html").write_text(frames)
        with serve(Path(scratch)) as address:
            page = browser.new_page(viewport=VIEW)
            start = time.perf_counter()
            page.goto(f"{address}all-of-them.html", wait_until="load", timeout=120_000)
            seconds = time.perf_counter() - start
            page.close()
    return seconds


def bench_seconds(page: Page, slug: str, pages: int) -> tuple[float, float]:
    """Return how long until all pages of the bench are loaded, and until the first offers stand."""
    page.goto(f"/sites/{slug}/bench", wait_until="commit")
    until = time.monotonic() + 120
    while time.monotonic() < until:
        count, loaded, offered = page.evaluate("[loaded.size, Math.max(...loaded.values()), offered]")
        if count >= pages and offered:
            break
        time.sleep(0.1)
    else:
        raise RuntimeError(f"{slug}: {count} of {pages} pages, offers {offered}")
    return loaded / 1000, offered / 1000


def to_shelf(page: Page) -> None:
    """Go to where a person comes from."""
    page.goto("/")
    page.locator(".ShelfCard").first.wait_for()


def brought(demo: Running, files: dict[str, bytes], name: str) -> str:
    """Bring a site and return its slug once it is read."""
    job = demo.upload(zipped(files), f"{name}.zip")
    while True:
        _, said = demo.call("GET", f"/api/jobs/{job['number']}")
        if said["state"] not in ("waiting", "running"):
            assert said["state"] == "done", said
            return str(said["site"])
        time.sleep(0.2)


def middle(numbers: list[float]) -> float:
    return sorted(numbers)[len(numbers) // 2]


def visits(browser: Browser, demo: Running, files: dict[str, bytes], name: str) -> tuple[tuple[float, float], ...]:
    """Bring a site in and return what its first and its second visit in a browser take: pages, then offers."""
    slug = brought(demo, files, name)
    with browser.new_context(viewport=VIEW, base_url=demo.address) as context:
        page = context.new_page()
        page.add_init_script(_LOADED)
        pages = sum(1 for path in files if path.endswith(".html"))
        both = []
        for _ in range(2):
            to_shelf(page)  # leaving nine pages behind is no part of opening them
            both.append(bench_seconds(page, slug, pages))
    return tuple(both)


def rows() -> list[str]:
    """Measure the sample and three framework sites: raw and bench in turns, so that both meet the same machine."""
    found = []
    with tempfile.TemporaryDirectory() as data, running(Path(data)) as demo, sync_playwright() as playwright:
        arguments = [*chromium.ARGUMENTS, NO_OUTSIDE]
        browser = playwright.chromium.launch(executable_path=chromium.executable(), args=arguments)
        folders = [("the sample", ROOT / "samples" / "otterlock")]
        folders += [(site.name, corpus.fetch(site)) for site in corpus.REAL if site.name in SITES]
        for name, folder in folders:
            files = nine_of(folder)
            raw_seconds(browser, files)
            raws: list[float] = []
            seen: list[tuple[tuple[float, float], ...]] = []
            for turn in range(ROUNDS):
                raws.append(raw_seconds(browser, files))
                before = kept_files(Path(data))
                seen.append(visits(browser, demo, files, f"{re.sub(r'[^a-z0-9]+', '-', name)}-{turn}"))
                raws.append(raw_seconds(browser, files))
            made = len(kept_files(Path(data)) - before)
            cells = []
            for visit in range(2):
                times = [one[visit][0] * 2 / (raws[2 * turn] + raws[2 * turn + 1]) for turn, one in enumerate(seen)]
                loaded, later = (
                    middle([one[visit][0] for one in seen]),
                    middle([max(0.0, one[visit][1] - one[visit][0]) for one in seen]),
                )
                cells.append(f"{loaded:.2f} s ({middle(times):.1f}) | {later:.2f} s")
            found.append(f"| {name} | {middle(raws):.2f} s | {' | '.join(cells)} | {made} |")
            print(found[-1], flush=True)
        browser.close()
    return found


def kept_files(data: Path) -> set[tuple[str, int]]:
    """Return the previews that are kept, each with when it was written."""
    return {(str(path), path.stat().st_mtime_ns) for path in (data / "previews").rglob("*.gz")}


HEAD = """# Opening the bench

Printed by `python -m tests.bench.opening` and kept by its `--write`, on 2 cores. *Raw*: the pages side by side in
frames of one page, warm, until the last has loaded. *Bench*: from the address to the last of the same frames loaded,
the application's own start included (in brackets: times raw); *offers*: how much later the first offer stands;
*made*: previews written by the second visit.

| site | raw | bench, first visit | offers after | second visit | offers after | made |
|---|---|---|---|---|---|---|
"""


def main() -> None:
    """Print the table; with --write keep it."""
    options = argparse.ArgumentParser()
    options.add_argument("--write", action="store_true")
    chosen = options.parse_args()
    table = rows()
    if chosen.write:
        (ROOT / "docs" / "opening.md").write_text(HEAD + "\n".join(table) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()
