"""Texts on a backdrop with marked colours in it, ready to be read with any others in their stead."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from glaucon.core.backdrops.trying import Before, ground_of, sightings_on
from glaucon.core.colour.contrast import ratio_of_luminances, relative_luminance
from glaucon.core.colour.oklab import Floats
from glaucon.core.colour.value import Colour
from glaucon.core.known.site import KnownSite
from glaucon.core.reading.colour_table import TokenColours
from glaucon.core.reading.reading import FAIL, Worn
from glaucon.core.study.backdrops import Backdrop
from glaucon.core.study.fading import fades_of
from glaucon.core.study.study import Study
from glaucon.core.survey.sheets import BACKDROPS_FILE

# an opacity that no hand sets: its colours are found again by it
MARK = 0.5037
MARKED = "#808080"
SAFE = 1.0025  # of a ratio: between the pixels of a picture that are told lies one that is as much worse
_NEAR = 2e-4
_ROUNDED = 1 / 255  # browsers mix to whole bytes, now one way and now the other
_LOW = 0.2  # of a byte, that the mixing itself is off by
Text = tuple[str, str]  # its page and path


class Marked:
    """The texts on a backdrop as they are dressed under a study, some of whose colours are marked by their opacity."""

    def __init__(
        self, known: KnownSite, study: Study, backdrop: Backdrop, before: Before | None, is_dithered: bool
    ) -> None:
        """`known` has been read with the marks; `is_dithered` where browsers mix finer than bytes and then dither."""
        self._study = study
        self._is_dithered = is_dithered
        self._tokens = known.survey.tokens
        reading = known.read(study)
        self._at: dict[int, set[Text]] = {}
        for key, number, row in sightings_on(known, reading.index.survey, backdrop, before is not None):
            run = known.survey.runs[number]
            if before is None or before.ground(key, run) != ground_of(reading.readings, row):
                self._at.setdefault(row, set()).add((run.page, run.path))
        self._rows = np.array(sorted(self._at), dtype=np.int64)
        self._compiled = reading.index.compiled.faded(fades_of(study)).only(self._rows)
        self._colours, self._worn = _own_copies(known.worn_colours(study))

    def tokens_of(self, mark: float) -> list[int]:
        """Return the numbers of the colours of a mark."""
        return [
            number for number, token in enumerate(self._tokens)
            if token.file.startswith(BACKDROPS_FILE) and abs(token.colour.alpha - mark) < _NEAR
        ]  # fmt: skip

    def lay(self, tokens: Sequence[int], colour: Colour) -> None:
        """Put a colour in the stead of some."""
        for worn in self._worn:
            worn[tokens] = [*colour.rgb, colour.alpha]

    @property
    def texts(self) -> list[Text]:
        """Return the page and path of each text."""
        return sorted(set().union(*self._at.values()))

    def failing_rows(self) -> NDArray[np.bool_]:
        """Return which rows are hard to read, or so near to it that rounding may make them."""
        read = self._compiled.read(self._colours, self._study.aim)
        return np.asarray((read.verdict == FAIL) | (self.ratio(read.words, read.ground) < SAFE * read.required))

    def texts_of(self, rows: NDArray[np.bool_]) -> list[Text]:
        """Return the (page, path) of each text that the rows show."""
        return sorted(set().union(*(self._at[row] for row in self._rows[rows].tolist())))

    def ratio(self, words: Floats, ground: Floats) -> Floats:
        """Return ratios, shape (n,), with each ground rounded towards its words."""
        light = relative_luminance(words)
        is_lighter = (light > relative_luminance(ground))[:, None]
        if self._is_dithered:
            up, down = np.ceil(ground * 255 + _LOW) / 255, np.floor(ground * 255 - _LOW) / 255
        else:
            up, down = ground + _ROUNDED, ground - _ROUNDED
        rounded = np.clip(np.where(is_lighter, up, down), 0, 1)
        return np.asarray(ratio_of_luminances(light, relative_luminance(rounded)))


def _own_copies(worn: Worn) -> tuple[Worn, list[Floats]]:
    """Return tokens' colours that may be written to, and all arrays in them, each once."""
    arrays: dict[int, Floats] = {}

    def own(tokens: Floats) -> Floats:
        return arrays.setdefault(id(tokens), np.array(tokens))

    def copied(tokens: Floats | TokenColours) -> Floats | TokenColours:
        if not isinstance(tokens, TokenColours):
            return own(tokens)
        return TokenColours(own(tokens.base), {at: own(one) for at, one in tokens.at.items()}, tokens.grounds)

    kept = [copied(one) for one in worn] if isinstance(worn, Sequence) else copied(worn)
    return kept, list(arrays.values())
