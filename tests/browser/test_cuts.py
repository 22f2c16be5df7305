"""What lies below a line is told exactly where boxes begin, with no more points looked at than there are edges."""

from __future__ import annotations

from typing import Any

import pytest
from playwright.sync_api import Browser

from glaucon.core.survey.site import SiteFiles
from glaucon.measuring import measure_with

_WORDS = "Slow water good company along the tow path and the locks below it"
_CSS = """body { margin: 0; font: 20px/40px monospace; width: 900px } main { position: relative; z-index: 0 }
p { margin: 0; position: relative; white-space: nowrap } svg { position: absolute; left: 0; top: 0; z-index: -1 }
i { position: absolute; background: #123; z-index: -1 } footer { height: 3000px }
header { position: fixed; inset: 0 0 auto; height: 30px }"""

# (what stands beside the words, whether the stretches on the box begin and end with it, how many stretches at most)
BESIDE: dict[str, tuple[str, bool, int]] = {
    "nothing": ("", False, 2),
    "a box under part of it": ("<i style='left: 100px; top: 0; width: 210px; height: 40px'></i>", True, 3),
    "a narrow one": ("<i style='left: 331px; top: 0; width: 9px; height: 40px'></i>", True, 3),
    "a hair": ("<i style='left: 331px; top: 0; width: 2px; height: 40px'></i>", False, 2),
    "above the line": ("<i style='left: 100px; top: -60px; width: 210px; height: 55px'></i>", False, 2),
    "a turned one": ("<i style='left: 100px; top: 0; width: 90px; height: 40px; rotate: 30deg'></i>", False, 8),
    "a circle": ("<i style='left: 100px; top: -60px; width: 160px; height: 160px; border-radius: 50%'></i>", False, 8),
    "a drawing": ("<svg width=400 height=40><path d='M99 0h250v40H99z'/></svg>", False, 8),
    "a bar that stays": ("<header></header>", False, 8),
}  # fmt: skip


@pytest.fixture(scope="module")
def measured(browser: Browser) -> dict[str, Any]:
    """Return what is measured of a page for each."""
    start = f"<!doctype html><title>x</title><style>{_CSS}</style><main><p>{_WORDS}</p>"
    pages = {f"{n}.html": f"{start}{one[0]}</main><footer></footer>".encode() for n, one in enumerate(BESIDE.values())}
    found = measure_with(browser, SiteFiles(pages), [1280])
    return {name: found[f"{n}.html", 1280] for n, name in enumerate(BESIDE)}


@pytest.mark.parametrize("name", BESIDE)
def test_a_line_is_cut_where_boxes_begin_and_end(measured: dict[str, Any], name: str) -> None:
    beside, is_exact, most = BESIDE[name]
    raw = measured[name]
    words = next(number for number, path in enumerate(raw["paths"]) if path.endswith(">p:nth-child(1)"))
    (spots,) = [found for number, _, found in raw["runs"] if number == words]
    lists = raw["lists"]
    on_it = [
        spot for spot in spots
        if any("i:nth-child" in raw["paths"][one] or "path" in raw["paths"][one] for one in lists[spot[4]][0])
    ]  # fmt: skip
    assert 1 <= len(spots) <= most
    assert bool(on_it) == (bool(beside) and name not in ("a hair", "above the line", "a bar that stays"))
    if is_exact:
        left, width = (int(beside.split(f"{side}: ")[1].split("px")[0]) for side in ("left", "width"))
        (spot,) = on_it
        # two hundredths are left out at the ends of a line
        assert abs(spot[0] - left) < 20 and abs(spot[2] - width) < 0.05 * width + 1
