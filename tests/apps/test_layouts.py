"""What an owner's browser measures: asked for where it decides, kept by what was measured, used when told to."""

from __future__ import annotations

import gzip
import json
from pathlib import Path
from typing import Any

import pytest
from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile

from glaucon.apps.sites.layouts import folder_name
from glaucon.apps.sites.models import Site
from tests.apps.conftest import Api, zipped
from tests.core.test_layout import P, measured

CSS = b"div { background: linear-gradient(90deg, #222, #fff) } p { margin: 0 }"
PLAIN = b"<!doctype html><title>Plain</title><link rel=stylesheet href=a.css><p>Nothing behind it"
WIDTHS = (1280, 768, 390)


def page(words: str) -> bytes:
    return f"<!doctype html><title>Quay</title><link rel=stylesheet href=a.css><div><p>{words}</p></div>".encode()


FILES = {"index.html": page("Words on the water"), "lock.html": page("By the lock"), "plain.html": PLAIN, "a.css": CSS}


def layout_of(spot: list[float], width: int) -> dict[str, Any]:
    return {**measured(spot), "width": width}


def put(api: Api, page: str, width: int, given: Any, slug: str = "quay") -> Any:
    body = json.dumps({"page": page, "width": width, "measured": given})
    return api.client.put(f"/api/sites/{slug}/layout", body, content_type="application/json")


@pytest.fixture
def quay(wren: Api) -> Api:
    wren.bring(zipped(FILES), "quay.zip")
    return wren


def reading(api: Api) -> Any:
    return api.get("/sites/quay/study").json()["reading"]


def test_measured_kept_used_and_measured_again_only_where_it_changed(quay: Api) -> None:
    before = reading(quay)
    assert (before["hard_texts"], before["unsure_texts"]) == (0, 2)
    asked = quay.get("/sites/quay/layout").json()
    assert [(one["page"], one["width"]) for one in asked["wanted"]] == [
        (page, width) for width in WIDTHS for page in ("index.html", "lock.html")
    ]  # fmt: skip
    assert (asked["measured"], asked["total"], asked["is_used"]) == (0, 6, True)
    for width in WIDTHS:
        assert put(quay, "index.html", width, layout_of([150, 100, 40, 20], width)).status_code == 204
        assert put(quay, "lock.html", width, layout_of([400, 100, 40, 20], width)).status_code == 204
    asked = quay.get("/sites/quay/layout").json()
    assert (asked["wanted"], asked["measured"], asked["is_used"]) == ([], 6, False)
    assert quay.post("/sites/quay/layout/use").status_code < 300
    assert quay.get("/sites/quay/layout").json()["is_used"]
    after = reading(quay)
    assert (after["hard_texts"], after["unsure_texts"]) == (1, 0)
    (finding,) = after["findings"]
    assert (finding["on"], finding["pages"]) == ("gradient", ["index.html"])
    (spot,) = quay.post(
        "/sites/quay/layout/worst", {"base": quay.base("quay"), "keys": [finding["key"], "no such finding"]}
    ).json()
    assert (spot["page"], spot["width"]) == ("index.html", 1280)
    assert 150 <= spot["spot"]["left"] < 170

    # in again with one page changed: that one is to be measured, the others stay as they are read
    changed = zipped({**FILES, "lock.html": page("By the other lock")})
    upload = SimpleUploadedFile("quay.zip", changed)
    assert quay.client.post("/api/sites/quay/again/zip", {"archive": upload}).status_code == 200
    asked = quay.get("/sites/quay/layout").json()
    assert {one["page"] for one in asked["wanted"]} == {"lock.html"}
    assert (asked["measured"], asked["total"]) == (3, 6)
    assert (reading(quay)["hard_texts"], reading(quay)["unsure_texts"]) == (1, 1)


REFUSED = [
    ("gone.html", 1280, measured([1, 1, 5, 5]), 422, "no page of this site"),
    ("index.html", 1000, measured([1, 1, 5, 5]), 422, "not read at 1000 pixels"),
    ("index.html", 1280, {}, 422, "Measure the page again"),
    ("index.html", 1280, {**measured([1, 1, 5, 5]), "boxes": [[0, 1e30, 0, 1, 1]]}, 422, "Measure the page again"),
    ("index.html", 1280, {**measured([1, 1, 5, 5]), "more": "x" * 3_000_000}, 413, "more on it than Glaucon measures"),
]


@pytest.mark.parametrize(("page", "width", "given", "status", "told"), REFUSED, ids=[one[4] for one in REFUSED])
def test_what_is_no_layout_of_this_site_is_refused(
    quay: Api, page: str, width: int, given: Any, status: int, told: str
) -> None:
    answer = put(quay, page, width, given)
    assert answer.status_code in (status, 400 if status == 422 else status)
    assert told in answer.json()["message"]
    assert quay.get("/sites/quay/layout").json()["measured"] == 0


def test_what_is_said_of_other_paths_is_left_out_and_all_goes_with_the_site(quay: Api) -> None:
    given = measured([150, 100, 40, 20])
    given["paths"].append("html>body:nth-child(2)>main:nth-child(9)")
    given["runs"].append([4, 0, [[1, 1, 5, 5, 0]]])
    assert put(quay, "index.html", 1280, given).status_code == 204
    folder = Path(settings.DATA_DIR) / "layouts" / folder_name(Site.objects.get(slug="quay"))
    (kept,) = folder.glob("*.json.gz")
    rows = json.loads(gzip.decompress(kept.read_bytes()))
    assert [rows["paths"][row[0]] for row in rows["runs"]] == [P]
    assert Api("stranger").get("/sites/quay/layout").status_code == 404
    assert quay.delete("/sites/quay").status_code == 204
    assert quay.delete("/gone/quay").status_code == 204  # at once, not after its 30 days
    assert not kept.exists()
