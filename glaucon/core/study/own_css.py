"""The owner's own CSS: the part of a study's `extra_css` that is not fading rules.

It stands after all else, so it wins over the palette. CSS that does not parse is kept, and not applied: a brace too few
would swallow what follows it.
"""

from __future__ import annotations

import difflib
import re
from collections.abc import Collection, Iterable, Iterator
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import tinycss2

from glaucon.core.cascade.properties.declarations import COLOUR_PROPERTIES, parse_declaration
from glaucon.core.cascade.selectors.selectors import compile_selectors
from glaucon.core.cascade.source import Source, shallow
from glaucon.core.cascade.stylesheet import parse_stylesheet
from glaucon.core.cascade.tokens import TokenTable
from glaucon.core.errors import StudyError
from glaucon.core.study.backdrops import OfRole, paints_of
from glaucon.core.study.fading import fading_rules, without_fades
from glaucon.core.study.roles import Role
from glaucon.core.study.study import Study
from glaucon.core.study.wearing import Property

NAME = "your own CSS"  # what findings call the file
_END = "#gl-end"
_USED = re.compile(r"var\(\s*(--gl-[-\w]+)")
_MOST_TOLD = 20
_HOLDING_RULES = ("media", "supports", "layer")


@dataclass(frozen=True, slots=True)
class CssProblem:
    """What is wrong with a line; with `stops` the whole is not applied."""

    line: int
    message: str
    stops: bool


def own_css(study: Study) -> str:
    """Return what the owner has written, whether it parses or not."""
    return without_fades(study.extra_css) if study.extra_css else ""


def with_own_css(study: Study, css: str) -> Study:
    """Return the study with other CSS of its owner's; the fading rules stay."""
    rules = fading_rules(study.extra_css)
    return study.model_copy(update={"extra_css": "\n".join([*([css] if css.strip() else []), *rules])})


def with_more_css(study: Study, rules: Collection[str]) -> Study:
    """Return the study with rules after what its owner has written.

    Raises: StudyError: what is there, or one of the rules, does not parse.
    """
    if not rules:
        return study
    css = own_css(study)
    if any(one.stops for one in problems_of(css)):
        raise StudyError("Your own CSS does not parse, so nothing can be added to it. Correct it first.")
    if any(one.stops for rule in rules for one in problems_of(rule)):
        raise StudyError("A rule to be added does not parse. Fix all again.")
    return with_own_css(study, "\n".join([*([css.rstrip()] if css.strip() else []), *rules]))


def applied_css(study: Study) -> str:
    """Return the CSS that a study adds to its site: all of it, or the fading rules alone where the rest is broken."""
    if not study.extra_css or not any(one.stops for one in problems_of(own_css(study))):
        return study.extra_css
    return "\n".join(fading_rules(study.extra_css))


def applied_own(study: Study) -> str:
    """Return the owner's own CSS as it is applied, "" where it is none or does not parse."""
    css = own_css(study)
    return "" if not css.strip() or any(one.stops for one in problems_of(css)) else css


def properties_in(study: Study) -> list[Role]:
    """Return the roles whose custom properties the owner's own CSS and the study's backdrops read."""
    names = set(_USED.findall(own_css(study)))
    painted = {paint.role for one in study.backdrops for paint in paints_of(one) if isinstance(paint, OfRole)}
    if study.backdrops and (ground := study.first("background")) is not None:
        painted.add(ground.id)  # what a page's backdrop lies on where it has no base colour
    return [role for role in study.roles if Property(role.id).name in names or role.id in painted]


def palette_for_own(study: Study) -> str:
    """Return a rule that gives the custom properties that the own CSS reads, "" where it reads none."""
    said = [f"{Property(role.id).name}: {Property(role.id).value(role)}" for role in properties_in(study)]
    return f":root {{ {'; '.join(said)} }}" if said else ""


def problems_with_palette(css: str, roles: Iterable[Role]) -> list[CssProblem]:
    """Return the problems of a stylesheet, including custom properties that the palette does not have."""
    known = [Property(role.id).name for role in roles]
    found = list(problems_of(css))
    for match in _USED.finditer(css):
        if match.group(1) not in known:
            near = difflib.get_close_matches(match.group(1), known, 1)
            meant = f" Did you mean {near[0]}?" if near else ""
            line = css.count("\n", 0, match.start()) + 1
            found.append(CssProblem(line, f"The palette has no {match.group(1)}.{meant}", False))
    return sorted(found, key=lambda one: one.line)[:_MOST_TOLD]


@lru_cache(maxsize=64)
def problems_of(css: str) -> tuple[CssProblem, ...]:
    """Return the problems of a stylesheet by line: syntax errors, and declarations no browser accepts."""
    if not css.strip():
        return ()
    sheet = parse_stylesheet(Source(NAME, css), TokenTable(), keep_all=True)
    found = [CssProblem(one.line, _told(one.message), True) for one in sheet.problems]
    nodes = tinycss2.parse_stylesheet(shallow(f"{css}\n{_END} {{}}"), skip_comments=True, skip_whitespace=True)
    last = nodes[-1] if nodes else None
    if last is None or last.type != "qualified-rule" or tinycss2.serialize(last.prelude).strip() != _END:
        line = css.count("\n", 0, max(css.rfind("{"), 0)) + 1
        found.append(CssProblem(line, "A bracket or quote is opened here and never closed.", True))
    else:
        found += _misunderstood(nodes[:-1])
    return tuple(found[:_MOST_TOLD])


# Part of a tinycss2 error message, and the sentence a person reads instead.
_IN_WORDS = (
    ("reached before", "Something is missing here: a colon, a semicolon, or the braces around the colours."),
    ("for declaration name", "A property is expected here, such as “color”. Take out what stands there instead."),
    ("after declaration name", "A colon is missing here, after the property: “color: #0b5c7a”."),
    ("contains {} block", "A “{” stands where a value is expected. A semicolon or a “}” is missing before it."),
    ("Unmatched", "This bracket closes nothing. Take it out."),
    ("string", "A quote is opened here and not closed on its line."),
    ("URL", "The address in “url(…)” is not closed, or has a quote or bracket in it."),
)


def _told(message: str) -> str:
    told = next((words for sign, words in _IN_WORDS if sign.lower() in message.lower()), None)
    # what is not in the table is a sentence of Glaucon's own
    return told or f"{message[:1].upper()}{message[1:].rstrip('.')}."


def _misunderstood(nodes: list[Any]) -> Iterator[CssProblem]:
    for node in nodes:
        if (
            node.type == "at-rule"
            and node.content is not None
            and node.lower_at_keyword in ("media", "supports", "layer")
        ):
            yield from _misunderstood(tinycss2.parse_rule_list(node.content, skip_comments=True, skip_whitespace=True))
        if node.type != "qualified-rule":
            continue
        if not compile_selectors(node.prelude):
            selector = tinycss2.serialize(node.prelude).strip()[:60]
            yield CssProblem(node.source_line, f"No browser understands the selector “{selector}”.", False)
        for one in tinycss2.parse_blocks_contents(node.content, skip_comments=True, skip_whitespace=True):
            if one.type == "declaration" and one.lower_name in COLOUR_PROPERTIES and not _is_known(one):
                value = tinycss2.serialize(one.value).strip()[:60]
                told = f"“{value}” is nothing that {one.lower_name} can be."
                yield CssProblem(one.source_line, _told(value) if "[bad " in value else told, False)


def _is_known(declaration: Any) -> bool:
    # {} is of no interest here, which a browser may well understand; None is what it drops
    return parse_declaration(declaration.lower_name, declaration.value, TokenTable()) is not None
