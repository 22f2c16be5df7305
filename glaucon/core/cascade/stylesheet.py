"""A stylesheet as the cascade uses it: rules with compiled selectors, read declarations, conditions.

Sources: CSS Syntax Level 3, CSS Cascading and Inheritance Level 5, CSS Nesting, CSS Conditional Rules.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field, replace
from typing import Any

import tinycss2

from glaucon.core.cascade.media import ContainerQuery, Viewport, media_matches, width_thresholds
from glaucon.core.cascade.nesting import MOST_SELECTORS, nested_prelude, significant_prelude
from glaucon.core.cascade.properties.colours import HASHLESS, is_plain_colour, significant, with_hashes
from glaucon.core.cascade.properties.declarations import COLOUR_PROPERTIES, SHORTHANDS, parse_declaration
from glaucon.core.cascade.properties.longhands import LONGHANDS
from glaucon.core.cascade.selectors.selectors import Selector, compile_selectors
from glaucon.core.cascade.selectors.state import State
from glaucon.core.cascade.source import Source, shallow
from glaucon.core.cascade.supports import supports
from glaucon.core.cascade.tokens import TokenTable
from glaucon.core.cascade.tree import Element
from glaucon.core.colour.value import Colour

Condition = Callable[[Viewport], bool]


@dataclass(frozen=True, slots=True, eq=False)
class Written:
    """A rule as its file writes it: what an add-on stylesheet says again in other colours.

    `prelude` has nesting resolved; `wrappers` are the at-rules around it, outermost first.
    """

    source: Source
    prelude: str
    wrappers: tuple[str, ...]
    declarations: tuple[Any, ...]


@dataclass(frozen=True, slots=True)
class ColourUse:
    """A declaration that says colours: the tokens it writes and the custom properties it reads."""

    property: str
    tokens: tuple[int, ...]
    variables: tuple[str, ...]


@dataclass(slots=True, eq=False)
class Block:
    """The declarations of one rule that count here; known by identity."""

    normal: dict[str, Any] = field(default_factory=dict)
    important: dict[str, Any] = field(default_factory=dict)
    custom: dict[str, list[Any]] = field(default_factory=dict)
    important_custom: dict[str, list[Any]] = field(default_factory=dict)
    written: Written | None = None
    colours: list[ColourUse] = field(default_factory=list)

    def __bool__(self) -> bool:
        return bool(self.normal or self.important or self.custom or self.important_custom)


@dataclass(slots=True, eq=False)
class Rule:
    """One selector of a rule with its block."""

    selector: Selector
    block: Block
    conditions: tuple[Condition, ...]
    layer: tuple[str, ...]
    order: int
    containers: tuple[ContainerQuery, ...] = ()
    around: tuple[str, ...] = ()  # the at-rules that an @import puts around it


@dataclass(slots=True)
class Import:
    """An `@import`, to be read where it stands."""

    url: str
    conditions: tuple[Condition, ...]
    layer: tuple[str, ...] | None
    media: str = ""


@dataclass(slots=True)
class Problem:
    """A part of a stylesheet that does not parse: browsers drop it, the owner is told."""

    file: str
    line: int
    message: str


@dataclass(slots=True)
class Stylesheet:
    """A parsed stylesheet. `parts` holds rules, imports and layer statements in order."""

    file: str
    parts: list[Rule | Import | tuple[str, ...]] = field(default_factory=list)
    thresholds: set[float] = field(default_factory=set)
    problems: list[Problem] = field(default_factory=list)
    urls: list[tuple[str, int, int]] = field(default_factory=list)
    blocks: list[Block] = field(default_factory=list)
    coloured: list[tuple[Selector, Block]] = field(default_factory=list)  # whatever else the rules set, or do not
    imported: list[Stylesheet] = field(default_factory=list)
    readers: dict[str, set[str]] = field(default_factory=dict)  # custom property → properties that read it by var()

    def rules(self) -> Iterator[Rule]:
        """Yield the rules in order."""
        return (part for part in self.parts if isinstance(part, Rule))


@dataclass(frozen=True, slots=True)
class AtScope:
    """An `@scope`: elements in one of its roots and not in one of its limits (CSS Cascading 6, section 2.5)."""

    prelude: tuple[Any, ...]
    roots: tuple[Selector, ...]
    limits: tuple[Selector, ...]

    @classmethod
    def read(cls, prelude: list[Any]) -> AtScope:
        """Return the scope of an at-rule's prelude: `(roots) to (limits)`, both optional."""
        blocks = [node.content for node in prelude if node.type == "() block"]
        is_limit = any(getattr(node, "lower_value", "") == "to" for node in prelude)
        roots, limits = (blocks[:1], blocks[1:2]) if not is_limit or len(blocks) > 1 else ([], blocks)
        return cls(
            tuple(roots[0]) if roots else (),
            tuple(compile_selectors(roots[0])) if roots else (),
            tuple(compile_selectors(limits[0])) if limits else (),
        )

    def holds(self, element: Element, state: State) -> bool:
        """Return whether an element lies in the scope."""
        node: Element | None = element
        while node is not None:
            if any(limit.matches(node, state) for limit in self.limits):
                return False
            if not self.roots or any(root.matches(node, state) for root in self.roots):
                return True
            node = node.parent
        return False


