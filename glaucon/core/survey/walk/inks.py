"""What words and drawings are painted with, and what is drawn behind words within their drawing."""

from __future__ import annotations

from glaucon.core.cascade.computed import Style
from glaucon.core.cascade.expression import INHERITED, Current, Expression, Literal, Unknown
from glaucon.core.cascade.properties.values import Keyword
from glaucon.core.cascade.tree import Element
from glaucon.core.colour.value import BLACK
from glaucon.core.survey.layers import inks_of, is_clear
from glaucon.core.survey.marks import Pictured, drawn_inks, fills_drawing, picture_behind
from glaucon.core.survey.model import Fill, Layer, Photo, Shade, Unseen
from glaucon.core.survey.texts import shown_instead
from glaucon.core.survey.walk.frame import Frame
from glaucon.core.survey.walk.styles import PageStyles
from glaucon.core.survey.walk.tags import SVG_SHAPES, in_foreign_object, in_mathml

_FILLED = "the text is filled with a background"


class Inks:
    """Works out the colours of words and of drawn logos and icons."""

    def __init__(self, page: PageStyles) -> None:
        self._page = page

    def _text_colour(self, element: Element, style: Style) -> Expression:
        if element.foreign and not in_mathml(element) and not in_foreign_object(element):
            fill = style.values.get("fill")
            if isinstance(fill, Keyword):
                return Unknown("the text is filled with a pattern")
            return fill if fill is not None else Literal(BLACK)
        fill = style.values.get("-webkit-text-fill-color", Current())
        return style.colour() if isinstance(fill, Current) else fill

    def inks(self, element: Element, style: Style, frame: Frame, suffix: str) -> tuple[Expression, ...]:
        """Return the colours the words show: one, or those of the background that is cut to them; none: hidden."""
        colour = self._text_colour(element, style)
        hidden = isinstance(colour, Literal) and colour.colour.alpha == 0
        alpha = self._page.layers.alpha_of(colour) if frame.filled is not None else 1.0
        if frame.filled is None or alpha == 1:
            return () if hidden else (self._page.placed(colour, INHERITED + frame.colour_at),)
        if alpha is None or alpha > 0:
            return (Unknown(_FILLED),)  # of what is cut to the words some shows through them
        owner, said, area, is_pseudo = frame.filled
        measured = self._page.laid.measured(owner) if self._page.laid is not None and not is_pseudo else None
        if measured is None or self._page.laid is None or not self._page.laid.knows(element, suffix):
            layers = self._page.layers.in_words(said, area)
        else:
            places = self._page.laid.places(element, suffix)
            layers = self._page.layers.in_words(said, area, measured, places, self._page.laid.screen)
        found = tuple(self._page.placed(one, self._page.depth(owner)) for one in inks_of(layers))
        return found or (Unknown(_FILLED),)

    def shapes_behind(self, element: Element, style: Style, frame: Frame) -> tuple[Layer, ...]:
        """Return what is drawn ahead of a text within its drawing."""
        drawing = next((a for a in element.ancestors() if a.tag == "svg"), None)
        if drawing is None:
            return ()
        layers: list[Layer] = []
        colours: list[Expression] = []
        for shape in drawing.descendants():
            if shape.order >= element.order or shape.tag not in SVG_SHAPES:
                continue
            if shape.tag in ("image", "use"):
                return (Unseen("a drawing (SVG) lies behind it"),)
            fill = self._fill_of(shape, drawing, style, frame)
            if isinstance(fill, Keyword):
                return (Unseen("a drawing (SVG) lies behind it"),)
            if fill is None or is_clear(fill):
                continue
            if shape.tag == "rect" and fills_drawing(shape, drawing):
                layers.append(Fill(fill))
            elif fill not in colours:
                colours.append(fill)
        return (*layers, Shade(tuple(colours), partial=True)) if colours else tuple(layers)

    def _fill_of(self, shape: Element, drawing: Element, style: Style, frame: Frame) -> Expression | Keyword | None:
        """Return the fill of a shape, inherited through the groups it stands in; a keyword for what is no colour."""
        chain = [shape]
        for ancestor in shape.ancestors():
            if ancestor is drawing:
                break
            chain.append(ancestor)
        inherited = style
        for one in reversed(chain):
            inherited = self._page.style(one, inherited, frame.containers)
            if self._page.is_gone(inherited):
                return None
        fill: Expression | Keyword | None = inherited.values.get("fill", Literal(BLACK))
        return fill

    def marks(self, element: Element, style: Style, frame: Frame) -> list[Pictured]:
        """Return the logo or icon that an element shows: a picture, one behind it alone, or a drawing."""
        if element.tag == "img":
            shown = shown_instead(style.values.get("content")) or element.attributes.get("src", "")
            return [Pictured(element, "picture", frame.stack, shown)]
        if element.tag == "svg" and (
            inks := drawn_inks(element, style, lambda one, parent: self._page.style(one, parent, frame.containers))
        ):
            # what takes the colour of the text around it takes that which a study gives the text
            own, around = self._page.depth(element), INHERITED + frame.colour_at
            placed_inks = tuple(self._page.placed(ink, around if ink == style.colour() else own) for ink in inks)
            return [Pictured(element, "drawing", frame.stack, inks=placed_inks)]
        if "background-image" in style.values and (address := picture_behind(element, style)):
            below = tuple(layer for layer in frame.stack if not isinstance(layer, Photo) or layer in frame.beside)
            return [Pictured(element, "background", below, address)]
        return []
