"""The layers a box paints behind its words: its background colour and images, its inset shadows."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from math import ceil, floor
from typing import Any

from glaucon.core.cascade.computed import Style
from glaucon.core.cascade.expression import Expression, Faded, Literal, evaluate, placed
from glaucon.core.cascade.properties.effects import BoxShadow
from glaucon.core.cascade.properties.images import CssGradient, CssPicture
from glaucon.core.cascade.properties.lengths import Extent, LengthContext
from glaucon.core.cascade.properties.values import Keyword
from glaucon.core.cascade.tokens import ColourToken
from glaucon.core.cascade.tree import Element
from glaucon.core.colour.value import TRANSPARENT
from glaucon.core.layout.document import Box, Measured, Screen
from glaucon.core.layout.gradients import colours_at
from glaucon.core.layout.tiling import fitted, tiling_of
from glaucon.core.survey.boxes import Area, has_no_height
from glaucon.core.survey.model import Fill, Ground, Layer, Photo, Shade, Unseen, is_opaque_photo
from glaucon.core.survey.pictures import NONE, PART, PictureShelf, reach_of_image

_FAR_PX = 1e7
_HARDLY_PX = 0.01
# An inset shadow that comes in this far from each edge fills what the words stand on.
_FILLING_SHADOW_PX = 24.0


class LayerMaker:
    """Turns computed styles into layers, bottom first; remembers them by style and width."""

    def __init__(self, shelf: PictureShelf, tokens: Sequence[ColourToken]) -> None:
        self._shelf = shelf
        self._tokens = tokens

    def background(self, style: Style, box: Area) -> tuple[Layer, ...]:
        """Return what a box paints behind its content."""
        if not paints_background(style) or has_no_height(style):
            return ()
        return self._in_order(style, lambda index, image, blend: self._image(style, index, image, box, blend))

    def _in_order(
        self, style: Style, image_layers: Callable[[int, Any, str], tuple[Layer, ...]], in_words: bool = False
    ) -> tuple[Layer, ...]:
        """Return a box's colour, its images from the lowest up, as they are given, and its filling shadows.

        Or, `in_words`, those of them that are cut to the words.
        """
        clips = style.values.get("background-clip", (Keyword("border-box"),))
        images = style.values.get("background-image", (None,))
        layers: list[Layer] = []
        colour = style.colour("background-color")
        if (clips[(len(images) - 1) % len(clips)].name == "text") == in_words and not is_clear(colour):
            layers.append(Fill(colour))
        blends = style.values.get("background-blend-mode", (Keyword("normal"),))
        for index in range(len(images) - 1, -1, -1):
            if images[index] is not None and (clips[index % len(clips)].name == "text") == in_words:
                layers.extend(image_layers(index, images[index], blends[index % len(blends)].name))
        if not in_words:
            layers.extend(Fill(s.colour) for s in reversed(style.values.get("box-shadow", ())) if _fills(s, style))
        return tuple(layers)

    def in_words(
        self, style: Style, box: Area, measured: Measured | None = None, places: Sequence[Box] = (),
        screen: Screen | None = None,
    ) -> tuple[Layer, ...]:  # fmt: skip
        """Return what of a box's background is cut to its words; where the box was measured, at some places of it."""

        def image_layers(index: int, image: Any, blend: str) -> tuple[Layer, ...]:
            if measured is None or screen is None:
                return self._image(style, index, image, box, blend)
            return self._image_at(style, index, image, measured, list(places), screen, blend, is_canvas=False)

        return self._in_order(style, image_layers, in_words=True)

    def _image(self, style: Style, index: int, image: Any, box: Area, blend: str) -> tuple[Layer, ...]:
        if isinstance(image, CssGradient):
            where = reach_of_image(style, index, None, box)
            if where == NONE:
                return ()
            if len(image.samples) == 1 and where != PART:
                return (Fill(image.samples[0], blend),)
            return (Shade(image.samples, where == PART, blend),)
        if not isinstance(image, CssPicture):
            return (Unseen("an image behind it cannot be read"),)
        look = self._shelf.look(image)
        where = reach_of_image(style, index, look.size, box)
        if where == NONE:
            return ()
        if look.why_unknown:
            return (Unseen(look.why_unknown),)
        return (Photo(look.colours, where == PART, blend),) if look.colours else ()

    def background_at(
        self, style: Style, measured: Measured, places: list[Box], screen: Screen, is_canvas: bool = False
    ) -> tuple[Layer, ...]:
        """Return what a box paints behind its content at some places, given where it lies itself.

        The canvas takes its background from a box and is painted everywhere.
        """
        if not paints_background(style):
            return ()
        # places are as fine as the points that were tried: that the box lies there is known
        shown = [part for place in places if (part := place if is_canvas else place.shared(measured.box)) is not None]
        if not shown:
            return ()

        def at_places(index: int, image: Any, blend: str) -> tuple[Layer, ...]:
            return self._image_at(style, index, image, measured, shown, screen, blend, is_canvas)

        return self._in_order(style, at_places)

    def _image_at(
        self, style: Style, index: int, image: Any, measured: Measured, places: list[Box], screen: Screen, blend: str,
        is_canvas: bool,
    ) -> tuple[Layer, ...]:  # fmt: skip
        if not isinstance(image, CssGradient | CssPicture):
            return (Unseen("an image behind it cannot be read"),)
        own = ratio = None
        if isinstance(image, CssPicture):
            look = self._shelf.look(image)
            if look.why_unknown:
                return (Unseen(look.why_unknown),)
            if not look.colours:
                return ()
            own, ratio = look.size, look.ratio
        tiling = tiling_of(style, index, own, measured, screen.box, ratio)
        if tiling is None:
            return self._image(style, index, image, Area(measured.box.left, measured.box.width), blend)
        if (is_fixed := _is_fixed(style, index)) or is_canvas:
            tiling = replace(tiling, clip=Box(-_FAR_PX, -_FAR_PX, 2 * _FAR_PX, 2 * _FAR_PX))
        if is_fixed:
            # whatever of it the page has scrolled to
            places = _swept(places, screen)
        found = [tiling.pieces(place) for place in places]
        pieces = [piece for some, _ in found for piece in some]
        if isinstance(image, CssPicture):
            pieces = [piece for place in _on_pixels(places) for piece in tiling.pieces(place)[0]]
        if not pieces:
            return ()
        partial = not all(fills for _, fills in found)
        size = (tiling.first.width, tiling.first.height)
        if isinstance(image, CssPicture):
            colours = self._shelf.part(image, pieces, size)
            return (Photo(colours, partial, blend),) if colours else ()
        samples = None
        if image.written is not None:
            context = LengthContext(style.font_px, 16.0, int(screen.box.width), int(screen.box.height))
            samples = colours_at(image.written, size, pieces, context)
        return (_shade(image.samples if samples is None else samples, partial, blend),)

    def of_picture_at(
        self, element: Element, style: Style, page: str, measured: Measured, places: list[Box]
    ) -> tuple[Layer, ...]:
        """Return what an `<img>`, or a video's poster, paints at some places."""
        url = element.attributes.get("src" if element.tag == "img" else "poster", "")
        if element.tag not in ("img", "video") or not url:
            return (Unseen(f"a moving or embedded picture lies behind it (<{element.tag}>)"),)
        picture = CssPicture(url, page)
        look = self._shelf.look(picture)
        if look.why_unknown:
            return (Unseen(look.why_unknown),)
        if not look.colours:
            return ()
        fit = style.keyword("object-fit") or ("contain" if element.tag == "video" else "fill")
        at = style.values.get("object-position")
        half = Extent(0.0, 0.5)
        tiling = fitted(measured, look.size or look.ratio, fit, at if at else (half, half))
        pieces = [piece for place in _on_pixels(places) for piece in tiling.pieces(place)[0]]
        if not pieces:
            return ()
        colours = self._shelf.part(picture, pieces, (tiling.first.width, tiling.first.height))
        return (Photo(colours, not all(tiling.pieces(place)[1] for place in places)),) if colours else ()

    def of_picture(self, element: Element, page: str) -> tuple[Layer, ...]:
        """Return what an `<img>` or its like paints."""
        image = element if element.tag == "img" else next((c for c in element.children if c.tag == "img"), None)
        if image is None:
            return (Unseen(f"a moving or embedded picture lies behind it (<{element.tag}>)"),)
        look = self._shelf.look(CssPicture(image.attributes.get("src", ""), page))
        if look.why_unknown:
            return (Unseen(look.why_unknown),)
        return (Photo(look.colours),) if look.colours else ()

    def alpha_of(self, expression: Expression) -> float | None:
        """Return how much a colour covers as the site came, None where it is not known."""
        colour = evaluate(expression, lambda found: self._tokens[found.token].colour)
        return None if colour is None else colour.alpha

    def is_opaque(self, style: Style) -> bool:
        """Return whether a box has a background colour that lets nothing through, as the site came."""
        return self.alpha_of(style.colour("background-color")) == 1 and style.values.get("opacity", 1.0) == 1

    def hides(self, layer: Layer) -> bool:
        """Return whether a layer above words would hide them wholly, as a page's curtain does until it is drawn."""
        if isinstance(layer, Fill):
            colour = evaluate(layer.colour, lambda found: self._tokens[found.token].colour)
            return colour is not None and colour.alpha == 1
        return isinstance(layer, Unseen) or (isinstance(layer, Photo) and is_opaque_photo(layer))


