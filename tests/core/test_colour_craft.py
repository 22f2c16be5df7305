"""Ties, locks, palette files, pictures, swap, made palettes: what they do and what they refuse."""

from __future__ import annotations

import io
import json
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from glaucon import cli
from glaucon.core.backdrops.picture_colours import main_colours
from glaucon.core.colour.contrast import contrast_ratio
from glaucon.core.colour.oklab import delta_e_ok, oklab_from_srgb, oklch_from_oklab
from glaucon.core.colour.value import read_colour
from glaucon.core.errors import ColourError, StudyError
from glaucon.core.exchange.design_tokens import design_tokens
from glaucon.core.exchange.palette_files import gpl, read_palette
from glaucon.core.known.site import KnownSite
from glaucon.core.making.making import (
    APART,
    COLOURFUL,
    DIRECTIONS,
    average_difference,
    counterpart,
    is_dark,
    make_studies,
    make_study,
)
from glaucon.core.making.starting import STARTING, starting_study
from glaucon.core.study.editing import remove_role, tie_role
from glaucon.core.study.study import Study, read_study
from glaucon.core.study.swap import places_of, swap
from glaucon.core.study.ties import Tie
from glaucon.core.survey.site import SiteFiles
from glaucon.core.survey.survey import survey_site

PAGE = """<!doctype html><link rel=stylesheet href=a.css><header><a href=#>Yard</a></header>
<h1>Winter hire</h1><p>Words enough to be a page of a yard, <a href=#>a link</a> among them.<p class=q>quiet words
<section><h2>Boats</h2><p>Eleven of them.</section><p><a class=b href=#>Book</a><footer>Withy Lane <a href=#>map</a></footer>"""
CSS = """body { background: #fbf7ef; color: #22302b } h1, h2 { color: #14342b } a { color: #0b5c7a }
.q { color: #8c8a78 } header { background: #efe6d6 } section { background: #e3d3b0 } footer { background: #14342b; color: #fff }
footer a { color: #f3ead9 } .b { background: #c8452b; color: #fff6ea } .b:hover { background: #a93621 }"""


@pytest.fixture(scope="module")
def yard() -> tuple[KnownSite, Study]:
    survey = survey_site(SiteFiles({"index.html": PAGE.encode(), "a.css": CSS.encode()}))
    return KnownSite(survey), KnownSite(survey).first_study("First")


def lch(text: str) -> np.ndarray:
    return oklch_from_oklab(oklab_from_srgb(np.array(read_colour(text).rgb)))


TIES: dict[str, tuple[Tie, Callable[[Study], bool]]] = {
    "the same": (Tie(to="text"), lambda s: s.role("quiet").value == s.role("text").value),
    "lighter": (Tie(to="text", lighter=0.2), lambda s: abs(lch(s.role("quiet").value)[0] - lch("#22302b")[0] - 0.2) < 0.01),
    "turned": (Tie(to="link", turned=90), lambda s: abs((lch(s.role("quiet").value)[2] - lch("#0b5c7a")[2]) % 360 - 90) < 8),
    "colourful": (Tie(to="link", colourful=-0.05), lambda s: lch(s.role("quiet").value)[1] < lch("#0b5c7a")[1] - 0.04),
    "opacity": (Tie(to="text", opacity=0.5), lambda s: s.role("quiet").colour.alpha == 0.5),
    "readable": (
        Tie(to="accent", on="background", ratio=7),
        lambda s: contrast_ratio(s.role("quiet").colour, s.role("background").colour) >= 7,
    ),
}  # fmt: skip


@pytest.mark.parametrize("name", TIES)
def test_a_tie_follows_when_its_origin_moves(name: str, yard: tuple[KnownSite, Study]) -> None:
    tie, holds = TIES[name]
    tied = tie_role(yard[1], "quiet", tie)
    assert holds(tied)
    before = tied.role("quiet").value
    moved = tied.with_values({tie.to: "#3b0a45"})
    assert moved.role("quiet").value != before and moved.role("quiet").tie == tie
    assert read_study(moved.model_dump(mode="json")) == moved
    cut = tie_role(moved, "quiet", None)
    assert (cut.role("quiet").tie, cut.role("quiet").value) == (None, moved.role("quiet").value)
    assert moved.with_values({"quiet": "#123456"}).role("quiet").tie is None, "a colour of its own cuts it"
    gone = remove_role(moved, tie.to, None, is_answered=True)
    assert (gone.role("quiet").tie, gone.role("quiet").value) == (None, moved.role("quiet").value)


