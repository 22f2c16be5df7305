"""Palettes of other sites, read from a study or from Design Tokens; those of other makes by what their names say."""

from __future__ import annotations

import json
import re
from typing import TypeVar

from pydantic import BaseModel, ValidationError

from glaucon.core.errors import ColourError
from glaucon.core.exchange.design_tokens import EXTENSION
from glaucon.core.exchange.palette_files import MOST_BYTES, NamedColour, read_palette
from glaucon.core.study.brought import Brought, brought_of
from glaucon.core.study.editing import free_id
from glaucon.core.study.roles import Kind, Role, StateName
from glaucon.core.study.study import Study

# words in a colour's name, in the order they are asked for: "link-hover", "color.text.muted", "primary background"
_SAID: tuple[tuple[Kind, str], ...] = (
    ("accent-text", r"(on|button)[ .-]?(accent|primary|brand|text)|(accent|primary|brand)[ .-]?(text|foreground)"),
    ("quiet", r"muted|quiet|subtle|secondary[ .-]?text|text[ .-]?secondary|caption"),
    ("heading", r"heading|headline|title"),
    ("link", r"links?|anchor"),
    ("line", r"lines?|borders?|dividers?|outline|rule"),
    ("panel", r"panel|card|surface"),
    ("background", r"background|bg|page|paper|canvas|base"),
    ("accent", r"accent|primary|brand|buttons?"),
    ("text", r"text|body|foreground|ink|fg"),
)
_STATES: tuple[tuple[StateName, str], ...] = (
    ("hover", "hover(ed)?"), ("focus", "focus(ed)?"), ("active", "active|pressed"), ("visited", "visited"),
    ("disabled", "disabled"), ("current", "current|selected"),
)  # fmt: skip


_Model = TypeVar("_Model", bound=BaseModel)


def read_brought(text: str) -> Brought:
    """Return the palette of a study (format 3), of Design Tokens, or of another palette file with names.

    Raises: ColourError: none can be read, or nothing in it says what a colour is for.
    """
    if len(text.encode()) > MOST_BYTES:
        raise ColourError("That palette is larger than 1 MB. A palette of up to 256 colours is far smaller.")
    document = _json(text)
    if document is not None and document.get("format") == 3:
        return brought_of(_checked(Study, document, "study"))
    if document is not None:
        more = document.get("$extensions")
        own = more.get(EXTENSION) if isinstance(more, dict) else None
        if isinstance(own, dict):
            return _checked(Brought, own, "palette")
    roles = _by_name(read_palette(text))
    if not roles:
        raise ColourError(
            "No name in that palette says what a colour is for. Add its colours one by one, or name them: text, link …"
        )
    return Brought(roles=roles)


def _json(text: str) -> dict[str, object] | None:
    try:
        document = json.loads(text)
    except (ValueError, RecursionError):
        return None
    return document if isinstance(document, dict) else None


def _checked(model: type[_Model], document: object, what: str) -> _Model:
    try:
        return model.model_validate(document)
    except ValidationError as error:
        raise ColourError(f"That {what} was changed by hand and does not hold together. Export it again.") from error


def _says(words: str, pattern: str) -> bool:
    return re.search(rf"(?<![a-z])({pattern})(?![a-z])", words) is not None


def _by_name(colours: list[NamedColour]) -> tuple[Role, ...]:
    """Return roles for colours whose names say what they are for; the first of a kind and state is the main one."""
    roles: list[Role] = []
    seen: set[tuple[Kind, StateName]] = set()
    for one in colours:
        words = re.sub(r"(?<=[a-z])(?=[A-Z])", " ", one.name).lower()
        kind = next((kind for kind, pattern in _SAID if re.search(rf"(?<![a-z])({pattern})(?![a-z])", words)), None)
        if kind is None:
            continue
        state: StateName = next(
            (s for s, pattern in _STATES if re.search(rf"(?<![a-z])({pattern})(?![a-z])", words)), "rest"
        )
        hex_ = one.colour.hex()
        roles.append(
            Role(
                id=free_id((role.id for role in roles), one.name[:60]), kind=kind, state=state, label=one.name[:80],
                tier="detail" if (kind, state) in seen else "main", value=hex_, found=hex_,
            )
        )  # fmt: skip
        seen.add((kind, state))
    return tuple(roles)
