"""Is it there? What has arrived on the owner's own host, and what holds up the rest; the stand-in plays late caches."""

from __future__ import annotations

import io
import re
import shutil
import urllib.request
import zipfile
from pathlib import Path
from typing import Any

import pytest

from glaucon.core.exchange.arrival import Came, FileFound, file_found, page_found
from glaucon.standin.host import hosting
from tests.apps.conftest import Api

LINKED = b'<link rel="stylesheet" href="glaucon-%s.css">'
NEW, OLD = LINKED % b"0123456789ab", LINKED % b"ba9876543210"
CAME = {
    "as handed back": (Came(NEW), "new"),
    "other spaces": (Came(NEW.replace(b" ", b"\n  ")), "new"),
    "a counter's script put in by the host": (Came(NEW + b"<script>count()</script>"), "new"),
    "the release before": (Came(OLD, OLD), "old"),
    "as it was brought in": (Came(b"<p>Boats", b"<p>Boats"), "old"),
    "held by a cache": (Came(OLD, NEW, held_seconds=90), "held"),
    "nothing": (Came(None, why="It answers with an error (404)."), "missing"),
}


@pytest.mark.parametrize(("came", "state"), CAME.values(), ids=list(CAME))
def test_a_file_is_known_by_what_it_says_of_colours(came: Came, state: str) -> None:
    assert file_found("index.html", came, NEW, [OLD, b"<p>Boats"]).state == state


PAGES = {
    "all there": ("new", ["new"], 9, "arrived"), "written otherwise, right": ("other", [], 9, "arrived"),
    "an old sheet": ("new", ["new", "old"], 4, "old"), "a sheet in a cache": ("new", ["held"], 4, "held"),
    "no sheet": ("new", ["missing", "old"], 4, "other"), "an old page": ("old", ["new"], 2, "old"),
    "no page": ("missing", [], 0, "missing"), "something else": ("other", ["new"], 3, "other"),
}  # fmt: skip


@pytest.mark.parametrize(("page", "sheets", "right", "state"), PAGES.values(), ids=list(PAGES))
def test_a_page_is_told_by_itself_its_sheets_and_its_texts(page: Any, sheets: Any, right: int, state: str) -> None:
    found = page_found(
        FileFound("a.html", page), [FileFound(f"{n}.css", one) for n, one in enumerate(sheets)], 9, right
    )
    assert found.state == state and [one.state for one in found.sheets] == [one for one in sheets if one != "new"]


def _unpacked(wren: Api, slug: str, folder: Path) -> None:
    archive = zipfile.ZipFile(io.BytesIO(wren.get(f"/sites/{slug}/hand-back/site/file").content))
    archive.extractall(folder)


def test_uploaded_with_one_file_old_one_page_in_a_cache_and_one_sheet_missing(
    wren: Api, yard: str, otterlock: Path, tmp_path: Path, settings: Any
) -> None:
    wren.colour(yard, {"background": "#eef4f0", "text": "#101820", "link": "#0b3c7a"})
    host = tmp_path / "host"
    shutil.copytree(otterlock, host)
    pages = [one["path"] for one in wren.get(f"/sites/{yard}").json()["pages"]]
    with hosting(host, cached_seconds=300) as address:
        settings.GLAUCON_ALLOWED_ADDRESSES = frozenset({address.removeprefix("http://")})
        settings.GLAUCON_PACE_SECONDS = 0
        for visited in ("/routes.html",):
            with urllib.request.urlopen(address + visited) as answer:  # a visitor, before the upload
                answer.read()
        _unpacked(wren, yard, host)
        shutil.copy(otterlock / "prices.html", host / "prices.html")
        sheets = {page: re.findall(rb'href="([^"]+\.css)"', (host / page).read_bytes()) for page in pages}
        (host / "css" / "pages.css").unlink()
        found = []
        for start in (0, 5):
            asked = {"address": address, "pages": pages[start : start + 5]}
            found += wren.post(f"/sites/{yard}/arrived", asked).json()["pages"]
        told = {one["path"]: one for one in found}
        assert told["prices.html"]["state"] == "old"
        assert told["routes.html"]["state"] == "held" and told["routes.html"]["held_seconds"] is not None
        missing = [page for page in pages if any(one.endswith(b"css/pages.css") for one in sheets[page])]
        assert missing and all(
            [sheet["state"] for sheet in told[page]["sheets"] if sheet["path"] == "css/pages.css"] == ["missing"]
            for page in missing
        )
        others = set(pages) - set(missing) - {"prices.html", "routes.html"}
        assert others and {told[page]["state"] for page in others} == {"arrived"}
        assert all(told[page]["right"] == told[page]["texts"] for page in others)
        assert wren.get(f"/sites/{yard}/release").json()["downloaded"]["is_open"] is True
        # held against what was taken home, whatever has been worked on since, unless the open study is asked for
        wren.colour(yard, {"text": "#301008"})
        assert wren.get(f"/sites/{yard}/release").json()["downloaded"]["is_open"] is False
        page = sorted(others)[0]
        states = {}
        for against in ("downloaded", "open"):
            asked = {"address": address, "pages": [page], "against": against}
            states[against] = wren.post(f"/sites/{yard}/arrived", asked).json()["pages"][0]["state"]
        assert states == {"downloaded": "arrived", "open": "old"}
    assert wren.get(f"/sites/{yard}").json()["hosted_at"] == f"{address}/"


def test_what_cannot_be_looked_at_is_said(wren: Api, yard: str) -> None:
    page = {"pages": ["index.html"]}
    for asked, status, words in (
        ({"address": "no such thing", **page}, 422, "not a web address"),
        ({"address": "http://127.0.0.1/", **page}, 422, "private network"),
        ({"address": "https://yard.example/", "pages": ["nowhere.html"]}, 422, "has no page"),
    ):
        answer = wren.post(f"/sites/{yard}/arrived", asked)
        assert (answer.status_code, words in answer.json()["message"]) == (status, True), answer.json()
