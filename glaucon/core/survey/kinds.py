"""What an element is: which kind of section or part, by its tag, its role, and the words in its id and classes."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator

from glaucon.core.cascade.tree import Element

KIND_LABELS = {
    "header": "Header", "navigation": "Navigation", "footer": "Footer", "sidebar": "Sidebar", "content": "Content",
    "welcome": "Welcome area", "search": "Search", "region": "Section", "article": "Article", "band": "Band",
    "card": "Card", "table": "Table", "list": "List", "form": "Form", "field": "Form field", "button": "Button",
    "quote": "Quotation", "notice": "Notice", "breadcrumb": "Breadcrumb", "pagination": "Pagination", "tag": "Tag",
    "dialog": "Dialog", "menu": "Menu", "submenu": "Submenu", "current": "Current menu item", "details": "Fold-out",
    "figure": "Figure",
}  # fmt: skip
_BY_TAG = {
    "header": "header", "nav": "navigation", "main": "content", "aside": "sidebar", "footer": "footer",
    "section": "region", "article": "article", "form": "form", "search": "search",
}  # fmt: skip
_BY_ROLE = {
    "banner": "header", "navigation": "navigation", "main": "content", "complementary": "sidebar",
    "contentinfo": "footer", "region": "region", "form": "form", "search": "search",
}  # fmt: skip
# pages without landmarks say in ids and classes what their boxes are
_BY_WORD = (
    ("header", frozenset("header masthead topbar banner sitehead pagehead".split())),
    ("navigation", frozenset("nav navbar navigation menubar menu mainnav topnav".split())),
    ("footer", frozenset("footer foot sitefoot colophon bottombar pagefoot".split())),
    ("sidebar", frozenset("sidebar aside sidenav rail leftcol rightcol sphinxsidebar".split())),
    ("welcome", frozenset("hero welcome jumbotron intro masthead splash cover".split())),
    ("content", frozenset("main content maincontent documentwrapper".split())),
)
_WELCOME = _BY_WORD[4][1]
_SIDEBAR = _BY_WORD[3][1]
_QUOTE = frozenset("quote quotation testimonial testimonials".split())
_CODE = frozenset("highlight code codehilite sourcecode literal admonition note tip warning console".split())
_BOXES = frozenset({"div", "td", "table", "ul", "center"})
_SECTIONING = frozenset("article section aside main nav blockquote figure fieldset details".split())


def words_of(*names: str) -> set[str]:
    """Return the words in ids and classes, lower case: "site-Header_2" gives site and header."""
    spaced = (re.sub(r"(?<=[a-z0-9])(?=[A-Z])", " ", name) for name in names)
    return {word.rstrip("0123456789").lower() for name in spaced for word in re.split(r"[^A-Za-z0-9]+", name) if word}


class Siblings:
    """How many of an element's siblings have its tag and classes, counted once for each parent."""

    def __init__(self) -> None:
        self._known: dict[int, Counter[tuple[str, frozenset[str]]]] = {}

    def count(self, element: Element) -> int:
        """Return how many are alike, the element itself counted; 0 where it has no class to tell by."""
        parent = element.parent
        if parent is None or not element.classes:
            return 0
        if parent.order not in self._known:
            self._known[parent.order] = Counter((one.tag, one.classes) for one in parent.children)
        return self._known[parent.order][element.tag, element.classes]


def is_set_apart(element: Element) -> bool:
    """Return whether a box is a piece of code or a note: something in a section, not one itself."""
    return bool(words_of(element.ident, *element.classes) & _CODE)


def is_sectioning(element: Element) -> bool:
    """Return whether a header or footer within an element belongs to that and not to the page."""
    return element.tag in _SECTIONING


def section_kind(element: Element, is_inside: bool) -> str:
    """Return which kind of section an element is, "" where it is none by itself.

    `is_inside` tells whether it stands in an article, a section or the like.
    """
    role = element.attributes.get("role", "").strip().lower()
    words = words_of(element.ident, *element.classes)
    if role in _BY_ROLE:
        return _beside(_BY_ROLE[role], words)
    kind = _beside(_BY_TAG.get(element.tag, ""), words) if not role else ""
    if kind == "sidebar" and element.tag == "aside" and _is_band_of_its_own(element, words):
        return "quote" if words & _QUOTE or any(one.tag == "blockquote" for one in element.descendants()) else "region"
    if kind in ("header", "footer") and is_inside:
        return ""  # it belongs to the article or section that it stands in
    if kind in ("region", "header", "article") and words & _WELCOME - {"masthead"}:
        return "welcome"
    if kind or element.tag not in _BOXES:
        return kind
    for kind, known in _BY_WORD:
        # the one word that a box has, or its last: "page-header", not "header-image"
        if any(_says(name, known) for name in (element.ident, *element.classes)):
            return kind
    return ""


