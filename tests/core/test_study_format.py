"""Study documents: formats 1 and 2 lifted as they were written, what format 3 refuses, the schema it has."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import jsonschema
import pytest

from glaucon.core.errors import StudyError
from glaucon.core.proposal.known import KnownSite
from glaucon.core.study.study import Study, read_study
from glaucon.core.survey.site import read_site
from glaucon.core.survey.survey import survey_site
from tests.oracle import corpus

OLD = corpus.ROOT / "tests" / "data" / "studies"
SCHEMA = corpus.ROOT / "glaucon" / "core" / "exchange" / "study.schema.json"


@pytest.fixture(scope="module")
def otterlock() -> KnownSite:
    return KnownSite(survey_site(read_site(corpus.ROOT / "samples" / "otterlock")))


def old(format_: int) -> dict[str, Any]:
    return dict(json.loads((OLD / f"otterlock-{format_}.json").read_text("utf-8")))


LIFTED = {
    "link": ("link", "link", None, "rest", "main"),
    "link-visited": ("link.visited", "link", None, "visited", "main"),
    "accent-text-hover": ("accent-text.hover", "accent-text", None, "hover", "main"),
    "accent-hover-2": ("accent.hover.2", "accent", None, "hover", "detail"),
    "text-2": ("text.2", "text", None, "rest", "detail"),
    "ground-1": ("ground-1.background", "background", "ground-1", "rest", "main"),
    "ground-4-link-focus": ("ground-4.link.focus", "link", "ground-4", "focus", "main"),
    "ground-9": ("ground-9.background", "background", "ground-9", "rest", "detail"),
}


@pytest.mark.parametrize("name", LIFTED)
@pytest.mark.parametrize("format_", [1, 2])
def test_old_names_become_fields(format_: int, name: str) -> None:
    id_, *fields = LIFTED[name]
    document = old(format_)
    assert name in {role["name"] for role in document["roles"]}
    role = read_study(document).role(id_)
    assert [role.kind, role.coat, role.state, role.tier] == fields
    before = next(one for one in document["roles"] if one["name"] == name)
    assert (role.value, role.found) == (before["value"], before["found"])


@pytest.mark.parametrize("format_", [1, 2])
def test_a_lifted_study_changes_the_same_places_to_the_same_colours(otterlock: KnownSite, format_: int) -> None:
    document, study = old(format_), read_study(old(format_))
    assert study.format == 3 and study.aim == document.get("level", "AA")
    value_of = {role["name"]: role["value"] for role in document["roles"]}
    assert {key: study.role(id_).value for key, id_ in study.mapping.items()} == {
        key: value_of[name] for key, name in document["mapping"].items()
    }
    labels = [role.label for role in study.roles]
    assert len(set(labels)) == len(labels) and not any("pointed" in label or " ground" in label for label in labels)
    changed = {role.id for role in study.changed_roles()}
    assert changed >= {"link", "quiet"} and otterlock.read(study).texts > 283
    assert read_study(study.model_dump(mode="json")) == study


def test_ties_and_locks_come_along() -> None:
    study = read_study(old(2))
    assert study.role("accent").locked
    tie = study.role("quiet").tie
    assert tie is not None and (tie.to, tie.lighter, tie.came) == ("text", 0.25, False)


def test_what_is_written_keeps_to_the_published_schema(otterlock: KnownSite) -> None:
    schema = json.loads(SCHEMA.read_text("utf-8"))
    for study in (otterlock.first_study("First"), read_study(old(2))):
        jsonschema.validate(study.model_dump(mode="json"), schema)
    fresh = Study.model_json_schema()
    assert {name: schema[name] for name in fresh if name != "title"} == {k: v for k, v in fresh.items() if k != "title"}


ROLE = {"id": "text", "kind": "text", "label": "Text", "value": "#222222", "found": "#222222"}
WRONG: dict[str, tuple[dict[str, Any], str]] = {
    "a format to come": ({"format": 4, "name": "x", "roles": []}, "formats up to 3"),
    "a kind nobody knows": ({"format": 3, "name": "x", "roles": [{**ROLE, "kind": "ground"}]}, "kind"),
    "one id twice": ({"format": 3, "name": "x", "roles": [ROLE, ROLE]}, "same id"),
    "ids that become one in CSS": (
        {"format": 3, "name": "x", "roles": [{**ROLE, "id": "a.b"}, {**ROLE, "id": "a-b"}]}, "same in CSS",
    ),
    "a coat that is not there": ({"format": 3, "name": "x", "roles": [{**ROLE, "coat": "footer"}]}, "not a coat"),
    "a place under nothing": ({"format": 3, "name": "x", "roles": [ROLE], "mapping": {"a.css@1": "link"}}, "not a c"),
    "a scope on nothing": ({"format": 3, "name": "x", "roles": [ROLE], "worn": [{"in": {}}]}, "names a page"),
    "a scope on both": (
        {"format": 3, "name": "x", "roles": [ROLE], "worn": [{"in": {"section": "a", "part": "b"}}]}, "not both",
    ),
    "one element of no page": (
        {"format": 3, "name": "x", "roles": [ROLE], "worn": [{"in": {"part": "b", "at": "html"}}]}, "name it",
    ),
    "a coat worn that is not there": (
        {"format": 3, "name": "x", "roles": [ROLE], "worn": [{"in": {"page": "a.html"}, "coat": "lamp"}]}, "lamp",
    ),
    "a value for nothing": (
        {"format": 3, "name": "x", "roles": [ROLE], "worn": [{"in": {"page": "a"}, "set": {"hull": "#fff"}}]},
        "nothing that a scope can set",
    ),
    "no document": ([], "cannot be used"),  # type: ignore[dict-item]
}  # fmt: skip


@pytest.mark.parametrize("name", WRONG)
def test_what_breaks_the_format_is_said_in_a_sentence(name: str) -> None:
    document, says = WRONG[name]
    with pytest.raises(StudyError, match=says) as refused:
        read_study(document)
    assert str(refused.value).count("\n") == 0


def test_old_documents_are_small_enough_to_read(tmp_path: Path) -> None:
    broken = {**old(2), "roles": [{"name": "text"}]}
    with pytest.raises(StudyError, match=r"roles\.0"):
        read_study(broken)
