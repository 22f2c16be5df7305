"""Changing colours: revisions, undo, stale writes, readings, proposals."""

from __future__ import annotations

from collections import Counter
from pathlib import Path
from typing import Any

import pytest

from glaucon.apps.studies.models import Revision
from glaucon.core.acts.at_hand import ReadSite
from glaucon.core.acts.whole.find_fixes import FindFixes
from glaucon.core.survey.site import read_site
from tests.apps.conftest import Api, colours, folder_files, zipped
from tests.oracle import corpus
from tests.oracle.fresh import FRESH


def test_change_is_a_new_revision_and_undo_goes_back_to_the_very_same(wren: Api, yard: str) -> None:
    start = wren.get(f"/sites/{yard}/study").json()
    changed = wren.colour(yard, {"quiet": "#555"}, base=1).json()
    assert (changed["base"]["revision"], changed["waiting"], changed["can_undo"]) == (2, 1, True)
    assert changed["reading"]["hard"] < start["reading"]["hard"]
    undone = wren.move(yard, "undo", base=2).json()
    assert undone == {**start, "can_redo": True}
    assert wren.move(yard, "redo", base=1).json() == changed
    # a change after undo starts a branch: redo then leads to the newest one
    wren.move(yard, "undo", base=2)
    branched = wren.colour(yard, {"quiet": "#444"}, base=1).json()
    assert (branched["base"]["revision"], branched["can_redo"]) == (3, False)


def test_stale_write_is_refused_with_the_newer_revision(wren: Api, yard: str) -> None:
    wren.colour(yard, {"link": "#123456"}, base=1)
    refused = wren.colour(yard, {"text": "#000"}, base=1)
    assert (refused.status_code, refused.json()["code"]) == (409, "stale")
    details = refused.json()["details"]
    assert details["base"] == wren.base(yard) and details["study"] == "First study"
    assert details["since"] == [{"what": "Link to #123456", "touches": ["role:link"]}]
    kept = wren.colour(yard, {"text": "#000"}, base=2).json()
    values = {role["id"]: role["value"] for role in kept["roles"]}
    assert (values["text"], values["link"]) == ("#000000", "#123456")


def test_revision_is_immutable(wren: Api, yard: str) -> None:
    revision = Revision.objects.get()
    revision.what = "rewritten"
    with pytest.raises(ValueError, match="immutable"):
        revision.save()


@pytest.mark.parametrize(
    ("values", "words"),
    [
        ({"quiet": "greyish"}, "“greyish” is not a colour Glaucon can read. Write it like #1d5c7a"),
        ({"sail": "#fff"}, "no role “sail”"),
    ],
)
def test_wrong_change_is_refused_and_changes_nothing(wren: Api, yard: str, values: dict[str, str], words: str) -> None:
    answer = wren.colour(yard, values)
    assert answer.status_code == 422
    assert words in answer.json()["message"]
    assert Revision.objects.count() == 1


def test_draft_is_read_and_not_written(wren: Api, yard: str) -> None:
    reading = wren.draft(yard, *colours({"background": "#8c8a78"}), role="background")
    assert reading["hard_texts"] > wren.get(f"/sites/{yard}/study").json()["reading"]["hard_texts"]
    assert all("background" in (pair["text"]["role"], pair["background"]["role"]) for pair in reading["pairs"])
    assert Revision.objects.count() == 1