def _is_band_of_its_own(element: Element, words: set[str]) -> bool:
    """Return whether an aside is a band across the page: a sidebar stands beside something, or says that it is one."""
    parent = element.parent
    return not words & _SIDEBAR and parent is not None and parent.tag in ("body", "main")


def _beside(kind: str, words: set[str]) -> str:
    """Return a section's kind: a sidebar that holds the menu is a sidebar to whoever looks at it."""
    return "sidebar" if kind == "navigation" and words & _SIDEBAR else kind


def _says(name: str, known: frozenset[str]) -> bool:
    """Return whether a class name consists of one of the words and fillers only: "site-header", "left_col"."""
    words = words_of(name)
    if words & known and words <= known | {"site", "page", "top", "main", "the"}:
        return True
    return "".join(re.split(r"[^A-Za-z0-9]+", name)).lower() in known


_PART_WORDS = (
    ("breadcrumb", frozenset("breadcrumb breadcrumbs crumbs".split())),
    ("pagination", frozenset("pagination pager paginate".split())),
    ("notice", frozenset("alert notice callout message admonition warning note flash".split())),
    ("tag", frozenset("badge tag chip pill label category".split())),
    ("dialog", frozenset("modal dialog popup lightbox offcanvas".split())),
    ("card", frozenset("card tile teaser".split())),
    ("button", frozenset("btn button".split())),
    ("submenu", frozenset("submenu dropdown".split())),
    ("menu", frozenset("menu nav".split())),
)
_PART_TAGS = {
    "table": "table", "form": "form", "blockquote": "quote", "button": "button", "select": "field",
    "textarea": "field", "details": "details", "figure": "figure", "nav": "menu",
}  # fmt: skip
_WORDED = {
    "button": frozenset({"a", "button", "input", "span", "label"}),
    "tag": frozenset({"span", "a", "em", "small", "b", "strong"}),
    "card": frozenset({"div", "article", "li", "section", "a"}), "notice": frozenset({"div", "p", "aside", "section"}),
    "menu": frozenset({"ul", "ol", "nav", "div"}), "submenu": frozenset({"ul", "ol", "div"}),
}  # fmt: skip
_BUTTONS = frozenset({"submit", "button", "reset"})
_NO_FIELDS = frozenset({"hidden", "checkbox", "radio", "range", "color", "file", "image", *_BUTTONS})
_CURRENT = frozenset("active current selected".split())


def attribute_names(element: Element) -> Iterator[str]:
    """Yield the [attributes] that `part_kind` may tell an element by."""
    if "aria-current" in element.attributes:
        yield "[aria-current]"
    if element.tag == "input" and (type_ := element.attributes.get("type", "").lower()) in _BUTTONS:
        yield f"[type={type_}]"


def part_kind(element: Element, alike: Siblings) -> tuple[str, str]:
    """Return which kind of part an element is and the class, or [attribute], that tells it; "" and "" if it is none."""
    role = element.attributes.get("role", "").strip().lower()
    if role in ("alert", "note", "status"):
        return "notice", _any_class(element)
    if element.tag == "input":
        type_ = element.attributes.get("type", "text").lower()
        if type_ in _BUTTONS:
            return "button", _any_class(element) or f"[type={type_}]"
        return ("", "") if type_ in _NO_FIELDS else ("field", _any_class(element))
    for name in sorted(element.classes):
        words = words_of(name)
        for kind, known in _PART_WORDS:
            if words & known and len(words) <= 2 and element.tag in _WORDED.get(kind, _ANY_BOX):
                return kind, name
    if element.tag in ("a", "li", "span", "strong") and "aria-current" in element.attributes:
        return "current", "[aria-current]"
    if element.tag in ("a", "li") and element.classes & _CURRENT:
        return "current", next(iter(sorted(element.classes & _CURRENT)))
    if element.tag in _PART_TAGS:
        return _PART_TAGS[element.tag], _any_class(element)
    if element.tag == "article" or (
        element.tag in ("div", "li") and len(element.children) >= 2 and alike.count(element) >= 3
    ):
        holds_field = any(child.tag in ("input", "select", "textarea") for child in element.children)
        return "field" if holds_field else "card", _any_class(element)
    if element.tag in ("ul", "ol", "dl") and len(element.children) >= 3 and element.classes:
        return "list", _any_class(element)
    return "", ""


_ANY_BOX = frozenset({"div", "ul", "ol", "nav", "p", "span", "a", "aside", "section"})


def _any_class(element: Element) -> str:
    return min(element.classes, key=lambda name: (len(name), name), default="")
