"""A backdrop's layers as declarations, and the files that they name.

All layers are background images of one element, `!important` so that they show where the site's own rules paint
something else; the base colour shows where a picture fails. CSS Backgrounds 3, Compositing 1, Colour 5 (color-mix).
"""

from __future__ import annotations

import hashlib
import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

from glaucon.core.backdrops.patterns import drawn, pattern_of
from glaucon.core.backdrops.pictures import FOLDER, PHONE, PHONE_PX, WIDE, file_for
from glaucon.core.colour.value import Colour, css_text, read_colour
from glaucon.core.study.backdrops import Backdrop, Drift, Gradient, Layer, OfRole, Paint, Pattern, Picture, Veil
from glaucon.core.study.study import Study
from glaucon.core.study.wearing import Property

Size = Callable[[str], tuple[int, int]]  # a picture's pixels by its path
_FILLS = "9999px"  # more than half of any box is wide or high
LEAST_UNKNOWN = 0.6  # of a veil whose least is not found yet


@dataclass(frozen=True, slots=True)
class Recipe:
    """How a file is made: a drawing as it is, or a picture at a width in pixels."""

    drawing: bytes = b""
    picture: Picture | None = None
    width: int = 0


@dataclass(slots=True)
class WrittenLayers:
    """Declarations for the element, those for phones, what moves, and the files by their path."""

    wide: list[str] = field(default_factory=list)
    phone: list[str] = field(default_factory=list)
    moves: str = ""
    files: dict[str, Recipe] = field(default_factory=dict)
    on_screen: dict[int, set[str]] = field(default_factory=dict)  # the files that a screen of a width asks for


@dataclass(frozen=True, slots=True)
class _Image:
    """One background image with its properties."""

    image: str
    size: str = "auto"
    at: str = "0% 0%"
    repeat: str = "repeat"
    attachment: str = "scroll"
    blend: str = "normal"


def written(backdrop: Backdrop, study: Study, size: Size, with_pictures: bool = True) -> WrittenLayers:
    """Return a backdrop as CSS; `size` tells a picture's pixels; `with_pictures` false leaves out what may not load.

    Raises: StudyError: a pattern or colour that is not there. ColourError: a picture that cannot be read.
    """
    paint = _Painting(study)
    if backdrop.is_veil_alone:
        return WrittenLayers([_laid_over(backdrop, paint)])
    done = WrittenLayers()
    drifts = next((p.drift for p in _patterns(backdrop) if p.drift is not None), None)
    for screen, said in ((WIDE, done.wide), (PHONE, done.phone)):
        files: dict[str, Recipe] = {}
        images = [
            image for layer in reversed(backdrop.shown)
            if (image := _image(layer, backdrop, screen, paint, size, files, with_pictures)) is not None
        ]  # fmt: skip
        said += _declared(images)
        done.files.update(files)
        done.on_screen[screen] = set(files)
    base = next((layer.colour for layer in backdrop.shown if layer.colour is not None), None)
    if base is not None:
        done.wide.insert(0, f"background-color: {paint.css(base)} !important")
    if done.phone == [one for one in done.wide if not one.startswith("background-color")]:
        done.phone = []
    if drifts is not None and with_pictures:
        tile = next(p for p in _patterns(backdrop) if p.drift is not None)
        done.moves = _moving(tile, drifts)
    return done


def name_of_drift(pattern: Pattern) -> str:
    """Return the name of the movement of a pattern."""
    return f"gl-drift-{hashlib.sha256(repr((pattern.name, pattern.scale, pattern.drift)).encode()).hexdigest()[:8]}"


class _Painting:
    """A study's colours as CSS."""

    def __init__(self, study: Study) -> None:
        self._study = study

    def colour(self, paint: Paint) -> Colour:
        return self._study.role(paint.role).colour if isinstance(paint, OfRole) else read_colour(paint)

    def css(self, paint: Paint) -> str:
        """Return a colour as CSS: `var()` of its role if it is a palette colour, otherwise the literal."""
        if isinstance(paint, OfRole):
            role = self._study.role(paint.role)
            return f"var({Property(role.id).name}, {css_text(role.colour)})"
        return css_text(read_colour(paint))

    def faded(self, paint: Paint, opacity: float) -> str:
        """Return a colour at an opacity."""
        if isinstance(paint, OfRole):
            return f"color-mix(in srgb, {self.css(paint)} {opacity * 100:g}%, transparent)"
        colour = read_colour(paint)
        return css_text(colour.with_alpha(colour.alpha * opacity))


