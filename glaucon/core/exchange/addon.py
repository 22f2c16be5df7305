"""An add-on stylesheet: the least set of rules that recolours a site whose own files cannot be edited.

It stands after everything the site has. A rule with a changed colour is said again with the same selector, under the
same conditions and in the same layer, so it wins where it won before and loses where it lost. What came after it with
equal weight on the same elements is said again too, since it would lose to the copy otherwise.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from functools import partial
from urllib.parse import quote

from glaucon.core.cascade.media import Viewport
from glaucon.core.cascade.rules import AUTHOR, IndexedRule, PageMatcher, RuleIndex
from glaucon.core.cascade.selectors.state import State
from glaucon.core.cascade.stylesheet import Block, Rule, Stylesheet, Written
from glaucon.core.cascade.tokens import ColourToken, TokenTable
from glaucon.core.cascade.tree import Document, Element, parse_document
from glaucon.core.exchange.addon_attributes import AttributeRules
from glaucon.core.exchange.addon_text import Place, Unreached, changed_places, overlap, rendered, scoped, wrapped
from glaucon.core.exchange.page_markers import markers_of, telling
from glaucon.core.exchange.recolour import DEFAULT_RULES, SYSTEM
from glaucon.core.study.own_css import applied_css, palette_for_own
from glaucon.core.study.scopes import Use
from glaucon.core.study.study import Study
from glaucon.core.study.wearing import worn_by
from glaucon.core.survey.sheets import LinkedSheet, SheetLibrary, index_of
from glaucon.core.survey.site import Progress, SiteFiles, is_page
from glaucon.core.survey.survey import STANDARD_WIDTHS

_EVERY_STATE = State(hover=True, focus=True, active=True, visited=True)
_HEAD = "/* The colours of this site, made with Glaucon. Keep it after everything else. */\n"


@dataclass(slots=True)
class Addon:
    """The stylesheet, and the changed colours that no stylesheet can reach, with the reason."""

    css: str
    unreached: list[Unreached] = field(default_factory=list)


def addon_stylesheet(
    site: SiteFiles,
    tokens: Iterable[ColourToken],
    study: Study,
    progress: Progress = lambda what, done, total: None,
    worn: frozenset[Use] = frozenset(),
) -> Addon:
    """Return the add-on stylesheet of a study; empty where it changes nothing. `worn` is all that scopes set.

    `progress` is told ("matching rules", pages done, pages in all) and may raise to cancel.
    """
    new: dict[Place, str] = {}
    touched: list[ColourToken] = []
    defaults: dict[str, str] = {}
    for one in worn_by(study, tokens):
        token, role = one.token, one.role
        is_worn = (role.kind, role.state) in worn
        if not role.is_changed and not is_worn:
            continue
        text = one.text if role.is_changed else token.as_css()
        if token.kind == "default":
            text = one.text if role.is_changed else SYSTEM[token.text]
        # what some section sets comes from the property that it sets, elsewhere from what the site has
        text = f"var({one.custom_property.name}, {text})" if is_worn else text
        if token.kind == "default":
            defaults[token.text] = text
        else:
            new[token.file, token.start] = text
            touched.append(token)
    own = "\n".join(part for part in (palette_for_own(study), applied_css(study)) if part)
    if not new and not defaults:
        return Addon(f"{_HEAD}{own}\n" if own else "")
    made = _Maker(site, new, touched, defaults).make(progress)
    return Addon(f"{made.css}{own}\n", made.unreached) if own else made


@dataclass(slots=True, eq=False)
class _Entry:
    """A rule of the site that may be said again: which of its declarations, and on which pages it holds."""

    written: Written
    around: tuple[str, ...]
    texts: list[str]
    keep: list[bool]
    pages: set[str] = field(default_factory=set)
    places: list[Place] = field(default_factory=list)  # of the changed colours in it, in each copy of it

    @property
    def is_said(self) -> bool:
        return any(self.keep)


@dataclass(slots=True, eq=False)
class _PageRules:
    page: str
    document: Document
    index: RuleIndex
    matcher: PageMatcher
    entries: dict[int, _Entry]  # by the rule's number in the index


class _Maker:
    def __init__(
        self, site: SiteFiles, new: dict[Place, str], touched: list[ColourToken], defaults: dict[str, str]
    ) -> None:
        self._site = site
        self._new = new
        self._touched = {(token.file, token.start): token for token in touched}
        self._defaults = defaults
        self._library = SheetLibrary(site, TokenTable(), keep_all=True)
        self._attributes = AttributeRules(new)
        self._entries: dict[tuple[object, ...], _Entry] = {}
        self._order: list[_Entry] = []
        self._indexes: dict[tuple[object, ...], RuleIndex] = {}
        self._together: dict[tuple[int, tuple[int, ...]], list[tuple[IndexedRule, _Entry]]] = {}
        self._left: dict[Place, str] = {}  # what is not reached, and why

    def make(self, progress: Progress) -> Addon:
        pages: list[_PageRules] = []
        for done, page in enumerate(self._site.pages):
            progress("matching rules", done, len(self._site.pages))
            pages.append(self._page(page))
            self._note_matches(pages[-1])
        while any(_spread_along(rows) for rows in self._together.values()):
            pass
        rules, said = self._rules(pages)
        hints, said_hints = self._attributes.hints(self._touched.values())
        inline, said_inline = self._attributes.inline()
        reached = said | said_hints | said_inline
        self._left.update(self._attributes.left)
        unreached = [
            Unreached(token, self._left.get(place, "no stylesheet can reach it"))
            for place, token in self._touched.items()
            if place not in reached
        ]
        body = self._default_texts(pages, unreached) + hints + rules + inline
        return Addon(_HEAD + body if body else "", unreached)

    # reading the site

    def _page(self, page: str) -> _PageRules:
        document = parse_document(self._site.page_text(page))
        # the rules of shadow trees cannot be reached from a sheet of the page
        linked = [one for one in self._library.of_page(page, document) if not one.scope]
        index = self._index(linked, document.quirks)
        entries: dict[int, _Entry] = {}
        of_block: dict[tuple[object, ...], _Entry] = {}
        copies: Counter[object] = Counter()
        authors = [one for one in index.rules if one.normal_key[0] == AUTHOR]
        of_sheets = [(sheet, rule) for sheet in linked for rule in sheet.sheet.rules()]
        # one block may be reached under several media, by a screen sheet and by a print sheet: each is said again
        for indexed, (sheet, rule) in zip(authors, of_sheets, strict=True):
            if rule.block.written is None:
                continue
            key = (id(rule.block), rule.around, sheet.media)
            if key not in of_block:
                of_block[key] = self._entry(page, rule.block, sheet, rule.around, copies)
            entries[indexed.number] = of_block[key]
        known = {key[0] for key in of_block}
        for sheet in linked:
            # rules none of whose selectors the engine matches, such as those of scroll bars
            for block in sheet.sheet.blocks:
                if id(block) not in known:
                    of_block[id(block), (), sheet.media] = self._entry(page, block, sheet, (), copies)
        self._merge_order(list(of_block.values()))
        matcher = PageMatcher(index)
        on_screen = [index.active(Viewport(width)) for width in STANDARD_WIDTHS]
        for element in document.elements:
            inline = self._library.of_attribute(page, document, element)
            if inline is not None and inline.written is not None:
                numbers = matcher.matching(element, State())
                over = [index.rules[n].rule.block for n in numbers if any(active[n] for active in on_screen)]
                self._attributes.note(element, inline.written, {name for block in over for name in block.important})
        return _PageRules(page, document, index, matcher, entries)

    def _index(self, linked: list[LinkedSheet], quirks: bool) -> RuleIndex:
        key = (*((id(one.sheet), one.media, one.scope) for one in linked), quirks)
        if key not in self._indexes:
            self._indexes[key] = index_of(linked, quirks)
        return self._indexes[key]

    def _entry(
        self, page: str, block: Block, sheet: LinkedSheet, around: tuple[str, ...], copies: Counter[object]
    ) -> _Entry:
        written = block.written
        assert written is not None
        media = (f"@media {sheet.media}",) if sheet.media.strip() else ()
        around = (*media, *around, *written.wrappers)
        led = partial(_led, self._site, written.source.file)
        said = [rendered(written.source, declaration, self._new, led) for declaration in written.declarations]
        key: tuple[object, ...] = (id(block), around)
        if is_page(sheet.sheet.file):
            # the same style element on many pages is one
            text = (around, written.prelude, tuple(said))
            key = (text, copies[text])
            copies[text] += 1
        entry = self._entries.get(key)
        if entry is None:
            texts, keep = [text for text, _ in said], [changed for _, changed in said]
            entry = self._entries[key] = _Entry(written, around, texts, keep)
        entry.pages.add(page)
        if entry.is_said:
            entry.places.extend(changed_places(written, self._new))
        return entry

    def _merge_order(self, of_page: list[_Entry]) -> None:
        """Insert new rules into the order, each after the rule it follows on its page."""
        at = {id(entry): n for n, entry in enumerate(self._order)}
        pieces: dict[int, list[_Entry]] = {}
        last = -1
        for entry in of_page:
            if id(entry) in at:
                last = max(last, at[id(entry)])
            else:
                pieces.setdefault(last, []).append(entry)
        if pieces:
            merged = list(pieces.get(-1, []))
            for n, entry in enumerate(self._order):
                merged.append(entry)
                merged.extend(pieces.get(n, ()))
            self._order = merged

    def _note_matches(self, rules: _PageRules) -> None:
        """Note which rules meet on an element, in whatever state."""
        matcher = rules.matcher
        pseudos = [None, *sorted(rules.index.pseudo_elements())]
        for element in rules.document.elements:
            for pseudo in pseudos:
                numbers = matcher.matching(element, State(), pseudo)
                if rules.index.states:
                    numbers = tuple(sorted({*numbers, *matcher.matching(element, _EVERY_STATE, pseudo)}))
                key = (id(rules.index), numbers)
                if numbers and key not in self._together:
                    self._together[key] = [
                        (rules.index.rules[n], rules.entries[n]) for n in numbers if n in rules.entries
                    ]

    # writing

    def _rules(self, pages: list[_PageRules]) -> tuple[str, set[Place]]:
        strays = self._strays(pages)
        markers = {page.page: markers_of(page.document) for page in pages} if strays else {}
        pieces: list[tuple[tuple[str, ...], str]] = []
        reached: set[Place] = set()
        for entry in self._order:
            if not entry.is_said:
                continue
            prelude = entry.written.prelude
            why = ""
            if any(wrapper.strip().lower() == "@layer" for wrapper in entry.around):
                why = "its rule is in a cascade layer without a name"
            elif id(entry) in strays:
                telling_apart = telling(entry.pages, strays[id(entry)], markers)
                if telling_apart is None:
                    why = "other pages would take on its rule, and nothing distinguishes them"
                else:
                    prelude = scoped(prelude, telling_apart)
            if why:
                self._left.update(dict.fromkeys(entry.places, why))
                continue
            said = [text for text, keep in zip(entry.texts, entry.keep, strict=True) if keep]
            reached.update(entry.places)
            pieces.append((entry.around, f"{prelude} {{ {'; '.join(said)} }}"))
        return wrapped(pieces), reached

    def _strays(self, pages: list[_PageRules]) -> dict[int, set[str]]:
        """Return the entries that would match something on pages they do not hold on, with those pages."""
        found: dict[int, set[str]] = {}
        rules_of: dict[int, list[Rule]] = {}
        for page in pages:
            for number, entry in page.entries.items():
                if entry.is_said and page.page == min(entry.pages):
                    rules_of.setdefault(id(entry), []).append(page.index.rules[number].rule)
        for page in pages:
            elsewhere = [e for e in self._order if e.is_said and page.page not in e.pages]
            owner = {id(rule): id(entry) for entry in elsewhere for rule in rules_of.get(id(entry), ())}
            sheet = Stylesheet("", [rule for entry in elsewhere for rule in rules_of.get(id(entry), ())])
            if not sheet.parts:
                continue
            index = RuleIndex([(sheet, None)], page.document.quirks)
            for element in page.document.elements:
                for pseudo in (None, *index.pseudo_elements()):
                    matching = index.matching(element, _EVERY_STATE, pseudo)
                    for number in matching:
                        if (entry_ := owner.get(id(index.rules[number].rule))) is not None:
                            found.setdefault(entry_, set()).add(page.page)
        return found

    def _default_texts(self, pages: list[_PageRules], unreached: list[Unreached]) -> str:
        """Return rules for the browser's defaults; unlayered, they must not meet a rule that stands in a layer."""
        texts: list[str] = []
        for text, value in self._defaults.items():
            if any(_meets_a_layer(page, text) for page in pages):
                token = next(one for one in TokenTable().tokens if one.text == text)
                unreached.append(Unreached(token, "a rule for it would beat one that the site has in a layer"))
            else:
                texts.append(f"{DEFAULT_RULES[text].format(value=value)}\n")
        return "".join(texts)


