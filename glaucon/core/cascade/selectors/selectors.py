"""Selectors Level 4: parsed by cssselect2, compiled here to match in a forced state.

Every element is taken to be in the state asked for (AUDIT_FORMAT), so `:hover` and its like answer from the
state and not from a pointer; cssselect2's own matcher never answers them.
"""

from __future__ import annotations

import contextlib
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import tinycss2
from cssselect2 import parser as css
from tinycss2.ast import IdentToken
from tinycss2.nth import parse_nth

from glaucon.core.cascade.markup import SHADOW
from glaucon.core.cascade.selectors.pseudo_classes import NEVER, PSEUDO_CLASSES, STATEFUL, direction, language_matches
from glaucon.core.cascade.selectors.remembered import (
    ancestor_matches,
    earlier_sibling,
    in_or_below,
    last_among,
    remembered,
)
from glaucon.core.cascade.selectors.state import Matches, State
from glaucon.core.cascade.tree import Element, key_bits

KEPT_PSEUDO_ELEMENTS = frozenset(
    {"before", "after", "placeholder", "first-line", "first-letter", "marker", "selection"}
)


@dataclass(frozen=True, slots=True)
class Selector:
    """A compiled selector with what the cascade sorts and indexes by."""

    matches: Matches
    specificity: tuple[int, int, int]
    pseudo_element: str | None
    key: tuple[str, str]  # ("id"|"class"|"tag"|"", name) that the subject must have
    states: frozenset[str]
    needs: int  # the keys that ancestors must have, as bits
    text: str = ""  # as written
    is_slotted: bool = False  # of what is shown in its shadow tree, without standing in it


def compile_selectors(tokens: list[Any], most: int = 10_000) -> list[Selector]:
    """Return the selectors of a rule's prelude; empty where one is invalid, since that drops the rule.

    Of more than `most` the first are returned.
    """
    selectors: list[Selector] = []
    for part in _split(tokens, min(most, 10_000)):
        part = _without_aliases(_for_host(part))
        slotted = _slotted(part)
        part = part if slotted is None else slotted
        vendor = _vendor_pseudo_element(part)
        if vendor == "-webkit-":
            continue
        if vendor:
            return []
        try:
            parsed = list(css.parse(part))
            for one in parsed:
                used: set[str] = set()
                matches = _compile(one.parsed_tree, used)
                if one.pseudo_element is None or one.pseudo_element in KEPT_PSEUDO_ELEMENTS:
                    selectors.append(
                        Selector(
                            matches,
                            one.specificity,
                            one.pseudo_element,
                            _key(one.parsed_tree),
                            frozenset(used),
                            _needs(one.parsed_tree),
                            tinycss2.serialize(part).strip(),
                            slotted is not None,
                        )
                    )
        except (css.SelectorError, _Invalid, RecursionError):
            return []
    return selectors


def _without_aliases(tokens: list[Any]) -> list[Any]:
    """Return a selector with Chromium's old names of standard pseudo-elements replaced."""
    return [
        IdentToken(t.source_line, t.source_column, "placeholder")
        if t.type == "ident" and t.lower_value == "-webkit-input-placeholder" and tokens[max(0, i - 1)] == ":"
        else t
        for i, t in enumerate(tokens)
    ]


def _for_host(tokens: list[Any]) -> list[Any]:
    """Return a selector whose `:host` is the element that stands for it (CSS Scoping 1, section 3.2.1)."""
    found: list[Any] = []
    for place, token in enumerate(tokens):
        before = tokens[place - 1] if place else None
        is_host = before == ":" and (place < 2 or tokens[place - 2] != ":")
        if is_host and token.type == "ident" and token.lower_value == "host":
            found[-1:] = [IdentToken(token.source_line, token.source_column, SHADOW)]
        elif is_host and token.type == "function" and token.lower_name == "host":
            found[-1:] = [IdentToken(token.source_line, token.source_column, SHADOW), *token.arguments]
        else:
            found.append(token)
    return found


def _slotted(tokens: list[Any]) -> list[Any] | None:
    """Return what `::slotted()` names, whatever slot that is shown in; None where it is not asked for."""
    for place, token in enumerate(tokens):
        if (
            token.type == "function"
            and token.lower_name == "slotted"
            and tokens[max(0, place - 2) : place] == [":", ":"]
        ):
            return list(token.arguments)
    return None