def painted(study: Study, paint: Paint, opacity: float) -> str:
    """Return a colour at an opacity as CSS, following the palette where it is of it."""
    return _Painting(study).faded(paint, opacity)


def _patterns(backdrop: Backdrop) -> list[Pattern]:
    return [layer.pattern for layer in backdrop.shown if layer.pattern is not None]


def _image(
    layer: Layer, backdrop: Backdrop, screen: int, paint: _Painting, size: Size, files: dict[str, Recipe],
    with_pictures: bool,
) -> _Image | None:  # fmt: skip
    if layer.gradient is not None:
        return _Image(_gradient(layer.gradient, paint))
    if layer.glow is not None:
        glow = layer.glow
        stops = f"{paint.faded(glow.colour, glow.opacity)}, {paint.faded(glow.colour, 0)} {glow.reach * 100:g}%"
        return _Image(f"radial-gradient(circle farthest-corner at {_at(glow.at)}, {stops})")
    if layer.veil is not None:
        colour = paint.faded(layer.veil.colour, veil_strength(layer.veil))
        return _Image(f"linear-gradient({colour}, {colour})")
    if layer.pattern is not None and with_pictures:
        return _pattern(layer.pattern, paint, files)
    if layer.picture is not None and with_pictures:
        return _picture(layer.picture, backdrop, screen, size, files)
    return None


def _laid_over(backdrop: Backdrop, paint: _Painting) -> str:
    """Return veils as shadows that fill the box: over whatever background it has, under what stands in it.

    CSS Backgrounds 3, section 7.1.1.
    """
    colours = [
        paint.faded(layer.veil.colour, veil_strength(layer.veil))
        for layer in reversed(backdrop.shown) if layer.veil is not None
    ]  # fmt: skip
    return f"box-shadow: {', '.join(f'inset 0 0 0 {_FILLS} {colour}' for colour in colours)} !important"


def veil_strength(veil: Veil) -> float:
    """Return a veil's opacity; a middling one where the least is still to be found."""
    return LEAST_UNKNOWN if veil.opacity == "least" else float(veil.opacity)


def _gradient(gradient: Gradient, paint: _Painting) -> str:
    stops = ", ".join(f"{paint.css(stop.colour)} {stop.at * 100:g}%" for stop in gradient.stops)
    if gradient.kind == "linear":
        return f"linear-gradient({gradient.angle:g}deg, {stops})"
    if gradient.kind == "conic":
        return f"conic-gradient(from {gradient.angle:g}deg at {_at(gradient.place)}, {stops})"
    reached = ", ".join(f"{paint.css(stop.colour)} {stop.at * gradient.reach * 100:g}%" for stop in gradient.stops)
    return f"radial-gradient(circle farthest-corner at {_at(gradient.place)}, {reached})"


def _pattern(pattern: Pattern, paint: _Painting, files: dict[str, Recipe]) -> _Image:
    colour = paint.colour(pattern.colour)
    data = drawn(pattern.name, colour.with_alpha(colour.alpha * pattern.opacity), pattern.scale, pattern.turn)
    path = f"{FOLDER}{pattern.name}-{hashlib.sha256(data).hexdigest()[:10]}.svg"
    files[path] = Recipe(drawing=data)
    if pattern.turn % 360:
        return _Image(_url(path), "100% 100%", repeat="no-repeat")
    at = "var(--gl-drift-x, 0px) var(--gl-drift-y, 0px)" if pattern.drift is not None else "0px 0px"
    return _Image(_url(path), "auto", at)


