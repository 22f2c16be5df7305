"""What pages are called: by their title; by their first heading, their file or their path where titles are shared."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Mapping

_TITLE_ENDS = re.compile(r"\s[|–—-]\s|:\s")


def page_titles(titles: Mapping[str, str], headings: Mapping[str, str], pages: Iterable[str]) -> dict[str, str]:
    """Return a name for each page that no other page has."""
    pages = list(pages)
    names = {page: titles.get(page, "") or page for page in pages}
    for better in (headings, {page: _of_file(page) for page in pages}, {page: page for page in pages}):
        counts = Counter(names.values())
        names = {
            page: better.get(page) or name if counts[name] > 1 else name
            for page, name in names.items()
        }  # fmt: skip
    return names


def short_names(titles: Mapping[str, str]) -> dict[str, str]:
    """Return what pages are called on one screen: the first parts of their titles where those tell them apart."""
    short = {page: _TITLE_ENDS.split(title)[0].strip() or page for page, title in titles.items()}
    counts = Counter(short.values())
    return {page: name if counts[name] == 1 else titles[page] or page for page, name in short.items()}


def _of_file(page: str) -> str:
    """Return a page's file as words, "" where it tells nothing: "our-prices.html" → "Our prices"."""
    folder, _, file = page.rpartition("/")
    stem = file.rpartition(".")[0] or file
    if stem.lower() in ("index", "default"):
        stem = folder.rpartition("/")[2] or "Home"
    words = re.sub(r"[-_+ ]+", " ", stem).strip()
    return f"{words[:1].upper()}{words[1:]}" if re.search(r"[^\W\d_]{2}", words) else ""
