"""What an owner's browser tells of pages whose scripts ran: asked for once, kept, used; released into the files."""

from __future__ import annotations

import io
import json
import zipfile
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from glaucon.apps.sites.models import Site
from glaucon.core.snapshot.told_apart import marked
from tests.apps.conftest import Api, zipped
from tests.core.test_snapshot import CSS, FILE, STOOD

FILES = {
    "index.html": FILE.encode(),
    "site.css": CSS.encode(),
    "site.js": b"1",
    "plain.html": b"<title>P</title><p>Plain",
}
QUIET = marked(FILE)


def put(api: Api, page: str, stood: Any, slug: str = "quay") -> Any:
    body = json.dumps({"page": page, "stood": stood})
    return api.client.put(f"/api/sites/{slug}/snapshot", body, content_type="application/json")


def asked(api: Api) -> list[str]:
    return [one["page"] for one in api.get("/sites/quay/layout").json()["scripts"]]


def texts(api: Api, slug: str = "quay") -> set[str]:
    return {one["text"] for one in api.get(f"/sites/{slug}/texts").json()["texts"]}


@pytest.fixture
def quay(wren: Api) -> Api:
    wren.bring(zipped(FILES), "quay.zip")
    return wren


def bring_again(api: Api, files: dict[str, bytes]) -> None:
    archive = SimpleUploadedFile("quay.zip", zipped(files))
    assert api.client.post("/api/sites/quay/again/zip", {"archive": archive}).json()["state"] == "done"


def use(api: Api) -> None:
    assert put(api, "index.html", {"html": STOOD, "told": []}).status_code == 204
    assert api.post("/sites/quay/layout/use").status_code < 300


def test_a_page_with_scripts_is_asked_for_once_and_read_as_it_stood(quay: Api) -> None:
    assert asked(quay) == ["index.html"] and texts(quay) == {"Boats", "Plain"}
    assert put(quay, "index.html", {"html": STOOD, "told": []}).status_code == 204
    layout = quay.get("/sites/quay/layout").json()
    assert layout["scripts"] == [] and not layout["is_used"] and texts(quay) == {"Boats", "Plain"}
    assert quay.post("/sites/quay/layout/use").status_code < 300
    assert quay.get("/sites/quay/layout").json()["is_used"]
    assert texts(quay) == {"Boats", "Plain", "Comes late", "Made by a script", "Written by a script"}
    # nobody had worked on it: it begins with the palette that is there, made by scripts or not
    found = {role["found"] for role in quay.get("/sites/quay/study").json()["roles"]}
    assert {"#777777", "#999999", "#cc0000"} <= found
    page = quay.client.get(quay.get("/sites/quay").json()["pages"][0]["preview"])
    assert b"Made by a script" in b"".join([page.content])
    # brought in again as it was, it is still read so; with another script it is asked for anew
    bring_again(quay, FILES)
    assert asked(quay) == [] and "Made by a script" in texts(quay)
    bring_again(quay, {**FILES, "site.js": b"2"})
    assert asked(quay) == ["index.html"] and texts(quay) == {"Boats", "Plain"}


def test_work_that_was_done_stays_and_goes_home_to_the_file(quay: Api) -> None:
    quay.colour("quay", {"heading": "#0b3c7a"})
    use(quay)
    roles = {role["id"]: role for role in quay.get("/sites/quay/study").json()["roles"]}
    assert roles["heading"]["value"] == "#0b3c7a"
    grey = next(one["id"] for one in roles.values() if one["found"] in ("#777777", "#999999"))
    quay.colour("quay", {grey: "#444444"})
    quay.release("quay", reason="It is late.")
    live = quay.client.get("/live/quay/index.html")
    text = b"".join(live.streaming_content).decode() if live.streaming else live.content.decode()
    assert "Made by a script" not in text and "data-gl-file" not in text and "site.js" in text
    assert text.count("var(--gl-") == 2


def test_a_project_takes_along_what_scripts_made(quay: Api, stranger: Api) -> None:
    use(quay)
    answer = quay.get("/sites/quay/project/file")
    archive = b"".join(answer.streaming_content)
    with zipfile.ZipFile(io.BytesIO(archive)) as files:
        assert any(files.read(name) == STOOD.encode() for name in files.namelist() if name.startswith("content/"))
    job = stranger.bring(archive, "quay-project.zip").json()
    assert job["state"] == "done", job
    assert texts(stranger, job["site"]) == texts(quay)
    assert Site.objects.get(slug=job["site"]).content == Site.objects.get(slug="quay").content


@pytest.mark.parametrize(
    ("page", "stood", "status"),
    [
        ("index.html", None, 204),  # it never came to stand
        ("index.html", {"html": QUIET, "told": []}, 204),  # its scripts leave it alone
        ("site.css", {"html": STOOD, "told": []}, 422),
        ("elsewhere.html", {"html": STOOD, "told": []}, 422),
        ("index.html", {"html": 4}, 422),
        ("index.html", {"html": "words"}, 422),
        ("index.html", {"html": "<p>" + "word " * 900_000}, 413),
        ("index.html", {"html": "<p>" + "word " * 1_200_000}, 400),
        ("index.html", "words", 422),
    ],
)
def test_what_is_told_is_checked_and_then_the_file_is_read(quay: Api, page: str, stood: Any, status: int) -> None:
    answer = put(quay, page, stood)
    assert answer.status_code == status, answer.content[:300]
    if status != 204:
        assert answer.json()["message"].endswith(".") and asked(quay) == ["index.html"]
    assert quay.post("/sites/quay/layout/use").status_code < 300
    assert texts(quay) == {"Boats", "Plain"} and Site.objects.get(slug="quay").files.exclude(stood="").count() == 0


def test_nobody_else_tells_and_a_frame_belongs_to_a_session(quay: Api, stranger: Api) -> None:
    address = quay.get("/sites/quay/layout").json()["scripts"][0]["address"]
    answer = quay.client.get(address)
    assert answer.status_code == 200 and "sandbox allow-scripts;" in answer["Content-Security-Policy"]
    assert "allow-same-origin" not in answer["Content-Security-Policy"]
    assert quay.client.get(address.replace("index.html", "site.js")).content == b"1"
    for wrong in (address.replace("index.html", "no.html"), address[:-30] + "x" * 19 + address[-11:]):
        assert quay.client.get(wrong).status_code == 404
    assert put(stranger, "index.html", {"html": STOOD, "told": []}).status_code == 404
    quay.client.logout()
    assert quay.client.get(address).status_code == 404