def test_using_the_nearest_mends_what_it_was_offered_for(wren: Api, yard: str) -> None:
    """One by one, whatever the role's other grounds are: the finding goes, and what was foretold comes."""
    before = wren.get(f"/sites/{yard}/study").json()["reading"]
    failed = failing_places(before)
    findings = [one for one in before["findings"] if one["verdict"] == "fail"]
    tried = 0
    for start in range(0, len(findings), 6):
        keys = [one["key"] for one in findings[start : start + 6]]
        answers = wren.search(yard, "offers", keys=keys).json()["findings"]
        assert {one["key"] for one in answers} == set(keys)
        assert all(one["offers"] or one["fadings"] or one["reason"] for one in answers), (
            "a way out, or the reason there is none"
        )
        for answer in answers:
            sides = next((f["text"]["role"], f["background"]["role"]) for f in findings if f["key"] == answer["key"])
            for offer in answer["offers"]:
                after = wren.draft(yard, *colours({offer["role"]: offer["colour"]}))
                assert failing_places(after)[sides] < failed[sides]
                assert offer["left"] <= failing_places(after)[sides]
                assert -offer["breaks"] <= before["hard_texts"] - after["hard_texts"] <= offer["fixes"] > 0
                tried += 1
    assert tried > 20
    assert wren.search(yard, "offers", base=7, keys=[findings[0]["key"]]).status_code == 409


def failing_places(reading: dict[str, Any]) -> Counter[tuple[str, str]]:
    """Return how many places are hard to read for each pair of roles."""
    found: Counter[tuple[str, str]] = Counter()
    for finding in reading["findings"]:
        if finding["verdict"] == "fail":
            found[finding["text"]["role"], finding["background"]["role"]] += finding["places"]
    return found


def test_nearest_of_a_role_stays_once_it_is_used(wren: Api, yard: str) -> None:
    nearest = wren.search(yard, "nearest", role="hull.link").json()
    assert nearest["serves"] is None and not nearest["stays"]
    wren.colour(yard, {"hull.link": nearest["colour"]}, base=1)
    again = wren.search(yard, "nearest", role="hull.link").json()
    assert (again["stays"], again["delta_e_ok"]) == (True, 0)


def test_typed_colour_is_answered_with_its_parts(wren: Api) -> None:
    answer = wren.post("/colour", {"text": "color: teal;"}).json()
    assert answer["hex"] == "#008080"
    assert answer["lightness"] == pytest.approx(0.543, abs=0.001)
    refused = wren.post("/colour", {"text": "blurple"})
    assert (refused.status_code, refused.json()["code"]) == (422, "colour")


SITES = [
    pytest.param(None, id="otterlock"),
    *(pytest.param(site, id=site.name, marks=pytest.mark.prove) for site in FRESH),
]


@pytest.mark.parametrize("site", SITES)
def test_what_is_hard_to_read_is_one_count_wherever_it_is_told(
    wren: Api, otterlock: Path, site: corpus.RealSite | None
) -> None:
    """On the bench, its pages, the shelf's card, a study's, in the plan of a release, in Fix all, in the shell."""
    folder = corpus.fetch(site) if site is not None else otterlock
    assert wren.bring(zipped(folder_files(folder))).status_code == 200
    yard = wren.get("/sites").json()[0]["slug"]
    at_hand = ReadSite(read_site(folder))
    same = at_hand.known.first_study("Shell").with_values({"text": "#9a9a9a"})
    wren.act(yard, {"act": "set-colour", "role": "text", "value": "#9a9a9a"})
    reading = wren.get(f"/sites/{yard}/study").json()["reading"]
    hard, texts, unsure = (reading[name] for name in ("hard_texts", "texts", "unsure_texts"))
    assert 0 < hard < texts and sum(reading["pages"].values()) == hard
    (card,) = [one for one in wren.get("/sites").json() if one["slug"] == yard]
    assert (card["texts"] - card["readable"], card["texts"]) == (hard + unsure, texts)
    (study,) = wren.get(f"/sites/{yard}/studies").json()
    assert (study["hard_texts"], study["texts"]) == (hard, texts)
    plan = wren.get(f"/sites/{yard}/release").json()
    assert (plan["texts"] - plan["readable"], plan["unsure"]) == (hard + unsure, unsure)
    found = wren.search(yard, "fix-all").json()
    assert found["before"] == hard
    assert FindFixes(search="fix-all").find(at_hand, same).before == hard
