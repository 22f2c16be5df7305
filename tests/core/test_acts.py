"""Acts and searches: all of them listed, each a document that says what it does, changes a copy and can be kept."""

from __future__ import annotations

import json
import subprocess
import sys
from collections import Counter
from pathlib import Path
from random import Random

import pytest
from pydantic import ValidationError

from glaucon.core.acts.any_act import ACTS, applied, label_of, read_acts
from glaucon.core.acts.any_search import SEARCHES
from glaucon.core.acts.at_hand import ReadSite
from glaucon.core.errors import GlauconError, StudyError
from glaucon.core.study.differences import touched
from glaucon.core.study.study import read_study
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import read_site
from tests.random_acts import DRAWS, draw_act

ROOT = Path(__file__).parents[2]


@pytest.fixture(scope="module")
def site() -> ReadSite:
    return ReadSite(read_site(ROOT / "samples" / "otterlock"), contexts=[ContextKey(1280, "rest")])


def test_every_act_and_search_is_listed_and_says_what_it_does() -> None:
    assert set(DRAWS) == set(ACTS)  # a new act is drawn below, too
    for name, one in (*ACTS.items(), *SEARCHES.items()):
        assert name == one.name() and one.says().endswith((".", ";")), name
        assert one.model_config.get("extra") == "forbid" and one.may == ("edit" if name in ACTS else "look"), name
        modules = [one.__module__.rsplit(".", 1)[0]]
        assert modules[0].startswith("glaucon.core.acts"), name
        with pytest.raises(ValidationError, match=r"is_new|Extra inputs"):
            one.model_validate({("act" if name in ACTS else "search"): name, "is_new": True})
    listed = subprocess.run(
        [sys.executable, "-m", "glaucon.cli", "act", "--list"], capture_output=True, text=True, check=True, cwd=ROOT
    ).stdout
    assert [row.split()[1] for row in listed.splitlines()] == [*ACTS, *SEARCHES]


@pytest.mark.parametrize("seed", range(8))
def test_random_acts_change_a_copy_tell_it_and_can_be_kept(site: ReadSite, seed: int) -> None:
    chance, study = Random(seed), site.known.first_study("Yard")
    done: Counter[str] = Counter()
    for _ in range(60):
        document = draw_act(chance, site, study)
        before = study.model_dump_json()
        try:
            acts = read_acts([document])
            after = applied(site, study, acts)
        except GlauconError as refused:
            assert str(refused).strip().endswith((".", "?")), (document, refused)
            assert study.model_dump_json() == before
            continue
        assert study.model_dump_json() == before, document["act"]
        assert read_study(json.loads(after.model_dump_json())) == after
        label, touches = label_of(acts, study, after), acts[0].touches(study, after)
        assert label and label == label.strip(), document
        # what it says it touched holds whatever is different; nothing is touched where nothing is
        assert touched(study, after) <= touches or not touches, document
        # done once more from its own document, it comes to the same
        assert applied(site, study, read_acts(json.loads(json.dumps([document])))) == after
        done[document["act"]] += 1
        study = after
    assert len(done) > 8, done


def test_every_act_can_be_done(site: ReadSite) -> None:
    chance, able = Random(1), set()
    started = [{"act": "add-coat", "called": "Dusk"}, {"act": "set-colour", "role": "link", "value": "#0b3c7a"}]
    for name in ACTS:
        study = applied(site, site.known.first_study("Yard"), read_acts(started))
        for _ in range(40):
            try:
                applied(site, study, read_acts([draw_act(chance, site, study, (name,))]))
            except GlauconError:
                continue
            able.add(name)
            break
    # without a layout there is no gap to close; no mark of the sample is lost
    assert set(ACTS) - able <= {"join-sections", "bring-back-mark"}


@pytest.mark.parametrize(
    ("document", "words"),
    [
        ([], "at least 1"),
        ([{"act": "paint"}], "paint"),
        ([{"act": "set-colour", "role": "link"}], "value"),
        ([{"act": "set-colour", "role": "link", "value": "blurple"}], "blurple"),
        ([{"act": "set-colour", "role": "nobody", "value": "#000"}], "nobody"),
        ("set-colour", "list"),
    ],
)
def test_what_cannot_be_done_is_said_in_a_sentence(site: ReadSite, document: object, words: str) -> None:
    with pytest.raises(GlauconError, match=words):
        applied(site, site.known.first_study("Yard"), read_acts(document))
    with pytest.raises(StudyError):
        read_acts({"act": "set-colour"})
