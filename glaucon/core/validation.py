"""What a validation has found wrong with a document, in a sentence."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from pydantic import ValidationError


def told_error(error: ValidationError) -> str:
    """Return the first thing that is wrong with a document, as "where: what", without a stop at its end."""
    first = error.errors()[0]
    return told_of(first, first["loc"])


def told_of(found: Mapping[str, Any], place: Sequence[object]) -> str:
    """Return one thing that a validation has found, at a place in a document, as "where: what"."""
    told = str(found["msg"]).removeprefix("Value error, ").rstrip(".")
    if found.get("type") == "union_tag_invalid":
        told = f"there is no “{str(found['ctx']['tag'])[:40]}”"
    if found.get("type") in ("tuple_type", "list_type"):
        told = "it is a list"
    where = ".".join(str(part)[:40] for part in place)
    return f"{where}: {told}" if where else told
