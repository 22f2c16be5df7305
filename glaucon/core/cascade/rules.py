"""The rules of a page's stylesheets, and which of them match an element.

Whether a selector matches does not depend on the viewport, and for most selectors not on the state either. So each
element is matched once, and again in another state only against the selectors that speak of that state; the rules
whose conditions hold at a viewport are picked out afterwards.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from importlib.resources import files
from typing import Any

from glaucon.core.cascade.media import Viewport
from glaucon.core.cascade.selectors.selectors import Selector
from glaucon.core.cascade.selectors.state import State
from glaucon.core.cascade.source import Source
from glaucon.core.cascade.stylesheet import Condition, Rule, Stylesheet, parse_stylesheet
from glaucon.core.cascade.tokens import TokenTable
from glaucon.core.cascade.tree import Element

# Origins and importance in the order CSS Cascading 5, section 6.1, gives.
UA, HINT, AUTHOR, INLINE, AUTHOR_IMPORTANT, INLINE_IMPORTANT, UA_IMPORTANT = range(7)
SortKey = tuple[Any, ...]
_UNLAYERED = 1 << 30
_QUIRKS_CSS = "table { font-size: initial; font-weight: initial }"


@dataclass(slots=True, eq=False)
class IndexedRule:
    """A rule with what the cascade sorts by, for its normal and its important declarations."""

    rule: Rule
    conditions: tuple[Condition, ...]
    normal_key: SortKey
    important_key: SortKey
    number: int
    scope: int | None  # the shadow tree that it is said in, 0 for the page itself; None: the browser's own


_Buckets = dict[tuple[str, str], list[IndexedRule]]


@lru_cache(maxsize=2)
def _user_agent_sheet(quirks: bool) -> Stylesheet:
    text = files("glaucon.core.cascade").joinpath("useragent.css").read_text("utf-8")
    return parse_stylesheet(Source("", text + (_QUIRKS_CSS if quirks else ""), editable=False), TokenTable())


class RuleIndex:
    """The rules of a list of stylesheets, each with the condition its link names, by the subject's id, class or tag."""

    def __init__(
        self, sheets: Iterable[tuple[Stylesheet, Condition | None]], quirks: bool, scopes: Sequence[int] = ()
    ) -> None:
        """`scopes` are the shadow trees that the sheets stand in, one for each; left out: the page's own."""
        sheets = list(sheets)
        self.rules: list[IndexedRule] = []
        self.states: set[str] = set()
        self.has_containers = False
        self.quirks = quirks
        self._buckets: dict[str | None, _Buckets] = {}
        self._stateful: dict[tuple[str | None, str], _Buckets] = {}
        self._naming: dict[str, list[Selector]] = {}
        self.looks_inside = False  # whether what is inside an element may decide what it looks like
        self._layers: dict[tuple[str, ...], int] = {}
        self._active: dict[Viewport, tuple[bool, ...]] = {}
        for rule in _user_agent_sheet(quirks).rules():
            self._add(rule, None, UA, UA_IMPORTANT, None)
        linked = [
            (part, condition, scope)
            for (sheet, condition), scope in zip(sheets, scopes or [0] * len(sheets), strict=True)
            for part in sheet.parts
        ]
        for part, _, _ in linked:
            name = part if isinstance(part, tuple) else part.layer if isinstance(part, Rule) else ()
            for depth in range(1, len(name or ()) + 1):
                self._layers.setdefault((name or ())[:depth], len(self._layers))
        for part, condition, scope in linked:
            if isinstance(part, Rule):
                self._add(part, condition, AUTHOR, AUTHOR_IMPORTANT, scope)

    def _add(self, rule: Rule, condition: Condition | None, normal: int, important: int, scope: int | None) -> None:
        number = len(self.rules)
        layer: SortKey = ()
        if normal == AUTHOR:
            layer = (*(self._layers[rule.layer[: d + 1]] for d in range(len(rule.layer))), _UNLAYERED)
            self.states |= rule.selector.states
            self.has_containers |= bool(rule.containers)
            self.looks_inside |= ":has(" in rule.selector.text.lower()
        reverse = tuple(-index for index in layer)
        specificity = rule.selector.specificity
        indexed = IndexedRule(
            rule,
            rule.conditions if condition is None else (condition, *rule.conditions),
            (normal, layer, specificity, number),
            (important, reverse, specificity, number),
            number,
            scope,
        )
        self.rules.append(indexed)
        kind, name = rule.selector.key
        key = (kind, name.lower() if self.quirks else name)
        pseudo = rule.selector.pseudo_element
        self._buckets.setdefault(pseudo, {}).setdefault(key, []).append(indexed)
        for state in rule.selector.states:
            self._stateful.setdefault((pseudo, state), {}).setdefault(key, []).append(indexed)

    def naming(self, names: Iterable[str]) -> list[Selector]:
        """Return the selectors of the author's rules in whose text one of some names stands."""
        found: list[Selector] = []
        for name in names:
            if name not in self._naming:
                own = (one.rule.selector for one in self.rules if one.normal_key[0] == AUTHOR)
                self._naming[name] = [selector for selector in own if name in selector.text]
            found += self._naming[name]
        return found

    def pseudo_elements(self) -> set[str]:
        """Return the pseudo-elements that any rule names."""
        return {name for name in self._buckets if name}

    def active(self, viewport: Viewport) -> tuple[bool, ...]:
        """Return for each rule whether its conditions hold at a viewport."""
        found = self._active.get(viewport)
        if found is None:
            answers: dict[int, bool] = {}

            def holds(condition: Condition) -> bool:
                if id(condition) not in answers:
                    answers[id(condition)] = condition(viewport)
                return answers[id(condition)]

            found = tuple(all(holds(condition) for condition in one.conditions) for one in self.rules)
            self._active[viewport] = found
        return found

    def matching(self, element: Element, state: State, pseudo: str | None) -> list[int]:
        """Return the numbers of the rules that match, in order, whatever the viewport."""
        return self._among(self._buckets.get(pseudo), element, state)

    def matching_stateful(self, element: Element, state: State, pseudo: str | None, flags: Iterable[str]) -> list[int]:
        """Return those that match among the rules that speak of some states."""
        found: set[int] = set()
        for flag in flags:
            found.update(self._among(self._stateful.get((pseudo, flag)), element, state))
        return sorted(found)

    def _among(self, buckets: _Buckets | None, element: Element, state: State) -> list[int]:
        if not buckets:
            return []
        found: list[int] = []
        above = element.above
        for key in element.keys:
            for indexed in buckets.get(key, ()):
                selector = indexed.rule.selector
                if indexed.scope is not None and indexed.scope != (
                    element.slotted if selector.is_slotted else element.scope
                ):
                    continue
                if above & selector.needs == selector.needs and selector.matches(element, state):
                    found.append(indexed.number)
        found.sort()
        return found

    def stateful_pseudos(self, flags: Iterable[str]) -> list[str | None]:
        """Return the pseudo-elements (None for elements themselves) that rules speaking of some states style."""
        wanted = set(flags)
        return list(dict.fromkeys(pseudo for pseudo, state in self._stateful if state in wanted))