class _Invalid(ValueError):
    """A selector that a current browser does not accept."""


def _split(tokens: list[Any], most: int) -> list[list[Any]]:
    parts: list[list[Any]] = [[]]
    for token in tokens:
        if token.type == "literal" and token.value == ",":
            if len(parts) >= most:
                break
            parts.append([])
        else:
            parts[-1].append(token)
    return parts


def _vendor_pseudo_element(tokens: list[Any]) -> str:
    """Return the vendor prefix of a pseudo-element; browsers accept any `::-webkit-` name."""
    for index, token in enumerate(tokens[:-2]):
        pair = token == ":" and tokens[index + 1] == ":"
        name = str(getattr(tokens[index + 2], "lower_value", "") or getattr(tokens[index + 2], "lower_name", ""))
        if pair and name.startswith("-"):
            return "-webkit-" if name.startswith("-webkit-") else name
        if pair and name in (
            "backdrop",
            "cue",
            "part",
            "slotted",
            "details-content",
            "view-transition",
            "target-text",
            "grammar-error",
            "spelling-error",
            "highlight",
            "scroll-marker",
            "picker",
            "checkmark",
        ):
            return "-webkit-"
    return ""


def _key(tree: Any) -> tuple[str, str]:
    while isinstance(tree, css.CombinedSelector):
        tree = tree.right
    best = ("", "")
    for simple in tree.simple_selectors:
        if isinstance(simple, css.IDSelector):
            return "id", simple.ident
        if isinstance(simple, css.ClassSelector):
            best = ("class", simple.class_name)
        elif isinstance(simple, css.LocalNameSelector) and not best[0]:
            best = ("tag", simple.lower_local_name)
    return best


def _needs(tree: Any) -> int:
    """Return the keys that some ancestor of the subject must have, as bits."""
    bits = 0
    while isinstance(tree, css.CombinedSelector):
        if tree.combinator in (" ", ">"):
            left = tree.left.right if isinstance(tree.left, css.CombinedSelector) else tree.left
            bits |= key_bits(_plain_keys(left))
        tree = tree.left
    return bits


def _plain_keys(compound: Any) -> list[tuple[str, str]]:
    keys: list[tuple[str, str]] = []
    for simple in getattr(compound, "simple_selectors", []):
        if isinstance(simple, css.IDSelector):
            keys.append(("id", simple.ident))
        elif isinstance(simple, css.ClassSelector):
            keys.append(("class", simple.class_name))
        elif isinstance(simple, css.LocalNameSelector):
            keys.append(("tag", simple.lower_local_name))
    return keys


def _compile(tree: Any, used: set[str]) -> Matches:
    if isinstance(tree, css.CombinedSelector):
        return _compile_combined(tree, used)
    if isinstance(tree, css.CompoundSelector):
        return _all([_compile_simple(simple, used) for simple in tree.simple_selectors])
    return _compile_simple(tree, used)


def _all(tests: list[Matches]) -> Matches:
    if len(tests) == 1:
        return tests[0]
    if len(tests) == 2:
        one, two = tests
        return lambda e, s: one(e, s) and two(e, s)
    return lambda e, s: all(test(e, s) for test in tests)


def _any(tests: list[Matches]) -> Matches:
    return lambda e, s: any(test(e, s) for test in tests)


def _compile_combined(tree: Any, used: set[str]) -> Matches:
    groups = [_compile_group(group, used) for group in _groups(tree)]
    if len(groups) == 1:
        return groups[0][0]
    if len(groups) == 2 and groups[0][1] == 0:
        right, left = groups[0][0], groups[1][0]
        return lambda e, s: right(e, s) and ancestor_matches(e, s, left)
    return lambda e, s: _each_around_the_other(e, s, groups)


# A stretch of compounds without a descendant combinator: its test, and how many levels up its leftmost one stands.
_Group = tuple[Matches, int]
_MOST_COMPOUNDS = 250


