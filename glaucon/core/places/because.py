"""Explains a colour to a person: the rule that sets it, rules that would override a change, layers in front."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from glaucon.core.cascade.tree import Element
from glaucon.core.known.site import KnownSite
from glaucon.core.places.widening import Lineage
from glaucon.core.scopes.cascade import ScopesByPlace
from glaucon.core.scopes.reading import place_name
from glaucon.core.scopes.values import merged_values
from glaucon.core.study.roles import Role
from glaucon.core.study.scopes import Scope, Use
from glaucon.core.study.study import Study, token_key
from glaucon.core.survey.origins import Behind, Origin, Said, Trace

_HEADINGS = frozenset({"h1", "h2", "h3", "h4", "h5", "h6"})
_NOUNS = {
    "tr": "the row", "td": "the cell", "th": "the heading cell", "thead": "the table head", "li": "the list item",
    "tbody": "the table body", "ul": "the list", "ol": "the list", "dl": "the list", "a": "the link",
    "p": "the paragraph", "form": "the form", "button": "the button", "label": "the label", "span": "the text",
    "blockquote": "the quote",
}  # fmt: skip


@dataclass(slots=True)
class Because:
    """An explanation of a colour: its property, its role, sentences for the person, and what can be changed."""

    of: str  # "text" or "background"
    role: str | None
    says: str
    notes: list[str] = field(default_factory=list)
    change: str | None = None  # the role that does change it


class Explainer:
    """Explains the colours of one element under a study."""

    def __init__(self, known: KnownSite, study: Study, page: str, lineage: Lineage) -> None:
        self._known, self._study, self._page, self._lineage = known, study, page, lineage
        self._roles = {role.id: role for role in study.roles}

    def text(self, trace: Trace) -> Because:
        """Return why the element's text has its colour."""
        role = self._role(trace.text)
        found = Because("text", role.id if role else None, self._from(trace.text, trace.element, role))
        self._by_scope(found, role, trace.text.element, is_text=True)
        outer = self._role(trace.inherited) if trace.inherited is not None else None
        if role is not None:
            found.change = role.id
            if outer is not None and outer.kind != role.kind:
                what = _what(trace.element)
                found.notes.append(f"{what}, so {outer.label} does not colour it. Change {role.label} here.")
        found.notes += self._losers(trace.text)
        return found

    def background(self, trace: Trace) -> Because:
        """Return why the element stands on the background that it stands on."""
        if not trace.behind:
            return Because("background", None, "Nothing paints a background here. The browser's white shows.")
        first = trace.behind[0]
        role = self._role(first.origin)
        own = "" if first.origin.element is trace.element else f"The background is that of {self._name(first)}. "
        found = Because("background", role.id if role else None, own + self._from(first.origin, None, role))
        self._by_scope(found, role, first.origin.element, is_text=False)
        found.change = role.id if role else None
        through = self._see_through(first)
        beyond = [*trace.behind[1:], *trace.covered]
        if through and beyond:
            found.notes.append(f"It is see-through here: {self._name(beyond[0])} shows behind it.")
        elif first.is_picture:
            found.notes.append("A picture or gradient lies on it: a colour shows only where that is clear.")
        elif not first.is_opaque and len(trace.behind) > 1:
            found.notes.append(f"It is see-through: {self._name(trace.behind[1])} shows behind it.")
        if trace.covered and not through:
            covered = self._name(trace.covered[0])
            found.notes.append(
                f"The background of {covered} does not show here: {self._name(trace.behind[-1])} covers it."
            )
        found.notes += self._losers(first.origin)
        return found

    def _role(self, origin: Origin | None) -> Role | None:
        for token in origin.tokens if origin is not None else ():
            role = self._roles.get(self._study.mapping.get(token_key(token) or "", ""))
            if role is not None:
                return role
        return None

    def _from(self, origin: Origin, element: Element | None, role: Role | None) -> str:
        """Return who says a colour, and what it is in the palette."""
        said, token = origin.said, next(iter(origin.tokens), None)
        handed = element is not None and origin.element is not element
        start = f"It takes the colour of what it lies in ({self._called(origin.element)}). " if handed else ""
        if said.kind == "browser":
            says = "No rule of the site sets this colour. The browser’s own shows"
        elif said.kind == "inline":
            says = f"The style attribute of <{origin.element.tag}> ({_place(said)}) sets it"
        elif said.kind == "attribute":
            says = f"The attribute {said.selector} ({_place(said)}) sets it"
        else:
            says = f"The rule {said.selector} ({_place(said)}) sets it"
        if said.variables and token is not None and token.file:
            says += f", through {said.variables[0]}, which is set in {token.file}, line {token.line}"
        called = f" This is {role.label}." if role is not None else ""
        if role is None and said.kind != "browser":
            called = " It is no colour of the palette: give it a use under Site, What each colour is for."
        return f"{start}{says}.{called}"

    def _by_scope(self, found: Because, role: Role | None, at: Element, is_text: bool) -> None:
        """Note the choice for a place that decides over the palette, if there is one."""
        use: Use | None = (role.kind, role.state) if role is not None else None
        scope = self._scope(use, at, is_text)
        if scope is None:
            return
        place = place_name(self._known.survey, scope.where)
        coat = next((coat.label for coat in self._study.coats if coat.id == scope.coat), "")
        by = f"The coat “{coat}”" if coat else "A colour set"
        found.notes.insert(0, f"{by} for “{place}” decides here, not the palette.")

    def _scope(self, use: Use | None, at: Element, is_text: bool) -> Scope | None:
        around = {id(at), *(id(one) for one in at.ancestors())}
        decides: Scope | None = None
        scopes = ScopesByPlace(self._study)
        for scope in scopes.of_level(self._page, None):
            decides = scope if use in merged_values(self._study, scope) else decides
        for region, element in self._lineage:
            for scope in scopes.of_level(self._page, region.key, element.path()):
                sets = merged_values(self._study, scope)
                # what lies further in than the element that says it says the colour of text again
                if (
                    (id(element) in around and use in sets)
                    or (is_text and id(element) not in around and ("text", "rest") in sets)
                    or (not is_text and element is at and ("background", "rest") in sets)
                ):
                    decides = scope
        return decides

    def _see_through(self, behind: Behind) -> bool:
        """Return whether a choice for the place lets through what lies behind a background."""
        use: Use = ("background", "rest")
        scope = self._scope(use, behind.origin.element, is_text=False)
        given = merged_values(self._study, scope).get(use) if scope is not None else None
        return given is not None and given.alpha < 1

    def _losers(self, origin: Origin) -> list[str]:
        notes = []
        for said in origin.loses[:2]:
            name = said.selector or "the style attribute"
            notes.append(f"{name} ({_place(said)}) sets {said.text or 'a colour'} too, and does not win.")
        return notes

    def _name(self, behind: Behind) -> str:
        return self._called(behind.origin.element)

    def _called(self, element: Element) -> str:
        if element.tag in ("body", "html"):
            return "the page"
        region = next((r for r, own in reversed(self._lineage) if own is element), None)
        if region is not None:
            return f"“{region.label}”"
        name = "".join(f".{one}" for one in sorted(element.classes)[:1]) or f"<{element.tag}>"
        return f"{_NOUNS.get(element.tag, 'the box')} {name}"


def _place(said: Said) -> str:
    return f"{said.file}, line {said.line}" if said.line else said.file


def _what(element: Element) -> str:
    chain: Sequence[Element] = [element, *element.ancestors()]
    if any(one.tag == "a" for one in chain):
        return "This is a link"
    if any(one.tag in _HEADINGS for one in chain):
        return "This is a heading"
    if any(one.tag == "button" for one in chain):
        return "This is a button"
    return "This has a colour of its own"
