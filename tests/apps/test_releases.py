"""Releasing, taking back, downloading, the live host and the previews."""

from __future__ import annotations

import base64
import gzip
import hashlib
import io
import re
import zipfile
from datetime import timedelta
from pathlib import Path

import pytest
from django.utils import timezone

from glaucon.apps.releases.models import Release
from glaucon.apps.sites.models import Site
from glaucon.apps.studies import previews
from tests.apps.conftest import Api, folder_files, zipped

CHANGE = {"background": "#202a26", "line": "#7fffd4"}


def test_release_and_take_back(wren: Api, yard: str) -> None:
    wren.colour(yard, CHANGE)
    plan = wren.release(yard, base=2).json()
    assert ([one["live"] for one in plan["releases"]], plan["changes"]) == ([True, False], [])
    page = wren.client.get(f"/live/{yard}/")
    sheet = re.search(r'href="(glaucon-[0-9a-f]{12}\.css)"', page.content.decode())
    assert sheet is not None
    css = wren.client.get(f"/live/{yard}/{sheet[1]}")
    assert "--gl-background: #202a26" in css.content.decode()
    assert "immutable" in css["Cache-Control"]
    assert "var(--gl-background, #fbf7ef)" in wren.client.get(f"/live/{yard}/css/site.css").content.decode()
    back = wren.take_back(yard, 0).json()
    assert [change["role"] for change in back["changes"]] == ["background", "line"]
    assert "glaucon-" not in wren.client.get(f"/live/{yard}/").content.decode()


def test_one_change_alone_is_taken_back_of_what_is_live(wren: Api, yard: str) -> None:
    wren.colour(yard, CHANGE)
    wren.release(yard)
    wren.colour(yard, {"background": "#101010", "line": "#808080"})
    keys = [one["key"] for one in wren.get(f"/sites/{yard}/release").json()["changes"]]
    assert keys == ["colour:background", "colour:line"]
    made = wren.act(yard, {"act": "take-back", "change": "colour:line"}).json()
    shown = {one["id"]: one["value"] for one in made["roles"]}
    assert (shown["background"], shown["line"], made["what"]) == ("#101010", CHANGE["line"], "Took back “Line”")
    assert [one["key"] for one in wren.get(f"/sites/{yard}/release").json()["changes"]] == ["colour:background"]
    again = wren.act(yard, {"act": "take-back", "change": "colour:line"})
    assert (again.status_code, "not there any more" in again.json()["message"]) == (422, True)
    wren.move(yard, "undo")
    assert len(wren.get(f"/sites/{yard}/release").json()["changes"]) == 2


def test_released_site_is_sandboxed_and_never_of_our_origin(wren: Api, yard: str) -> None:
    wren.release(yard, base=1)
    for path in ("", "css/site.css", "img/mark.svg", "nowhere.html"):
        answer = wren.client.get(f"/live/{yard}/{path}")
        assert (
            answer["Content-Security-Policy"]
            == "sandbox allow-scripts allow-forms allow-popups allow-popups-to-escape-sandbox"
        )
    assert wren.client.get(f"/live/{yard}/notices")["Location"] == f"/live/{yard}/notices/"


def test_download_differs_only_in_colours_and_the_added_sheet(wren: Api, yard: str, otterlock: Path) -> None:
    wren.colour(yard, CHANGE)
    before = folder_files(otterlock)
    answer = wren.get(f"/sites/{yard}/hand-back/site/file")
    after = zipfile.ZipFile(io.BytesIO(answer.content))
    added = [name for name in after.namelist() if name not in before]
    assert len(added) == 1
    for name, data in before.items():
        text = after.read(name)
        if name.endswith(".html"):
            text = re.sub(rb'<link rel="stylesheet" href="[./]*glaucon-\w+\.css">', b"", text)
        assert re.sub(rb"var\(--gl-[\w-]+, ([^()]+|\w+\([^()]*\))\)", rb"\1", text) == data, name
    assert wren.get(f"/sites/{yard}/hand-back/site/file").content == answer.content


def test_unchanged_study_downloads_as_it_came(wren: Api, yard: str, otterlock: Path) -> None:
    archive = zipfile.ZipFile(io.BytesIO(wren.get(f"/sites/{yard}/hand-back/site/file").content))
    assert {name: archive.read(name) for name in archive.namelist()} == folder_files(otterlock)


