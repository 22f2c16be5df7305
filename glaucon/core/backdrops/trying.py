"""What would make text readable on a backdrop: the least veil, and the part of a picture to look at."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from glaucon.core.colour.value import Colour
from glaucon.core.proposal.known import KnownSite
from glaucon.core.reading.reading import FAIL
from glaucon.core.study.backdrops import Backdrop, Layer, OfRole, Veil
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.sheets import BACKDROPS_FILE

# an opacity that no hand sets: its colours are found again by it
_MARK = 0.5037
_STEPS = 100
FOCAL_STEPS = 9

Seen = Callable[[Backdrop], KnownSite]  # reads the site's pages with another backdrop in a place


@dataclass(frozen=True, slots=True)
class OnIt:
    """A text on a backdrop as it is read: its ratio, what it needs, where it is. `ratio` is None where nobody knows."""

    page: str
    path: str
    text: str
    width: int
    state: str
    ratio: float | None
    required: float
    verdict: int


def texts_on(known: KnownSite, study: Study, backdrop: Backdrop) -> list[OnIt]:
    """Return the texts in a backdrop's place under a study, those that are hardest to read first."""
    reading = known.read(study)
    shown, verdicts = reading.index.survey, reading.readings
    found: dict[tuple[str, str, int, str], OnIt] = {}
    for key, number, pairing in _sightings(known, shown, backdrop):
        run = known.survey.runs[number]
        ratio = float(verdicts.ratio[pairing])
        found[run.page, run.path, key.width, key.state] = OnIt(
            run.page, run.path, run.text, key.width, key.state, None if np.isnan(ratio) else ratio,
            float(verdicts.required[pairing]), int(verdicts.verdict[pairing]),
        )  # fmt: skip
    return sorted(found.values(), key=lambda one: (one.ratio is None, (one.ratio or 0) / one.required))


def _sightings(known: KnownSite, shown: object, backdrop: Backdrop) -> Iterable[tuple[ContextKey, int, int]]:
    region = backdrop.where.region if backdrop.where is not None else None
    page = backdrop.where.page if backdrop.where is not None else None
    survey = known.survey
    number = next((n for n, one in enumerate(survey.regions) if one.key == region), -1)
    for key, sightings in shown.sightings.items():  # type: ignore[attr-defined]
        for sighting in sightings:
            run = survey.runs[sighting.run]
            if page in (None, run.page) and (region is None or number in survey.chains[run.chain]):
                yield key, sighting.run, sighting.pairing


def with_veil(study: Study, backdrop: Backdrop, opacity: float, colour: OfRole | str | None = None) -> Backdrop:
    """Return a backdrop with the topmost veil at an opacity, or one of a colour laid over it."""
    layers = list(backdrop.layers)
    place = next((n for n in range(len(layers) - 1, -1, -1) if layers[n].veil is not None), None)
    old = layers[place].veil if place is not None else None
    paint = colour if colour is not None else old.colour if old is not None else _ground(study)
    veil = Layer(veil=Veil(colour=paint, opacity=opacity))
    if place is None:
        layers.append(veil)
    else:
        layers[place] = veil
    return backdrop.model_copy(update={"layers": tuple(layers)})


def _ground(study: Study) -> OfRole | str:
    role = study.first("background")
    return OfRole(role=role.id) if role is not None else "#ffffff"


@dataclass(frozen=True, slots=True)
class Least:
    """The least opacity of a veil, in hundredths of it, with which as few texts as can be are hard to read."""

    opacity: float
    hard: int


def least_veil(seen: Seen, study: Study, backdrop: Backdrop) -> Least:
    """Return the least veil: every hundredth is read, on all pages and states that `seen` reads.

    Source: the ratio is no monotone function of the veil where the veil's colour is near the text's, so none is left
    out.
    """
    paint = with_veil(study, backdrop, _MARK).layers
    veil = next(layer.veil for layer in reversed(paint) if layer.veil is not None)
    colour = study.role(veil.colour.role).value if isinstance(veil.colour, OfRole) else veil.colour
    known = seen(with_veil(study, backdrop, _MARK, colour))
    marked = [
        number for number, token in enumerate(known.survey.tokens)
        if token.file.startswith(BACKDROPS_FILE) and abs(token.colour.alpha - _MARK) < 2e-4
    ]  # fmt: skip
    rows = _pairings(known, study, backdrop)
    hard = [_hard(known, study, marked, rows, step / _STEPS) for step in range(_STEPS + 1)]
    best = min(hard)
    return Least(hard.index(best) / _STEPS, best)


def _pairings(known: KnownSite, study: Study, backdrop: Backdrop) -> NDArray[np.int64]:
    found = {pairing for _, _, pairing in _sightings(known, known.survey, backdrop)}
    return np.array(sorted(found), dtype=np.int64)


def _hard(known: KnownSite, study: Study, marked: Sequence[int], rows: NDArray[np.int64], opacity: float) -> int:
    values = known.tokens.values(study).copy()
    for number in marked:
        colour: Colour = known.survey.tokens[number].colour
        values[number] = [*colour.rgb, opacity]
    verdict = known.compiled(study).read(values, study.aim).verdict
    return int((verdict[rows] == FAIL).sum())


def best_focus(seen: Seen, study: Study, backdrop: Backdrop, told: Callable[[int, int], None]) -> tuple[float, float]:
    """Return the place to look at of the topmost picture that fills its place, so that the hardest text reads best.

    Along each axis in turn, since a picture that fills a box is cut along one; `told` hears steps done and in all.
    """
    at = next(p.at for p in reversed(list(backdrop.pictures)))
    middle = (at[0], at[1])
    places = [n / (FOCAL_STEPS - 1) for n in range(FOCAL_STEPS)]
    done = 0
    for axis in (1, 0):
        scores: list[tuple[float, float, float]] = []
        for place in places:
            tried = (place, middle[1]) if axis == 0 else (middle[0], place)
            known = seen(at_focus(backdrop, tried))
            ratios = [one.ratio / one.required for one in texts_on(known, study, backdrop) if one.ratio is not None]
            scores.append((min(ratios, default=0.0), -abs(place - middle[axis]), place))
            done += 1
            told(done, 2 * FOCAL_STEPS)
        best = max(scores)[2]
        middle = (best, middle[1]) if axis == 0 else (middle[0], best)
    return middle


def at_focus(backdrop: Backdrop, at: tuple[float, float]) -> Backdrop:
    """Return a backdrop whose topmost picture looks at another place."""
    layers = list(backdrop.layers)
    number = max(n for n, layer in enumerate(layers) if layer.picture is not None and not layer.off)
    picture = layers[number].picture
    assert picture is not None
    layers[number] = layers[number].model_copy(update={"picture": picture.model_copy(update={"at": at})})
    return backdrop.model_copy(update={"layers": tuple(layers)})
