"""Fixing everything: what can be readable is, and the site is still itself."""

from __future__ import annotations

import numpy as np
import pytest

from glaucon.core.colour.contrast import contrast_ratios, relative_luminance
from glaucon.core.colour.oklab import delta_e_ok, oklab_from_srgb, oklch_from_oklab
from glaucon.core.colour.value import read_colour
from glaucon.core.errors import StudyError
from glaucon.core.known.site import KnownSite
from glaucon.core.mending.fixed import Fixed, fix_all, hard_texts
from glaucon.core.mending.harm import Guard
from glaucon.core.mending.offers import Mender
from glaucon.core.mending.ordering import in_order_again, out_of_order
from glaucon.core.mending.place_changes import with_places
from glaucon.core.mending.role_changes import with_changes
from glaucon.core.mending.still_itself import COLOURFUL, FARTHEST, FARTHEST_WIDE, KEPT_CHROMA, KEPT_HUE, choices_of
from glaucon.core.reading.reading import FAIL
from glaucon.core.study.study import Study
from glaucon.core.survey.site import SiteFiles
from glaucon.core.survey.survey import survey_site

HEAD = "<!doctype html><link rel=stylesheet href=a.css>"
MANY = "<p>Words enough that the page has a text that everybody reads.</p>" * 12


def known_study(page: str, css: str) -> tuple[KnownSite, Study]:
    survey = survey_site(SiteFiles({"index.html": (HEAD + page).encode(), "a.css": css.encode()}))
    return KnownSite(survey), KnownSite(survey).first_study("First")


def lch(colour: str) -> tuple[float, float, float]:
    rgb = [int(colour[at : at + 2], 16) / 255 for at in (1, 3, 5)]
    return tuple(oklch_from_oklab(oklab_from_srgb(np.array(rgb))).tolist())


# page, stylesheet, the changes by role (with ", part" for a part of it), texts left
CASES: dict[str, tuple[str, str, set[str], int]] = {
    "text too faint": ("<p>Some words<p class=q>faint", "p { color: #222 } .q { color: #aaa }", {"quiet"}, 0),
    "nothing to fix": ("<p>Some words", "p { color: #222 }", set(), 0),
    "a colour near a role's is merged with it": (
        "<p>words enough that the role takes their colour<p class=b>nearly",
        "body { background: #fff } p { color: #767676 } .b { color: #777777 }", {"text"}, 0,
    ),
    "white text keeps its button, which darkens": (
        f"{MANY}<a class=b href=#>Book a boat</a>",
        "body { color: #222; background: #fff } .b { background: #3f8fd0; color: #fff }", {"accent"}, 0,
    ),
    "a yellow button keeps its yellow and gets dark text": (
        f"{MANY}<a class=b href=#>Book a boat</a>",
        "body { color: #222; background: #fff } .b { background: #f2c14e; color: #fff }", {"accent-text"}, 0,
    ),
    "a state gives way, not what is at rest": (
        f"{MANY}<a class=b href=#>Book a boat</a>",
        "body { color: #222 } .b { background: #a02010; color: #fff } .b:hover { background: #fefefe }",
        {"accent.hover"}, 0,
    ),
    "links of the footer get their own, those of the page stay": (
        f"{MANY}<a href=#>a link on the page</a> {'<a href=#>and more of them</a> ' * 20}<footer><p>x "
        "<a class=f href=#>in the footer</a></p></footer>",
        "body { background: #fff; color: #222 } a { color: #0b5c7a } footer { background: #14342b; color: #fff } "
        "footer .f { color: #0b5c7b }",
        {"link, part"}, 0,
    ),
    "a purple that reads in three places is not turned black for a fourth": (
        f"{MANY}<a href=#>one</a> <a href=#>two</a> <a href=#>three</a> <span class=b><a href=#>four</a></span>",
        "body { background: #fff; color: #222 } a { color: #222 } .b a { color: #eee } a:hover, .b a:hover "
        "{ color: #89229b } .b { background: #242424 }",
        set(), 0,
    ),
    "half faded black is never enough": ("<p>Words<p style='opacity: .4'>faded", "body { color: #000 }", set(), 1),
}  # fmt: skip