def test_stale_or_second_release_is_refused(wren: Api, yard: str) -> None:
    wren.colour(yard, CHANGE)
    stale = wren.release(yard, base=1)
    assert (stale.status_code, stale.json()["code"]) == (409, "stale")
    Site.objects.update(is_releasing=True)
    second = wren.release(yard, base=2)
    assert (second.status_code, second.json()["code"]) == (409, "releasing")
    assert wren.client.get(f"/live/{yard}/").status_code == 404


def test_take_back_to_what_never_was_is_refused(wren: Api, yard: str) -> None:
    assert wren.take_back(yard, 7).status_code == 404


HOSTILE = {
    "index.html": b"""<!doctype html><html><head><meta http-equiv="refresh" content="0;url=https://example.test/">
<meta http-equiv="Content-Security-Policy" content="script-src 'unsafe-inline'">
<link rel="stylesheet" href="/css/a.css"></head><body onload="top.hit=1"><script>top.hit=1</script>
<img src="/img/x.svg" onerror="top.hit=1"><p>Words</p></body></html>""",
    "css/a.css": b"p { color: #333; background: url(/img/x.svg) } p:hover { color: #777 }",
    "img/x.svg": b"<svg xmlns='http://www.w3.org/2000/svg'><script>top.hit=1</script></svg>",
}


@pytest.fixture
def preview(wren: Api) -> str:
    slug = wren.bring(zipped(HOSTILE)).json()["site"]
    root: str = wren.get(f"/sites/{slug}").json()["pages"][0]["preview"]
    return root.removesuffix("index.html")


def test_preview_lets_only_our_bridge_run(wren: Api, preview: str) -> None:
    page = wren.client.get(f"{preview}index.html")
    policy = page["Content-Security-Policy"]
    known = re.search(r"script-src 'sha256-([\w+/=]+)'", policy)
    assert known is not None and "script-src 'unsafe-inline'" not in policy and "nonce" not in policy
    assert "sandbox allow-scripts;" in policy and "allow-same-origin" not in policy and "default-src 'none'" in policy
    text = page.content.decode()
    scripts = re.findall(r"<script>(.*?)</script>", text, re.S)
    hashes = [base64.b64encode(hashlib.sha256(one.encode()).digest()).decode() for one in scripts]
    assert len(scripts) == 2 and hashes[0] == known[1] != hashes[1], "the bridge runs, the page's own script does not"
    assert 'http-equiv="x-taken-out"' in text and 'http-equiv="refresh"' not in text
    assert 'src="img/x.svg"' in text
    assert "script-src" in wren.client.get(f"{preview}img/x.svg")["Content-Security-Policy"]


