"""The regions of a site: its pages' sections and the parts in them, each with a selector for exactly its elements.

A section is a landmark (HTML, section 4.3; ARIA 1.2, section 5.3.4), or a box that paints a background of its own
behind text and is at least a band or a column of its page. A part is something repeated or self-contained: a card, a
table, a button. What is alike on several pages is one region. A selector is exact on the pages the region is on.
"""

from __future__ import annotations

import re
from collections import Counter, defaultdict
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from itertools import chain, islice

from glaucon.core.cascade.tree import Document, Element
from glaucon.core.survey.kinds import (
    KIND_LABELS,
    Siblings,
    attribute_names,
    is_sectioning,
    is_set_apart,
    part_kind,
    section_kind,
)
from glaucon.core.survey.model import Region
from glaucon.core.survey.pointing import pointing_at, simple_name
from glaucon.core.survey.readable import is_short, readable, short_name, told_apart_by

MOST_DEEP = 7
_BAND = 0.02  # of a page's text: the least that a band or column holds
_LOOSE = 0.1  # of a wrapper's text outside the sections in it: more than that is content of its own
_MOST_LABEL = 48
_MOST_SECTIONS = 80  # of a page
_NOT_SHOWN = frozenset({"script", "style", "template", "link", "meta", "noscript", "head", "title", "base"})
_HEADINGS = frozenset({"h1", "h2", "h3", "h4", "h5", "h6"})

# Tells whether an element of a page paints a background of its own.
Paints = Callable[[str, Element], bool]


@dataclass(slots=True)
class RegionsOfPage:
    """Which regions an element of a page lies in: `chains` numbers those of the site, by the element's order."""

    chains: list[tuple[int, ...]] = field(default_factory=list)
    starts: set[int] = field(default_factory=set)  # elements that a region begins with

    def depth(self, order: int) -> int:
        """Return how many regions an element lies in, itself counted."""
        return len(self.chains[order]) if self.chains else 0


@dataclass(slots=True, eq=False)
class _Seen:
    """A section as it stands on one page."""

    page: str
    element: Element
    kind: str
    label: str

    @property
    def likeness(self) -> tuple[str, ...]:
        """Return what sections that are one on several pages have in common."""
        own = (self.kind, self.element.tag, self.element.ident)
        return own if self.kind in _SHARED else (*own, self.label, *sorted(self.element.classes))


# what a page has one of, whatever it holds there
_SHARED = frozenset({"header", "navigation", "footer", "sidebar", "search", "content"})


class _Measured:
    """How much text stands in each element of a page, and the first heading in it."""

    def __init__(self, document: Document) -> None:
        self.size = [0] * len(document.elements)
        self.heading: list[str] = [""] * len(document.elements)
        for element in reversed(document.elements):
            if element.tag in _NOT_SHOWN:
                continue
            self.size[element.order] += len(element.own_text)
            if element.tag in _HEADINGS:
                self.heading[element.order] = _words(element)
            if element.parent is not None:
                up = element.parent.order
                self.size[up] += self.size[element.order]
                self.heading[up] = self.heading[element.order] or self.heading[up]


def _words(element: Element) -> str:
    inside = (inner for inner in islice(element.descendants(), 40) if inner.tag not in ("small", *_NOT_SHOWN))
    texts = [element.own_text, *(inner.own_text for inner in inside)]
    # what documentation hangs on a heading to link to it
    return " ".join(" ".join(text for text in texts if text).split()).rstrip("¶#§:. ")[:_MOST_LABEL]


@dataclass(slots=True)
class FoundRegions:
    """The regions of a site; for each page which elements lie in which; and how many elements each is on each page."""

    regions: list[Region]
    of_page: dict[str, RegionsOfPage]
    elements: list[Counter[str]]


def find_regions(documents: Mapping[str, Document], paints: Paints) -> FoundRegions:
    """Return the regions of a site."""
    seen: list[_Seen] = []
    for page, document in documents.items():
        seen.extend(_Sections(page, document, paints).run())
    sections = _as_one(seen, documents)
    taken = {(page, element.order) for _, members in sections for page, element in members}
    members = [members for _, members in sections]
    regions = [region for region, _ in sections]
    within = _section_of(sections, documents)
    parts = list(_parts(documents, taken, within, {region.key for region in regions}))
    regions += _parts_told_apart(parts, within, {region.key: region.label for region in regions})
    members += [elements for _, elements in parts]
    return FoundRegions(regions, _chains(documents, members), [Counter(page for page, _ in some) for some in members])