@pytest.mark.parametrize("name", CASES)
def test_what_can_be_readable_is_and_little_changes(name: str) -> None:
    page, css, changed, left = CASES[name]
    known, study = known_study(page, css)
    fixed = fix_all(known, study)
    kinds = {study.role(one.role).id + (", part" if one.tokens else "") for one in fixed.changes}
    assert {kind.split(".")[-1] if ".hover" not in kind else kind for kind in kinds} == changed, kinds
    assert (fixed.after, sum(len(one.texts) for one in fixed.left)) == (left, left)
    assert with_places(with_changes(study, fixed.changes), fixed.places) == fixed.study


@pytest.mark.parametrize(
    ("quiet", "is_locked", "loud"),
    [("#6b6b6b", False, "#6b6b6b"), ("#6b6b6b", True, None), ("#555555", False, None), ("#8c8c8c", False, None)],
    ids=["a step", "locked", "too far", "still quieter"],
)
def test_a_louder_text_is_made_louder_again_by_a_step(quiet: str, is_locked: bool, loud: str | None) -> None:
    css = "body { background: #fff; color: #222 } .l { color: #707070 } .q { color: #a5a5a5 }"
    many = "".join(f"<p>Words {n}" for n in range(12))
    known, study = known_study(f"{many}<p class=l>loud<p class=q>quiet", css)
    roles = {role.value: role.id for role in study.roles}
    held = [roles["#707070"]] if is_locked else []
    moved = in_order_again(
        known, study, study.with_values({roles["#a5a5a5"]: quiet}), held, float("inf"), Guard(known, study)
    )
    assert {name: colour.hex() for name, colour in moved.items()} == ({roles["#707070"]: loud} if loud else {})


# stylesheet beside that of the page, the heading's own colour where it changes
IN_PLACE = {
    "it turns as the words beside it did": ("section p { color: rgba(255, 255, 255, .75) }", True),
    "nothing turned: white words stay white": ("section p { color: rgb(30, 10, 0) }", False),
}  # fmt: skip


@pytest.mark.parametrize("name", IN_PLACE)
def test_a_louder_text_follows_a_quieter_one_in_its_place_alone(name: str) -> None:
    css, follows = IN_PLACE[name]
    page = (
        f"{MANY}<footer><h3>White words</h3>{'<p>of the foot</p>' * 9}</footer>"
        "<section><h2>Forty locks</h2><p>and a kettle on the stove for whoever comes by</p></section>"
    )
    known, study = known_study(
        page,
        "body { background: #fff; color: #222 } h2, h3, footer { color: #fff } footer { background: #14342b } "
        f"h2 {{ font-size: 40px }} section {{ background: #f4623a }} {css}",
    )
    fixed = fix_all(known, study)
    assert fixed.after == 0
    heading = [one for one in fixed.places if one.place == "Forty locks" and one.before.hex() == "#ffffff"]
    assert [one.fixes for one in heading] == ([0] if follows else [])
    if follows:
        assert relative_luminance(np.array(heading[0].after.rgb)) < 0.03 and heading[0].texts <= 2


def test_links_are_louder_again_in_all_sections_that_they_are_too_quiet_in() -> None:
    """One token colours the links on white and an icon on the dark: neither can have it darker everywhere."""
    page = (
        f"{MANY}<nav><a href=#>Icon</a> {'<p>in the dark of the side</p>' * 9}</nav>"
        "<section><p><a href=#>Heron</a></p><small>sleeps four</small></section>"
        "<aside><p><a href=#>Tern</a></p><small>sleeps two</small></aside><main class=g><small>on grey</small></main>"
    )
    known, study = known_study(
        page,
        "body { background: #fff; color: #222 } a { color: #5a738e } nav { background: #262626; color: #fff } "
        "nav a { font-size: 40px } small { color: #999 } .g { background: #e4e4e4 }",
    )
    fixed = fix_all(known, study)
    (change,) = [one for one in fixed.places if one.use == "link"]
    assert fixed.after == 0 and (change.fixes, change.texts, len(change.also)) == (0, 2, 1)
    before, after = known.read(study), known.read(fixed.study)
    assert 0 < change.delta_e_ok < 0.1 and out_of_order(known, before, fixed.study, after) == []


