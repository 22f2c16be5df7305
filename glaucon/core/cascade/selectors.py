"""Selectors Level 4: parsed by cssselect2, compiled here to match in a forced state.

Every element is taken to be in the state asked for (AUDIT_FORMAT), so `:hover` and its like answer from the
state and not from a pointer; cssselect2's own matcher never answers them.
"""

from __future__ import annotations

import contextlib
import re
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import tinycss2
from cssselect2 import parser as css
from tinycss2.ast import IdentToken
from tinycss2.nth import parse_nth

from glaucon.core.cascade.tree import Element, key_bits

STATES = ("rest", "hover", "focus", "active", "visited")

Matches = Callable[[Element, "State"], bool]

KEPT_PSEUDO_ELEMENTS = frozenset(
    {"before", "after", "placeholder", "first-line", "first-letter", "marker", "selection"}
)
_LINK_TAGS = frozenset({"a", "area"})
_FORM_TAGS = frozenset({"button", "input", "select", "textarea", "option", "optgroup", "fieldset"})
_TEXT_INPUTS = frozenset(
    {"text", "search", "url", "tel", "email", "password", "number", "date", "month", "week", "time", "datetime-local"}
)
# Valid in Chromium, and false for a page that nobody has touched yet.
_NEVER = frozenset(
    {
        "target", "target-within", "fullscreen", "-webkit-full-screen", "picture-in-picture", "popover-open", "modal",
        "autofill", "-webkit-autofill", "user-invalid", "user-valid", "indeterminate", "playing", "seeking",
        "buffering", "stalled", "muted", "volume-locked", "-webkit-drag", "window-inactive", "future", "past",
        "current", "host", "paused", "xr-overlay", "has-slotted", "open-picker", "active-view-transition",
        "horizontal", "vertical", "increment", "decrement", "start", "end", "double-button", "single-button",
        "no-button", "corner-present", "cue",
    }
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class State:
    """What the pseudo-classes of user action answer, for every element at once."""

    hover: bool = False
    focus: bool = False
    active: bool = False
    visited: bool = False

    @classmethod
    def named(cls, name: str) -> State:
        """Return the state of that name.

        Raises: ValueError: if it is not one of STATES.
        """
        if name not in STATES:
            raise ValueError(f"“{name}” is not a state. Use one of {', '.join(STATES)}")
        active = name == "active"
        return cls(name == "hover" or active, name == "focus" or active, active, name == "visited")


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


def compile_selectors(tokens: list[Any], most: int = 10_000) -> list[Selector]:
    """Return the selectors of a rule's prelude; empty where one is invalid, since that drops the rule.

    Of more than `most` the first are returned.
    """
    selectors: list[Selector] = []
    for part in _split(tokens, min(most, 10_000)):
        part = _without_aliases(part)
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
        return lambda e, s: right(e, s) and _ancestor_matches(e, s, left)
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
        earlier = _earlier_sibling(left)
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


def _ancestor_matches(element: Element, state: State, test: Matches) -> bool:
    node = element.parent
    while node is not None:
        if test(node, state):
            return True
        node = node.parent
    return False


def _earlier_sibling(test: Matches) -> Matches:
    """Return a test of whether an earlier sibling matches; each sibling is tested once for all those after it."""
    # the first that matches, or 0, and up to where was looked
    known: dict[tuple[Element, State], tuple[int, int]] = {}

    def earlier(element: Element, state: State) -> bool:
        parent = element.parent
        if parent is None:
            return False
        first, looked = known.get((parent, state), (0, 0))
        if not first and looked < element.position - 1:
            children = parent.children
            some = (n + 1 for n in range(looked, element.position - 1) if test(children[n], state))
            first = next(some, 0)
            if len(known) >= _MOST_REMEMBERED:
                known.clear()
            known[parent, state] = (first, element.position - 1)
        return 0 < first < element.position

    return earlier


_MOST_REMEMBERED = 32


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

    held, last = _in_or_below(inner), _last_among(inner)

    def has(element: Element, state: State) -> bool:
        if combinator == ">":
            return any(inner(child, state) for child in element.children)
        if combinator == "+":
            siblings = element.parent.children if element.parent else []
            return element.position < len(siblings) and inner(siblings[element.position], state)
        if combinator == "~":
            return element.parent is not None and last(element.parent, state) > element.position
        return any(held(child, state) for child in element.children)

    return _remembered(has)


def _remembered(test: Matches) -> Matches:
    """Return a test that is asked once for each element: what stands in an anchor asks for it again and again."""
    known: dict[tuple[Element, State], bool] = {}

    def remembered(element: Element, state: State) -> bool:
        found = known.get((element, state))
        if found is None:
            if len(known) > _MOST_HELD:
                known.clear()
            found = known[element, state] = test(element, state)
        return found

    return remembered


_MOST_HELD = 200_000


def _in_or_below(test: Matches) -> Matches:
    """Return whether an element or anything in it passes, worked out once for each: anchors ask for the same again."""
    known: dict[tuple[Element, State], bool] = {}

    def held(element: Element, state: State) -> bool:
        found = known.get((element, state))
        if found is not None:
            return found
        if len(known) > _MOST_HELD:
            known.clear()
        order, pending = [], [element]
        while pending:
            node = pending.pop()
            if (node, state) not in known:
                order.append(node)
                pending.extend(node.children)
        for node in reversed(order):
            known[node, state] = test(node, state) or any(known.get((child, state), False) for child in node.children)
        return known[element, state]

    return held


def _last_among(test: Matches) -> Callable[[Element, State], int]:
    """Return the position of the last child that passes, 0 for none, worked out once for each parent."""
    known: dict[tuple[Element, State], int] = {}

    def last(parent: Element, state: State) -> int:
        found = known.get((parent, state))
        if found is None:
            if len(known) > _MOST_HELD:
                known.clear()
            some = (child.position for child in reversed(parent.children) if test(child, state))
            found = known[parent, state] = next(some, 0)
        return found

    return last


def _is_link(element: Element) -> bool:
    return element.tag in _LINK_TAGS and ("href" in element.attributes or "xlink:href" in element.attributes)


def is_disabled(element: Element) -> bool:
    """Return whether a form control is disabled, by itself or by a fieldset (HTML, section 4.10.18.5)."""
    if element.tag not in _FORM_TAGS:
        return False
    if "disabled" in element.attributes:
        return True
    if element.tag == "option" and element.parent is not None and element.parent.tag == "optgroup":
        return "disabled" in element.parent.attributes
    child = element
    for ancestor in element.ancestors():
        if ancestor.tag == "fieldset" and "disabled" in ancestor.attributes:
            first_legend = next((c for c in ancestor.children if c.tag == "legend"), None)
            if child is not first_legend:
                return True
        child = ancestor
    return False


def _is_checked(element: Element) -> bool:
    if element.tag == "option":
        return "selected" in element.attributes
    return element.tag == "input" and "checked" in element.attributes


def _is_required(element: Element) -> bool:
    return element.tag in ("input", "select", "textarea") and "required" in element.attributes


def input_type(element: Element) -> str:
    """Return an input's type, `text` where it is missing or unknown."""
    kind = element.attributes.get("type", "text").strip().lower()
    known = _TEXT_INPUTS | {
        "hidden",
        "range",
        "color",
        "checkbox",
        "radio",
        "file",
        "submit",
        "image",
        "reset",
        "button",
    }
    return kind if kind in known else "text"


def _is_read_write(element: Element) -> bool:
    if element.tag == "textarea" or (element.tag == "input" and input_type(element) in _TEXT_INPUTS):
        return "readonly" not in element.attributes and not is_disabled(element)
    return element.attributes.get("contenteditable") in ("", "true", "plaintext-only")


def _placeholder_shown(element: Element) -> bool:
    if element.tag == "textarea":
        return "placeholder" in element.attributes and not any(element.texts)
    return (
        element.tag == "input"
        and "placeholder" in element.attributes
        and input_type(element) in _TEXT_INPUTS
        and not element.attributes.get("value")
    )


_EMAIL = re.compile(r"[\w.!#$%&'*+/=?^`{|}~-]+@[a-zA-Z0-9](?:[a-zA-Z0-9-]*[a-zA-Z0-9])?(?:\.[a-zA-Z0-9-]+)*")


def _is_valid(element: Element) -> bool:
    """Return whether a control satisfies its constraints, as far as attributes tell (HTML, section 4.10.20)."""
    if is_disabled(element) or "readonly" in element.attributes:
        return True
    value = element.attributes.get("value", "")
    if element.tag == "textarea":
        value = "".join(element.texts)
    if element.tag == "select":
        return not _is_required(element) or _chosen_value(element) != ""
    if element.tag == "input" and input_type(element) in ("checkbox", "radio"):
        return not _is_required(element) or _is_checked(element)
    if not value:
        return not _is_required(element)
    kind = input_type(element) if element.tag == "input" else ""
    if kind == "email":
        return all(_EMAIL.fullmatch(part.strip()) for part in value.split(","))
    if kind == "url":
        return bool(re.match(r"[a-zA-Z][\w+.-]*:", value))
    pattern = element.attributes.get("pattern")
    if pattern and kind:
        with contextlib.suppress(re.error):
            return re.fullmatch(pattern, value) is not None
    return not _is_out_of_range(element)


def _chosen_value(element: Element) -> str:
    options = [e for e in element.descendants() if e.tag == "option"]
    chosen = next((o for o in reversed(options) if "selected" in o.attributes), options[0] if options else None)
    return "" if chosen is None else chosen.attributes.get("value", chosen.own_text)


def _is_out_of_range(element: Element) -> bool:
    if element.tag != "input" or input_type(element) not in ("number", "range"):
        return False
    try:
        value = float(element.attributes.get("value", ""))
        low, high = float(element.attributes.get("min", "-inf")), float(element.attributes.get("max", "inf"))
    except ValueError:
        return False
    return not low <= value <= high


def _form_is_valid(element: Element) -> bool:
    return all(_is_valid(e) for e in element.descendants() if e.tag in ("input", "select", "textarea"))


def _only(test: Callable[[Element], bool]) -> Matches:
    return lambda e, s: test(e)


def _siblings_of_type(element: Element) -> list[Element]:
    if element.parent is None:
        return [element]
    return [c for c in element.parent.children if c.tag == element.tag]


_VALIDATED = frozenset({"input", "select", "textarea"})
_HOLDERS = frozenset({"form", "fieldset"})


def _has_range(element: Element) -> bool:
    return (
        element.tag == "input"
        and input_type(element) in ("number", "range")
        and ("min" in element.attributes or "max" in element.attributes)
    )


_PSEUDO_CLASSES: dict[str, Matches] = {
    "any-link": _only(_is_link),
    "-webkit-any-link": _only(_is_link),
    "link": lambda e, s: _is_link(e) and not s.visited,
    "visited": lambda e, s: _is_link(e) and s.visited,
    "hover": lambda e, s: s.hover,
    "focus": lambda e, s: s.focus,
    "focus-visible": lambda e, s: s.focus,
    "focus-within": lambda e, s: s.focus,
    "active": lambda e, s: s.active,
    "root": lambda e, s: e.parent is None,
    "scope": lambda e, s: e.parent is None,
    "empty": lambda e, s: not e.children and not any(e.texts),
    "first-child": lambda e, s: e.position == 1,
    "last-child": lambda e, s: e.parent is None or e.position == len(e.parent.children),
    "only-child": lambda e, s: e.parent is None or len(e.parent.children) == 1,
    "first-of-type": lambda e, s: _siblings_of_type(e)[0] is e,
    "last-of-type": lambda e, s: _siblings_of_type(e)[-1] is e,
    "only-of-type": lambda e, s: len(_siblings_of_type(e)) == 1,
    "enabled": lambda e, s: e.tag in _FORM_TAGS and not is_disabled(e),
    "disabled": _only(is_disabled),
    "checked": _only(_is_checked),
    "default": lambda e, s: _is_checked(e),
    "required": _only(_is_required),
    "optional": lambda e, s: e.tag in ("input", "select", "textarea") and not _is_required(e),
    "read-write": _only(_is_read_write),
    "read-only": lambda e, s: not _is_read_write(e),
    "placeholder-shown": _only(_placeholder_shown),
    "valid": lambda e, s: (e.tag in _VALIDATED and _is_valid(e)) or (e.tag in _HOLDERS and _form_is_valid(e)),
    "invalid": lambda e, s: (e.tag in _VALIDATED and not _is_valid(e)) or (e.tag in _HOLDERS and not _form_is_valid(e)),
    "in-range": lambda e, s: _has_range(e) and not _is_out_of_range(e),
    "out-of-range": lambda e, s: _is_out_of_range(e),
    "open": lambda e, s: e.tag in ("details", "dialog") and "open" in e.attributes,
    "defined": lambda e, s: "-" not in e.tag or e.foreign,
}
_STATEFUL = {
    "hover": "hover", "focus": "focus", "focus-visible": "focus", "focus-within": "focus", "active": "active",
    "link": "visited", "visited": "visited",
}  # fmt: skip


def _compile_pseudo_class(name: str, used: set[str]) -> Matches:
    if name in _STATEFUL:
        used.add(_STATEFUL[name])
    if name in _PSEUDO_CLASSES:
        return _PSEUDO_CLASSES[name]
    if name in _NEVER:
        return lambda e, s: False
    raise _Invalid(name)


def _compile_functional(name: str, arguments: list[Any], used: set[str]) -> Matches:
    if name in ("nth-child", "nth-last-child", "nth-of-type", "nth-last-of-type"):
        return _compile_nth(name, arguments, used)
    if name == "lang":
        wanted = [a.value.lower() for a in arguments if a.type in ("ident", "string")]
        return lambda e, s: _language_matches(e, wanted)
    if name == "dir":
        direction = next((a.lower_value for a in arguments if a.type == "ident"), "ltr")
        return lambda e, s: _direction(e) == direction
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
        siblings = element.parent.children
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


def _language_matches(element: Element, wanted: list[str]) -> bool:
    for node in (element, *element.ancestors()):
        if (found := node.attributes.get("lang")) is not None:
            lowered = found.lower()
            return any(lowered == want or lowered.startswith(f"{want}-") for want in wanted)
    return False


def _direction(element: Element) -> str:
    for node in (element, *element.ancestors()):
        if node.attributes.get("dir", "").lower() in ("ltr", "rtl"):
            return node.attributes["dir"].lower()
    return "ltr"
