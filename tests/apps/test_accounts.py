"""Signing up, in and out; the demo's visitor; whose site is it."""

from __future__ import annotations

import pytest
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


@pytest.mark.parametrize(("address", "signed_in"), [("127.0.0.1", True), ("192.0.2.7", False)])
def test_demo_signs_its_visitor_in_on_loopback_only(
    wren: Api, settings: Settings, address: str, signed_in: bool
) -> None:
    settings.GLAUCON_DEMO = True
    name = Client(REMOTE_ADDR=address).get("/api/session").json()["name"]
    assert name == ("wren" if signed_in else None)
