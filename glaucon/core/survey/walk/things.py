"""What besides text has to be seen: fields, buttons, the sign of focus, links among words.

Sources: WCAG 2.2, 1.4.11 (what tells a control and its state stands out 3 : 1), 1.4.1 (links told by more than colour),
2.4.7 and 2.4.13 (focus), with their Understanding documents: what the browser draws by itself and the page does not
change is exempt, and a button that is known by its words needs no edge.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

from glaucon.core.cascade.computed import Style
from glaucon.core.cascade.expression import Expression, Unknown
from glaucon.core.cascade.properties.lengths import Extent
from glaucon.core.cascade.properties.lines import SIDES
from glaucon.core.cascade.selectors.controls import input_type, is_disabled
from glaucon.core.cascade.tree import Element
from glaucon.core.survey.boxes import traits_of
from glaucon.core.survey.layers import is_clear
from glaucon.core.survey.model import Stack, ThingKind
from glaucon.core.survey.texts import has_words, own_words

_FIELD_ROLES = frozenset({"textbox", "searchbox", "combobox", "spinbutton", "listbox"})
_BUTTON_TYPES = frozenset({"submit", "reset", "button"})
_DRAWN_BY_BROWSER = frozenset({"checkbox", "radio", "range", "color", "file", "image", "hidden"})
_MARKED_INSIDE = frozenset({"date", "time", "datetime-local", "month", "week"})  # by the browser: the part in hand
_BAND_PX = 1.0  # the least a shadow spreads to be an edge
_BOLDER = 200  # of weight, that tells a link from the words around it
_LARGER = 1.15
_STRONG_PX = 2.0  # WCAG 2.2, 2.4.13: an outline as thick as that all around is large enough
_LETTERS = 3  # of words beside a link, that make it one among words

_IMAGES = ("background-image", "background-size", "background-position-x", "background-position-y")
_MOST_NEAR = 6
_MOVES = ("transform", "translate", "scale", "top", "left", "bottom", "opacity", "width", "display", "font-size")

StyleIn = Callable[[str], Style]
NearIn = Callable[[str], Sequence[Style]]


@dataclass(frozen=True, slots=True)
class Sign:
    """A colour that shows something, and what it has to stand out from: layers, and one more of the element's own."""

    colour: Expression
    below: Stack
    over: Expression | None = None


@dataclass(frozen=True, slots=True)
class SeenThing:
    """Something that has to be seen as a page shows it: the best of its signs counts.

    `given` says what makes judging needless: "browser" (drawn by it), "words" (known by its words), "told" (by more
    than colour); "" elsewhere. `is_strong`: as large as 2.4.13 asks, or with more on hover and focus (1.4.1).
    """

    element: Element
    what: ThingKind
    state: str
    signs: tuple[Sign, ...]
    given: str = ""
    is_strong: bool = False
    against: Sign | None = None  # the words around a link: its colour has to differ from theirs


def may_be_a_thing(element: Element) -> bool:
    """Return whether anything of an element besides its text may have to be seen."""
    return not element.foreign and (_is_focusable(element) or _is_field(element))


def _is_focusable(element: Element) -> bool:
    attributes = element.attributes
    if element.tag in ("input", "select", "textarea", "button"):
        return not is_disabled(element) and input_type(element) != "hidden"
    if element.tag in ("a", "area"):
        return "href" in attributes
    if element.tag == "summary":
        return element.parent is not None and element.parent.tag == "details"
    place = attributes.get("tabindex", "").strip()
    return place.isdecimal() or attributes.get("contenteditable", "false").lower() in ("", "true")


def _is_field(element: Element) -> bool:
    if element.tag == "input":
        return input_type(element) not in _DRAWN_BY_BROWSER | _BUTTON_TYPES and not is_disabled(element)
    if element.tag in ("textarea", "select"):
        return not is_disabled(element)
    return element.attributes.get("role", "").strip().lower() in _FIELD_ROLES


def _is_button(element: Element) -> bool:
    if element.tag == "input":
        return input_type(element) in _BUTTON_TYPES
    return element.tag == "button" or element.attributes.get("role", "").strip().lower() == "button"


