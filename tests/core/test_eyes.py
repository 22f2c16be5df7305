"""Other eyes: the published matrices, what they keep, and colours that become alike, with what parts them."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from glaucon.core.colour.contrast import relative_luminance
from glaucon.core.colour.oklab import delta_e_ok
from glaucon.core.known.site import KnownSite
from glaucon.core.seeing.alike import alike_pairs
from glaucon.core.seeing.comfort import comfort_notes
from glaucon.core.seeing.eyes import EYES, Eye, matrix_of, seen
from glaucon.core.survey.site import SiteFiles
from glaucon.core.survey.survey import survey_site

# Machado, Oliveira, Fernandes 2009, table of matrices: severity 0.5 and 1.0, as printed there
PUBLISHED: list[tuple[Eye, float, tuple[float, ...]]] = [
    ("protan", 1.0, (0.152286, 1.052583, -0.204868, 0.114503, 0.786281, 0.099216, -0.003882, -0.048116, 1.051998)),
    ("deutan", 1.0, (0.367322, 0.860646, -0.227968, 0.280085, 0.672501, 0.047413, -0.011820, 0.042940, 0.968881)),
    ("tritan", 1.0, (1.255528, -0.076749, -0.178779, -0.078411, 0.930809, 0.147602, 0.004733, 0.691367, 0.303900)),
    ("protan", 0.5, (0.458064, 0.679578, -0.137642, 0.092785, 0.846313, 0.060902, -0.007494, -0.016807, 1.024301)),
    ("deutan", 0.5, (0.547494, 0.607765, -0.155259, 0.181692, 0.781742, 0.036566, -0.010410, 0.027275, 0.983136)),
]  # fmt: skip
COLOURS = st.tuples(*[st.floats(0, 1)] * 3).map(lambda rgb: np.array([rgb]))


@pytest.mark.parametrize(("eye", "strength", "expected"), PUBLISHED)
def test_weak_colour_vision_is_as_published(eye: Eye, strength: float, expected: tuple[float, ...]) -> None:
    assert np.allclose(matrix_of(eye, strength)[:, :3].ravel(), expected, atol=1e-6)


@given(COLOURS, st.sampled_from(EYES))
def test_no_strength_changes_nothing_and_greys_stay_grey(colour: Any, eye: Eye) -> None:
    assert np.allclose(seen(colour, eye, 0.0), colour, atol=1e-4)
    grey = np.full((1, 3), float(colour[0, 0]))
    shown = seen(grey, eye, 1.0)
    assert np.ptp(shown) < 2e-3
    if eye == "grey":
        assert np.allclose(relative_luminance(seen(colour, "grey", 1.0)), relative_luminance(colour), atol=1e-6)
    if eye == "sun":
        assert (seen(colour, "sun", 1.0) >= colour - 1e-9).all()  # light is only added


# CSS, markup, the kind of note that a person would write; "" for none
COMFORT: list[tuple[str, str, str]] = [
    ("", "", ""),
    ("body{background:#ff2a00;color:#fff}", "", "strong-field"),
    ("body{background:#ffe9e2;color:#222}", "", ""),
    ("p{color:#1030ff;background:#e0203a}", "", "vibrates"),
    ("p{color:#c21807}", "", "long-strong"),
    ("p{color:#5a3a36}", "", ""),
    ("body{background:#fff}p{color:#000}", "", "black-on-white"),
    ("body{background:#fff}p{color:#1f1f1f}", "", ""),
    ("p{color:#707070;font-weight:300;font-size:16px}", "", "thin"),
    ("p{color:#333;font-weight:300;font-size:16px}", "", ""),
    ("p{color:#333}.bad{color:#c0392b}.good{color:#3f7d20}", "<p class=bad>Closed</p><p class=good>Open</p>", "hue-alone"),
    ("p{color:#333}a{color:#0b5c7a}a:hover{color:#0d5f7e}", "<p>Read <a href='#'>this</a> first</p>", "faint-hover"),
    ("p{color:#333}a{color:#0b5c7a}a:hover{color:#062f3f}", "<p>Read <a href='#'>this</a> first</p>", ""),
]  # fmt: skip


@pytest.mark.parametrize(("css", "body", "kind"), COMFORT)
def test_a_note_on_comfort_is_one_that_a_person_would_write(css: str, body: str, kind: str) -> None:
    known = known_with(f"body{{color:#333}} {css}", WORDS * 2 + body)
    study = known.first_study("As it came")
    notes = comfort_notes(known, study)
    assert kind in {note.kind for note in notes} if kind else not notes
    for note in notes:
        if note.role is not None and note.value is not None:
            tried = study.with_values({note.role: note.value})
            assert known.read(tried).hard <= known.read(study).hard
            assert note.kind not in {one.kind for one in comfort_notes(known, tried)}


def known_with(css: str, body: str) -> KnownSite:
    page = f"<!doctype html><title>t</title><style>{css}</style><body>{body}".encode()
    return KnownSite(survey_site(SiteFiles({"index.html": page})))


LINK = "<p>Read <a href='#'>this</a> first</p>"
WORDS = "<p>Moorings by the week, all year round, by the low lock.</p>" * 6
# CSS and markup, eye, whether a pair is told
ALIKE: list[tuple[str, str, Eye, bool]] = [
    (".bad{color:#c0392b}.good{color:#3f7d20}", "<p class=bad>Closed</p><p class=good>Open</p>", "deutan", True),
    (".bad{color:#c0392b}.good{color:#3f7d20}", "<p class=bad>Closed</p><p class=good>Open</p>", "tritan", False),
    (".bad{color:#7a0010}.good{color:#4f9d30}", "<p class=bad>Closed</p><p class=good>Open</p>", "deutan", False),
    ("a{color:#a23b00}body{color:#4d4f00}", LINK, "protan", True),
    ("a{color:#0b5c7a}", LINK, "protan", False),
]  # fmt: skip


@pytest.mark.parametrize(("css", "body", "eye", "is_told"), ALIKE)
def test_colours_that_become_alike_are_told_with_what_parts_them(css: str, body: str, eye: Eye, is_told: bool) -> None:
    known = known_with(css, WORDS + body)
    study = known.first_study("As it came")
    pairs = alike_pairs(known, study, eye, 1.0)
    assert bool(pairs) is is_told
    for pair in pairs:
        assert pair.change is not None
        parted = study.with_values({pair.change.role: pair.change.value})
        sides = np.array([parted.role(one.id).colour.rgb for one in (pair.one, pair.other)])
        one, other = seen(sides, eye, 1.0)
        assert delta_e_ok(one, other) >= 0.089
        assert known.read(parted).hard <= known.read(study).hard
