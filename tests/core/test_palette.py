"""Found colours by use, proposals within a distance, changes to roles and mapping, and carrying a study over."""

from __future__ import annotations

import re
from collections.abc import Callable

import pytest

from glaucon.core.colour.contrast import contrast_ratio
from glaucon.core.colour.value import read_colour
from glaucon.core.errors import StudyError
from glaucon.core.known.merging import merge_effect
from glaucon.core.known.site import KnownSite
from glaucon.core.mending.role_changes import Change, with_changes
from glaucon.core.proposal.carry_over import carry_over
from glaucon.core.proposal.colour_words import word_of
from glaucon.core.proposal.naming import Named, readable, told_apart
from glaucon.core.study import editing
from glaucon.core.study.study import Study, read_study, token_key
from glaucon.core.study.wearing import wears
from glaucon.core.survey.site import SiteFiles, read_site
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
    return KnownSite(yard.survey).first_study("First")


USES = {
    "#fbf7ef": {"background"}, "#22302b": {"text"}, "#14342b": {"heading", "background"}, "#0b5c7a": {"link"},
    "#c8452b": {"button", "link"}, "#cdbfa5": {"line"}, "#00000033": {"shadow"}, "#8c8a78": {"text"},
}  # fmt: skip


@pytest.mark.parametrize(("colour", "uses"), USES.items(), ids=list(USES))
def test_a_colour_is_found_by_what_it_does(yard: KnownSite, colour: str, uses: set[str]) -> None:
    assert {one.use for one in yard.found if one.colour == colour} == uses


def test_near_colours_lie_together_and_large_ones_first(yard: KnownSite) -> None:
    words = [one.colour for one in yard.found if one.use == "text"]
    assert abs(words.index("#8c8a78") - words.index("#8d8b79")) == 1
    areas = {one.colour: one.area for one in yard.found if one.use == "background"}
    assert areas["#fbf7ef"] > areas["#14342b"] > 0


ROLES = {
    "background": "#fbf7ef", "text": "#22302b", "heading": "#14342b", "quiet": "#8c8a78", "link": "#0b5c7a",
    "accent": "#c8452b", "accent-text": "#fff6ea", "line": "#cdbfa5", "footer.background": "#14342b",
    "footer.text": "#f3ead9", "link.hover": "#c8452b", "shadow": None,
}  # fmt: skip


@pytest.mark.parametrize(("id_", "value"), ROLES.items(), ids=list(ROLES))
def test_roles_are_proposed_from_use(study: Study, id_: str, value: str | None) -> None:
    assert {role.id: role.value for role in study.roles}.get(id_) == value


def test_what_a_role_is_stands_in_its_fields(study: Study) -> None:
    told = {r.id: (r.kind, r.coat, r.state, r.tier, r.label) for r in study.roles}
    assert told["footer.text"] == ("text", "footer", "rest", "main", "Teal footer text")
    assert told["footer.background"] == ("background", "footer", "rest", "main", "Deep teal footer")
    assert told["link.hover"] == ("link", None, "hover", "main", "Link (hover)")
    assert [(coat.id, coat.label, coat.came) for coat in study.coats] == [("footer", "Deep teal footer", True)]
    unseen = [role for role in study.roles if role.tier == "unseen"]
    assert [(role.value, role.state) for role in unseen] == [("#ff00ff", "rest")]


def test_every_token_lies_under_a_role_and_each_role_has_a_reason(yard: KnownSite, study: Study) -> None:
    assert {token_key(t) for t in yard.survey.tokens if t.kind != "default"} <= set(study.mapping)
    assert all(role.reason.endswith(".") and role.label for role in study.roles)


SHORT = ["otterlock", *(path.name for path in corpus.own_sites())]


@pytest.mark.parametrize("name", SHORT)
def test_the_short_palette_is_short_and_no_two_names_are_alike(name: str) -> None:
    folder = corpus.ROOT / "samples" / name if name == "otterlock" else corpus.OWN / name
    known = KnownSite(survey_site(read_site(folder)))
    study = known.first_study("First")
    assert len(study.short_roles()) <= 9 and len(study.short_coats()) <= 6
    labels = [role.label.lower() for role in study.roles]
    assert len(set(labels)) == len(labels)
    told_by_number = {re.sub(r"[\s(]*\d+\)?$", "", label) for label in labels if re.search(r"\D\s*\(?\d+\)?$", label)}
    assert not told_by_number & set(labels), "no name is told from another by a number alone"
    assert study.settled() == study and not study.changed_roles(), "ties that the site came with change nothing"
    shown = {n for role in study.roles if role.tier != "unseen" for n in known.tokens.tokens_of(study).get(role.id, [])}
    seen = {n for n, use in enumerate(known.uses) if use.runs and token_key(known.survey.tokens[n]) is not None}
    assert seen <= shown


