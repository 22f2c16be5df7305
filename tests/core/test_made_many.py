"""Made palettes in number: random seeds and pictures, several sites; everything reads that can, and directions differ."""

from __future__ import annotations

import io

import numpy as np
import pytest
from PIL import Image

from glaucon.core.backdrops.picture_colours import main_colours, seeds_of
from glaucon.core.colour.oklab import oklab_from_srgb, oklch_from_oklab
from glaucon.core.colour.value import Colour, read_colour
from glaucon.core.known.site import KnownSite
from glaucon.core.making.making import APART, COLOURFUL, GREY, average_difference, make_studies
from glaucon.core.survey.site import SiteFiles
from glaucon.core.survey.survey import survey_site
from tests.core.test_colour_craft import CSS, PAGE

_DARK = """body { background: #101c22; color: #dfe9f2 } h1, h2 { color: #8fc7de } a { color: #f2c14e } .q { color: #7d8b94 }
header, section { background: #1b2c35 } footer { background: #f3ead9; color: #22302b } footer a { color: #8a4b2d }
.b { background: #f2c14e; color: #101c22 } .b:hover { background: #c9a030 }"""
_PLAIN = """body { background: #fff; color: #333 } h1, h2 { color: #111 } a { color: #00e } .q { color: #777 }
header { border-bottom: 1px solid #ccc } section { background: #f4f4f4 } footer { color: #666 } .b { background: #00e; color: #fff }"""

_VARIABLES = """:root { --ground: #eef3f1; --deep: #0f3d3e; --lamp: #b3541e } body { background: var(--ground); color: var(--deep) }
a { color: var(--lamp) } a:focus { outline: 2px solid var(--deep) } header { background: var(--deep); color: #fff } header a { color: #cfe8e5 }
.q { color: #5c7a78 } section { background: #dbe7e4 } footer { background: var(--deep); color: var(--ground) } footer a { color: #fff }
.b { background: var(--lamp); color: #fff } .b:focus { background: #7a3610 }"""
_WARM = """body { background: #fff4e6; color: #3b2a1a } h1, h2 { color: #7a2e12 } a { color: #a33c10 } .q { color: #8a7460 }
header { background: #7a2e12; color: #fff4e6 } header a { color: #ffd9b0 } section { background: #ffe3c2; border: 1px solid #e0b98c }
footer { background: #3b2a1a; color: #f0dcc4 } footer a { color: #ffc58a } .b { background: #a33c10; color: #fff } .b:hover { background: #7a2e12 }"""


def small(css: str) -> SiteFiles:
    return SiteFiles({"index.html": PAGE.encode(), "a.css": css.encode()})


SITES = {
    "a hire yard": lambda: small(CSS),
    "the yard at night": lambda: small(_DARK),
    "a plain one": lambda: small(_PLAIN),
    "custom properties": lambda: small(_VARIABLES),
    "a warm one": lambda: small(_WARM),
}


def given(count: int) -> list[list[Colour]]:
    """Return random seeds of one to three colours, and those of a tenth as many made pictures."""
    dice = np.random.default_rng(404)
    seeds = [
        [Colour(*map(float, rgb)).rounded() for rgb in dice.random((int(dice.integers(1, 4)), 3))] for _ in range(count)
    ]
    for number in range(max(1, count // 10)):
        rows = np.kron(dice.integers(0, 256, (2, 3, 3)), np.ones((40, 40 + number, 1))).astype(np.uint8)
        out = io.BytesIO()
        Image.fromarray(rows).save(out, "PNG")
        seeds.append(seeds_of(main_colours(out.getvalue())))
    return seeds


def measured(count: int, sites: list[str]) -> str:
    """Return what came of it in words; fails where a given colour is touched or directions are alike."""
    made_count = unreadable = pale = touched = 0
    texts: list[str] = []
    fewest = 99
    for name in sites:
        known = KnownSite(survey_site(SITES[name]()))
        study = KnownSite(known.survey).first_study("First")
        for seeds in given(count):
            made = make_studies(known, study, seeds)
            fewest = min(fewest, len(made))
            for one in made:
                made_count += 1
                hard = known.read(one.study).hard
                unreadable += hard > 0
                if hard:
                    texts.append(f"{name}: {[c.hex() for c in seeds]} {one.study.name}: {one.left[:2]}")
                values = {role.id: role.value for role in one.study.roles}
                touched += any(values[role] != colour for role, colour in one.given.items())
                main = [n for n in ("link", "accent") if n in values and n not in one.given]
                chromas = [oklch_from_oklab(oklab_from_srgb(np.array(read_colour(values[n]).rgb)))[1] for n in main]
                own = oklch_from_oklab(oklab_from_srgb(np.array(seeds[0].rgb)))[1]
                # nobody who gives a pale colour is surprised by links as pale as it
                is_pale = own >= GREY and any(chroma < min(COLOURFUL, own) - 1e-3 for chroma in chromas)
                pale += is_pale
                if is_pale:
                    shown = {n: values[n] for n in main}
                    texts.append(f"{name}: {[c.hex() for c in seeds]} {one.study.name}: pale among {shown}")
            for n, one in enumerate(made):
                assert all(average_difference(one.study, other.study) >= APART for other in made[:n])
    text = (
        f"{made_count} studies for {len(sites)} sites: {unreadable} with a text that is hard to read, {touched} touch a "
        f"given colour, {pale} with a link or accent under a chroma of {COLOURFUL} and paler than what was given; {fewest} directions at least"
    )
    print(text, *texts[:24], sep="\n")
    assert (unreadable, touched, pale) == (0, 0, 0) and fewest > 1, text
    return text


@pytest.mark.prove
def test_made_palettes_of_a_hundred_seeds_and_ten_pictures() -> None:
    measured(100, list(SITES))
