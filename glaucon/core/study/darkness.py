"""Whether a study is a dark one."""

from __future__ import annotations

import numpy as np

from glaucon.core.colour.oklab import oklab_from_srgb
from glaucon.core.study.study import Study

MIDDLING = 0.62  # OKLCH lightness


def is_dark(study: Study) -> bool:
    """Return whether a study's page is dark."""
    page = study.first("background")
    return page is not None and float(oklab_from_srgb(np.array(page.colour.rgb))[0]) < MIDDLING
