"""Computed styles: which declarations win, and what their values come to.

Source: CSS Cascading and Inheritance Level 5, sections 6 (sorting) and 7 (defaulting); CSS Custom Properties,
section 3. Styles are shared: elements with the same rules and the same parent style have the same style.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from glaucon.core.cascade.expression import Current, Expression, Literal, resolve
from glaucon.core.cascade.media import Containers, Viewport, holds_in
from glaucon.core.cascade.properties.backgrounds import Size
from glaucon.core.cascade.properties.colours import DEFAULT_COLOURS, SYSTEM_COLOURS, as_system, significant
from glaucon.core.cascade.properties.declarations import parse_declaration
from glaucon.core.cascade.properties.effects import Move
from glaucon.core.cascade.properties.images import CssGradient
from glaucon.core.cascade.properties.lengths import Extent, LengthContext, extent
from glaucon.core.cascade.properties.lines import LINE_COLOURS
from glaucon.core.cascade.properties.longhands import INHERITED, INITIAL, PendingValue
from glaucon.core.cascade.properties.values import Keyword
from glaucon.core.cascade.rules import (
    AUTHOR,
    AUTHOR_IMPORTANT,
    HINT,
    INLINE,
    INLINE_IMPORTANT,
    UA,
    UA_IMPORTANT,
    IndexedRule,
    PageMatcher,
    RuleIndex,
    SortKey,
)
from glaucon.core.cascade.selectors.state import State
from glaucon.core.cascade.stylesheet import Block
from glaucon.core.cascade.substitution import substitute
from glaucon.core.cascade.tokens import TokenTable
from glaucon.core.cascade.tree import Element
from glaucon.core.colour.value import BLACK

_ORIGIN_GROUP = {UA: 0, HINT: 1, AUTHOR: 1, INLINE: 1, AUTHOR_IMPORTANT: 1, INLINE_IMPORTANT: 1, UA_IMPORTANT: 0}

# What a visited link may wear, the rest stays as unvisited (the browsers' privacy limit).
VISITED_PROPERTIES = frozenset({"color", "background-color", "fill", "-webkit-text-fill-color"})

_KEYWORD_PX = {
    "xx-small": 9.0, "x-small": 10.0, "small": 13.0, "medium": 16.0, "large": 18.0, "x-large": 24.0,
    "xx-large": 32.0, "xxx-large": 48.0, "-webkit-xxx-large": 48.0,
}  # fmt: skip
_MONOSPACE_SHARE = 13 / 16


@dataclass(frozen=True, slots=True)
class ComputedSize:
    """A background size with its lengths computed; None is `auto`."""

    keyword: str = ""
    width: Extent | None = None
    height: Extent | None = None


@dataclass(slots=True, eq=False)
class Style:
    """An element's computed values; colours are resolved expressions, sizes in CSS pixels."""

    values: dict[str, Any]
    custom: dict[str, list[Any]]
    font_px: float
    weight: int
    dark: bool
    monospace: bool = False
    absolute_size: bool = False
    heritage: int = 0  # equal where all that children inherit is equal
    traits: Any = None  # what others work out from a style, once
    says: frozenset[str] = frozenset()  # which of `color` and `background-color` are said for the element itself
    firm: frozenset[str] = frozenset()  # those of them that the page's rules say: not its attributes, nor the browser

    def keyword(self, name: str) -> str:
        """Return a keyword value, or an empty text where the value is something else."""
        value = self.values.get(name, INITIAL.get(name))
        return value.name if isinstance(value, Keyword) else ""

    def colour(self, name: str = "color") -> Expression:
        """Return a colour value."""
        value: Expression = self.values[name]
        return value


@dataclass(slots=True, eq=False)
class _Winners:
    """The declarations that win; `inheriting` are the properties that explicitly take the parent's value."""

    number: int
    values: dict[str, Any]
    custom: dict[str, list[Any]]
    inheriting: tuple[str, ...] = ()
    firm: frozenset[str] = frozenset()  # of `_TOLD`, those that a rule of the page or a style attribute says

    def __post_init__(self) -> None:
        self.inheriting = tuple(
            name for name, value in self.values.items() if value == _INHERIT and name not in INHERITED
        )


