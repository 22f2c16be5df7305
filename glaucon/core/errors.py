"""Every error the core raises on purpose.

GlauconError
├── ColourError      a colour that cannot be read                     (also ValueError)
├── SiteError        a site that cannot be read or is refused         (also ValueError)
└── StudyError       a study document or a change to it that is wrong (also ValueError)

Each carries one sentence for people: what was given, and the way out.
"""

from __future__ import annotations


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