def things_of(
    element: Element, parent: Style, outside: Stack, inside: Stack, style_in: StyleIn, near: NearIn = lambda state: ()
) -> Iterator[SeenThing]:
    """Yield what has to be seen of an element, given the layers around it and in it, and its style in each state.

    `near` gives the styles of what is beside and in it: a label that moves, an icon that lights up.
    """
    rest = style_in("rest")
    if traits_of(rest).display == "contents" or not traits_of(rest).is_shown:
        return
    for state in ("rest", "hover", "focus"):
        if _is_field(element) or _is_button(element):
            yield from _edges(element, state, rest, style_in(state), outside, inside)
    if _is_focusable(element):
        seen = _focus(element, rest, style_in("focus"), outside, inside)
        if not seen.given:
            more = _near_signs(near("rest"), near("focus"), inside)
            seen = replace(seen, signs=tuple(dict.fromkeys((*seen.signs, *more))))
        yield seen
    if element.tag == "a" and _is_among_words(element, rest):
        yield _link(element, rest, parent, inside, [style_in("hover"), style_in("focus")])


def _edges(
    element: Element, state: str, rest: Style, style: Style, outside: Stack, inside: Stack
) -> Iterator[SeenThing]:
    """Yield what tells a field or a button from what is around it; in another state only if it is another."""
    if state != "rest" and _drawn(rest) == _drawn(style):
        return
    fill = style.colour("background-color")
    signs = [Sign(colour, outside) for colour in _lines_of(style)]
    if not is_clear(fill):
        signs += [Sign(fill, outside), *(Sign(colour, outside, fill) for colour in _lines_of(style))]
    has_image = any(image is not None for image in style.values.get("background-image", ()))
    is_button = _is_button(element)
    given = "browser" if not is_button and not style.firm and not _says_lines(style) else ""
    if is_button and (has_words(element) or own_words(element) or has_image or element.children):
        given = "words"
    yield SeenThing(element, "border" if is_button else "field", state, tuple(dict.fromkeys(signs)), given)


def _says_lines(style: Style) -> bool:
    """Return whether the page says how a control's edge is drawn, so that the browser no longer draws its own."""
    inset = {style.keyword(f"border-{side}-style") for side in SIDES} & {"inset", "outset"}
    return not inset and any(f"border-{side}-width" in style.values for side in SIDES)


def _drawn(style: Style) -> tuple[object, ...]:
    return (style.colour("background-color"), *_lines_of(style))


def _lines_of(style: Style) -> tuple[Expression, ...]:
    """Return the colours of what is drawn around a box: its border's sides, and shadows like a line."""
    found = [
        style.values.get(f"border-{side}-color", style.colour())
        for side in SIDES
        if _px(style, f"border-{side}-width", 3.0) > 0
        and style.keyword(f"border-{side}-style") not in ("none", "hidden", "")
    ]
    found += [one.colour for one in style.values.get("box-shadow", ()) if one.spread >= _BAND_PX and one.blur <= 2]
    return tuple(dict.fromkeys(colour for colour in found if not is_clear(colour)))


def _px(style: Style, name: str, initial: float) -> float:
    value = style.values.get(name)
    return value.px if isinstance(value, Extent) else initial


def _has_own_ring(style: Style) -> bool:
    """Return whether the browser draws a ring of its own around what has the focus: no rule says otherwise."""
    return "outline-style" not in style.values or style.keyword("outline-style") == "auto"


def _outline(style: Style) -> Expression | None:
    kind = style.keyword("outline-style")
    if kind in ("none", "hidden", "") or _px(style, "outline-width", 3.0) <= 0:
        return None
    colour: Expression = style.values.get("outline-color", style.colour())
    return None if is_clear(colour) else colour


