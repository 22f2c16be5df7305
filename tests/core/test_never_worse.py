"""Never worse: what stays hard to read, or cannot be told, keeps its contrast whatever is changed for others' sake."""

from __future__ import annotations

import io

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from glaucon.core.acts.any_act import applied, read_acts
from glaucon.core.acts.at_hand import ReadSite
from glaucon.core.acts.whole.find_fixes import FindFixes
from glaucon.core.colour.contrast import contrast_ratio
from glaucon.core.colour.value import Colour, read_colour
from glaucon.core.known.site import KnownSite
from glaucon.core.making.drafting import COLOURFUL, Parts, lch_of
from glaucon.core.making.making import make_study
from glaucon.core.mending.fixed import fix_all
from glaucon.core.mending.harm import Guard
from glaucon.core.mending.two_ways import in_words, question_of
from glaucon.core.study.mixing import COMFORT, mixed_link, mixed_quiet, mixed_text
from glaucon.core.study.study import Study
from glaucon.core.survey.readable import MOST_CHARACTERS, MOST_WORDS, is_short, short_name, told_apart_by
from glaucon.core.survey.site import SiteFiles
from glaucon.core.survey.survey import survey_site

HEAD = "<!doctype html><link rel=stylesheet href=a.css>"
MANY = "<p>Words enough that the page has a text that everybody reads.</p>" * 8
_PHOTO = np.random.default_rng(5).integers(20, 90, (60, 90, 3)).astype(np.uint8)
_PHOTO[:8, :8] = 235  # a bright spot, so that light words on it are hard to read somewhere


def photo() -> bytes:
    out = io.BytesIO()
    Image.fromarray(_PHOTO).save(out, "PNG")
    return out.getvalue()


def at_hand(page: str, css: str) -> ReadSite:
    return ReadSite(SiteFiles({"index.html": (HEAD + page).encode(), "a.css": css.encode(), "p.png": photo()}))


ASK, BAND = "<p class=w>Ask for a boat</p>", ".band { background: #e8963c }"
PALE = "background: #fff; color: #222"
# what a fix did to such sites: words of one rule on an orange band and on a photograph, a name in a bar, a link
SITES = {
    "an introduction on a photograph shares its colour with an orange band": (
        f"{MANY}<div class=hero><h2 class=w>Come aboard</h2></div><div class=band>{ASK * 8}",
        f"body {{ {PALE} }} .w {{ color: #f4e3c8 }} .hero {{ background: #333 url(p.png) }} {BAND}",
    ),
    "the same without a picture that can be read": (
        f"{MANY}<div class=hero><h2 class=w>Come aboard</h2></div><div class=band>{ASK * 8}",
        f"body {{ {PALE} }} .w {{ color: #f4e3c8 }} .hero {{ background: url(//boats.example/p.jpg) }} {BAND}",
    ),
    "a brand's name on a gradient wears what faint words on white do": (
        f"<nav class=bar><a class=y href=#>Otterlock</a></nav>{MANY}{'<p class=y>Tolls of the year</p>' * 6}",
        f"body {{ {PALE} }} .y {{ color: #f2c14e }} .bar {{ background: linear-gradient(#c4302b, #d94f30) }}",
    ),
    "a disabled button wears the colour of failing labels": (
        f"{MANY}<button disabled class=q>Book</button>{'<p class=q>Locks</p>' * 6}",
        f"body {{ {PALE} }} .q {{ color: #b5b5b5 }} button {{ background: #6a6a6a }}",
    ),
}  # fmt: skip


@pytest.fixture(params=SITES, ids=list(SITES))
def site(request: pytest.FixtureRequest) -> tuple[ReadSite, Study]:
    found = at_hand(*SITES[request.param])
    return found, found.known.first_study("First")


@pytest.mark.parametrize("offers", [(), None], ids=["nothing taken", "all taken"])
def test_fix_all_makes_nothing_worse_and_still_fixes(site: tuple[ReadSite, Study], offers: tuple[()] | None) -> None:
    here, study = site
    found = FindFixes(search="fix-all").find(here, study)
    fixed = applied(here, study, [found.taken(offers)])
    guard = Guard(here.known, study)
    assert guard.worse_in(here.under(fixed), fixed) == set()
    assert found.before > 0 and found.after < found.before


def test_a_guard_sees_harm(site: tuple[ReadSite, Study]) -> None:
    here, study = site
    role = next(r for r in study.roles if r.value in ("#f4e3c8", "#f2c14e", "#b5b5b5"))
    ruined = study.with_values({role.id: "#7a5a3a" if role.value != "#b5b5b5" else "#6f6f6f"})
    assert Guard(here.known, study).worse(ruined)


