"""The list of texts and the ladder: what the audit report says, to the row."""

from __future__ import annotations

import csv
import io
import json
from pathlib import Path
from typing import Any

import pytest

from glaucon.core.exchange.reports.audit import context_report
from glaucon.core.exchange.reports.texts import COLUMNS, text_row, texts_file
from glaucon.core.known.site import KnownSite
from glaucon.core.seeing.lanes import lanes_of
from glaucon.core.seeing.texts import TextList, TextsWanted
from glaucon.core.study.scopes import Scope, Where
from glaucon.core.study.study import Study
from glaucon.core.survey.site import read_site
from glaucon.core.survey.survey import survey_site
from tests.oracle import corpus

SITES = ("otterlock", *(path.name for path in corpus.own_sites()))
REAL = ("clean-blog-6", "agency-7", "shop-homepage-5", "freelancer-7", "landing-page-6", "modern-business-5",
        "creative-7", "bamboo-css", "requests-doc", "sqlite3-doc", "octave-doc", "spectre-docs")  # fmt: skip
SAME = ("page", "path", "text", "size_px", "weight", "large", "colour", "background", "ratio", "required", "verdict")


def known_of(name: str) -> KnownSite:
    places = (corpus.ROOT / "samples" / name, corpus.OWN / name, corpus.FETCHED / name)
    folder = next((one for one in places if one.is_dir()), None)
    if folder is None:
        pytest.skip(f"{name} is not on this machine")
    return KnownSite(survey_site(read_site(folder)))


def row_of(row: dict[str, Any]) -> str:
    return json.dumps({name: row[name] for name in SAME}, sort_keys=True)


def hold_to_the_audit(known: KnownSite, study: Study) -> None:
    """The list asked for a width and state has the report's runs; the ladder what counts of all, each once."""
    reading = known.read(study)
    texts, said = TextList(reading), list(reading.readings)
    for context in reading.index.survey.sightings:
        _, rows = texts.rows(TextsWanted(state=context.state, width=context.width))
        report = context_report(reading.index.survey, context, study.aim, said)
        assert sorted(map(row_of, map(text_row, rows))) == sorted(map(row_of, report["runs"])), context
    counts = texts.counts(TextsWanted())
    assert (counts["fail"], counts["unsure"], sum(counts.values())) == (reading.hard, reading.unsure, reading.texts)
    lanes = lanes_of(known, study)
    assert len({lane.key for lane in lanes}) == len(lanes)
    standing = [one for lane in lanes for one in lane.standing]
    of = reading.groups.members
    assert sorted(one.pairings[0] for one in standing) == sorted(int(members[0]) for members in of)
    for one in standing:
        assert {said[row].verdict for row in one.pairings} == {one.verdict}
        assert one.ratio == said[one.pairings[0]].ratio
        margins = [(said[row].ratio or 0) / (said[row].required or 1) for row in one.pairings]
        assert margins[0] <= min(margins) + 0.01 or {said[row].ratio for row in one.pairings} == {None}


@pytest.mark.parametrize("name", SITES)
def test_list_and_ladder_are_the_audit_to_the_row(name: str) -> None:
    known = known_of(name)
    hold_to_the_audit(known, known.first_study("Proposed"))


@pytest.mark.prove
@pytest.mark.parametrize("name", REAL)
def test_list_and_ladder_are_the_audit_on_real_sites(name: str) -> None:
    known = known_of(name)
    hold_to_the_audit(known, known.first_study("Proposed"))


def test_list_and_ladder_go_by_what_places_wear(yard: KnownSite) -> None:
    study = yard.first_study("Proposed")
    coat = study.coats[0].id
    worn = Scope(where=Where(page="prices.html"), coat=coat)
    dressed = study.model_copy(update={"worn": (*study.worn, worn)})
    hold_to_the_audit(yard, dressed)
    assert any(lane.where == "prices.html" for lane in lanes_of(yard, dressed))


@pytest.fixture(scope="module")
def yard(otterlock: Path) -> KnownSite:
    return KnownSite(survey_site(read_site(otterlock)))


def test_what_is_wanted_is_what_is_listed(yard: KnownSite) -> None:
    texts = TextList(yard.read(yard.first_study("Proposed")))
    total, every = texts.rows(TextsWanted())
    assert total == len(every) == len({(row.run.page, row.run.path) for row in every}) == len(yard.survey.runs)
    held = {
        "page": lambda row: row.run.page == "prices.html",
        "verdict": lambda row: row.verdict.verdict == "fail",
        "words": lambda row: "heron" in row.run.text.lower(),
        "section": lambda row: row.section is not None and row.section.key == "footer",
        "kind": lambda row: row.kind == "heading",
        "is_large": lambda row: row.is_large,
    }
    given = {"page": "prices.html", "verdict": "fail", "words": "HERON", "section": "footer", "kind": "heading"}
    for name, value in given.items():
        count, rows = texts.rows(TextsWanted(**{name: value}))  # type: ignore[arg-type]
        assert 0 < count == len(rows) < total and all(map(held[name], rows)), name
        assert count == sum(map(held[name], every)), name
    sizes = [row.size_px for row in texts.rows(TextsWanted(by="size", is_backwards=True))[1]]
    assert sizes == sorted(sizes, reverse=True)
    words = [row.run.text.casefold() for row in texts.rows(TextsWanted(by="words"), 10, 30)[1]]
    assert len(words) == 30 and words == sorted(words)
    first, then = (texts.rows(TextsWanted(), start, 40)[1] for start in (0, 40))
    assert [*first, *then] == every[:80]


def test_files_hold_what_is_listed_and_no_formula(yard: KnownSite) -> None:
    _, rows = TextList(yard.read(yard.first_study("Proposed"))).rows(TextsWanted(verdict="fail"))
    told = json.loads(texts_file(rows, "json"))["texts"]
    assert [one["text"] for one in told] == [row.run.text for row in rows]
    for form, sign in (("csv", ","), ("table", "\t")):
        read = list(csv.DictReader(io.StringIO(texts_file(rows, form)), delimiter=sign))  # type: ignore[arg-type]
        assert [one["path"] for one in read] == [row.run.path for row in rows]
        assert list(read[0]) == list(COLUMNS)
