"""Found colours: each colour token of the site, at its file and position."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from glaucon.core.colour.value import Colour

# Browser defaults that an owner may want to change although no file writes them.
DEFAULTS = {
    "default-canvas": Colour(1.0, 1.0, 1.0),
    "default-text": Colour(0.0, 0.0, 0.0),
    "default-link": Colour(0.0, 0.0, 238 / 255),
    "default-visited": Colour(85 / 255, 26 / 255, 139 / 255),
}

# The file of the custom properties of a study's own roles, where the owner's own CSS reads them.
PALETTE_FILE = "\0palette"


@dataclass(frozen=True, slots=True)
class ColourToken:
    """A colour as a file writes it.

    `file` is the path within the site; `start` and `end` are offsets in the file's decoded text, -1 where
    the place cannot be edited (an attribute with character references). `kind` is "rule", "inline",
    "attribute" or "default"; a default has no place and takes the name of the browser default as `text`.
    `form` is "channels" for three numbers in a custom property that `rgb()` is given elsewhere, "hashless" for
    hexadecimal digits that only a quirks page takes for a colour.
    """

    number: int
    file: str
    start: int
    end: int
    line: int
    column: int
    text: str
    colour: Colour
    kind: str
    property: str
    selector: str
    media: str = ""
    form: str = "colour"

    def as_css(self) -> str:
        """Return its text as CSS can say it anywhere: attributes and quirks pages may leave the # out."""
        return self.colour.hex() if self.kind == "attribute" or self.form == "hashless" else self.text


class TokenTable:
    """The site's tokens, numbered in the order they are met; the first four are the browser defaults."""

    def __init__(self) -> None:
        self.tokens: list[ColourToken] = []
        self.base = ""  # the file that is being read: addresses in it are relative to that
        self._by_node: dict[int, int] = {}
        self._alive: list[Any] = []  # nodes are known by identity and must outlive the table
        for name, colour in DEFAULTS.items():
            self.add(name, colour, kind="default", prop="", selector="")

    def add(
        self,
        text: str,
        colour: Colour,
        *,
        kind: str,
        prop: str,
        selector: str,
        place: tuple[str, int, int, int, int] = ("", -1, -1, 0, 0),
        media: str = "",
        node: Any = None,
        form: str = "colour",
    ) -> int:
        """Return the number of a new token; `place` is (file, start, end, line, column)."""
        number = len(self.tokens)
        file, start, end, line, column = place
        self.tokens.append(
            ColourToken(number, file, start, end, line, column, text, colour, kind, prop, selector, media, form)
        )
        if node is not None:
            self._by_node[id(node)] = number
            self._alive.append(node)
        return number

    def number_of(self, node: Any) -> int | None:
        """Return the token a component value is, if it is one."""
        return self._by_node.get(id(node))


def default_token(name: str) -> int:
    """Return the token number of a browser default."""
    return list(DEFAULTS).index(name)


def places(tokens: Iterable[ColourToken]) -> list[ColourToken]:
    """Return the tokens that stand in a file and can be edited there."""
    return [token for token in tokens if token.start >= 0]
