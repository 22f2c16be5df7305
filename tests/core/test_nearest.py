"""The nearest readable colour: it passes, nothing nearer does, and where it says none there is none."""

from __future__ import annotations

from functools import cache

import numpy as np
import pytest
from hypothesis import HealthCheck, Phase, example, given, settings
from hypothesis import strategies as st

from glaucon.core.colour.oklab import oklab_from_srgb, oklch_from_oklab
from glaucon.core.colour.value import Colour
from glaucon.core.reading.counterparts import Counterparts
from glaucon.core.reading.nearest import GREY_CHROMA, HUE_TOLERANCE_DEGREES, TINGE, nearest_readable, tinge_beyond

channel = st.integers(0, 255)
colours = st.tuples(channel, channel, channel).map(lambda levels: np.array(levels) / 255)


@st.composite
def counterparts(draw: st.DrawFn) -> Counterparts:
    """Draw a role seen as words on fixed grounds, or as the ground of fixed words, opaque or not."""
    rows = draw(
        st.lists(
            st.tuples(colours, st.sampled_from([3.0, 4.5, 7.0]), st.sampled_from([1.0, 1.0, 0.8])),
            min_size=1,
            max_size=6,
        )
    )
    as_words = draw(st.booleans())
    fixed = np.array([row[0] for row in rows])
    opacity = np.array([[row[2]] * 3 for row in rows])
    moving, still = (opacity, fixed * (1 - opacity)), (np.zeros_like(fixed), fixed)
    words, ground = (moving, still) if as_words else (still, (np.ones_like(fixed), np.zeros_like(fixed)))
    return Counterparts(
        words[0], words[1], ground[0], ground[1], np.array([row[1] for row in rows]), np.arange(len(rows))
    )


def against(*pairs: tuple[str, float]) -> Counterparts:
    """Return counterparts of words on some grounds."""
    fixed = np.array([[int(hex_[i : i + 2], 16) / 255 for i in (1, 3, 5)] for hex_, _ in pairs])
    nothing, one = np.zeros_like(fixed), np.ones_like(fixed)
    return Counterparts(one, nothing, nothing, fixed, np.array([r for _, r in pairs]), np.arange(len(pairs)))


@cache
def every_colour(step: int) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return 8-bit colours, every level or every few: levels, OKLab and hue in degrees."""
    some = np.arange(0, 256, step, dtype=np.uint8)
    levels = np.stack(np.meshgrid(some, some, some, indexing="ij"), axis=-1).reshape(-1, 3)
    lab = np.concatenate([oklab_from_srgb(part / 255).astype(np.float32) for part in np.array_split(levels, 64)])
    hue = np.degrees(np.arctan2(lab[:, 2], lab[:, 1])) % 360
    return levels, lab, hue


def passing(some: Counterparts, levels: np.ndarray) -> np.ndarray:
    parts = np.array_split(levels, max(1, len(levels) // 200_000))
    return np.concatenate([some.passes(part / 255) for part in parts])


def check(current: np.ndarray, some: Counterparts, step: int) -> None:
    """Hold the answer against all colours of the hue, and of all hues where there is none of its own."""
    found = nearest_readable(Colour(*current), some)
    levels, lab, hue = every_colour(step)
    own = oklab_from_srgb(current)
    own_hue = float(oklch_from_oklab(own)[2])
    is_grey = float(oklch_from_oklab(own)[1]) < GREY_CHROMA
    apart = np.abs((hue - own_hue + 180) % 360 - 180)
    # every level of lightness and chroma of that hue; a margin keeps rounding of the hue out of the judgement
    greyish = tinge_beyond(lab[:, 1:].astype(float), own[1:]) < TINGE - 1e-5
    same_hue = greyish if is_grey else apart <= HUE_TOLERANCE_DEGREES - 0.01
    if found.colour is None:
        assert not passing(some, levels).any()
        return
    assert some.passes(np.array([found.colour.rgb]))[0]
    assert found.delta_e_ok is not None
    distance = np.linalg.norm(lab - own.astype(np.float32), axis=1)
    nearer = distance < found.delta_e_ok - 1e-5
    rivals = nearer if found.other_hue else nearer & same_hue
    assert not passing(some, levels[rivals]).any()
    if found.other_hue:
        assert not passing(some, levels[same_hue]).any()


# without shrinking: one look at all 16.7 million colours takes seconds
BRUTE = settings(deadline=None, suppress_health_check=list(HealthCheck), phases=(Phase.explicit, Phase.generate))


@settings(BRUTE, max_examples=8)
@given(colours, counterparts())
@example(np.array([140, 138, 120]) / 255, against(("#fbf7ef", 4.5), ("#efe6d6", 4.5), ("#e4d3b0", 4.5)))
@example(np.array([140, 138, 120]) / 255, against(("#ffffff", 4.5), ("#000000", 4.5), ("#767676", 4.5)))
@example(np.array([255, 255, 255]) / 255, against(("#e1e1e1", 4.5), ("#c0c8d0", 4.5)))
@example(np.array([255, 0, 0]) / 255, against(("#ff0000", 4.5)))
@example(np.array([0, 90, 200]) / 255, against(("#767676", 4.6)))
def test_nearest_is_the_nearest_of_all_8_bit_colours(current: np.ndarray, some: Counterparts) -> None:
    check(current, some, step=5)


@pytest.mark.prove
@settings(BRUTE, max_examples=60)
@given(colours, counterparts())
def test_nearest_is_the_nearest_over_many_draws(current: np.ndarray, some: Counterparts) -> None:
    check(current, some, step=1)