def test_ties_in_a_circle_are_refused(yard: tuple[KnownSite, Study]) -> None:
    study = tie_role(tie_role(yard[1], "quiet", Tie(to="text")), "text", Tie(to="heading"))
    for name, to in (("heading", "quiet"), ("heading", "heading")):
        with pytest.raises(StudyError, match=r"in a circle: .*Let one of them stop following"):
            tie_role(study, name, Tie(to=to))
    with pytest.raises(StudyError, match="no role “nowhere”"):
        tie_role(study, "link", Tie(to="nowhere"))
    document = study.model_dump(mode="json")
    next(role for role in document["roles"] if role["id"] == "heading")["tie"] = {"to": "quiet"}
    with pytest.raises(StudyError, match="in a circle"):
        read_study(document)


def test_swap_takes_whole_roles_or_parts_of_them(yard: tuple[KnownSite, Study]) -> None:
    known, study = yard
    places = places_of(known.tokens, study, read_colour("#14342b"))
    assert {place.token.property for place in places} == {"color", "background"}
    whole = swap(study, known.tokens, [p.key for p in places], read_colour("#512a0f"))
    assert not places_of(known.tokens, whole, read_colour("#14342b"))
    assert {p.key for p in places_of(known.tokens, whole, read_colour("#512a0f"))} == {p.key for p in places}
    two = places_of(known.tokens, study, read_colour("#fff6ea"), within=0.06)
    assert len({p.colour.hex() for p in two}) > 1, "those near it too"
    with pytest.raises(StudyError, match="No place is chosen"):
        swap(study, known.tokens, [], read_colour("red"))


GOOD_PALETTES = {
    "codes among words": ("Header: #0B5C7A; lamp = f2c14e, rgb(20 52 43) and oklch(60% 0.1 40)", 4, "#0b5c7a"),
    "names": ("teal, tomato\nnavy", 3, "#008080"),
    "gpl": ("GIMP Palette\nName: Yard\nColumns: 2\n# made up\n 11  92 122\tLink\n242 193  78 Lamp\n", 2, "#0b5c7a"),
    "tokens": (
        json.dumps({"brand": {"$type": "color", "lamp": {"$value": {"colorSpace": "srgb", "components": [1, 0, 0]}},
                              "deep": {"$value": {"colorSpace": "oklch", "components": [0.4, 0.1, 240], "alpha": 0.5}},
                              "alias": {"$value": "{brand.lamp}"}}, "gap": {"$type": "dimension", "$value": "4px"}}),
        2, "#ff0000",
    ),
}  # fmt: skip
BAD_PALETTES = {
    "nothing": ("the colour of the water", "No colour was found"),
    "broken json": ('{"a": {"$value": ', "not complete JSON"),
    "deep json": ('{"a":' * 5000, "not complete JSON"),
    "broken gpl": ("GIMP Palette\n 11 92\n", "Line 2"),
    "a level too many": ("GIMP Palette\n 11 92 300 x\n", "Line 2"),
    "10,000 colours": ("GIMP Palette\n" + "1 2 3 x\n" * 10_000, "10,000 colours. Glaucon takes up to 256"),
    "huge": ("#" * 1_000_001, "larger than 1 MB"),
}


@pytest.mark.parametrize("name", GOOD_PALETTES)
def test_palettes_are_read(name: str) -> None:
    text, count, first = GOOD_PALETTES[name]
    found = read_palette(text)
    assert (len(found), found[0].colour.hex()) == (count, first)


@pytest.mark.parametrize("name", BAD_PALETTES)
def test_palettes_are_refused(name: str) -> None:
    text, words = BAD_PALETTES[name]
    with pytest.raises(ColourError, match=words):
        read_palette(text)


def test_palettes_come_back_as_they_went_out(yard: tuple[KnownSite, Study]) -> None:
    study = yard[1]
    for text in (gpl(study), design_tokens(study)):
        assert [one.colour.hex() for one in read_palette(text)] == [role.colour.hex() for role in study.roles]


