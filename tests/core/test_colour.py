"""Colour values: text in and out, WCAG ratios, compositing, OKLab."""

from __future__ import annotations

import json
from fractions import Fraction
from pathlib import Path

import numpy as np
import pytest
from coloraide import Color
from hypothesis import given
from hypothesis import strategies as st

from glaucon.core.colour.contrast import composite, contrast_ratio, cut_ratio
from glaucon.core.colour.in_words import change_in_words
from glaucon.core.colour.oklab import oklab_from_srgb, oklch_from_oklab, srgb_from_oklab
from glaucon.core.colour.value import Colour, css_text, parse_css_colour, read_colour
from glaucon.core.errors import ColourError

DATA = Path(__file__).parent.parent / "data"
VECTORS = json.loads((DATA / "contrast.json").read_text("utf-8"))["pairs"]
# text and the pixels Chromium 156 paints for it
PAINTED = json.loads((DATA / "painted_colours.json").read_text("utf-8"))
channel = st.integers(0, 255)
rgb = st.tuples(channel, channel, channel)


@pytest.mark.parametrize(
    ("typed", "hex_"),
    [
        ("#1d5c7a", "#1d5c7a"), ("1D5C7A", "#1d5c7a"), ("#abc", "#aabbcc"), ("abc8", "#aabbcc88"),
        (" teal ;", "#008080"),
        ("color: rgb(29, 92, 122);", "#1d5c7a"), ("background:#1d5c7a", "#1d5c7a"),
        ("rgb(29 92 122 / 50%)", "#1d5c7a80"),
        ("rgba(29,92,122,.5)", "#1d5c7a80"), ("REBECCAPURPLE", "#663399"), ("transparent", "#00000000"),
    ],
)  # fmt: skip
def test_typed_colour_is_understood(typed: str, hex_: str) -> None:
    assert read_colour(typed).hex() == hex_


@pytest.mark.parametrize(("text", "painted"), PAINTED)
def test_colour_is_as_chromium_paints_it(text: str, painted: list[int]) -> None:
    found = parse_css_colour(text)
    assert found is not None
    # Chromium's transfer curve of rec2020 is another than the standard's
    within = 4 if "rec2020" in text else 1
    assert max(abs(a - b) for a, b in zip(found.bytes, painted, strict=True)) <= within


def test_colour_outside_srgb_is_brought_in_where_it_is_typed() -> None:
    """A clipped green would be brighter and yellower; CSS Color 4 keeps its lightness and hue."""
    lch = oklch_from_oklab(oklab_from_srgb(np.array(read_colour("oklch(70% 0.35 150)").rgb)))
    assert lch[0] == pytest.approx(0.7, abs=0.01)
    assert lch[2] == pytest.approx(150, abs=4)  # the standard allows a just noticeable step


NO_COLOUR = {
    "#12": "It has 2 digits", "#12345": "It has 5 digits",
    "blurple": "Did you mean “purple”", "tael": "Did you mean “teal”",
    **dict.fromkeys(("", "rgb(1,2)", "url(x)", "currentColor", "#1d5c7a;}", "hello"), "Write it like #1d5c7a"),
}  # fmt: skip


@pytest.mark.parametrize("typed", NO_COLOUR)
def test_what_is_no_colour_is_quoted_with_the_way_out(typed: str) -> None:
    with pytest.raises(ColourError, match=NO_COLOUR[typed]) as refused:
        read_colour(typed)
    assert typed.strip()[:20] in str(refused.value)


@given(rgb, st.sampled_from([1.0, 0.5, 0.125, 0.0]))
def test_css_text_reads_back_the_same(levels: tuple[int, int, int], alpha: float) -> None:
    colour = Colour(*(level / 255 for level in levels), alpha)
    again = read_colour(css_text(colour))
    assert again.bytes == colour.bytes
    assert again.alpha == pytest.approx(alpha, abs=1e-4)


def exact_luminance(hex_: str) -> float:
    """Work the standard's definition with fractions, as far as a power of 2.4 lets one."""
    weights = (Fraction(2126, 10000), Fraction(7152, 10000), Fraction(722, 10000))
    total = Fraction(0)
    for place, weight in enumerate(weights):
        level = Fraction(int(hex_[1 + 2 * place : 3 + 2 * place], 16), 255)
        linear = (
            level / Fraction(1292, 100)
            if level <= Fraction(4045, 100000)
            else Fraction(float((level + Fraction(55, 1000)) / Fraction(1055, 1000)) ** 2.4)
        )
        total += weight * linear
    return float(total)


@pytest.mark.parametrize(("one", "other", "ratio"), VECTORS)
def test_contrast_ratio_is_the_standards(one: str, other: str, ratio: float) -> None:
    found = contrast_ratio(read_colour(one), read_colour(other))
    high, low = sorted((exact_luminance(one), exact_luminance(other)), reverse=True)
    assert found == pytest.approx((high + 0.05) / (low + 0.05), abs=1e-9)
    assert found == pytest.approx(ratio, abs=1e-3)
    assert found == contrast_ratio(read_colour(other), read_colour(one))


def test_contrast_of_a_translucent_colour_is_refused() -> None:
    with pytest.raises(ValueError, match="Composite"):
        contrast_ratio(Colour(0, 0, 0, 0.5), Colour(1, 1, 1))


@pytest.mark.parametrize(("ratio", "cut"), [(4.4999, 4.49), (4.5, 4.5), (2.999999, 2.99), (21.0, 21.0)])
def test_ratio_is_cut_not_rounded(ratio: float, cut: float) -> None:
    assert cut_ratio(ratio) == cut


@given(rgb, rgb, st.floats(0, 1), st.floats(0, 1))
def test_compositing_agrees_with_a_reference_library(
    top: tuple[int, int, int], below: tuple[int, int, int], top_alpha: float, below_alpha: float
) -> None:
    one = Colour(*(v / 255 for v in top), top_alpha)
    two = Colour(*(v / 255 for v in below), below_alpha)
    ours = composite(one, two)
    theirs = Color.layer([Color("srgb", one.rgb, top_alpha), Color("srgb", two.rgb, below_alpha)], space="srgb")
    assert ours.alpha == pytest.approx(theirs.alpha(), abs=1e-9)
    if ours.alpha > 1e-6:
        assert ours.rgb == pytest.approx(tuple(theirs.convert("srgb").coords()), abs=1e-6)


@given(rgb)
def test_oklab_agrees_with_a_reference_library_and_goes_back(levels: tuple[int, int, int]) -> None:
    srgb = np.array(levels) / 255
    lab = oklab_from_srgb(srgb)
    theirs = Color("srgb", list(srgb)).convert("oklab")
    assert lab == pytest.approx(np.array(theirs.coords()), abs=1e-6)
    assert srgb_from_oklab(lab) == pytest.approx(srgb, abs=1e-6)
    assert oklch_from_oklab(lab)[1] == pytest.approx(np.hypot(lab[1], lab[2]))


CHANGED = [
    ("#8c8a78", "#747260", "a little darker"), ("#f2c14e", "#f4c34f", "slightly lighter"),
    ("#a93a25", "#fdcfc5", "much lighter"), ("#999999", "#5b5a59", "darker"),
    ("#767676", "#767676", "merged with nearly alike colours"), ("#7a5a40", "#7a5a41", "slightly different"),
]  # fmt: skip


@pytest.mark.parametrize(("before", "after", "told"), CHANGED)
def test_a_change_is_told_as_a_person_says_it(before: str, after: str, told: str) -> None:
    assert change_in_words(read_colour(before), read_colour(after)) == told
