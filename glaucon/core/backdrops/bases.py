"""The base colour of a backdrop: what its text stands on where the pictures over it do not load."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from glaucon.core.backdrops.marked import MARK
from glaucon.core.backdrops.trying import Before, Seen
from glaucon.core.backdrops.veils import Veiled
from glaucon.core.colour.value import Colour, css_text, read_colour
from glaucon.core.reading.candidates import candidates_of
from glaucon.core.study.backdrops import Backdrop, Layer, OfRole
from glaucon.core.study.study import Study

_PLAIN = "#808080"  # where there is none yet


@dataclass(frozen=True, slots=True)
class Base:
    """A backdrop with the base colour on which fewest texts are hard to read, and those, each by page and path."""

    backdrop: Backdrop
    hard: list[tuple[str, str]]


def readable_base(seen: Seen, study: Study, backdrop: Backdrop, before: Before | None = None) -> Base:
    """Return a backdrop with the base colour nearest to its own, of the same hue, on which all text can be read.

    Where there is none, the one on which fewest is hard to read. `seen` reads the pages as they are without pictures.
    """
    own = next((layer.colour for layer in backdrop.layers if layer.colour is not None and not layer.off), None)
    now = study.role(own.role).colour if isinstance(own, OfRole) else read_colour(own or _PLAIN)
    marked = with_base(backdrop, css_text(Colour(0.5, 0.5, 0.5, MARK)))
    texts = Veiled(seen(marked), study, marked, before, is_veil=False)
    if own is not None and not texts.hard(now, 1.0):
        return Base(backdrop, [])
    some = candidates_of(now.rounded().rgb)
    fewest: tuple[int, Colour] | None = None
    for place in np.argsort(some.delta_e_ok, kind="stable").tolist():
        colour = Colour(*some.colours[place].tolist()).rounded()
        hard = int(texts.fails(colour, 1.0).sum())
        if fewest is None or hard < fewest[0]:
            fewest = (hard, colour)
        if not hard:
            break
    assert fewest is not None  # the colour itself is a candidate
    return Base(with_base(backdrop, css_text(fewest[1])), texts.hard(fewest[1], 1.0))


def with_base(backdrop: Backdrop, colour: str) -> Backdrop:
    """Return a backdrop with another base colour, laid under all where it has none."""
    layers = list(backdrop.layers)
    place = next((n for n, layer in enumerate(layers) if layer.colour is not None and not layer.off), None)
    if place is None:
        layers.insert(0, Layer(colour=colour))
    else:
        layers[place] = Layer(colour=colour)
    return backdrop.model_copy(update={"layers": tuple(layers)})
