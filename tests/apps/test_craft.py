"""Colour craft over the API: studies, ties, locks, swap, made palettes, pictures, the sheet; undo to the very start."""

from __future__ import annotations

import json
import random
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from glaucon.apps.studies.models import Revision, Study
from tests.apps.conftest import Api, colours, zipped
from tests.core.test_colour_craft import HULL, painted, saved
from tests.running import running


def values_of(revision: dict[str, Any]) -> dict[str, str]:
    return {role["id"]: role["value"] for role in revision["roles"]}


def test_a_tie_is_made_followed_and_kept_out_of_circles(wren: Api, yard: str) -> None:
    tie = {"act": "tie-role", "role": "quiet", "tie": {"to": "text", "lighter": 0.2}}
    tied = wren.act(yard, tie).json()
    role = next(role for role in tied["roles"] if role["id"] == "quiet")
    assert role["tie"]["to"] == "text" and role["value"] != "#8c8a78"
    draft = wren.draft(yard, *colours({"text": "#5a1020"}))
    moved = wren.colour(yard, {"text": "#5a1020"}, base=2).json()
    assert values_of(moved)["quiet"] == draft["tied"]["quiet"] != role["value"]
    back = {"act": "tie-role", "role": "text", "tie": {"to": "quiet"}}
    refused = wren.act(yard, back)
    assert refused.status_code == 422 and "in a circle" in refused.json()["message"]
    cut = wren.act(yard, {**tie, "tie": None}).json()
    assert values_of(cut) == values_of(moved)


def test_fixing_shows_and_takes_some_as_one_edit(wren: Api, yard: str) -> None:
    before = wren.get(f"/sites/{yard}/study").json()
    found = wren.search(yard, "fix-all").json()
    changes = {(one["role"], bool(one["tokens"])): one for one in found["changes"]}
    assert found["after"] < found["before"] / 4 and Revision.objects.count() == 1, "looking writes nothing"
    part = next(one for one in found["changes"] if one["tokens"])
    assert part["where"] and set(part["wear"].values()) == {part["after"]}
    assert all(one["why"].endswith(".") for one in found["left"])
    taken = {
        "act": "fix",
        "values": {"quiet": changes["quiet", False]["after"]},
        "parts": [{"role": part["role"], "where": part["where"], "colour": part["after"], "tokens": part["tokens"]}],
        "fades": {found["fades"][0]["selector"]: found["fades"][0]["opacity"]},
    }
    after = wren.act(yard, taken).json()
    labels = {role["label"] for role in after["roles"]} - {role["label"] for role in before["roles"]}
    assert len(labels) == 1 and len(labels.pop()) <= 24
    assert values_of(after)["quiet"] == taken["values"]["quiet"] and after["fades"]
    assert after["reading"]["hard_texts"] < before["reading"]["hard_texts"]
    assert after["mapping"] != before["mapping"], "what the part covers is mapped to it"
    assert wren.move(yard, "undo", base=2).json()["reading"] == before["reading"]
    stale = wren.act(yard, taken, base=2)
    assert stale.status_code == 409