def painted(parts: dict[str, float], size: tuple[int, int] = (300, 200), noise: float = 0.0) -> Image.Image:
    """Return a picture of bands in known proportions, each pixel off by some noise."""
    rows = np.zeros((size[1], size[0], 3))
    edges = np.cumsum([0, *parts.values()]) * size[0]
    for place, colour in enumerate(parts):
        rows[:, round(edges[place]) : round(edges[place + 1])] = np.array(read_colour(colour).rgb) * 255
    rows += np.random.default_rng(3).normal(0, noise, rows.shape)
    return Image.fromarray(rows.clip(0, 255).round().astype(np.uint8))


def saved(picture: Image.Image, kind: str, **more: object) -> bytes:
    out = io.BytesIO()
    picture.save(out, kind, **more)
    return out.getvalue()


HULL = {"#14342b": 0.5, "#c8452b": 0.3, "#f2c14e": 0.2}
SKY = {"#8fc7de": 0.55, "#f3ead9": 0.25, "#2f5d3a": 0.15, "#a93621": 0.05}
PICTURES: dict[str, tuple[Callable[[], bytes], dict[str, float]]] = {
    "three bands": (lambda: saved(painted(HULL), "PNG"), HULL),
    "four, one small": (lambda: saved(painted(SKY), "PNG"), SKY),
    "noise": (lambda: saved(painted(HULL, noise=6), "PNG"), HULL),
    "jpeg": (lambda: saved(painted(HULL, (600, 400)), "JPEG", quality=80), HULL),
    "webp": (lambda: saved(painted(SKY), "WEBP", quality=90), SKY),
    "one colour": (lambda: saved(painted({"#0b5c7a": 1}), "PNG"), {"#0b5c7a": 1}),
    "grey": (lambda: saved(painted({"#777777": 0.6, "#dddddd": 0.4}).convert("L"), "PNG"), {"#777777": 0.6, "#dddddd": 0.4}),
    "clear at the side": (lambda: saved(_half_clear(), "PNG"), HULL),
    "palette gif, animated": (lambda: saved(painted(HULL), "GIF", save_all=True, append_images=[painted(SKY)]), HULL),
    "16 bit": (lambda: saved(_sixteen(), "PNG"), {"#404040": 0.5, "#c0c0c0": 0.5}),
    "cmyk": (lambda: saved(painted({"#14342b": 0.5, "#f3ead9": 0.5}).convert("CMYK"), "JPEG", quality=95), {"#14342b": 0.5, "#f3ead9": 0.5}),
    "three megapixels": (lambda: saved(painted(SKY, (2000, 1500), noise=3), "JPEG"), SKY),
}  # fmt: skip


def _half_clear() -> Image.Image:
    picture = painted(HULL, (300, 400)).convert("RGBA")
    alpha = np.zeros((400, 300), dtype=np.uint8)
    alpha[:200] = 255
    picture.putalpha(Image.fromarray(alpha))
    return picture


def _sixteen() -> Image.Image:
    rows = np.full((200, 300), 0x4040, dtype=np.uint16)
    rows[:, 150:] = 0xC0C0
    return Image.fromarray(rows)


@pytest.mark.parametrize("name", PICTURES)
def test_main_colours_of_a_picture(name: str) -> None:
    make, parts = PICTURES[name]
    data = make()
    found = main_colours(data)
    for colour, share in parts.items():
        apart = [float(delta_e_ok(np.array(read_colour(colour).rgb), np.array(one.colour.rgb))) for one in found]
        nearest = int(np.argmin(apart))
        assert apart[nearest] <= 0.03, (colour, apart)
        assert abs(found[nearest].share - share) < 0.05
    assert sum(one.share for one in found[: len(parts)]) > 0.85


BAD_PICTURES = {
    "cannot read that picture": (lambda: b"GIF89a but not", "cannot read that picture"),
    "cut off": (lambda: saved(painted(HULL), "PNG")[:500], "cannot read that picture"),
    "empty": (lambda: b"", "cannot read that picture"),
    "transparent all over": (lambda: saved(Image.new("RGBA", (9, 9)), "PNG"), "transparent all over"),
    "too many pixels": (lambda: saved(Image.new("1", (8000, 6000)), "PNG"), "8000 by 6000 pixels"),
}


@pytest.mark.parametrize("name", BAD_PICTURES)
def test_pictures_are_refused(name: str) -> None:
    make, words = BAD_PICTURES[name]
    with pytest.raises(ColourError, match=words):
        main_colours(make())