def _on_pixels(places: list[Box]) -> list[Box]:
    """Return places as the whole pixels of the screen that they meet: that is how a picture is painted."""
    found = []
    for place in places:
        x, y = floor(place.left + _HARDLY_PX), floor(place.top + _HARDLY_PX)
        right, bottom = ceil(place.left + place.width - _HARDLY_PX), ceil(place.top + place.height - _HARDLY_PX)
        found.append(Box(x, y, max(1, right - x), max(1, bottom - y)))
    return found


def _swept(places: list[Box], screen: Screen) -> list[Box]:
    """Return what some places meet of a picture that stays while the page is scrolled: strips of the screen.

    What stands at the page's top leaves the screen there: it never meets the picture's foot.
    """
    strips: list[Box] = []
    for place in sorted(places, key=lambda place: place.left):
        top = max(0.0, min(place.top - screen.scrolls, screen.box.height))
        foot = min(max(0.0, place.top + place.height), screen.box.height)
        last = strips[-1] if strips else None
        if last is not None and place.left <= last.left + last.width:
            width = max(last.left + last.width, place.left + place.width) - last.left
            top, foot = min(last.top, top), max(last.top + last.height, foot)
            strips[-1] = Box(last.left, top, width, foot - top)
        else:
            strips.append(Box(place.left, top, place.width, foot - top))
    return strips


