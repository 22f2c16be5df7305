"""Whether what was handed back has arrived on the site's own host: told of each file, then of each page.

Hosts may write pages otherwise (a counter's script, other spaces), so a file is known by what it says of colours: a
page by the palette's sheet that it links, which is named by its content, a stylesheet by its text without spaces.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

FileState = Literal["new", "old", "held", "missing", "other"]
PageState = Literal["arrived", "held", "old", "missing", "other"]
_PALETTE = re.compile(rb"glaucon-[0-9a-f]{12}\.css")


@dataclass(frozen=True, slots=True)
class Came:
    """What an address answered: `data`, and past all caches `fresh`; None where it gave nothing, `why` then says so.

    `held_seconds` is how long a cache has had it, where it says so. `fresh` is asked for only where `data` is not new.
    """

    data: bytes | None
    fresh: bytes | None = None
    why: str = ""
    held_seconds: int | None = None


@dataclass(frozen=True, slots=True)
class FileFound:
    """A file as the host has it."""

    path: str
    state: FileState
    why: str = ""
    held_seconds: int | None = None


@dataclass(slots=True)
class PageFound:
    """A page as the host shows it: the sheets that are not as they should be, and how many texts come out right.

    `state` is what a visitor gets, `file` how the page itself has come.
    """

    path: str
    state: PageState
    file: FileState
    why: str = ""
    held_seconds: int | None = None
    sheets: list[FileFound] = field(default_factory=list)
    texts: int = 0
    right: int = 0


def file_found(path: str, came: Came, wanted: bytes, earlier: Sequence[bytes]) -> FileFound:
    """Return how a file has come; `earlier` are the contents that it had before."""
    if came.data is None:
        return FileFound(path, "missing", came.why)
    if is_as_wanted(came.data, wanted):
        return FileFound(path, "new")
    if came.fresh is not None and is_as_wanted(came.fresh, wanted):
        return FileFound(path, "held", held_seconds=came.held_seconds)
    is_old = any(_squeezed(came.data) == _squeezed(one) for one in earlier)
    return FileFound(path, "old" if is_old or _palette(came.data) != _palette(wanted) else "other")


def is_as_wanted(data: bytes, wanted: bytes) -> bool:
    """Return whether a file says what was handed back, though its host may write it otherwise."""
    if _squeezed(data) == _squeezed(wanted):
        return True
    palette = _palette(wanted)
    return palette is not None and _palette(data) == palette


def _palette(data: bytes) -> bytes | None:
    """Return the name of the palette's sheet that a page links."""
    found = _PALETTE.search(data)
    return found.group(0) if found is not None else None


def _squeezed(data: bytes) -> bytes:
    return re.sub(rb"\s+", b"", data)


def page_found(page: FileFound, sheets: Sequence[FileFound], texts: int, right: int) -> PageFound:
    """Return how a page has come, of itself, the sheets it links, and its texts read again as a visitor gets them."""
    wrong = [one for one in sheets if one.state != "new"]
    if page.state == "missing":
        return PageFound(page.path, "missing", "missing", page.why)
    is_right = texts > 0 and right == texts
    if is_right and page.state in ("new", "other") and not wrong:
        state: PageState = "arrived"
    elif page.state in ("held", "old"):
        state = page.state
    elif wrong:
        # what keeps a page from showing its colours is told by its worst sheet
        states = [one.state for one in wrong]
        state = next((one for one in ("missing", "held", "old") if one in states), "other")
        state = "other" if state == "missing" else state
    else:
        state = "arrived" if page.state == "new" else "other"
    times = [one.held_seconds for one in (page, *wrong) if one.held_seconds is not None]
    held = max(times, default=None)
    return PageFound(page.path, state, page.state, "", held, wrong, texts, right)


def earlier_contents(path: str, *sites: Mapping[str, bytes]) -> list[bytes]:
    """Return what a file held in earlier releases and as it was brought in, each once."""
    return list(dict.fromkeys(site[path] for site in sites if path in site))
