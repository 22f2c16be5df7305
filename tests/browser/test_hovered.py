"""What hovering opens or moves is measured, and read as it lies then."""

from __future__ import annotations

from typing import Any

import pytest
from playwright.sync_api import Browser

from glaucon.core.exchange.reports.audit import audit_site
from glaucon.core.survey.site import SiteFiles
from tests.oracle.measured import layouts_of

_MENU = "<nav><a href=x>Boats</a><ul><li><a href=y>Day hires</a></ul></nav>"
_BAND = "<p class=band>Along the tow path</p>"
_STILL = """body { margin: 0; font: 20px/1.4 serif; color: #222 } ul { margin: 0; padding: 0; list-style: none }
nav { position: relative } .band { margin: 0; padding: 10px; background: linear-gradient(90deg, #111 50%, #fff 50%) }
.band { color: #fff; width: 600px; transition: padding 1s }"""
_DROPS = """ul { position: absolute; top: 28px; left: 0; width: 300px; background: #123 }
nav:not(:hover) ul { display: none }"""

# (rules, whether anything lies elsewhere when hovered, verdicts of the band at rest and hovered, of the menu's link)
PAGES: dict[str, tuple[str, bool, tuple[str, str], str | None]] = {
    "a colour alone": ("ul { display: none } a:hover { color: #c00 }", False, ("pass", "pass"), None),
    "a hair": ("ul { display: none } .band:hover { padding-left: 12px }", False, ("pass", "pass"), None),
    "words that move": ("ul { display: none } .band:hover { padding-left: 320px }", True, ("pass", "fail"), None),
    "a menu that drops": (f"{_DROPS} ul a {{ color: #eee }}", True, ("pass", "pass"), "pass"),
    "a menu too dark": (f"{_DROPS} ul a {{ color: #345 }}", True, ("pass", "pass"), "fail"),
}


@pytest.mark.parametrize("name", PAGES)
def test_what_hovering_moves_is_measured(browser: Browser, name: str) -> None:
    rules, moves, band, link = PAGES[name]
    page = f"<!doctype html><title>x</title><style>{_STILL} {rules}</style>{_MENU}{_BAND}"
    site = SiteFiles({"index.html": page.encode()})
    layouts = layouts_of(browser, site, [1280])
    assert (layouts["index.html", 1280].hovered is not None) == moves

    def verdicts(state: str) -> dict[str, Any]:
        found = audit_site(site, state=state, layouts=layouts)["runs"]
        told = [one for one in found if ">li:" in one["path"] or ">p:" in one["path"]]
        return {one["path"].rsplit(">", 1)[-1]: one["verdict"] for one in told}

    rest, hovered = verdicts("rest"), verdicts("hover")
    assert (rest["p:nth-child(2)"], hovered["p:nth-child(2)"]) == band
    assert (rest.get("a:nth-child(1)"), hovered.get("a:nth-child(1)")) == (None, link)