def _groups(tree: Any) -> list[list[tuple[str, Any]]]:
    """Return a selector's compounds, the subject first, in groups parted by the descendant combinator.

    Each compound comes with the combinator to its left.
    """
    groups: list[list[tuple[str, Any]]] = [[]]
    count = 0
    while isinstance(tree, css.CombinedSelector):
        groups[-1].append((tree.combinator, tree.right))
        if tree.combinator == " ":
            groups.append([])
        tree, count = tree.left, count + 1
        if count > _MOST_COMPOUNDS:
            raise _Invalid("more compounds than anybody writes")
    groups[-1].append(("", tree))
    return groups


def _compile_group(group: list[tuple[str, Any]], used: set[str]) -> _Group:
    test = _compile(group[-1][1], used)
    for combinator, compound in reversed(group[:-1]):
        test = _joined(test, combinator, _compile(compound, used))
    return test, sum(combinator == ">" for combinator, _ in group[:-1])


def _joined(left: Matches, combinator: str, right: Matches) -> Matches:
    if combinator == ">":
        return lambda e, s: right(e, s) and e.parent is not None and left(e.parent, s)
    if combinator == "+":
        return lambda e, s: right(e, s) and (p := e.previous) is not None and left(p, s)
    if combinator == "~":
        earlier = earlier_sibling(left)
        return lambda e, s: right(e, s) and earlier(e, s)
    raise _Invalid(combinator)


def _each_around_the_other(element: Element, state: State, groups: list[_Group]) -> bool:
    """Return whether the first group matches at an element, and each other one further out.

    The nearest match of a group is always the right one to take: any other leaves fewer ancestors to the next.
    """
    test, up = groups[0]
    if not test(element, state):
        return False
    node: Element | None = element
    for nth, (test, lifted) in enumerate(groups):
        if nth:
            node = node.parent if node is not None else None
            while node is not None and not test(node, state):
                node = node.parent
            up = lifted
        for _ in range(up):
            node = node.parent if node is not None else None
        if node is None:
            return False
    return True


def _compile_forgiving(selector_list: list[Any], used: set[str]) -> list[Matches]:
    """Return those selectors of `:is()` and `:where()` that are valid; the others are as if not there."""
    compiled: list[Matches] = []
    for one in selector_list:
        with contextlib.suppress(_Invalid):
            compiled.append(_compile(one.parsed_tree, used))
    return compiled


_IN_HAS = "\0has"


def _compile_simple(simple: Any, used: set[str]) -> Matches:
    if isinstance(simple, css.LocalNameSelector):
        lower, exact = simple.lower_local_name, simple.local_name
        return lambda e, s: e.tag == lower or (e.foreign and e.tag == exact)
    if isinstance(simple, css.IDSelector):
        ident, folded_ident = simple.ident, simple.ident.lower()
        return lambda e, s: e.ident == ident if not e.quirky else e.ident.lower() == folded_ident
    if isinstance(simple, css.ClassSelector):
        name, folded_name = simple.class_name, simple.class_name.lower()
        # in quirks mode names match whatever their case (Selectors 4, section 6.6 and 6.7)
        return lambda e, s: name in e.classes if not e.quirky else folded_name in e.classes
    if isinstance(simple, css.AttributeSelector):
        return _compile_attribute(simple)
    if isinstance(simple, css.NamespaceSelector):
        return lambda e, s: True
    if isinstance(simple, css.NegationSelector):
        inner = _any([_compile(one.parsed_tree, used) for one in simple.selector_list])
        return lambda e, s: not inner(e, s)
    if isinstance(simple, css.MatchesAnySelector | css.SpecificityAdjustmentSelector):
        return _any(_compile_forgiving(simple.selector_list, used))
    if isinstance(simple, css.RelationalSelector):
        if _IN_HAS in used:
            raise _Invalid(":has() in :has()")  # Selectors 4, section 4.5
        used.add(_IN_HAS)
        try:
            return _any([_compile_has(one, used) for one in simple.selector_list])
        finally:
            used.discard(_IN_HAS)
    if isinstance(simple, css.PseudoClassSelector):
        return _compile_pseudo_class(simple.name, used)
    if isinstance(simple, css.FunctionalPseudoClassSelector):
        return _compile_functional(simple.name, simple.arguments, used)
    raise _Invalid(repr(simple))


# HTML, section 4.16.2: these attributes' values match without regard to case.
_CASELESS_ATTRIBUTES = frozenset(
    "accept accept-charset align alink axis bgcolor charset checked clear codetype color compact declare defer dir "
    "direction disabled enctype face frame hreflang http-equiv lang language link media method multiple nohref "
    "noresize noshade nowrap readonly rel rev rules scope scrolling selected shape target text type valign "
    "valuetype vlink".split()
)


