"""Neighbouring sections made one: how far it is from each to the next, as a browser measured it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from glaucon.core.cascade.tree import Document, parse_document
from glaucon.core.errors import StudyError
from glaucon.core.layout.document import Box, Layouts, PageLayout
from glaucon.core.layout.finding import only_box, paths_found
from glaucon.core.scopes.values import ground_worn
from glaucon.core.study import coats
from glaucon.core.study.scopes import MOST_JOINED_PX, Join, Where
from glaucon.core.study.study import Study
from glaucon.core.survey.model import Region
from glaucon.core.survey.site import SiteFiles

Pair = tuple[str, str]  # the keys of two sections, the upper one first
_TOUCHING_PX = 0.5  # less than this between two boxes is rounding
_UNDER_PX = 1.0  # how far it reaches in under the lower box, so that no hairline is left


def join_sections(
    study: Study, site: SiteFiles, layouts: Layouts, sections: Sequence[Region], pages: Iterable[str]
) -> Study:
    """Return the study with sections that lie one under another going on into the next, on each page where they do.

    Pages that are not measured count as those that are: it is the same sections that stand there.
    Raises: StudyError: fewer than two, not measured yet, not one under another, or they wear different backgrounds.
    """
    if len(sections) < 2:
        raise StudyError("One section alone has no gap to close. Choose two or more that lie one under another.")
    on = [page for page in pages if sum(page in region.pages for region in sections) > 1]
    measured = {name for name, _ in layouts if name in on}
    found = _found_gaps(site, layouts, sections, on)
    joins: dict[Where, Join | None] = {}
    of_key = {region.key: region for region in sections}
    for (above, below), gaps in found.items():
        alike = {page for page in on if page not in measured and page in of_key[above].pages & of_key[below].pages}
        pages_joined = sorted(gaps.keys() | alike)
        if not all(_is_one_background(study, above, below, page) for page in pages_joined):
            raise StudyError("These sections have different backgrounds. Give them one coat first, then join them.")
        by = min(MOST_JOINED_PX, round(max(gaps.values()) + _UNDER_PX, 1))
        join = Join(below=below, by=by, pages=tuple(pages_joined))
        joins.update({scope.where: join for scope in study.worn if scope.where.section == above})
    return coats.join(study, joins)


def _found_gaps(
    site: SiteFiles, layouts: Layouts, sections: Sequence[Region], on: list[str]
) -> dict[Pair, dict[str, float]]:
    """Return how far apart neighbours lie on each page, in px; those that touch are left out.

    Raises: StudyError: no page is measured, or nothing lies apart.
    """
    found: dict[Pair, dict[str, float]] = {}
    is_measured = touching = False
    for page in on:
        of_page = [layout for (name, _), layout in layouts.items() if name == page]
        if not of_page:
            continue
        is_measured = True
        here = [region for region in sections if page in region.pages]
        for pair, gap in _gaps(parse_document(site.page_text(page)), of_page, here).items():
            if gap > _TOUCHING_PX:
                found.setdefault(pair, {})[page] = gap
            else:
                touching = True
    if not is_measured:
        raise StudyError("Where these sections lie is not measured yet. Look at their page on the bench for a moment.")
    if not found and touching:
        raise StudyError("These sections touch already: nothing of the page shows between them.")
    if not found:
        raise StudyError("These sections do not lie one right under another. Choose neighbours.")
    return found


def part_sections(study: Study, sections: Iterable[str]) -> Study:
    """Return the study with sections that end where they did before they were joined."""
    keys = set(sections)
    return coats.join(study, {scope.where: None for scope in study.worn if scope.where.section in keys})


def _is_one_background(study: Study, above: str, below: str, page: str) -> bool:
    own = ground_worn(study, above, page)
    return own is not None and own == ground_worn(study, below, page)


def _gaps(document: Document, layouts: Sequence[PageLayout], sections: Sequence[Region]) -> dict[Pair, float]:
    """Return, for sections of a page that lie one right under another at some width, the widest gap between them."""
    paths = {region.key: paths_found(document, region.selector) for region in sections}
    gaps: dict[Pair, float] = {}
    for layout in layouts:
        boxes = {key: box for key, own in paths.items() if (box := only_box(layout, own)) is not None}
        for above, one in boxes.items():
            below = min((key for key in boxes if _is_under(boxes[key], one)), key=lambda k: boxes[k].top, default=None)
            if below is None:
                continue
            gap = boxes[below].top - one.top - one.height
            between = Box(one.left, one.top + one.height, one.width, gap)
            if gap <= MOST_JOINED_PX and not _holds_words(layout, between):
                gaps[above, below] = max(gap, gaps.get((above, below), 0.0))
    return gaps


def _is_under(box: Box, above: Box) -> bool:
    """Return whether a box lies below another, and as wide as that: it hides what reaches in under it."""
    is_as_wide = box.left <= above.left + 1 and box.left + box.width >= above.left + above.width - 1
    return box.top >= above.top + above.height - _TOUCHING_PX and is_as_wide


def _holds_words(layout: PageLayout, place: Box) -> bool:
    return any(spot.box.shared(place) is not None for spots in layout.runs.values() for spot in spots)
