"""Where an element's colours come from: for each, the winning declaration and the declarations that lose to it.

One page is read at a time, and of it one element and what it lies in: the cascade is asked again (CSS Cascading 5,
section 6), this time for who says a value and not only for the value.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from typing import Any

import tinycss2

from glaucon.core.cascade.computed import Cascade, Style
from glaucon.core.cascade.expression import Current, Expression, evaluate, tokens_in
from glaucon.core.cascade.hints import Hints
from glaucon.core.cascade.media import Viewport
from glaucon.core.cascade.opened import openings_of, with_opened
from glaucon.core.cascade.properties.values import Keyword
from glaucon.core.cascade.rules import HINT, INLINE, INLINE_IMPORTANT, PageMatcher, RuleIndex, SortKey
from glaucon.core.cascade.selectors.selectors import compile_selectors
from glaucon.core.cascade.selectors.state import State
from glaucon.core.cascade.stylesheet import Block
from glaucon.core.cascade.tokens import ColourToken, TokenTable
from glaucon.core.cascade.tree import Document, Element, parse_document
from glaucon.core.survey.layers import paints_background
from glaucon.core.survey.model import ContextKey, Region
from glaucon.core.survey.sheets import SheetLibrary, index_of
from glaucon.core.survey.site import SiteFiles

_MOST_PAGES = 6  # kept parsed: someone looks at one page, then at the next
_MOST_BEHIND = 6
_MOST_LOSERS = 4
_NO_TEXT = frozenset({"script", "style", "title", "template", "noscript", "option", "textarea"})


@dataclass(frozen=True, slots=True)
class Said:
    """A declaration of a colour: what says it, and where. `text` is its value as written, `variables` those it reads.

    `kind` is "rule", "inline" (a style attribute), "attribute" or "browser"; a browser's has no file, and line 0.
    `tokens` are the colours that it writes itself.
    """

    kind: str
    selector: str = ""
    file: str = ""
    line: int = 0
    text: str = ""
    variables: tuple[str, ...] = ()
    tokens: tuple[ColourToken, ...] = ()
    is_important: bool = False


@dataclass(frozen=True, slots=True)
class Origin:
    """The origin of a colour: the winning declaration and its element, the losing declarations, the tokens in it."""

    said: Said
    element: Element
    loses: tuple[Said, ...]
    tokens: tuple[ColourToken, ...]


@dataclass(frozen=True, slots=True)
class Behind:
    """A box that paints behind an element; with `is_picture` a picture or gradient lies on its colour."""

    origin: Origin
    is_picture: bool
    is_opaque: bool


@dataclass(slots=True)
class Trace:
    """An element's colours: its text's, what it would inherit, and the boxes that paint behind it, innermost first.

    `behind` ends with the first opaque box; `covered` are those further out, which do not show.
    """

    element: Element
    text: Origin
    inherited: Origin | None
    behind: list[Behind] = field(default_factory=list)
    covered: list[Behind] = field(default_factory=list)


@dataclass(slots=True)
class _Page:
    name: str
    document: Document
    index: RuleIndex
    matcher: PageMatcher
    inline: Callable[[Element], Block | None]
    hints: Hints
    body: Element | None
    by_path: dict[str, Element]
    cascades: dict[Viewport, Cascade] = field(default_factory=dict)


class Tracer:
    """Traces the colours of a site's elements; stylesheets are parsed once, pages as they are asked for."""

    def __init__(self, site: SiteFiles, more_css: str = "", more_file: str = "", palette_css: str = "") -> None:
        """`more_css` stands after all that each page has; see `SheetLibrary`."""
        self._site, self._table = site, TokenTable()
        self._library = SheetLibrary(site, self._table, more_css=more_css, more_file=more_file, palette_css=palette_css)
        self._pages: dict[tuple[str, str], _Page] = {}
        self._selectors: dict[str, Any] = {}

    def element(self, page: str, path: str, opened: str = "") -> Element | None:
        """Return the element at a path of a page, with something opened on it; None where there is none."""
        return self._page(page, opened).by_path.get(path)

    def texts(self, page: str) -> list[str]:
        """Return the paths of the elements of a page that have text of their own."""
        return [path for path, one in self._page(page).by_path.items() if one.has_text and one.tag not in _NO_TEXT]

    def lineage(self, page: str, element: Element, regions: Iterable[Region]) -> list[tuple[Region, Element]]:
        """Return the regions that an element lies in, each with the element it is there, outermost first."""
        up = [element, *element.ancestors()]
        found: list[tuple[int, Region, Element]] = []
        for region in regions:
            if page not in region.pages:
                continue
            matches = self._matcher_of(region.selector)
            own = next((one for one in up if matches(one)), None)
            if own is not None:
                found.append((own.order, region, own))
        # of two that are the same element the section is the outer one
        return [(r, e) for _, r, e in sorted(found, key=lambda one: (one[0], not one[1].is_section))]

    def _matcher_of(self, selector: str) -> Callable[[Element], bool]:
        if selector not in self._selectors:
            nodes = tinycss2.parse_component_value_list(selector, skip_comments=True)
            self._selectors[selector] = compile_selectors(nodes)
        compiled, rest = self._selectors[selector], State()
        return lambda element: any(one.matches(element, rest) for one in compiled)

    def trace(self, page: str, element: Element, context: ContextKey, opened: str = "") -> Trace:
        """Return where the colours of an element come from in a state, at a width, with something opened."""
        here = self._page(page, opened)
        chain = [element, *element.ancestors()]
        styles = self._styles(here, chain, context)
        asked = _Question(here, self._table, context, styles)
        text = self._text(asked, chain)
        place = chain.index(text.element)
        inherited = (
            self._text(asked, chain[place + 1 :]) if text.element is element and len(chain) > place + 1 else None
        )
        trace = Trace(element, text, inherited)
        is_covered = False
        for one in chain:
            style = styles[one.order]
            if not paints_background(style):
                continue
            behind = asked.behind(one, style)
            (trace.covered if is_covered else trace.behind).append(behind)
            is_covered = is_covered or behind.is_opaque
            if len(trace.behind) + len(trace.covered) >= _MOST_BEHIND:
                break
        return trace

    def _text(self, asked: _Question, chain: list[Element]) -> Origin:
        for element in chain:
            if (found := asked.text(element)) is not None:
                return found
        return Origin(Said("browser"), chain[-1], (), (self._table.tokens[1],))

    def _styles(self, page: _Page, chain: list[Element], context: ContextKey) -> dict[int, Style]:
        viewport, state = Viewport(context.width, context.scheme), State.named(context.state)
        cascade = page.cascades.setdefault(viewport, Cascade(page.index, self._table, viewport))
        styles: dict[int, Style] = {}
        parent: Style | None = None
        body_colour: Expression | None = None
        for element in reversed(chain):
            hints = page.hints.of(element, state, page.body, body_colour)
            parent = cascade.style(page.matcher, element, state, parent, page.inline(element), hints)
            if element is page.body:
                body_colour = parent.colour()
            styles[element.order] = parent
        return styles

    def _page(self, name: str, opened: str = "") -> _Page:
        key = name, opened
        if key not in self._pages:
            while len(self._pages) >= _MOST_PAGES:
                del self._pages[next(iter(self._pages))]
            self._pages[key] = self._parsed(name, opened)
        return self._pages[key]

    def _parsed(self, name: str, opened: str) -> _Page:
        document = parse_document(self._site.page_text(name))
        own = next((one for one in openings_of(document) if one.label == opened), None)
        if own is not None:
            document = with_opened(document, own).document
        linked = self._library.of_page(name, document)
        index = index_of(linked, document.quirks)
        blocks: dict[int, Block | None] = {}

        def inline(element: Element) -> Block | None:
            if element.attributes and element.order not in blocks:
                blocks[element.order] = self._library.of_attribute(name, document, element)
            return blocks.get(element.order)

        return _Page(
            name, document, index, PageMatcher(index), inline, Hints(name, document.markup.source, self._table),
            next((one for one in document.elements if one.tag == "body"), None),
            {one.path(): one for one in document.elements},
        )  # fmt: skip


