"""`var()` replaced by what custom properties hold (CSS Custom Properties 1, section 3), bounded in size."""

from __future__ import annotations

from typing import Any

import tinycss2

from glaucon.core.cascade.properties.colours import significant


class _Substituted(list[Any]):
    """Component values put in for a `var()`, with how many there are at all depths."""

    size: int = 0


# Chromium gives up at 65,536 (CSS Custom Properties, section 3.3, lets it); nobody writes a tenth of this
_MOST_SUBSTITUTED = 4_000


def substitute(tokens: list[Any], lookup: Any) -> list[Any] | None:
    """Return component values with every var() replaced, or None where one has neither value nor fallback.

    None too for a chain of variables that doubles at each step: it must not eat the machine.
    """
    result = _Substituted()
    for node in tokens:
        if node.type == "function" and node.lower_name in ("var", "env"):
            replaced = _replace_var(node, lookup)
            if replaced is None:
                return None
            result.extend(replaced)
            result.size += max(1, getattr(replaced, "size", len(replaced)))
        elif node.type == "function" and _mentions_var(node.arguments):
            arguments = substitute(node.arguments, lookup)
            if arguments is None:
                return None
            result.size += getattr(arguments, "size", 0)
            result.append(tinycss2.ast.FunctionBlock(node.source_line, node.source_column, node.name, arguments))
        elif node.type == "() block" and _mentions_var(node.content):
            content = substitute(node.content, lookup)
            if content is None:
                return None
            result.size += getattr(content, "size", 0)
            result.append(tinycss2.ast.ParenthesesBlock(node.source_line, node.source_column, content))
        else:
            result.append(node)
            result.size += 1
        if result.size > _MOST_SUBSTITUTED:
            return None
    return result


def _mentions_var(tokens: list[Any]) -> bool:
    for node in tokens:
        inner = getattr(node, "arguments", None) or getattr(node, "content", None)
        if node.type == "function" and node.lower_name in ("var", "env"):
            return True
        if isinstance(inner, list) and _mentions_var(inner):
            return True
    return False


def _replace_var(node: Any, lookup: Any) -> list[Any] | None:
    arguments = node.arguments
    words = significant(arguments)
    if not words or words[0].type != "ident":
        return None
    found = lookup(words[0].value) if node.lower_name == "var" else None
    if found is not None:
        return found if isinstance(found, _Substituted) else list(found)
    comma = next((i for i, n in enumerate(arguments) if n == ","), None)
    if comma is None:
        return None
    return substitute(arguments[comma + 1 :], lookup)
