"""Every address of the API, as its own description lists them: who may ask, and what comes of nonsense."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any
from urllib.parse import urlencode

import pytest
from django.contrib.auth import get_user_model
from django.test import Client

from tests.apps.conftest import Api

DESCRIPTION = json.loads((Path(__file__).parents[2] / "docs" / "openapi.json").read_text("utf-8"))
OPERATIONS = [
    (method, path, operation)
    for path, methods in DESCRIPTION["paths"].items()
    for method, operation in methods.items()
]  # fmt: skip
# what somebody not signed in may ask: who they are, to be let in, and what says nothing of anybody
OPEN = {
    ("get", "/api/session"), ("delete", "/api/session"), ("get", "/api/mailbox"),
}  # fmt: skip
OF_A_SITE = [one for one in OPERATIONS if "{slug}" in one[1] or one[1].startswith("/api/jobs/")]
WRITES = [one for one in OPERATIONS if one[0] in ("post", "put") and "{slug}" in one[1] and "requestBody" in one[2]]
NONSENSE = (
    None,
    [],
    {},
    -1,
    10**15,
    "",
    "\x00",
    "red; } body { display: none",
    "x" * 5000,
    "<script>",
    [[]],
    {"a": {}},
)
ONE_SENTENCE = re.compile(r"[A-Z“].{5,400}[.?]\Z", re.DOTALL)


def named(one: tuple[str, str, Any]) -> str:
    return f"{one[0]} {one[1]}"


def address(path: str, slug: str = "no-such-yard") -> str:
    """Return an address with its places filled in."""
    places = {"slug": slug, "role": "text", "number": "1", "way": "site", "gone": slug}
    return re.sub(r"\{(\w+)\}", lambda found: places[found[1]], path)


def resolved(schema: dict[str, Any]) -> dict[str, Any]:
    """Return a schema with its reference, or the first of what it may be, put in."""
    while {"$ref", "anyOf", "oneOf"} & schema.keys():
        several = schema.get("anyOf") or schema.get("oneOf")
        schema = several[0] if several else DESCRIPTION["components"]["schemas"][
            schema["$ref"].rsplit("/", 1)[1]
        ]  # fmt: skip
    return schema


def fitting(schema: dict[str, Any]) -> Any:
    """Return something a schema allows."""
    schema = resolved(schema)
    if "enum" in schema or "const" in schema:
        return schema.get("const", (schema.get("enum") or [None])[0])
    kind = schema.get("type")
    if kind == "object":
        wanted = schema.get("required", [])
        return {name: fitting(one) for name, one in schema.get("properties", {}).items() if name in wanted}
    if kind == "array":
        return [fitting(schema["items"])] * schema.get("minItems", 0)
    least = schema.get("minimum", 1)
    return {"integer": least, "number": 0.1, "boolean": True, "string": "a"}.get(str(kind))


def body_of(operation: dict[str, Any]) -> dict[str, Any] | None:
    """Return the schema of an operation's body as JSON, None where it takes files."""
    content = operation.get("requestBody", {}).get("content", {})
    return resolved(content["application/json"]["schema"]) if "application/json" in content else None


def asked_for(operation: dict[str, Any]) -> str:
    """Return what an operation must be asked for in its address, as a query."""
    wanted = [one for one in operation.get("parameters", []) if one["in"] == "query" and one.get("required")]
    return "?" + urlencode({one["name"]: fitting(one["schema"]) for one in wanted}) if wanted else ""


def ask(client: Client, method: str, path: str, body: Any = None) -> Any:
    if method in ("post", "put"):
        return getattr(client, method)(path, json.dumps(body or {}), content_type="application/json")
    return getattr(client, method)(path)


@pytest.mark.parametrize("one", [o for o in OPERATIONS if o[:2] not in OPEN], ids=named)
def test_nobody_is_let_in_unasked(db: None, one: tuple[str, str, Any]) -> None:
    method, path, operation = one
    answer = ask(Client(), method, address(path), fitting(body_of(operation) or {}))
    assert (answer.status_code, answer.json()["code"]) == (401, "signed-out")
    assert ONE_SENTENCE.match(answer.json()["message"])


def test_a_site_of_someone_else_is_as_if_it_were_not_there(stranger: Api, yard: str) -> None:
    """The very same answer as for a site that does not exist, whatever is asked of it."""
    for method, path, operation in OF_A_SITE:
        body = fitting(body_of(operation) or {})
        theirs, nothing = (
            ask(stranger.client, method, address(path, slug) + asked_for(operation), body)
            for slug in (yard, "no-such-yard")
        )
        takes_a_file = "requestBody" in operation and body_of(operation) is None
        assert theirs.status_code == (422 if takes_a_file else 404), (method, path)
        assert theirs.json() == json.loads(nothing.content.decode().replace("no-such-yard", yard)), (method, path)
    assert stranger.get("/sites").json() == []


def nonsense_for(schema: dict[str, Any]) -> Iterator[dict[str, Any]]:
    """Yield bodies in which one thing is nonsense and the rest fits."""
    for name in schema.get("properties", {}):
        for wrong in NONSENSE:
            yield {**fitting(schema), name: wrong}


# long work where what is sent fits after all; what they take, others take too
LONG = ()


def test_nonsense_is_answered_in_one_sentence_and_changes_nothing(wren: Api, yard: str) -> None:
    before = wren.get(f"/sites/{yard}/study").json()
    for method, path, operation in WRITES:
        schema = body_of(operation)
        if schema is None or path.endswith(LONG):
            continue
        refused = 0
        for body in nonsense_for(schema):
            answer = ask(wren.client, method, address(path, yard), body)
            assert answer.status_code < 500, (path, body)
            if answer.status_code < 400:
                continue
            refused += 1
            told = answer.json()["message"]
            assert ONE_SENTENCE.match(told), (path, body, told)
            assert "Traceback" not in told and "Error" not in told, (path, body, told)
        assert refused >= len(NONSENSE) // 2, path
        after = wren.get(f"/sites/{yard}/study").json()
        while after["base"] != before["base"] and after["can_undo"]:  # what was no nonsense after all is a step
            after = wren.move(yard, "undo").json()
        assert {**after, "can_redo": False, "base": 0} == {**before, "can_redo": False, "base": 0}, path


# (what the request says it is, what comes): no browser sends such, and nothing breaks at it
NO_REQUESTS = [
    ("multipart/form-data", b"a=1"),
    ("multipart/form-data; boundary=x", b"--x\r\nContent-Disposition: form-data; name=a; filename=b\r\n\r\n"),
    ("application/x-www-form-urlencoded", b"&".join(b"a%d=1" % n for n in range(2000))),
    ("application/json; charset=utf-99", b"["),
    ("application/json", b'{"base": "\xff\xfe"}'),
    ("text/plain", b"\x00"),
    ("", b"{"),
]


@pytest.mark.parametrize("strict", [False, True])
def test_what_is_no_request_is_refused(wren: Api, yard: str, strict: bool) -> None:
    """Also where the word against forged requests has to be looked for in it."""
    asking = Client(enforce_csrf_checks=strict)
    asking.force_login(get_user_model().objects.get(username="wren"))
    for method, path, _ in WRITES:
        for kind, body in NO_REQUESTS:
            answer = asking.generic(method.upper(), address(path, yard), body, content_type=kind)
            assert 400 <= answer.status_code < 500, (path, kind, answer.status_code)
            assert ONE_SENTENCE.match(answer.json()["message"]), (path, kind, answer.content)