STATES = {
    "told by a tie": ("#1d5c7a", "#0a4a66", True),
    "too far to follow": ("#1d5c7a", "#f3ead9", False),
    "of another hue": ("#1d5c7a", "#7a1d2e", False),
}


@pytest.mark.parametrize("name", STATES)
def test_a_state_follows_its_rest_colour_where_a_plain_tie_tells_it(name: str) -> None:
    rest, hover, is_tied = STATES[name]
    css = f"body {{ background: #fff; color: #222 }} a {{ color: {rest} }} a:hover {{ color: {hover} }}"
    known = known_site({"index.html": f"{HEAD}<p>Some text <a href=#>and a link</a>", "a.css": css})
    study = known.first_study("First")
    role = study.role("link.hover")
    assert (role.tie is not None, role.value) == (is_tied, hover)
    moved = study.with_values({"link": "#7a5a12"})
    assert (moved.role("link.hover").value != hover) == is_tied
    assert moved.with_values({"link": rest}).role("link.hover").value == hover, "back at rest it is as it came"


def test_translucent_text_has_the_colour_that_is_seen_and_takes_what_is_chosen() -> None:
    css = "body { background: #fff; color: rgba(0, 0, 0, 0.87) } small { color: rgba(0, 0, 0, 0.54) }"
    known = known_site({"index.html": f"{HEAD}<p>Much text, more than the small <p><small>small text", "a.css": css})
    study = known.first_study("First")
    assert [study.role(id_).value for id_ in ("text", "quiet")] == ["#212121", "#757575"]
    values = known.tokens.values(study.with_values({"quiet": "#0b5c7a"}))
    small = next(t.number for t in known.survey.tokens if t.selector == "small")
    assert values[small].tolist() == pytest.approx([0x0B / 255, 0x5C / 255, 0x7A / 255, 1.0])


COATS = {
    "the coat's own role": ("quiet", "rest", "#8fa89e", "own"),
    "its rest with the site's tie": ("link", "hover", None, "tied"),
    "the site's where it is readable": ("heading", "rest", "#f3ead9", "site"),
    "the site's made readable": ("text", "rest", None, "made"),
}


@pytest.mark.parametrize("name", COATS)
def test_a_coat_wears_the_first_that_is_there(name: str) -> None:
    kind, state, value, source = COATS[name]

    def role(id_: str, kind: str, value: str, **more: object) -> dict[str, object]:
        return {"id": id_, "kind": kind, "label": id_, "value": value, "found": value, **more}

    study = read_study({
        "format": 3, "name": "Coats", "coats": [{"id": "footer", "label": "Footer"}],
        "roles": [
            role("text", "text", "#22302b"), role("heading", "heading", "#f3ead9"), role("link", "link", "#0b5c7a"),
            role("link.hover", "link", "#06405a", state="hover", tie={"to": "link", "lighter": -0.1}),
            role("footer.background", "background", "#14342b", coat="footer"),
            role("footer.link", "link", "#7fc4da", coat="footer"), role("footer.quiet", "quiet", "#8fa89e", coat="footer"),
        ],
    })  # fmt: skip
    worn = wears(study, "footer", kind, state)  # type: ignore[arg-type]
    assert worn is not None and worn.source == source
    assert value is None or worn.colour.hex() == value
    if source == "tied":
        assert worn.colour.hex() != study.role("link.hover").value
    if source == "made":
        assert contrast_ratio(worn.colour, study.role("footer.background").colour) >= 4.5


NAMES = [
    ("price-table", "Price table"), ("siteFooter", "Footer"), ("bg-dark", ""), ("col-md-4", ""), ("container", ""),
    ("--bs-danger", "Danger"), ("list-group-item-action", "List action"), ("x", ""), ("cover2", "Cover"),
]  # fmt: skip