def _focus(element: Element, rest: Style, style: Style, outside: Stack, inside: Stack) -> SeenThing:
    """Return what shows that an element has the focus: what is other than at rest."""
    if _has_own_ring(style) or (element.tag == "input" and input_type(element) in _MARKED_INSIDE):
        return SeenThing(element, "focus", "focus", (), "browser", is_strong=True)
    outline = _outline(style)
    signs: list[Sign] = []
    is_strong = False
    if outline is not None and outline != _outline(rest):
        signs.append(Sign(outline, outside))
        is_strong = _px(style, "outline-width", 3.0) >= _STRONG_PX
        if _px(style, "outline-offset", 0.0) < 0:
            signs = [Sign(outline, inside)]
    for shadow in style.values.get("box-shadow", ()):
        if shadow in rest.values.get("box-shadow", ()) or is_clear(shadow.colour):
            continue
        signs.append(Sign(shadow.colour, inside if shadow.is_inset else outside))
        is_strong = is_strong or shadow.spread >= _STRONG_PX
    before, after = _lines_of(rest), _lines_of(style)
    for place, colour in enumerate(after):
        if colour not in before:
            signs.append(Sign(colour, outside, before[min(place, len(before) - 1)] if before else None))
    for name in ("background-color", "color"):
        old, new = rest.colour(name), style.colour(name)
        if new != old and not (is_clear(new) and is_clear(old)):
            ground = outside if name == "background-color" else inside
            signs.append(Sign(new, ground, old) if not is_clear(new) else Sign(old, outside))
    has_image = any(image is not None for one in (rest, style) for image in one.values.get("background-image", ()))
    if has_image and any(style.values.get(name) != rest.values.get(name) for name in _IMAGES):
        signs.append(Sign(Unknown("a picture behind it changes"), outside))
    if _decorated(style) and not _decorated(rest):
        signs.append(Sign(style.colour(), inside))
    return SeenThing(element, "focus", "focus", tuple(dict.fromkeys(signs)), is_strong=is_strong)


def neighbours_of(element: Element) -> list[Element]:
    """Return what rules of focus may change beside an element and in it, as far as it has no focus of its own."""
    beside = element.parent.standing[element.position :] if element.parent is not None else []
    return [one for one in (*beside, *element.children) if not one.foreign and not _is_focusable(one)][:_MOST_NEAR]


def _near_signs(rest: Sequence[Style], focused: Sequence[Style], inside: Stack) -> Iterator[Sign]:
    """Yield what changes of the things near by: their colour, or where they lie."""
    for before, after in zip(rest, focused, strict=True):
        if after.colour() != before.colour():
            yield Sign(after.colour(), inside, before.colour())
        elif any(before.values.get(name) != after.values.get(name) for name in _MOVES):
            yield Sign(after.colour(), inside)


def _is_among_words(element: Element, style: Style) -> bool:
    """Return whether a link stands in a sentence, not by itself, in a menu or as a button."""
    around = element.parent
    if around is None or traits_of(style).display != "inline" or not has_words(element):
        return False
    if any(one.tag == "nav" or one.attributes.get("role") == "navigation" for one in element.ancestors()):
        return False
    while around.tag in ("em", "strong", "b", "i", "span", "small") and not around.has_text and around.parent:
        around = around.parent
    return sum(character.isalpha() for character in around.own_text) >= _LETTERS


def _link(element: Element, rest: Style, parent: Style, inside: Stack, others: list[Style]) -> SeenThing:
    """Return how a link is told from the words around it."""
    against = Sign(parent.colour(), inside)
    given = "told" if _is_told(element, rest, parent) else ""
    hovered, focused = others
    more = _is_told(element, hovered, parent) and (
        _is_told(element, focused, parent) or _has_own_ring(focused) or _outline(focused) is not None
    )
    return SeenThing(element, "link-in-text", "rest", (Sign(rest.colour(), inside),), given, more, against)


def _is_told(element: Element, style: Style, parent: Style) -> bool:
    """Return whether more than colour tells a link from the words around it."""
    return (
        _decorated(style)
        or bool(_lines_of(style))
        or abs(style.weight - parent.weight) >= _BOLDER
        or style.font_px >= _LARGER * parent.font_px
        or not is_clear(style.colour("background-color"))
        or any(image is not None for image in style.values.get("background-image", ()))
        or any(child.tag in ("u", "img", "svg", "b", "strong") for child in element.descendants())
    )


def _decorated(style: Style) -> bool:
    lines = style.values.get("text-decoration-line")
    shown = isinstance(lines, tuple) and ("underline" in lines or "overline" in lines)
    return shown and not is_clear(style.values.get("text-decoration-color", style.colour()))