def _scoped(selector: Selector, scopes: tuple[AtScope, ...]) -> Selector:
    inner = selector.matches
    return replace(
        selector, matches=lambda element, state: inner(element, state) and all(s.holds(element, state) for s in scopes)
    )


@dataclass(slots=True)
class _Context:
    conditions: tuple[Condition, ...] = ()
    layer: tuple[str, ...] = ()
    parent: list[Any] | None = None
    containers: tuple[ContainerQuery, ...] = ()
    media: str = ""
    wrappers: tuple[str, ...] = ()
    within: tuple[AtScope, ...] = ()
    anonymous: list[int] = field(default_factory=lambda: [0])


def parse_stylesheet(source: Source, table: TokenTable, keep_all: bool = False) -> Stylesheet:
    """Return the stylesheet of a piece of CSS; what does not parse is dropped and told in `problems`.

    Rules that set nothing the engine reads are left out, unless `keep_all`.
    """
    reader = _Reader(source, table, keep_all)
    nodes = tinycss2.parse_stylesheet(shallow(source.text), skip_comments=True, skip_whitespace=True)
    reader.read(nodes, _Context())
    return reader.sheet


def parse_inline(source: Source, table: TokenTable, selector: str) -> Block:
    """Return the block of a `style` attribute."""
    reader = _Reader(source, table)
    nodes = tinycss2.parse_blocks_contents(shallow(source.text), skip_comments=True, skip_whitespace=True)
    declarations = [n for n in nodes if n.type == "declaration"]
    block = reader.block(declarations, selector, "inline", "")
    block.written = Written(source, "", (), tuple(declarations))
    return block


