"""Everything readable, and still the same site: the search.

What fails is taken pair by pair, what most text needs first. For each pair of a text and a background there are four
ways: the text's colour everywhere, or only where it fails (a part of its role); the background's, likewise. The way
that harms least for what it makes readable is taken: a colour that many readable texts wear is parted rather than
moved, a button is harder rather than its white text blackened, and a page's background moves last. Colours at rest
come first and look at nothing else; what only states show is settled after, by colours that only states show.
"""

from __future__ import annotations

import math
from collections.abc import Iterable

import numpy as np

from glaucon.core.known.site import KnownSite
from glaucon.core.mending.afterwards import Afterwards
from glaucon.core.mending.loudness import Loudness
from glaucon.core.mending.moving import Manner, MovedColours, Moving
from glaucon.core.mending.ways import Ways
from glaucon.core.study.study import Study


def fix(
    known: KnownSite,
    study: Study,
    locks: Iterable[str],
    needed: tuple[float, float],
    until: float = math.inf,
    manner: Manner | None = None,
) -> MovedColours:
    """Return colours under which as many texts are readable as may be while the site stays itself.

    `locks` are roles that stay; `needed` are the ratios for text of normal and large size; `until` is when searching
    ends, in processor time of this thread (a busy machine gives no worse fix): the best found so far is returned.
    """
    moving = Moving(known, study, locks, needed, until, manner)
    loudness = Loudness(moving)
    ways, after = Ways(moving, loudness), Afterwards(moving, loudness)
    at_rest = moving.rows.at_rest
    shown_at_rest = frozenset(
        token for pairing in np.nonzero(at_rest)[0].tolist() for token in known.index.tokens_of(pairing)
    )
    ways.settle(at_rest)
    loudness.keep_order()
    after.follow_ties()
    ways.settle(moving.rows.counts & ~at_rest, shown_at_rest)
    after.keep_states_seen()
    after.let_go()
    return moving.found
