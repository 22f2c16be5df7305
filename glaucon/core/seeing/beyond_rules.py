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
# words stand right beside these: their ring takes a pixel less around them
_TICKED = ":is([type=radio], [type=checkbox])"
_LEAST = 3.05  # a little more than is asked for, since channels have 8 bits
_LEAST_UNKNOWN = 4.5  # where only the page is known, not what lies there
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
    # what the page fades takes all the contrast there is
    is_faded = any(one.is_faded for one in finding.things)
    ring = _ring(study, is_faded)
    focus = _rule([f"{one}:focus-visible" for one in selectors], ring)
    ticked = ["input"] if "input" in selectors else [one.selector for one in finding.things if _is_input(one.path)]
    if ticked:
        closer = _ring(study, is_faded, inwards=1)
        focus += " " + _rule([f"{one}{_TICKED}:focus-visible" for one in dict.fromkeys(ticked)], closer)
    if first.what == "focus":
        return focus
    if first.what == "link-in-text":
        # a line that came with the focus tells nothing any more where there always is one
        return f"{_rule(selectors, 'text-decoration: underline !important')} {focus}"
    edge = _edge_colour(first.colour, [one.against for one in finding.things], study, is_faded)
    state = {"hover": ":hover", "focus": ":focus"}.get(first.state, "")
    return _rule([f"{one}{state}" for one in selectors], f"border: 1px solid {edge} !important")


def _rule(selectors: Iterable[str], said: str) -> str:
    return f"{', '.join(selectors)} {{ {said} }}"


def _is_input(path: str) -> bool:
    return path.rsplit(">", 1)[-1].partition(":")[0] == "input"


def _ring(study: Study, is_faded: bool, inwards: int = 0) -> str:
    """Return a ring of a dark and a light colour, one of which stands out anywhere: the site's own if they do."""
    text, page = study.first("text"), study.first("background")
    both = [BLACK, WHITE]
    if not is_faded and text is not None and page is not None:
        own = sorted((text.colour.with_alpha(1), page.colour.with_alpha(1)), key=lambda one: contrast_ratio(one, BLACK))
        both = own if contrast_ratio(*own) >= _RING_APART else both
    dark, light = (one.hex() for one in both)
    offset = f"{-inwards}px" if inwards else "0"
    glow = f"box-shadow: 0 0 0 {4 - inwards}px {light} !important"
    return f"outline: 2px solid {dark} !important; outline-offset: {offset}; {glow}"


def _edge_colour(now: str, grounds: Sequence[str], study: Study, is_faded: bool) -> str:
    """Return the colour nearest to an edge's that stands out from all it has to; the most there is where it fades."""
    known = [read_colour(one) for one in dict.fromkeys(grounds) if one]
    least = _LEAST if known else _LEAST_UNKNOWN
    if not known:
        page = study.first("background")
        known = [page.colour.with_alpha(1)] if page is not None else [WHITE]
    start = read_colour(now) if now else known[0]
    lightness, chroma, hue = oklch_from_oklab(oklab_from_srgb(np.array(start.rgb))).tolist()
    tried = np.stack([_LIGHTNESSES, np.full(129, chroma), np.full(129, hue)], axis=1)
    shown = [Colour(*rgb).rounded() for rgb in into_srgb(tried).tolist()]
    good = [n for n, colour in enumerate(shown) if all(contrast_ratio(colour, one) >= least for one in known)]
    if not good or is_faded:
        return max((BLACK, WHITE), key=lambda one: min(contrast_ratio(one, other) for other in known)).hex()
    return shown[min(good, key=lambda n: abs(float(_LIGHTNESSES[n]) - lightness))].hex()
