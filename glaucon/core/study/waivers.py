"""What the owner says of something that has to be seen and is not: a logo, decoration, or told in another way."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

WaivedAs = Literal["logotype", "decoration", "told"]
MOST_SELECTORS = 60


class Waiver(BaseModel):
    """Things of one kind that are let through, found by selectors in their sections, with the owner's word why."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    what: Annotated[str, Field(max_length=20)]
    selectors: Annotated[tuple[Annotated[str, Field(max_length=400)], ...], Field(max_length=MOST_SELECTORS)]
    said: WaivedAs
    why: Annotated[str, Field(max_length=200)] = ""