_INHERIT = Keyword("inherit")
_UNSET = Keyword("unset")
# with what says nothing new: a `var()` that comes to nothing leaves `unset`, which takes over what is inherited
_TOLD = {"color": (_INHERIT, _UNSET), "background-color": (_INHERIT,)}


class Cascade:
    """Computes styles for the elements of pages that use the same stylesheets, at one viewport.

    Styles are shared: elements with the same winning declarations whose parents pass on the same have the same one.
    """

    def __init__(self, index: RuleIndex, table: TokenTable, viewport: Viewport) -> None:
        self.index = index
        self.viewport = viewport
        self._table = table
        self._active = index.active(viewport)
        self._winners: dict[tuple[Any, ...], _Winners] = {}
        self._styles: dict[tuple[Any, ...], Style] = {}
        self._heritages: dict[tuple[Any, ...], int] = {}
        self._root_px = 16.0

    def style(
        self,
        matcher: PageMatcher,
        element: Element,
        state: State,
        parent: Style | None,
        inline: Block | None,
        hints: dict[str, Any],
        pseudo: str | None = None,
        containers: Containers = (),
    ) -> Style:
        """Return the computed style of an element, or of its pseudo-element with the element's as `parent`."""
        winners = self._find_winners(matcher, element, state, inline, hints, pseudo, containers)
        taken = tuple([parent.values.get(name) for name in winners.inheriting]) if parent and winners.inheriting else ()
        heritage = parent.heritage if parent else -1
        key = (winners.number, heritage, taken, self._root_px if parent else -1.0)
        found = self._styles.get(key)
        if found is None:
            found = self._styles[key] = self._compute(winners, parent)
        if element.parent is None and pseudo is None:
            self._root_px = found.font_px
        return found

    def _compute(self, winners: _Winners, parent: Style | None) -> Style:
        style = _Computation(self._table, self.viewport, self._root_px).run(winners, parent)
        passed_on = (
            *(style.values.get(name) for name in _PASSED_ON), style.font_px, style.weight, style.dark, style.monospace,
            style.absolute_size, id(style.custom),
        )  # fmt: skip
        style.heritage = self._heritages.setdefault(passed_on, len(self._heritages))
        return style

    def pseudo_style(
        self, matcher: PageMatcher, element: Element, state: State, pseudo: str, parent: Style
    ) -> Style | None:
        """Return the style of an element's pseudo-element, None where no rule makes one."""
        matched = matcher.matching(element, state, pseudo)
        if not matched or not any(self._active[number] for number in matched):
            return None
        return self.style(matcher, element, state, parent, None, {}, pseudo)

    def _find_winners(
        self,
        matcher: PageMatcher,
        element: Element,
        state: State,
        inline: Block | None,
        hints: dict[str, Any],
        pseudo: str | None,
        containers: Containers,
    ) -> _Winners:
        seen = self._sorted(self._active_rules(matcher, element, state, pseudo, containers), inline, hints)
        if not state.visited:
            return seen
        unseen = self._sorted(self._active_rules(matcher, element, _REST, pseudo, containers), inline, hints)
        key = ("visited", seen.number, unseen.number)
        if key not in self._winners:
            values = dict(unseen.values)
            for name in VISITED_PROPERTIES & seen.values.keys():
                values[name] = seen.values[name]
            self._winners[key] = _Winners(len(self._winners), values, unseen.custom, firm=seen.firm)
        return self._winners[key]

    def source_of(
        self, matcher: PageMatcher, element: Element, state: State, pseudo: str | None, name: str,
        containers: Containers = (),
    ) -> str:  # fmt: skip
        """Return the selector of the rule that gives an element a property, as written; "" where it is no rule's."""
        best: tuple[SortKey, str] | None = None
        for number in self._active_rules(matcher, element, state, pseudo, containers):
            one = self.index.rules[number]
            key = one.important_key if name in one.rule.block.important else one.normal_key
            declares = name in one.rule.block.important or name in one.rule.block.normal
            if declares and (best is None or key > best[0]):
                best = key, one.rule.selector.text
        return best[1] if best is not None else ""

    def _active_rules(
        self, matcher: PageMatcher, element: Element, state: State, pseudo: str | None, containers: Containers
    ) -> tuple[int, ...]:
        active = self._active
        numbers = tuple([n for n in matcher.matching(element, state, pseudo) if active[n]])
        if not self.index.has_containers:
            return numbers
        rules = self.index.rules
        return tuple([n for n in numbers if all(holds_in(c, containers) for c in rules[n].rule.containers)])

    def _sorted(self, rules: tuple[int, ...], inline: Block | None, hints: dict[str, Any]) -> _Winners:
        key = (
            rules,
            id(inline) if inline is not None else 0,
            tuple(sorted((name, _hint_key(value)) for name, value in hints.items())) if hints else (),
        )
        found = self._winners.get(key)
        if found is None:
            known = self.index.rules
            found = _resolve_winners([known[n] for n in rules], inline, hints, len(self._winners))
            self._winners[key] = found
        return found


