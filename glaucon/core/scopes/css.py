"""The rules that dress pages, sections and parts: the one place that turns scopes into CSS.

Each scope is a rule on its region's selector. It redefines the custom properties of all roles of the kinds it sets and
says `color` and `background-color` again on that element, below all rules of the site's own (`:where()` in a layer).
Custom properties of the site that are made of such roles are said again too, since what an element around gave them
stays.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass

from tinycss2.serializer import serialize_identifier

from glaucon.core.cascade.tokens import ColourToken
from glaucon.core.colour.value import Colour, css_text
from glaucon.core.scopes.hints import hints_within, quoted
from glaucon.core.scopes.inherited import Inks, in_state, inks_of
from glaucon.core.scopes.values import Apart, contradicting_tokens, ground_worn, merged_values, opacity_share
from glaucon.core.study.roles import Role
from glaucon.core.study.scopes import Scope, Use, Where
from glaucon.core.study.study import Study
from glaucon.core.study.wearing import Property, Worn, contradicting_uses, properties_of, worn_by
from glaucon.core.survey.model import HandedDown, Region, Survey

_LAYER = "gl-scopes"
# Gives a selector of the root element for some pages and what is looked for on them; None where nothing tells them.
RootOf = Callable[[Sequence[str], str], str | None]


@dataclass(slots=True)
class Dressing:
    """Writes a study's scopes as CSS rules, per page or for all pages at once."""

    study: Study
    regions: Mapping[str, Region]
    tokens: list[ColourToken]
    inks: Mapping[Where, Inks]
    _worn: dict[int, Worn] | None = None
    _in_attributes: list[Worn] | None = None
    _tokens_of: dict[str, list[int]] | None = None

    @property
    def kinds(self) -> frozenset[Use]:
        """Return all that some scope sets."""
        return frozenset(use for scope in self.study.worn for use in merged_values(self.study, scope))

    def css(self, page: str, marker: str = ":root") -> str:
        """Return the rules for one page, "" where it has none; `marker` is a selector of its root element.

        Scopes on what is not on the page are left out.
        """
        properties = properties_of(self.study, self.tokens)
        rules: list[str] = []
        roots: list[str] = []
        for scope in _in_order(self.study.worn, page):
            selector = self._selector(scope, page)
            if selector is None:
                continue
            values = merged_values(self.study, scope)
            apart = self._apart(scope, values)
            again = self._said_again(scope, values, apart, [page]).get((page,), [])
            said = [*self._redefined(values, apart, properties), *again]
            grounds = self._grounds(scope, values)
            if selector == "":
                roots.append(_rule(marker, said))
                rules.append(_rule(f":where({marker})", grounds) if grounds else "")
            else:
                inside = selector if marker == ":root" else f"{marker} {_without_root(selector)}"
                rules.append(_rule(f":where({inside})", [*said, *grounds]))
                rules += self._words(scope, inside)
                if (ground := self._join_on(scope, page)) is not None:
                    rules.append(_joined(inside, ground))
        hints = hints_within(self._hinted(page)) if rules else []
        inner = "\n".join(rule for rule in (*hints, *rules) if rule)
        layered = f"@layer {_LAYER} {{\n{inner}\n}}" if inner else ""
        return "\n".join(part for part in (*roots, layered) if part)

    def _hinted(self, page: str) -> list[Worn]:
        """Return what pages say in presentational attributes of a kind that some scope sets, one page's own last.

        All pages' together, so that pages on which the same is worn go on sharing a stylesheet.
        """
        if self._in_attributes is None:
            some, kinds = [token for token in self.tokens if token.kind == "attribute"], self.kinds
            self._in_attributes = [w for w in worn_by(self.study, some) if (w.role.kind, w.role.state) in kinds]
        return sorted(self._in_attributes, key=lambda worn: worn.token.file == page)

    def for_previews(self, pages: Collection[str], attribute: str) -> str:
        """Return the rules for all pages at once, each page told by an attribute of its root element."""
        return self.for_all(pages, root_marker(pages, attribute))

    def for_all(
        self, pages: Collection[str], root_of: RootOf, missed: list[str] | None = None,
    ) -> str:  # fmt: skip
        """Return a stylesheet with the rules of all pages.

        `root_of` returns a selector of the root element that matches the given pages but no other page on which the
        scope's selector matches; if it returns None, a comment names the place left out, and so does `missed`.
        """
        properties = properties_of(self.study, self.tokens)
        rules: list[str] = []
        for scope in _in_order(self.study.worn, None):
            region = self.regions.get(scope.where.region or "")
            names = self._names(scope, region, pages)
            selector = self._selector(scope, names[0]) if names else None
            if selector is None:
                continue
            root = root_of(names, selector)
            if root is None:
                rules.append(unreached(region.label if region is not None else "The page", names[0], missed))
            else:
                rules += self._of_scope(scope, names, selector, root, root_of, properties)
        return "\n".join(rules)

    def _names(self, scope: Scope, region: Region | None, pages: Collection[str]) -> list[str]:
        """Return the pages on which a scope holds, limited to `pages`."""
        where = scope.where
        if where.region is not None and region is None:
            return []
        on = {where.page} if where.page is not None else region.pages if region is not None else set()
        return sorted(page for page in on if page is not None and page in pages)

    def _of_scope(
        self, scope: Scope, names: list[str], selector: str, root: str, root_of: RootOf,
        properties: Mapping[str, list[Property]],
    ) -> list[str]:  # fmt: skip
        """Return a scope's rules on some pages that `root` tells."""
        values = merged_values(self.study, scope)
        apart = self._apart(scope, values)
        again = self._said_again(scope, values, apart, names)
        said = [*self._redefined(values, apart, properties), *again.pop(tuple(names), [])]
        grounds = self._grounds(scope, values)
        if selector == "":
            rules = [_rule(root, said), _in_layer(_rule(f":where({root})", grounds))]
        else:
            inside = f"{root} {_without_root(selector)}"
            rules = [_in_layer(_rule(f":where({inside})", [*said, *grounds]))]
            rules += map(_in_layer, self._words(scope, inside))
        for some, more in again.items():
            narrower = root_of(some, selector)
            if narrower is not None:
                rules.append(_in_layer(_rule(f":where({narrower} {_without_root(selector)})", more)))
        return rules + self._joined_for_all(scope, selector, root_of)

    def _join_on(self, scope: Scope, page: str) -> tuple[float, Colour] | None:
        """Return how far a section goes on below itself on a page, and in which background; None where it does not."""
        if scope.join is None or scope.where.region is None or page not in scope.join.pages:
            return None
        own = ground_worn(self.study, scope.where.region, page)
        is_one = own is not None and own.alpha == 1 and own == ground_worn(self.study, scope.join.below, page)
        return (scope.join.by, own) if own is not None and is_one else None

    def _joined_for_all(self, scope: Scope, selector: str, root_of: RootOf) -> list[str]:
        region = self.regions.get(scope.where.region or "")
        by_ground: dict[tuple[float, Colour], list[str]] = {}
        for page in sorted(region.pages) if region is not None and scope.join is not None else ():
            if scope.where.page in (None, page) and (found := self._join_on(scope, page)) is not None:
                by_ground.setdefault(found, []).append(page)
        rooted = ((root_of(pages, selector), ground) for ground, pages in by_ground.items())
        return [
            _in_layer(_joined(f"{root} {_without_root(selector)}", ground))
            for root, ground in rooted
            if root is not None
        ]

    def _selector(self, scope: Scope, page: str) -> str | None:
        """Return what finds a scope's elements on a page, "" for the page itself, None where it is not there."""
        return selector_of(scope.where, self.regions, page)

    def _apart(self, scope: Scope, values: Mapping[Use, Colour]) -> Apart:
        """Return overrides for tokens whose use in the scope's region contradicts their role's kind."""
        if self._tokens_of is None:
            self._tokens_of = {}
            for worn in worn_by(self.study, self.tokens):
                self._tokens_of.setdefault(worn.role.id, []).append(worn.token.number)
        region = self.regions.get(scope.where.region or "")
        otherwise = contradicting_uses(self.study, self._tokens_of, region) if region is not None else ()
        return contradicting_tokens(self.study, values, otherwise)

    def _redefined(
        self, values: Mapping[Use, Colour], apart: Apart, properties: Mapping[str, list[Property]]
    ) -> list[str]:
        said = []
        for role in self.study.roles:
            use = (role.kind, role.state)
            colour = apart.get(role.id) or values.get(use)
            if colour is None or role.tier == "unseen":
                continue
            worn = _in_colour(role, colour)
            for one in properties.get(role.id, [Property(role.id)]):
                share = 1.0 if role.id in apart else opacity_share(use, one.share)
                said.append(f"{one.name}: {one.value(worn, share)}")
        return said

    def _grounds(self, scope: Scope, values: Mapping[Use, Colour]) -> list[str]:
        """Return text and background as said again on the element; what a browser draws keeps its own."""
        region = self.regions.get(scope.where.region or "")
        return [] if region is not None and region.is_drawn else _grounds(values)

    def _words(self, scope: Scope, selector: str) -> list[str]:
        """Return rules that say the colour of a single element's words again, in each state that changes it."""
        inks = self.inks.get(scope.where, {})
        worn = {state: self._by_token[token] for state, token in inks.items() if token in self._by_token}
        return [
            _rule(f":where({in_state(selector, state)})", [f"color: {self._part(one.token.number, one, {})}"])
            for state, one in worn.items()
            if one.token.form == "colour" and one.role.tier != "unseen"
        ]

    def _said_again(
        self, scope: Scope, values: Mapping[Use, Colour], apart: Apart, names: Sequence[str]
    ) -> dict[tuple[str, ...], list[str]]:
        """Return declarations that repeat inherited custom properties made of a role that the scope sets.

        By the pages of `names` on which they have the value. Those of the page itself stand where its roles are
        redefined, so they need no saying.
        """
        region = self.regions.get(scope.where.region or "")
        pages_of: dict[str, set[str]] = {}
        for one in region.handed_down if region is not None else ():
            if text := self._again(one, values, apart):
                pages_of.setdefault(text, set()).update(names if one.pages is None else one.pages)
        by_pages: dict[tuple[str, ...], list[str]] = {}
        for text, pages in pages_of.items():
            by_pages.setdefault(tuple(name for name in names if name in pages), []).append(text)
        by_pages.pop((), None)
        return by_pages

    def _again(self, one: HandedDown, values: Mapping[Use, Colour], apart: Apart) -> str:
        """Return a declaration that says a property again, "" where nothing it is made of is set."""
        worn = {part: self._by_token[part] for part in one.parts if isinstance(part, int) and part in self._by_token}
        seen = [w.role for w in worn.values() if w.role.tier != "unseen"]
        is_set = any(role.id in apart or (role.kind, role.state) in values for role in seen)
        if not is_set and apart.keys().isdisjoint(worn):
            return ""
        parts = (part if isinstance(part, str) else self._part(part, worn.get(part), apart) for part in one.parts)
        return f"{serialize_identifier(one.name)}: {''.join(parts).strip()}"

    @property
    def _by_token(self) -> dict[int, Worn]:
        if self._worn is None:
            self._worn = {worn.token.number: worn for worn in worn_by(self.study, self.tokens)}
        return self._worn

    def _part(self, number: int, worn: Worn | None, apart: Apart) -> str:
        text = self.tokens[number].text
        if worn is not None and number in apart:
            return worn.custom_property.value(_in_colour(worn.role, apart[number]), 1.0)
        return text if worn is None else f"var({worn.custom_property.name}, {text})"


