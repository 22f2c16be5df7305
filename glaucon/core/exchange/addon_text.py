"""How an add-on stylesheet is written: declarations in new colours, selectors, the at-rules around them."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

import tinycss2

from glaucon.core.cascade.source import Source
from glaucon.core.cascade.stylesheet import Written
from glaucon.core.cascade.tokens import ColourToken
from glaucon.core.scopes.hints import quoted

Place = tuple[str, int]  # a file and an offset in its text
_LEGACY_PSEUDO_ELEMENTS = (":before", ":after", ":first-line", ":first-letter")


@dataclass(frozen=True, slots=True)
class Unreached:
    """A changed colour that the stylesheet does not reach, and why."""

    token: ColourToken
    why: str


def rendered(
    source: Source, declaration: Any, new: Mapping[Place, str], led: Callable[[str], str] = lambda url: url
) -> tuple[str, bool]:
    """Return a declaration's text with its changed colours replaced, and whether there were any.

    `led` leads an address in it to where it means the same from anywhere. A background whose colour alone changes
    beside a picture says only the colour.
    """
    changed: list[tuple[Any, str]] = []

    def text(nodes: Iterable[Any]) -> str:
        pieces: list[str] = []
        for node in nodes:
            place = (source.file, source.offset + source.index(node.source_line, node.source_column))
            if source.editable and place in new:
                changed.append((node, new[place]))
                pieces.append(new[place])
                if node.type == "number":
                    break  # three channels are one colour, and the whole of their custom property
            elif node.type == "url":
                pieces.append(f"url({quoted(led(node.value))})")
            elif node.type == "function" and node.lower_name == "url":
                address = next((n.value for n in node.arguments if n.type == "string"), "")
                pieces.append(f"url({quoted(led(address))})")
            elif node.type == "function":
                pieces.append(f"{node.name}({text(node.arguments)})")
            else:
                pieces.append(tinycss2.serialize([node]))
        return "".join(pieces)

    name = declaration.name if declaration.name.startswith("--") else declaration.lower_name
    value = " ".join(text(declaration.value).split())
    if name == "background" and "url(" in value and len(changed) == 1 and changed[0][0] in declaration.value:
        name, value = "background-color", changed[0][1]
    return f"{name}: {value}{' !important' if declaration.important else ''}", bool(changed)


def changed_places(written: Written, new: Mapping[Place, str]) -> Iterator[Place]:
    """Yield the places of the changed colours in a rule."""
    for declaration in written.declarations:
        yield from (place for place in places(written.source, declaration.value) if place in new)


def places(source: Source, nodes: Iterable[Any]) -> Iterator[Place]:
    """Yield where each component value stands; nothing where offsets are not those of the file."""
    if source.editable:
        for node in nodes:
            yield source.file, source.offset + source.index(node.source_line, node.source_column)
            if node.type == "function":
                yield from places(source, node.arguments)


_SIDES = frozenset({"top", "right", "bottom", "left", "block", "inline", "start", "end"})
_SHORTHANDS = ("background", "outline", "text-decoration", "text-emphasis", "list-style", "column-rule", "font")
_BROWSERS_OWN = re.compile(r"^-(webkit|moz|ms|o)-")
_ASPECTS = frozenset({"color", "width", "style"})


def overlap(one: str, other: str) -> bool:
    """Return whether two properties can set the same thing; browsers' own names are those of the standard to them."""
    if one == other or "all" in (one, other):
        return True
    if one.startswith("--") or other.startswith("--"):
        return False
    one, other = _BROWSERS_OWN.sub("", one), _BROWSERS_OWN.sub("", other)
    if one == other:
        return True
    if any(name in (one, other) and one.startswith(name) and other.startswith(name) for name in _SHORTHANDS):
        return True
    if one.startswith("border") and other.startswith("border"):
        return _borders_overlap(set(one.split("-")[1:]), set(other.split("-")[1:]))
    return False


def _borders_overlap(one: set[str], other: set[str]) -> bool:
    if (one | other) - _SIDES - _ASPECTS:
        return False  # radius, image, collapse, spacing
    sides, aspects = (one & _SIDES, other & _SIDES), (one & _ASPECTS, other & _ASPECTS)
    logical = {"block", "inline", "start", "end"}
    meets = not sides[0] or not sides[1] or bool(sides[0] & sides[1]) or bool((sides[0] | sides[1]) & logical)
    return meets and (not aspects[0] or not aspects[1] or aspects[0] == aspects[1])


def scoped(prelude: str, markers: Iterable[str]) -> str:
    """Return a selector list that holds only on pages that have one of some elements, at no more weight."""
    where = f":root:has({', '.join(markers)})"
    condition = f":where({where}, {where} *)"
    return ", ".join(_with_condition(part, condition) for part in _selectors(prelude))


def _selectors(prelude: str) -> list[str]:
    parts: list[list[Any]] = [[]]
    for node in tinycss2.parse_component_value_list(prelude):
        if node.type == "literal" and node.value == ",":
            parts.append([])
        else:
            parts[-1].append(node)
    return [tinycss2.serialize(part).strip() for part in parts]


def _with_condition(selector: str, condition: str) -> str:
    nodes = tinycss2.parse_component_value_list(selector)
    for n in range(len(nodes) - 1):
        double = nodes[n] == ":" and nodes[n + 1] == ":"
        legacy = nodes[n] == ":" and f":{getattr(nodes[n + 1], 'lower_value', '')}" in _LEGACY_PSEUDO_ELEMENTS
        if double or legacy:
            return f"{tinycss2.serialize(nodes[:n])}{condition}{tinycss2.serialize(nodes[n:])}"
    return f"{selector}{condition}"


def wrapped(pieces: Iterable[tuple[tuple[str, ...], str]]) -> str:
    """Return rules in order, neighbours under the same at-rules together."""
    lines: list[str] = []
    open_: tuple[str, ...] = ()
    for around, text in pieces:
        if around != open_:
            lines.extend("}" for _ in open_)
            lines.extend(f"{wrapper} {{" for wrapper in around)
            open_ = around
        lines.append(text)
    lines.extend("}" for _ in open_)
    return "".join(f"{line}\n" for line in lines)
