"""`@supports` (CSS Conditional Rules 4): what Chromium would say it can do."""

from __future__ import annotations

from functools import lru_cache
from importlib.resources import files
from typing import Any

from glaucon.core.cascade.properties.colours import significant
from glaucon.core.cascade.properties.declarations import parse_declaration
from glaucon.core.cascade.selectors.selectors import compile_selectors
from glaucon.core.cascade.tokens import TokenTable


@lru_cache(maxsize=1)
def _property_names() -> frozenset[str]:
    """Return the names of all properties that Chromium 156 knows, as its CSSOM lists them."""
    return frozenset(files("glaucon.core.cascade").joinpath("property_names.txt").read_text("utf-8").split())


def supports(tokens: list[Any]) -> bool:
    """Return what a current Chromium answers to an `@supports` condition, as far as known here."""
    if not tokens:
        return False
    if getattr(tokens[0], "lower_value", "") == "not":
        return not supports(tokens[1:])
    words = {getattr(t, "lower_value", "") for t in tokens if t.type == "ident"}
    terms = [t for t in tokens if t.type in ("() block", "function")]
    answers = [_supports_term(t) for t in terms]
    return any(answers) if "or" in words else all(answers) and bool(answers)


def _supports_term(node: Any) -> bool:
    if node.type == "function":
        if node.lower_name == "selector":
            return bool(compile_selectors(node.arguments))
        return node.lower_name in ("font-tech", "font-format")
    content = significant(node.content)
    if not content:
        return False
    if len(content) > 2 and content[0].type == "ident" and content[1] == ":":
        name = content[0].value if content[0].value.startswith("--") else content[0].lower_value
        if name.startswith("--"):
            return True
        return name in _property_names() and parse_declaration(name, content[2:], TokenTable()) is not None
    return supports(content)