def test_locks_are_kept_and_named() -> None:
    known, study = known_study("<p>Words<p class=q>faint", "p { color: #222 } .q { color: #aaa }")
    locked = fix_all(known, study, ["quiet", "background"])
    assert (locked.changes, locked.after) == ([], 1)
    assert [(one.why, one.locks) for one in locked.left] == [("locked", ("background", "quiet"))]
    with pytest.raises(StudyError, match="no role “nowhere”"):
        fix_all(known, study, ["nowhere"])


def test_what_the_page_fades_is_offered_and_not_taken() -> None:
    known, study = known_study("<p>Words<p class=f>faded", "body { color: #000 } .f { opacity: .4 }")
    fixed = fix_all(known, study)
    assert (fixed.study, [one.why for one in fixed.left]) == (study, ["faded"])
    assert [(selector, fixes) for selector, _, fixes in fixed.fades] == [(".f", 1)]
    assert 0.5 < fixed.fades[0][1] < 0.6, "black at 54 % is 4.5 on white"


@pytest.mark.parametrize(("room", "least"), [("must", 4.5), ("more", 5.5), ("strict", 7.0)])
def test_room(room: str, least: float) -> None:
    known, study = known_study("<p>Words<p class=q>faint", "p { color: #222 } .q { color: #aaa }")
    after = fix_all(known, study, room=room).study.role("quiet").colour
    assert least <= float(contrast_ratios(np.array(after.rgb), np.ones(3))) < least + 0.2


SHARED_WHITE = (
    f"{MANY}<header><h1>Heading</h1><p class=w>white on teal</p></header><footer><p class=w>white on dark</p></footer>",
    "body { background: #fff; color: #222 } header { background: #1abc9c } footer { background: #14342b } "
    ".w { color: #fff } h1 { color: #222 }",
)


def test_what_there_was_no_time_for_is_told_as_that() -> None:
    known, study = known_study("<p>Words<p class=q>faint", "p { color: #222 } .q { color: #aaa }")
    found = fix_all(known, study, seconds=0)
    assert (found.after, {one.why for one in found.left}) == (found.before, {"time"})
    assert fix_all(known, study).after == 0


def test_backgrounds_of_sections_change_only_where_they_are_let() -> None:
    known, study = known_study(*SHARED_WHITE)
    kept, freed = fix_all(known, study), fix_all(known, study, backgrounds=True)
    grounds = {one.role for one in freed.changes if study.role(one.role).is_background}
    assert len(grounds) == 1 and not grounds & {one.role for one in kept.changes}
    assert (freed.after, freed.places) == (0, [])


# what is added to the site with a white that its dark footer needs too; where another text colour is worn, texts left
BY_PLACE: dict[str, tuple[str, str, list[tuple[str, str]], int]] = {
    "white on a bright band": ("", "", [("Header", "text")], 0),
    "and where it is pointed at": (
        "<section><h2>Boats</h2><a href=# class=w>Herons on the lock gates, and a kettle</a></section>",
        "section { background: #fff } .w:hover { color: #fff } section .w { color: #222 }",
        [("Boats", "text"), ("Header", "text")], 0,
    ),
    "not what reads beside it": (
        "", "header { background: linear-gradient(#1abc9c, #1abc9c) } header .w { background: #1abc9c }",
        [("Header", "text")], 0,
    ),
    "at rest and hovered": (
        "<section><h2>Boats</h2><p>Locks and <a href=# class=v>moorings</a></p></section><section class=d><h2>Far</h2>"
        "<p><a href=# class=v>Away</a> <a href=# class=v>by</a> <a href=# class=v>canal</a></p></section>",
        "section { background: #fff } .v { color: #7fc9b9 } .v:hover { color: #8fd3c4 } .d { background: #0b1f1a } "
        ".d h2 { color: #fff }",
        [("Boats", "link.hover"), ("Boats", "link"), ("Header", "text")], 0,
    ),
    "the background that only a state shows": (
        "<nav><a href=#>Boats</a> <a href=#>Locks</a> <a href=# aria-current=page>Prices</a></nav>",
        "nav { background: #fff } nav a { color: #222 } nav a:hover { background: #0b5c7a; color: #fff } "
        "nav a[aria-current] { color: #747260 }",
        [("Current menu item", "background.hover"), ("Header", "text")], 0,
    ),
    "not what is locked": ("", "", [], 1),
}  # fmt: skip


