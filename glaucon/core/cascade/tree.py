"""The element tree of a page, as an HTML5 parser builds it, with what selectors ask of it."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field

from selectolax.lexbor import LexborHTMLParser, LexborNode

from glaucon.core.cascade.markup import MARKER, SHADOW, Markup, StartTag, read_markup, with_shadows

_DOCTYPE = re.compile(r"<!doctype\s+html([^>]*)>", re.I)
_SPACE = re.compile(r"\s*")
_QUIRKY_DOCTYPE = re.compile(
    r"-//(?:w3c//dtd html (?:3\.2|4\.0 (?:frameset|transitional)//(?!.*\.dtd))|ietf//dtd html|"
    r"w3o//dtd w3 html|w3c//dtd html 4\.01 (?:frameset|transitional)//en\"\s*$)",
    re.I,
)
_SPACES = re.compile(r"[ \t\n\f\r]+")


@dataclass(slots=True, eq=False)
class Element:
    """An element: its place among its siblings (1-based) and its own text nodes."""

    tag: str
    attributes: dict[str, str]
    parent: Element | None
    position: int
    source: StartTag | None
    children: list[Element] = field(default_factory=list)
    texts: list[str] = field(default_factory=list)
    classes: frozenset[str] = frozenset()
    foreign: bool = False
    order: int = 0
    ident: str = ""
    keys: tuple[tuple[str, str], ...] = ()  # what rules are looked up by: tag, id, classes
    above: int = 0  # the ancestors' keys as bits, so that most descendant selectors fail at once
    is_link: bool = False  # or in one
    is_heading: bool = False  # or in one
    is_exempt: bool = False  # text of a disabled control or of its label
    quirky: bool = False  # in a quirks page: `classes` are lower case then
    scope: int = 0  # the shadow tree it stands in, whose rules alone match it; 0: the page's own tree
    slotted: int = 0  # the shadow tree that it is shown in, which it does not stand in
    own: list[Element] | None = None  # of hosts and slots: their children in the tree, where `children` are those shown

    @property
    def standing(self) -> list[Element]:
        """Return the elements that stand in it, as selectors see them."""
        return self.children if self.own is None else self.own

    @property
    def own_text(self) -> str:
        """Return the element's own text nodes, white space folded."""
        return _SPACES.sub(" ", " ".join(self.texts)).strip()

    @property
    def has_text(self) -> bool:
        """Return whether one of its own text nodes is more than white space."""
        return any(text.strip(" \t\n\f\r") for text in self.texts)

    @property
    def previous(self) -> Element | None:
        """Return the element sibling before this one."""
        if self.parent is None or self.position < 2:
            return None
        return self.parent.standing[self.position - 2]

    def path(self) -> str:
        """Return the path of the audit report: names joined by `>`, each but the root's numbered."""
        parts: list[str] = []
        node = self
        while node.parent is not None:
            parts.append(f"{node.tag}:nth-child({node.position})")
            node = node.parent
        return ">".join([node.tag, *reversed(parts)])

    def ancestors(self) -> Iterator[Element]:
        """Yield the parents, innermost first."""
        node = self.parent
        while node is not None:
            yield node
            node = node.parent

    def descendants(self) -> Iterator[Element]:
        """Yield everything inside, in document order."""
        pending = list(reversed(self.children))
        while pending:
            node = pending.pop()
            yield node
            pending.extend(reversed(node.children))


@dataclass(slots=True)
class Document:
    """A page's tree in document order."""

    root: Element
    elements: list[Element]
    markup: Markup
    quirks: bool


def parse_document(source: str) -> Document:
    """Return the tree of a page, parsed as with scripting on."""
    markup = read_markup(source)
    clean = with_shadows(markup.annotated()).encode("utf-8", "replace").decode("utf-8")
    root_node = LexborHTMLParser(clean).root
    elements: list[Element] = []
    quirks = _is_quirks(source)
    root = _build(root_node, markup, elements) if root_node is not None else Element("html", {}, None, 1, None)
    if any(element.tag == SHADOW for element in elements):
        _put_in_slots(elements)
    for element in elements:
        element.quirky = quirks
        renew(element)
    return Document(root, elements or [root], markup, quirks)


def renew(element: Element) -> None:
    """Set what is asked of an element from its attributes and its parent, who was renewed before."""
    element.ident = element.attributes.get("id", "")
    names = element.attributes.get("class", "").strip(" \t\n\f\r")
    names = names.lower() if element.quirky else names
    element.classes = frozenset(_SPACES.split(names)) if names else frozenset()
    element.keys = _keys(element)
    if element.parent is not None:
        element.above = element.parent.above | key_bits(element.parent.keys)


# elements that a page is built of at most: some for each start tag, and so many in any case
_MOST_FOR_EACH, _MOST_AT_LEAST = 4, 1_000

# How deep Chromium builds a page: what is nested deeper becomes a sibling (kMaximumHTMLParserDOMTreeDepth and itself).
DEEPEST = 513