def test_rules_for_what_the_palette_cannot_reach_go_into_the_own_css(wren: Api) -> None:
    page = (
        "<!doctype html><title>Quay</title><link rel=stylesheet href=a.css><main><h2>Boats</h2>"
        f"{'<p>Dark words on white.</p>' * 6}<p class=late>Tied up till March</p></main>"
        "<section class=mist><p>Boats in the mist</p></section>"
    )
    css = (
        "body { background: #fff; color: #222 } .late { color: GrayText } .mist { position: relative } "
        ".mist::after { content: ''; position: absolute; inset: 0; background: #fffb }"
    )
    site = wren.bring(zipped({"index.html": page.encode(), "a.css": css.encode()})).json()["site"]
    before = wren.act(site, {"act": "write-css", "css": "h2 { color: #333 }"}).json()
    found = wren.search(site, "fix-all").json()
    assert before["reading"]["hard_texts"] == 2 and found["changes"] == []
    assert {one["samples"][0]: one["ways"] for one in found["rules"]} == {
        "Tied up till March": ["colour"], "Boats in the mist": ["lift"],
    }  # fmt: skip
    assert found["left"] == []
    rules = [one["css"] for one in found["rules"]]
    after = wren.act(site, {"act": "fix", "rules": rules}).json()
    assert after["reading"]["hard_texts"] == 0
    kept = wren.get(f"/sites/{site}/own-css").json()
    assert kept["css"] == "\n".join(["h2 { color: #333 }", *rules]) and kept["problems"] == []
    assert wren.search(site, "fix-all").json()["rules"] == []
    refused = wren.act(site, {"act": "fix", "rules": ["b { color: red"]})
    assert refused.status_code == 422 and "does not parse" in refused.json()["message"]
    wren.act(site, {"act": "write-css", "css": "h2 { color: "})
    assert wren.search(site, "fix-all").json()["rules"] == [], "nothing can go after what does not parse"
    refused = wren.act(site, {"act": "fix", "rules": rules})
    assert refused.status_code == 422 and "Correct it first" in refused.json()["message"]


def test_fixing_keeps_locks_and_says_what_they_cost(wren: Api, yard: str) -> None:
    free = wren.search(yard, "fix-all").json()
    wren.act(yard, {"act": "lock-role", "role": "quiet", "is_locked": True})
    held = wren.search(yard, "fix-all").json()
    assert "quiet" not in {one["role"] for one in held["changes"]} and held["after"] > free["after"]
    assert any("Quiet text" in one["locks"] for one in held["left"])


def test_the_aim_is_the_studys_own(wren: Api, yard: str) -> None:
    plain = wren.get(f"/sites/{yard}/study").json()
    aimed = wren.act(yard, {"act": "set-aim", "aim": "AAA"}).json()
    assert aimed["aim"] == "AAA" and aimed["reading"]["hard_texts"] > plain["reading"]["hard_texts"]
    copy = wren.copy(yard, "Copy").json()
    assert copy["hard_texts"] == aimed["reading"]["hard_texts"]
    assert wren.move(yard, "undo", base=2).json()["reading"] == plain["reading"]


def test_studies_are_copied_opened_compared_and_put_away(wren: Api, stranger: Api, yard: str) -> None:
    first = wren.get(f"/sites/{yard}/studies").json()[0]
    made = wren.copy(yard, "Deep", *colours({"background": "#14342b"})).json()
    assert (made["is_open"], made["hard_texts"] > first["hard_texts"]) == (False, True)
    one, other = str(first["base"]["study"]), str(made["base"]["study"])
    compared = wren.get(f"/sites/{yard}/compare", one=one, other=other).json()
    assert [role["colours"] for role in compared["roles"]] == [["#fbf7ef", "#14342b"]]
    assert compared["sides"][1]["pages"] != compared["sides"][0]["pages"]
    step = f"/sites/{yard}/studies/{made['base']['study']}"
    assert [one["is_open"] for one in wren.post(step, {"what": "open"}).json()] == [False, True]
    assert wren.get(f"/sites/{yard}/study").json()["study"] == "Deep"
    assert wren.post(step, {"what": "rename", "name": " "}).status_code == 422
    wren.post(step, {"what": "rename", "name": "Deeper"})
    after = wren.post(step, {"what": "delete"}).json()
    assert [(one["name"], one["is_open"], one["is_deleted"]) for one in after] == [
        ("First study", True, False), ("Deeper", False, True),
    ]  # fmt: skip
    last = wren.post(f"/sites/{yard}/studies/{first['base']['study']}", {"what": "delete"})
    assert last.status_code == 409 and "only study" in last.json()["message"]
    assert wren.post(step, {"what": "open"}).status_code == 409
    assert not wren.post(step, {"what": "bring-back"}).json()[1]["is_deleted"]
    assert stranger.get(f"/sites/{yard}/studies").status_code == 404
    assert stranger.post(step, {"what": "delete"}).status_code == 404


