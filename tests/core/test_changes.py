"""What a release changes is told in words, and nothing else: taking back what each sentence says leads back."""

from __future__ import annotations

import re
from collections.abc import Sequence
from pathlib import Path
from random import Random

import pytest

from glaucon.core.acts.any_act import applied, read_acts
from glaucon.core.acts.at_hand import ReadSite
from glaucon.core.acts.show import added_css
from glaucon.core.changes.shown import shown_changes
from glaucon.core.changes.taking_back import taken_back
from glaucon.core.changes.told import ToldChange, told_changes
from glaucon.core.errors import GlauconError
from glaucon.core.study.study import Study
from glaucon.core.study.wearing import Property
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import read_site
from tests.random_acts import draw_act

SAMPLE = Path(__file__).parents[2] / "samples" / "otterlock"


@pytest.fixture(scope="module")
def site() -> ReadSite:
    return ReadSite(read_site(SAMPLE), contexts=[ContextKey(1280, "rest")])


def _acted(site: ReadSite, study: Study, chance: Random, many: int) -> Study:
    done = 0
    while done < many:
        try:
            study = applied(site, study, read_acts([draw_act(chance, site, study)]))
            done += 1
        except GlauconError:
            continue
    return study


def _shown(site: ReadSite, study: Study) -> tuple[list[list[float]], list[list[str]], str]:
    """Return all that shows of a study on its site's pages: every found colour, and every rule that is added."""
    worn = {Property(id_).name for id_ in site.known.tokens.tokens_of(study)}
    said = []
    for line in added_css(site, study).split("\n"):
        # in which order colours are declared shows nothing, nor do those that no found colour has
        parts = [part.strip() for part in re.split(r"[;{}]", line)]
        said.append(sorted(p for p in parts if not p.startswith("--gl-") or p.split(":")[0].split("-at-")[0] in worn))
    known = site.known
    worn_there = known.worn_colours(study)
    return known.tokens.values(study).round(4).tolist(), sorted(filter(any, said)), str(worn_there)


def _painted(site: ReadSite, study: Study) -> object:
    values, said, worn_there = _shown(site, study)
    return values, [[part for part in rule if not part.startswith("--gl-")] for rule in said], worn_there


def _keys(changes: Sequence[ToldChange]) -> list[str]:
    return sorted(one.key for one in changes)


@pytest.mark.parametrize("seed", [*range(5), *(pytest.param(n, marks=pytest.mark.prove) for n in range(5, 30))])
def test_taking_back_what_each_sentence_says_leads_back(site: ReadSite, seed: int) -> None:
    chance = Random(seed)
    before = _acted(site, site.known.first_study("Yard"), chance, 8)
    after = _acted(site, before, chance, 12)
    told = told_changes(before, after)
    shown = {one.key for one in shown_changes(site.known, before, after)}
    assert len({one.key for one in told}) == len(told) and all(one.says for one in told)
    seen = back = after
    for one in reversed(told):
        alone = taken_back(after, before, one)
        assert one.key not in _keys(told_changes(before, alone)), one
        back = taken_back(back, before, one)
        seen = taken_back(seen, before, one) if one.key in shown else seen
    assert _keys(told_changes(before, back)) == []
    assert _shown(site, back) == _shown(site, before)
    # what is told is all that shows, though a colour may have it from another of the same value
    assert _painted(site, seen) == _painted(site, before)