def _parts_told_apart(
    parts: list[tuple[Region, Members]], within: Mapping[str, Mapping[int, str]], sections: Mapping[str, str]
) -> list[Region]:
    """Return parts, those of one name told apart by the section that all of them lie in, where that tells them."""
    names = Counter(part.label for part, _ in parts)
    homes = Counter((part.label, part.within) for part, _ in parts)
    told = []
    for part, members in parts:
        is_told = names[part.label] > 1 and homes[part.label, part.within] == 1 and part.within in sections
        if is_told and all(within[page].get(element.order) == part.within for page, element in members):
            name = f"{part.label} in {sections[part.within]}"
            part = replace(part, label=name if is_short(name) else part.label)
        told.append(part)
    return told


class _Sections:
    """Finds the sections of one page, from the body down: wrappers are looked into, what is a section is not.

    Each element is looked at a fixed number of times: what is brought in may be nested ten thousand deep.
    """

    def __init__(self, page: str, document: Document, paints: Paints) -> None:
        self._page, self._document, self._paints = page, document, paints
        self._measured = _Measured(document)
        self._alike = Siblings()
        self._like = Counter((one.tag, one.classes) for one in document.elements if one.classes)
        self._body = next((e for e in document.elements if e.tag == "body"), document.root)
        self._total = max(1, self._measured.size[self._body.order])
        count = len(document.elements)
        self._kind = [""] * count
        self._is_candidate = [False] * count
        self._holds = [False] * count  # a candidate somewhere inside
        self._look()

    def _look(self) -> None:
        inside = [False] * len(self._document.elements)
        for element in self._document.elements:
            up = element.parent
            if up is not None:
                inside[element.order] = inside[up.order] or is_sectioning(up)
            if element.tag not in _NOT_SHOWN and not element.foreign:
                self._kind[element.order] = section_kind(element, inside[element.order])
        for element in reversed(self._document.elements):
            order, up = element.order, element.parent
            large = self._measured.size[order] > _BAND * self._total
            self._is_candidate[order] = large and (bool(self._kind[order]) or self._is_band(element))
            if up is not None and (self._is_candidate[order] or self._holds[order]):
                self._holds[up.order] = True

    def run(self) -> list[_Seen]:
        found: list[_Seen] = []
        wrappers: list[_Seen] = []
        waiting = list(reversed(self._body.children))
        while waiting and len(found) < _MOST_SECTIONS:
            element = waiting.pop()
            size, kind = self._measured.size[element.order], self._kind[element.order]
            if element.tag in _NOT_SHOWN or element.foreign or not (size or element.children):
                continue
            if self._is_wrapper(element, kind, size):
                if kind:
                    wrappers.append(self._wrapper(element, kind))
                waiting.extend(reversed(element.children))
            elif kind or self._is_candidate[element.order]:
                found.append(self._seen(element, kind or "band"))
            elif element.children and size > _BAND * self._total:
                waiting.extend(reversed(element.children))
        found += self._loose(wrappers, {one.element.order for one in found})
        return sorted(found, key=lambda one: one.element.order)

    def _is_wrapper(self, element: Element, kind: str, size: int) -> bool:
        """Return whether an element only wraps sections (a `main`, a lone `div`) and is none itself."""
        if kind == "content":
            return True
        if kind in ("footer", "navigation", "sidebar", "form"):
            return False
        # an article that is all the page has, a header around everything
        return size > 0.6 * self._total and self._holds[element.order]

    def _loose(self, wrappers: Iterable[_Seen], starts: set[int]) -> list[_Seen]:
        """Return the wrappers of which much text stands outside the sections in them."""
        covered = [0] * len(self._document.elements)
        for element in reversed(self._document.elements):
            if element.order in starts:
                covered[element.order] = self._measured.size[element.order]
            if element.parent is not None:
                covered[element.parent.order] += covered[element.order]
        kept: list[_Seen] = []
        # the innermost first: text of its own is no longer loose in those around it
        for one in sorted(wrappers, key=lambda one: -one.element.order):
            size = self._measured.size[one.element.order]
            loose = size - covered[one.element.order]
            if loose > max(60, _LOOSE * size):
                kept.append(one)
                for around in (one.element, *one.element.ancestors()):
                    covered[around.order] += loose
        return kept

    def _wrapper(self, element: Element, kind: str) -> _Seen:
        seen = self._seen(element, "content" if kind == "region" else kind)
        if kind == "region" and self._measured.heading[element.order]:
            seen.label = self._label(element, kind)
        return seen

    def _is_band(self, element: Element) -> bool:
        if element.tag not in _BAND_TAGS or self._measured.size[element.order] < 12 or element is self._body:
            return False
        if is_set_apart(element):
            return False
        # what is repeated, beside each other or each in a cell of its own, is a part: cards, dialogs
        is_part = self._like[element.tag, element.classes] > 1 and bool(part_kind(element, self._alike)[0])
        return not is_part and self._alike.count(element) < 3 and self._paints(self._page, element)

    def _seen(self, element: Element, kind: str) -> _Seen:
        return _Seen(self._page, element, kind, self._label(element, kind))

    def _label(self, element: Element, kind: str) -> str:
        if kind in ("header", "navigation", "footer", "search", "sidebar", "welcome", "quote"):
            return KIND_LABELS[kind]
        named = element.attributes.get("aria-label", "").strip()
        own = next((words for name in (element.ident, *sorted(element.classes)) if (words := readable(name))), "")
        heading = self._measured.heading[element.order]
        if kind == "content":
            return (named or KIND_LABELS[kind])[:_MOST_LABEL]
        begins = "" if kind == "form" else " ".join(_words(element).split()[:4]).rstrip(".,:;")
        label = named or heading or own or begins or KIND_LABELS.get(kind, "Section")
        return (label[0].upper() + label[1:])[:_MOST_LABEL]


