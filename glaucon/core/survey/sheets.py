"""The stylesheets of a site's pages, each parsed once."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

import tinycss2

from glaucon.core.cascade.markup import FILE_MARK
from glaucon.core.cascade.media import media_matches, width_thresholds
from glaucon.core.cascade.rules import RuleIndex
from glaucon.core.cascade.source import Source
from glaucon.core.cascade.stylesheet import Block, Condition, Import, Rule, Stylesheet, parse_inline, parse_stylesheet
from glaucon.core.cascade.text import decode_source
from glaucon.core.cascade.tokens import PALETTE_FILE, TokenTable
from glaucon.core.cascade.tree import Document, Element
from glaucon.core.survey.site import SiteFiles

_MAX_IMPORT_DEPTH = 8
_MORE = "\0more"
BACKDROPS_FILE = "your backdrops"  # what findings call it


@dataclass(slots=True)
class LinkedSheet:
    """A stylesheet as one page uses it: with the media its link or style element names."""

    sheet: Stylesheet
    media: str
    scope: int = 0  # the shadow tree that it holds for


@dataclass(slots=True)
class SheetLibrary:
    """Parses every stylesheet and style attribute of a site once, with one table of colour tokens."""

    site: SiteFiles
    table: TokenTable
    sheets: dict[str, Stylesheet] = field(default_factory=dict)
    missing: dict[str, str] = field(default_factory=dict)
    keep_all: bool = False
    more_css: str = ""
    more_file: str = ""  # what that is called; without a name its colours are not told apart
    palette_css: str = ""  # a rule of custom properties that it may read
    page_css: Mapping[str, str] = field(default_factory=dict)  # more for single pages, before `more_css`
    _inline: dict[tuple[str, int, str], Block] = field(default_factory=dict)

    def of_file(self, path: str, depth: int = 0, quirks: bool = False) -> Stylesheet:
        """Return the stylesheet of a file with its imports put in where they stand.

        `quirks` is as its first page has it.
        """
        if path not in self.sheets:
            text = decode_source(self.site.files[path]).text
            self.sheets[path] = Stylesheet(path)  # a circle of imports finds it empty
            sheet = parse_stylesheet(Source(path, text, quirks=quirks), self.table, self.keep_all)
            self._flatten(sheet, path, depth, quirks)
            self.sheets[path] = sheet
        return self.sheets[path]

    def of_style_element(self, page: str, document: Document, element: Element) -> Stylesheet | None:
        """Return the stylesheet of a style element."""
        tag = element.source
        is_made = element.scope and page in self.site.stood and FILE_MARK not in element.attributes
        if tag is None or tag.content is None or is_made:
            return self._of_scripts(page, document, element)
        start, end = tag.content
        if f"{page}@{start}" in self.sheets:
            return self.sheets[f"{page}@{start}"]
        source = document.markup.source
        line = source.count("\n", 0, start) + 1
        piece = Source(page, source[start:end], start, first_line=line, quirks=document.quirks)
        sheet = parse_stylesheet(piece, self.table, self.keep_all)
        self._flatten(sheet, page, 0, document.quirks)
        self.sheets[f"{page}@{start}"] = sheet
        return sheet

    def _of_scripts(self, page: str, document: Document, element: Element) -> Stylesheet | None:
        """Return the stylesheet of a style element that is in no source: its colours cannot be edited."""
        text = "".join(element.texts)
        if not text.strip():
            return None
        key = f"{page}\0{text}"  # many of a kind have the same
        if key not in self.sheets:
            source = Source(page, text, editable=False, quirks=document.quirks)
            self.sheets[key] = parse_stylesheet(source, self.table, self.keep_all)
            self._flatten(self.sheets[key], page, 0, document.quirks)
        return self.sheets[key]

    def of_attribute(self, page: str, document: Document, element: Element) -> Block | None:
        """Return the block of an element's style attribute."""
        text = element.attributes.get("style")
        if not text:
            return None
        written = element.source.attribute("style") if element.source else None
        exact = written is not None and written.raw == text
        start = written.start if written is not None else -1
        key = (page, start if exact else -element.order - 2, "" if exact else text)
        if key not in self._inline:
            line = document.markup.source.count("\n", 0, max(start, 0)) + 1
            piece = Source(page, text, max(start, 0), editable=exact, first_line=line, quirks=document.quirks)
            self._inline[key] = parse_inline(piece, self.table, f"<{element.tag} style>")
        return self._inline[key]

    def _flatten(self, sheet: Stylesheet, base: str, depth: int, quirks: bool) -> None:
        """Put imported rules where the import stands, within its layer and under its conditions."""
        parts: list[Rule | Import | tuple[str, ...]] = []
        for part in sheet.parts:
            if not isinstance(part, Import):
                parts.append(part)
                continue
            path = self.site.resolve(part.url, base)
            if path is None:
                self.missing.setdefault(part.url, base)
                continue
            if depth >= _MAX_IMPORT_DEPTH:
                continue
            imported = self.of_file(path, depth + 1, quirks)
            sheet.imported.append(imported)
            sheet.thresholds |= imported.thresholds
            prefix = part.layer or ()
            around = _around(part)
            if prefix:
                parts.append(prefix)
            for inner in imported.parts:
                if isinstance(inner, Rule):
                    conditions = (*part.conditions, *inner.conditions)
                    parts.append(
                        Rule(
                            inner.selector, inner.block, conditions, prefix + inner.layer, inner.order,
                            inner.containers, around + inner.around,
                        )
                    )  # fmt: skip
                elif isinstance(inner, tuple):
                    parts.append(prefix + inner)
        sheet.parts = parts

    def of_page(self, page: str, document: Document) -> list[LinkedSheet]:
        """Return the page's stylesheets in document order; alternates and those not here are left out."""
        linked: list[LinkedSheet] = []
        for element in document.elements:
            if element.tag == "style":
                sheet = self.of_style_element(page, document, element)
                if sheet is not None and element.attributes.get("type", "text/css").strip().lower() in ("", "text/css"):
                    linked.append(LinkedSheet(sheet, element.attributes.get("media", ""), element.scope))
            elif element.tag == "link":
                rel = element.attributes.get("rel", "").lower().split()
                if "stylesheet" not in rel or "alternate" in rel or "disabled" in element.attributes:
                    continue
                url = element.attributes.get("href", "")
                path = self.site.resolve(url, self.base_of(page, document))
                if path is None:
                    self.missing.setdefault(url, page)
                else:
                    sheet = self.of_file(path, quirks=document.quirks)
                    linked.append(LinkedSheet(sheet, element.attributes.get("media", ""), element.scope))
        here = self.page_css.get(page, "")
        more = ((PALETTE_FILE, self.palette_css, PALETTE_FILE), (f"{_MORE} {here}", here, self._file_of(here)))
        for name, css, file in (*more, (_MORE, self.more_css, self.more_file)):
            if css:
                if name not in self.sheets:
                    self.sheets[name] = parse_stylesheet(Source(file, css, editable=bool(file)), self.table)
                linked.append(LinkedSheet(self.sheets[name], ""))
        return linked

    def _file_of(self, css: str) -> str:
        """Return what the file of some pages' CSS is called: two that differ have different colours in one place."""
        return f"{BACKDROPS_FILE} {list(dict.fromkeys(self.page_css.values())).index(css) + 1}" if css else ""

    def base_of(self, page: str, document: Document) -> str:
        """Return the path that relative addresses of a page start from."""
        base = next((e for e in document.elements if e.tag == "base" and "href" in e.attributes), None)
        if base is None:
            return page
        href = self.site.without_origin(base.attributes["href"])
        if "://" in href or href.startswith("//"):
            return page
        return href.lstrip("/") if href.startswith("/") else f"{page.rsplit('/', 1)[0]}/{href}" if "/" in page else href


def index_of(linked: Iterable[LinkedSheet], quirks: bool) -> RuleIndex:
    """Return the rules of a page's stylesheets, each holding where it stands."""
    some = list(linked)
    return RuleIndex([(one.sheet, condition_of(one)) for one in some], quirks, [one.scope for one in some])


def _around(imported: Import) -> tuple[str, ...]:
    """Return the at-rules that mean what an import's own conditions mean."""
    media = (f"@media {imported.media}",) if imported.media else ()
    return (*media, f"@layer {'.'.join(imported.layer)}") if imported.layer else media


def condition_of(linked: LinkedSheet) -> Condition | None:
    """Return the condition that a linked sheet's media attribute makes, None where there is none."""
    if not linked.media.strip():
        return None
    tokens = tinycss2.parse_component_value_list(linked.media)
    return lambda viewport: media_matches(tokens, viewport)


def thresholds_of(linked: LinkedSheet) -> set[float]:
    """Return the widths at which a linked sheet may change its answers."""
    return linked.sheet.thresholds | width_thresholds(tinycss2.parse_component_value_list(linked.media))
