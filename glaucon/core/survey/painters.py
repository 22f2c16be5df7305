"""The elements that paint each background colour, so that the colour can be named after them (“footer”, “card”)."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from glaucon.core.cascade.computed import Cascade, Style
from glaucon.core.cascade.hints import Hints
from glaucon.core.cascade.rules import PageMatcher
from glaucon.core.cascade.selectors.state import State
from glaucon.core.cascade.stylesheet import Block
from glaucon.core.cascade.tree import Element
from glaucon.core.survey.layers import paints_background
from glaucon.core.survey.model import Layer, Painted, Painter, Survey, layer_tokens

_LANDMARKS = {
    "header": "header", "nav": "nav", "footer": "footer", "aside": "aside", "main": "main",
    "banner": "header", "navigation": "nav", "contentinfo": "footer", "complementary": "aside",
}  # fmt: skip
_HEADINGS = frozenset({"h1", "h2", "h3", "h4", "h5", "h6"})
_MOST_PAINTERS = 60
_LONG_HEADING = 40
_REST = State()


def note_painters(survey: Survey, page: str, painted: Iterable[tuple[Element, tuple[Layer, ...]]]) -> None:
    """Note what paints backgrounds on a page, each under the token of its topmost layer that has one."""
    sizes: dict[int, int] = {}
    headings: dict[int, str] = {}
    for element, layers in painted:
        token = next((tokens[0] for layer in reversed(layers) if (tokens := layer_tokens(layer))), None)
        if token is None:
            continue
        if not sizes:
            _measure(element, sizes, headings)
        of_token = survey.painters.setdefault(token, {})
        painter = _painter(element, headings)
        if painter not in of_token and len(of_token) >= _MOST_PAINTERS:
            continue
        known = of_token.setdefault(painter, Painted())
        known.characters += sizes.get(element.order, 0)
        known.elements += 1
        known.pages.add(page)


def painted_by(
    cascade: Cascade, matcher: PageMatcher, inline: Callable[[Element], Block | None], hints: Hints
) -> Callable[[Element], bool]:
    """Return what tells whether an element of a page paints a background colour of its own, at rest."""
    styles: dict[int, Style] = {}

    def style_of(element: Element) -> Style:
        chain = [element]
        while chain[-1].order not in styles and chain[-1].parent is not None:
            chain.append(chain[-1].parent)
        style: Style | None = styles.get(chain[-1].order)
        for one in reversed(chain):
            if one.order not in styles:
                styles[one.order] = cascade.style(
                    matcher, one, _REST, style, inline(one), hints.of(one, _REST, None, None)
                )
            style = styles[one.order]
        assert style is not None
        return style

    def paints(element: Element) -> bool:
        return paints_background(style_of(element))

    return paints


def _measure(some: Element, sizes: dict[int, int], headings: dict[int, str]) -> None:
    """Find, for all elements of a page, how many characters stand in them and their first heading's words."""
    root = some
    while root.parent is not None:
        root = root.parent
    for element in reversed([root, *root.descendants()]):
        sizes[element.order] = len(element.own_text) + sum(sizes[child.order] for child in element.children)
        first = next((headings[child.order] for child in element.children if headings[child.order]), "")
        headings[element.order] = _words(element) if element.tag in _HEADINGS else first


def _words(element: Element) -> str:
    texts = [element.own_text, *(inner.own_text for inner in element.descendants())]
    return " ".join(" ".join(text for text in texts if text).split()).rstrip(":. ")


def _painter(element: Element, headings: dict[int, str]) -> Painter:
    own = landmark_of(element)
    around = own or next((found for a in element.ancestors() if (found := landmark_of(a))), "")
    heading = headings.get(element.order, "")
    return Painter(
        around, bool(own), element.tag, element.ident, tuple(sorted(element.classes)),
        heading if len(heading) <= _LONG_HEADING else "",
    )  # fmt: skip


def landmark_of(element: Element) -> str:
    """Return which landmark an element is (HTML, section 4.3; ARIA 1.2, section 5.3.4), "" where it is none.

    A header or footer within an article, a section or the like belongs to that and is no landmark of the page.
    """
    role = element.attributes.get("role", "").strip().lower()
    if role in _LANDMARKS:
        return _LANDMARKS[role]
    found = _LANDMARKS.get(element.tag, "") if not role else ""
    if found in ("header", "footer") and any(
        a.tag in ("article", "section", "aside", "main", "nav") for a in element.ancestors()
    ):
        return ""
    return found
