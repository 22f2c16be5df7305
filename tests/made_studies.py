"""Studies made at random for mending: roles, what is written on what, locks."""

from __future__ import annotations

import numpy as np

from glaucon.core.mending.thorough.joint import Problem, Spots, Variable, bounds_of, kept_to
from glaucon.core.reading.candidates import candidates_of


def made_study(seed: int) -> Problem:
    """Return a problem of 6 to 14 roles, 20 to 80 pairings and random locks.

    A third of the roles are grounds, and words stand on one to three of them, as on a site. Some pairings are of
    faded words, or of words on a colour that no role has; many are of the same two roles at another size.
    """
    dice = np.random.default_rng(seed)
    roles = int(dice.integers(6, 15))
    grounds = max(2, roles // 3)
    levels = dice.integers(0, 256, (roles, 3))
    # grounds of real sites are pale or dark rather than middling
    pale = dice.random(grounds) < 0.7
    levels[:grounds] = np.where(pale[:, None], 255 - levels[:grounds] // 5, levels[:grounds] // 4)
    colours = levels / 255
    locked = set(dice.choice(roles, int(dice.integers(0, max(1, roles // 3))), replace=False).tolist())
    count = int(dice.integers(20, 81))
    share, still = np.zeros((2, count, roles, 3)), np.zeros((2, count, 3))
    stands_on = {
        role: dice.choice(grounds, min(grounds, int(dice.choice([1, 2, 3], p=[0.55, 0.3, 0.15]))), replace=False)
        for role in range(grounds, roles)
    }
    for row in range(count):
        words = int(dice.integers(grounds, roles))
        ground = int(dice.choice(stands_on[words]))
        kind = dice.random()
        if kind < 0.08:  # on a colour of no role
            still[1, row] = dice.integers(0, 256, 3) / 255
            share[0, row, words] = 1
            continue
        share[1, row, ground] = 1
        opacity = 0.85 if kind < 0.16 else 1.0
        share[0, row, words] = opacity
        share[0, row, ground] = 1 - opacity
    fixed = sorted(locked)
    still += np.einsum("sirc,rc->sic", share[:, :, fixed], colours[fixed])
    share[:, :, fixed] = 0
    required = dice.choice([4.5, 4.5, 4.5, 3.0], count)
    spots = Spots(share, still, required, np.ones(count), np.arange(count))
    bounds = np.array([bounds_of(c, role == 0) if role < grounds else (0.0, 1.0) for role, c in enumerate(colours)])
    weight = 0.05 + np.sqrt(dice.random(roles))
    return Problem(
        colours,
        [
            Variable((role,), float(weight[role]), kept_to(candidates_of(tuple(colours[role])), bounds[role]))
            for role in range(roles) if role not in locked
        ],
        spots,
        bounds,
    )  # fmt: skip
