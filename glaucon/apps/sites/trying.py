"""A site read with a backdrop or a rule that is tried, and which veil over a section's picture would help."""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence

from glaucon.apps.sites.backdrops import backdrops_for
from glaucon.apps.sites.layouts import kept_layouts, read_kept
from glaucon.apps.sites.models import Site
from glaucon.apps.sites.surveys import files_of, known_for, known_of, known_on_pages
from glaucon.core.backdrops.marked import Text
from glaucon.core.backdrops.plates import least_plate, selectors_behind
from glaucon.core.backdrops.room import Room, room_of
from glaucon.core.backdrops.trying import Before, texts_on
from glaucon.core.backdrops.veils import Least, VeilOver, veil_over
from glaucon.core.cascade.text import decode_source
from glaucon.core.cascade.tree import parse_document
from glaucon.core.mending.helping_rules import HelpingRule, helping_rules
from glaucon.core.proposal.known import KnownSite
from glaucon.core.reading.reading import VERDICTS
from glaucon.core.study.backdrops import Backdrop
from glaucon.core.study.own_css import own_css, problems_of, with_more_css
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study, read_study
from glaucon.core.survey.model import ContextKey

MOST_PAGES = 6
_MOST_BYTES = 3_000_000  # of pages
_HELPED = tuple(ContextKey(width, state) for width in (1280, 390) for state in ("rest", "hover", "focus"))
VEILED = tuple(ContextKey(width, state) for width in (1280, 390) for state in ("rest", "hover"))


def with_backdrop(study: Study, backdrop: Backdrop) -> Study:
    """Return a study with another backdrop in its place; one without layers is taken away.

    Where a coat brings one, a place without layers keeps having none.
    Raises: StudyError: it names what the study does not have.
    """
    others = tuple(one for one in study.backdrops if one.where != backdrop.where)
    is_brought = any(scope.where == backdrop.where and scope.coat in study.coat_backdrops for scope in study.worn)
    mine = (backdrop,) if backdrop.layers or backdrop.plate is not None or is_brought else ()
    return read_study(study.model_copy(update={"backdrops": others + mine}).model_dump(mode="json"))


def seen_with(
    site: Site, study: Study, backdrop: Backdrop, contexts: Sequence[ContextKey], most: int, page: str = "",
    with_pictures: bool = True,
) -> Callable[[Backdrop], KnownSite]:  # fmt: skip
    """Return what reads the pages that a backdrop lies on, the first few of them, with another in its place."""
    behind = backdrops_for(site, study, known_of(site).survey.regions)
    pages = sorted(behind.pages_of(backdrop, known_of(site).survey.pages))[:most]

    def seen(other: Backdrop) -> KnownSite:
        return known_on_pages(site, with_backdrop(study, other), [page] if page else pages, contexts, with_pictures)

    return seen


def before_backdrop(site: Site, study: Study, backdrop: Backdrop) -> Before:
    """Return what lies behind the texts of a site without a backdrop."""
    without = with_backdrop(study, backdrop.model_copy(update={"layers": (), "plate": None}))
    return Before(known_for(site, without), without)


def veil_over_section(site: Site, study: Study, section: str, texts: Collection[Text]) -> VeilOver | None:
    """Return what `veil_over` says of a section; None where the study has a backdrop there already."""
    bare = Backdrop.model_validate({"in": Where(section=section), "layers": ()})
    if any(one.where == bare.where for one in study.backdrops):
        return None
    seen = seen_with(site, study, bare, VEILED, MOST_PAGES)
    return veil_over(seen, before_backdrop(site, study, bare), study, bare, texts)


def rules_that_help(site: Site, study: Study, left: Collection[int], until: float) -> list[HelpingRule]:
    """Return the rules of CSS that make some texts readable which stay hard to read under a study.

    `left` are texts as the study's survey numbers them. None where the owner's own CSS does not parse, or the site is
    too large to be looked at whole while somebody waits.
    """
    if not left or any(one.stops for one in problems_of(own_css(study))):
        return []
    known, files = known_for(site, study), files_of(site).files
    pages = known.survey.pages
    if sum(len(files[page]) for page in pages) > _MOST_BYTES:
        return []
    documents = {page: parse_document(decode_source(files[page]).text) for page in pages}

    def seen(css: str, some: Collection[str]) -> KnownSite:
        return known_on_pages(site, with_more_css(study, [css]), some, _HELPED)

    return helping_rules(known, study, left, documents, seen, until)


def plate_behind(site: Site, study: Study, backdrop: Backdrop) -> tuple[Backdrop, Least] | None:
    """Return a backdrop with the least plate behind the texts in its place that are hard to read; None: it has none."""
    bare = backdrop.model_copy(update={"plate": None})
    seen = seen_with(site, study, bare, VEILED, MOST_PAGES)
    known = seen(bare)
    # what lies on a box of one colour, a button, has its own ground
    texts = [one for one in texts_on(known, study, bare) if one.is_inside and one.darkest != one.lightest]
    hard = dict.fromkeys((one.page, one.path) for one in texts if VERDICTS[one.verdict] == "fail")
    behind = backdrops_for(site, study, known_of(site).survey.regions)
    pages = known.survey.pages
    place = next((found for page in pages if (found := behind.selector(bare, page)) is not None), None)
    if not hard or place is None:
        return None
    files = files_of(site).files
    documents = {page: parse_document(decode_source(files[page]).text) for page in pages}
    may = {(one.page, one.path.split("::")[0]) for one in texts}
    before = before_backdrop(site, study, bare)
    return least_plate(seen, study, bare, selectors_behind(documents, place, hard, may), before)


def room_of_backdrop(site: Site, study: Study, backdrop: Backdrop, page: str, width: int) -> Room | None:
    """Return the room that a backdrop has on a page at a width; None where that is not measured."""
    behind = backdrops_for(site, study, known_of(site).survey.regions)
    selector, path = behind.selector(backdrop, page), kept_layouts(site).get((page, width))
    if selector is None or path is None:
        return None
    (layout,) = read_kept({(page, width): path}).values()
    return room_of(layout, parse_document(decode_source(files_of(site).files[page]).text), selector)
