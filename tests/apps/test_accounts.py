"""Signing up, in and out; the demo's visitor; whose site is it."""

from __future__ import annotations

import pytest
from django.core.cache import cache
from django.test import Client
from pytest_django import Settings

from tests.apps.conftest import Api

pytestmark = pytest.mark.django_db


def send(client: Client, method: str, path: str, **body: str):  # type: ignore[no-untyped-def]
    return getattr(client, method)(path, body, content_type="application/json")


def test_sign_up_out_and_in_again() -> None:
    client = Client()
    assert send(client, "post", "/api/account", name="Marl", password="lock keeper 9").json()["name"] == "Marl"
    assert client.get("/api/sites").status_code == 200
    assert client.delete("/api/session").json()["name"] is None
    assert client.get("/api/sites").status_code == 401
    assert send(client, "post", "/api/session", name="Marl", password="lock keeper 9").json()["name"] == "Marl"


@pytest.mark.parametrize(
    ("path", "name", "password", "words"),
    [
        ("/api/account", "wren", "long enough 7", "The name “wren” is taken"),
        ("/api/account", "Sedge", "short", "too short"),
        ("/api/account", "Sedge", "password", "too common"),
        ("/api/session", "wren", "wrong one", "Wrong name or password"),
    ],
)
def test_what_cannot_be_is_said_in_a_sentence(wren: Api, path: str, name: str, password: str, words: str) -> None:
    answer = send(Client(), "post", path, name=name, password=password)
    assert answer.status_code == 422
    assert words in answer.json()["message"]


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
    for path in ("/api/session", "/api/account"):
        assert send(client, "post", path, name="Sedge", password="lock keeper 9").status_code == 403
    token = client.get("/api/session").cookies["csrftoken"].value
    body = {"name": "Sedge", "password": "lock keeper 9"}
    own = client.post("/api/account", body, content_type="application/json", HTTP_X_CSRFTOKEN=token)
    assert own.status_code == 200


def test_passwords_cannot_be_tried_for_ever(wren: Api) -> None:
    wren.user.set_password("lock keeper 9")
    wren.user.save()
    cache.clear()
    tries = [send(Client(), "post", "/api/session", name="wren", password=f"guess {n}").status_code for n in range(12)]
    assert tries == [422] * 10 + [429] * 2
    assert send(Client(), "post", "/api/session", name="Wren", password="lock keeper 9").status_code == 429
    elsewhere = Client(REMOTE_ADDR="192.0.2.7")
    assert send(elsewhere, "post", "/api/session", name="wren", password="lock keeper 9").status_code == 200
    cache.clear()
    assert send(Client(), "post", "/api/session", name="wren", password="lock keeper 9").status_code == 200
