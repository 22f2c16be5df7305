"""Roles that came in one colour for one use and are parted: an owner who changes one mostly means the others too."""

from __future__ import annotations

from collections import defaultdict

import numpy as np

from glaucon.core.colour.oklab import oklab_from_srgb
from glaucon.core.colour.value import read_colour
from glaucon.core.study.roles import Role
from glaucon.core.study.study import Study

_ALIKE = 0.02  # ΔE OK between what they came with


def twins_of(study: Study) -> dict[str, list[Role]]:
    """Return, for each role by id, the others of its kind and state that came in its colour and do not follow it."""
    of_use: dict[str, list[Role]] = defaultdict(list)
    for role in study.roles:
        if role.tier != "unseen":
            of_use[role.use].append(role)
    found: dict[str, list[Role]] = {}
    for some in of_use.values():
        labs = oklab_from_srgb(np.array([read_colour(role.found).rgb for role in some]))
        near = np.linalg.norm(labs[:, None] - labs[None], axis=-1) <= _ALIKE
        for n, role in enumerate(some):
            others = (some[m] for m in np.nonzero(near[n])[0].tolist() if m != n)
            found[role.id] = [one for one in others if one.tie is None or role.id not in one.tie.origins]
    return found
