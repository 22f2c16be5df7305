"""The texts on a backdrop while it is tried, and what would make them readable: a part of a picture, another colour."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from glaucon.core.colour.contrast import contrast_ratio
from glaucon.core.colour.oklab import Floats
from glaucon.core.colour.value import Colour, read_colour
from glaucon.core.known.site import KnownSite
from glaucon.core.reading.reading import Readings
from glaucon.core.study.backdrops import Backdrop, OfRole
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey, Run, Survey

_COMFORT = 1.02  # of the ratio that is needed, for text that is turned
DARK, LIGHT = "#101010", "#fafafa"
FOCAL_STEPS = 9

Seen = Callable[[Backdrop], KnownSite]  # reads the site's pages with another backdrop in a place


@dataclass(frozen=True, slots=True)
class OnIt:
    """A text on a backdrop: its contrast ratio (None if it cannot be computed), the ratio it needs, its place.

    `is_inside` tells what stands in the backdrop's place from what only lies over it, as a menu over a picture.
    """

    page: str
    path: str
    text: str
    width: int
    state: str
    ratio: float | None
    required: float
    verdict: int
    is_inside: bool = True
    darkest: tuple[float, float, float] | None = None
    lightest: tuple[float, float, float] | None = None
    colour: tuple[float, float, float] | None = None  # of the words, as they are seen


class Before:
    """Background layers behind each text before the backdrop is added; any further layer belongs to the backdrop."""

    def __init__(self, known: KnownSite, study: Study) -> None:
        """`study` is the one without the backdrop."""
        self._known = known
        self._reading = known.read(study)
        self._of: dict[ContextKey, dict[tuple[str, str], int]] = {}

    def ground(self, key: ContextKey, run: Run) -> tuple[float, ...] | None:
        """Return the darkest and lightest colour behind a text; None: it is not there, or not in such a context."""
        shown = self._reading.index.survey
        if key not in self._of:
            runs = self._known.survey.runs
            self._of[key] = {
                (runs[one.run].page, runs[one.run].path): one.pairing for one in shown.sightings.get(key, ())
            }
        pairing = self._of[key].get((run.page, run.path))
        return None if pairing is None else ground_of(self._reading.readings, pairing)


def _colour(srgb: Floats) -> tuple[float, float, float] | None:
    return None if np.isnan(srgb).any() else (float(srgb[0]), float(srgb[1]), float(srgb[2]))


def text_turned(study: Study, on_it: Sequence[OnIt]) -> tuple[str, OfRole | str] | None:
    """Return "light" or "dark" with a colour that all texts on a backdrop can be read in, None where none can be.

    Of the palette where its background or text will do, else near white or near black; the one that reads better.
    """
    inside = [one for one in on_it if one.is_inside]
    grounds = [(one.darkest, one.lightest, one.required) for one in inside if one.darkest and one.lightest]
    if not grounds:
        return None
    best: tuple[float, str, OfRole | str] | None = None
    for name, role, plain in (
        ("light", study.first("background"), LIGHT), ("dark", study.first("text"), DARK),
    ):  # fmt: skip
        for paint in ([OfRole(role=role.id)] if role is not None else []) + [plain]:
            colour = study.role(paint.role).colour if isinstance(paint, OfRole) else read_colour(paint)
            share = min(
                contrast_ratio(colour, Colour(*ground)) / required
                for darkest, lightest, required in grounds for ground in (darkest, lightest)
            )  # fmt: skip
            if share >= _COMFORT and (best is None or share > best[0]):
                best = (share, name, paint)
                break
    return None if best is None else best[1:]


def ground_of(readings: Readings, pairing: int) -> tuple[float, ...]:
    both = np.concatenate([readings.darkest[pairing], readings.lightest[pairing]])
    return tuple(np.nan_to_num(np.round(both, 3), nan=-1.0).tolist())


def texts_on(known: KnownSite, study: Study, backdrop: Backdrop, before: Before | None = None) -> list[OnIt]:
    """Return the texts on a backdrop under a study, lowest contrast first.

    Without `before` these are all texts in its place, those on boxes of their own among them; with it all texts on the
    pages it is on that have something else behind them now.
    """
    reading = known.read(study)
    shown, verdicts = reading.index.survey, reading.readings
    found: dict[tuple[str, str, int, str], OnIt] = {}
    inside = _inside(known, backdrop)
    for key, number, pairing in sightings_on(known, shown, backdrop, before is not None):
        run = known.survey.runs[number]
        if before is not None and before.ground(key, run) == ground_of(verdicts, pairing):
            continue
        ratio = float(verdicts.ratio[pairing])
        found[run.page, run.path, key.width, key.state] = OnIt(
            run.page, run.path, run.text, key.width, key.state, None if np.isnan(ratio) else ratio,
            float(verdicts.required[pairing]), int(verdicts.verdict[pairing]), inside(run),
            _colour(verdicts.darkest[pairing]), _colour(verdicts.lightest[pairing]), _colour(verdicts.words[pairing]),
        )  # fmt: skip
    return sorted(found.values(), key=lambda one: (one.ratio is None, (one.ratio or 0) / one.required))


def _inside(known: KnownSite, backdrop: Backdrop) -> Callable[[Run], bool]:
    """Return what tells whether a text stands in a backdrop's place."""
    region = backdrop.where.region if backdrop.where is not None else None
    page = backdrop.where.page if backdrop.where is not None else None
    survey = known.survey
    number = next((n for n, one in enumerate(survey.regions) if one.key == region), -1)
    return lambda run: page in (None, run.page) and (region is None or number in survey.chains[run.chain])


def sightings_on(
    known: KnownSite, shown: Survey, backdrop: Backdrop, over_it_too: bool
) -> Iterable[tuple[ContextKey, int, int]]:
    """Yield the texts that stand in a backdrop's place, or on any page it is on, by context, with their rows."""
    inside = _inside(known, backdrop)
    region = backdrop.where.region if backdrop.where is not None else None
    pages = next((one.pages for one in known.survey.regions if one.key == region), None)
    for key, sightings in shown.sightings.items():
        for sighting in sightings:
            run = known.survey.runs[sighting.run]
            if inside(run) or (over_it_too and (pages is None or run.page in pages)):
                yield key, sighting.run, sighting.pairing


def best_focus(
    seen: Seen, study: Study, backdrop: Backdrop, told: Callable[[int, int], None], before: Before | None = None
) -> tuple[float, float]:
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
            ratios = [one.ratio / one.required for one in texts_on(known, study, backdrop, before) if one.ratio]
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