_REST = State()
_PASSED_ON = tuple(sorted(INHERITED))


def _hint_key(value: Any) -> str:
    return repr(value) if not callable(value) else str(value(LengthContext(16, 16, 0, 0)))


def _resolve_winners(rules: list[IndexedRule], inline: Block | None, hints: dict[str, Any], number: int) -> _Winners:
    sources: list[tuple[SortKey, dict[str, Any], dict[str, list[Any]]]] = []
    for one in rules:
        block = one.rule.block
        if block.normal or block.custom:
            sources.append((one.normal_key, block.normal, block.custom))
        if block.important or block.important_custom:
            sources.append((one.important_key, block.important, block.important_custom))
    if hints:
        sources.append(((HINT, (), (0, 0, 0), 0), hints, {}))
    if inline is not None:
        sources.append(((INLINE, (), (0, 0, 0), 0), inline.normal, inline.custom))
        sources.append(((INLINE_IMPORTANT, (), (0, 0, 0), 0), inline.important, inline.important_custom))
    sources.sort(key=lambda source: source[0])
    values: dict[str, Any] = {}
    custom: dict[str, list[Any]] = {}
    reverted = False
    firm: set[str] = set()
    for key, normal, customs in sources:
        for name in _TOLD:
            if name in normal:
                (firm.discard if key[0] in (UA, HINT, UA_IMPORTANT) else firm.add)(name)
        for name, value in normal.items():
            values[name] = value
            reverted = reverted or (isinstance(value, Keyword) and value.name.startswith("revert"))
        custom.update(customs)
    if reverted:
        for name in values:
            values[name] = _unreverted(name, [(key, normal[name]) for key, normal, _ in sources if name in normal])
    return _Winners(number, values, custom, firm=frozenset(firm))


def _unreverted(name: str, candidates: list[tuple[SortKey, Any]]) -> Any:
    """Return the value after `revert` and `revert-layer` rolled back (CSS Cascading 5, sections 7.3.4-5)."""
    rolled_back = False
    while candidates:
        key, value = candidates[-1]
        word = value.name if isinstance(value, Keyword) else ""
        if word == "revert":
            group = _ORIGIN_GROUP[key[0]]
            candidates = [c for c in candidates if _ORIGIN_GROUP[c[0][0]] < group]
            rolled_back = True
        elif word == "revert-layer":
            layer = key[:2]
            candidates = [c for c in candidates[:-1] if c[0][:2] != layer]
        else:
            return as_system(value) if rolled_back else value
    return Keyword("unset")


_SPECIAL = frozenset({"color", "font-size", "font-weight", "font-family", "color-scheme"})
_PLAINLY_INHERITED = tuple(INHERITED - _SPECIAL)


