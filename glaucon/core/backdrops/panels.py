"""The boxes of a place made translucent, so that what is laid behind it shows through them."""

from __future__ import annotations

import math
from collections.abc import Callable, Collection, Iterator, Mapping, Sequence

from glaucon.core.backdrops.trying import Before, Seen, texts_on
from glaucon.core.colour.value import css_text
from glaucon.core.reading.reading import VERDICTS
from glaucon.core.study.backdrops import Backdrop
from glaucon.core.study.study import Study
from glaucon.core.study.wearing import worn_by
from glaucon.core.survey.model import Panel, Region

_STEPS = 20
# Gives a selector of the root element that holds on some pages, None where nothing tells them apart.
Root = Callable[[Sequence[str], str], str | None]


def panel_rules(
    backdrop: Backdrop, study: Study, regions: Mapping[str, Region], pages: Collection[str], root_of: Root
) -> list[str]:
    """Return the rules that give the boxes on a backdrop its strength of panels, none where that is whole.

    They follow the palette and what sections wear: a box shows its role's custom property.
    """
    if backdrop.panels >= 1:
        return []
    found: list[str] = []
    for region, panel in _boxes_on(backdrop, regions):
        names = sorted(set(region.pages) & set(pages))
        root = root_of(names, region.selector) if names else None
        if root is None:
            continue
        at = f"{root} {region.selector.removeprefix('html > ')}"
        at = f"{at} :is({panel.selector})" if panel.selector else at
        strength = f"{backdrop.panels * panel.opacity * 100:g}%"
        shown = f"color-mix(in srgb, {_shown(panel, study)} {strength}, transparent)"
        found.append(f"{at} {{ background-color: {shown} !important }}")
    return list(dict.fromkeys(found))


def panels_on(backdrop: Backdrop, regions: Mapping[str, Region]) -> int:
    """Return how many kinds of boxes a backdrop's strength of panels reaches."""
    return sum(1 for _ in _boxes_on(backdrop, regions))


def _boxes_on(backdrop: Backdrop, regions: Mapping[str, Region]) -> Iterator[tuple[Region, Panel]]:
    """Yield the boxes that lie on a backdrop: those inside its place, behind pages the sections themselves too."""
    where = backdrop.where
    if where is not None and where.at is not None:
        return
    if where is not None and where.region is not None:
        region = regions.get(where.region)
        inside = region.panels if region is not None else ()
        yield from ((region, panel) for panel in inside if region is not None and panel.selector)
        return
    for region in regions.values():
        if region.is_section:
            yield from ((region, panel) for panel in region.panels)


def _shown(panel: Panel, study: Study) -> str:
    """Return a box's colour as CSS that follows the palette where it is of it."""
    found = css_text(panel.colour)
    if panel.token is None:
        return found
    worn = next(worn_by(study, [panel.token]), None)
    if worn is None:
        return found
    name = worn.custom_property.name
    if not worn.custom_property.is_channels:
        return f"var({name}, {found})"
    red, green, blue = panel.colour.bytes
    return f"rgb(var({name}, {red}, {green}, {blue}))"


def firmest_needed(seen: Seen, study: Study, backdrop: Backdrop, before: Before | None = None) -> tuple[float, int]:
    """Return the least strength of boxes that leaves no more texts hard to read than whole ones do, and how many.

    Found by halving, in steps of a twentieth: a box that is more solid hides more of what lies behind it.
    """

    def hard(strength: float) -> int:
        other = backdrop.model_copy(update={"panels": strength})
        texts = texts_on(seen(other), study, other, before)
        return sum(VERDICTS[one.verdict] == "fail" for one in texts)

    whole = hard(1)
    low, high = math.ceil(backdrop.panels * _STEPS), _STEPS
    while low < high:
        middle = (low + high) // 2
        if hard(middle / _STEPS) <= whole:
            high = middle
        else:
            low = middle + 1
    return high / _STEPS, whole
