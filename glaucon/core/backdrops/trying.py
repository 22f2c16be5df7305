"""What would make text readable on a backdrop: the least veil, and the part of a picture to look at."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from glaucon.core.colour.contrast import contrast_ratio, ratio_of_luminances, relative_luminance
from glaucon.core.colour.oklab import Floats
from glaucon.core.colour.value import Colour, read_colour
from glaucon.core.proposal.known import KnownSite
from glaucon.core.reading.colour_table import TokenColours
from glaucon.core.reading.reading import FAIL, Readings, Worn
from glaucon.core.study.backdrops import Backdrop, Layer, OfRole, Veil
from glaucon.core.study.fading import fades_of
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey, Run, Survey
from glaucon.core.survey.sheets import BACKDROPS_FILE

# an opacity that no hand sets: its colours are found again by it
_MARK = 0.5037
_MARKED = "#808080"
_COMFORT = 1.02  # of the ratio that is needed, for text that is turned
_DARK, _LIGHT = "#101010", "#fafafa"
_STEPS = 100
_ROUNDED = 1 / 255  # browsers mix to whole bytes, now one way and now the other
FOCAL_STEPS = 9

Seen = Callable[[Backdrop], KnownSite]  # reads the site's pages with another backdrop in a place


@dataclass(frozen=True, slots=True)
class OnIt:
    """A text on a backdrop as it is read: its ratio, what it needs, where it is. `ratio` is None where nobody knows.

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


class Before:
    """What lies behind each text without a backdrop: what lies behind it otherwise with one lies on it."""

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
        return None if pairing is None else _ground_of(self._reading.readings, pairing)


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
        ("light", study.first("background"), _LIGHT), ("dark", study.first("text"), _DARK),
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


def _ground_of(readings: Readings, pairing: int) -> tuple[float, ...]:
    both = np.concatenate([readings.darkest[pairing], readings.lightest[pairing]])
    return tuple(np.nan_to_num(np.round(both, 3), nan=-1.0).tolist())


def texts_on(known: KnownSite, study: Study, backdrop: Backdrop, before: Before | None = None) -> list[OnIt]:
    """Return the texts that lie on a backdrop under a study, those that are hardest to read first.

    Without `before` these are all texts in its place, those on boxes of their own among them; with it all texts on the
    pages it is on that have something else behind them now.
    """
    reading = known.read(study)
    shown, verdicts = reading.index.survey, reading.readings
    found: dict[tuple[str, str, int, str], OnIt] = {}
    inside = _inside(known, backdrop)
    for key, number, pairing in _sightings(known, shown, backdrop, before is not None):
        run = known.survey.runs[number]
        if before is not None and before.ground(key, run) == _ground_of(verdicts, pairing):
            continue
        ratio = float(verdicts.ratio[pairing])
        found[run.page, run.path, key.width, key.state] = OnIt(
            run.page, run.path, run.text, key.width, key.state, None if np.isnan(ratio) else ratio,
            float(verdicts.required[pairing]), int(verdicts.verdict[pairing]), inside(run),
            _colour(verdicts.darkest[pairing]), _colour(verdicts.lightest[pairing]),
        )  # fmt: skip
    return sorted(found.values(), key=lambda one: (one.ratio is None, (one.ratio or 0) / one.required))


def _inside(known: KnownSite, backdrop: Backdrop) -> Callable[[Run], bool]:
    """Return what tells whether a text stands in a backdrop's place."""
    region = backdrop.where.region if backdrop.where is not None else None
    page = backdrop.where.page if backdrop.where is not None else None
    survey = known.survey
    number = next((n for n, one in enumerate(survey.regions) if one.key == region), -1)
    return lambda run: page in (None, run.page) and (region is None or number in survey.chains[run.chain])


