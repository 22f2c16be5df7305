"""Bringing in: what comes of an archive, what is refused, what a cancelled or killed job leaves."""

from __future__ import annotations

import pytest
from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile

from glaucon.apps.bringing import bring_in, jobs, sources
from glaucon.apps.errors import Refused
from glaucon.apps.sites.blobs import get_blob
from glaucon.apps.sites.models import Job, Site, SiteFile
from glaucon.apps.sites.surveys import files_of
from glaucon.core.places.page_names import page_titles, short_names
from tests.apps.conftest import Api, zipped

PAGE = b"<!doctype html><title>Moorings</title><link rel=stylesheet href=a.css><p>By the week"


def test_archive_becomes_a_site_with_its_files_as_they_were(wren: Api, yard: str, otterlock) -> None:  # type: ignore[no-untyped-def]
    card = wren.get("/sites").json()[0]
    assert (card["name"], card["pages"], card["texts"]) == ("Otterlock", 9, 301)
    assert sum(colour["share"] for colour in card["strip"]) == pytest.approx(1, abs=0.2)
    site = Site.objects.get(slug=yard)
    kept = {file.path: get_blob(file.blob) for file in SiteFile.objects.filter(site=site)}
    assert kept == {path: (otterlock / path).read_bytes() for path in kept}


def test_found_colours_are_grouped_with_their_roles(wren: Api, yard: str) -> None:
    found = wren.get(f"/sites/{yard}/found").json()
    assert found["colours"] == 62
    backgrounds = next(group for group in found["groups"] if group["kind"] == "background")
    assert {"colour": "#fbf7ef", "role": "background"}.items() <= backgrounds["colours"][0].items()
    assert (found["short_roles"] <= 9, found["short_coats"] <= 6, found["unseen"]) == (True, True, 0)


@pytest.mark.parametrize(
    ("archive", "words"),
    [
        (b"GIF89a", "no website"),
        (zipped({"notes.txt": b"x"}), "no HTML page"),
        (zipped({"../out.html": PAGE}), "leads out of its folder"),
    ],
)
def test_refused_archive_leaves_nothing(wren: Api, archive: bytes, words: str) -> None:
    job = wren.bring(archive).json()
    assert job["state"] == "refused"
    assert words in job["message"]
    assert wren.get("/sites").json() == []
    assert list((settings.DATA_DIR / "uploads").glob("*")) == []


def test_broken_stylesheet_is_brought_in_and_named(wren: Api) -> None:
    job = wren.bring(zipped({"index.html": PAGE, "a.css": b"p { color: #333 }\n}} x { color: red }"})).json()
    assert job["state"] == "done"
    notes = wren.get(f"/sites/{job['site']}").json()["notes"]
    assert notes == ["a.css, line 2: browsers cannot read this part of the stylesheet and skip it."]


