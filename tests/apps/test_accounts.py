"""Accounts: signing up, in and out, what is confirmed, changed and forgotten; the demo's visitor and mailbox."""

from __future__ import annotations

import base64
import hmac
import io
import json
import re
import struct
import time
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any
from urllib.parse import unquote

import pytest
from django.contrib.auth import get_user_model
from django.core import mail
from django.core.cache import cache
from django.db import connection
from django.test import Client
from pytest_django import Settings

from glaucon.apps.bringing.tidying import tidy
from tests.apps.conftest import Api, zipped

pytestmark = pytest.mark.django_db


@pytest.fixture(autouse=True)
def _nothing_tried(db: None) -> None:
    cache.clear()  # what was tried in another test


def send(client: Client, method: str, path: str, **body: Any) -> Any:
    return getattr(client, method)(path, body or None, content_type="application/json")


AUTH = "/auth/browser/v1"
WORD = "lock keeper 9"


def asked(client: Client, way: str, method: str = "post", **body: Any) -> Any:
    return send(client, method, f"{AUTH}/{way}", **body)


def key_in(letter: Any, what: str) -> str:
    found = re.search(rf"/account/{what}/(\S+)", letter.body)
    assert found is not None, letter.body
    return unquote(found.group(1))


def signed_up(address: str) -> Client:
    """Return the browser of somebody who has signed up and confirmed their address."""
    client = Client()
    assert asked(client, "auth/signup", email=address, password=WORD).status_code == 401
    assert asked(client, "auth/email/verify", key=key_in(mail.outbox[-1], "confirm")).status_code == 200
    return client


def test_sign_up_confirm_out_and_in_again() -> None:
    client = Client()
    pending = asked(client, "auth/signup", email="marl@yard.example", password=WORD)
    flows = [one["id"] for one in pending.json()["data"]["flows"] if one.get("is_pending")]
    assert (pending.status_code, flows, client.get("/api/sites").status_code) == (401, ["verify_email"], 401)
    letter = mail.outbox[-1]
    assert letter.subject == "Welcome to Glaucon: confirm your address" and letter.to == ["marl@yard.example"]
    assert asked(client, "auth/email/verify", key=key_in(letter, "confirm")).status_code == 200
    assert client.get("/api/session").json()["name"] == "marl@yard.example"
    assert client.delete("/api/session").json()["name"] is None
    assert client.get("/api/sites").status_code == 401
    assert asked(client, "auth/login", email="Marl@yard.example", password=WORD).status_code == 200
    assert client.get("/api/sites").status_code == 200
    # somebody who tries it again learns nothing; the owner is told
    cache.clear()
    other = asked(Client(), "auth/signup", email="marl@yard.example", password=WORD)
    assert other.status_code == 401 and mail.outbox[-1].subject == "You have an account already"


@pytest.mark.parametrize(
    ("way", "address", "password", "status"),
    [
        ("auth/signup", "no address", WORD, 400), ("auth/signup", "sedge@yard.example", "short", 400),
        ("auth/signup", "sedge@yard.example", "password", 400), ("auth/login", "nobody@yard.example", WORD, 400),
    ],
)  # fmt: skip
def test_what_cannot_be_is_said(way: str, address: str, password: str, status: int) -> None:
    answer = asked(Client(), way, email=address, password=password)
    assert answer.status_code == status and answer.json()["errors"][0]["message"]


def test_a_forgotten_password_is_set_anew_and_every_sign_in_ends() -> None:
    elsewhere = signed_up("marl@yard.example")
    assert asked(Client(), "auth/password/request", email="nobody@yard.example").status_code == 200
    assert mail.outbox[-1].subject == "There is no account for this address"
    client = Client()
    assert asked(client, "auth/password/request", email="marl@yard.example").status_code == 200
    key = key_in(mail.outbox[-1], "reset")
    assert asked(client, "auth/password/reset", key=key, password="tunnel mouth 4").status_code in (200, 401)
    assert asked(Client(), "auth/login", email="marl@yard.example", password=WORD).status_code == 400
    assert asked(Client(), "auth/login", email="marl@yard.example", password="tunnel mouth 4").status_code == 200
    assert elsewhere.get("/api/sites").status_code == 401
    assert asked(Client(), "auth/password/reset", key=key, password="tunnel mouth 5").status_code == 400


