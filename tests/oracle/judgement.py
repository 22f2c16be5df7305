"""Holds proposed palettes against what a person said of the pages' pictures: python -m tests.oracle.judgement"""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np

from glaucon.core.colour.oklab import oklab_from_srgb
from glaucon.core.colour.value import read_colour
from glaucon.core.known.site import KnownSite
from glaucon.core.survey.site import read_site
from glaucon.core.survey.survey import survey_site
from tests.oracle import corpus

DATA = corpus.ROOT / "tests" / "data" / "palette_judgement.json"
BY_EYE = 0.08  # ΔE OK: how far a colour read off a picture by eye may lie


def judged() -> dict[str, dict[str, str | None]]:
    """Return what was said, by site and role."""
    return dict(json.loads(DATA.read_text("utf-8"))["sites"])


def folder_of(name: str) -> Path:
    """Return a judged site's folder."""
    real = {site.name: site for site in corpus.REAL}
    if name == "otterlock":
        return corpus.ROOT / "samples" / name
    return corpus.fetch(real[name]) if name in real else corpus.OWN / name


def answers(name: str, said: dict[str, str | None]) -> dict[str, tuple[str, str, bool]]:
    """Return, for each role something was said of, (what was said, what is proposed, whether they agree)."""
    survey = survey_site(read_site(folder_of(name)))
    proposed = {role.id: role.value for role in KnownSite(survey).proposal().roles}
    found = {}
    for role, colour in said.items():
        if colour is not None:
            ours = proposed.get(role, "none")
            found[role] = (colour, ours, ours != "none" and _apart(colour, ours) <= BY_EYE)
    return found


def _apart(one: str, other: str) -> float:
    labs = [oklab_from_srgb(np.array(read_colour(text).rgb)) for text in (one, other)]
    return float(np.linalg.norm(labs[0] - labs[1]))


def main() -> None:
    """Print hits and misses."""
    hits = total = 0
    for name, said in judged().items():
        for role, (colour, ours, agrees) in answers(name, said).items():
            total += 1
            hits += agrees
            if not agrees:
                print(f"miss: {name}, {role}: said {colour}, proposed {ours}")
    print(f"{hits} of {total} as a person says ({100 * hits / total:.1f} %)")


if __name__ == "__main__":
    main()
