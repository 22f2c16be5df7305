"""Palettes in files: Design Tokens and `.gpl` in, `.gpl` out, and lists of codes as people paste them."""

from __future__ import annotations

import json
import re
from dataclasses import dataclass
from typing import Any

from glaucon.core.colour.value import Colour, parse_css_colour, read_colour
from glaucon.core.errors import ColourError
from glaucon.core.study.study import Study, in_tier

MOST_COLOURS = 256
MOST_BYTES = 1_000_000
_GPL_ROW = re.compile(r"\s*(\d{1,3})\s+(\d{1,3})\s+(\d{1,3})(?:\s+(.*))?$")
_FUNCTION = re.compile(r"(?:#[0-9a-f]{3,8}\b|\b(?:rgba?|hsla?|hwb|lab|lch|oklab|oklch|color)\([^()]{0,200}\))", re.I)
_BARE = re.compile(r"(?<![\w#])[0-9a-f]{6}(?![\w])", re.I)


@dataclass(frozen=True, slots=True)
class NamedColour:
    """A colour of a palette file and what it is called there."""

    name: str
    colour: Colour


def read_palette(text: str) -> list[NamedColour]:
    """Return the colours of a Design Tokens document, a `.gpl` palette, or a list of codes.

    Raises: ColourError: broken, without colours, or with too many.
    """
    if len(text.encode()) > MOST_BYTES:
        raise ColourError("That palette is larger than 1 MB. A palette of up to 256 colours is far smaller.")
    start = text.lstrip("\ufeff \t\r\n")
    if start.startswith("GIMP Palette"):
        found = _read_gpl(start)
    elif start.startswith("{"):
        found = _read_tokens(start)
    else:
        found = _read_codes(start)
    if not found:
        raise ColourError(
            "No colour was found there. Give a Design Tokens file, a .gpl palette, or codes such as #0b5c7a, #f2c14e."
        )
    if len(found) > MOST_COLOURS:
        raise ColourError(f"That palette has {len(found):,} colours. Glaucon takes up to {MOST_COLOURS} at a time.")
    return found


def _read_gpl(text: str) -> list[NamedColour]:
    found = []
    for number, line in enumerate(text.splitlines()[1:], 2):
        if not line.strip() or line.lstrip().startswith("#") or re.match(r"\s*(Name|Columns)\s*:", line):
            continue
        row = _GPL_ROW.match(line)
        if row is None or any(int(level) > 255 for level in row.group(1, 2, 3)):
            raise ColourError(
                f"Line {number} of that .gpl palette is not a colour: “{line.strip()[:40]}”. Correct it or drop it."
            )
        red, green, blue = (int(level) / 255 for level in row.group(1, 2, 3))
        found.append(NamedColour((row.group(4) or "").strip()[:80], Colour(red, green, blue)))
    return found


def _read_tokens(text: str) -> list[NamedColour]:
    try:
        document = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise ColourError("That Design Tokens file is broken: it is not complete JSON. Export it again.") from error
    found: list[NamedColour] = []
    waiting: list[tuple[str, Any, str]] = [("", document, "")]
    while waiting:
        name, node, kind = waiting.pop()
        if not isinstance(node, dict):
            continue
        kind = str(node.get("$type", kind))
        if "$value" in node:
            colour = _token_colour(node["$value"]) if kind in ("color", "") else None
            if colour is not None:
                found.append(NamedColour(name[:80], colour))
            continue
        inner = [(f"{name}.{key}" if name else str(key), value, kind) for key, value in node.items() if key[:1] != "$"]
        waiting.extend(reversed(inner))
        if len(found) > 20 * MOST_COLOURS:
            break
    return found


def _token_colour(value: Any) -> Colour | None:
    """Return the colour of a token's value: an object with a space and components, or text; None for aliases."""
    if isinstance(value, str):
        return parse_css_colour(value)
    if not isinstance(value, dict):
        return None
    space, components = value.get("colorSpace"), value.get("components")
    if not isinstance(space, str) or not isinstance(components, list) or len(components) != 3:
        return None
    if not all(part == "none" or isinstance(part, int | float) for part in components):
        return None
    alpha = value.get("alpha", 1)
    parts = " ".join(str(part) for part in components)
    if space in ("hsl", "hwb"):
        first, *rest = components
        parts = " ".join([str(first), *(f"{part}%" for part in rest)])
    text = f"{space}({parts} / {alpha})" if space in _OWN_SYNTAX else f"color({space} {parts} / {alpha})"
    try:
        return read_colour(text)
    except ColourError:
        return None


_OWN_SYNTAX = frozenset({"hsl", "hwb", "lab", "lch", "oklab", "oklch"})


def _read_codes(text: str) -> list[NamedColour]:
    """Return the colours of a list as pasted: all words where each is one, else the codes among other words.

    Without codes names count that stand between commas and line ends.
    """
    words = _WORD.findall(text[:_MOST_PLAIN])
    plain = [_plain(word) for word in words] if len(text) <= _MOST_PLAIN else []
    if plain and None not in plain:
        return [one for one in plain if one is not None]
    found = [*_FUNCTION.finditer(text), *_BARE.finditer(_FUNCTION.sub(lambda one: " " * len(one.group()), text))]
    colours = []
    for one in sorted(found, key=lambda match: match.start()):
        try:
            colours.append(NamedColour("", read_colour(one.group())))
        except ColourError:
            continue
    if not colours:
        names = (part.strip() for part in re.split(r"[,;\n]", text))
        colours = [NamedColour(name, colour) for name in names if (colour := parse_css_colour(name)) is not None]
    return colours


_WORD = re.compile(r"[-\w]+\([^()]*\)|[^\s,;]+")
_MOST_PLAIN = 2_000  # characters


def _plain(word: str) -> NamedColour | None:
    colour = parse_css_colour(word)
    if colour is not None:
        return NamedColour(word if word.isalpha() else "", colour)
    try:
        return NamedColour("", read_colour(word)) if _BARE.fullmatch(word) else None
    except ColourError:
        return None


def gpl(study: Study) -> str:
    """Return a study's palette as a `.gpl` file."""
    lines = ["GIMP Palette", f"Name: {study.name}", "Columns: 8", "#"]
    for role in in_tier(study.roles, "main", "detail"):
        red, green, blue = role.colour.bytes
        lines.append(f"{red:3d} {green:3d} {blue:3d}\t{role.label}")
    return "\n".join(lines) + "\n"