_BAND_TAGS = frozenset({"div", "td", "center", "ul", "dl"})


Members = list[tuple[str, Element]]


def _as_one(seen: list[_Seen], documents: Mapping[str, Document]) -> list[tuple[Region, Members]]:
    """Return sections, those alike on several pages as one, each with its elements."""
    groups: dict[tuple[str, ...], list[_Seen]] = defaultdict(list)
    for one in seen:
        groups[one.likeness].append(one)
    found: list[tuple[Region, Members]] = []
    keys: set[str] = set()
    for group in groups.values():
        for some in _one_a_page(group):
            members = [(one.page, one.element) for one in some]
            for selector, those in pointing_at(members, documents):
                first = next(one for one in some if one.page in {page for page, _ in those})
                key = _free(keys, first)
                on = frozenset(page for page, _ in those)
                found.append((Region(key, first.kind, _short(first), selector, on, True), those))
    return _told_apart(found)


def _short(one: _Seen) -> str:
    """Return what a section is called: its own id or class rather than the beginning of a long heading."""
    if is_short(one.label):
        return one.label.rstrip("!?.,:;") or one.label
    own = next((words for n in (one.element.ident, *sorted(one.element.classes)) if (words := readable(n))), "")
    return own if own and is_short(own) else short_name(one.label) or KIND_LABELS.get(one.kind, "Section")


def _told_apart(found: list[tuple[Region, Members]]) -> list[tuple[Region, Members]]:
    """Return sections of which no two are called the same, as far as their pages tell them apart.

    Of those of one name the one on most pages keeps it; others say what they are by their own id or class, the page
    that they alone are on, or the words they begin with.
    """
    taken: Counter[str] = Counter(region.label for region, _ in found)
    kept: set[str] = set()
    labels: dict[str, str] = {}
    for region, members in sorted(found, key=lambda one: -len(one[0].pages)):
        label = region.label
        if label in kept:
            others = chain(_other_names(region, members[0]), (told_apart_by(label, str(n)) for n in range(2, 1000)))
            label = next(name for name in others if name not in taken and is_short(name))
        kept.add(label)
        taken[label] += 1
        labels[region.key] = label
    return [(replace(region, label=labels[region.key]), members) for region, members in found]


def _other_names(region: Region, first: tuple[str, Element]) -> Iterator[str]:
    page, element = first
    for name in (element.ident, *sorted(element.classes)):
        own = readable(name).rstrip(",;")
        if own and own.lower() != region.label.lower():
            yield own
            yield told_apart_by(region.label, own.lower())
    if len(region.pages) == 1 and (where := readable(page.rsplit("/", 1)[-1].rsplit(".", 1)[0])):
        yield told_apart_by(region.label, where.lower())
    if words := short_name(_words(element)):
        yield words


def _one_a_page(group: list[_Seen]) -> Iterator[list[_Seen]]:
    """Yield alike sections so that each holds one a page: the first of every page, the second of every page."""
    by_page: dict[str, list[_Seen]] = defaultdict(list)
    for one in group:
        by_page[one.page].append(one)
    for place in range(max(len(some) for some in by_page.values())):
        yield [some[place] for some in by_page.values() if place < len(some)]