@pytest.mark.prove
def test_a_made_palette_changes_nothing_until_it_is_kept(wren: Api, yard: str) -> None:
    made = wren.search(yard, "palette", colours=["#7a3fe0"], direction=0).json()
    ((role, value),) = made["given"].items()
    assert made["values"][role] == value == "#7a3fe0" and "Your violet on" in made["about"] and not made["is_blocked"]
    assert Revision.objects.count() == 1
    given = {**made["given"], "yours": "#123456"}
    parts = [
        {"role": one["role"], "colour": one["after"], "tokens": one["tokens"], "where": one["where"]}
        for one in made["parts"]
    ]
    places = [{"place": one["there"]["place"], "values": one["there"]["values"]} for one in made["places"]]
    worn = {"act": "wear-palette", "values": made["values"], "given": given, "parts": parts, "places": places}
    kept = wren.copy(yard, made["name"], {**worn, "fades": made["fades"]}, is_opened=True).json()
    assert kept["hard_texts"] == made["hard_texts"]
    worn = wren.get(f"/sites/{yard}/study").json()
    assert {**made["values"], "yours": "#123456"}.items() <= values_of(worn).items()  # parts are roles besides
    assert {one["id"] for one in worn["roles"] if one["locked"]} == {role, "yours"}


def test_what_no_palette_is_made_from_is_told(wren: Api, yard: str) -> None:
    for body, words in (
        ({"colours": []}, "Give one to 5 colours; 0 were given"),
        ({"colours": ["reddish"]}, "“reddish” is not a colour"),
        ({"colours": ["red"], "direction": 99}, "There are 6 directions"),
        ({"colours": ["red"], "places": {"mast": "red"}}, "no role “mast”"),
        ({"starting": "Winter sale"}, "no starting palette called “Winter sale”"),
    ):
        answer = wren.search(yard, "palette", **body)
        assert answer.status_code == 422 and words in answer.json()["message"]


@pytest.mark.prove
def test_a_colour_goes_where_it_is_wished(wren: Api, yard: str) -> None:
    asked = {"colours": ["#7a3fe0"], "direction": 0}
    free, wished = (
        wren.search(yard, "palette", **asked, **places).json() for places in ({}, {"places": {"heading": "#7a3fe0"}})
    )
    assert wished["given"] == {"heading": "#7a3fe0"} and wished["values"]["heading"] == "#7a3fe0"
    assert "heading" not in free["given"]


def test_pictures_palettes_and_the_sheet(wren: Api, yard: str) -> None:
    pictures = wren.get(f"/sites/{yard}/pictures").json()
    found = wren.get(f"/sites/{yard}/pictures/colours?path={pictures[0]['path']}").json()
    assert found["colours"] and abs(sum(one["share"] for one in found["colours"]) - 1) < 0.2
    upload = SimpleUploadedFile("hull.png", saved(painted(HULL), "PNG"), content_type="image/png")
    read = wren.client.post("/api/pictures/colours", {"picture": upload}).json()
    assert read["colours"][0]["colour"] == "#14342b"
    bad = wren.client.post("/api/pictures/colours", {"picture": SimpleUploadedFile("x.png", b"nothing")})
    assert bad.status_code == 422 and "cannot read that picture" in bad.json()["message"]
    assert wren.post("/palette/read", {"text": "#fff, teal #000"}).json()[0]["colour"] == "#ffffff"
    sheet = wren.get(f"/sites/{yard}/sheet").json()
    text = next(role for role in sheet["roles"] if role["id"] == "text")
    assert (text["hex"], text["rgb"], text["hsl"]) == ("#22302b", "rgb(34 48 43)", "hsl(159 17% 16%)")
    assert text["oklch"].startswith("oklch(29.") and sheet["pairs"]
    assert {pair["use"] for pair in sheet["pairs"]} <= {
        "all text, AAA (strict)", "all text, AA (normal)", "large text only", "not for text",
    }  # fmt: skip


