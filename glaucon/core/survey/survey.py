"""The survey of a site: every text of every page, in the states and at the widths asked for."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field, replace
from functools import partial

from glaucon.core.cascade.computed import Cascade, Style
from glaucon.core.cascade.expression import Expression, Literal, placed
from glaucon.core.cascade.hints import Hints
from glaucon.core.cascade.media import Viewport
from glaucon.core.cascade.opened import openings_of
from glaucon.core.cascade.properties.images import CssPicture
from glaucon.core.cascade.rules import PageMatcher, RuleIndex
from glaucon.core.cascade.selectors.state import OPENED, STATES, State
from glaucon.core.cascade.stylesheet import Block
from glaucon.core.cascade.tokens import TokenTable
from glaucon.core.cascade.tree import Document, Element, parse_document
from glaucon.core.layout.document import Layouts, PageLayout
from glaucon.core.survey.handed_down import HandedDownProperties
from glaucon.core.survey.layers import LayerMaker
from glaucon.core.survey.marks import Pictured, selector_of, words_of
from glaucon.core.survey.model import ContextKey, Fill, Mark, Pairing, Run, Sightings, Survey, Thing
from glaucon.core.survey.painters import note_painters, painted_by
from glaucon.core.survey.panels import PanelsFound
from glaucon.core.survey.part_uses import regions_with_uses
from glaucon.core.survey.pictures import PictureShelf
from glaucon.core.survey.reach import Reach
from glaucon.core.survey.regions import FoundRegions, RegionsOfPage, find_regions
from glaucon.core.survey.sheets import LinkedSheet, SheetLibrary, index_of, thresholds_of
from glaucon.core.survey.site import Progress, SiteFiles
from glaucon.core.survey.texts import mark_kinds, own_words
from glaucon.core.survey.walk.frame import Beside, PageContext, Register, Remembered
from glaucon.core.survey.walk.laid_out import Cell, LaidOut, Probed, lifting_selectors
from glaucon.core.survey.walk.openings import OpenPage
from glaucon.core.survey.walk.things import SeenThing, Sign
from glaucon.core.survey.walk.walk import PageWalk

# Part of the name a kept survey has: raise it whenever the engine answers differently.
ENGINE = 35
# The screens that every survey answers for; the site's own media queries add bands between them.
STANDARD_WIDTHS = (1280, 768, 390)
_NARROWEST_PX, _WIDEST_PX = 320, 1920
_MAX_BANDS = 8


_CONTROLS = frozenset({"input", "textarea", "select", "button"})


@dataclass(slots=True)
class _Collector:
    """Numbers runs and pairings as they are met."""

    survey: Survey
    pairings: dict[Pairing, int] = field(default_factory=dict)
    chains: dict[tuple[int, ...], int] = field(default_factory=lambda: {(): 0})
    runs_of_page: dict[str, dict[tuple[int, str, str], int]] = field(default_factory=dict)

    def of_page(self, page: str, regions: RegionsOfPage, beside: Beside, opened: str = "", known: int = 0) -> Register:
        """Return the function that records a page's texts as runs and pairings (see `frame.Register`).

        `opened` is what is open on it; so many elements are `known` without.
        """
        runs = self.runs_of_page.setdefault(page, {})

        def register(element: Element, suffix: str, text: str, pairing: Pairing) -> tuple[int, int]:
            # what is new in something opened has an order of its own there only
            key = (element.order, suffix, opened if element.order >= known else "")
            number = runs.get(key)
            if number is None:
                number = runs[key] = len(self.survey.runs)
                self.survey.runs.append(_run(page, element, suffix, text, self._chain(regions, element), opened))
            if (over := beside.get((element.order, suffix))) is not None:
                self.survey.beside[number] = tuple((self._number_of(chain), path) for chain, path in over)
            return number, self.number(pairing)

        return register

    def number(self, pairing: Pairing) -> int:
        """Return a pairing's number."""
        which = self.pairings.get(pairing)
        if which is None:
            which = self.pairings[pairing] = len(self.survey.pairings)
            self.survey.pairings.append(pairing)
        return which

    def mark(self, page: str, shown: Pictured, regions: RegionsOfPage, shelf: PictureShelf) -> None:
        """Note a logo or an icon."""
        element, source, selector = shown.element, "", selector_of(shown.element, regions.starts)
        if shown.kind == "drawing":
            source = selector
            main: list[tuple[Expression, float]] = [(ink, 1 / len(shown.inks)) for ink in shown.inks]
        else:
            own = element.attributes.get("src", "") if shown.kind == "picture" else shown.picture
            source = shelf.file_of(CssPicture(own, page)) or ""
            main = [(Literal(colour), share) for colour, share in shelf.main_colours(CssPicture(shown.picture, page))]
        if not source or not main:
            return
        pairings = ((Pairing(ink, shown.stack, (), large=True, exempt=False, icon=True), share) for ink, share in main)
        inks = tuple((self.number(pairing), share) for pairing, share in pairings)
        chain, words = self._chain(regions, element), words_of(element)
        self.survey.marks.append(Mark(page, element.path(), shown.kind, source, selector, words, chain, inks))

    def thing(self, page: str, seen: SeenThing, regions: RegionsOfPage) -> None:
        """Note something besides text that has to be seen."""
        element = seen.element
        depth = regions.depth(element.order)

        def number(sign: Sign) -> int:
            # what the element itself says is said at the depth it lies at
            colour, over = (
                placed(one, depth) if one is not None and depth else one for one in (sign.colour, sign.over)
            )
            below = sign.below if over is None else (*sign.below, Fill(over))
            return self.number(Pairing(colour or sign.colour, below, (), large=True, exempt=False, icon=True))

        words = words_of(element) or own_words(element) or " ".join(element.own_text.split())[:80]
        self.survey.things.append(
            Thing(
                page, element.path(), seen.what, seen.state, words, selector_of(element, regions.starts),
                self._chain(regions, element), tuple(map(number, seen.signs)), seen.given, seen.is_strong,
                None if seen.against is None else number(seen.against),
            )
        )  # fmt: skip

    def _chain(self, regions: RegionsOfPage, element: Element) -> int:
        return self._number_of(regions.chains[element.order] if regions.chains else ())

    def _number_of(self, chain: tuple[int, ...]) -> int:
        number = self.chains.get(chain)
        if number is None:
            number = self.chains[chain] = len(self.survey.chains)
            self.survey.chains.append(chain)
        return number


