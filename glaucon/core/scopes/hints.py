"""Presentational attributes (`bgcolor`, `text` …: HTML 15.3) made to follow what is worn around them."""

from __future__ import annotations

from collections.abc import Iterable

from tinycss2.serializer import serialize_string_value

from glaucon.core.cascade.tokens import ColourToken
from glaucon.core.study.wearing import Worn

HINTED = {"bgcolor": "background-color", "text": "color", "link": "color", "vlink": "color"}
HINTED_BELOW = {"link": " a:any-link", "vlink": " a:visited"}


def quoted(text: str) -> str:
    """Return a text as a CSS string."""
    return f'"{serialize_string_value(text)}"'


def hint_selector(token: ColourToken, texts: Iterable[str]) -> str:
    """Return what finds the elements that show a presentational attribute's colour, written as one of some texts."""
    tag = token.selector.strip("<>")
    below = HINTED_BELOW.get(token.property, "")
    return f":where({', '.join(f'{tag}[{token.property}={quoted(text)}]{below}' for text in texts)})"


def hints_within(worn: Iterable[Worn]) -> list[str]:
    """Return rules that let presentational attributes follow what is worn around them.

    The attribute holds a literal, as it came or as its role has it now; the rule weighs as little as it does. Of those
    that look alike the last one counts.
    """
    rules: dict[str, str] = {}
    for one in worn:
        now = one.role.colour.with_alpha(1.0).hex()
        selector = hint_selector(one.token, dict.fromkeys((one.token.text, now)))
        literal = now if one.role.is_changed else one.token.as_css()
        said = HINTED.get(one.token.property, one.token.property)
        rules[selector] = f"{selector} {{ {said}: var({one.custom_property.name}, {literal}) }}"
    return sorted(rules.values())
