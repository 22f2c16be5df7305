"""Colours against a reference of another make (culori, by Node) over 10,000 random ones, in each CSS syntax."""

from __future__ import annotations

import json
import subprocess
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from coloraide import Color
from coloraide.gamut.fit_oklch_chroma import OkLChChroma

from glaucon.core.colour.oklab import delta_e_ok, oklab_from_oklch, oklab_from_srgb, srgb_from_oklab
from glaucon.core.colour.value import parse_css_colour
from glaucon.core.study.ties import into_srgb

COUNT = 10_000
CLOSE = 1e-4
_SYNTAXES = (
    "#{0:02x}{1:02x}{2:02x}", "rgb({0} {1} {2})", "rgb({3:.3f}% {4:.3f}% {5:.3f}%)",
    "color(srgb {6:.6f} {7:.6f} {8:.6f})", "hsl({9:.4f} {10:.4f}% {11:.4f}%)", "hwb({9:.4f} {12:.4f}% {13:.4f}%)",
    "lab({14:.4f} {15:.4f} {16:.4f})", "lch({14:.4f} {17:.4f} {9:.4f})", "oklab({18:.5f} {19:.5f} {20:.5f})",
    "oklch({18:.5f} {21:.5f} {9:.4f})", "color(display-p3 {6:.6f} {7:.6f} {8:.6f})",
    "color(srgb-linear {6:.6f} {7:.6f} {8:.6f})", "color(xyz-d65 {22:.6f} {23:.6f} {24:.6f})",
)  # fmt: skip


def css_texts(dice: np.random.Generator) -> list[str]:
    texts = []
    for number in range(COUNT):
        levels = dice.integers(0, 256, 3).tolist()
        unit = dice.random(3).tolist()
        white = float(dice.random() * 60)
        values = [
            *levels, *(100 * v for v in unit), *unit, dice.random() * 360, dice.random() * 100, dice.random() * 100,
            white, dice.random() * (100 - white), dice.random() * 100, *(dice.random(2) * 80 - 40), dice.random() * 60,
            dice.random(), *(dice.random(2) * 0.2 - 0.1), dice.random() * 0.15, *(dice.random(3) * 0.9),
        ]  # fmt: skip
        texts.append(_SYNTAXES[number % len(_SYNTAXES)].format(*values))
    return texts


@pytest.fixture(scope="module")
def reference() -> tuple[np.ndarray, list[str], dict[str, Any]]:
    dice = np.random.default_rng(20_261_125)
    rgb = dice.random((COUNT, 3))
    texts = css_texts(dice)
    asked = json.dumps({"rgb": rgb.tolist(), "texts": texts})
    script = Path(__file__).parents[1] / "reference.mjs"
    done = subprocess.run(["node", str(script)], input=asked, capture_output=True, text=True, check=True)
    return rgb, texts, json.loads(done.stdout)


def test_conversions_and_differences(reference: Any) -> None:
    rgb, _, told = reference
    assert np.abs(oklab_from_srgb(rgb) - np.array(told["oklab"])).max() < CLOSE
    assert np.abs(srgb_from_oklab(np.array(told["oklab"])) - rgb).max() < CLOSE
    assert np.abs(delta_e_ok(rgb[1:], rgb[:-1]) - np.array(told["apart"])).max() < CLOSE


class ToTheEnd(OkLChChroma):
    """The reference's own search, which ends within 1e-4 of chroma, taken on."""

    NAME = "to-the-end"
    MIN_CONVERGENCE = 1e-9


class ReferenceColour(Color):
    """The reference with that search."""


ReferenceColour.register(ToTheEnd())


def test_bringing_into_srgb() -> None:
    """Less chroma until it fits (CSS Color 4, section 13, with no tolerance), beside coloraide."""
    dice = np.random.default_rng(5)
    oklch = dice.random((COUNT // 5, 3)) * (1, 0.4, 360)  # the reference takes 5 ms a colour
    ours = into_srgb(oklch)
    theirs = np.array([
        ReferenceColour("oklch", row).fit("srgb", method="to-the-end", jnd=0).convert("srgb").coords()
        for row in oklch.tolist()
    ])  # fmt: skip
    inside = ((srgb_from_oklab(oklab_from_oklch(oklch)) * 2 - 1) ** 2 <= 1).all(axis=1)
    assert 0.1 < inside.mean() < 0.9
    assert np.abs(ours - np.clip(theirs, 0, 1)).max() < CLOSE / 100
    # near black OKLab draws out what no eight bits hold
    assert delta_e_ok(ours, np.clip(theirs, 0, 1))[oklch[:, 0] > 0.001].max() < CLOSE


def test_every_css_syntax(reference: Any) -> None:
    _, texts, told = reference
    wrong = []
    for text, other in zip(texts, told["texts"], strict=True):
        colour = parse_css_colour(text)
        if colour is None or np.abs(np.array(colour.rgb) - np.clip(other, 0, 1)).max() > CLOSE:
            wrong.append((text, colour, other))
    assert wrong == [], wrong[:5]
