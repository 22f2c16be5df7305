"""Nested rules (CSS Nesting): a selector within another, written out; bounded, since each level multiplies."""

from __future__ import annotations

from typing import Any

import tinycss2

MOST_SELECTORS = 150_000
# characters of a nested rule's selectors once their parents are put in; each level may double them
_MOST_NESTED = 8_000


def nested_prelude(prelude: list[Any], parent: list[Any]) -> list[Any] | None:
    """Return a nested rule's prelude with `&` replaced by `:is(parent)` (CSS Nesting, section 3).

    None where it would be longer than is followed.
    """
    around, own = tinycss2.serialize(parent), tinycss2.serialize(prelude)
    times = max(own.count("&"), own.count(",") + 1)
    if times * len(around) + len(own) > _MOST_NESTED:
        return None
    is_parent = tinycss2.parse_component_value_list(f":is({around})")
    space = tinycss2.parse_component_value_list(" ")
    result: list[Any] = []
    part: list[Any] = []

    def flush() -> None:
        trimmed = significant_prelude(part)
        if not _has_ampersand(trimmed):
            trimmed = [*is_parent, *space, *trimmed]
        result.extend(_replace_ampersand(trimmed, is_parent))

    for token in prelude:
        if token.type == "literal" and token.value == ",":
            flush()
            result.append(token)
            part = []
        else:
            part.append(token)
    flush()
    return result


def _has_ampersand(tokens: list[Any]) -> bool:
    return any(t == "&" or (t.type == "function" and _has_ampersand(t.arguments)) for t in tokens)


def _replace_ampersand(tokens: list[Any], parent: list[Any]) -> list[Any]:
    result: list[Any] = []
    for token in tokens:
        if token == "&":
            result.extend(parent)
        elif token.type == "function" and _has_ampersand(token.arguments):
            inner = tinycss2.serialize(_replace_ampersand(token.arguments, parent))
            result.extend(tinycss2.parse_component_value_list(f"{token.name}({inner})"))
        else:
            result.append(token)
    return result


def significant_prelude(tokens: list[Any]) -> list[Any]:
    """Return a prelude without white space at its ends."""
    start, end = 0, len(tokens)
    while start < end and tokens[start].type in ("whitespace", "comment"):
        start += 1
    while end > start and tokens[end - 1].type in ("whitespace", "comment"):
        end -= 1
    return tokens[start:end]
