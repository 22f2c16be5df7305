"""What pages are called: by their titles, and where pages share one, by their first headings or paths."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping


def page_names(titles: Mapping[str, str], headings: Mapping[str, str], pages: Iterable[str]) -> dict[str, str]:
    """Return a name for each page that no other page has."""
    pages = list(pages)
    names = {page: titles.get(page, "") or page for page in pages}
    for better in (headings, {page: page for page in pages}):
        counts = Counter(names.values())
        names = {
            page: better.get(page) or name if counts[name] > 1 else name
            for page, name in names.items()
        }  # fmt: skip
    return names