def test_password_and_address_are_changed() -> None:
    client = signed_up("marl@yard.example")
    wrong = asked(client, "account/password/change", current_password="guess", new_password="tunnel mouth 4")
    assert wrong.status_code == 400
    right = asked(client, "account/password/change", current_password=WORD, new_password="tunnel mouth 4")
    assert right.status_code == 200 and mail.outbox[-1].subject == "Your password was changed"
    assert asked(client, "account/email", email="marl@lock.example").status_code == 200
    letter = mail.outbox[-1]
    assert letter.to == ["marl@lock.example"] and client.get("/api/session").json()["name"] == "marl@yard.example"
    asked(client, "auth/email/verify", key=key_in(letter, "confirm"))
    assert client.get("/api/session").json()["name"] == "marl@lock.example"


def test_all_other_sign_ins_are_ended() -> None:
    client, other = signed_up("marl@yard.example"), Client()
    asked(other, "auth/login", email="marl@yard.example", password=WORD)
    sessions = send(client, "get", f"{AUTH}/auth/sessions").json()["data"]
    others = [one["id"] for one in sessions if not one["is_current"]]
    assert len(sessions) == 2 and other.get("/api/sites").status_code == 200
    assert asked(client, "auth/sessions", "delete", sessions=others).status_code == 200
    assert (client.get("/api/sites").status_code, other.get("/api/sites").status_code) == (200, 401)


def test_a_second_step_is_asked_for_once_it_is_set_up() -> None:
    client = signed_up("marl@yard.example")
    asked_for = send(client, "get", f"{AUTH}/account/authenticators/totp")
    secret = asked_for.json()["meta"]["secret"]
    assert asked_for.status_code == 404
    drawn = client.get("/api/account/second-step.svg")
    assert drawn.status_code == 200 and b"<svg" in drawn.content[:200]
    assert asked(client, "auth/reauthenticate", password=WORD).status_code == 200
    assert asked(client, "account/authenticators/totp", code="000000").status_code == 400
    assert asked(client, "account/authenticators/totp", code=code_now(secret)).status_code == 200
    spare = send(client, "get", f"{AUTH}/account/authenticators/recovery-codes").json()["data"]["unused_codes"]
    there = Client()
    pending = asked(there, "auth/login", email="marl@yard.example", password=WORD)
    flows = [one["id"] for one in pending.json()["data"]["flows"] if one.get("is_pending")]
    assert (pending.status_code, flows, there.get("/api/sites").status_code) == (401, ["mfa_authenticate"], 401)
    assert asked(there, "auth/2fa/authenticate", code="123456").status_code == 400
    assert asked(there, "auth/2fa/authenticate", code=spare[0]).status_code == 200
    assert there.get("/api/sites").status_code == 200


