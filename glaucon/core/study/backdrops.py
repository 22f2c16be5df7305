"""Backdrops: what lies behind the site, a page, a section or a part, as layers from the page up."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, field_validator, model_validator

from glaucon.core.colour.value import css_text, read_colour
from glaucon.core.study.roles import CoatId
from glaucon.core.study.scopes import Where
from glaucon.core.study.ties import RoleId

MOST_LAYERS, MOST_STOPS = 12, 6
Blend = Literal["normal", "multiply", "screen", "overlay", "soft-light", "darken", "lighten", "luminosity"]
Fit = Literal["cover", "contain", "tile", "stretch", "natural"]
Share = Annotated[float, Field(ge=0, le=1)]
Place = tuple[Share, Share]
# A tag with classes, or a way down from the place: nothing that could end a selector and begin something else.
_WITHIN = r"^[a-z][\w-]*(\.[\w-]+)*(:nth-child\(\d{1,6}\))?( > [a-z][\w-]*(:nth-child\(\d{1,6}\))?){0,40}$"

_STRICT = ConfigDict(frozen=True, extra="forbid")


class OfRole(BaseModel):
    """A colour of the palette, which follows it."""

    model_config = _STRICT

    role: RoleId


class _Coloured(BaseModel):
    model_config = _STRICT

    @field_validator("colour", check_fields=False)
    @classmethod
    def _is_a_colour(cls, colour: OfRole | str) -> OfRole | str:
        return colour if isinstance(colour, OfRole) else css_text(read_colour(colour))


Paint = OfRole | Annotated[str, Field(max_length=200)]


class Stop(_Coloured):
    """A stop of a gradient, `at` its share of the way."""

    at: Share
    colour: Paint


class Gradient(BaseModel):
    """A gradient; `angle` in degrees clockwise from the top, `place` and `reach` of radial and conic ones."""

    model_config = _STRICT

    kind: Literal["linear", "radial", "conic"] = "linear"
    angle: float = Field(default=180, ge=0, le=360)
    place: Place = (0.5, 0.5)
    reach: float = Field(default=1, ge=0.05, le=3)
    stops: tuple[Stop, ...]

    @field_validator("stops")
    @classmethod
    def _are_two_to_six(cls, stops: tuple[Stop, ...]) -> tuple[Stop, ...]:
        if not 2 <= len(stops) <= MOST_STOPS:
            raise ValueError(f"a gradient has two to {MOST_STOPS} stops, not {len(stops)}")
        return tuple(sorted(stops, key=lambda stop: stop.at))


class Picture(BaseModel):
    """A picture: a file of the site, or one of the owner's in `backdrops/`; `at` is what stays in view when it is cut.

    `strength` is how much colour it keeps, 0 grey; `lightness` goes from -1, black, to 1, white.
    """

    model_config = _STRICT

    file: str = Field(min_length=1, max_length=400)
    fit: Fit = "cover"
    at: Place = (0.5, 0.5)
    scale: float = Field(default=1, ge=0.1, le=8)
    fixed: bool = False
    opacity: Share = 1
    blend: Blend = "normal"
    strength: Share = 1
    lightness: float = Field(default=0, ge=-1, le=1)


class Drift(BaseModel):
    """A slow movement: `towards` in degrees clockwise from the top, `seconds` for the length of one tile."""

    model_config = _STRICT

    towards: float = Field(default=90, ge=0, le=360)
    seconds: float = Field(default=40, ge=4, le=600)


class Pattern(_Coloured):
    """One of the drawn patterns in a colour; `turn` in degrees."""

    name: str = Field(max_length=40)
    colour: Paint
    scale: float = Field(default=1, ge=0.25, le=8)
    opacity: Share = 0.3
    turn: float = Field(default=0, ge=0, le=360)
    drift: Drift | None = None

    @model_validator(mode="after")
    def _drifts_unturned(self) -> Pattern:
        if self.drift is not None and self.turn % 360:
            raise ValueError("a turned pattern has no tile that it could drift by: turn it back, or let it stand still")
        return self


class Glow(_Coloured):
    """Light from a place, `reach` its share of the farthest corner."""

    at: Place = (0.5, 0)
    colour: Paint = "#ffffff"
    reach: float = Field(default=0.8, ge=0.05, le=2)
    opacity: Share = 0.25


class Veil(_Coloured):
    """An even cover; "least": the least that makes all text on it readable, found when it is taken."""

    colour: Paint
    opacity: Share | Literal["least"]


class Layer(BaseModel):
    """One layer: exactly one of its kinds; `off` keeps it and does not show it."""

    model_config = _STRICT

    colour: Paint | None = None
    gradient: Gradient | None = None
    picture: Picture | None = None
    pattern: Pattern | None = None
    glow: Glow | None = None
    veil: Veil | None = None
    off: bool = False

    @field_validator("colour")
    @classmethod
    def _is_a_colour(cls, colour: Paint | None) -> Paint | None:
        return css_text(read_colour(colour)) if isinstance(colour, str) else colour

    @model_validator(mode="after")
    def _is_one_kind(self) -> Layer:
        if len(self.kinds) != 1:
            raise ValueError("a layer is one of colour, gradient, picture, pattern, glow and veil")
        return self

    @property
    def kinds(self) -> list[str]:
        """Return what it is, one name."""
        names = ("colour", "gradient", "picture", "pattern", "glow", "veil")
        return [name for name in names if getattr(self, name) is not None]


class PhonePicture(BaseModel):
    """What of the picture a phone looks at."""

    model_config = _STRICT

    at: Place


class Phone(BaseModel):
    """What is otherwise on a phone: another part of the picture, or none (null)."""

    model_config = _STRICT

    picture: PhonePicture | None


PlateSelector = Annotated[str, Field(pattern=_WITHIN)]


class Plate(_Coloured):
    """A colour right behind some texts of the place alone: `behind` are selectors of their elements within it."""

    colour: OfRole | str
    opacity: Share
    behind: tuple[PlateSelector, ...] = Field(min_length=1, max_length=60)


class Backdrop(BaseModel):
    """The layers behind a place, the lowest first; without a place behind the whole site.

    `panels` is the opacity of the boxes that lie on it, `plate` lies right behind some of its texts. `of` is the coat
    that brings it to its place.
    """

    model_config = ConfigDict(frozen=True, extra="forbid", populate_by_name=True, serialize_by_alias=True)

    where: Where | None = Field(default=None, alias="in")
    layers: tuple[Layer, ...] = Field(max_length=MOST_LAYERS)
    panels: Share = 1
    phone: Phone | None = None
    plate: Plate | None = None
    of: CoatId | None = None

    @model_validator(mode="after")
    def _lies_on_its_base(self) -> Backdrop:
        if any(layer.colour is not None for layer in self.layers[1:]):
            raise ValueError("the base colour is the lowest layer, and there is one at most")
        return self

    @property
    def shown(self) -> list[Layer]:
        """Return the layers that are switched on, the lowest first."""
        return [layer for layer in self.layers if not layer.off]

    @property
    def is_veil_alone(self) -> bool:
        """Return whether it is nothing but a veil, over what a section or part has behind it already."""
        shown = self.shown
        is_inside = self.where is not None and self.where.region is not None
        return is_inside and bool(shown) and all(layer.veil is not None for layer in shown)

    @property
    def pictures(self) -> Iterator[Picture]:
        """Return its pictures that show."""
        return (layer.picture for layer in self.shown if layer.picture is not None)


def paints_of(backdrop: Backdrop) -> Iterator[Paint]:
    """Yield every colour that a backdrop names."""
    for layer in backdrop.layers:
        if layer.colour is not None:
            yield layer.colour
        if layer.gradient is not None:
            yield from (stop.colour for stop in layer.gradient.stops)
        for other in (layer.pattern, layer.glow, layer.veil):
            if other is not None:
                yield other.colour
    if backdrop.plate is not None:
        yield backdrop.plate.colour