@pytest.mark.parametrize("given", [["#c8452b"], ["#7a3fe0"], ["#8fc7de", "#14342b"], ["#777777"]])
def test_made_palettes_read_keep_what_was_given_and_differ(given: list[str], yard: tuple[KnownSite, Study]) -> None:
    known, study = yard
    made = make_studies(known, study, [read_colour(text) for text in given])
    assert len(made) >= 3
    for one in made:
        assert known.read(one.study).hard == 0, one.study.name
        values = {role.id: role.value for role in one.study.roles}
        assert sorted(one.given.values()) == sorted(given) and one.given.items() <= values.items()
        assert one.about.endswith(".")
        if given != ["#777777"]:
            free = [name for name in ("link", "accent") if name not in one.given]
            assert all(lch(values[name])[1] >= COLOURFUL - 1e-3 for name in free), (one.study.name, values)
    apart = [average_difference(a.study, b.study) for n, a in enumerate(made) for b in made[:n]]
    assert min(apart) >= APART


# colours given, where they go on a light page, and whether the first is also what links have
GOES: list[tuple[list[str], dict[str, str]]] = [
    (["#c8452b"], {"accent": "#c8452b"}),
    (["#f7f3ea", "#c8452b"], {"background": "#f7f3ea", "accent": "#c8452b"}),
    (["#1c2321", "#c8452b"], {"text": "#1c2321", "accent": "#c8452b"}),
    (["#c8452b", "#0b5c7a"], {"accent": "#c8452b", "link": "#0b5c7a"}),
]  # fmt: skip


@pytest.mark.parametrize("given", ["#c8452b", "#3d8ec3", "#f2c14e", "#1f6f54", "#8a2f6b"])
def test_what_is_given_is_on_every_button_with_words_that_are_comfortable_there(
    given: str, yard: tuple[KnownSite, Study]
) -> None:
    """On what is given itself the words go as far as they can; no part of it is another colour for comfort's sake."""
    known, study = yard
    for made in make_studies(known, study, [read_colour(given)], most=3):
        assert not [one for one in made.parts if one.role == "accent"]
        words = made.study.role("accent-text").colour
        assert made.study.role("accent").value == given
        assert contrast_ratio(words, read_colour(given)) >= (5.5 if given != "#c8452b" else 4.6)


@pytest.mark.parametrize(("given", "goes"), GOES)
def test_given_colours_go_where_a_person_would_put_them(
    given: list[str], goes: dict[str, str], yard: tuple[KnownSite, Study]
) -> None:
    known, study = yard
    made = make_study(known, study, [read_colour(text) for text in given], 0)
    assert made.given == goes
    roles = {role.id: role for role in made.study.roles}
    # comfort rather than the limit, and a page that is light or dark without being either wholly
    page, text = (roles[name].colour for name in ("background", "text"))
    assert 0.94 <= lch(page.hex())[0] <= 1 and 9 <= contrast_ratio(text, page) <= 16.1
    dark = make_study(known, study, [read_colour(given[-1])], 1)
    page, text = (dark.study.role(name).colour for name in ("background", "text"))
    assert 0.17 <= lch(page.hex())[0] <= 0.27 and 9 <= contrast_ratio(text, page) <= 16.1


BAND = "body { background: #fff; color: #222 } header { background: #1abc9c; color: #053b30 } a { color: #035 } "
BRAND: list[tuple[str, list[str], str]] = [
    # the rest of what the buttons' colour fills, what is filled with the orange that is given, why
    (
        "<header><h1>Boats</h1><p>Hire by the day or by the week</p></header>",
        ["accent", "header.background"],
        "also a section's",
    ),
    ("<header><h1>Boats</h1></header><i class=o>9 locks</i>", ["accent"], "also an ornament's"),
]


@pytest.mark.parametrize(("rest", "goes", "why"), BRAND)
def test_the_colour_of_buttons_is_given_first(rest: str, goes: list[str], why: str) -> None:
    page = f"{rest}{'<p>Locks and moorings, and more of them</p>' * 9}<button class=b>Book</button>"
    css = BAND + ".b { background: #1abc9c; color: #053b30 }"
    if goes == ["accent"]:
        css = css.replace("header { background: #1abc9c", "header { background: #eee") + ".o { background: #1abc9c }"
    known = KnownSite(survey_site(SiteFiles({"index.html": f"<style>{css}</style>{page}".encode()})))
    made = make_study(known, known.first_study("First"), [read_colour("#c8452b")], 0)
    assert list(made.given) == goes, why


