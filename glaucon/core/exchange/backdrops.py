"""Backdrops as rules on the pages of a site, and the files they name: the one place that turns them into CSS.

Rules are `!important` and outside of all layers: what lies behind a place is what its owner put there. Behind a page
the layers are the root's, which paints the whole canvas (CSS Backgrounds 3, section 2.11.2), and the body is cleared.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

from glaucon.core.backdrops.css import Recipe, Size, rules, written
from glaucon.core.backdrops.panels import panel_rules
from glaucon.core.backdrops.pictures import FOLDER, PHONE, WIDE, made, size_of
from glaucon.core.backdrops.plates import plate_rule
from glaucon.core.backdrops.veils import least_veil, with_veil
from glaucon.core.errors import StudyError
from glaucon.core.known.site import KnownSite
from glaucon.core.layout.document import Layouts
from glaucon.core.scopes.css import root_marker, selector_of, unreached
from glaucon.core.study.backdrops import Backdrop, Layer, OfRole
from glaucon.core.study.own_css import NAME, palette_for_own
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey, Region, Survey
from glaucon.core.survey.site import Progress, SiteFiles, is_page
from glaucon.core.survey.survey import Surveyor

Source = Callable[[str], bytes | None]  # a picture's bytes by its path


@dataclass(slots=True)
class Backdrops:
    """A study's backdrops made ready to be written: for all pages at once, or for one."""

    study: Study
    regions: Mapping[str, Region]
    size: Size
    source: Source
    with_pictures: bool = True
    made: Callable[[], dict[str, bytes]] | None = None  # what has the files made already

    def css(self, page: str, marker: str = ":root") -> str:
        """Return the rules for one page, "" where nothing of the study's lies behind anything there."""
        parts: list[str] = []
        for backdrop in in_order(self.study.backdrops):
            selector = self.selector(backdrop, page)
            if selector is not None:
                at = marker if selector == "" else f"{marker} {_inside(selector)}"
                parts.append(self._rules(backdrop, at, selector == ""))
                parts += panel_rules(backdrop, self.study, self.regions, [page], lambda names, inside: marker)
        return "\n".join(parts)

    def for_previews(self, pages: Collection[str], attribute: str) -> str:
        """Return the rules for all pages at once, each page told by an attribute of its root element."""
        return self.for_all(pages, root_marker(pages, attribute))

    def for_all(
        self, pages: Collection[str], root_of: Callable[[Sequence[str], str], str | None],
        missed: list[str] | None = None,
    ) -> str:  # fmt: skip
        """Return the rules for all pages in one stylesheet; see `Dressing.for_all`."""
        parts: list[str] = []
        for backdrop in in_order(self.study.backdrops):
            names = sorted(self.pages_of(backdrop, pages))
            selector = self.selector(backdrop, names[0]) if names else None
            if selector is None:
                continue
            root = root_of(names, selector)
            if root is None:
                parts.append(unreached("A backdrop", names[0], missed))
                continue
            parts.append(self._rules(backdrop, f"{root} {_inside(selector)}" if selector else root, not selector))
            parts += panel_rules(backdrop, self.study, self.regions, names, root_of)
        return "\n".join(parts)

    def pages_of(self, backdrop: Backdrop, pages: Iterable[str]) -> set[str]:
        """Return the pages that a backdrop lies on."""
        where = backdrop.where
        if where is None:
            return set(pages)
        if where.page is not None:
            return {where.page} & set(pages)
        region = self.regions.get(where.region or "")
        return set(region.pages) & set(pages) if region is not None else set()

    def selector(self, backdrop: Backdrop, page: str) -> str | None:
        """Return what finds a backdrop's element on a page, "" for the page itself, None where it is not there."""
        if backdrop.where is None:
            return ""
        if backdrop.where.page not in (None, page):
            return None
        return selector_of(backdrop.where, self.regions, page)

    def files(self) -> dict[str, bytes]:
        """Return the files that the rules name, made. Raises: ColourError, StudyError: a picture is no good."""
        if self.made is not None and self.with_pictures:
            return self.made()
        return {path: file_made(recipe, self.source) for path, recipe in self.recipes().items()}

    def recipes(self) -> dict[str, Recipe]:
        """Return how what the rules name is made, by path."""
        found: dict[str, Recipe] = {}
        for backdrop in self.study.backdrops:
            found.update(written(backdrop, self.study, self.size, self.with_pictures).files)
        return found

    def weight(self, backdrop: Backdrop, is_phone: bool) -> int:
        """Return the bytes that a backdrop's files have which a screen asks for."""
        asked = written(backdrop, self.study, self.size, self.with_pictures).on_screen[PHONE if is_phone else WIDE]
        files = self.files()
        return sum(len(files[path]) for path in asked if path in files)

    def _on_the_background(self, backdrop: Backdrop) -> Backdrop:
        """Return a page's backdrop on the site's background, which the body no longer paints."""
        role = self.study.first("background")
        base = (Layer(colour=OfRole(role=role.id)),) if role is not None else ()
        others = tuple(layer for layer in backdrop.layers if layer.colour is None)
        return backdrop.model_copy(update={"layers": (*base, *others)})

    def _rules(self, backdrop: Backdrop, selector: str, is_page: bool) -> str:
        if is_page and backdrop.layers and all(layer.colour is None for layer in backdrop.shown):
            backdrop = self._on_the_background(backdrop)
        plate = plate_rule(selector, backdrop, self.study)
        if not backdrop.layers:
            return plate
        done = written(backdrop, self.study, self.size, self.with_pictures)
        said = rules(selector, backdrop, done) + (f"\n{plate}" if plate else "")
        # a body of its own colour would lie over it; clear, it lets the canvas through
        clear = "background-color: transparent !important; background-image: none !important"
        return f"{said}\n{selector} > body {{ {clear} }}" if is_page else said


