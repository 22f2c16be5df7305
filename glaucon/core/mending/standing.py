"""What texts stand on and lie under that no colour of the palette changes: pictures, sheets, whole pages."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from glaucon.core.colour.contrast import ratio_of_luminances, relative_luminance
from glaucon.core.colour.oklab import Floats
from glaucon.core.known.site import KnownSite
from glaucon.core.study.study import Study
from glaucon.core.survey.model import Photo

Mask = NDArray[np.bool_]
WIDE = 0.02  # of all backgrounds: pages, panels and sections rather than buttons
_PLAIN = 1.6  # contrast within a picture up to which it is as good as one colour
_SHOWS = 0.8  # of words under something half clear


def on_pictures(known: KnownSite, study: Study, values: Floats) -> Mask:
    """Return which pairings have a picture behind them whose lightness differs from place to place.

    They are no reason to change a colour that other text wears: the picture is what makes them hard to read.
    """
    read = known.compiled(study).read(values, study.aim)
    light = ratio_of_luminances(relative_luminance(read.lightest), relative_luminance(read.darkest))
    pictures = (any(isinstance(layer, Photo) for layer in one.below) for one in known.survey.pairings)
    return np.fromiter(pictures, dtype=bool, count=len(light)) & (np.nan_to_num(light, nan=1.0) > _PLAIN)


def dimmed(known: KnownSite, study: Study, values: Floats) -> Mask:
    """Return which pairings have something over them through which their words' own colour shows only in part."""
    found = np.zeros(len(known.survey.pairings), dtype=bool)
    under = {
        number: token for number, one in enumerate(known.survey.pairings)
        if one.above and (token := known.index.text_token(number)) is not None
    }  # fmt: skip
    if under:
        black, white = values.copy(), values.copy()
        black[list(under.values()), :3], white[list(under.values()), :3] = 0.0, 1.0
        compiled = known.compiled(study)
        share = compiled.read(white, study.aim).words - compiled.read(black, study.aim).words
        found[list(under)] = share[list(under)].mean(axis=1) < _SHOWS * values[list(under.values()), 3]
    return found


def areas(known: KnownSite) -> Mapping[int, float]:
    """Return how much of all backgrounds each token paints; a page's own shows around all the rest, so it is wide."""
    total = sum(use.background for use in known.uses) or 1.0
    pages = page_tokens(known)
    return {
        number: max(use.background / total, 2 * WIDE if number in pages else 0.0)
        for number, use in enumerate(known.uses)
    }


def page_tokens(known: KnownSite) -> set[int]:
    """Return the tokens that paint pages themselves."""
    return {
        number for number, painters in known.survey.painters.items()
        if any(painter.tag in ("body", "html") for painter in painters)
    }  # fmt: skip
