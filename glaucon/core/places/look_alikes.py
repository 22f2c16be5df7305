"""Parts of another class that look like one that is chosen: a button called `.btn` beside one called `.cta`."""

from __future__ import annotations

from collections import Counter, defaultdict

import numpy as np

from glaucon.core.colour.oklab import Floats, oklab_from_srgb
from glaucon.core.known.site import KnownSite
from glaucon.core.reading.findings import SiteReading
from glaucon.core.survey.model import ContextKey, Region

_ALIKE = 0.02  # ΔE OK, of the words and of what they stand on
MOST = 12


def look_alikes(known: KnownSite, reading: SiteReading, region: Region, width: int) -> list[Region]:
    """Return the other parts of a region's kind whose words and ground mostly look like its own, at rest."""
    survey = reading.index.survey
    of_kind = {n for n, one in enumerate(survey.regions) if one.kind == region.kind and not one.is_section}
    rows: dict[int, Counter[int]] = defaultdict(Counter)
    for sighting in survey.sightings.get(ContextKey(width, "rest"), ()):
        run = survey.runs[sighting.run]
        chain = survey.chains[run.chain]
        if chain and chain[-1] in of_kind:
            rows[chain[-1]][sighting.pairing] += run.characters
    looks = {n: _look(reading, some.most_common(1)[0][0]) for n, some in rows.items()}
    own = next((n for n in looks if survey.regions[n].key == region.key), None)
    if own is None or np.isnan(looks[own]).any():
        return []
    same = (n for n, look in looks.items() if n != own and (np.linalg.norm(look - looks[own], axis=-1) <= _ALIKE).all())
    return [survey.regions[n] for n in same][:MOST]


def _look(reading: SiteReading, row: int) -> Floats:
    """Return the words' and the ground's colour of a row as OKLab, shape (2, 3)."""
    colours = np.stack([reading.readings.words[row][:3], reading.readings.ground[row][:3]])
    return oklab_from_srgb(colours)
