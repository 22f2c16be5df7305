"""Mending everything at once: what can read reads, locks stay, nothing that read is harmed, the rest is named."""

from __future__ import annotations

import json
from pathlib import Path

import jsonschema
import numpy as np
import pytest

from glaucon import cli
from glaucon.core.errors import StudyError
from glaucon.core.mending.thorough.mend_all import mend_all
from glaucon.core.proposal.known import KnownSite
from glaucon.core.reading.reading import FAIL
from glaucon.core.study.study import Study
from glaucon.core.survey.site import SiteFiles
from glaucon.core.survey.survey import survey_site

HEAD = "<!doctype html><link rel=stylesheet href=a.css>"


def known_study(page: str, css: str) -> tuple[KnownSite, Study]:
    survey = survey_site(SiteFiles({"index.html": (HEAD + page).encode(), "a.css": css.encode()}))
    return KnownSite(survey), KnownSite(survey).first_study("First")


def failing(known: KnownSite, study: Study) -> set[int]:
    verdict = known.index.compiled.read(known.tokens.values(study), study.aim).verdict
    return {int(n) for n in np.nonzero(verdict == FAIL)[0] if known.index.counts(int(n))}


# page, stylesheet, roles that may move (in any order), texts left
CASES: dict[str, tuple[str, str, set[str], int]] = {
    "words too faint": ("<p>Some words<p class=q>faint", "p { color: #222 } .q { color: #aaa }", {"quiet"}, 0),
    "nothing to mend": ("<p>Some words", "p { color: #222 }", set(), 0),
    "link lost on a dark section": (
        "<p>Words enough to be the page<footer><a href=#>x</a> y</footer>",
        "body { background: #fff; color: #222 } footer { background: #14342b; color: #fff } footer a { color: #0b5c7a }",
        {"footer.link"}, 0,
    ),
    "hover hides its words": (
        "<p>Words enough<p><a class=b href=#>Book</a>",
        "body { color: #222 } .b { background: #a02010; color: #fff } .b:hover { background: #fefefe }",
        {"accent.hover"}, 0,
    ),
    "a mixture in a space of its own": (
        "<p>Words enough to be the page<p class=m>mixed",
        "body { background: #fff; color: #222 } .m { color: color-mix(in hsl, #a0c8ff, #c8ffa0) }",
        {"blue-text", "pale-green-text"}, 0,
    ),
    "half faded black is never enough": ("<p>Words<p style='opacity: .4'>faded", "body { color: #000 }", set(), 1),
}  # fmt: skip


@pytest.mark.parametrize("name", CASES)
def test_everything_that_can_read_reads_and_little_moves(name: str) -> None:
    page, css, roles, left = CASES[name]
    known, study = known_study(page, css)
    read_before = set(range(len(known.survey.pairings))) - failing(known, study)
    mended = mend_all(known, study)
    assert {move.role for move in mended.moved} <= roles
    assert mended.failing_after == left == len({run for one in mended.left for run in one.runs})
    assert not failing(known, mended.study) & read_before, "nothing that read is harmed"
    assert bool(mended.moved) is (mended.failing_before > mended.failing_after)


def test_a_colour_near_a_role_that_reads_is_taken_in_where_it_does_not() -> None:
    known, study = known_study(
        "<p>words enough that the role takes their colour<p class=b>nearly",
        "body { background: #fff } p { color: #767676 } .b { color: #777777 }",
    )
    assert len(failing(known, study)) == 1, "#777777 on white is 4.48"
    mended = mend_all(known, study)
    assert mended.failing_after == 0 and not failing(known, mended.study)
    assert [(move.role, move.delta_e_ok) for move in mended.moved] == [("text", 0.0)]


def test_locks_stay_and_what_they_cost_is_named() -> None:
    known, study = known_study(
        "<p class=q>faint words on the page, all of them", "body { background: #fff } .q { color: #aaa }"
    )
    words = next(role.id for role in study.roles if role.value == "#aaaaaa")
    free = mend_all(known, study)
    assert [move.role for move in free.moved] == [words]
    locked = mend_all(known, study, [words])
    assert all(move.role != words for move in locked.moved)
    both = mend_all(known, study, [role.id for role in study.roles])
    assert (both.moved, both.failing_after) == ([], both.failing_before)
    (left,) = both.left
    assert words in left.locks and left.give is not None
    given = study.with_values({left.give[0]: left.give[1].hex()})
    assert not failing(known, given), "what it says would be enough is enough"
    with pytest.raises(StudyError, match="no role “nowhere”"):
        mend_all(known, study, ["nowhere"])


@pytest.mark.prove
def test_sample_site_is_mended_as_far_as_it_can_be(
    capsys: pytest.CaptureFixture[str], otterlock: Path, tmp_path: Path
) -> None:
    out = tmp_path / "mended.zip"
    status = cli.main(
        ["mend", str(otterlock), "--lock", "accent", "--states", "rest,hover", "--out", str(out), "--format", "json"]
    )
    report = json.loads(capsys.readouterr().out)
    jsonschema.validate(report, _SCHEMA)
    assert status == 1 and report["failing_after"] < report["failing_before"] / 3
    assert "accent" not in {one["role"] for one in report["moved"]}
    assert sum(len(one["runs"]) for one in report["impossible"]) >= report["failing_after"]
    # read again, the site that came out fails where the report says, and nowhere else
    named = {(run["page"], run["path"]) for one in report["impossible"] for run in one["runs"]}
    found = set()
    for width in ("1280", "390"):
        for state in ("rest", "hover"):
            cli.main(["audit", str(out), "--width", width, "--state", state, "--format", "json"])
            rows = json.loads(capsys.readouterr().out)["runs"]
            found |= {(row["page"], row["path"]) for row in rows if row["verdict"] == "fail"}
    assert found == named
    assert len(found) == report["failing_after"]


_RUNS = {"type": "array", "items": {"type": "object", "required": ["page", "path"]}}
_SCHEMA = {
    "type": "object",
    "required": ["format", "level", "failing_before", "failing_after", "moved", "impossible"],
    "properties": {
        "moved": {"items": {"type": "object", "required": ["role", "from", "to", "delta_e_ok", "runs"]}},
        "impossible": {
            "items": {
                "required": ["locks", "pairings", "least_to_give", "runs"],
                "properties": {"runs": _RUNS, "pairings": {"type": "integer"}},
            }
        },
    },
}
