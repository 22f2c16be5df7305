"""Whether a site's colours have arrived where its owner hosts it: by its files, and by its texts read again."""

from __future__ import annotations

from collections import Counter
from typing import Any

from glaucon.apps.bringing.fetching_in import own_fetcher
from glaucon.apps.bringing.outside.arrived import Looker, Seen
from glaucon.apps.sites.backdrops import backdrops_for
from glaucon.apps.sites.blobs import get_blob
from glaucon.apps.sites.models import Site
from glaucon.apps.sites.surveys import files_of, known_for, known_of, layouts_of
from glaucon.core.exchange.arrival import PageFound, page_found
from glaucon.core.exchange.checking import promised, read_again
from glaucon.core.exchange.recolour import recolour_site
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import SiteFiles, is_page

_LOOKED_AT = (ContextKey(1280, "rest"),)


def arrived(site: Site, study: Study, address: str, pages: list[str]) -> list[PageFound]:
    """Return how some pages of a site have come to its host, held against a study.

    Raises: SiteError: the host is on a private network.
    """
    files, survey = files_of(site), known_of(site).survey
    made = recolour_site(files, survey, study, backdrops=backdrops_for(site, study, survey.regions)).files
    wanted = {**files.files, **made}
    fetcher = own_fetcher()
    try:
        before = (files.files, _released(site, pages))
        seen = Looker(fetcher, address, wanted, before).look(pages)
    finally:
        fetcher.close()
    rows = promised(known_for(site, study), study, _LOOKED_AT)
    right = _right(site, wanted, seen, [row for row in rows if row["page"] in seen.files])
    texts = Counter(row["page"] for row in rows)
    return [page_found(seen.pages[page], seen.needed(page), texts[page], right[page]) for page in pages]


def _released(site: Site, pages: list[str]) -> dict[str, bytes]:
    """Return the pages of the release that is live: what the host may have from before."""
    live = site.releases.filter(is_live=True).first()
    if live is None:
        return {}
    return {one.path: get_blob(one.blob) for one in live.files.filter(path__in=pages)}


def _right(site: Site, handed: dict[str, bytes], seen: Seen, promises: list[dict[str, Any]]) -> Counter[str]:
    """Return how many texts of each page come out as promised, read from what a visitor gets."""
    missing = {path for path, one in seen.sheets.items() if one.state == "missing"}
    others = {path: data for path, data in handed.items() if not is_page(path) and path not in missing}
    there = SiteFiles({**others, **seen.files}, [], site.origin, site.most_pages)
    rows = read_again(there, contexts=_LOOKED_AT, layouts=layouts_of(site)) if seen.files else []
    found = {(row["page"], row["path"]): row for row in rows}
    right: Counter[str] = Counter()
    for row in promises:
        other = found.get((row["page"], row["path"]))
        right[row["page"]] += other is not None and _shown(row) == _shown(other)
    return right


def _shown(row: dict[str, Any]) -> tuple[Any, Any]:
    return row["colour"], row["background"]
