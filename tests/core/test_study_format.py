"""Study documents: what they refuse, the schema they have."""

from __future__ import annotations

import json
from typing import Any

import jsonschema
import pytest

from glaucon.core.errors import StudyError
from glaucon.core.known.site import KnownSite
from glaucon.core.study.study import Study, read_study
from glaucon.core.survey.site import read_site
from glaucon.core.survey.survey import survey_site
from tests.oracle import corpus

SCHEMA = corpus.ROOT / "glaucon" / "core" / "exchange" / "study.schema.json"


@pytest.fixture(scope="module")
def otterlock() -> KnownSite:
    return KnownSite(survey_site(read_site(corpus.ROOT / "samples" / "otterlock")))


def test_what_is_written_keeps_to_the_published_schema(otterlock: KnownSite) -> None:
    schema = json.loads(SCHEMA.read_text("utf-8"))
    study = otterlock.first_study("First")
    jsonschema.validate(study.model_dump(mode="json"), schema)
    assert read_study(study.model_dump(mode="json")) == study
    fresh = Study.model_json_schema()
    assert {name: schema[name] for name in fresh if name != "title"} == {k: v for k, v in fresh.items() if k != "title"}


ROLE = {"id": "text", "kind": "text", "label": "Text", "value": "#222222", "found": "#222222"}
WRONG: dict[str, tuple[dict[str, Any], str]] = {
    "a format to come": ({"format": 4, "name": "x", "roles": []}, "reads format 3"),
    "a format before the first": ({"format": 2, "name": "x", "roles": []}, "reads format 3"),
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