@pytest.mark.parametrize("name", BY_PLACE)
def test_what_one_place_needs_is_worn_there_alone(name: str) -> None:
    more, css, places, left = BY_PLACE[name]
    known, study = known_study(SHARED_WHITE[0] + more, SHARED_WHITE[1] + css)
    white = next(role.id for role in study.roles if role.value == "#ffffff" and role.is_text)
    fixed = fix_all(known, study, [white] if "locked" in name else [])
    assert [(one.place, one.use) for one in fixed.places] == places and fixed.after == left
    worn = {(scope.where, use) for scope in fixed.study.worn for use in scope.set}
    assert worn == {(one.where, one.use) for one in fixed.places}
    assert hard_texts(known, fixed.study) <= hard_texts(known, study), "nothing gets hard to read by it"
    for one in fixed.places:
        beside = read_colour({"Header": "#1abc9c", "Current menu item": "#747260"}.get(one.place, "#ffffff"))
        assert one.fixes >= 1 and contrast_ratios(np.array(one.after.rgb), np.array(beside.rgb)) >= 4.5


def test_a_box_in_a_place_keeps_what_it_needs() -> None:
    page = SHARED_WHITE[0].replace("teal</p>", "teal</p><form><button class=w>Ask</button></form>")
    known, study = known_study(page, SHARED_WHITE[1] + "header button { background: #14342b }")
    fixed = fix_all(known, study)
    (one,) = fixed.places
    assert (one.place, [(inner.place, inner.colour.hex()) for inner in one.kept]) == ("Header", [("Form", "#ffffff")])
    assert (fixed.after, one.texts, one.fixes) == (0, 1, 1), "the button shows what it showed"
    assert one.made_in(study) == fixed.study


def test_single_texts_get_what_no_place_can_have() -> None:
    css = "body { background: #fff; color: #222 } .b { color: #fff } "
    grounds = {"x": "#14342b", "y": "#ffdd88", "z": "#9be0d0"}
    css += " ".join(f".{name} {{ background: {colour} }}" for name, colour in grounds.items())
    buttons = "".join(f"<a class='b {name}' href=#>{name * 8}</a> " for name in "xyzyx")
    known, study = known_study(f"{MANY}<main>{buttons}</main>", css)
    locked = [role.id for role in study.roles if role.kind == "background" or not role.is_text]
    fixed = fix_all(known, study, locked)
    alone = {one.place: len(one.also) + 1 for one in fixed.places}
    assert (fixed.before, fixed.after, alone) == (3, 0, {"“yyyyyyyy”": 2, "“zzzzzzzz”": 1})
    assert all(scope.where.at and scope.where.page == "index.html" for scope in fixed.study.worn)
    assert all(one.texts == one.fixes for one in fixed.places), "and no other text moves"