_FLAGS = ("hover", "focus", "active", "visited")


class PageMatcher:
    """Which rules match each element of one page, remembered over states and viewports."""

    def __init__(self, index: RuleIndex) -> None:
        self.index = index
        self._at_rest: dict[tuple[int, str | None], tuple[int, ...]] = {}
        self._in_state: dict[tuple[int, str | None, State], list[int]] = {}
        self._rest = State()

    def matching(self, element: Element, state: State, pseudo: str | None = None) -> tuple[int, ...]:
        """Return the numbers of the rules that match an element in a state, in order."""
        key = (element.order, pseudo)
        at_rest = self._at_rest.get(key)
        if at_rest is None:
            at_rest = self._at_rest[key] = tuple(self.index.matching(element, self._rest, pseudo))
        if state == self._rest:
            return at_rest
        flags = [flag for flag in _FLAGS if getattr(state, flag) and flag in self.index.states]
        if not flags:
            return at_rest
        touched = self._touching(element, state, pseudo, flags)
        kept = [n for n in at_rest if not self.index.rules[n].rule.selector.states.intersection(flags)]
        return at_rest if len(kept) == len(at_rest) and not touched else tuple(sorted({*kept, *touched}))

    def touched(self, elements: Iterable[Element], state: State) -> list[Element]:
        """Return the elements that other rules match in a state than at rest, themselves or in generated text."""
        flags = [flag for flag in _FLAGS if getattr(state, flag) and flag in self.index.states]
        pseudos = self.index.stateful_pseudos(flags)
        return [
            element for element in elements
            if any(self.matching(element, state, p) != self.matching(element, self._rest, p) for p in pseudos)
        ]  # fmt: skip

    def _touching(self, element: Element, state: State, pseudo: str | None, flags: list[str]) -> list[int]:
        key = (element.order, pseudo, state)
        if key not in self._in_state:
            self._in_state[key] = self.index.matching_stateful(element, state, pseudo, flags)
        return self._in_state[key]
