"""A site read with a backdrop or a rule that is tried: what searches about backdrops begin with."""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence

from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.backdrops.plates import least_plate, selectors_behind
from glaucon.core.backdrops.room import Room, room_of
from glaucon.core.backdrops.trying import Before, texts_on
from glaucon.core.backdrops.veils import Least
from glaucon.core.cascade.text import decode_source
from glaucon.core.cascade.tree import Document, parse_document
from glaucon.core.known.site import KnownSite
from glaucon.core.reading.reading import VERDICTS
from glaucon.core.study.backdrops import Backdrop
from glaucon.core.study.coat_backdrops import with_backdrop
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey

MOST_PAGES = 6
VEILED = tuple(ContextKey(width, state) for width in (1280, 390) for state in ("rest", "hover"))


def seen_with(
    site: SiteAtHand, study: Study, backdrop: Backdrop, contexts: Sequence[ContextKey] = VEILED,
    most: int = MOST_PAGES, page: str = "", with_pictures: bool = True,
) -> Callable[[Backdrop], KnownSite]:  # fmt: skip
    """Return what reads the pages that a backdrop lies on, the first few of them, with another in its place."""
    pages = sorted(site.backdrops(study).pages_of(backdrop, site.known.survey.pages))[:most]

    def seen(other: Backdrop) -> KnownSite:
        return site.on_pages(with_backdrop(study, other), [page] if page else pages, contexts, with_pictures)

    return seen


def before_backdrop(site: SiteAtHand, study: Study, backdrop: Backdrop) -> Before:
    """Return the background layers behind each text before a backdrop is added."""
    without = with_backdrop(study, backdrop.model_copy(update={"layers": (), "plate": None}))
    return Before(site.under(without), without)


def documents_of(site: SiteAtHand, pages: Collection[str]) -> dict[str, Document]:
    """Return the parsed trees of some pages."""
    files = site.files().files
    return {page: parse_document(decode_source(files[page]).text) for page in pages}


def plate_behind(site: SiteAtHand, study: Study, backdrop: Backdrop) -> tuple[Backdrop, Least] | None:
    """Return a backdrop with the least plate behind the texts in its place that are hard to read; None: it has none."""
    bare = backdrop.model_copy(update={"plate": None})
    seen = seen_with(site, study, bare)
    known = seen(bare)
    # a text on a box of one colour, a button, has its own background
    texts = [one for one in texts_on(known, study, bare) if one.is_inside and one.darkest != one.lightest]
    hard = dict.fromkeys((one.page, one.path) for one in texts if VERDICTS[one.verdict] == "fail")
    behind, pages = site.backdrops(study), known.survey.pages
    place = next((found for page in pages if (found := behind.selector(bare, page)) is not None), None)
    if not hard or place is None:
        return None
    may = {(one.page, one.path.split("::")[0]) for one in texts}
    before = before_backdrop(site, study, bare)
    return least_plate(seen, study, bare, selectors_behind(documents_of(site, pages), place, hard, may), before)


def room_of_backdrop(site: SiteAtHand, study: Study, backdrop: Backdrop, page: str, width: int) -> Room | None:
    """Return the room that a backdrop has on a page at a width in CSS pixels; None where that is not measured."""
    selector = site.backdrops(study).selector(backdrop, page)
    layout = site.layouts([page]).get((page, width)) if (page, width) in site.measured() else None
    if selector is None or layout is None:
        return None
    return room_of(layout, documents_of(site, [page])[page], selector)