def selector_of(where: Where, regions: Mapping[str, Region], page: str) -> str | None:
    """Return what finds a place's elements on a page, "" for the page itself, None where it is not there."""
    if where.at is not None:
        return where.at.replace(">", " > ").split("::")[0]
    if where.region is None:
        return ""
    region = regions.get(where.region)
    return region.selector if region is not None and page in region.pages else None


def root_marker(pages: Collection[str], attribute: str) -> Callable[[Sequence[str], str], str]:
    """Return what gives a selector of the root element on some of the pages, told by an attribute of it."""

    def root(names: Sequence[str], selector: str) -> str:
        # everywhere: nothing has to be told apart
        told = ", ".join(f"[{attribute}={quoted(name)}]" for name in names)
        return ":root" if len(names) == len(pages) else f":root:is({told})"

    return root


def dressing_of(study: Study, survey: Survey) -> Dressing:
    """Return a study's scopes made ready to be written for a site."""
    return Dressing(
        study, {region.key: region for region in survey.regions}, survey.tokens, inks_of(survey, study.worn)
    )


def _in_order(worn: Iterable[Scope], page: str | None) -> list[Scope]:
    """Return the scopes that hold on a page, or all, the weakest first: everywhere, on one page, at one element."""
    here = [scope for scope in worn if page is None or scope.where.page in (None, page)]
    return sorted(here, key=lambda scope: (scope.where.at is not None, scope.where.page is not None))