class _Computation:
    """One element's values, from winners and the parent's style."""

    def __init__(self, table: TokenTable, viewport: Viewport, root_px: float) -> None:
        self._table = table
        self._viewport = viewport
        self._root_px = root_px

    def run(self, winners: _Winners, parent: Style | None) -> Style:
        custom = self._custom(winners.custom, parent)
        specified = winners.values
        if any(isinstance(value, PendingValue) for value in specified.values()):
            specified = {name: self._substituted(name, value, custom) for name, value in specified.items()}
        values: dict[str, Any] = {}
        scheme = values["color-scheme"] = self._defaulted("color-scheme", specified, parent)
        family = values["font-family"] = self._defaulted("font-family", specified, parent)
        dark = self._dark(scheme)
        monospace = family == ("monospace",)
        font_px, absolute = self._font_size(specified, parent, monospace)
        weight = self._weight(self._defaulted("font-weight", specified, parent), parent)
        if parent is None and "color" not in specified:
            specified = {**specified, "color": DEFAULT_COLOURS["canvastext"]}
        colour = self._colour(self._defaulted("color", specified, parent), parent, dark)
        values["color"] = colour
        for name, value in specified.items():
            if name not in _SPECIAL:
                self._put(values, name, value, parent, colour, dark, font_px)
        for name in _PLAINLY_INHERITED:
            if name not in values:
                values[name] = parent.values[name] if parent else self._initial(name, colour, dark, font_px)
        values.setdefault("background-color", INITIAL["background-color"])
        says = frozenset(name for name, silent in _TOLD.items() if name in specified and specified[name] not in silent)
        return Style(values, custom, font_px, weight, dark, monospace, absolute, says=says, firm=says & winners.firm)

    def _put(
        self, values: dict[str, Any], name: str, value: Any, parent: Style | None, colour: Expression, dark: bool,
        font_px: float,
    ) -> None:  # fmt: skip
        """Set a property's computed value; what is inherited is computed already."""
        word = value.name if isinstance(value, Keyword) else ""
        if word == "inherit" or (word == "unset" and name in INHERITED):
            if parent is not None and name in parent.values:
                values[name] = parent.values[name]
        elif word not in ("initial", "unset", "revert", "revert-layer"):
            values[name] = self._computed(name, value, colour, dark, font_px)
        elif name in INHERITED:
            values[name] = self._initial(name, colour, dark, font_px)

    def _initial(self, name: str, colour: Expression, dark: bool, font_px: float) -> Any:
        return self._computed(name, INITIAL[name], colour, dark, font_px)

    def _dark(self, schemes: Any) -> bool:
        if not isinstance(schemes, tuple) or "dark" not in schemes:
            return False
        return self._viewport.scheme == "dark" or "light" not in schemes

    def _custom(self, declared: dict[str, list[Any]], parent: Style | None) -> dict[str, list[Any]]:
        """Return the element's custom properties with their own var() put in; cycles become invalid."""
        inherited = parent.custom if parent else {}
        if not declared:
            return inherited
        raw = {**inherited, **declared}
        done: dict[str, list[Any]] = {k: v for k, v in inherited.items() if k not in declared}
        for name, tokens in declared.items():
            words = significant(tokens)
            word = words[0].lower_value if len(words) == 1 and words[0].type == "ident" else ""
            if word in ("inherit", "unset", "revert", "revert-layer"):
                raw[name] = inherited.get(name, [])
                if name in inherited:
                    done[name] = inherited[name]
                else:
                    raw.pop(name)
            elif word == "initial":
                raw.pop(name)
        for name in declared:
            if name in raw and name not in done:
                tokens_or_none = self._resolve_custom(name, raw, done, ())
                if tokens_or_none is not None:
                    done[name] = tokens_or_none
        return done

    def _resolve_custom(
        self, name: str, raw: dict[str, list[Any]], done: dict[str, list[Any]], path: tuple[str, ...]
    ) -> list[Any] | None:
        if name in done:
            return done[name]
        if name in path or name not in raw or len(path) > 60:
            return None
        return substitute(raw[name], lambda inner: self._resolve_custom(inner, raw, done, (*path, name)))

    def _substituted(self, name: str, value: Any, custom: dict[str, list[Any]]) -> Any:
        if not isinstance(value, PendingValue):
            return value
        tokens = substitute(list(value.tokens), custom.get)
        self._table.base = value.base
        parsed = parse_declaration(value.shorthand, tokens, self._table) if tokens is not None else None
        found = (parsed or {}).get(name)
        # invalid at computed-value time is `unset` (CSS Custom Properties, section 3.1); so too what cannot be put in
        return Keyword("unset") if found is None or isinstance(found, PendingValue) else found

    def _defaulted(self, name: str, specified: dict[str, Any], parent: Style | None) -> Any:
        value = specified.get(name)
        word = value.name if isinstance(value, Keyword) else ""
        if value is not None and word not in ("inherit", "initial", "unset"):
            return value
        inherits = word == "inherit" or (word != "initial" and name in INHERITED)
        if inherits and parent is not None:
            if name == "font-size":
                return Keyword("\0inherit")
            if name == "font-weight":
                return parent.weight
            return parent.values.get(name, INITIAL[name])
        return INITIAL[name]

    def _font_size(self, specified: dict[str, Any], parent: Style | None, monospace: bool) -> tuple[float, bool]:
        """Return the size in pixels and whether it was given absolutely, with Chromium's monospace rule."""
        base = parent.font_px if parent else 16.0
        was_monospace = parent.monospace if parent else False
        value = self._defaulted("font-size", specified, parent)
        absolute = False
        if isinstance(value, Keyword):
            if value.name in _KEYWORD_PX:
                return _KEYWORD_PX[value.name] * (_MONOSPACE_SHARE if monospace else 1), False
            size = {"smaller": base / 1.2, "larger": base * 1.2}.get(value.name, base)
            absolute = value.name == "\0inherit" and parent is not None and parent.absolute_size
        else:
            context = LengthContext(base, self._root_px, self._viewport.width, self._viewport.height, base)
            computed = value(context) if callable(value) else None
            size = max(0.0, computed) if computed is not None else base
            probe = LengthContext(base + 1, self._root_px, self._viewport.width, self._viewport.height, base + 1)
            absolute = not callable(value) or value(probe) == computed
        if monospace != was_monospace and not absolute:
            size = size * _MONOSPACE_SHARE if monospace else size / _MONOSPACE_SHARE
        return size, absolute

    def _weight(self, value: Any, parent: Style | None) -> int:
        if isinstance(value, int):
            return value
        before = parent.weight if parent else 400
        if isinstance(value, Keyword) and value.name == "bolder":
            return 400 if before < 350 else 700 if before < 550 else max(900, before)
        if isinstance(value, Keyword) and value.name == "lighter":
            return before if before < 100 else 100 if before < 550 else 400 if before < 750 else 700
        return 400

    def _colour(self, value: Any, parent: Style | None, dark: bool) -> Expression:
        inherited: Expression = parent.colour() if parent else DEFAULT_COLOURS["canvastext"]
        if isinstance(value, Keyword):
            return resolve(SYSTEM_COLOURS.get(value.name, inherited), inherited, dark)
        return resolve(value, inherited, dark)

    def _computed(self, name: str, value: Any, colour: Expression, dark: bool, font_px: float) -> Any:
        if name in ("fill", "stroke") and isinstance(value, Keyword) and value.name == "url":
            return value
        if name in ("background-color", "fill", "stroke") or name in LINE_COLOURS:
            return resolve(value, colour, dark) if not isinstance(value, Keyword) else Literal(BLACK)
        if isinstance(value, Keyword):
            return value
        if name == "-webkit-text-fill-color":
            # currentColor stays itself, so that a child's own colour counts
            return value if isinstance(value, Current) else resolve(value, colour, dark)
        if name == "background-image":
            return tuple(_resolve_image(image, colour, dark) for image in value)
        context = LengthContext(font_px, self._root_px, self._viewport.width, self._viewport.height)
        if name == "box-shadow":
            found = (shadow.computed(context) for shadow in value)
            return tuple(replace(one, colour=resolve(one.colour, colour, dark)) for one in found)
        if isinstance(value, Move):
            return value.computed(context)
        if name in ("background-position-x", "background-position-y", "object-position"):
            return tuple(offset.computed(context) for offset in value)
        if name == "background-size":
            return tuple(_computed_size(size, context) for size in value)
        return extent(value, context) if callable(value) else value


def _computed_size(size: Size, context: LengthContext) -> ComputedSize:
    width = extent(size.width, context) if size.width is not None else None
    height = extent(size.height, context) if size.height is not None else None
    return ComputedSize(size.keyword, width, height)


def _resolve_image(image: Any, colour: Expression, dark: bool) -> Any:
    if not isinstance(image, CssGradient):
        return image
    samples = tuple(resolve(sample, colour, dark) for sample in image.samples)
    written = image.written
    if written is not None:
        stops = tuple(replace(stop, colour=resolve(stop.colour, colour, dark)) for stop in written.stops)
        written = replace(written, stops=stops)
    return CssGradient(samples, written)
