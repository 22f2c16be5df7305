"""A site's layout as the oracles read it: measured by the browser that also tells the truth."""

from __future__ import annotations

from collections.abc import Iterable

from playwright.sync_api import Browser

from glaucon.core.layout.document import Layouts, read_page_layout
from glaucon.core.survey.site import SiteFiles
from glaucon.measuring import measure_with


def layouts_of(browser: Browser, site: SiteFiles, widths: Iterable[int]) -> Layouts:
    """Return the layouts of a site's pages at some widths."""
    return {key: read_page_layout(one) for key, one in measure_with(browser, site, list(widths)).items()}
