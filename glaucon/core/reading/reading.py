"""Reading: what the pairings of a survey come to, given the colours of its tokens.

The pairings are compiled once: every colour expression gets a number, every combination of what may lie behind a
text a row, and rows of the same build a block. A palette edit is then a few array operations.
"""

from __future__ import annotations

import copy
import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import product
from typing import Any

import numpy as np
from numpy.typing import NDArray

from glaucon.core.cascade.expression import Bare, Expression, Literal, Unknown, evaluate
from glaucon.core.cascade.tokens import ColourToken
from glaucon.core.colour.contrast import cut_ratio, ratio_of_luminances, relative_luminance
from glaucon.core.colour.oklab import Floats
from glaucon.core.colour.value import Colour
from glaucon.core.reading.colour_table import CLEAR, ColourTable, TokenColours
from glaucon.core.reading.compositing import Step, stack_up
from glaucon.core.survey.model import Fill, Ground, Layer, PaintGroup, Pairing, Photo, Shade, Stack, Unseen

ICONS_NEED = 3.0  # WCAG 2.2, 1.4.11, at AA and AAA
LEVELS = {"AA": (4.5, 3.0), "AAA": (7.0, 4.5)}
PASS, FAIL, UNSURE, EXEMPT = range(4)
ARRAYS = ("words", "ground", "darkest", "lightest", "varied", "ratio", "required", "verdict")  # of `Readings`
VERDICTS = ("pass", "fail", "unsure", "exempt")
_MAX_COMBINATIONS = 256
_OPAQUE = 1 - 1e-9
_DRESS = 1 << 32  # numbers of dresses are told from those of colours by this
_LAID_OVER = "it is laid over other parts of the page, and which they are is not known until a browser has measured it"
_WHICH_PART = "which part of what varies behind it lies there is not known until a browser has measured it"
_NOT_READ = "Glaucon cannot work out a colour behind it"


@dataclass(frozen=True, slots=True)
class Verdict:
    """What one pairing comes to. Colours are opaque sRGB; `ratio` is None where it cannot be known.

    `kind` is "solid", "varied" (then `darkest` and `lightest` hold the extremes and `colour` and `ratio` are
    those of the worst spot) or "unknown". `verdict` is "pass", "fail", "unsure" or "exempt".
    """

    colour: Colour | None
    kind: str
    background: Colour | None
    darkest: Colour | None
    lightest: Colour | None
    ratio: float | None
    required: float | None
    verdict: str
    why: str = ""


@dataclass(slots=True)
class Readings(Sequence[Verdict]):
    """The verdicts of all pairings as arrays, one entry each; NaN where nothing is known.

    `words` and `ground` are of the worst spot, sRGB, shape (n, 3); `ratio` uncut; `required` NaN where exempt.
    """

    words: Floats
    ground: Floats
    darkest: Floats
    lightest: Floats
    varied: NDArray[np.bool_]
    ratio: Floats
    required: Floats
    verdict: NDArray[np.int8]
    why: list[str]
    fades: Mapping[str, float]  # opacities other than the page's, by the selector of its rule

    def __len__(self) -> int:
        return len(self.verdict)

    def __getitem__(self, number: int) -> Verdict:  # type: ignore[override]
        required = None if np.isnan(self.required[number]) else float(self.required[number])
        verdict = VERDICTS[self.verdict[number]]
        words = _colour(self.words[number])
        if np.isnan(self.ratio[number]):
            return Verdict(words, "unknown", None, None, None, None, required, verdict, self.why[number])
        varied = bool(self.varied[number])
        return Verdict(
            words,
            "varied" if varied else "solid",
            _colour(self.ground[number]),
            _colour(self.darkest[number]) if varied else None,
            _colour(self.lightest[number]) if varied else None,
            cut_ratio(float(self.ratio[number])),
            required,
            verdict,
            self.why[number],
        )

    @staticmethod
    def joined(parts: Sequence[Readings]) -> Readings:
        """Return several readings as one, in order."""
        first = parts[0]
        arrays: dict[str, Any] = {name: np.concatenate([getattr(part, name) for part in parts]) for name in ARRAYS}
        return replace(first, why=[why for part in parts for why in part.why], **arrays)

    def __iter__(self) -> Iterator[Verdict]:
        return (self[number] for number in range(len(self)))