def _grounds(values: Mapping[Use, Colour]) -> list[str]:
    said = []
    if (text := values.get(("text", "rest"))) is not None:
        said.append(f"color: {css_text(text)}")
    if (background := values.get(("background", "rest"))) is not None:
        said.append(f"background-color: {css_text(background)}")
    return said


def _in_colour(role: Role, colour: Colour) -> Role:
    return role.model_copy(update={"value": css_text(colour)})


def _joined(selector: str, ground: tuple[float, Colour]) -> str:
    """Return the rule that paints what is between a section and the one below: a copy of its box, moved down."""
    by, colour = ground
    return _rule(f":where({selector})", [f"box-shadow: 0 {by:g}px {css_text(colour)}"])


def _rule(selector: str, said: Iterable[str]) -> str:
    inner = "; ".join(said)
    return f"{selector} {{ {inner} }}" if inner else ""


def _in_layer(rule: str) -> str:
    return f"@layer {_LAYER} {{ {rule} }}"


def unreached(place: str, page: str, missed: list[str] | None) -> str:
    """Return a comment on what no selector reaches on a page; `missed` gets it as a sentence."""
    said = f"{_plain(place)} is not reached on {_plain(page)}: nothing tells it apart."
    if missed is not None:
        missed.append(said)
    return f"/* {said} */"


def _plain(text: str) -> str:
    return text.replace("*/", "* /")


def _without_root(selector: str) -> str:
    return selector.removeprefix("html > ")
