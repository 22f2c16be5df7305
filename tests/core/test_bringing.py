"""A site brought in as a browser or a crawl keeps it reads as its folder does; what is broken is refused."""

from __future__ import annotations

import gzip
import io
import json
from collections.abc import Callable
from pathlib import Path

import pytest

from glaucon.core.bringing.captured import Captured, site_of
from glaucon.core.bringing.reading import read_brought, read_open
from glaucon.core.errors import SiteError
from glaucon.core.exchange.reports.audit import audit_survey
from glaucon.core.survey.site import SiteFiles, read_site
from glaucon.core.survey.survey import survey_site
from tests import captures

SAMPLE = read_site(Path(__file__).parents[2] / "samples" / "otterlock")
WHOLE = {
    "mhtml": captures.as_mhtmls,
    "har": captures.as_har,
    "warc": captures.as_plain_warc,
    "warc.gz": captures.as_warc,
    "wacz": captures.as_wacz,
}


def read(data: bytes) -> SiteFiles:
    return read_open(io.BytesIO(data))


def rows(site: SiteFiles, page: str = "") -> list[tuple[str, ...]]:
    """Return every text of a site's survey with what is said of it, in every state and at every width."""
    survey = survey_site(site)
    return sorted(
        (str(key), row["page"], *(str(row[name]) for name in ("text", "colour", "background", "ratio", "verdict")))
        for key in survey.sightings
        for row in audit_survey(survey, key, "AA")["runs"]
        if page in ("", row["page"])
    )


@pytest.fixture(scope="module")
def folder() -> list[tuple[str, ...]]:
    return rows(SAMPLE)


@pytest.mark.parametrize("kind", WHOLE)
def test_the_sample_reads_the_same_to_the_text(kind: str, folder: list[tuple[str, ...]]) -> None:
    site = read(WHOLE[kind](SAMPLE))
    assert (site.files, site.origin, site.notes) == (SAMPLE.files, "https://otterlock.example", [])
    assert rows(site) == folder
    assert len(folder) > 4000


def test_a_page_with_everything_in_it_reads_the_same(folder: list[tuple[str, ...]]) -> None:
    site = read(captures.as_one_file(SAMPLE, "index.html"))
    assert list(site.files) == ["index.html"]
    assert rows(site) == [row for row in folder if row[1] == "index.html"]


def test_a_page_too_large_with_what_is_in_it_keeps_its_pictures_beside_it() -> None:
    page = captures.as_one_file(SAMPLE, "index.html")
    film = b"data:video/mp4;base64," + b"AAAA" * 1_400_000
    site = read(page.replace(b"</body>", b"<video src='" + film + b"'></video></body>"))
    assert len(site.files["index.html"]) < 100_000
    assert SAMPLE.files["img/canal.jpg"] in site.files.values()
    with pytest.raises(SiteError, match="5 MB without its pictures"):
        read(page + b"<!--" + b"x" * 5_500_000 + b"-->")


HOME, OTHER = "https://yard.example", "https://cdn.example"
PAGE = f"""<link rel=stylesheet href={OTHER}/a.css?v=2><link rel=stylesheet href="cid:own@yard">
<link rel=stylesheet href=/b.css><img srcset="{OTHER}/x.png 1x, /y.png 2x" alt=""><a href={HOME}/about>About</a>
<i style="background: url({OTHER}/x.png)">Hulls</i>"""


def test_what_other_hosts_gave_is_kept_beside_the_site_and_asked_for_there() -> None:
    kept = [
        Captured(f"{HOME}/", "text/html", PAGE.encode(), "utf-8", True),
        Captured(f"{HOME}/about", "text/html", b"<p>About", "", True),
        Captured(f"{OTHER}/", "text/html", b"<p>Somebody else", "", True),
        Captured(f"{HOME}/", "text/html", b"<p>Another time", "", True),
        Captured(f"{OTHER}/frame", "text/html", b"<p>In a frame"),
        Captured(f"{OTHER}/a.css?v=2", "text/css", b"@import 'c.css?d'; i { background: url(/x.png) }"),
        Captured(f"{OTHER}/c.css?d", "text/css", b"i { color: #fff }"),
        Captured(f"{OTHER}/never-asked.css", "text/css", b"i { color: #000 }"),
        Captured(f"{OTHER}/x.png", "image/png", b"x"),
        Captured("cid:own@yard", "text/css", b"p { background: url(y.png) }"),
        Captured(f"{HOME}/b.css", "text/css", b"p { background: url(y.png) }"),
        Captured(f"{HOME}/y.png", "image/png", b"y"),
        Captured("javascript:alert(1)", "text/css", b"p {}"),
        Captured(f"{HOME}/../../up.css", "text/css", b"up"),
        Captured(f"{HOME}/{'long/' * 100}", "text/css", b"p {}"),
    ]
    site = site_of(kept, "This")
    top = "elsewhere/cdn.example"
    assert {path: data.decode() for path, data in site.files.items()} == {
        "index.html": PAGE.replace(f"{OTHER}/a.css?v=2", f"{top}/a~v=2.css")
        .replace(f"{OTHER}/x.png", f"{top}/x.png").replace("cid:own@yard", "elsewhere/parts/own-yard.css"),
        "about.html": "<p>About",
        f"{top}/a~v=2.css": "@import 'c~d=.css'; i { background: url(x.png) }",
        f"{top}/c~d=.css": "i { color: #fff }",
        f"{top}/x.png": "x",
        "elsewhere/parts/own-yard.css": "p { background: url(../../y.png) }",
        "b.css": "p { background: url(y.png) }",
        "y.png": "y",
        "up.css": "up",
    }  # fmt: skip
    assert site.origin == HOME
    assert [note.split(" ", 1)[0] + note.rsplit(":", 1)[1] for note in site.notes] == [
        "1 a site is one host's.",
        "1 its address had given another one before.",
        "1 its address cannot be a file's name, or there was no more room.",
    ]


