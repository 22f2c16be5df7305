"""Every error the core raises on purpose.

GlauconError
├── ColourError      a colour that cannot be read                     (also ValueError)
├── SiteError        a site that cannot be read or is refused         (also ValueError)
└── StudyError       a study document or a change to it that is wrong (also ValueError)

Each carries one sentence for people: what was given, and the way out.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from pydantic import ValidationError


class GlauconError(Exception):
    """Base of all; `code` is for machines, `str(error)` is a sentence for people."""

    code = "error"

    def __init__(self, sentence: str, **details: object) -> None:
        super().__init__(sentence)
        self.details = details


class ColourError(GlauconError, ValueError):
    """A text that is no CSS colour."""

    code = "colour"


class SiteError(GlauconError, ValueError):
    """An archive, folder or file that cannot be brought in."""

    code = "site"


class StudyError(GlauconError, ValueError):
    """A study document or a change to it that breaks the schema."""

    code = "study"


def told_error(error: ValidationError) -> str:
    """Return the first thing that is wrong with a document, as "where: what", without a stop at its end."""
    first = error.errors()[0]
    return told_of(first, first["loc"])


def told_of(found: Mapping[str, Any], place: Sequence[object]) -> str:
    """Return one thing that a validation has found, at a place in a document, as "where: what"."""
    told = str(found["msg"]).removeprefix("Value error, ").rstrip(".")
    if found.get("type") == "union_tag_invalid":
        told = f"there is no “{str(found['ctx']['tag'])[:40]}”"
    where = ".".join(str(part)[:40] for part in place)
    return f"{where}: {told}" if where else told
