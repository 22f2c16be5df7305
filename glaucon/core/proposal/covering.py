"""How much of what is painted the short palette colours: text and background both, by the weight of the text."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from glaucon.core.colour.oklab import Floats, oklab_from_srgb
from glaucon.core.reading.reading import Readings
from glaucon.core.study.roles import Role
from glaucon.core.study.study import Study

COVERED = 0.03  # ΔE OK


def covered_share(study: Study, readings: Readings, weights: Floats) -> float:
    """Return the share, 0 to 1, of painted text that the short palette colours, its background too.

    `readings` are the site's as found, `weights` characters times size squared of each pairing at rest on the widest
    screen. A text counts where one set of colours, the site's or a coat's with the site's, has both its colour and its
    background. Text on pictures and gradients is left out: no palette colours those.
    """
    counted: NDArray[np.bool_] = (weights > 0) & ~np.isnan(readings.ratio) & ~readings.varied
    total = float(weights[counted].sum())
    if total == 0:
        return 1.0
    covered = is_covered(study, readings.words, readings.ground)
    return float(weights[counted & covered].sum()) / total


def is_covered(study: Study, text: Floats, background: Floats) -> NDArray[np.bool_]:
    """Return for each (text, background) pair, sRGB rows, whether a coat or the site's short palette has both."""
    text_lab, background_lab = oklab_from_srgb(text), oklab_from_srgb(background)
    site = study.short_roles()
    sets = [site] + [
        [*site, *(r for r in study.roles_of(coat.id) if r.tier == "main" and r.state == "rest")]
        for coat in study.short_coats()
    ]
    covered = np.zeros(len(text_lab), dtype=bool)
    for place, roles in enumerate(sets):
        backgrounds = [r for r in roles if r.is_background and (place == 0 or r.coat is not None)]
        covered |= _near(text_lab, roles) & _near(background_lab, backgrounds)
    return covered


def _near(lab: Floats, roles: list[Role]) -> NDArray[np.bool_]:
    if not roles:
        return np.zeros(len(lab), dtype=bool)
    own = oklab_from_srgb(np.array([role.colour.rgb for role in roles]))
    apart = np.linalg.norm(lab[:, None, :] - own[None], axis=2)
    return np.asarray((apart <= COVERED).any(axis=1))
