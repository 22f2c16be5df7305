"""A site with everything, out as one archive and in again elsewhere: the same studies, undo, releases; broken ones."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import jsonschema
import pytest
from django.conf import settings as django_settings

from glaucon.apps.sites.blobs import get_blob
from glaucon.apps.sites.models import Site
from glaucon.apps.studies.models import Revision
from glaucon.core.exchange.project.archive import digest, document_bytes
from glaucon.core.exchange.project.document import Project
from glaucon.operating import admin
from tests.apps.conftest import Api, folder_files, zipped

PIXEL = Path(__file__).parents[1] / "data" / "sites" / "pictures" / "dots.png"
SCHEMA = Path(django_settings.BASE_DIR) / "glaucon" / "core" / "exchange" / "project" / "project.schema.json"
Files = dict[str, bytes]


@pytest.fixture
def lived_in(wren: Api, yard: str) -> str:
    """Return a site that has been worked on: a second study, one deleted, things undone, a picture, releases."""
    wren.colour(yard, {"link": "#0b3c7a"})
    wren.release(yard, name="Spring paint", reason="The owner likes it so.")
    wren.colour(yard, {"background": "#eef4f0"})
    wren.colour(yard, {"background": "#e0e8e4"})
    wren.move(yard, "undo")
    wren.colour(yard, {"text": "#101820"})
    wren.release(yard, with_statement=True)
    wren.copy(yard, "Evening", {"act": "set-colour", "role": "heading", "value": "#40102a"})
    wren.copy(yard, "Thrown away")
    thrown = Site.objects.get(slug=yard).studies.get(name="Thrown away")
    assert wren.post(f"/sites/{yard}/studies/{thrown.pk}", {"what": "delete"}).status_code == 200
    with PIXEL.open("rb") as picture:
        assert wren.client.post(f"/api/sites/{yard}/backdrops/pictures", {"picture": picture}).status_code == 200
    wren.take_back(yard, 1)
    wren.get(f"/sites/{yard}/hand-back/site/file")
    return yard


def saved(api: Api, slug: str) -> Files:
    answer = api.get(f"/sites/{slug}/project/file")
    assert answer.status_code == 200, answer.content
    archive = zipfile.ZipFile(io.BytesIO(b"".join(answer.streaming_content)))
    return {name: archive.read(name) for name in archive.namelist()}


def _told(slug: str) -> dict[str, Any]:
    """Return all that is kept of a site, but for its own number and address."""
    site = Site.objects.get(slug=slug)
    numbers = {study.pk: place for place, study in enumerate(site.studies.order_by("pk"))}
    revisions = Revision.objects.filter(study__site=site).select_related("base").order_by("study", "number")
    return {
        "files": list(site.files.values_list("path", "blob", "size")),
        "pictures": list(site.pictures.values("path", "label", "blob", "width", "height", "size", "is_seamless")),
        "studies": [(s.name, s.is_open, s.deleted, s.current and s.current.number) for s in site.studies.order_by("pk")],
        "revisions": [
            (numbers[one.study_id], one.number, one.base and one.base.number, one.document, one.what, one.touches, one.made)
            for one in revisions
        ],
        "releases": [
            (one.number, one.name, one.is_live, one.made, one.live_since, one.due, one.texts, one.hard, one.unsure,
             one.let_through, one.statement, one.stylesheet, one.revision and one.revision.number, one.added_bytes,
             {path: get_blob(blob) for path, blob in one.files.values_list("path", "blob")})
            for one in site.releases.order_by("number")
        ],
        "download": (site.download.revision.number, site.download.made), "since": site.brought_in,
        "names": (site.name, site.origin, site.address, site.hosted_at, site.most_pages, site.titles, site.content),
    }  # fmt: skip


def test_out_and_in_elsewhere_it_is_the_same(wren: Api, stranger: Api, lived_in: str) -> None:
    files = saved(wren, lived_in)
    assert json.loads(SCHEMA.read_text("utf-8")) == Project.model_json_schema()
    jsonschema.validate(json.loads(files["project.json"]), json.loads(SCHEMA.read_text("utf-8")))
    assert files["site/prices.html"] == get_blob(Site.objects.get(slug=lived_in).files.get(path="prices.html").blob)
    job = stranger.bring(zipped(files), "otterlock-project.zip").json()
    assert job["state"] == "done", job
    there = job["site"]
    assert there != lived_in and _told(there) == _told(lived_in)
    # it goes on from there: undone as far as it went, what was undone done again, the same pages live
    for api, slug in ((wren, lived_in), (stranger, there)):
        assert api.move(slug, "undo").status_code == 200
    assert _told(there)["revisions"] == _told(lived_in)["revisions"]
    for path in ("", "css/site.css", "prices.html"):
        assert wren.client.get(f"/live/{lived_in}/{path}").content == wren.client.get(f"/live/{there}/{path}").content
    assert saved(stranger, there).keys() == files.keys()


def test_an_operator_moves_a_site(wren: Api, stranger: Api, lived_in: str, tmp_path: Path, capsys: Any) -> None:
    kept = tmp_path / "kept.zip"
    assert admin.main(["save-project", lived_in, str(kept)]) == 0
    assert admin.main(["bring-project", str(kept), "stranger"]) == 0
    there = Site.objects.get(owner=stranger.user)
    assert _told(there.slug) == _told(lived_in) and there.slug in capsys.readouterr().out
    for asked in (["save-project", "nowhere", str(kept)], ["bring-project", str(tmp_path / "none.zip"), "wren"]):
        assert admin.main(asked) == 2
    kept.write_bytes(b"no archive")
    assert admin.main(["bring-project", str(kept), "wren"]) == 2


def _changed(change: Callable[[dict[str, Any]], object]) -> Callable[[Files], None]:
    def broken(files: Files) -> None:
        document = json.loads(files["project.json"])
        change(document)
        files["project.json"] = json.dumps(document).encode()

    return broken


def _release(document: dict[str, Any], **fields: Any) -> None:
    document["releases"][-1].update(fields)


def _study_text(files: Files, text: str) -> None:
    """Put another document in the place of the first revision, with the digest that belongs to it."""
    document = json.loads(files["project.json"])
    files["studies/1/000001.json"] = text.encode()
    document["studies"][0]["revisions"][0]["sha256"] = digest(text.encode())
    files["project.json"] = document_bytes(document)


def _first(document: dict[str, Any]) -> dict[str, Any]:
    first: dict[str, Any] = document["studies"][0]
    return first


BROKEN: dict[str, tuple[Callable[[Files], object], str]] = {
    "no JSON": (lambda f: f.update({"project.json": b'{"kind": "glaucon-project"'}), "not JSON"),
    "a list": (lambda f: f.update({"project.json": b'["glaucon-project"]'}), "cannot be read"),
    "nested without end": (lambda f: f.update({"project.json": b'"glaucon-project"' + b"[" * 90_000}), "not JSON"),
    "a newer format": (_changed(lambda d: d.update(format=2)), "a newer Glaucon"),
    "a field too many": (_changed(lambda d: d.update(owner="wren")), "owner"),
    "a field too few": (_changed(lambda d: d.pop("studies")), "studies"),
    "no name": (_changed(lambda d: d.update(name="")), "name"),
    "a name too long": (_changed(lambda d: d.update(name="x" * 200)), "name"),
    "a time that is none": (_changed(lambda d: d.update(brought_in="yesterday")), "brought_in"),
    "a time without a zone": (_changed(lambda d: d.update(brought_in="2026-01-01T00:00:00")), "brought_in"),
    "no file": (_changed(lambda d: d.update(files=[])), "files"),
    "no page": (_changed(lambda d: d.update(layouts=[], files=[o for o in d["files"] if "html" not in o["path"]])), "no HTML"),
    "a page gone": (lambda f: f.pop("site/prices.html"), "missing"),
    "a page changed": (lambda f: f.update({"site/prices.html": b"<p>Boo"}), "not what was saved"),
    "a page twice": (_changed(lambda d: d["files"].append(d["files"][0])), "twice"),
    "a digest that is none": (_changed(lambda d: d["files"][0].update(sha256="../../etc")), "sha256"),
    "a path that climbs": (lambda f: f.update({"../out.html": b"x"}), "leads out"),
    "a path that climbs, named": (_changed(lambda d: d["files"][0].update(path="../../out.html")), "missing"),
    "a picture elsewhere": (_changed(lambda d: d["pictures"][0].update(path="../x.webp")), "path"),
    "a picture gone": (lambda f: [f.pop(name) for name in list(f) if name.startswith("backdrops/")], "missing"),
    "no study": (_changed(lambda d: d.update(studies=[])), "studies"),
    "a study without revisions": (_changed(lambda d: _first(d).update(revisions=[])), "revisions"),
    "no open study": (_changed(lambda d: [one.update(is_open=False) for one in d["studies"]]), "is open"),
    "all studies open": (_changed(lambda d: [one.update(is_open=True) for one in d["studies"]]), "is open"),
    "standing nowhere": (_changed(lambda d: _first(d).update(current=999)), "stands on"),
    "made from nothing": (_changed(lambda d: _first(d)["revisions"][-1].update(base=998)), "made from"),
    "made from itself": (_changed(lambda d: _first(d)["revisions"][-1].update(base=_first(d)["revisions"][-1]["number"])), "made from"),
    "a revision twice": (_changed(lambda d: _first(d)["revisions"].append(_first(d)["revisions"][0])), "twice"),
    "a revision numbered 0": (_changed(lambda d: _first(d)["revisions"][0].update(number=0)), "number"),
    "a revision gone": (lambda f: f.pop("studies/1/000001.json"), "missing"),
    "a revision changed": (lambda f: f.update({"studies/1/000001.json": b"{}"}), "not what was saved"),
    "a study that is none": (lambda f: _study_text(f, "{}"), "no study"),
    "a study of text": (lambda f: _study_text(f, '"Spring"'), "no study"),
    "two live": (_changed(lambda d: [one.update(is_live=True) for one in d["releases"]]), "live"),
    "a release twice": (_changed(lambda d: d["releases"].append(d["releases"][0])), "twice"),
    "a release of no revision": (_changed(lambda d: _release(d, revision={"study": 1, "number": 997})), "of a revision"),
    "a release of no study": (_changed(lambda d: _release(d, revision={"study": 77, "number": 1})), "of a revision"),
    "the first one of a study": (_changed(lambda d: d["releases"][0].update(revision={"study": 1, "number": 1})), "of no study"),
    "a statement that is not there": (_changed(lambda d: _release(d, statement="none.html")), "statement"),
    "a word why that is none": (_changed(lambda d: _release(d, let_through=[{"why": 3}])), "let_through"),
    "a release's file gone": (lambda f: [f.pop(name) for name in list(f) if name.startswith("content/")], "missing"),
    "a layout of no page": (_changed(lambda d: d["layouts"].append({"page": "no.html", "width": 1280, "sha256": "0" * 64})), "layout"),
    "a layout gone": (_changed(lambda d: d["layouts"].append({"page": "index.html", "width": 1280, "sha256": "0" * 64})), "missing"),
}  # fmt: skip


def test_broken_projects_are_refused_with_a_sentence_and_nothing_stays(wren: Api, lived_in: str) -> None:
    whole = saved(wren, lived_in)
    sites = Site.objects.count()
    for name, (breaks, words) in BROKEN.items():
        files = dict(whole)
        breaks(files)
        job = wren.bring(zipped(files), "project.zip").json()
        assert (job["state"], words in job["message"]) == ("refused", True), (name, job)
        assert job["message"].endswith((".", "?")) and Site.objects.count() == sites, name


def test_a_project_does_not_come_in_over_another_site(wren: Api, lived_in: str) -> None:
    sent = io.BytesIO(zipped(saved(wren, lived_in)))
    sent.name = "project.zip"
    job = wren.client.post(f"/api/sites/{lived_in}/again/zip", {"archive": sent}).json()
    assert job["state"] == "refused" and "Bring it in as a site beside this one" in job["message"]


def test_a_site_that_has_a_file_of_that_name_is_a_site(wren: Api, otterlock: Path) -> None:
    job = wren.bring(zipped({**folder_files(otterlock), "project.json": b'{"name": "otterlock"}'})).json()
    assert job["state"] == "done"