def test_a_page_saved_from_the_disk_finds_its_parts_there() -> None:
    site = SiteFiles({"a b/index.html": b'<link rel=stylesheet href="../look.css"><p>Hulls', "look.css": b"p {}"})
    brought = read(captures.as_mhtml(site, "a b/index.html", "file:///C:/site/"))
    assert set(brought.files) == {"index.html", "elsewhere/look.css"}
    assert b'href="elsewhere/look.css"' in brought.files["index.html"]


CHARSETS = [
    ("windows-1252", "<p>Schleuse \xdc", b"<p>Schleuse \xdc"),
    ("utf-8", "<meta charset=latin1><p>\xdc", "<meta charset=latin1><p>\xdc".encode()),
    ("no-such-thing", "<p>\xdc", "<p>\xdc".encode()),
    ("", "<p>\xdc", "<p>\xdc".encode()),
]


@pytest.mark.parametrize(("charset", "text", "data"), CHARSETS)
def test_what_an_answers_header_says_of_its_charset_goes_first(charset: str, text: str, data: bytes) -> None:
    site = site_of([Captured(f"{HOME}/", "text/html", data, charset, True)], "This")
    assert site.page_text("index.html") == text


def cut(make: Callable[[SiteFiles], bytes], share: float = 0.7) -> bytes:
    whole = make(SAMPLE)
    return whole[: int(len(whole) * share)]


def mended(har: bytes, **answer: object) -> bytes:
    log = json.loads(har)
    for entry in log["log"]["entries"]:
        entry["response"].update(answer)
    return json.dumps(log).encode()


ONE = captures.as_mhtml(SAMPLE, "index.html")
REFUSED = [
    (lambda: ONE[: len(ONE) // 2], "cut off before its end"),
    (lambda: ONE.replace(b"text/html", b"text/plain"), "holds no web page"),
    (lambda: captures.zipped({"a.mhtml": ONE[:9000]}), "cut off before its end"),
    (lambda: cut(captures.as_har), "no HAR"),
    (lambda: b'{"a": 1}', "no HAR"),
    (lambda: b'{"log":' + b"[" * 100_000, "no HAR"),
    (lambda: mended(captures.as_har(SAMPLE), content={}), "save it with content"),
    (lambda: mended(captures.as_har(SAMPLE), status=500), "save it with content"),
    (lambda: cut(captures.as_plain_warc), "damaged or cut off"),
    (lambda: cut(captures.as_warc), "damaged or cut off"),
    (lambda: gzip.compress(b"no records"), "damaged or cut off"),
    (lambda: captures.as_warc(SiteFiles({"a.css": b"p {}"})), "no web page"),
    (lambda: cut(captures.as_wacz), "not a zip archive"),
    (lambda: captures.as_wacz(SAMPLE).replace(b"\x1f\x8b", b"\x1f\x00"), "damaged"),
    (lambda: captures.zipped({"archive/a.warc": cut(captures.as_plain_warc), "datapackage.json": b""}), "damaged"),
    (lambda: captures.zipped({"b.wacz": b"PK\x03\x04 broken"}), "damaged"),
    (lambda: captures.zipped({"b.har": b"\x00\x01"}), "no web page"),
    (lambda: b"\x00\x01\x02", "no website"),
    (lambda: b"", "no website"),
]


@pytest.mark.parametrize(("make", "said"), REFUSED)
def test_what_is_broken_is_refused_with_one_sentence(make: Callable[[], bytes], said: str) -> None:
    with pytest.raises(SiteError, match=said):
        read(make())


def test_an_archive_of_endless_answers_is_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("glaucon.core.bringing.warc.MAX_UNPACKED_BYTES", 100_000)
    with pytest.raises(SiteError, match="250 MB"):
        read(captures.as_warc(SAMPLE))


def test_a_command_takes_them_too(tmp_path: Path) -> None:
    (tmp_path / "page.mhtml").write_bytes(ONE)
    assert read_brought(tmp_path / "page.mhtml").pages == ["index.html"]
    with pytest.raises(SiteError, match="does not exist"):
        read_brought(tmp_path / "none.har")
