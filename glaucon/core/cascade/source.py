"""Where in a file's text a component value stands."""

from __future__ import annotations

import re
from bisect import bisect_right
from dataclasses import dataclass, field
from typing import Any

_NEWLINE = re.compile(r"\r\n|[\n\r\f]")
_IDENT = re.compile(r"#?(?:[-\w]|[^\x00-\x7f]|\\[0-9a-fA-F]{1,6}\s?|\\.)+")
_INSIDE_FUNCTION = re.compile(r"/\*.*?\*/|\"(?:\\.|[^\"\\])*\"|'(?:\\.|[^'\\])*'|[()]", re.S)


@dataclass(slots=True)
class Source:
    """A piece of CSS: the file's whole text and where in it the piece begins.

    `editable` is False where offsets in the piece are not offsets in the file, as in an attribute whose
    character references were resolved. `quirks`: it is read for a page without a proper doctype.
    """

    file: str
    text: str
    offset: int = 0
    editable: bool = True
    first_line: int = 1
    quirks: bool = False
    _starts: list[int] = field(default_factory=list)

    def __post_init__(self) -> None:
        self._starts = [0, *(m.end() for m in _NEWLINE.finditer(self.text))]

    def index(self, line: int, column: int) -> int:
        """Return the offset within this piece of a 1-based line and column as tinycss2 counts them."""
        return self._starts[line - 1] + column - 1

    def line_of(self, index: int) -> int:
        """Return the 1-based line of an offset within this piece."""
        return bisect_right(self._starts, index)

    def place(self, node: Any) -> tuple[str, int, int, int, int]:
        """Return (file, start, end, line, column) of a token or function."""
        start = self.index(node.source_line, node.source_column)
        end = _end_of(self.text, start)
        line = self.first_line + node.source_line - 1
        if not self.editable:
            return self.file, -1, -1, line, node.source_column
        return self.file, self.offset + start, self.offset + end, line, node.source_column


_NESTING = re.compile(r"/\*.*?(?:\*/|$)|\"(?:\\.|[^\"\\\n])*\"?|'(?:\\.|[^'\\\n])*'?|\\.|[\[({})\]]", re.S)
MOST_NESTING = 100


def shallow(css: str) -> str:
    """Return CSS with what is nested deeper than anybody writes blanked out; every offset stays as it was.

    Reading goes down by recursion, and what is brought in may be hostile.
    """
    css = _without_endless_lists(_LONG_NUMBER.sub(_shortened, css))
    if css.count("{") + css.count("(") + css.count("[") <= MOST_NESTING:
        return css
    pieces: list[str] = []
    depth, kept, blank_from = 0, 0, -1
    for found in _NESTING.finditer(css):
        if found.group() in ("{", "(", "["):
            depth += 1
            if depth == MOST_NESTING + 1:
                blank_from = found.start()
        elif found.group() in ("}", ")", "]") and depth:
            depth -= 1
            if depth == MOST_NESTING and blank_from >= 0:
                pieces.extend((css[kept:blank_from], _blanked(css[blank_from : found.end()])))
                kept, blank_from = found.end(), -1
    if blank_from >= 0:
        return "".join([*pieces, css[kept:blank_from], _blanked(css[blank_from:])])
    return "".join([*pieces, css[kept:]]) if pieces else css


_MOST_IN_ONE_PIECE = 1_000_000  # characters between two braces or semicolons
_MANY_COMMAS = 2_000  # a font or picture written into a stylesheet has one


def _without_endless_lists(css: str) -> str:
    """Return CSS with the rest of lists blanked out that are longer than any rule needs; offsets stay as they were."""
    if len(css) <= _MOST_IN_ONE_PIECE:
        return css
    pieces, kept, start = [], 0, 0
    for end in (*(found.start() for found in re.finditer("[{};]", css)), len(css)):
        if end - start > _MOST_IN_ONE_PIECE and css.count(",", start, end) > _MANY_COMMAS:
            cut = css.rfind(",", start, start + _MOST_IN_ONE_PIECE)
            if cut > start:
                pieces += [css[kept:cut], _blanked(css[cut:end])]
                kept = end
        start = end + 1
    return "".join([*pieces, css[kept:]])


# longer than any number that matters; turning it into one takes time that grows with its square
_LONG_NUMBER = re.compile(r"(?<![0-9])[0-9]{200,}")


def _shortened(found: re.Match[str]) -> str:
    digits = found.group()
    return digits[:190] + "/*" + "." * (len(digits) - 194) + "*/"


def _blanked(text: str) -> str:
    return re.sub(r"[^\r\n\f]", " ", text)


def _end_of(text: str, start: int) -> int:
    name = _IDENT.match(text, start)
    end = name.end() if name else start + 1
    if text[end : end + 1] != "(":
        return end
    depth = 0
    for found in _INSIDE_FUNCTION.finditer(text, end):
        if found.group() == "(":
            depth += 1
        elif found.group() == ")":
            depth -= 1
            if depth == 0:
                return found.end()
    return len(text)
