"""What is brought in is hostile: archives and folders that are refused, and those that come in."""

from __future__ import annotations

import io
import stat
import zipfile
from collections.abc import Callable
from pathlib import Path

import pytest

from glaucon.core.errors import SiteError
from glaucon.core.survey import site as limits
from glaucon.core.survey.site import read_archive, read_site
from glaucon.core.survey.survey import survey_site

PAGE = b"<!doctype html><title>t</title><p>Words</p>"


def pack(entries: list[tuple[str | zipfile.ZipInfo, bytes]], compression: int = zipfile.ZIP_DEFLATED) -> io.BytesIO:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", compression) as archive:
        for name, data in entries:
            archive.writestr(name, data)
    out.seek(0)
    return out


def link(name: str, target: str) -> tuple[zipfile.ZipInfo, bytes]:
    info = zipfile.ZipInfo(name)
    info.external_attr = (stat.S_IFLNK | 0o777) << 16
    return info, target.encode()


def lying() -> io.BytesIO:
    """Return an archive whose directory says 10 bytes where 30 MB come out."""
    good = pack([("index.html", PAGE), ("big.bin", b"\0" * (30 << 20))]).getvalue()
    return io.BytesIO(good.replace((30 << 20).to_bytes(4, "little"), (10).to_bytes(4, "little")))


HOSTILE: dict[str, tuple[Callable[[], io.BytesIO], str]] = {
    "no zip": (lambda: io.BytesIO(b"GIF89a"), "not a zip archive"),
    "empty": (lambda: pack([]), "no HTML page"),
    "no page": (lambda: pack([("readme.txt", b"x")]), "no HTML page"),
    "climbs": (lambda: pack([("../../etc/passwd.html", PAGE)]), "leads out of its folder"),
    "climbs inside": (lambda: pack([("a/../../x.html", PAGE)]), "leads out of its folder"),
    "absolute": (lambda: pack([("/etc/x.html", PAGE)]), "leads out of its folder"),
    "drive": (lambda: pack([("C:\\site\\x.html", PAGE)]), "leads out of its folder"),
    "backslashes": (lambda: pack([("..\\x.html", PAGE)]), "leads out of its folder"),
    "control character": (lambda: pack([("a\x07.html", PAGE)]), "cannot be used"),
    "long name": (lambda: pack([("a" * 500 + ".html", PAGE)]), "cannot be used"),
    "link": (lambda: pack([("index.html", PAGE), link("x", "/etc/passwd")]), "is a link"),
    "twice": (lambda: pack([("index.html", PAGE), ("./index.html", PAGE)]), "twice"),
    "bomb": (lambda: pack([("index.html", PAGE), *((f"{i}.bin", b"\0" * (24 << 20)) for i in range(11))]), "250 MB"),
    "large file": (lambda: pack([("index.html", PAGE), ("film.mp4", b"\0" * (26 << 20))]), "larger than 25 MB"),
    "large sheet": (lambda: pack([("index.html", PAGE), ("a.css", b" " * (6 << 20))]), "larger than 5 MB"),
    "many files": (lambda: pack([(f"{i}.html", PAGE) for i in range(3001)]), "3,000 files"),
    "lying size": (lying, "damaged"),
    "cut short": (lambda: io.BytesIO(pack([("index.html", PAGE * 999)]).getvalue()[:-30]), "not a zip archive"),
    "broken data": (lambda: _broken(), "damaged"),
}


def _broken() -> io.BytesIO:
    data = bytearray(pack([("index.html", bytes(range(256)) * 40)]).getvalue())
    data[60:90] = b"\xff" * 30
    return io.BytesIO(bytes(data))


@pytest.mark.parametrize("name", HOSTILE)
def test_hostile_archive_is_refused_with_one_sentence(name: str) -> None:
    make, words = HOSTILE[name]
    with pytest.raises(SiteError, match=words) as refused:
        read_archive(make())
    assert str(refused.value).endswith(".") and "\n" not in str(refused.value)


@pytest.mark.filterwarnings("ignore:Duplicate name")
def test_same_name_twice_is_refused() -> None:
    with pytest.raises(SiteError, match="twice"):
        read_archive(pack([("index.html", PAGE), ("index.html", PAGE)]))


def test_archive_comes_in_without_the_folder_around_it_and_what_systems_leave() -> None:
    packed = pack([("site/index.html", PAGE), ("site/css/a.css", b"p{}"), ("__MACOSX/x", b""), ("site/.DS_Store", b"")])
    assert sorted(read_archive(packed).files) == ["css/a.css", "index.html"]


def test_links_in_a_folder_are_not_followed(tmp_path: Path) -> None:
    (tmp_path / "index.html").write_bytes(PAGE)
    (tmp_path / "secret.css").symlink_to("/etc/hostname")
    assert list(read_site(tmp_path).files) == ["index.html"]


def test_broken_stylesheet_comes_in_and_is_named() -> None:
    site = read_archive(
        pack([("index.html", b"<link rel=stylesheet href=a.css><p>Words"), ("a.css", b"p { color: red }\n}} x {")])
    )
    survey = survey_site(site)
    assert [(problem.file, problem.line) for problem in survey.problems] == [("a.css", 2)]
    assert [run.text for run in survey.runs] == ["Words"]


def test_missing_stylesheet_is_named() -> None:
    survey = survey_site(read_archive(pack([("index.html", b"<link rel=stylesheet href=gone.css><p>Words")])))
    assert survey.notes == ["The stylesheet “gone.css” that index.html asks for is not among the files."]


def test_limits_are_those_that_are_promised() -> None:
    assert (limits.MAX_ARCHIVE_BYTES, limits.MAX_FILES, limits.MAX_UNPACKED_BYTES) == (60 << 20, 3000, 250 << 20)
    assert (limits.MAX_FILE_BYTES, limits.MAX_TEXT_BYTES) == (25 << 20, 5 << 20)