def code_now(secret: str) -> str:
    """Return the code of an app at this moment (RFC 6238)."""
    counter = struct.pack(">Q", int(time.time()) // 30)
    digest = hmac.new(base64.b32decode(secret), counter, "sha1").digest()
    number = struct.unpack(">I", digest[digest[-1] & 15 :][:4])[0] & 0x7FFFFFFF
    return f"{number % 1_000_000:06d}"


def test_all_that_is_an_owners_goes_with_the_account(otterlock: Path, settings: Settings) -> None:
    client = signed_up("marl@yard.example")
    api = Api("stranger")
    api.client, api.user = client, get_user_model().objects.get(email="marl@yard.example")
    words = "<p>Only the heron of Marl knows of this mooring</p>"
    job = api.bring(zipped({"index.html": f"<title>Heron</title>{words}".encode()}), "heron.zip").json()
    api.colour(job["site"], {"text": "#123456"})
    archive = zipfile.ZipFile(io.BytesIO(api.get("/account/data").content))
    names = archive.namelist()
    assert f"{job['site']}/site/index.html" in names and any(name.endswith("First study.json") for name in names)
    assert json.loads(archive.read("account.json"))["address"] == "marl@yard.example"
    wrong = client.delete("/api/account", {"password": "guess"}, content_type="application/json")
    assert wrong.status_code == 422 and "nothing was deleted" in wrong.json()["message"]
    ended = client.delete("/api/account", {"password": WORD}, content_type="application/json")
    assert ended.json()["name"] is None
    tidy(seconds=0)
    data = Path(settings.DATA_DIR)
    left = [path for path in data.rglob("*") if path.is_file() and b"heron of Marl" in path.read_bytes()]
    assert left == [] and not get_user_model().objects.filter(email__contains="marl").exists()
    with connection.cursor() as cursor:
        tables = [row[0] for row in cursor.execute("SELECT name FROM sqlite_master WHERE type = 'table'").fetchall()]
        for table in tables:
            told = repr(cursor.execute(f'SELECT * FROM "{table}"').fetchall())
            assert "marl@" not in told and "heron" not in told, table


@pytest.mark.parametrize(
    ("address", "host", "signed_in"),
    [("127.0.0.1", "localhost:8000", True), ("192.0.2.7", "localhost:8000", False), ("127.0.0.1", "testserver", False)],
)
def test_demo_signs_its_visitor_in_on_loopback_only(
    wren: Api, settings: Settings, address: str, host: str, signed_in: bool
) -> None:
    settings.GLAUCON_DEMO = True
    name = Client(REMOTE_ADDR=address, HTTP_HOST=host).get("/api/session").json()["name"]
    assert name == ("wren" if signed_in else None)
    # and nobody whom a proxy on this machine speaks for
    for header in ("X_FORWARDED_FOR", "X_FORWARDED_PROTO", "FORWARDED", "VIA", "X_REAL_IP"):
        told = Client(REMOTE_ADDR=address, HTTP_HOST=host, **{f"HTTP_{header}": "203.0.113.7"})
        if host != "testserver":
            assert told.get("/api/session").json()["name"] is None, header


def test_another_name_that_leads_here_reads_nothing(wren: Api) -> None:
    for path in ("/api/session", "/", "/static/none.js", "/live/yard/"):
        assert Client(HTTP_HOST="elsewhere.example").get(path).status_code == 400, path


def test_a_form_of_another_site_signs_nobody_in_or_up() -> None:
    client = Client(enforce_csrf_checks=True)
    for way in ("auth/login", "auth/signup"):
        assert asked(client, way, email="sedge@yard.example", password=WORD).status_code == 403
    token = client.get("/api/session").cookies["csrftoken"].value
    body = {"email": "sedge@yard.example", "password": WORD}
    own = client.post(f"{AUTH}/auth/signup", body, content_type="application/json", HTTP_X_CSRFTOKEN=token)
    assert own.status_code == 401  # an address to confirm


def _tries(way: Callable[[int], tuple[str, str]]) -> list[str]:
    cache.clear()
    return [
        asked(Client(REMOTE_ADDR=address), "auth/login", email=name, password=f"guess {n}").json()["errors"][0]["code"]
        for n in range(25) for address, name in [way(n)]
    ]  # fmt: skip


def test_passwords_cannot_be_tried_for_ever() -> None:
    signed_up("marl@yard.example")
    # one name from many addresses, many names from one address; counted by address and by name, in the database
    by_name = _tries(lambda n: (f"192.0.2.{n}", "marl@yard.example"))
    by_address = _tries(lambda n: ("192.0.2.9", f"name{n}@yard.example"))
    assert (by_name.index("too_many_login_attempts"), by_address.index("too_many_login_attempts")) == (10, 20)
    with connection.cursor() as cursor:
        assert cursor.execute("SELECT count(*) FROM glaucon_cache").fetchone()[0] > 20
    cache.clear()
    assert asked(Client(), "auth/login", email="marl@yard.example", password=WORD).status_code == 200


def test_letters_of_the_demo_are_read_on_this_machine_only(settings: Settings) -> None:
    settings.EMAIL_BACKEND = "glaucon.apps.accounts.mailbox.MailboxBackend"
    asked(Client(), "auth/signup", email="sedge@yard.example", password=WORD)
    here = {"REMOTE_ADDR": "127.0.0.1", "HTTP_HOST": "localhost"}
    assert Client(**here).get("/api/mailbox").status_code == 404
    settings.GLAUCON_DEMO = True
    assert [one["to"] for one in Client(**here).get("/api/mailbox").json()] == ["sedge@yard.example"]
    for other in ({"REMOTE_ADDR": "192.0.2.7"}, {"HTTP_X_FORWARDED_FOR": "127.0.0.1"}, {"HTTP_HOST": "testserver"}):
        assert Client(**{**here, **other}).get("/api/mailbox").status_code == 404
