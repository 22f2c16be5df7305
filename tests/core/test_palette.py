"""Found colours by use, proposals within a distance, changes to roles and mapping, and carrying a study over."""

from __future__ import annotations

from collections.abc import Callable

import pytest

from glaucon.core.errors import StudyError
from glaucon.core.proposal.carry_over import carry_over
from glaucon.core.proposal.found import word_of
from glaucon.core.proposal.known import KnownSite
from glaucon.core.proposal.merging import merge_effect
from glaucon.core.proposal.proposal import propose
from glaucon.core.study import editing
from glaucon.core.study.study import Study, token_key
from glaucon.core.survey.site import SiteFiles
from glaucon.core.survey.survey import survey_site
from tests.oracle import corpus
from tests.oracle.judgement import answers, judged

HEAD = "<!doctype html><link rel=stylesheet href=a.css>"
YARD = {
    "index.html": HEAD + "<header><a class=logo href=#>Yard</a></header><h1>Moorings</h1><p>By the week or the year, "
    "with water and a shower.</p><p class=small>Kept by hand since 1931.</p><p class=tiny>Ask at the office.</p>"
    "<a href=#>Prices</a> <a class=button href=#>Book</a><footer><p>Lock lane</p></footer>",
    "a.css": "body { background: #fbf7ef; color: #22302b } h1 { color: #14342b } a { color: #0b5c7a }"
    " .small { color: #8c8a78 } .tiny { color: #8d8b79 } .button { background: #c8452b; color: #fff6ea }"
    " footer { background: #14342b; color: #f3ead9 } header { border-bottom: 1px solid #cdbfa5 }"
    " p { box-shadow: 0 1px 2px rgba(0, 0, 0, 0.2) } a:hover { color: #c8452b } .never { color: #ff00ff }",
}


def known_site(files: dict[str, str]) -> KnownSite:
    return KnownSite(survey_site(SiteFiles({path: text.encode() for path, text in files.items()})))


@pytest.fixture(scope="module")
def yard() -> KnownSite:
    return known_site(YARD)


@pytest.fixture(scope="module")
def study(yard: KnownSite) -> Study:
    return propose(yard.survey).study(yard.survey, "First")


USES = {
    "#fbf7ef": {"ground"}, "#22302b": {"words"}, "#14342b": {"heading", "ground"}, "#0b5c7a": {"link"},
    "#c8452b": {"button", "link"}, "#cdbfa5": {"line"}, "#00000033": {"shadow"}, "#8c8a78": {"words"},
}  # fmt: skip


@pytest.mark.parametrize(("colour", "uses"), USES.items(), ids=list(USES))
def test_a_colour_is_found_by_what_it_does(yard: KnownSite, colour: str, uses: set[str]) -> None:
    assert {one.use for one in yard.found if one.colour == colour} == uses


def test_near_colours_lie_together_and_large_ones_first(yard: KnownSite) -> None:
    words = [one.colour for one in yard.found if one.use == "words"]
    assert abs(words.index("#8c8a78") - words.index("#8d8b79")) == 1
    areas = {one.colour: one.area for one in yard.found if one.use == "ground"}
    assert areas["#fbf7ef"] > areas["#14342b"] > 0


ROLES = {
    "background": "#fbf7ef", "text": "#22302b", "heading": "#14342b", "quiet": "#8c8a78", "link": "#0b5c7a",
    "accent": "#c8452b", "accent-text": "#fff6ea", "line": "#cdbfa5", "ground-1": "#14342b", "ground-1-text": "#f3ead9",
    "link-hover": None,
}  # fmt: skip


@pytest.mark.parametrize(("name", "value"), ROLES.items(), ids=list(ROLES))
def test_roles_are_proposed_from_use(study: Study, name: str, value: str | None) -> None:
    assert {role.name: role.value for role in study.roles}.get(name) == value


def test_every_token_lies_under_a_role_and_each_role_has_a_reason(yard: KnownSite, study: Study) -> None:
    assert {token_key(t) for t in yard.survey.tokens if t.kind != "default"} <= set(study.mapping)
    assert all(role.reason.endswith(".") and role.label for role in study.roles)
    ground = study.role("ground-1")
    assert (ground.label, study.role("ground-1-text").label) == ("Ground: deep teal", "Text on deep teal")


@pytest.mark.parametrize(
    ("hex_", "word"),
    [("#ffffff", "white"), ("#000000", "black"), ("#777777", "grey"), ("#14342b", "deep teal"), ("#e4d3b0", "sand"),
     ("#f2c14e", "yellow"), ("#8b0000", "deep red"), ("#0b5c7a", "blue"), ("#5b3a1e", "deep brown"),
     ("#ffe4e1", "pale red")],
)  # fmt: skip
def test_grounds_are_told_apart_by_a_word(hex_: str, word: str) -> None:
    assert word_of(hex_) == word


def test_sliding_joins_more_and_more_and_never_less(yard: KnownSite) -> None:
    counts = [len(propose(yard.survey, within).roles) for within in (0, 0.5, 1, 2, 4)]
    assert counts == sorted(counts, reverse=True) and counts[0] > counts[-1]
    apart = propose(yard.survey, 0).study(yard.survey, "Apart")
    mapped = {role: {t.colour.hex() for t in yard.survey.tokens if apart.mapping.get(token_key(t) or "") == role}
              for role in (r.name for r in apart.roles)}  # fmt: skip
    assert mapped["quiet"] == {"#8c8a78"}


