"""Refusals of the application: a status, a code, one sentence for people and what machines may need."""

from __future__ import annotations


class Refused(Exception):
    """Something the application will not do, with the way out."""

    def __init__(self, status: int, code: str, sentence: str, **details: object) -> None:
        super().__init__(sentence)
        self.status = status
        self.code = code
        self.details = details
