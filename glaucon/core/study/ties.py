"""Ties: a role follows another one, and is worked out anew whenever that one moves."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import lru_cache
from typing import Annotated

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, model_validator

from glaucon.core.colour.contrast import contrast_ratios
from glaucon.core.colour.gamut import eight_bit, into_srgb
from glaucon.core.colour.oklab import Floats, oklab_from_srgb, oklch_from_oklab
from glaucon.core.colour.value import Colour
from glaucon.core.errors import StudyError
from glaucon.core.reading.candidates import candidates_of

RoleId = Annotated[str, Field(min_length=1, max_length=60)]


class Tie(BaseModel):
    """How a role follows the role `to`: lighter, more colourful and turned by (OKLCH), at an opacity, readable on.

    With `on` the nearest colour is taken whose contrast ratio on that role is `ratio` or more.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    to: RoleId
    lighter: float = Field(default=0.0, ge=-1, le=1)
    colourful: float = Field(default=0.0, ge=-0.4, le=0.4)
    turned: float = Field(default=0.0, ge=-360, le=360)
    opacity: float | None = Field(default=None, ge=0, le=1)
    on: RoleId | None = None
    ratio: float | None = Field(default=None, ge=1, le=21)
    came: bool = False  # proposed from the site's own colours, which it tells within ΔE OK 0.02

    @model_validator(mode="after")
    def _readable_has_both(self) -> Tie:
        if (self.on is None) != (self.ratio is None):
            raise ValueError("a tie that keeps text readable needs a background and a contrast")
        return self

    @property
    def origins(self) -> list[str]:
        """Return the roles this tie looks at."""
        return [self.to] if self.on is None else [self.to, self.on]

    def shifted(self, colours: Floats) -> Floats:
        """Return what follows some colours of the role `to`, 8-bit sRGB of shape (n, 3); `on` is not looked at."""
        lch = oklch_from_oklab(oklab_from_srgb(colours))
        lch[:, 0] = np.clip(lch[:, 0] + self.lighter, 0, 1)
        lch[:, 1] = np.maximum(lch[:, 1] + self.colourful, 0)
        lch[:, 2] += self.turned
        return eight_bit(into_srgb(lch))


def tied_colour(tie: Tie, colours: Mapping[str, Colour]) -> Colour:
    """Return what a tied role wears, given the roles it looks at."""
    return _tied(tie, colours[tie.to], colours[tie.on] if tie.on is not None else None)


@lru_cache(maxsize=4096)
def _tied(tie: Tie, origin: Colour, ground: Colour | None) -> Colour:
    rgb = tie.shifted(np.array([origin.rgb]))[0]
    if ground is not None and tie.ratio is not None:
        some = candidates_of((float(rgb[0]), float(rgb[1]), float(rgb[2])))
        ratios = contrast_ratios(some.colours, np.array(ground.rounded().rgb))
        reads = ratios >= tie.ratio - 1e-9
        # where no colour is readable, the one that comes nearest to it
        best = np.where(reads, some.delta_e_ok, np.inf) if reads.any() else -ratios
        rgb = some.colours[int(np.argmin(best))]
    red, green, blue = (float(channel) for channel in rgb)
    return Colour(red, green, blue, origin.alpha if tie.opacity is None else tie.opacity)


def in_order(ties: Mapping[str, Tie], labels: Mapping[str, str]) -> Sequence[str]:
    """Return the tied roles so that each comes after those it looks at.

    Raises: StudyError: ties that run in a circle, or that name no role.
    """
    done: list[str] = []
    open_: list[str] = []

    def visit(name: str) -> None:
        if name in done or name not in ties:
            return
        if name in open_:
            circle = " → ".join(labels.get(one, one) for one in [*open_[open_.index(name) :], name])
            raise StudyError(
                f"These colours would follow each other in a circle: {circle}. Let one of them stop following first."
            )
        open_.append(name)
        for origin in ties[name].origins:
            if origin not in labels:
                raise StudyError(f"“{labels.get(name, name)}” follows “{origin}”, which is not a colour of this study.")
            visit(origin)
        open_.pop()
        done.append(name)

    for name in ties:
        visit(name)
    return done