@pytest.mark.parametrize(("name", "words"), NAMES)
def test_classes_become_words_where_they_tell_something(name: str, words: str) -> None:
    assert readable(name) == words


def test_like_names_are_told_apart_by_colour() -> None:
    badges = [Named("Badge", "#2f6b4f"), Named("Badge", "#c8452b"), Named("Badge", "#c8452a"), Named("Tag", "#ffffff")]
    assert told_apart(badges) == ["Badge", "Badge, red", "Badge, #C8452A", "Tag"]


@pytest.mark.parametrize(
    ("hex_", "word"),
    [("#ffffff", "white"), ("#000000", "black"), ("#777777", "grey"), ("#14342b", "deep teal"), ("#e4d3b0", "sand"),
     ("#f2c14e", "yellow"), ("#8b0000", "deep red"), ("#0b5c7a", "blue"), ("#5b3a1e", "deep brown"),
     ("#ffe4e1", "pale red")],
)  # fmt: skip
def test_colours_are_told_apart_by_a_word(hex_: str, word: str) -> None:
    assert word_of(hex_) == word


def test_sliding_joins_more_and_more_and_never_less(yard: KnownSite) -> None:
    counts = [len(yard.proposal(within).roles) for within in (0, 0.5, 1, 2, 4)]
    assert counts == sorted(counts, reverse=True) and counts[0] > counts[-1]
    apart = yard.proposal(0).study(yard.survey, "Apart")
    mapped = {role: {t.colour.hex() for t in yard.survey.tokens if apart.mapping.get(token_key(t) or "") == role}
              for role in (r.id for r in apart.roles)}  # fmt: skip
    assert mapped["quiet"] == {"#8c8a78"}


def test_merges_are_counted_before_they_are_taken(yard: KnownSite, study: Study) -> None:
    effect = merge_effect(yard, study)
    assert effect.joining >= 1 and effect.become >= 1
    taken = editing.take_merges(study, yard.survey.tokens)
    assert {role.id for role in taken.roles if role.taken} >= {"quiet"}
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
    assert "quiet" not in {role.id for role in gone.roles} and "quiet" not in gone.mapping.values()
    ordered = editing.order_roles(study, ["accent", "text"])
    assert [role.id for role in ordered.roles[:2]] == ["accent", "text"]
    assert sorted(r.id for r in ordered.roles) == sorted(r.id for r in study.roles)