def _build(root_node: LexborNode, markup: Markup, elements: list[Element]) -> Element:
    root = _element(root_node, None, 1, markup, elements)
    # An explicit stack of what is left to do: the elements open around each node, and the node. Markup nested ten
    # thousand deep is legal and must not exhaust Python's own stack.
    pending: list[tuple[Element, int, LexborNode | None]] = [(root, 1, root_node.child)]
    # bold and font elements left open are opened again in each paragraph: a few bytes may come to a great tree
    most = _MOST_FOR_EACH * len(markup.tags) + _MOST_AT_LEAST
    while pending:
        inside, depth, node = pending.pop()
        while node is not None and len(elements) < most:
            tag = node.tag or ""
            if node.is_text_node:
                inside.texts.append(node.text_content or "")
            elif node.is_element_node:
                at = depth if depth < DEEPEST else depth - 1
                parent = inside if depth < DEEPEST or inside.parent is None else inside.parent
                child = _element(node, parent, len(parent.children) + 1, markup, elements)
                parent.children.append(child)
                if tag != "template" and node.child is not None:
                    pending.append((inside, depth, node.next))
                    inside, depth, node = child, at + 1, node.child
                    continue
            node = node.next
    for order, element in enumerate(elements):
        element.order = order
    return root


def _element(
    node: LexborNode, parent: Element | None, position: int, markup: Markup, elements: list[Element]
) -> Element:
    attributes = {name: value or "" for name, value in node.attributes.items()}
    number = attributes.pop(MARKER, None)
    tag = node.tag or ""
    place = whole_number(number or "")
    source = markup.tags[place] if place is not None and place < len(markup.tags) else None
    element = Element(tag, attributes, parent, position, source)
    element.foreign = (
        tag == "svg" or tag == "math" or (parent is not None and parent.foreign and parent.tag != "foreignObject")
    )
    elements.append(element)
    return element


_WHOLE = re.compile(r"[0-9]{1,9}")


def whole_number(text: str) -> int | None:
    """Return the number a text of ASCII digits is, None for any other, and for one that is absurdly long."""
    return int(text) if _WHOLE.fullmatch(text) else None


def _keys(element: Element) -> tuple[tuple[str, str], ...]:
    ident = element.ident.lower() if element.quirky else element.ident
    keys = [("tag", element.tag), ("", ""), *(("class", name) for name in element.classes)]
    if ident:
        keys.append(("id", ident))
    if element.foreign and element.tag != element.tag.lower():
        keys.append(("tag", element.tag.lower()))
    return tuple(keys)


_BITS = 509


def key_bits(keys: Iterable[tuple[str, str]]) -> int:
    """Return some keys as bits of one number; different keys may share a bit, equal ones always do."""
    bits = 0
    for kind, name in keys:
        if kind:
            bits |= 1 << (hash((kind, name.lower())) % _BITS)
    return bits


def _is_quirks(source: str) -> bool:
    doctype = _DOCTYPE.match(source, _first_place(source))
    return doctype is None or bool(_QUIRKY_DOCTYPE.search(doctype.group(1)))


def _first_place(source: str) -> int:
    """Return where a page begins behind its comments and white space."""
    at = 1 if source.startswith("\ufeff") else 0
    while True:
        at = _SPACE.match(source, at).end()  # type: ignore[union-attr]
        end = "-->" if source.startswith("<!--", at) else ">" if source.startswith("<?", at) else ""
        close = source.find(end, at + 2) if end else -1
        if close < 0:
            return at
        at = close + len(end)


def _put_in_slots(elements: list[Element]) -> None:
    """Number the shadow trees of a page's elements, in document order, and show in them what their slots take.

    A shadow root (HTML, section 4.12.3, in its declared form) is an element of its own, the first in its host, and
    stands for the host in its own rules. What its slots show of the host's children is shown there, and stands where
    it did for selectors (DOM, section 4.2.2).
    """
    shadows = [one for one in elements if one.tag == SHADOW and one.parent is not None]
    for number, shadow in enumerate(shadows, 1):
        host = shadow.parent
        if host is None or host.own is not None:
            continue
        for one in _standing_in(shadow):
            one.scope = number
        host.own = [one for one in host.children if one is not shadow]
        for position, one in enumerate(host.own, 1):
            one.position = position
        shadow.position = 0
        kept = {name: value for name, value in host.attributes.items() if name not in ("style", "slot")}
        shadow.attributes = {**kept, **shadow.attributes}
        host.children = [shadow]
        _fill_slots(host, shadow, number)


def _standing_in(shadow: Element) -> Iterator[Element]:
    pending = [shadow]
    while pending:
        one = pending.pop()
        yield one
        pending.extend(child for child in one.standing if child.tag != SHADOW)


def _fill_slots(host: Element, shadow: Element, number: int) -> None:
    filled: set[str] = set()
    for slot in list(_standing_in(shadow)):
        name = slot.attributes.get("name", "")
        if slot.tag != "slot" or name in filled:
            continue
        filled.add(name)
        given = [one for one in host.standing if one.attributes.get("slot", "") == name]
        words = host.texts if not name else []
        if given or any(map(str.strip, words)):
            slot.own, slot.children, slot.texts = slot.standing, given, list(words)
            for one in given:
                one.slotted = number
    host.texts = []