def placed_layer(layer: Layer, at: int) -> Layer:
    """Return a layer with its colours said at a depth in the regions around it."""
    if isinstance(layer, Ground):
        return Ground(at, None if layer.own is None else placed(layer.own, at))
    if isinstance(layer, Fill):
        return Fill(placed(layer.colour, at), layer.blend)
    if isinstance(layer, Shade):
        return Shade(tuple(placed(sample, at) for sample in layer.samples), layer.partial, layer.blend)
    return layer


def paints_background(style: Style) -> bool:
    """Return whether a style paints anything behind its content."""
    images = style.values.get("background-image", (None,))
    return (
        not is_clear(style.colour("background-color"))
        or any(image is not None for image in images)
        or any(shadow.is_inset for shadow in style.values.get("box-shadow", ()))
    )


def fills_words(style: Style) -> bool:
    """Return whether a background is cut to the words (CSS Backgrounds 4, `background-clip: text`)."""
    clips = style.values.get("background-clip", ())
    return any(clip.name == "text" for clip in clips) and paints_background(style)


def inks_of(layers: tuple[Layer, ...]) -> tuple[Expression, ...]:
    """Return the colours that words cut out of layers show; nothing where more than one layer tells them."""
    if len(layers) != 1:
        return ()
    (layer,) = layers
    if isinstance(layer, Fill):
        return (layer.colour,)
    if isinstance(layer, Shade) and not layer.partial:
        return layer.samples
    if isinstance(layer, Photo) and is_opaque_photo(layer):
        return tuple(Literal(colour) for colour in layer.colours)
    return ()


def is_clear(colour: Expression) -> bool:
    """Return whether a colour paints nothing under every palette."""
    return isinstance(colour, Literal) and colour.colour.alpha == 0


def _fills(shadow: BoxShadow, style: Style) -> bool:
    reach = max(shadow.spread, abs(shadow.y) + shadow.spread, abs(shadow.x) / 4 + shadow.spread)
    return shadow.is_inset and shadow.blur <= 2 and reach >= max(_FILLING_SHADOW_PX, 1.2 * style.font_px)


def faded(layers: tuple[Layer, ...], opacity: float) -> tuple[Layer, ...]:
    """Return a cover's layers at its opacity; exact for one layer, which covers are made of."""
    if opacity >= 1:
        return layers
    return tuple(_faded(layer, opacity) for layer in layers)


def _faded(layer: Layer, opacity: float) -> Layer:
    if isinstance(layer, Fill):
        return Fill(Faded(layer.colour, opacity, scale=True), layer.blend)
    if isinstance(layer, Shade):
        samples = tuple(Faded(sample, opacity, scale=True) for sample in layer.samples)
        return Shade(samples, layer.partial, layer.blend)
    if isinstance(layer, Photo):
        return Photo(tuple(c.with_alpha(c.alpha * opacity) for c in layer.colours), layer.partial, layer.blend)
    return layer


def partly(layers: tuple[Layer, ...]) -> tuple[Layer, ...]:
    """Return layers that may or may not reach behind a text."""
    found: list[Layer] = []
    for layer in layers:
        if isinstance(layer, Fill):
            found.append(Shade((layer.colour,), True, layer.blend))
        elif isinstance(layer, Shade):
            found.append(Shade(layer.samples, True, layer.blend))
        elif isinstance(layer, Photo):
            found.append(Photo((*layer.colours, TRANSPARENT), True, layer.blend))
        else:
            found.append(layer)
    return tuple(found)


def _is_fixed(style: Style, index: int) -> bool:
    """Return whether a background image stays where the screen is."""
    attachment = style.values.get("background-attachment", (Keyword("scroll"),))
    return bool(attachment[index % len(attachment)].name == "fixed")


def _shade(samples: Any, partial: bool, blend: str) -> Layer:
    return Fill(samples[0], blend) if len(samples) == 1 and not partial else Shade(samples, partial, blend)
