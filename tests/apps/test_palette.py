"""Palettes over HTTP: looked at, taken, edited, handed back; stale writes refused, every step undone."""

from __future__ import annotations

from typing import Any

import pytest

from tests.apps.conftest import Api


def study(owner: Api, slug: str) -> Any:
    return owner.get(f"/sites/{slug}/study").json()


def test_looking_writes_nothing_and_taking_is_one_undo(wren: Api, yard: str) -> None:
    before = study(wren, yard)
    look = wren.post(f"/sites/{yard}/proposal/look", {"within": 2.4}).json()
    as_is = wren.post(f"/sites/{yard}/proposal/look", {}).json()
    assert look["joining"] > as_is["joining"] and look["details"] < as_is["details"]
    shown = [role for role in before["roles"] if role["tier"] == "main" and role["state"] == "rest"]
    assert as_is["short_roles"] == len([role for role in shown if role["coat"] is None]) <= 9
    assert as_is["short_coats"] == len(before["coats"]) and as_is["covers"] > 0.9
    assert study(wren, yard)["base"] == before["base"]
    assert {colour["role"] for group in look["groups"] for colour in group["colours"]} <= {*look["labels"], None}
    page = wren.client.get(look["preview"] + "index.html")
    assert page.status_code == 200 and b"--gl-background" in wren.client.get(look["preview"] + "css/site.css").content
    taken = wren.act(yard, {"act": "use-palette", "within": 2.4, "merge": True}).json()
    details = [role for role in taken["roles"] if role["tier"] == "detail"]
    assert len(details) == look["details"] and any(role["taken"] for role in taken["roles"])
    assert taken["mapping"] != before["mapping"]
    back = wren.move(yard, "undo", base=taken["base"]["revision"]).json()
    assert (back["roles"], back["mapping"]) == (before["roles"], before["mapping"])


def test_places_of_a_colour_and_its_move_to_a_role_of_its_own(wren: Api, yard: str) -> None:
    places = wren.get(f"/sites/{yard}/places", colour="#22302b").json()
    body = next(place for place in places if place["file"] == "css/site.css")
    assert (body["line"], body["selector"], body["role"]) == (4, "body", "text")
    assert "color: #22302b" in body["text"] and body["texts"] > 20 and body["samples"]
    moved = wren.act(yard, {"act": "move-colours", "keys": [body["key"]], "new_label": "Ink"}).json()
    ink = next(role for role in moved["roles"] if role["label"] == "Ink")
    assert (ink["value"], ink["found_colours"]) == ("#22302b", ["#22302b"])
    move = {"act": "move-colours", "colours": ["#22302b"], "from_role": "ink", "to": None}
    again = wren.act(yard, move).json()
    assert next(role for role in again["roles"] if role["id"] == "ink")["found_colours"] == []
    assert wren.get(f"/sites/{yard}/places", colour="#22302b", role="ink").json() == []


STEPS = {
    "rename": ({"act": "rename-role", "role": "quiet", "to": "Small print"}, 200, ""),
    "add": ({"act": "add-role", "called": "Lamp", "value": "#f2c14e"}, 200, ""),
    "order": ({"act": "order-roles", "order": ["accent", "background"]}, 200, ""),
    "remove, answered": ({"act": "remove-role", "role": "quiet", "to": "text", "is_answered": True}, 200, ""),
    "remove, not answered": ({"act": "remove-role", "role": "quiet", "is_answered": False}, 422, "Choose the colour"),
    "remove what is not there": ({"act": "remove-role", "role": "nowhere"}, 422, "no role “nowhere”"),
    "add nothing": ({"act": "add-role", "called": " "}, 422, "needs a name"),
    "something else": ({"act": "explode"}, 422, "cannot be used"),
    "stale": ({"act": "rename-role", "role": "quiet", "to": "x"}, 409, "another window"),
}  # fmt: skip


@pytest.mark.parametrize("name", STEPS)
def test_roles_are_changed_or_refused_with_one_sentence(wren: Api, yard: str, name: str) -> None:
    change, status, says = STEPS[name]
    before = study(wren, yard)
    answer = wren.act(yard, change, base=7 if name == "stale" else 1)
    assert answer.status_code == status, answer.content
    if status == 200:
        assert study(wren, yard)["base"]["revision"] == 2
        wren.move(yard, "undo", base=2)
    else:
        assert says in answer.json()["message"]
    assert study(wren, yard)["roles"] == before["roles"]


@pytest.mark.parametrize("way", ["site", "addon", "variables", "tokens"])
def test_each_way_out_tells_what_it_holds_and_reads_as_promised(wren: Api, yard: str, way: str) -> None:
    wren.colour(yard, {"background": "#eef2ff", "quiet": "#5a5a4a"}, base=1)
    told = wren.get(f"/sites/{yard}/hand-back/{way}").json()
    data = wren.get(f"/sites/{yard}/hand-back/{way}/file")
    assert (told["bytes"], data.status_code) == (len(data.content), 200)
    assert told["filename"] in data["Content-Disposition"]
    assert way == "site" or told["text"].encode() == data.content
    if way in ("site", "addon"):
        checked = wren.post(f"/sites/{yard}/hand-back/{way}/check").json()
        assert checked["texts"] > 900 and (checked["right"], checked["examples"]) == (checked["texts"], [])
    if way == "site":
        few = wren.get(f"/sites/{yard}/hand-back/site", changed_only="true").json()
        assert few["bytes"] < told["bytes"] and "css/site.css" in few["changed"]