def made_site(seed: int) -> tuple[KnownSite, Study]:
    """Return a small site with sections, buttons, quiet text, links and states in random colours."""
    dice = np.random.default_rng(seed)

    def colour(lightness: tuple[float, float], chroma: float) -> str:
        grey = dice.uniform(*lightness)
        rgb = np.clip(grey + dice.uniform(-chroma, chroma, 3), 0, 1)
        return "#" + "".join(f"{round(v * 255):02x}" for v in rgb)

    css = [f"body {{ background: {colour((0.85, 1), 0.05)}; color: {colour((0, 0.5), 0.1)} }}"]
    css += [f"a {{ color: {colour((0.2, 0.8), 0.4)} }} a:hover {{ color: {colour((0.2, 0.8), 0.4)} }}"]
    body = [MANY]
    for number in range(int(dice.integers(2, 6))):
        css += [f".s{number} {{ background: {colour((0, 1), 0.3)}; color: {colour((0, 1), 0.1)} }}"]
        css += [f".q{number} {{ color: {colour((0.3, 0.8), 0.05)} }}"]
        css += [f".b{number} {{ background: {colour((0, 1), 0.5)}; color: {colour((0, 1), 0.05)} }}"]
        css += [f".b{number}:hover {{ background: {colour((0, 1), 0.5)} }}"]
        inside = f"<p class=q{number}>quiet</p><p><a class=b{number} href=#>button</a></p>"
        body += [f"<section class=s{number}><h2>Heading</h2><p>Some text <a href=#>link</a></p>{inside}</section>"]
    return known_study("".join(body), " ".join(css))


def hard(known: KnownSite, study: Study) -> int:
    return len(hard_texts(known, study))


def one_by_one(known: KnownSite, study: Study) -> Study:
    """Return the study with the findings fixed in order, each by the text's nearest readable colour."""
    for _ in range(40):
        finding = next((f for f in known.read(study).findings if f.verdict == "fail" and f.text.role), None)
        offer = Mender(known, study).offer(finding.text.role, finding.pairings) if finding else None
        better = study.with_values({offer.role: offer.colour.hex()}) if offer is not None else study
        if better == study or hard(known, better) >= hard(known, study):
            return study
        study = better
    return study


def is_still_itself(known: KnownSite, study: Study, fixed: Fixed) -> None:
    """Check the properties that make a fixed site the same site."""
    uses, total = known.uses, sum(use.background for use in known.uses)
    of_role = known.tokens.tokens_of(study)
    for one in fixed.changes:
        role = study.role(one.role)
        if one.tokens or role.state != "rest" or one.before.rgb == one.after.rgb:
            continue
        before, after = lch(one.before.hex()), lch(one.after.hex())
        if role.is_background and before[1] >= COLOURFUL:
            turned = abs((after[2] - before[2] + 180) % 360 - 180)
            assert turned <= KEPT_HUE and after[1] >= KEPT_CHROMA * before[1] - 1e-6, one
        if not any(known.index.text_token(p) in of_role[role.id] for p in known.index.involving(set(of_role[role.id]))):
            area = sum(uses[t].background for t in of_role[role.id]) / total
            assert one.delta_e_ok <= (FARTHEST_WIDE if area > 0.02 else FARTHEST) + 1e-3, one
    first = known.compiled(study).read(known.tokens.values(study), study.aim)
    now = known.compiled(fixed.study).read(known.tokens.values(fixed.study), study.aim)
    read = (first.verdict != FAIL) & known.index.is_used
    assert not ((now.verdict == FAIL) & read).any(), "what was readable stays so"


@pytest.mark.parametrize("seed", [*range(8), *(pytest.param(n, marks=pytest.mark.prove) for n in range(8, 200))])
def test_made_sites_are_fixed_and_still_themselves(seed: int) -> None:
    known, study = made_site(seed)
    fixed = fix_all(known, study)
    is_still_itself(known, study, fixed)
    assert hard(known, fixed.study) == fixed.after <= hard(known, one_by_one(known, study))


def test_choices_keep_a_colours_nature() -> None:
    rgb = (200 / 255, 69 / 255, 43 / 255)
    some = choices_of(rgb, 0.1)
    assert (some.delta_e_ok <= 0.1 + 1e-9).all() and len(some) > 30
    kept = oklch_from_oklab(oklab_from_srgb(some.colours[~some.is_other]))
    own = oklch_from_oklab(oklab_from_srgb(np.array([rgb])))[0]
    assert (kept[:, 1] >= KEPT_CHROMA * own[1] - 1e-6).all() and (kept[:, 0] >= 0.2).all()
    assert float(delta_e_ok(some.colours, np.array(rgb)).min()) < 1e-9
