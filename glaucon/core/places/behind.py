"""Which section's picture texts lie on: their own section's, or for a menu the section it overlaps.

Where a browser has measured the page it is known which that is; elsewhere it is taken to be the one that follows.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable

from glaucon.core.survey.model import Region, Survey

_OVER = frozenset({"navigation", "search"})  # what pages lay over the section that follows


def sections_behind(survey: Survey, texts: Iterable[int]) -> list[tuple[Region, str]]:
    """Return sections with a page that has them, those behind most of some texts first; each section once."""
    in_order: dict[str, list[int]] = {}
    for run in survey.runs:
        section = _section(survey, run.chain)
        if section is not None and section not in in_order.setdefault(run.page, []):
            in_order[run.page].append(section)
    found: Counter[int] = Counter()
    pages: dict[int, str] = {}
    for number in texts:
        run = survey.runs[number]
        section = _section(survey, run.chain)
        if section is not None and survey.regions[section].kind in _OVER:
            over: list[int | None] = [_section(survey, chain) for chain, _ in survey.beside.get(number, ())]
            if run.page not in survey.laid:
                over = [*in_order[run.page][in_order[run.page].index(section) + 1 :]]
            section = next((one for one in over if one is not None and survey.regions[one].kind not in _OVER), section)
        if section is not None:
            found[section] += 1
            pages.setdefault(section, run.page)
    return [(survey.regions[section], pages[section]) for section, _ in found.most_common()]


def _section(survey: Survey, chain: int) -> int | None:
    """Return the number of the outermost section that a text is in."""
    return next((number for number in survey.chains[chain] if survey.regions[number].is_section), None)
