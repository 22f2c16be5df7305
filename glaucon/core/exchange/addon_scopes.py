"""What sections wear, in a stylesheet that stands after a site whose pages cannot be told apart by a link of ours."""

from __future__ import annotations

from collections.abc import Sequence

import tinycss2

from glaucon.core.cascade.selectors.selectors import Selector, compile_selectors
from glaucon.core.cascade.selectors.state import State
from glaucon.core.cascade.tree import Document, parse_document
from glaucon.core.exchange.backdrops import Backdrops
from glaucon.core.exchange.page_markers import markers_of, telling
from glaucon.core.scopes.css import dressing_of
from glaucon.core.study.study import Study
from glaucon.core.survey.model import Survey
from glaucon.core.survey.site import SiteFiles

_REST = State()


def scopes_css(
    site: SiteFiles, survey: Survey, study: Study, backdrops: Backdrops | None = None, missed: list[str] | None = None,
) -> str:  # fmt: skip
    """Return the rules of a study's scopes and backdrops for all pages of a site.

    What cannot be told apart is said in a comment, and in `missed`.
    """
    if not study.worn and (backdrops is None or not study.backdrops):
        return ""
    documents = {page: parse_document(site.page_text(page)) for page in site.pages}
    markers = {page: markers_of(document) for page, document in documents.items()}

    def root(names: Sequence[str], selector: str) -> str | None:
        others = {page for page in documents if page not in names and _finds(selector, documents[page])}
        if not others:
            return ":root"
        told = telling(names, others, markers)
        return None if told is None else f":root:has({', '.join(told)})"

    worn = dressing_of(study, survey).for_all(documents, root, missed) if study.worn else ""
    behind = backdrops.for_all(documents, root, missed) if backdrops is not None else ""
    return "\n".join(part for part in (worn, behind) if part)


def _finds(selector: str, document: Document) -> bool:
    """Return whether a selector finds anything on a page; "" finds the page itself."""
    if not selector:
        return True
    compiled: list[Selector] = compile_selectors(tinycss2.parse_component_value_list(selector))
    return any(one.matches(element, _REST) for element in document.elements for one in compiled)
