"""Values that many properties share."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Keyword:
    """A keyword value, lower case."""

    name: str