def test_a_preview_is_made_once_and_kept_for_its_content_and_mapping(
    wren: Api, yard: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    made: list[str] = []
    make = previews._made
    monkeypatch.setattr(previews, "_made", lambda file, study: made.append(file.path) or make(file, study))
    root = wren.get(f"/sites/{yard}").json()["pages"][0]["preview"].removesuffix("index.html")
    first = wren.client.get(f"{root}css/site.css", headers={"accept-encoding": "gzip"})
    assert made == [], "made already when the site came in"
    assert gzip.decompress(first.content) == wren.client.get(f"{root}css/site.css").content
    again = wren.client.get(f"{root}css/site.css", headers={"if-none-match": first["ETag"]})
    assert (again.status_code, again.content) == (304, b"")
    wren.colour(yard, {"link": "#123456"}, base=1)
    wren.client.get(f"{root}css/site.css")
    assert made == [], "another value is no other mapping"
    wren.act(yard, {"act": "move-colours", "colours": ["#22302b"], "from_role": "text", "to": "quiet"})
    other = wren.get(f"/sites/{yard}").json()["pages"][0]["preview"].removesuffix("index.html")
    for _ in range(3):
        assert b"var(--gl-quiet, #22302b)" in wren.client.get(f"{other}css/site.css").content
    assert made == ["css/site.css"]


def test_preview_stylesheet_is_live_to_colours_and_states(wren: Api, preview: str) -> None:
    css = wren.client.get(f"{preview}css/a.css").content.decode()
    assert re.search(r"color: var\(--gl-t\d+, var\(--gl-text, #333\)\)", css)
    assert "url(../img/x.svg)" in css
    assert ':is(:hover, [data-gl-state~="hover"]' in css


@pytest.mark.parametrize("change", [lambda p: p[:-3] + "x/", lambda p: "/preview/1/"])
def test_forged_or_expired_preview_address_is_not_found(wren: Api, preview: str, change, settings) -> None:  # type: ignore[no-untyped-def]
    assert wren.client.get(change(preview) + "index.html").status_code == 404
    settings.PREVIEW_SECONDS = -1
    assert wren.client.get(f"{preview}index.html").status_code == 404


def test_what_goes_with_a_release_is_kept_and_told(wren: Api, yard: str) -> None:
    wren.colour(yard, {"quiet": "#5c5a48", "link": "#fbf7ef"})
    plan = wren.get(f"/sites/{yard}/release").json()
    told = {one["key"]: one for one in plan["changes"]}
    assert told["colour:quiet"]["says"] == "#8C8A78 to #5C5A48" and told["colour:quiet"]["mended"] > 10
    assert sum(told["colour:link"]["pages"].values()) == told["colour:link"]["texts"] > 20
    first = plan["hard"][0]["key"]
    more = {
        "name": " Spring  paint ",
        "reasons": {first: "It is our sign."},
        "reason": "Later.",
        "with_statement": True,
    }
    made = wren.release(yard, **more).json()["releases"][0]
    assert (made["name"], made["live"], made["hard"]) == ("Spring paint", True, plan["texts"] - plan["readable"])
    assert {one["key"]: one["why"] for one in made["let_through"]} == {
        one["key"]: "It is our sign." if one["key"] == first else "Later." for one in plan["hard"]
    }
    page = wren.client.get(f"/live/{yard}/{made['statement']}").content.decode()
    assert made["statement"] == "readability.html" and "level AA" in page and "Web Content Accessibility" in page
    # what was said is offered again, and the statement is gone with the next release that does not ask for it
    wren.colour(yard, {"accent": "#a8321f"})
    again = wren.get(f"/sites/{yard}/release").json()
    assert again["reasons"][first] == "It is our sign."
    wren.release(yard)
    assert wren.client.get(f"/live/{yard}/readability.html").status_code == 404


def test_a_release_waits_for_its_time(wren: Api, yard: str) -> None:
    wren.colour(yard, CHANGE)
    past = wren.release(yard, due=(timezone.now() - timedelta(minutes=1)).isoformat())
    assert (past.status_code, past.json()["code"]) == (422, "due")
    soon = (timezone.now() + timedelta(hours=1)).isoformat()
    assert wren.release(yard, due=soon, name="Monday").json()["live"] is False
    wren.colour(yard, {"text": "#101010"})
    waiting = wren.release(yard, due=soon).json()["releases"]
    assert [one["due"] is not None and one["live_since"] is None for one in waiting] == [True, True, False]
    assert wren.delete(f"/sites/{yard}/releases/2").status_code == 200
    assert wren.client.get(f"/live/{yard}/").status_code == 404
    # its time comes: whoever looks finds it, whether a worker has been by or not
    Release.objects.filter(number=1).update(due=timezone.now() - timedelta(seconds=1))
    assert "glaucon-" in wren.client.get(f"/live/{yard}/").content.decode()
    assert Release.objects.get(number=1).is_live
    refused = wren.delete(f"/sites/{yard}/releases/1")
    assert (refused.status_code, refused.json()["code"]) == (409, "live")
    renamed = wren.post(f"/sites/{yard}/releases/1/name", {"name": "Tuesday"}).json()["releases"]
    assert [one["name"] for one in renamed] == ["Tuesday", ""]


def test_any_two_releases_are_compared(wren: Api, yard: str) -> None:
    wren.colour(yard, CHANGE)
    wren.release(yard)
    wren.colour(yard, {"background": "#ffffff"})
    wren.release(yard)
    wren.colour(yard, {"text": "#101010"})
    changed = {
        (one, other): [change["role"] for change in compared.json()["changes"]]
        for one, other in ((0, "1"), (1, "2"), (2, "1"), (2, ""), (2, "0"))
        if (compared := wren.get(f"/sites/{yard}/release/compare", one=str(one), **({"other": other} if other else {})))
    }
    assert changed == {
        (0, "1"): ["background", "line"], (1, "2"): ["background"], (2, "1"): ["background"], (2, ""): ["text"],
        (2, "0"): ["background", "line"],
    }  # fmt: skip
    assert wren.get(f"/sites/{yard}/release/compare", one="9").status_code == 404