def backdrops_of(study: Study, regions: Iterable[Region], source: Source) -> Backdrops:
    """Return a study's backdrops made ready to be written; `source` has the pictures."""
    return Backdrops(study, {region.key: region for region in regions}, sizes_from(source), source)


def survey_with(
    site: SiteFiles, backdrops: Backdrops, contexts: Iterable[ContextKey] | None = None,
    layouts: Layouts | None = None, own: str = "", pages: Iterable[str] | None = None,
    progress: Progress = lambda what, done, total: None,
) -> Survey:  # fmt: skip
    """Return the survey of a site as a study's backdrops have it, `own` its owner's CSS; of some pages only, if given.

    Raises: ColourError, StudyError: a picture is no good.
    """
    wanted = set(site.pages if pages is None else pages)
    files = {path: data for path, data in site.files.items() if not is_page(path) or path in wanted}
    with_files = replace(site, files={**files, **backdrops.files()}, notes=[])
    page_css = {page: css for page in with_files.pages if (css := backdrops.css(page))}
    palette = palette_for_own(backdrops.study.as_found())
    return Surveyor(with_files, own, NAME, palette, layouts, page_css).survey(contexts, progress)


_VEILED = tuple(ContextKey(width, state) for width in (1280, 390) for state in ("rest", "hover"))


def with_least_veils(
    site: SiteFiles, study: Study, regions: Iterable[Region], source: Source, layouts: Layouts | None = None
) -> Study:
    """Return a study with every veil that is to be the least found: the one with which least text is hard to read."""
    known = list(regions)
    for backdrop in study.backdrops:
        if not any(layer.veil is not None and layer.veil.opacity == "least" for layer in backdrop.layers):
            continue

        def laid(other: Backdrop, mine: Backdrop = backdrop, on: Study = study) -> Study:
            others = tuple(other if one.where == mine.where else one for one in on.backdrops)
            return on.model_copy(update={"backdrops": others})

        def seen(other: Backdrop, laid: Callable[[Backdrop], Study] = laid) -> KnownSite:
            return KnownSite(survey_with(site, backdrops_of(laid(other), known, source), _VEILED, layouts))

        least = least_veil(seen, study, backdrop)
        study = laid(with_veil(study, backdrop, least.opacity, least.colour))
    return study


def in_order(backdrops: Iterable[Backdrop]) -> list[Backdrop]:
    """Return backdrops the weakest first: the site's, a page's, a place's everywhere, on one page, at one element."""

    def depth(one: Backdrop) -> tuple[bool, bool, bool]:
        where = one.where
        return (where is not None and where.at is not None, where is not None and where.page is not None,
                where is not None and where.region is not None)  # fmt: skip

    return sorted(backdrops, key=depth)


def source_of(site: SiteFiles, own: Mapping[str, bytes]) -> Source:
    """Return what finds a picture among a site's files and the owner's own."""
    return lambda path: own.get(path) or site.files.get(path)


def sizes_from(source: Source) -> Size:
    """Return what tells the size of a picture, each looked at once."""
    known: dict[str, tuple[int, int]] = {}

    def size(path: str) -> tuple[int, int]:
        if path not in known:
            known[path] = size_of(_picture(source, path))
        return known[path]

    return size


def file_made(recipe: Recipe, source: Source) -> bytes:
    """Return the bytes of a file that a backdrop names. Raises: ColourError, StudyError: its picture is no good."""
    if recipe.picture is None:
        return recipe.drawing
    return made(_picture(source, recipe.picture.file), recipe.picture, recipe.width)


def _picture(source: Source, path: str) -> bytes:
    data = source(path)
    if data is None:
        shown = path.removeprefix(FOLDER)[:80]
        raise StudyError(f"The picture “{shown}” is not there any more. Choose another one for the backdrop.")
    return data


def _inside(selector: str) -> str:
    return selector.removeprefix("html > ")
