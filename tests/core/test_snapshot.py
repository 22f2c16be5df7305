"""Pages as their scripts made them: what the file says is found again, and nothing else of it is changed."""

from __future__ import annotations

import io
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from glaucon.core.cascade.markup import read_markup
from glaucon.core.exchange.checking import check_handed_back
from glaucon.core.exchange.hand_back import hand_back
from glaucon.core.exchange.recolour import apply_edits
from glaucon.core.known.site import KnownSite
from glaucon.core.snapshot.document import (
    SnapshotError,
    as_it_stood,
    file_name_of,
    read_snapshot,
    read_stood,
    written_snapshot,
)  # fmt: skip
from glaucon.core.snapshot.told_apart import in_file, is_as_file, marked
from glaucon.core.survey.site import MAX_TEXT_BYTES, SiteFiles, read_archive
from glaucon.core.survey.survey import survey_site

FILE = """<!doctype html><title>Boats</title><link rel=stylesheet href=site.css>
<style>h1 { color: #336655 }</style>
<h1>Boats</h1><p class=late style="color:#777777">Comes late</p><div id=app bgcolor="#eeeeee"></div>
<script src=site.js></script>"""
CSS = ".late { opacity: 0 } .late.in { opacity: 1 } .made { color: #999999; background: #ffffff }"
# what a browser gives of it: the class is there, an item was made, a style changed
STOOD = marked(FILE).replace("class=late", 'class="late in"').replace(
    "></div>", '><p class="made">Made by a script</p><b style="color: #cc0000">Written by a script</b></div>'
)  # fmt: skip


def _site(stood: str | None = STOOD) -> SiteFiles:
    files = {"index.html": FILE.encode(), "site.css": CSS.encode(), "site.js": b""}
    return SiteFiles(files, stood={} if stood is None else {"index.html": stood})


def test_a_page_is_read_as_its_scripts_made_it() -> None:
    texts = [run.text for run in survey_site(_site()).runs]
    assert texts == ["Boats", "Comes late", "Made by a script", "Written by a script"]
    assert [run.text for run in survey_site(_site(None)).runs] == ["Boats"]


def test_colours_change_where_the_file_says_them_and_what_a_script_wrote_stays() -> None:
    site = _site()
    known = KnownSite(survey_site(site))
    study = known.first_study("First")
    values = {role.id: "#123456" for role in study.roles if role.found in ("#777777", "#336655", "#999999", "#cc0000")}
    study = study.with_values(values)
    handed = hand_back(site, known.survey, study, "site")
    new = read_archive(io.BytesIO(handed.data)).files
    page = new["index.html"].decode()
    # every byte of the file is there but for the colours that it says, and the stylesheet that is linked
    assert "Made by a script" not in page and "data-gl-file" not in page and "class=late style" in page
    assert page.count("var(--gl-") == 2 and "#777777)" in page and "#336655)" in page
    assert "var(--gl-" in new["site.css"].decode()
    assert "color: #cc0000" in handed.stood["index.html"]
    assert 'style="color:var(--gl-' in handed.stood["index.html"]
    checked = check_handed_back(site, known, study, "site", handed)
    assert not [one for one in checked.examples if "Written by a script" not in one], checked.examples


