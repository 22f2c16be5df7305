"""Rules of the owner's own CSS that make what besides text has to be seen stand out.

A link gets a line under it, a field an edge that stands out 3 : 1, focus a ring of two colours of which one stands out
from whatever lies there. The colours are the palette's own where those will do.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence

import numpy as np

from glaucon.core.colour.contrast import contrast_ratio
from glaucon.core.colour.gamut import into_srgb
from glaucon.core.colour.oklab import oklab_from_srgb, oklch_from_oklab
from glaucon.core.colour.value import BLACK, WHITE, Colour, read_colour
from glaucon.core.seeing.beyond import BeyondFinding
from glaucon.core.study.study import Study

_MOST_SELECTORS = 30
# where there are more to be named: all of their kind
_ALL = {
    "link-in-text": "p a, li a, dd a, td a", "field": "input, select, textarea", "border": "button",
    "focus": "a, button, input, select, textarea, summary, [tabindex]", "icon": "",
}  # fmt: skip
_LEAST = 3.05  # a little more than is asked for, since channels have 8 bits
_RING_APART = 9.1  # of two colours: one of them has 3 : 1 to any third
_LIGHTNESSES = np.linspace(0, 1, 129)


def rule_for(finding: BeyondFinding, study: Study) -> str:
    """Return the rule that mends a finding, "" where no rule does."""
    first = finding.first
    if first.verdict not in ("fail", "unsure") or first.what == "icon":
        return ""
    selectors = list(dict.fromkeys(one.selector for one in finding.things))
    if len(selectors) > _MOST_SELECTORS:
        selectors = _ALL[first.what].split(", ")
    if first.what == "link-in-text":
        return _rule(selectors, "text-decoration: underline !important")
    if first.what == "focus":
        # what the page fades takes all the contrast there is
        is_faded = any(one.is_faded for one in finding.things)
        dark, light = (BLACK.hex(), WHITE.hex()) if is_faded else _ring(study)
        return _rule(
            [f"{one}:focus-visible" for one in selectors],
            f"outline: 2px solid {dark} !important; outline-offset: 2px; box-shadow: 0 0 0 6px {light} !important",
        )
    edge = _edge_colour(first.colour, [one.against for one in finding.things], study)
    if edge is None:
        return ""
    state = {"hover": ":hover", "focus": ":focus"}.get(first.state, "")
    return _rule([f"{one}{state}" for one in selectors], f"border: 1px solid {edge} !important")


def _rule(selectors: Iterable[str], said: str) -> str:
    return f"{', '.join(selectors)} {{ {said} }}"


def _ring(study: Study) -> tuple[str, str]:
    """Return a dark and a light colour, one of which stands out anywhere: the site's own text and page if they do."""
    text, page = study.first("text"), study.first("background")
    if text is not None and page is not None and contrast_ratio(text.colour, page.colour) >= _RING_APART:
        both = sorted((text.colour, page.colour), key=lambda colour: contrast_ratio(colour, BLACK))
        return both[0].with_alpha(1).hex(), both[1].with_alpha(1).hex()
    return BLACK.hex(), WHITE.hex()


def _edge_colour(now: str, grounds: Sequence[str], study: Study) -> str | None:
    """Return the colour nearest to an edge's that stands out from all it has to; None: nothing is known of those."""
    known = [read_colour(one) for one in dict.fromkeys(grounds) if one]
    if not known:
        page = study.first("background")
        known = [page.colour.with_alpha(1)] if page is not None else [WHITE]
    start = read_colour(now) if now else known[0]
    lightness, chroma, hue = oklch_from_oklab(oklab_from_srgb(np.array(start.rgb))).tolist()
    tried = np.stack([_LIGHTNESSES, np.full(129, chroma), np.full(129, hue)], axis=1)
    shown = [Colour(*rgb).rounded() for rgb in into_srgb(tried).tolist()]
    good = [n for n, colour in enumerate(shown) if all(contrast_ratio(colour, one) >= _LEAST for one in known)]
    if not good:
        return max((BLACK, WHITE), key=lambda one: min(contrast_ratio(one, other) for other in known)).hex()
    return shown[min(good, key=lambda n: abs(float(_LIGHTNESSES[n]) - lightness))].hex()