def test_a_text_that_serves_a_light_and_a_dark_section_gets_another_colour_in_one() -> None:
    css = b""".dark { background: #102a24 } .bright { background: #b5461d } h2, .on { color: #fff }
    body { background: #fff; color: #222 }"""
    words = "words that stand on it " * 8
    page = f"""<!doctype html><link rel=stylesheet href=a.css><p>{words}</p>
    <section class=dark id=d><h2>Night</h2><p class=on>{words}</p></section>
    <section class=bright id=b><h2>Day</h2><p class=on>{words}</p></section>"""
    known = KnownSite(survey_site(SiteFiles({"index.html": page.encode(), "a.css": css})))
    study = known.first_study("x")
    dark = next(r.id for r in study.roles if r.found == "#102a24")
    bright = next(r.id for r in study.roles if r.found == "#b5461d")
    wished = {dark: read_colour("#0d1f2b"), bright: read_colour("#ffd9a0")}
    made = make_study(known, study, list(wished.values()), 0, wished=wished)
    assert made.places and made.failing == 0, made.left
    assert {role.id: role.value for role in made.study.roles if role.id in wished} == {
        dark: "#0d1f2b", bright: "#ffd9a0",
    }  # fmt: skip
    assert known.read(made.study).failing_texts() == set()


def test_starting_studies_and_the_other_side_read(yard: tuple[KnownSite, Study]) -> None:
    known, study = yard
    assert len(STARTING) >= 14 and len({one.name for one in STARTING}) == len(STARTING)
    dark = set()
    for one in STARTING:
        made = starting_study(known, study, one.name)
        assert known.read(made.study).hard == 0, one.name
        dark.add(is_dark(made.study))
    assert dark == {True, False}
    other = counterpart(known, study)
    assert is_dark(other.study) and known.read(other.study).hard == 0
    assert not is_dark(counterpart(known, other.study).study)


def test_palettes_from_the_command_line(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    (tmp_path / "site").mkdir()
    (tmp_path / "site" / "index.html").write_text(PAGE)
    (tmp_path / "site" / "a.css").write_text(CSS)
    (tmp_path / "p.png").write_bytes(saved(painted(HULL), "PNG"))
    out = tmp_path / "studies.json"
    for source in (["--from", "#c8452b"], ["--picture", str(tmp_path / "p.png")]):
        command = ["palette", str(tmp_path / "site"), *source, "--directions", "2", "--format", "json"]
        assert cli.main([*command, "--out", str(out)]) == 0
        report = json.loads(capsys.readouterr().out)
        assert [one["failing"] for one in report["studies"]] == [0, 0]
        studies = json.loads(out.read_text())
        one = tmp_path / "one.json"
        one.write_text(json.dumps(studies[0]))
        status = cli.main(["recolour", str(tmp_path / "site"), "--study", str(one), "--out", str(tmp_path / "new.zip")])
        assert status == 0, "a study it writes is one that --study takes"
        capsys.readouterr()
    assert cli.main(["palette", str(tmp_path / "site"), "--from", "bluish", "--out", str(out)]) == 2
    assert "“bluish” is not a colour" in capsys.readouterr().err


@pytest.mark.parametrize("given", ["#c8452b", "#1d5546", "#7a2fb0"])
def test_a_title_that_a_gradient_paints_stays_a_lively_gradient_that_is_read(given: str) -> None:
    page = "<!doctype html><style>body { background: #fff; color: #222 } a { color: #2937f0 } h1 { color: transparent; "
    page += "background: linear-gradient(90deg, #7a2fb0, #c8452b); background-clip: text }</style>"
    page += f"<h1>Otterlock, by the water</h1>{'<p>Locks and moorings, and <a href=x>more</a></p>' * 8}"
    known = KnownSite(survey_site(SiteFiles({"index.html": page.encode()})))
    study = known.first_study("First")
    stops = [role.id for role in study.roles if role.value in ("#7a2fb0", "#c8452b")]
    for direction in range(len(DIRECTIONS)):
        made = make_study(known, study, [read_colour(given)], direction)
        one, other = (made.study.role(name) for name in stops)
        assert min(lch(one.value)[1], lch(other.value)[1]) > 0.065, "as lively as readable colours can be"
        apart = np.array(one.colour.rgb) - np.array(other.colour.rgb)
        assert float(np.linalg.norm(apart)) > 0.08 and known.read(made.study).hard == 0, made.study.name