REFUSED: dict[str, tuple[Callable[[Study], object], str]] = {
    "move to no role": (lambda s: editing.move_tokens(s, ["x"], "nowhere"), "no role “nowhere”"),
    "add without a name": (lambda s: editing.add_role(s, "  ", "#fff"), "needs a name"),
    "add no colour": (lambda s: editing.add_role(s, "Own", "blurple"), "blurple"),
    "rename what is not there": (lambda s: editing.rename_role(s, "nowhere", "x"), "no role"),
    "rename to nothing": (lambda s: editing.rename_role(s, "text", ""), "needs a name"),
    "remove in use without an answer": (
        lambda s: editing.remove_role(s, "text", None, False),
        "Choose the colour they take",
    ),
    "remove into itself": (lambda s: editing.remove_role(s, "text", "text", True), "replace itself"),
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
    carried = carry_over(owned, yard.survey.tokens, after.survey.tokens, after.proposal())
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


LOCKS = "<p>Forty quiet miles of water, two locks to the basin, and a kettle on the stove for whoever comes by.</p>"
# a page, its stylesheet; roles of the short palette by label, with their colours
SHORT: dict[str, tuple[str, str, dict[str, str]]] = {
    "wide bands hold most text, and the page is the page": (
        f"<section class=band><h2>Boats</h2>{LOCKS * 6}</section><h2>Prices</h2>{LOCKS * 2}",
        "body { background: #ffffff; color: #222222 } .band { background: #1abc9c; color: #0a2a20 }",
        {"Background": "#ffffff", "Teal band": "#1abc9c", "Text": "#222222"},
    ),
    "white words over a photograph are called by their section": (
        f"<nav><ul><li><a href=#>Boats</a></li><li><a href=#>Moorings and prices</a></li></ul></nav>{LOCKS * 4}"
        "<p><a href=#>Ask at the office</a></p>",
        "body { background: #ffffff; color: #222222 } a { color: #0b5c7a } nav { background-image: url(a.png) }"
        " nav a { color: #ffffff; font-size: 30px }",
        {"Link": "#0b5c7a", "Navigation link": "#ffffff"},
    ),
    "a dark cast over all of it is the background": (
        f"<div class=cast>{LOCKS * 5}</div><form><input value=name></form>",
        "body { background: #ffffff; color: #222222 } .cast { background: rgba(0, 0, 0, 0.85); color: #ffffff }",
        {"Background": "#000000"},
    ),
}  # fmt: skip


@pytest.mark.parametrize("name", SHORT)
def test_the_short_palette_is_what_a_person_would_name(name: str) -> None:
    body, css, wanted = SHORT[name]
    study = KnownSite(known_site({"index.html": HEAD + body, "a.css": css}).survey).first_study("First")
    shown = {role.label: role.value for role in study.roles if role.tier == "main" and role.state == "rest"}
    assert {label: shown.get(label) for label in wanted} == wanted, shown


def test_too_many_colours_do_not_join_a_pale_panel_to_the_page(monkeypatch: pytest.MonkeyPatch) -> None:
    body = f"<main>{LOCKS * 5}<i class=a>a</i> <i class=b>b</i> <i class=c>c</i></main><footer>{LOCKS * 2}</footer>"
    css = (
        "body { background: #ffffff; color: #222222 } footer { background: #f4f5f7 } .a { color: #c8452b }"
        " .b { color: #0b5c7a } .c { color: #d05038 }"
    )
    known = known_site({"index.html": HEAD + body, "a.css": css})
    monkeypatch.setattr("glaucon.core.proposal.proposal._MOST_ROLES", 4)
    roles = known.first_study("First").roles
    assert {"#ffffff", "#f4f5f7"} <= {role.value for role in roles if role.is_background and role.tier == "main"}
    assert len([role for role in roles if role.is_text]) <= 3, "what is small is one"


_GROUND = "body { background: #fff; color: #222 } a { color: #035c8a } "
_TEXT = "<p>Locks and moorings, and more of them</p>" * 9
_OF_BAND = "<section class=band><h2>Boats</h2><p>Hire by the day or by the week</p></section>"
BRANDS: dict[str, tuple[str, str, tuple[str, str] | None, set[str]]] = {
    # style, page, the tile that leads (its label and kind), the kinds of what follows it
    "buttons alone": (".b { background: #b5461d; color: #fff }", "<button class=b>Book</button>", ("Buttons", "accent"),
                      set()),
    "buttons and links": (".b { background: #035c8a; color: #fff }", "<button class=b>Book</button><a href=x>Fleet</a>",
                          ("Brand", "accent"), {"link"}),
    "a band and buttons": (".band, .w { background: #fff } .b { background: #b5461d; color: #fff } "
                           ".band { background: #b5461d; color: #fff }", f"{_OF_BAND}<button class=b>Book</button>",
                           ("Brand", "accent"), {"background"}),
    "a status": (".alert-danger { color: #a12222 } a { color: #222 }", "<p class=alert-danger>Closed</p>", None, set()),
}  # fmt: skip


@pytest.mark.parametrize("name", BRANDS)
def test_the_colour_that_is_the_site_s_own_has_a_tile_and_the_rest_of_it_follows(name: str) -> None:
    css, page, leads, follow = BRANDS[name]
    known = known_site({"index.html": f"<!doctype html><style>{_GROUND}{css}</style>{page}{_TEXT}"})
    study = known.first_study("First")
    following = [role for role in study.roles if role.follows_brand]
    assert {role.kind for role in following} == follow
    if leads is None:
        assert "Brand" not in study.labels.values()
        return
    leader = next(role for role in study.roles if role.label == leads[0])
    assert leader.kind == leads[1] and leader.tier == "main"
    moved = study.with_values({leader.id: "#1d5546"})
    assert all(moved.role(role.id).value == "#1d5546" for role in following)
    # what fixing changes, it changes alone: the others keep the colour that they have
    alone = with_changes(study, [Change(leader.id, leader.colour, read_colour("#1d5546"), 0, 0)])
    assert all(alone.role(role.id).value == role.value and alone.role(role.id).tie is None for role in following)
