"""Archives and folders that come in, and what is told of them; those made to do harm are in tests/hostile.py."""

from __future__ import annotations

from pathlib import Path

import pytest

from glaucon.core.errors import SiteError
from glaucon.core.survey import site as limits
from glaucon.core.survey.site import read_archive, read_site
from glaucon.core.survey.survey import survey_site
from tests.hostile import PAGE, pack


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
    assert survey.notes == ["The stylesheet “gone.css”, linked from index.html, is not among the files."]


def test_limits_are_those_that_are_promised() -> None:
    assert (limits.MAX_ARCHIVE_BYTES, limits.MAX_FILES, limits.MAX_UNPACKED_BYTES) == (60 << 20, 3000, 250 << 20)
    assert (limits.MAX_FILE_BYTES, limits.MAX_TEXT_BYTES) == (25 << 20, 5 << 20)