def _compile_attribute(simple: Any) -> Matches:
    name, exact, value, operator = simple.lower_name, simple.name, simple.value, simple.operator
    fold = simple.case_sensitive is False or (simple.case_sensitive is None and name in _CASELESS_ATTRIBUTES)
    if value is not None and fold:
        value = value.lower()

    def read(element: Element) -> str | None:
        found = element.attributes.get(name)
        if found is None and element.foreign:
            found = element.attributes.get(exact)
        return found.lower() if found is not None and fold else found

    tests: dict[str | None, Callable[[str], bool]] = {
        None: lambda found: True,
        "=": lambda found: found == value,
        "~=": lambda found: bool(value) and value in found.split(),
        "|=": lambda found: found == value or found.startswith(f"{value}-"),
        "^=": lambda found: bool(value) and found.startswith(value),
        "$=": lambda found: bool(value) and found.endswith(value),
        "*=": lambda found: bool(value) and value in found,
    }
    test = tests[operator]
    return lambda e, s: (found := read(e)) is not None and test(found)


def _compile_has(relative: Any, used: set[str]) -> Matches:
    inner = _compile(relative.selector.parsed_tree, used)
    combinator = relative.combinator

    held, last = in_or_below(inner), last_among(inner)

    def has(element: Element, state: State) -> bool:
        if combinator == ">":
            return any(inner(child, state) for child in element.children)
        if combinator == "+":
            siblings = element.parent.standing if element.parent else []
            return element.position < len(siblings) and inner(siblings[element.position], state)
        if combinator == "~":
            return element.parent is not None and last(element.parent, state) > element.position
        return any(held(child, state) for child in element.children)

    return remembered(has)


def _compile_pseudo_class(name: str, used: set[str]) -> Matches:
    if name in STATEFUL:
        used.add(STATEFUL[name])
    if name in PSEUDO_CLASSES:
        return PSEUDO_CLASSES[name]
    if name in NEVER:
        return lambda e, s: False
    raise _Invalid(name)


def _compile_functional(name: str, arguments: list[Any], used: set[str]) -> Matches:
    if name in ("nth-child", "nth-last-child", "nth-of-type", "nth-last-of-type"):
        return _compile_nth(name, arguments, used)
    if name == "lang":
        wanted = [a.value.lower() for a in arguments if a.type in ("ident", "string")]
        return lambda e, s: language_matches(e, wanted)
    if name == "dir":
        said = next((a.lower_value for a in arguments if a.type == "ident"), "ltr")
        return lambda e, s: direction(e) == said
    if name in ("-webkit-any", "matches"):
        selectors = [_compile(one.parsed_tree, used) for one in css.parse(arguments, forgiving=True)]
        return _any(selectors)
    if name in ("state", "host", "host-context", "active-view-transition-type", "current"):
        return lambda e, s: False
    raise _Invalid(name)


def _compile_nth(name: str, arguments: list[Any], used: set[str]) -> Matches:
    of: Matches | None = None
    for index, token in enumerate(arguments):
        if token.type == "ident" and token.lower_value == "of":
            inner = list(css.parse(arguments[index + 1 :]))
            of = _any([_compile(one.parsed_tree, used) for one in inner])
            arguments = arguments[:index]
            break
    parsed = parse_nth(arguments)
    if parsed is None:
        raise _Invalid(name)
    a, b = parsed
    of_type, last = "of-type" in name, "last" in name

    def position(element: Element, state: State) -> int:
        if element.parent is None:
            return 1
        if of is None and not of_type and not last:
            return element.position
        siblings = element.parent.standing
        if of_type:
            siblings = [c for c in siblings if c.tag == element.tag]
        if of is not None:
            siblings = [c for c in siblings if of(c, state)]
        index = next(i for i, c in enumerate(siblings) if c is element)
        return len(siblings) - index if last else index + 1

    def nth(element: Element, state: State) -> bool:
        if of is not None and not of(element, state):
            return False
        steps = position(element, state) - b
        return bool(steps == 0 if a == 0 else steps % a == 0 and steps // a >= 0)

    return nth
