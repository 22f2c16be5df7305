"""Scopes: where a choice holds (a page, a section, a part, one element), and what is worn there."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Annotated, get_args

from pydantic import BaseModel, ConfigDict, Field, field_validator, model_validator

from glaucon.core.colour.value import Colour, css_text, read_colour
from glaucon.core.study.roles import KINDS, CoatId, Kind, StateName

# What a scope sets: a kind of role in a state.
Use = tuple[Kind, StateName]
MOST_JOINED_PX = 400.0


# An element's path as the audit report has it; it is written out as a selector, so it holds nothing else.
_LONGEST = 2000
_PATH = r"^[A-Za-z][\w-]*(:nth-child\(\d{1,6}\))?(>[A-Za-z][\w-]*(:nth-child\(\d{1,6}\))?)*(::[a-z-]{1,40})?$"


def is_way(path: str) -> bool:
    """Return whether a path is one that a scope can hold at: one that a selector can be made of."""
    return len(path) <= _LONGEST and re.match(_PATH, path) is not None


class Where(BaseModel):
    """A page; a section or a part, on one page or on all; or one element alone, `at` its path, in a region or none."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    page: str | None = Field(default=None, max_length=400)
    section: str | None = Field(default=None, max_length=200)
    part: str | None = Field(default=None, max_length=200)
    at: str | None = Field(default=None, max_length=_LONGEST, pattern=_PATH)

    @model_validator(mode="after")
    def _is_one_of_those(self) -> Where:
        if self.section is not None and self.part is not None:
            raise ValueError("a scope is a section or a part, not both")
        if self.at is not None and self.page is None:
            raise ValueError("one element is on a page: name it")
        if self.section is None and self.part is None and self.page is None:
            raise ValueError("a scope names a page, a section or a part")
        return self

    @property
    def is_page(self) -> bool:
        """Return whether it is a whole page."""
        return self.region is None and self.at is None

    @property
    def region(self) -> str | None:
        """Return the key of the section or part; None for a whole page and an element in none."""
        return self.section if self.section is not None else self.part


class Like(BaseModel):
    """The place whose colours another takes; `came` is the coat that it wears where no choice is made for it."""

    model_config = ConfigDict(frozen=True, extra="forbid", populate_by_name=True, serialize_by_alias=True)

    where: Where = Field(alias="in")
    came: CoatId | None = None


class Join(BaseModel):
    """A section that goes on into the one below it: its background covers the `by` CSS pixels between them.

    `pages` are those on which that one lies right below. It holds while both wear the same background.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    below: str = Field(max_length=200)
    by: float = Field(gt=0, le=MOST_JOINED_PX)
    pages: tuple[Annotated[str, Field(max_length=400)], ...] = Field(max_length=3000)


class Scope(BaseModel):
    """What is worn somewhere: a coat, or values by kind ("link") or kind and state ("link.hover"), or both.

    Where it takes the colours of another place, `like` says which; coat and values are then what that one wears.
    """

    model_config = ConfigDict(frozen=True, extra="forbid", populate_by_name=True, serialize_by_alias=True)

    where: Where = Field(alias="in")
    coat: CoatId | None = None
    set: Mapping[str, str] = Field(default_factory=dict, max_length=80)
    like: Like | None = Field(default=None, alias="as")
    join: Join | None = None

    @field_validator("set")
    @classmethod
    def _is_of_kinds(cls, values: Mapping[str, str]) -> Mapping[str, str]:
        for name in values:
            use_of(name)
        return {name: css_text(read_colour(value)) for name, value in values.items()}

    @property
    def values(self) -> dict[Use, Colour]:
        """Return its own values by what they are for."""
        return {use_of(name): read_colour(value) for name, value in self.set.items()}


def use_of(name: str) -> Use:
    """Return the kind and state that a name in a scope says. Raises: ValueError: it says none."""
    kind, _, state = name.partition(".")
    if kind not in KINDS or (state or "rest") not in get_args(StateName):
        raise ValueError(f"“{name[:40]}” is nothing that a scope can set. Use one of {', '.join(KINDS)}")
    return kind, state or "rest"  # type: ignore[return-value]