@pytest.mark.parametrize("direction", [0, 2, 4])
def test_made_palettes_and_coats_make_nothing_worse(site: tuple[ReadSite, Study], direction: int) -> None:
    here, study = site
    guard = Guard(here.known, study, disabled=False)
    assert not guard.worse(make_study(here.known, study, [Colour(0.1, 0.45, 0.5)], direction).study)
    key = next((one.key for one in here.known.survey.regions if one.is_section), None)
    acts = [
        {"act": "add-coat", "called": "Night", "background": ("#12304a", "#f0e0c0", "#6f7f4f")[direction // 2]},
        {"act": "wear", "places": [{"section": key}], "coat": "night"},
    ]
    if key is not None:
        assert not guard.worse(applied(here, study, read_acts(acts)))


def test_the_owner_is_asked_where_a_fix_changes_the_face_of_the_site() -> None:
    here = at_hand(
        f"<main class=b>{'<p>Still water and slow boats</p>' * 6}</main>",
        "body { background: #fff; color: #222 } .b { background: #1abc9c; color: #fff }",
    )
    known, study = here.known, here.known.first_study("First")
    question = question_of(known, study)
    assert question is not None
    assert in_words(known, study, question, fix_all(known, study, {question.background}).study)[1] == "background"
    found = FindFixes(search="fix-all").find(here, study)
    assert {(one.keeps, one.says) for one in found.ways} == {
        ("background", "keeps the teal, words turn dark"), ("text", "keeps white words, the teal gets deeper"),
    }  # fmt: skip
    for keeps in ("background", "text"):
        chosen = FindFixes(search="fix-all", keeps=keeps).find(here, study)
        after = applied(here, study, [chosen.taken()])
        assert not known.read(after).hard and [one.keeps for one in chosen.ways if one.is_chosen] == [keeps]


_GROUNDS = st.tuples(*[st.integers(0, 255)] * 3).map(lambda rgb: Colour(*(v / 255 for v in rgb)))


@given(_GROUNDS, _GROUNDS)
@settings(max_examples=80, deadline=None)
def test_what_is_mixed_for_a_coat_is_what_a_person_would(ground: Colour, link: Colour) -> None:
    white, black = read_colour("#ffffff"), read_colour("#000000")
    most = max(contrast_ratio(white, ground), contrast_ratio(black, ground))
    text = mixed_text(ground, [read_colour("#22302b"), read_colour("#fbf7ef")])
    quiet, wears = mixed_quiet(ground, text, 4.5), mixed_link(ground, text, link, 4.5)
    assert contrast_ratio(text, ground) >= min(COMFORT, most) - 1e-9
    assert 4.5 - 0.01 <= contrast_ratio(quiet, ground) <= contrast_ratio(text, ground) + 1e-9
    assert contrast_ratio(wears, ground) >= 4.5 - 1e-9


def test_ornaments_keep_their_life() -> None:
    here = at_hand(
        f"{MANY}<a class=b href=#>Book</a><i class=o></i><hr>",
        "body { background: #fff; color: #222 } .b { background: #1f5f9b; color: #fff } .o { display: block;"
        " height: 9px; border: 4px solid #7b2fd0 } hr { border-top: 3px solid #e04010 }",
    )
    known, study = here.known, here.known.first_study("First")
    uses = Parts(known, study).uses
    lively = [r for r in study.roles if r.id in uses and uses[r.id].kind in ("line", "other") and _chroma(r.value)]
    assert lively
    for direction in range(6):
        made = make_study(known, study, [Colour(0.1, 0.45, 0.5)], direction)
        for role in lively:
            if role.id not in made.given:
                assert _chroma(made.study.role(role.id).value) >= 0.7 * _chroma(role.value)


def _chroma(value: str) -> float:
    chroma = lch_of(read_colour(value))[1]
    return chroma if chroma >= COLOURFUL else 0.0


NAMES = {
    "We've got what you need!": "We've got", "Free Download!": "Free Download", "“What people say”": "What people say",
    "Highlight: Articles for Articles for": "Highlight Articles",
    "Internationalisationsberatungen": "Internationalisationsber",
    "Boats at the yard": "Boats",
}  # fmt: skip


@pytest.mark.parametrize("text", NAMES)
def test_names_are_cut_at_a_word(text: str) -> None:
    assert short_name(text) == NAMES[text] and is_short(short_name(text))
    assert is_short(told_apart_by(text, "pale yellow-green"))
    assert (MOST_WORDS, MOST_CHARACTERS) == (3, 24)


def test_a_site_has_short_names_only(otter: KnownSite) -> None:
    study = otter.first_study("First")
    names = [one.label for one in otter.survey.regions] + [r.label for r in study.roles if r.state == "rest"]
    assert [name for name in names if not is_short(name)] == []
    assert {coat.label for coat in study.coats} >= {"Deep teal footer", "Sand band"}


@pytest.fixture(scope="module")
def otter() -> KnownSite:
    from glaucon.core.survey.site import read_site
    from tests.oracle.corpus import ROOT

    return KnownSite(survey_site(read_site(ROOT / "samples" / "otterlock")))