def test_archive_over_the_limit_is_refused_while_it_comes(wren: Api, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(sources, "MAX_ARCHIVE_BYTES", 1000)
    answer = wren.bring(b"\0" * 5000)
    assert answer.status_code == 413
    assert "larger than 60 MB" in answer.json()["message"]
    assert Job.objects.count() == 0


def test_second_bring_in_waits_its_turn(wren: Api) -> None:
    Job.objects.create(owner=wren.user, name="Slow", source="sample:otterlock", state=Job.State.RUNNING)
    answer = wren.bring(zipped({"index.html": PAGE}))
    assert answer.status_code == 409
    assert "Wait for it, or cancel it" in answer.json()["message"]


def test_cancelled_job_keeps_nothing(wren: Api) -> None:
    job = Job.objects.create(owner=wren.user, name="Slow", source="sample:otterlock")
    assert wren.delete(f"/jobs/{job.pk}").json()["state"] == "cancelled"
    jobs.run_job(job.pk)
    assert not Site.objects.exists()
    assert wren.delete(f"/jobs/{job.pk}").status_code == 409


def test_job_cancelled_midway_stops_at_its_next_step(wren: Api, monkeypatch: pytest.MonkeyPatch) -> None:
    job = jobs.open_job(wren.user, "Midway", "sample:otterlock")
    known_site = bring_in.KnownSite

    def cancel_then_know(survey: object) -> object:
        jobs.cancel_job(job)
        return known_site(survey)  # type: ignore[arg-type]

    monkeypatch.setattr(bring_in, "KnownSite", cancel_then_know)
    jobs.run_job(job.pk)
    job.refresh_from_db()
    assert (job.state, Site.objects.count()) == ("cancelled", 0)


def test_removed_site_takes_its_studies_and_releases_along(wren: Api, yard: str) -> None:
    wren.colour(yard, {"link": "#123456"}, base=1)
    wren.release(yard, base=2)
    assert wren.delete(f"/sites/{yard}").status_code == 204
    assert wren.client.get(f"/live/{yard}/").status_code == 404
    assert wren.get("/sites").json() == []


def test_more_pages_than_the_limit_are_kept_but_not_read(wren: Api) -> None:
    pages = {f"a/p{n}.html": PAGE for n in range(6)} | {"index.html": PAGE, "b.html": PAGE}
    upload = SimpleUploadedFile("yard.zip", zipped(pages), content_type="application/zip")
    job = wren.client.post("/api/bring/zip", {"archive": upload, "most_pages": "3"}).json()
    site = wren.get(f"/sites/{job['site']}").json()
    assert [page["path"] for page in site["pages"]] == ["index.html", "b.html", "a/p0.html"]
    assert any("limit of 3: 5 were not read" in note for note in site["notes"])
    assert Site.objects.get().files.count() == 8
    upload = SimpleUploadedFile("yard.zip", zipped(pages), content_type="application/zip")
    assert wren.client.post("/api/bring/zip", {"archive": upload, "most_pages": "0"}).status_code == 422


def test_what_is_kept_by_contents_is_not_made_of_a_site_that_was_deleted(wren: Api, yard: str) -> None:
    site = Site.objects.get(slug=yard)
    site.files.all().delete()
    with pytest.raises(Refused, match="not there any more"):
        files_of(site)


def test_what_is_kept_by_contents_is_not_made_of_a_site_brought_in_again_meanwhile(wren: Api, yard: str) -> None:
    site = Site.objects.get(slug=yard)
    Site.objects.filter(pk=site.pk).update(content="of other files")
    with pytest.raises(Refused, match="brought in again just now"):
        files_of(site)


NAMES = {
    "titles of their own": ({"a.html": "Prices", "b.html": "Boats"}, {}, {"a.html": "Prices", "b.html": "Boats"}),
    "one title, headings": (
        {"a.html": "Yard", "b.html": "Yard"}, {"a.html": "Prices"}, {"a.html": "Prices", "b.html": "Yard"},
    ),
    "one title, files": (
        {"index.html": "Yard", "our-prices.html": "Yard", "boats/index.html": "Yard", "7.html": "Yard"}, {},
        {"index.html": "Home", "our-prices.html": "Our prices", "boats/index.html": "Boats", "7.html": "Yard"},
    ),
    "files that are called alike": (
        {"a/p.html": "", "notes.html": "Yard", "Notes.html": "Yard"}, {},
        {"a/p.html": "a/p.html", "notes.html": "notes.html", "Notes.html": "Notes.html"},
    ),
}  # fmt: skip


@pytest.mark.parametrize("name", NAMES)
def test_every_page_has_a_name_of_its_own(name: str) -> None:
    titles, headings, wanted = NAMES[name]
    assert page_titles(titles, headings, titles) == wanted


SHORT = {
    "a part of the title": ({"p.html": "Prices | Otterlock", "i.html": "Otterlock Boats: slow water"}, "Prices"),
    "the whole where that tells them apart": ({"p.html": "Boats: Heron", "i.html": "Boats: Dabchick"}, "Boats: Heron"),
    "a middle dot is no end": ({"p.html": "Prices · Otterlock"}, "Prices · Otterlock"),
    "no title at all": ({"p.html": ""}, "p.html"),
}  # fmt: skip


@pytest.mark.parametrize("name", SHORT)
def test_pages_are_called_short_on_a_screen(name: str) -> None:
    titles, wanted = SHORT[name]
    assert short_names(titles)["p.html"] == wanted