@pytest.mark.parametrize(
    ("file", "stood", "piece", "is_there"),
    [
        ('<p style="color: red">A</p>', '<p data-gl-file="0" style="color: red">A</p>', "red", True),
        # the script changed something else of it, so that the browser writes it anew
        ("<p style='color:red;top:0'>A</p>", '<p data-gl-file="0" style="color: red; top: 3px;">A</p>', "red", True),
        ('<p style="color: red">A</p>', '<p data-gl-file="0" style="color: blue">A</p>', "blue", False),
        ("<p>A</p>", '<p data-gl-file="0" style="color: red">A</p>', "red", False),
        ("<p>A</p>", '<p data-gl-file="0">A</p><i style="color: red">B</i>', "red", False),
        ('<p style="color: red">A</p>', '<p data-gl-file="7" style="color: red">A</p>', "red", False),
        ('<p style="color: red">A</p>', '<b data-gl-file="0" style="color: red">A</b>', "red", False),
        ('<p style="color: red">A</p>', '<p data-gl-file="x" style="color: red">A</p>', "red", False),
        # what is drawn once for each of a list comes from one tag
        ('<i style="color: red"></i>', '<i data-gl-file="0" style="color: red">1</i>' * 2, "red", True),
        ("<style>p{color:red}</style>", '<style data-gl-file="0">p{color:red}</style>', "red", True),
        ("<style>p{color:red}</style>", '<style data-gl-file="0">p { color: red; }</style>', "red", True),
        ("<style></style>", '<style data-gl-file="0">p { color: red; }</style>', "red", False),
        ("<style>a{color:red}b{color:red}</style>", '<style data-gl-file="0">b{color:red}</style>', "red", False),
    ],
)
def test_what_the_file_says_is_told_from_what_a_script_wrote(
    file: str, stood: str, piece: str, is_there: bool
) -> None:  # fmt: skip
    at = stood.index(piece)
    there, nowhere = in_file(read_markup(stood), read_markup(file), [(at, at + len(piece), "green")])
    assert (len(there), len(nowhere)) == ((1, 0) if is_there else (0, 1))
    if is_there:
        assert apply_edits(file, there) == file.replace(piece, "green", 1)


def test_what_scripts_leave_alone_is_the_file() -> None:
    assert is_as_file(marked(FILE), FILE)
    assert is_as_file(marked(FILE).replace("src=site.js>", "src=site.js>\n"), FILE)
    assert not is_as_file(STOOD, FILE)
    assert not is_as_file(marked(FILE).replace("Comes late", "Comes later"), FILE)


_TAGS = st.lists(
    st.sampled_from(['<p style="color:#111">', "<i>", "</p>", "x < y", "<!-- a<b -->", '<b a="<i>">', "<"])
)


@given(_TAGS)
def test_marks_change_nothing_but_to_add_numbers(pieces: list[str]) -> None:
    source = "".join(pieces)
    with_marks = marked(source)
    plain = with_marks
    for number in range(len(read_markup(source).tags)):
        plain = plain.replace(f' data-gl-file="{number}"', "", 1)
    assert plain == source
    at = [match for match in range(len(with_marks)) if with_marks.startswith("#111", match)]
    there, nowhere = in_file(read_markup(with_marks), read_markup(source), [(one, one + 4, "#222") for one in at])
    if not nowhere:
        assert apply_edits(source, there) == source.replace("#111", "#222")


def test_a_snapshot_is_written_and_read_back_and_others_are_refused() -> None:
    site = _site(None)
    snapshot = {"index.html": read_stood({"html": STOOD, "told": ["restless", "made up"]})}
    assert snapshot["index.html"].told == ("restless",)
    written = written_snapshot(site, snapshot)
    assert read_snapshot(written, site) == snapshot
    assert as_it_stood(site, snapshot).notes == ["index.html is read as its scripts made it: it never came to rest."]
    elsewhere = SiteFiles({"index.html": FILE.encode() + b"\n"})
    page = written["pages"][0]
    refused: list[tuple[Any, SiteFiles, str]] = [
        (written, elsewhere, "does not belong to these files"),
        (written, SiteFiles({"other.html": b""}), "does not belong to these files"),
        ({**written, "format": 2}, site, "newer format"),
        ({**written, "pages": [{**page, "html": 4}]}, site, "own script"),
        ({**written, "pages": [{**page, "html": "words alone"}]}, site, "own script"),
        ({**written, "pages": [{**page, "html": "<" * (MAX_TEXT_BYTES + 1)}]}, site, "larger than 5 MB"),
        ({**written, "pages": [{"page": "index.html"}]}, site, "holds no snapshot"),
        ([], site, "holds no snapshot"),
        (None, site, "holds no snapshot"),
    ]
    for given_, of, says in refused:
        with pytest.raises(SnapshotError, match=says):
            read_snapshot(given_, of)
    assert page["file"] == file_name_of(FILE.encode())