def _free(keys: set[str], one: _Seen) -> str:
    """Return a key that tells what and where: its words, then its page, then its place on it."""
    own = next((n for n in (one.element.ident, *sorted(one.element.classes)) if readable(n)), "")
    page = slug(one.page.rsplit(".", 1)[0])
    for name in (slug(one.label), f"{slug(one.label)}-{slug(own)}", f"{slug(one.label)}-{page}"):
        if name and name not in keys:
            break
    else:
        name = f"{slug(one.label)}-{page}-{slug(one.element.path().replace('html>body', ''))}"[:160]
    keys.add(name)
    return name


def slug(text: str) -> str:
    """Return a text as a key: lower case letters, digits and hyphens."""
    return re.sub(r"[^a-z0-9]+", "-", text.lower()).strip("-")[:60] or "section"


def _section_of(sections: list[tuple[Region, Members]], documents: Mapping[str, Document]) -> dict[str, dict[int, str]]:
    """Return for each page the key of the section that each element lies in."""
    starts: dict[str, dict[int, str]] = {page: {} for page in documents}
    for region, members in sections:
        for page, element in members:
            starts[page][element.order] = region.key
    found: dict[str, dict[int, str]] = {}
    for page, document in documents.items():
        of = found[page] = {}
        for element in document.elements:
            up = of.get(element.parent.order, "") if element.parent is not None else ""
            of[element.order] = starts[page].get(element.order, up)
    return found


def _parts(
    documents: Mapping[str, Document],
    taken: set[tuple[str, int]],
    within: Mapping[str, Mapping[int, str]],
    keys: set[str],
) -> Iterator[tuple[Region, Members]]:
    """Yield the parts of all pages: those with the same selector are alike."""
    groups: dict[tuple[str, str], Members] = defaultdict(list)
    every: dict[str, Members] = defaultdict(list)
    for page, document in documents.items():
        alike = Siblings()
        for element in document.elements:
            if element.tag in _NOT_SHOWN or element.foreign:
                continue
            names = [element.tag, *(f"{element.tag}.{name}" for name in element.classes)]
            names += [element.tag + name for name in attribute_names(element)]
            for name in names:
                every[name].append((page, element))
            if (page, element.order) in taken:
                continue
            kind, name = part_kind(element, alike)
            if kind:
                groups[kind, simple_name(element, name)].append((page, element))
    for (kind, selector), members in sorted(groups.items(), key=lambda item: (item[0][0], -len(item[1]), item[0][1])):
        # exact by what it says: all that it finds are such parts
        if not selector or len(every[selector]) != len(members):
            continue
        called = _part_label(kind, readable(selector.partition(".")[2]))
        label = short_name(called) or KIND_LABELS[kind]
        key = next(k for k in _keys(slug(called), selector) if k not in keys)
        keys.add(key)
        homes: dict[str, int] = defaultdict(int)
        for page, element in members:
            homes[within[page].get(element.order, "")] += 1
        pages = frozenset(page for page, _ in members)
        home = max(homes, key=lambda name: (homes[name], name))
        yield Region(key, kind, label, selector, pages, False, home), members


def _part_label(kind: str, own: str) -> str:
    """Return a part's label: from its class if that holds words that describe it (“price-list”), or from its kind."""
    if not own or kind not in ("card", "list", "table", "notice", "tag"):
        return KIND_LABELS[kind]
    is_noun = kind != "list" or " " in own or own.lower() in _LISTS
    return own if is_noun else f"{own} list"


_LISTS = frozenset("timeline gallery steps links downloads news events archive contents toc faq".split())


def _keys(base: str, selector: str) -> Iterator[str]:
    yield base
    yield f"{base}-{slug(selector)}"
    for number in range(2, 10_000):
        yield f"{base}-{slug(selector)}-{number}"


def _chains(documents: Mapping[str, Document], members: list[Members]) -> dict[str, RegionsOfPage]:
    """Return, for each page, the regions around each element, outermost first."""
    starts: dict[str, dict[int, list[int]]] = {page: defaultdict(list) for page in documents}
    for number, some in enumerate(members):
        for page, element in some:
            starts[page][element.order].append(number)
    found: dict[str, RegionsOfPage] = {}
    for page, document in documents.items():
        of_page = found[page] = RegionsOfPage([()] * len(document.elements))
        for element in document.elements:
            chain = of_page.chains[element.parent.order] if element.parent is not None else ()
            new = [n for n in starts[page].get(element.order, ()) if n not in chain]
            if new and len(chain) < MOST_DEEP:
                of_page.starts.add(element.order)
                chain = (*chain, new[0])
            of_page.chains[element.order] = chain
    return found
