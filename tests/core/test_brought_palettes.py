"""A palette goes from one site to another of another make: what fits is worn, what does not is told."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from glaucon.core.acts.any_act import applied
from glaucon.core.acts.at_hand import ReadSite
from glaucon.core.acts.whole.take_palette import FitPalette, TakePalette
from glaucon.core.errors import ColourError
from glaucon.core.exchange.brought_palettes import read_brought
from glaucon.core.exchange.design_tokens import design_tokens
from glaucon.core.exchange.palette_files import gpl
from glaucon.core.study.backdrops import Backdrop
from glaucon.core.study.coat_backdrops import with_backdrop, with_coat_backdrop
from glaucon.core.study.coats import add_coat
from glaucon.core.study.study import Study
from glaucon.core.survey.site import SiteFiles, read_site

WORDS = "<p>Words about locks and weirs, <a href=#>more of them</a>."
QUAY = SiteFiles(
    {
        "index.html": f"""<!doctype html><title>Quay</title><style>
body {{ background: #fff; color: #444; font-size: 16px }} a {{ color: #06c }} h1 {{ color: #111 }}
.bar {{ background: #223 }} .bar p {{ color: #eee }}</style>
<h1>Cranes to let</h1>{WORDS * 6}<section class=bar>{WORDS * 3}</section>""".encode()
    }
)
REEDS = {"pattern": {"name": "reeds", "colour": {"role": "line"}, "scale": 1.5, "opacity": 0.3}}
WATER = {"picture": {"file": "backdrops/still-water.webp"}}
BANK = {"colour": {"role": "background"}}


@pytest.fixture(scope="module")
def yard(otterlock: Path) -> Study:
    """The sample's study with a link of its own, a coat that brings a pattern, and two backdrops."""
    study = ReadSite(read_site(otterlock)).known.first_study("Spring paint").with_values({"link": "#7a2fb0"})
    study, dusk = add_coat(study, "Dusk", "#2b1d3a")
    study = with_coat_backdrop(study, dusk, Backdrop.model_validate({"layers": [BANK, REEDS]}))
    study = with_backdrop(study, Backdrop.model_validate({"layers": [BANK, WATER]}))
    footer = {"section": "footer"}
    return with_backdrop(study, Backdrop.model_validate({"in": footer, "layers": [BANK, REEDS]}))


@pytest.mark.parametrize("way", ["tokens", "study"])
def test_what_fits_is_worn_and_the_rest_is_told(yard: Study, way: str) -> None:
    quay = ReadSite(QUAY)
    ours = quay.known.first_study("Quay")
    text = design_tokens(yard) if way == "tokens" else json.dumps(yard.model_dump(mode="json"))
    told = FitPalette(search="fit-palette", palette=text).find(quay, ours)
    taken = applied(quay, ours, [TakePalette(act="take-palette", palette=text)])

    worn = {one.ours: one.colour for one in told.worn}
    assert worn["Background"] == "#fbf7ef" and worn["Link"] == "#7a2fb0" and worn["Text"] == "#22302b"
    first = {kind: taken.first(kind) for kind in ("background", "link", "text", "heading")}
    assert {kind: role.value for kind, role in first.items() if role} == {
        "background": "#fbf7ef", "link": "#7a2fb0", "text": "#22302b", "heading": "#14342b"
    }  # fmt: skip
    assert "Dusk" in told.coats and "Sand band" in told.coats
    dusk = next(coat.id for coat in taken.coats if coat.label == "Dusk")
    pattern = taken.coat_backdrops[dusk].layers[1].pattern
    assert pattern is not None and pattern.colour == "#cdbfa5", "its line's colour, whatever line is here"
    # the whole site's backdrop lies here without the picture that stayed behind; the footer's has no place
    assert [len(one.layers) for one in taken.backdrops if one.where is None] == [1]
    assert any("still-water" in one and "needs a picture from the other site" in one for one in told.left)
    assert "The backdrop of “footer”: this site has no section of that name." in told.left
    assert any(one.startswith("Buttons (#C8452B)") for one in told.left)
    # nothing that is mapped, and nothing that is locked, is lost by it
    assert taken.mapping == ours.mapping


def test_a_palette_comes_back_to_its_own_site_as_it_went_out(yard: Study, otterlock: Path) -> None:
    site = ReadSite(read_site(otterlock))
    fresh = site.known.first_study("Fresh")
    back = applied(site, fresh, [TakePalette(act="take-palette", palette=design_tokens(yard))])
    assert {r.id: r.value for r in back.roles if r.coat != "dusk"} == {
        r.id: r.value for r in yard.roles if r.coat != "dusk"
    }
    assert [coat.label for coat in back.coats] == [coat.label for coat in yard.coats]


# a palette of another make: what each of its colours is taken for, by kind and state
NAMED = {
    "tokens": (
        '{"color": {"$type": "color", "page-background": {"$value": "#fffdf5"}, "textMuted": {"$value": "#777"}, '
        '"link": {"default": {"$value": "#0b5c7a"}, "hover": {"$value": "#c8452b"}}, "note": {"$value": "#123"}}}',
        {"background": "#fffdf5", "quiet": "#777777", "link": "#0b5c7a", "link.hover": "#c8452b"},
    ),
    "gpl": (
        "GIMP Palette\n#\n 11 92 122\tBrand\n 34 34 34\tBody text\n 9 9 9\tx",
        {"accent": "#0b5c7a", "text": "#222222"},
    ),
}  # fmt: skip


@pytest.mark.parametrize("name", NAMED)
def test_names_of_other_makes_say_what_a_colour_is_for(name: str) -> None:
    text, wanted = NAMED[name]
    assert {role.use: role.value for role in read_brought(text).roles} == wanted


BROKEN = {
    "codes alone": ("#0b5c7a, #f2c14e", "says what a colour is for"),
    "a study changed by hand": ('{"format": 3, "name": "x", "roles": [{"id": "text"}]}', "does not hold together"),
    "an extension changed by hand": ('{"$extensions": {"glaucon.palette": {"roles": 7}}}', "does not hold together"),
    "half a file": ('{"color": {"text": ', "broken"),
}


@pytest.mark.parametrize("name", BROKEN)
def test_what_is_no_palette_is_refused(name: str) -> None:
    text, words = BROKEN[name]
    with pytest.raises(ColourError, match=words):
        read_brought(text)


def test_a_gpl_palette_of_ours_keeps_names_that_say_what_they_are_for(yard: Study) -> None:
    found = {role.use: role.value for role in reversed(read_brought(gpl(yard)).roles)}
    assert (found["link"], found["background"], found["heading"]) == ("#7a2fb0", "#fbf7ef", "#14342b")