def _run(page: str, element: Element, suffix: str, text: str, chain: int, opened: str) -> Run:
    return Run(
        page=page,
        path=element.path() + suffix,
        text=text[:80],
        characters=len(text),
        tag=element.tag,
        is_link=element.is_link,
        is_heading=element.is_heading,
        is_control=element.tag in _CONTROLS,
        chain=chain,
        opened=opened,
    )


class Surveyor:
    """Surveys the pages of one site; stylesheets are parsed and rules indexed once."""

    def __init__(
        self, site: SiteFiles, more_css: str = "", more_file: str = "", palette_css: str = "",
        layouts: Layouts | None = None, page_css: Mapping[str, str] | None = None,
    ) -> None:  # fmt: skip
        """`more_css` is applied after each page's own stylesheets, `page_css` before them: see `SheetLibrary`.

        `layouts` are what a browser measured of some pages at some widths.
        """
        self._layouts = layouts or {}
        self._lifting = lifting_selectors(more_css) if more_css and layouts else []
        self.site = site
        self.table = TokenTable()
        self.library = SheetLibrary(
            site, self.table, more_css=more_css, more_file=more_file, palette_css=palette_css, page_css=page_css or {}
        )
        self._shelf = PictureShelf(site)
        self.layers = LayerMaker(self._shelf, self.table.tokens)
        self._indexes: dict[tuple[tuple[tuple[int, str, int], ...], bool], RuleIndex] = {}
        self._cascades: dict[tuple[int, Viewport], Cascade] = {}
        self._thresholds: set[float] = set()
        self._reach = Reach()
        self._handed_down = HandedDownProperties(self.table)
        self._panels = PanelsFound(self.table.tokens)

    def survey(
        self, contexts: Iterable[ContextKey] | None = None, progress: Progress = lambda what, done, total: None
    ) -> Survey:
        """Return the survey in `contexts`, or in all states at all width bands the site itself makes.

        `progress` is told ("reading pages", pages done, pages in all) and may raise to cancel.
        """
        documents: list[tuple[str, Document, list[LinkedSheet]]] = []
        pages, deep = self.site.pages, list[str]()
        for done, page in enumerate(pages):
            progress("parsing pages", done, len(pages))
            document = parse_document(self.site.page_text(page))
            if document.markup.end is not None:
                deep.append(f"{page} nests deeper than Glaucon follows; the rest is not read. Close its elements.")
            linked = self.library.of_page(page, document)
            for sheet in linked:
                self._thresholds |= thresholds_of(sheet)
            documents.append((page, document, linked))
        opened = dict.fromkeys(one.state for _, document, _ in documents for one in openings_of(document))
        keys = list(contexts) if contexts is not None else self._all_contexts(opened)
        survey = Survey(pages=pages, tokens=self.table.tokens, notes=deep)
        survey.sightings = {key: Sightings() for key in keys}
        collector = _Collector(survey)
        found = self._regions(documents)
        survey.regions, survey.elements_of, regions = found.regions, found.elements, found.of_page
        for done, (page, document, linked) in enumerate(documents):
            progress("reading pages", done, len(documents))
            survey.elements += len(document.elements)
            self._page(page, document, linked, keys, collector, regions[page])
        survey.regions = [
            replace(region, handed_down=self._handed_down.of(number), panels=self._panels.of(number))
            for number, region in enumerate(survey.regions)
        ]
        self._conclude(survey)
        survey.regions = regions_with_uses(survey)
        progress("reading pages", len(documents), len(documents))
        return survey

    def _all_contexts(self, opened: Iterable[str]) -> list[ContextKey]:
        bands = width_bands(self._thresholds)
        return [
            *(ContextKey(width, state) for width in bands for state in STATES),
            *(ContextKey(width, state) for width in STANDARD_WIDTHS for state in opened),
        ]

    def _page(
        self, page: str, document: Document, linked: list[LinkedSheet], keys: list[ContextKey],
        collector: _Collector, regions: RegionsOfPage,
    ) -> None:  # fmt: skip
        inline = self._inline(page, document)
        mark_kinds(document)
        index = self._index(linked, document.quirks)
        hints, beside = Hints(page, document.markup.source, self.table), Beside()
        register = collector.of_page(page, regions, beside)
        context = PageContext(page, document, PageMatcher(index), inline, hints, self.layers, register, regions, beside)
        rest: dict[Viewport, Remembered] = {}
        shown: set[int] = set()
        laid: dict[int, LaidOut] = {}
        for key in sorted(keys, key=lambda key: key.state != "rest"):
            if key.state.startswith(OPENED):
                continue
            viewport = Viewport(key.width, key.scheme)
            state = State.named(key.state)
            # visited links are told from others by hints too, so that state is walked whole
            before = rest.get(viewport) if key.state not in ("rest", "visited") else None
            layout = self._layouts.get((page, key.width))
            here = layout.in_state(key.state) if layout is not None else None
            if here is not None and id(here) not in laid:
                laid[id(here)] = LaidOut(here, document, self._raised(document))
                collector.survey.laid.add(page)
            if here is not layout:
                before = None  # things lie elsewhere than at rest
            lies = laid[id(here)] if here is not None else None
            found = PageWalk(context, self._cascade(index, viewport), state, before, lies).run()
            if key.state == "rest":
                rest[viewport] = found
            collector.survey.sightings[key].extend(found.sightings)
            shown.update(found.spans)
        self._openings(context, linked, collector, rest if not laid else {})
        if rest:
            by_width = [rest[viewport] for viewport in sorted(rest, key=lambda viewport: viewport.width)]
            self._note_rest(page, document, by_width, collector, regions)
        seen = [document.elements[order] for order in sorted(shown)]
        self._reach.look([one.sheet for one in linked], seen, (inline(element) for element in seen))
        collector.survey.reached |= hints.tokens_of(seen)

    def _openings(
        self, context: PageContext, linked: list[LinkedSheet], collector: _Collector, rest: dict[Viewport, Remembered]
    ) -> None:
        """Note what is other on a page with something opened at a click; `rest` is without a layout."""
        document, page = context.document, context.page
        open_page = OpenPage(context, linked, self.library, self._index, self._cascade, rest)
        for opened in openings_of(document):
            register = partial(collector.of_page, page, opened=opened.label, known=len(document.elements))
            shown = open_page.walk(opened, register, collector.survey)
            inline = (self.library.of_attribute(page, document, element) for element in shown)
            self._reach.look([one.sheet for one in linked], shown, inline)

    def _note_rest(
        self, page: str, document: Document, by_width: list[Remembered], collector: _Collector, regions: RegionsOfPage
    ) -> None:
        """Note what a page paints at rest besides texts: as the widest screen has it."""
        widest = by_width[-1]
        note_painters(collector.survey, page, widest.painted)
        self._panels.note(document, regions, widest.painted)
        for one in widest.pictured:
            collector.mark(page, one, regions, self._shelf)
        for thing in widest.things:
            collector.thing(page, thing, regions)
        begun: dict[int, Style] = {}
        for found in by_width:
            begun.update(found.begun)  # as the widest screen that shows it has it
        for order, style in begun.items():
            self._handed_down.note(regions.chains[order][-1], page, style.custom)

    def probe(self, page: str, key: ContextKey, path: str, layout: PageLayout) -> tuple[Pairing, list[Cell]] | None:
        """Return a text's pairing in one context, and what lies behind it in small cells; None: it is not shown."""
        document = parse_document(self.site.page_text(page))
        linked = self.library.of_page(page, document)
        mark_kinds(document)
        found = self._regions([(page, document, linked)])
        survey = Survey(pages=[page], tokens=self.table.tokens)
        collector = _Collector(survey)
        regions = found.of_page[page]
        context = PageContext(
            page, document, PageMatcher(self._index(linked, document.quirks)), self._inline(page, document),
            Hints(page, document.markup.source, self.table), self.layers, collector.of_page(page, regions, {}), regions,
        )  # fmt: skip
        probed = Probed(layout.in_state(key.state), document, path)
        viewport = Viewport(key.width, key.scheme)
        cascade = self._cascade(self._index(linked, document.quirks), viewport)
        sightings = PageWalk(context, cascade, State.named(key.state), None, probed).run().sightings
        mine = next((one for one in sightings if survey.runs[one.run].path == path), None)
        return None if mine is None or not probed.cells else (survey.pairings[mine.pairing], probed.cells)

    def _inline(self, page: str, document: Document) -> Callable[[Element], Block | None]:
        """Return what reads the style attributes of a page, each once."""
        blocks: dict[int, Block | None] = {}

        def inline(element: Element) -> Block | None:
            if not element.attributes:
                return None
            if element.order not in blocks:
                blocks[element.order] = self.library.of_attribute(page, document, element)
            return blocks[element.order]

        return inline

    def _raised(self, document: Document) -> frozenset[int]:
        """Return the elements that `more_css` lifts, by their order."""
        lifting = self._lifting
        return frozenset(one.order for one in document.elements if any(rule.matches(one, State()) for rule in lifting))

    def _regions(self, documents: list[tuple[str, Document, list[LinkedSheet]]]) -> FoundRegions:
        """Return the regions of all pages; what paints a background is seen on a wide screen, at rest."""
        viewport = Viewport(STANDARD_WIDTHS[0])
        painting: dict[str, Callable[[Element], bool]] = {}

        def paints(page: str, element: Element) -> bool:
            return painting[page](element)

        for page, document, linked in documents:
            index = self._index(linked, document.quirks)
            cascade, matcher = self._cascade(index, viewport), PageMatcher(index)
            hints = Hints(page, document.markup.source, self.table)
            painting[page] = painted_by(cascade, matcher, self._inline(page, document), hints)
        return find_regions({page: document for page, document, _ in documents}, paints)

    def _index(self, linked: list[LinkedSheet], quirks: bool) -> RuleIndex:
        key = (tuple((id(one.sheet), one.media, one.scope) for one in linked), quirks)
        if key not in self._indexes:
            self._indexes[key] = index_of(linked, quirks)
        return self._indexes[key]

    def _cascade(self, index: RuleIndex, viewport: Viewport) -> Cascade:
        key = (id(index), viewport)
        if key not in self._cascades:
            self._cascades[key] = Cascade(index, self.table, viewport)
        return self._cascades[key]

    def _conclude(self, survey: Survey) -> None:
        for sheet in self.library.sheets.values():
            survey.problems.extend(sheet.problems)
        survey.reached |= self._reach.tokens()
        survey.readers = _final_readers([sheet.readers for sheet in self.library.sheets.values()])
        for url, page in sorted(self.library.missing.items()):
            survey.notes.append(f"The stylesheet “{url[:120]}”, linked from {page}, is not among the files.")
        if len(survey.pages) < len(self.site.all_pages):
            left = len(self.site.all_pages) - len(survey.pages)
            survey.notes.append(
                f"The site has more pages than the limit of {self.site.most_pages}: {left} were not read. They are "
                "kept, with the colours of the stylesheets they share. Raise the page limit to read them."
            )
        pages_with_text = {run.page for run in survey.runs}
        for page in survey.pages:
            if page not in pages_with_text:
                by_script = page not in self.site.stood and b"<script" in self.site.files[page].lower()
                empty = "shows nothing until its scripts run" if by_script else "holds no text"
                survey.notes.append(f"{page} {empty}; nothing could be read there.")
        pictures = sum(data.lower().count(b"<img") for path, data in self.site.files.items() if path in survey.pages)
        if pictures:
            survey.notes.append("Text inside pictures is not checked.")