_DEFAULT_TARGETS: dict[str, tuple[str, Callable[[Element], bool]]] = {
    "default-canvas": ("background-color", lambda element: element.tag == "body"),
    "default-text": ("color", lambda element: element.parent is None),
    "default-link": ("color", lambda element: element.tag == "a" and "href" in element.attributes),
    "default-visited": ("color", lambda element: element.tag == "a" and "href" in element.attributes),
}


def _meets_a_layer(page: _PageRules, default: str) -> bool:
    name, is_target = _DEFAULT_TARGETS[default]
    for element in filter(is_target, page.document.elements):
        for number in page.matcher.matching(element, _EVERY_STATE):
            rule = page.index.rules[number].rule
            if rule.layer and (name in rule.block.normal or name in rule.block.important):
                return True
    return False


def _led(site: SiteFiles, base: str, url: str) -> str:
    """Return an address of a stylesheet as it is written from the top of the site."""
    path = site.resolve(url, base)
    return url if path is None else f"{site.origin}/{quote(path)}"


def _spread_along(rows: list[tuple[IndexedRule, _Entry]]) -> bool:
    moved = False
    said: list[tuple[str, object]] = []
    for indexed, entry in rows:
        for n, declaration in enumerate(entry.written.declarations):
            name = declaration.name if declaration.name.startswith("--") else declaration.lower_name
            key = indexed.important_key[:3] if declaration.important else indexed.normal_key[:3]
            if not entry.keep[n] and any(other == key and overlap(name, before) for before, other in said):
                entry.keep[n] = moved = True
            if entry.keep[n]:
                said.append((name, key))
    return moved