def _sightings(
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
    """The least opacity of a veil, 0 to 1, with which as few texts as can be are hard to read.

    `hard` are those, `texts` all that lie on it, each by its page and path.
    """

    opacity: float
    colour: OfRole | str
    hard: list[tuple[str, str]]
    texts: list[tuple[str, str]]


def veil_colours(study: Study, backdrop: Backdrop) -> list[OfRole | str]:
    """Return what a veil may be made of: the colour it has, the palette's backgrounds, dark and light at the end."""
    own = [layer.veil.colour for layer in reversed(backdrop.layers) if layer.veil is not None][:1]
    grounds = [
        OfRole(role=role.id) for role in study.roles
        if role.is_background and role.state == "rest" and role.tier == "main"
    ]  # fmt: skip
    return [*own, *grounds, _DARK, _LIGHT]


def least_veil(seen: Seen, study: Study, backdrop: Backdrop, before: Before | None = None) -> Least:
    """Return the least veil: every hundredth of each colour is read, on all pages and states that `seen` reads.

    The ratio is no monotone function of the veil where its colour is near the text's, so none is left out. Of colours
    that leave as few texts hard to read, the first is taken if it is the one it has, else the one that covers least.
    """
    veiled = _Veiled(seen(with_veil(study, backdrop, _MARK, _MARKED)), study, backdrop, before)
    has_one = any(layer.veil is not None for layer in backdrop.layers)
    found: list[tuple[int, bool, float, OfRole | str]] = []
    for place, paint in enumerate(veil_colours(study, backdrop)):
        colour = _paint(study, paint)
        hard = [int(veiled.fails(colour, step / _STEPS).sum()) for step in range(_STEPS + 1)]
        best = min(hard)
        found.append((best, not (has_one and place == 0), hard.index(best) / _STEPS, paint))
    _, _, opacity, paint = min(found, key=lambda one: one[:3])
    return Least(opacity, paint, veiled.hard(_paint(study, paint), opacity), veiled.texts)


def _paint(study: Study, paint: OfRole | str) -> Colour:
    return study.role(paint.role).colour if isinstance(paint, OfRole) else read_colour(paint)


class _Veiled:
    """The texts on a backdrop as they are dressed under a study, ready to be read under a veil of any colour."""

    def __init__(self, known: KnownSite, study: Study, backdrop: Backdrop, before: Before | None) -> None:
        """`known` has been read with a veil of the marked colour."""
        self._study = study
        self._marked = [
            number for number, token in enumerate(known.survey.tokens)
            if token.file.startswith(BACKDROPS_FILE) and abs(token.colour.alpha - _MARK) < 2e-4
        ]  # fmt: skip
        reading = known.read(study)
        self._at: dict[int, set[tuple[str, str]]] = {}
        for key, number, row in _sightings(known, reading.index.survey, backdrop, before is not None):
            run = known.survey.runs[number]
            if before is None or before.ground(key, run) != _ground_of(reading.readings, row):
                self._at.setdefault(row, set()).add((run.page, run.path))
        self._rows = np.array(sorted(self._at), dtype=np.int64)
        self._compiled = reading.index.compiled.faded(fades_of(study)).only(self._rows)
        self._colours, self._veils = _own_copies(known.worn_colours(study))

    @property
    def texts(self) -> list[tuple[str, str]]:
        """Return the page and path of each text."""
        return sorted(set().union(*self._at.values()))

    def fails(self, colour: Colour, opacity: float) -> NDArray[np.bool_]:
        """Return which rows are hard to read under a veil, or so near to it that rounding may make them."""
        for tokens in self._veils:
            tokens[self._marked] = [*colour.rgb, round(opacity * 255) / 255]  # as browsers hold it
        read = self._compiled.read(self._colours, self._study.aim)
        words = relative_luminance(read.words)
        towards = np.where(words > relative_luminance(read.ground), _ROUNDED, -_ROUNDED)[:, None]
        rounded = ratio_of_luminances(words, relative_luminance(np.clip(read.ground + towards, 0, 1)))
        return np.asarray((read.verdict == FAIL) | (rounded < read.required))

    def hard(self, colour: Colour, opacity: float) -> list[tuple[str, str]]:
        """Return the page and path of each text that is hard to read under a veil."""
        rows = self._rows[self.fails(colour, opacity)].tolist()
        return sorted(set().union(*(self._at[row] for row in rows)))


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