class _Question:
    """One question to the cascade of a page: who says the colours of these elements."""

    def __init__(self, page: _Page, table: TokenTable, context: ContextKey, styles: dict[int, Style]) -> None:
        self._page, self._table, self._styles = page, table, styles
        self._state = State.named(context.state)
        self._active = page.index.active(Viewport(context.width, context.scheme))

    def text(self, element: Element) -> Origin | None:
        """Return where an element's own colour of text comes from, None where it takes that of what it lies in."""
        names = ("fill",) if element.foreign else ("-webkit-text-fill-color", "color")
        for name in names:
            said = self._said(element, name)
            if said and not _is_handed_down(said[-1][1]):
                return self._origin(element, name, [one for _, _, one in said])
        return None

    def behind(self, element: Element, style: Style) -> Behind:
        """Return a box that paints a background: where its colour comes from, else its image."""
        images = style.values.get("background-image", (None,))
        is_picture = any(image is not None for image in images)
        for name in ("background-color", "background-image", "box-shadow"):
            said = [one for _, _, one in self._said(element, name)]
            if said and (name != "background-color" or not is_picture or tokens_of_style(style, name)):
                break
        origin = self._origin(element, name, said or [Said("browser")])
        colour = evaluate(style.colour("background-color"), lambda found: self._table.tokens[found.token].colour)
        opaque = colour is not None and colour.alpha == 1 and style.values.get("opacity", 1.0) == 1
        return Behind(origin, is_picture, opaque)

    def _origin(self, element: Element, name: str, said: list[Said]) -> Origin:
        style = self._styles[element.order]
        tokens = tuple(self._table.tokens[number] for number in dict.fromkeys(tokens_of_style(style, name)))
        losers = [one for one in reversed(said[:-1]) if one.kind != "browser"]
        return Origin(said[-1], element, tuple(losers[:_MOST_LOSERS]), tokens)

    def _said(self, element: Element, name: str) -> list[tuple[SortKey, Any, Said]]:
        """Return who speaks of a property at an element, the weakest first, with the value each says."""
        found: list[tuple[SortKey, Any, Said]] = []
        for number in self._page.matcher.matching(element, self._state):
            if not self._active[number]:
                continue
            one = self._page.index.rules[number]
            found += self._of_block(one.rule.block, name, one.normal_key, one.important_key, one.rule.selector.text)
        hints = self._page.hints.of(element, self._state, self._page.body)
        if name in hints:
            tokens = [self._table.tokens[n] for n in _numbers(hints[name])]
            first = tokens[0] if tokens else None
            attribute = Said(
                "attribute", f"<{element.tag} {first.property if first else ''}>", self._page.name,
                first.line if first else 0, first.text if first else "", (), tuple(tokens),
            )  # fmt: skip
            found.append(((HINT, (), (0, 0, 0), 0), hints[name], attribute))
        inline = self._page.inline(element)
        if inline is not None:
            found += self._of_block(inline, name, (INLINE, (), (0, 0, 0), 0), (INLINE_IMPORTANT, (), (0, 0, 0), 0), "")
        return sorted(found, key=lambda one: one[0])

    def _of_block(
        self, block: Block, name: str, normal: SortKey, important: SortKey, selector: str
    ) -> list[tuple[SortKey, Any, Said]]:
        if name in block.important:
            return [(important, block.important[name], self._declared(block, name, selector, True))]
        if name in block.normal:
            return [(normal, block.normal[name], self._declared(block, name, selector, False))]
        return []

    def _declared(self, block: Block, name: str, selector: str, is_important: bool) -> Said:
        written = block.written
        if written is None or not written.source.file:
            return Said("browser")
        own = [
            d for d in written.declarations
            if d.important == is_important and (d.lower_name == name or name.startswith(f"{d.lower_name}-"))
        ]  # fmt: skip
        kind = "rule" if selector else "inline"
        if not own:
            return Said(kind, selector, written.source.file, is_important=is_important)
        last = own[-1]
        uses = [use for use in block.colours if use.property == last.lower_name]
        return Said(
            kind, selector, written.source.file, written.source.first_line + last.source_line - 1,
            tinycss2.serialize(last.value).strip()[:120], uses[-1].variables if uses else (),
            tuple(self._table.tokens[n] for n in uses[-1].tokens) if uses else (), is_important,
        )  # fmt: skip


def tokens_of_style(style: Style, name: str) -> list[int]:
    """Return the found colours that a property's computed value is made of."""
    return _numbers(style.values.get(name))


def _numbers(value: Any) -> list[int]:
    if isinstance(value, tuple):
        return [number for one in value for number in _numbers(one)]
    if value is None or isinstance(value, Keyword | int | float | str) or callable(value):
        return []
    samples = getattr(value, "samples", None)
    if samples is not None:
        return [number for sample in samples for number in tokens_in(sample)]
    return list(tokens_in(getattr(value, "colour", value)))


def _is_handed_down(value: Any) -> bool:
    """Return whether a declared colour is that of what the element lies in."""
    return isinstance(value, Current) or (isinstance(value, Keyword) and value.name in ("inherit", "unset"))