def test_merges_are_counted_before_they_are_taken(yard: KnownSite, study: Study) -> None:
    effect = merge_effect(yard, study)
    assert effect.joining >= 1 and effect.become >= 1
    taken = editing.take_merges(study, yard.survey.tokens)
    assert {role.name for role in taken.roles if role.taken} >= {"quiet"}
    after = yard.read(taken)
    assert after.hard - yard.read(study).hard == effect.harder - effect.easier
    assert merge_effect(yard, taken).shifted == 0, "taken already: nothing shifts any more"


def test_colours_and_places_move_between_roles(yard: KnownSite, study: Study) -> None:
    keys = editing.keys_of(study, yard.survey.tokens, ["#8d8b79"], "quiet")
    assert len(keys) == 1
    moved = editing.move_tokens(study, keys, "text")
    assert moved.mapping[keys[0]] == "text" and len(moved.mapping) == len(study.mapping)
    assert keys[0] not in editing.move_tokens(study, keys, None).mapping
    with_own, name = editing.add_role(moved, "  Lamp  yellow ", "#f2c14e")
    assert (name, with_own.role(name).label) == ("lamp-yellow", "Lamp yellow")
    assert editing.add_role(with_own, "Lamp yellow!", "#fff")[1] == "lamp-yellow-2"
    gone = editing.remove_role(moved, "quiet", "text", is_answered=True)
    assert "quiet" not in {role.name for role in gone.roles} and "quiet" not in gone.mapping.values()
    ordered = editing.order_roles(study, ["accent", "text"])
    assert [role.name for role in ordered.roles[:2]] == ["accent", "text"]
    assert sorted(r.name for r in ordered.roles) == sorted(r.name for r in study.roles)


REFUSED: dict[str, tuple[Callable[[Study], object], str]] = {
    "move to no role": (lambda s: editing.move_tokens(s, ["x"], "nowhere"), "no role “nowhere”"),
    "add without a name": (lambda s: editing.add_role(s, "  ", "#fff"), "needs a name"),
    "add no colour": (lambda s: editing.add_role(s, "Own", "blurple"), "blurple"),
    "rename what is not there": (lambda s: editing.rename_role(s, "nowhere", "x"), "no role"),
    "rename to nothing": (lambda s: editing.rename_role(s, "text", ""), "needs a name"),
    "remove in use without an answer": (lambda s: editing.remove_role(s, "text", None, False), "say which role"),
    "remove into itself": (lambda s: editing.remove_role(s, "text", "text", True), "of itself"),
}


@pytest.mark.parametrize("name", REFUSED)
def test_what_cannot_be_done_to_a_palette_says_why(study: Study, name: str) -> None:
    act, says = REFUSED[name]
    with pytest.raises((StudyError, ValueError), match=says):
        act(study)


CHANGED = {
    "moved down": ("a.css", "/* new head */\n\n" + YARD["a.css"], {}, 0),
    "rule gone": ("a.css", YARD["a.css"].replace(".tiny { color: #8d8b79 }", ""), {}, 1),
    "known colour in a new rule": ("a.css", YARD["a.css"] + " .late { color: #22302b }", {"#22302b": "Text"}, 0),
    "new colour": ("a.css", YARD["a.css"] + " em { color: #232f2b }", {"#232f2b": "Text"}, 0),
    "new place of one colour twice": ("a.css", YARD["a.css"] + " b { color: #0b5c7a } i { color: #0b5c7a }", {"#0b5c7a": "Link"}, 0),
}  # fmt: skip


@pytest.mark.parametrize("name", CHANGED)
def test_a_study_is_carried_over_to_what_the_site_has_become(yard: KnownSite, study: Study, name: str) -> None:
    path, text, joined, gone = CHANGED[name]
    page = YARD["index.html"].replace("Kept", "<em>Kept</em>")
    after = known_site({**YARD, "index.html": page, path: text})
    owned = study.with_values({"link": "#123456"})
    carried = carry_over(owned, yard.survey.tokens, after.survey.tokens, propose(after.survey))
    assert (carried.joined, carried.gone) == (joined, gone)
    assert carried.study.role("link").value == "#123456"
    keys = {token_key(t): t for t in after.survey.tokens}
    assert set(carried.study.mapping) <= set(keys)
    role_of = {(t.selector, t.property): carried.study.mapping.get(token_key(t) or "") for t in after.survey.tokens}
    assert role_of["body", "color"] == "text" and role_of["a", "color"] == "link"


@pytest.mark.parametrize(
    "names", [pytest.param("own", id="own"), pytest.param("all", id="all", marks=pytest.mark.prove)]
)
def test_proposals_are_what_a_person_says_of_the_pictures(names: str) -> None:
    real = {site.name for site in corpus.REAL}
    found = [
        (name, role, *answer)
        for name, said in judged().items()
        if names == "all" or name not in real
        for role, answer in answers(name, said).items()
    ]
    misses = [row for row in found if not row[-1]]
    assert len(misses) <= len(found) / 10, misses
    assert len(found) > 30