def test_a_swap_is_one_step_back(wren: Api, yard: str) -> None:
    before = wren.get(f"/sites/{yard}/study").json()
    places = wren.search(yard, "swap-places", colour="#14342b").json()["places"]
    assert len(places) > 3 and all(place["colour"] == "#14342b" for place in places)
    some = [place["key"] for place in places][:2]
    swapped = wren.act(yard, {"act": "swap", "keys": some, "to": "#512a0f"}).json()
    left = wren.search(yard, "swap-places", colour="#14342b").json()["places"]
    assert len(left) == len(places) - 2
    undone = wren.move(yard, "undo", base=swapped["base"]["revision"]).json()
    assert undone["roles"] == before["roles"]


Call = Callable[[str, object], Any]


def mixed_step(number: int, dice: random.Random, roles: list[str]) -> list[dict[str, Any]]:
    """Return one of many kinds of changes as acts."""
    role, other = dice.sample(roles, 2)
    colour = f"#{dice.randrange(1 << 24):06x}"
    return [
        colours({role: colour}),
        [{**one, "merge": True} for one in colours({role: colour, other: colour[:4]})],
        [{"act": "add-role", "called": f"Own {number}", "value": colour}],
        [{"act": "rename-role", "role": role, "to": f"Name {number}"}],
        [{"act": "lock-role", "role": role, "is_locked": number % 2 == 0}],
        [{"act": "order-roles", "order": [role, other]}],
        [{"act": "tie-role", "role": role, "tie": {"to": other, "lighter": 0.1}}],
        [{"act": "move-colours", "colours": ["#14342b"], "from_role": "heading", "to": other}],
    ][number % 8]


def walk(call: Call, path: Callable[[], Any], count: int) -> tuple[list[str], Any]:
    """Make mixed steps; return every state as text and the revision stood on."""
    dice = random.Random(11)
    states = [state_of(path())]
    base = path()["base"]
    roles = [role["id"] for role in path()["roles"]]
    number = 0
    while len(states) <= count:
        acts = mixed_step(number, dice, roles)
        number += 1
        answer = call("acts", {"acts": acts, "base": base})
        if answer is None or answer["base"] == base:
            continue  # refused (a circle) or nothing changed
        base = answer["base"]
        states.append(state_of(answer))
    return states, base


def state_of(revision: dict[str, Any]) -> str:
    """Return what an owner sees of a revision, byte for byte; whether one can go on from it is another matter."""
    return json.dumps({k: v for k, v in revision.items() if k not in ("can_undo", "can_redo")}, sort_keys=True)


def there_and_back(call: Call, states: list[str], base: Any, way: str) -> Any:
    order = reversed(states[:-1]) if way == "undo" else iter(states[1:])
    for state in order:
        answer = call(way, {"base": base})
        assert state_of(answer) == state
        base = answer["base"]
    return base


def test_undo_goes_back_to_the_very_start(wren: Api, yard: str) -> None:
    def call(where: str, body: object) -> Any:
        answer = wren.post(f"/sites/{yard}/{where}", body)
        return answer.json() if answer.status_code == 200 else None

    states, base = walk(call, lambda: wren.get(f"/sites/{yard}/study").json(), 10)
    documents = {r.number: json.dumps(r.document) for r in Revision.objects.all()}
    base = there_and_back(call, states, base, "undo")
    assert Study.objects.get().current.number == 1  # type: ignore[union-attr]
    there_and_back(call, states, base, "redo")
    assert {r.number: json.dumps(r.document) for r in Revision.objects.all()} == documents


@pytest.mark.prove
def test_undo_of_a_hundred_mixed_steps_over_a_restart(tmp_path: Path) -> None:
    site = "/api/sites/otterlock-boats"
    with running(tmp_path) as demo:
        call = _caller(demo, site)
        states, base = walk(call, lambda: demo.call("GET", f"{site}/study")[1], 100)
    with running(tmp_path) as demo:
        base = there_and_back(_caller(demo, site), states, base, "undo")
    with running(tmp_path) as demo:
        there_and_back(_caller(demo, site), states, base, "redo")


def _caller(demo: Any, site: str) -> Call:
    def call(where: str, body: object) -> Any:
        status, answer = demo.call("POST", f"{site}/{where}", body)
        return answer if status == 200 else None

    return call
