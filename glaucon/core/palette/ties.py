"""Ties: a role follows another one, and is worked out anew whenever that one moves."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Annotated

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field, model_validator

from glaucon.core.colour.contrast import relative_luminance
from glaucon.core.colour.oklab import Floats, oklab_from_oklch, oklab_from_srgb, oklch_from_oklab, srgb_from_oklab
from glaucon.core.colour.value import Colour
from glaucon.core.errors import StudyError
from glaucon.core.palette.candidates import candidates_of

RoleName = Annotated[str, Field(min_length=1, max_length=60)]


class Tie(BaseModel):
    """How a role follows the role `to`: lighter, more colourful and turned by (OKLCH), at an opacity, readable on.

    With `on` the nearest colour is taken whose contrast ratio on that role is `ratio` or more.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    to: RoleName
    lighter: float = Field(default=0.0, ge=-1, le=1)
    colourful: float = Field(default=0.0, ge=-0.4, le=0.4)
    turned: float = Field(default=0.0, ge=-360, le=360)
    opacity: float | None = Field(default=None, ge=0, le=1)
    on: RoleName | None = None
    ratio: float | None = Field(default=None, ge=1, le=21)

    @model_validator(mode="after")
    def _readable_has_both(self) -> Tie:
        if (self.on is None) != (self.ratio is None):
            raise ValueError("a tie that keeps readable names both the role it stands on and the ratio")
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
        return np.asarray(np.floor(into_srgb(lch) * 255 + 0.5) / 255)


# rounding alone; near black OKLab draws out what is further from sRGB than this
_BEYOND = 1e-9


def into_srgb(lch: Floats) -> Floats:
    """Return sRGB in [0, 1] of OKLCH, shape (n, 3), with less chroma where sRGB does not hold it."""
    within, beyond = np.zeros(len(lch)), lch[:, 1].copy()
    srgb = srgb_from_oklab(oklab_from_oklch(lch))
    held: NDArray[np.bool_] = np.all((srgb >= -_BEYOND) & (srgb <= 1 + _BEYOND), axis=1)
    for _ in range(30):
        middle = (within + beyond) / 2
        tried = np.stack([lch[:, 0], middle, lch[:, 2]], axis=1)
        found = srgb_from_oklab(oklab_from_oklch(tried))
        fits = ((found >= -_BEYOND) & (found <= 1 + _BEYOND)).all(axis=1)
        within, beyond = np.where(fits, middle, within), np.where(fits, beyond, middle)
    fitted = srgb_from_oklab(oklab_from_oklch(np.stack([lch[:, 0], within, lch[:, 2]], axis=1)))
    return np.clip(np.where(held[:, None], srgb, fitted), 0, 1)


def tied_colour(tie: Tie, colours: Mapping[str, Colour]) -> Colour:
    """Return what a tied role wears, given the roles it looks at."""
    origin = colours[tie.to]
    rgb = tie.shifted(np.array([origin.rgb]))[0]
    if tie.on is not None and tie.ratio is not None:
        ground = float(relative_luminance(np.array(colours[tie.on].rounded().rgb))) + 0.05
        some = candidates_of((float(rgb[0]), float(rgb[1]), float(rgb[2])))
        light = some.luminance + 0.05
        reads = np.maximum(light, ground) / np.minimum(light, ground) >= tie.ratio - 1e-9
        # where no colour reads, the one that reads best
        best = np.where(reads, some.delta_e_ok, np.inf) if reads.any() else -np.abs(np.log(light / ground))
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
            raise StudyError(f"These roles would follow each other in a circle: {circle}; cut one of the ties first.")
        open_.append(name)
        for origin in ties[name].origins:
            if origin not in labels:
                raise StudyError(f"“{labels.get(name, name)}” follows “{origin}”, which is no role of this study.")
            visit(origin)
        open_.pop()
        done.append(name)

    for name in ties:
        visit(name)
    return done