def _picture(picture: Picture, backdrop: Backdrop, screen: int, size: Size, files: dict[str, Recipe]) -> _Image | None:
    if screen == PHONE and backdrop.phone is not None:
        if backdrop.phone.picture is None:
            return None
        picture = picture.model_copy(update={"at": backdrop.phone.picture.at})
    own = size(picture.file)
    width = min(screen, own[0]) if picture.fit in ("cover", "contain", "stretch") else min(WIDE, own[0])
    path = file_for(picture, width)
    files[path] = Recipe(picture=picture, width=width)
    across = min(own[0], WIDE) * picture.scale
    sizes = {
        "cover": "cover", "contain": "contain", "stretch": "100% 100%", "tile": f"{own[0] * picture.scale:g}px auto",
        "natural": f"{across:g}px auto",
    }  # fmt: skip
    return _Image(
        _url(path), sizes[picture.fit], "0% 0%" if picture.fit == "tile" else _at(picture.at),
        "repeat" if picture.fit == "tile" else "no-repeat", "fixed" if picture.fixed else "scroll", picture.blend,
    )  # fmt: skip


def _declared(images: list[_Image]) -> list[str]:
    """Return the declarations of some images, the topmost first."""
    if not images:
        return ["background-image: none !important"]
    lists: Mapping[str, list[str]] = {
        "background-image": [one.image for one in images],
        "background-size": [one.size for one in images],
        "background-position": [one.at for one in images],
        "background-repeat": [one.repeat for one in images],
        "background-attachment": [one.attachment for one in images],
        "background-blend-mode": [one.blend for one in images],
        "background-origin": ["border-box"],
        "background-clip": ["border-box"],
    }
    return [f"{name}: {', '.join(values)} !important" for name, values in lists.items()]


def _moving(pattern: Pattern, drift: Drift) -> str:
    """Return what makes a pattern drift by one tile, over and over; where less movement is asked for it stands."""
    tile = pattern_of(pattern.name)
    angle = math.radians(drift.towards)
    # whole tiles along each axis, so that it begins again where it ends
    x, y = round(math.sin(angle) * 2) / 2, round(-math.cos(angle) * 2) / 2
    x, y = (math.copysign(math.ceil(abs(x)), x) if x else 0), (math.copysign(math.ceil(abs(y)), y) if y else 0)
    across, down = x * tile.width * pattern.scale, y * tile.height * pattern.scale
    end = f"{name_of_drift(pattern)} {{ to {{ --gl-drift-x: {across:g}px; --gl-drift-y: {down:g}px }} }}"
    kinds = "".join(
        f"@property --gl-drift-{axis} {{ syntax: '<length>'; inherits: false; initial-value: 0px }}\n" for axis in "xy"
    )
    return f"{kinds}@keyframes {end}\n"


def animation(backdrop: Backdrop) -> str:
    """Return the declaration that lets a backdrop's pattern drift, "" where none does."""
    moving = next((p for p in _patterns(backdrop) if p.drift is not None), None)
    if moving is None or moving.drift is None:
        return ""
    return f"animation: {name_of_drift(moving)} {moving.drift.seconds:g}s linear infinite !important"


def rules(selector: str, backdrop: Backdrop, done: WrittenLayers) -> str:
    """Return a backdrop's rules for what a selector finds; phones, print and less movement have their own."""
    parts = [done.moves] if done.moves else []
    parts.append(f"{selector} {{ {'; '.join(done.wide)} }}")
    if done.phone:
        parts.append(f"@media (max-width: {PHONE_PX}px) {{ {selector} {{ {'; '.join(done.phone)} }} }}")
    if done.moves:
        parts.append(f"@media (prefers-reduced-motion: no-preference) {{ {selector} {{ {animation(backdrop)} }} }}")
    if any(one.startswith("background-image") and "none" not in one for one in done.wide):
        parts.append(f"@media print {{ {selector} {{ background-image: none !important }} }}")
    return "\n".join(parts)


def _url(path: str) -> str:
    return f'url("{path}")'


def _at(place: tuple[float, float]) -> str:
    return f"{place[0] * 100:g}% {place[1] * 100:g}%"
