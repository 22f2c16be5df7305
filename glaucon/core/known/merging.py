"""What taking a palette does: how many colours join others, and which texts get harder or easier to read."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass

import numpy as np

from glaucon.core.colour.oklab import Floats, oklab_from_srgb
from glaucon.core.known.site import KnownSite
from glaucon.core.reading.reading import FAIL
from glaucon.core.study.editing import take_merges
from glaucon.core.study.study import Study

_SEEN_SHIFT = 0.02  # ΔE OK: about the least that a person notices


@dataclass(frozen=True, slots=True)
class MergeEffect:
    """`joining` colours join others and `become` fewer; `harder` and `easier` count texts that start or stop failing.

    `shifted` counts colours that move by more than a person notices.
    """

    colours: int
    joining: int
    become: int
    harder: int
    easier: int
    shifted: int


def merge_effect(site: KnownSite, study: Study) -> MergeEffect:
    """Return what taking a study's merges does to the site as it stands under the study."""
    tokens = site.survey.tokens
    roles = site.tokens.roles(study)
    written = {t.colour.with_alpha(1.0).hex() for t in tokens if t.kind != "default"}
    of_role: dict[str, set[str]] = defaultdict(set)
    for number, role in roles.items():
        if tokens[number].kind != "default":
            of_role[role].add(tokens[number].colour.with_alpha(1.0).hex())
    merging = [colours for colours in of_role.values() if len(colours) > 1]
    taken = take_merges(study, tokens)
    before, after = site.tokens.values(study), site.tokens.values(taken)
    worse, better = _texts_changed(site, study, before, after)
    moved = np.linalg.norm(oklab_from_srgb(before[:, :3]) - oklab_from_srgb(after[:, :3]), axis=1) > _SEEN_SHIFT
    return MergeEffect(
        colours=len(written),
        joining=sum(len(colours) - 1 for colours in merging),
        become=len(merging),
        harder=worse,
        easier=better,
        shifted=len({tokens[n].colour.hex() for n in np.nonzero(moved)[0]}),
    )


def _texts_changed(site: KnownSite, study: Study, before: Floats, after: Floats) -> tuple[int, int]:
    compiled = site.compiled(study)
    first, then = (compiled.read(values, study.aim).verdict == FAIL for values in (before, after))
    failed, fails = (site.index.runs_of(np.nonzero(some)[0].tolist()) for some in (first, then))
    return len(set(fails.tolist()) - set(failed.tolist())), len(set(failed.tolist()) - set(fails.tolist()))