class _Reader:
    def __init__(self, source: Source, table: TokenTable, keep_all: bool = False) -> None:
        self.source = source
        self.table = table
        self.keep_all = keep_all
        table.base = source.file
        self.sheet = Stylesheet(source.file)
        self.order = 0
        self.selectors = 0

    def read(self, nodes: list[Any], context: _Context) -> None:
        for node in nodes:
            if node.type == "qualified-rule":
                self._style_rule(node, context)
            elif node.type == "at-rule":
                self._at_rule(node, context)
            elif node.type == "error":
                self._problem(node, node.message)

    def _problem(self, node: Any, message: str) -> None:
        line = self.source.first_line + node.source_line - 1
        self.sheet.problems.append(Problem(self.source.file, line, message))

    def _style_rule(self, node: Any, context: _Context) -> None:
        prelude = node.prelude if context.parent is None else nested_prelude(node.prelude, context.parent)
        if prelude is None:
            self._problem(node, "nested deeper than Glaucon follows; what lies deeper is not read")
            return
        if any(token.type == "error" for token in node.prelude):
            self._problem(node, "one bracket too many")
        if context.within:
            prelude = _at_scope(prelude, context.within[-1])
        selectors = compile_selectors(prelude, MOST_SELECTORS - self.selectors)
        self.selectors += len(selectors)
        if self.selectors >= MOST_SELECTORS:
            self._problem(node, f"more than {MOST_SELECTORS:,} selectors; those that follow are not read")
        if context.within:
            selectors = [_scoped(selector, context.within) for selector in selectors]
        contents = tinycss2.parse_blocks_contents(node.content, skip_comments=True, skip_whitespace=True)
        text = tinycss2.serialize(node.prelude).strip()
        self._contents(contents, selectors, text, replace(context, parent=significant_prelude(prelude)))

    def _contents(self, contents: list[Any], selectors: list[Selector], text: str, inner: _Context) -> None:
        """Read declarations and nested rules, keeping their order (CSS Nesting, section 4.2)."""
        run: list[Any] = []
        for child in contents:
            if child.type == "declaration":
                run.append(child)
                continue
            self._emit(run, selectors, text, inner)
            run = []
            if child.type == "qualified-rule":
                self._style_rule(child, inner)
            elif child.type == "at-rule":
                self._nested_at_rule(child, selectors, text, inner)
            elif child.type == "error":
                self._problem(child, child.message)
        self._emit(run, selectors, text, inner)

    def _nested_at_rule(self, node: Any, selectors: list[Selector], text: str, inner: _Context) -> None:
        context = self._conditional(node, inner)
        if context is None or node.content is None:
            return
        contents = tinycss2.parse_blocks_contents(node.content, skip_comments=True, skip_whitespace=True)
        self._contents(contents, selectors, text, context)

    def _emit(self, declarations: list[Any], selectors: list[Selector], text: str, context: _Context) -> None:
        if not declarations:
            return
        block = self.block(declarations, text, "rule", context.media)
        if block.colours:
            self.sheet.coloured.extend((selector, block) for selector in selectors)
        if not block and not self.keep_all:
            return
        block.written = Written(self.source, _text_of(context.parent), context.wrappers, tuple(declarations))
        self.sheet.blocks.append(block)
        for selector in selectors:
            self.order += 1
            self.sheet.parts.append(
                Rule(selector, block, context.conditions, context.layer, self.order, context.containers)
            )

    def _at_rule(self, node: Any, context: _Context) -> None:
        keyword = node.lower_at_keyword
        if keyword == "import":
            self._import(node, context)
        elif keyword == "layer" and node.content is None:
            for part in tinycss2.serialize(node.prelude).split(","):
                self.sheet.parts.append((*context.layer, *part.strip().split(".")))
        else:
            inner = self._conditional(node, context)
            if inner is not None and node.content is not None:
                self.read(tinycss2.parse_rule_list(node.content, skip_comments=True, skip_whitespace=True), inner)

    def _conditional(self, node: Any, context: _Context) -> _Context | None:
        """Return the context inside a conditional or layer rule, None for at-rules that hold no style rules."""
        keyword = node.lower_at_keyword
        conditions, layer, media = context.conditions, context.layer, context.media
        wrappers = (*context.wrappers, f"@{keyword} {tinycss2.serialize(node.prelude).strip()}".strip())
        if keyword == "media":
            prelude = node.prelude
            self.sheet.thresholds |= width_thresholds(prelude)
            conditions = (*conditions, lambda viewport: media_matches(prelude, viewport))
            media = f"{media} {tinycss2.serialize(prelude).strip()}".strip()
        elif keyword == "supports":
            if not supports(significant(node.prelude)):
                return None
        elif keyword == "container":
            query = ContainerQuery.read(node.prelude)
            self.sheet.thresholds |= width_thresholds(list(query.prelude))
            return replace(context, containers=(*context.containers, query), wrappers=wrappers)
        elif keyword == "layer":
            name = tinycss2.serialize(node.prelude).strip()
            if not name:
                context.anonymous[0] += 1
                name = f"\0{self.source.file}:{self.source.offset}:{context.anonymous[0]}"
            layer = (*layer, *name.split("."))
            self.sheet.parts.append(layer)
        elif keyword == "scope":
            return replace(context, within=(*context.within, AtScope.read(node.prelude)), wrappers=wrappers)
        else:
            return None
        return replace(context, conditions=conditions, layer=layer, media=media, wrappers=wrappers)

    def _import(self, node: Any, context: _Context) -> None:
        tokens = significant(node.prelude)
        if not tokens:
            return
        url = getattr(tokens[0], "value", None) if tokens[0].type in ("url", "string") else None
        if tokens[0].type == "function" and tokens[0].lower_name == "url":
            url = next((n.value for n in tokens[0].arguments if n.type == "string"), None)
        if url is None:
            return
        rest = tokens[1:]
        layer: tuple[str, ...] | None = None
        if rest and rest[0].type == "ident" and rest[0].lower_value == "layer":
            context.anonymous[0] += 1
            layer, rest = (f"\0{self.source.file}:i{context.anonymous[0]}",), rest[1:]
        elif rest and rest[0].type == "function" and rest[0].lower_name == "layer":
            layer, rest = tuple(tinycss2.serialize(rest[0].arguments).strip().split(".")), rest[1:]
        if rest and rest[0].type == "function" and rest[0].lower_name == "supports":
            if not supports(significant(rest[0].arguments)):
                return
            rest = rest[1:]
        self.sheet.thresholds |= width_thresholds(rest)
        media = tinycss2.serialize(rest).strip()
        self.sheet.parts.append(Import(url, (lambda viewport: media_matches(rest, viewport),), layer, media))

    def block(self, declarations: list[Any], selector: str, kind: str, media: str) -> Block:
        """Return what a list of declarations sets; later ones win, as in a browser."""
        block = Block()
        for declaration in declarations:
            name = declaration.name if declaration.name.startswith("--") else declaration.lower_name
            if self.source.quirks and name in HASHLESS:
                declaration.value = with_hashes(declaration.value)
            self._note_urls(declaration.value)
            before, variables = len(self.table.tokens), self._note_readers(name, declaration.value)
            self._register(declaration, name, selector, kind, media)
            tokens = tuple(range(before, len(self.table.tokens)))
            if tokens or (variables and (name.startswith("--") or name in COLOUR_PROPERTIES)):
                block.colours.append(ColourUse(name, tokens, variables))
            if name.startswith("--"):
                custom = block.important_custom if declaration.important else block.custom
                custom.pop(name, None)
                custom[name] = declaration.value
                continue
            values = parse_declaration(name, declaration.value, self.table)
            if values:
                target = block.important if declaration.important else block.normal
                for longhand, value in values.items():
                    target[longhand] = value
        return block

    def _note_readers(self, name: str, nodes: list[Any]) -> tuple[str, ...]:
        """Note and return the custom properties that a declaration reads."""
        found: list[str] = []
        for node in nodes:
            if node.type == "function":
                if node.lower_name == "var":
                    first = next((n for n in node.arguments if n.type == "ident"), None)
                    if first is not None:
                        self.sheet.readers.setdefault(first.value, set()).add(name)
                        found.append(first.value)
                found.extend(self._note_readers(name, node.arguments))
        return tuple(found)

    def _note_urls(self, nodes: list[Any]) -> None:
        for node in nodes:
            if node.type == "url" and self.source.editable:
                _, start, _, _, _ = self.source.place(node)
                self.sheet.urls.append((node.value, start, start))
            elif node.type == "function":
                self._note_urls(node.arguments)

    def _register(self, declaration: Any, name: str, selector: str, kind: str, media: str) -> None:
        custom = name.startswith("--")
        if not self.source.file or (not custom and name not in COLOUR_PROPERTIES):
            return  # the browser's own sheet has no file: nothing in it is the site's
        if any(
            n.type == "function" and n.lower_name.startswith(("-webkit-gradient", "-moz-", "-o-", "-ms-"))
            for n in declaration.value
        ):
            return  # dropped by browsers; a var() would make the whole declaration count
        if not custom and not self._accepted(name, declaration.value):
            return
        values = significant(declaration.value)
        if custom and name.lower().endswith("rgb") and (channels := _channels(values)) is not None:
            self._register_channels(values, channels, name, selector, kind, media)
            return
        for node in declaration.value:
            alone = custom and len(values) == 1
            self._register_node(node, name, selector, kind, media, names=not custom or alone)

    def _register_channels(
        self, values: list[Any], colour: Colour, name: str, selector: str, kind: str, media: str
    ) -> None:
        """Register three numbers as one colour: frameworks write `--x-rgb: 33, 37, 41` for `rgba(var(--x-rgb), 1)`."""
        file, start, _, line, column = self.source.place(values[0])
        _, last, _, _, _ = self.source.place(values[-1])
        end = last + len(values[-1].representation) if last >= 0 else -1
        text = self.source.text[start - self.source.offset : end - self.source.offset] if start >= 0 else ""
        self.table.add(
            text, colour, kind=kind, prop=name, selector=selector, place=(file, start, end, line, column), media=media,
            node=values[0], form="channels",
        )  # fmt: skip

    def _accepted(self, name: str, tokens: list[Any]) -> bool:
        if name in LONGHANDS or name in SHORTHANDS:
            return bool(parse_declaration(name, tokens, self.table))
        return True

    def _register_node(self, node: Any, prop: str, selector: str, kind: str, media: str, names: bool) -> None:
        colour = is_plain_colour(node) if names or node.type != "ident" else None
        if colour is not None:
            place = self.source.place(node)
            text = (
                self.source.text[place[1] - self.source.offset : place[2] - self.source.offset]
                if place[1] >= 0
                else node.serialize()
            )
            form = "hashless" if node.type == "hash" and not text.startswith("#") else "colour"
            self.table.add(
                text, colour, kind=kind, prop=prop, selector=selector, place=place, media=media, node=node, form=form
            )
        elif node.type == "function" and node.lower_name != "url":
            for child in node.arguments:
                inner_names = names or "gradient" in node.lower_name or node.lower_name == "color-mix"
                self._register_node(child, prop, selector, kind, media, inner_names)


def _channels(values: list[Any]) -> Colour | None:
    """Return the colour of three whole numbers of 0 to 255, with commas or without; None for anything else."""
    numbers = [node for node in values if node.type == "number" and node.is_integer and 0 <= node.int_value <= 255]
    commas = [node for node in values if node.type == "literal" and node.value == ","]
    if len(numbers) != 3 or len(numbers) + len(commas) != len(values) or len(commas) not in (0, 2):
        return None
    red, green, blue = (node.int_value / 255 for node in numbers)
    return Colour(red, green, blue)


def _text_of(prelude: list[Any] | None) -> str:
    return "" if prelude is None else str(tinycss2.serialize(prelude)).strip()


def _at_scope(prelude: list[Any], scope: AtScope) -> list[Any]:
    """Return a prelude with `&` and `:scope` standing for the scope's roots (for the page's root where it has none)."""
    roots = tinycss2.serialize(scope.prelude) or ":root"
    text = re.sub(r":scope\b", lambda _: f":is({roots})", tinycss2.serialize(prelude).replace("&", ":scope"))
    return list(tinycss2.parse_component_value_list(text))
