"""The texts of a page with something opened at a click: those that are other than at rest."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace

import tinycss2

from glaucon.core.cascade.computed import Cascade
from glaucon.core.cascade.media import Viewport
from glaucon.core.cascade.opened import Opened, OpenedDocument, with_opened
from glaucon.core.cascade.rules import PageMatcher, RuleIndex
from glaucon.core.cascade.selectors.state import STATES, State
from glaucon.core.cascade.stylesheet import Block
from glaucon.core.cascade.tree import Document, Element
from glaucon.core.survey.model import ContextKey, Survey
from glaucon.core.survey.regions import RegionsOfPage
from glaucon.core.survey.sheets import LinkedSheet, SheetLibrary
from glaucon.core.survey.texts import mark_kinds
from glaucon.core.survey.walk.frame import Beside, PageContext, Register, Remembered
from glaucon.core.survey.walk.walk import PageWalk

_REST = State()
# attributes that browsers themselves show something by
_SHOWN_BY_ATTRIBUTES = frozenset(
    "open hidden checked disabled value placeholder type src bgcolor color text link fill stroke size selected "
    "popover".split()
)
_HOLDS_STILL = ("padding", "margin", "overflow", "position", "top", "left", "right", "width", "inset", "height")


class OpenPage:
    """A page whose parts are opened one by one; what they leave alone is taken over from the page at rest.

    No layout is measured of what is open: it is held against the page at rest without one.
    """

    def __init__(
        self, context: PageContext, linked: list[LinkedSheet], library: SheetLibrary,
        index_of: Callable[[list[LinkedSheet], bool], RuleIndex],
        cascade_of: Callable[[RuleIndex, Viewport], Cascade], rest: Mapping[Viewport, Remembered],
    ) -> None:  # fmt: skip
        """`rest` is what the page showed at rest, as far as it is known without a layout."""
        self._context, self._linked, self._library = context, linked, library
        self._index_of, self._cascade_of = index_of, cascade_of
        self._rest = dict(rest)

    def walk(
        self, opened: Opened, register: Callable[[RegionsOfPage, Beside], Register], survey: Survey
    ) -> list[Element]:
        """Note the texts that something opened makes other; return the elements that are shown by it."""
        keys = [key for key in survey.sightings if key.state == opened.state]
        if not keys:
            return []
        change = with_opened(self._context.document, opened)
        document = change.document
        mark_kinds(document)
        context, index, is_other = self._opened(document, register)
        is_all = is_other or index.looks_inside
        touched = frozenset([document.root.order]) if is_all else self._touched(change, index)
        before, shown = len(survey.runs), set[int]()
        for key in keys:
            viewport = Viewport(key.width, key.scheme)
            cascade = self._cascade_of(index, viewport)
            plain = self._plain(viewport)
            found = PageWalk(context, cascade, _REST, plain, changed=touched).run()
            known = {(one.run, one.pairing) for one in plain.sightings}
            survey.sightings[key].extend([one for one in found.sightings if (one.run, one.pairing) not in known])
            shown.update(found.spans.keys() - plain.spans.keys())
            if len(survey.runs) > before:
                self._in_states(context, cascade, found, key, before, survey, touched)
        return [document.elements[order] for order in sorted(shown)]

    def _opened(
        self, document: Document, register: Callable[[RegionsOfPage, Beside], Register]
    ) -> tuple[PageContext, RuleIndex, bool]:
        """Return what walks over the page share, the rules that hold there, and whether those are others."""
        page, base = self._context.page, self._context.document
        linked = self._linked
        is_other = any(
            one.attributes != old.attributes or one.source is not old.source
            for one, old in zip(document.elements, base.elements, strict=False) if one.tag in ("style", "link")
        ) or any(one.tag in ("style", "link") for one in document.elements[len(base.elements) :])  # fmt: skip
        if is_other:
            linked = self._library.of_page(page, document)
        index = self._index_of(linked, document.quirks)

        def inline(element: Element) -> Block | None:
            return self._library.of_attribute(page, document, element) if element.attributes else None

        regions = self._context.regions
        chains = list(regions.chains)
        for element in document.elements[len(chains) :] if chains else ():
            chains.append(() if element.parent is None else chains[element.parent.order])
        regions, beside = RegionsOfPage(chains, regions.starts), Beside()
        context = replace(
            self._context, document=document, matcher=PageMatcher(index), inline=inline, regions=regions,
            register=register(regions, beside), beside=beside,
        )  # fmt: skip
        return context, index, is_other

    def _touched(self, change: OpenedDocument, index: RuleIndex) -> frozenset[int]:
        """Return the elements that may look otherwise: other rules match them, or they say otherwise themselves."""
        before, after = self._context.document.elements, change.document.elements
        found = set(change.anew)
        for order, names in change.named.items():
            if _says_otherwise(before[order], after[order], names):
                found.add(order)
            rules = index.naming(names)
            if not rules:
                continue
            around = after[order].parent
            siblings = around.standing[after[order].position :] if around is not None else []
            for root in (after[order], *siblings):
                for one in (root, *root.descendants()):
                    if one.order < len(before) and any(
                        rule.matches(before[one.order], _REST) != rule.matches(one, _REST) for rule in rules
                    ):
                        found.add(one.order)
        return frozenset(found)

    def _plain(self, viewport: Viewport) -> Remembered:
        if viewport not in self._rest:
            index = self._context.matcher.index
            self._rest[viewport] = PageWalk(self._context, self._cascade_of(index, viewport), _REST).run()
        return self._rest[viewport]

    def _in_states(
        self, context: PageContext, cascade: Cascade, rest: Remembered, key: ContextKey, before: int, survey: Survey,
        touched: frozenset[int],
    ) -> None:  # fmt: skip
        """Note how the texts that are only there when it is open look in the other states: a menu's, hovered."""
        fresh = {one.run for one in rest.sightings if one.run >= before}
        for state in STATES[1:]:
            there = survey.sightings.get(ContextKey(key.width, state, key.scheme))
            if there is not None and fresh:
                found = PageWalk(context, cascade, State.named(state), rest, changed=touched).run()
                there.extend([one for one in found.sightings if one.run in fresh])


def _says_otherwise(was: Element, now: Element, names: frozenset[str]) -> bool:
    """Return whether an element's own attributes say how it looks, and otherwise than before."""
    if names & _SHOWN_BY_ATTRIBUTES:
        return True
    if "style" not in names:
        return False
    said = [_said(one) for one in (was, now)]
    other = {name for name in {*said[0], *said[1]} if said[0].get(name) != said[1].get(name)}
    # what holds the page still while something lies over it
    return not all(name.startswith(_HOLDS_STILL) for name in other) if now.tag in ("html", "body") else bool(other)


def _said(element: Element) -> dict[str, str]:
    said = tinycss2.parse_blocks_contents(element.attributes.get("style", ""), skip_comments=True, skip_whitespace=True)
    return {one.lower_name: tinycss2.serialize(one.value) for one in said if one.type == "declaration"}


def opened_states(survey: Survey) -> dict[str, list[str]]:
    """Return the states that clicks make which show anything, in order, each with its pages."""
    found: dict[str, dict[str, None]] = {}
    for key, sightings in survey.sightings.items():
        if key.state not in STATES and len(sightings):
            pages = found.setdefault(key.state, {})
            pages.update(dict.fromkeys(survey.runs[run].page for run in sightings.runs))
    return {state: list(pages) for state, pages in found.items()}