def _colour(srgb: Floats) -> Colour | None:
    r, g, b = srgb.tolist()
    if math.isnan(r):
        return None
    return Colour(min(max(r, 0.0), 1.0), min(max(g, 0.0), 1.0), min(max(b, 0.0), 1.0))


def token_array(tokens: Sequence[ColourToken]) -> Floats:
    """Return the tokens' colours as brought in, shape (tokens, 4)."""
    return np.array([(*token.colour.rgb, token.colour.alpha) for token in tokens], dtype=float).reshape(-1, 4)


@dataclass(slots=True)
class _Block:
    """Rows of one build: numbers of colours, shape (rows, layers), the words' at `words_at`."""

    steps: tuple[Step, ...]
    words_at: int
    layers: NDArray[np.int64]
    owner: NDArray[np.int64]


# The tokens' colours, shape (tokens, 4) or by depth; for pairings that are dressed, those of each dress.
Worn = Floats | TokenColours | Sequence[Floats | TokenColours]


class CompiledPairings:
    """Pairings made ready for reading under any palette."""

    def __init__(self, pairings: Sequence[Pairing], tokens: Sequence[ColourToken]) -> None:
        self.size = len(pairings)
        self.fades: Mapping[str, float] = {}
        self._tokens = tokens
        self._opacity: dict[Expression, bool] = {}
        self._picked: tuple[NDArray[np.int64], NDArray[np.int64]] | None = None  # dress and colour of each number
        self.colours = ColourTable()
        self.colours.number(CLEAR)
        self.why = [""] * self.size
        self.large = np.array([pairing.large for pairing in pairings], dtype=bool)
        self.exempt = np.array([pairing.exempt for pairing in pairings], dtype=bool)
        self.icon = np.array([pairing.icon for pairing in pairings], dtype=bool)
        self.laid = np.array([pairing.laid for pairing in pairings], dtype=bool)
        self.adrift = np.array([pairing.adrift for pairing in pairings], dtype=bool)
        self._own = np.array([self.colours.number(pairing.colour) for pairing in pairings], dtype=np.int64)
        gathered: dict[tuple[tuple[Step, ...], int], tuple[list[tuple[int, ...]], list[int]]] = {}
        for number, pairing in enumerate(pairings):
            self._compile(number, pairing, gathered)
        self._blocks = [
            _Block(steps, words_at, np.array(rows, dtype=np.int64).reshape(len(rows), -1), np.array(owners))
            for (steps, words_at), (rows, owners) in gathered.items()
        ]
        self._bring_together()

    def _bring_together(self) -> None:
        """Bring the rows of one pairing together, so that its worst is found by one reduction."""
        owners = [block.owner for block in self._blocks]
        self.owner = np.concatenate(owners) if owners else np.zeros(0, dtype=np.int64)
        self._order = np.argsort(self.owner, kind="stable")
        self._known, self._starts = np.unique(self.owner[self._order], return_index=True)

    def only(self, numbers: NDArray[np.int64]) -> CompiledPairings:
        """Return some of the pairings, numbered anew in the order given."""
        place = np.full(self.size, -1)
        place[numbers] = np.arange(len(numbers))
        other = copy.copy(self)
        other.size = len(numbers)
        other.why = [self.why[number] for number in numbers.tolist()]
        other._take_traits(self, numbers)
        other._own = self._own[numbers]
        other._blocks = []
        for block in self._blocks:
            keep = place[block.owner] >= 0
            if keep.any():
                owner = place[block.owner[keep]]
                other._blocks.append(replace(block, layers=block.layers[keep], owner=owner))
        other._bring_together()
        return other

    def _take_traits(self, whole: CompiledPairings, numbers: NDArray[np.int64]) -> None:
        self.large, self.exempt = whole.large[numbers], whole.exempt[numbers]
        self.icon, self.laid, self.adrift = whole.icon[numbers], whole.laid[numbers], whole.adrift[numbers]

    def needed(self, normal: float, large: float) -> Floats:
        """Return the ratio each pairing needs, given what normal and large text needs; icons need that of graphics."""
        return np.where(self.icon, np.minimum(large, ICONS_NEED), np.where(self.large, large, normal))

    def worn(self, numbers: NDArray[np.int64], dresses: NDArray[np.int64]) -> CompiledPairings:
        """Return pairings once for each way they are dressed: row `n` is pairing `numbers[n]` in dress `dresses[n]`.

        What it is read with are then the tokens' colours for each dress.
        """
        other = copy.copy(self)
        other.size = len(numbers)
        other.why = [self.why[number] for number in numbers.tolist()]
        other._take_traits(self, numbers)
        blocks = [_for_each(block, numbers, dresses) for block in self._blocks]
        shown = [dresses * _DRESS + self._own[numbers], *(block.layers.ravel() for block in blocks)]
        picked, places = np.unique(np.concatenate(shown), return_inverse=True)
        parts = np.split(places.ravel(), np.cumsum([len(one) for one in shown])[:-1])
        other._picked = (picked // _DRESS, picked % _DRESS)
        other._own = parts[0]
        other._blocks = [
            replace(block, layers=part.reshape(block.layers.shape))
            for block, part in zip(blocks, parts[1:], strict=True)
            if len(block.owner)
        ]
        other._bring_together()
        return other

    def faded(self, fades: Mapping[str, float]) -> CompiledPairings:
        """Return the pairings with what some selectors fade at other opacities (0 to 1) than the page's."""
        if not fades:
            return self

        def step(one: Step) -> Step:
            return replace(one, opacity=fades[one.by]) if isinstance(one, PaintGroup) and one.by in fades else one

        other = copy.copy(self)
        other.fades = fades
        other._blocks = [replace(block, steps=tuple(step(one) for one in block.steps)) for block in self._blocks]
        return other

    def _compile(
        self,
        number: int,
        pairing: Pairing,
        gathered: dict[tuple[tuple[Step, ...], int], tuple[list[tuple[int, ...]], list[int]]],
    ) -> None:
        why = next((one.why for one in pairing.words if isinstance(one, Unknown)), "") or self._unseen(pairing)
        if why:
            self.why[number] = why
            return
        for below, above in ((pairing.below, pairing.above), *pairing.others):
            self._compile_ground(number, pairing.words, below, above, gathered)

    def _compile_ground(
        self, number: int, words: Sequence[Expression], below: Stack, above: Stack,
        gathered: dict[tuple[tuple[Step, ...], int], tuple[list[tuple[int, ...]], list[int]]],
    ) -> None:  # fmt: skip
        steps: list[Step] = [_step(layer) for layer in below]
        words_at = sum(1 for step in steps if not isinstance(step, PaintGroup))
        steps = [*steps, "normal", *(_step(layer) for layer in above)]
        options = [self._options(layer) for layer in (*below, *above) if not isinstance(layer, PaintGroup)]
        options.insert(words_at, list(dict.fromkeys(self.colours.number(colour) for colour in words)))
        steps, words_at, options = _padded(steps, words_at, options)
        rows, owners = gathered.setdefault((tuple(steps), words_at), ([], []))
        for row in _combinations(options):
            rows.append(row)
            owners.append(number)

    def _unseen(self, pairing: Pairing) -> str:
        """Return why a pairing cannot be known: something unseen that no opaque layer covers."""
        grounds = ((pairing.below, pairing.above), *pairing.others)
        for stack in (stack for ground in grounds for stack in ground):
            covered = False
            for layer in reversed(stack):
                if isinstance(layer, PaintGroup):
                    covered = covered and layer.opacity == 1 and not layer.filters and layer.blend == "normal"
                elif isinstance(layer, Unseen):
                    if not covered:
                        return layer.why
                else:
                    covered = covered or self._is_opaque(layer)
        return ""

    def _is_opaque(self, layer: Layer) -> bool:
        if isinstance(layer, Photo):
            return not layer.partial and all(colour.alpha >= _OPAQUE for colour in layer.colours)
        if isinstance(layer, Fill):
            return self._is_solid(layer.colour)
        return isinstance(layer, Shade) and not layer.partial and all(self._is_solid(s) for s in layer.samples)

    def _is_solid(self, expression: Expression) -> bool:
        if expression not in self._opacity:
            colour = evaluate(expression, lambda found: self._tokens[found.token].colour)
            self._opacity[expression] = colour is not None and colour.alpha >= _OPAQUE
        return self._opacity[expression]

    def _options(self, layer: Layer) -> list[int]:
        if isinstance(layer, Ground):
            return [self.colours.number(Bare(layer.at, layer.own))]
        if isinstance(layer, Fill):
            return [self.colours.number(layer.colour)]
        samples: list[Expression] = []
        if isinstance(layer, Shade):
            samples = list(layer.samples)
        elif isinstance(layer, Photo):
            samples = [Literal(colour) for colour in layer.colours]
        if not samples or getattr(layer, "partial", False):
            samples.append(CLEAR)  # something unseen that an opaque layer covers is as good as clear
        return list(dict.fromkeys(self.colours.number(sample) for sample in samples))

    def _values(self, tokens: Worn) -> Floats:
        if self._picked is None:
            assert not isinstance(tokens, Sequence), "these pairings are not dressed"
            return self.colours.values(tokens)
        assert isinstance(tokens, Sequence), "these pairings are read in dresses"
        return self.colours.values_of_each(tokens)[self._picked]

    def rows(self, tokens: Worn) -> tuple[NDArray[np.int64], Floats, Floats]:
        """Return, a row for each spot of each pairing, its pairing and the opaque sRGB of words and ground.

        Shapes (rows,), (rows, 3), (rows, 3); pairings whose colours cannot be known have no row.
        """
        return self.owner, *self._stacked(self._values(tokens))

    def words(self, tokens: Worn) -> Floats:
        """Return the own colour of each pairing's words, sRGB and alpha, shape (pairings, 4)."""
        return self._values(tokens)[self._own] if self.size else np.zeros((0, 4))

    def rows_of_each(self, many: Sequence[Floats]) -> list[tuple[Floats, Floats]]:
        """Return what `rows` returns of words and ground, for several sets of token colours at once."""
        return [self._stacked(values) for values in self.colours.values_of_each(many)]

    def _stacked(self, values: Floats) -> tuple[Floats, Floats]:
        words, grounds = [np.zeros((0, 3))], [np.zeros((0, 3))]
        for block in self._blocks:
            paints = values[block.layers]
            bare = paints.copy()
            bare[:, block.words_at] = 0.0
            both = stack_up(block.steps, np.concatenate([paints, bare]))
            words.append(both[: len(paints)])
            grounds.append(both[len(paints) :])
        return np.concatenate(words), np.concatenate(grounds)

    def read(self, tokens: Worn, level: str = "AA") -> Readings:
        """Return the verdict of every pairing under the given token colours.

        Raises: ValueError: if `level` is neither AA nor AAA.
        """
        if level not in LEVELS:
            raise ValueError(f"“{level}” is not a level. Use AA or AAA")
        normal, large = LEVELS[level]
        required = np.where(self.exempt, np.nan, self.needed(normal, large))
        values = self._values(tokens)
        found = self._empty(required, values)
        if not len(self._known):
            return found
        words, ground = self._stacked(values)
        words, ground = words[self._order], ground[self._order]
        light = relative_luminance(ground)
        ratios = ratio_of_luminances(relative_luminance(words), light)
        unknown = np.isnan(ratios)
        ratios = np.where(unknown, np.inf, ratios)
        worst = _first_at(ratios, self._starts, np.minimum)
        known = self._known
        found.ratio[known] = np.where(np.logical_or.reduceat(unknown, self._starts), np.nan, ratios[worst])
        found.words[known], found.ground[known] = words[worst], ground[worst]
        found.darkest[known] = ground[_first_at(np.where(unknown, np.inf, light), self._starts, np.minimum)]
        found.lightest[known] = ground[_first_at(np.where(unknown, -np.inf, light), self._starts, np.maximum)]
        spread = np.maximum.reduceat(ground, self._starts) - np.minimum.reduceat(ground, self._starts)
        found.varied[known] = spread.max(axis=1) > 1e-9
        best = np.full(self.size, np.inf)
        best[known] = np.maximum.reduceat(np.where(unknown, -np.inf, ratios), self._starts)
        wanted = required - 1e-9
        guessed = (found.ratio < wanted) & ~self.laid & (self.adrift | (best >= wanted))
        judged = np.where(np.isnan(found.ratio) | guessed, UNSURE, np.where(found.ratio >= wanted, PASS, FAIL))
        found.verdict[:] = np.where(self.exempt, EXEMPT, judged)
        for number in np.nonzero(guessed)[0].tolist():
            found.why[number] = _LAID_OVER if self.adrift[number] else _WHICH_PART
        for number in np.nonzero(np.isnan(found.ratio))[0].tolist():
            found.why[number] = found.why[number] or _NOT_READ
        return found

    def _empty(self, required: Floats, values: Floats) -> Readings:
        size = self.size
        own = values[self._own, :3] if size else np.zeros((0, 3))
        blank = np.full((size, 3), np.nan)
        return Readings(
            own, blank.copy(), blank.copy(), blank.copy(), np.zeros(size, dtype=bool), np.full(size, np.nan),
            required, np.where(self.exempt, EXEMPT, UNSURE).astype(np.int8), list(self.why), self.fades,
        )  # fmt: skip


def _for_each(block: _Block, numbers: NDArray[np.int64], dresses: NDArray[np.int64]) -> _Block:
    """Return a block with a row for each (pairing, dress), so that each dress may colour the layers differently."""
    order = np.argsort(block.owner, kind="stable")
    starts, ends = (np.searchsorted(block.owner[order], numbers, side) for side in ("left", "right"))
    lengths = ends - starts
    owner = np.repeat(np.arange(len(numbers)), lengths)
    within = np.arange(len(owner)) - np.repeat(np.cumsum(lengths) - lengths, lengths)
    source = order[starts[owner] + within]
    return replace(block, layers=block.layers[source] + dresses[owner, None] * _DRESS, owner=owner)


def _first_at(values: Floats, starts: NDArray[np.int64], reduce: np.ufunc) -> NDArray[np.int64]:
    """Return, for each stretch of rows, the first row that holds its extreme."""
    extremes = reduce.reduceat(values, starts)
    lengths = np.diff(np.append(starts, len(values)))
    hit = np.nonzero(values == np.repeat(extremes, lengths))[0]
    return np.asarray(hit[np.searchsorted(hit, starts)])


def _step(layer: Layer) -> Step:
    if isinstance(layer, PaintGroup):
        return layer
    return "normal" if isinstance(layer, Unseen | Ground) else layer.blend


# Plain stacks are filled up with clear layers to one of these depths, so that few builds are left.
_DEPTHS = (1, 2, 3, 4, 6, 8, 12, 16, 24, 32, 48, 64)


def _padded(steps: list[Step], words_at: int, options: list[list[int]]) -> tuple[list[Step], int, list[list[int]]]:
    plain = all(step == "normal" for step in steps) and words_at == len(options) - 1
    depth = next((d for d in _DEPTHS if d >= words_at), words_at) if plain else words_at
    extra = depth - words_at
    return ["normal"] * extra + steps, depth, [[0]] * extra + options  # 0 is the clear colour


def _combinations(options: list[list[int]]) -> Iterator[tuple[int, ...]]:
    """Yield combinations of what several layers may show; with very many, some of each layer's, evenly spread."""
    many = [one for one in options if len(one) > 1]
    count = 1
    for one in many:
        count *= len(one)
    if count > _MAX_COMBINATIONS:
        most = max(2, int(_MAX_COMBINATIONS ** (1 / len(many))))
        options = [_spread(one, most) for one in options]
    for number, row in enumerate(product(*options)):
        if number >= 4 * _MAX_COMBINATIONS:
            return
        yield row


def _spread(options: list[int], most: int) -> list[int]:
    if len(options) <= most:
        return options
    return [options[round(i * (len(options) - 1) / (most - 1))] for i in range(most)]