def _final_readers(of_sheets: Iterable[dict[str, set[str]]]) -> dict[str, set[str]]:
    """Return the properties that read each custom property in the end, through other custom properties too."""
    direct: dict[str, set[str]] = {}
    for of_sheet in of_sheets:
        for name, readers in of_sheet.items():
            direct.setdefault(name, set()).update(readers)
    final: dict[str, set[str]] = {}
    for name in direct:
        met, waiting = {name}, [name]
        while waiting:
            for reader in direct.get(waiting.pop(), ()):
                if reader not in met:
                    met.add(reader)
                    waiting.append(reader)
        final[name] = {reader for reader in met if not reader.startswith("--")}
    return final


def width_bands(thresholds: set[float]) -> list[int]:
    """Return the widths to read at: the standard ones, and one in each band that media queries make."""
    inside = sorted(t for t in thresholds if _NARROWEST_PX < t < _WIDEST_PX)
    edges = [float(_NARROWEST_PX), *inside, float(_WIDEST_PX)]
    widths = set(STANDARD_WIDTHS)
    for low, high in itertools.pairwise(edges):
        # strictly inside a band, so that min- and max-width of the same figure both hold
        if high - low > 1 and not any(low < width < high for width in widths):
            widths.add(int((low + high) // 2))
    chosen = sorted(widths, reverse=True)
    return (
        chosen if len(chosen) <= _MAX_BANDS else sorted({*STANDARD_WIDTHS, *chosen[:: len(chosen) // 5]}, reverse=True)
    )


def survey_site(
    site: SiteFiles, contexts: Iterable[ContextKey] | None = None, layouts: Layouts | None = None
) -> Survey:
    """Return the survey of a site; `layouts` are what a browser measured of some pages at some widths."""
    return Surveyor(site, layouts=layouts).survey(contexts)
