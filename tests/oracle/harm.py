"""Which texts a change leaves worse to read than they were, as Chromium paints them.

A text is made worse where it ends hard to read with less contrast than it had, at its worst spot (the least hundredth
of its pixels aside) or at the median of what lies behind it, by more than one part in a hundred. Logotypes and what is
disabled count too: no ratio is asked of them, but a person sees them.
"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from glaucon.core.survey.texts import is_icon
from tests.oracle.agreement import ratios_of
from tests.oracle.chromium_truth import TrueRun

_LESS = 0.99  # of the contrast it had
_STEP = 0.02  # of contrast: what one step of an 8-bit channel may come to
WORST, MEDIAN = 0.01, 0.5


def at_share(run: TrueRun, share: float) -> float:
    """Return the ratio under which so much of a text's pixels lies; 21 where there is no pixel."""
    if not len(run.ground):
        return 21.0
    ratios = ratios_of(run)
    order = np.argsort(ratios)
    below = np.cumsum(run.counts[order]) / run.counts.sum()
    return float(ratios[order][int(np.argmax(below >= share))])


def needed(run: TrueRun) -> float:
    """Return what a text of its size needs at AA (WCAG 2.2, 1.4.3)."""
    return 3.0 if is_icon(run.text) or run.size_px >= 24 or (run.size_px >= 18.66 and run.weight >= 700) else 4.5


def can_be_seen(run: TrueRun) -> bool:
    """Return whether Chromium's picture says what lies behind a text."""
    if run.scrolled_out or run.covered or not len(run.ground):
        return False
    return not ("::" in run.path and not run.is_uniform)


def is_worse(before: TrueRun, after: TrueRun) -> bool:
    """Return whether a text ends hard to read with less contrast than it had."""
    if at_share(after, WORST) >= needed(after) - _STEP:
        return False
    return any(at_share(after, share) < _LESS * at_share(before, share) - _STEP for share in (WORST, MEDIAN))


def worse_texts(first: Mapping[str, TrueRun], then: Mapping[str, TrueRun]) -> set[str]:
    """Return the paths of the texts of a page in one state that are made worse."""
    return {
        path for path, before in first.items()
        if path in then and can_be_seen(before) and can_be_seen(then[path]) and is_worse(before, then[path])
    }  # fmt: skip
