"""What the bench's pages show in each of the five states, held in Chromium's pixels against what the reading says."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from playwright.sync_api import Browser

from glaucon.core.cascade.text import decode_source
from glaucon.core.exchange.preview import STATE_ATTRIBUTE, PreviewMaker, Root
from glaucon.core.exchange.reports.audit import audit_survey
from glaucon.core.known.site import KnownSite
from glaucon.core.study.study import Study
from glaucon.core.study.wearing import wear_of
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import SiteFiles, is_page, read_site
from glaucon.core.survey.survey import survey_site
from tests.oracle import corpus
from tests.oracle.__main__ import explained
from tests.oracle.agreement import Tally, compare_page
from tests.oracle.chromium_truth import true_runs
from tests.oracle.handing_back import as_folder, vivid

WIDTH = 1280
STATES = {"rest": "", "hover": "hover", "focus": "focus", "active": "active hover focus", "visited": "visited"}
# one with states of every sort, one coloured by attributes, and the yard's own
SITES = {
    "states": corpus.OWN / "states",
    "old-markup": corpus.OWN / "old-markup",
    "otterlock": corpus.ROOT / "samples/otterlock",
}
# what the handed-back proof says of the same sites (docs/handing-back.md) holds here too
LEAST = {"old-markup": 96.0}


@pytest.mark.parametrize(
    ("name", "states"),
    [("old-markup", ("rest", "hover")), *(pytest.param(n, tuple(STATES), marks=pytest.mark.prove) for n in SITES)],
    ids=str,
)
def test_the_bench_shows_what_is_read(browser: Browser, name: str, states: tuple[str, ...]) -> None:
    site = read_site(SITES[name])
    for page in site.pages[3:]:
        del site.files[page]
    known = KnownSite(survey_site(site, [ContextKey(WIDTH, state) for state in STATES]))
    study = vivid(known.first_study("Vivid"))
    values = known.tokens.values(study)
    for state in states:
        attribute = STATES[state]
        rows = audit_survey(known.survey, ContextKey(WIDTH, state), "AA", values)["runs"]
        tally = Tally()
        with as_folder(SITES[name], dict(shown(site, known, study, attribute))) as address:
            for page in known.survey.pages:
                tally.add(compare_page(rows, true_runs(browser, address + page, WIDTH, ("rest",))["rest"], page))
        wrong = [e for e in tally.examples if e.kind in ("colour", "ground") and "'varied'" not in e.ours]
        assert tally.colour_judged > 10, state
        assert Tally.share(tally.colour_judged - sum(e.kind == "colour" for e in wrong), tally.colour_judged) >= (
            LEAST.get(name, 99.0)
        ), (state, explained(wrong))
        assert Tally.share(tally.ground_judged - sum(e.kind == "ground" for e in wrong), tally.ground_judged) >= (
            LEAST.get(name, 97.0)
        ), (state, explained(wrong))


def shown(site: SiteFiles, known: KnownSite, study: Study, attribute: str) -> Iterator[tuple[str, bytes]]:
    """Yield the files as the bench frames them, with what its bridge would paint in a style."""
    wear = "".join(f"{name}: {value};" for name, value in wear_of(study, known.survey.tokens).items() if value)
    # scripts are off in the oracle's browser; a second <html> gives the first its attributes
    bridge = f'<html {STATE_ATTRIBUTE}="{attribute}"><style>:root {{ {wear} }}</style>'
    for path, data in site.files.items():
        if not is_page(path) and not path.endswith(".css"):
            continue
        tokens = [*known.tokens_of_file(""), *known.tokens_of_file(path)]
        maker = PreviewMaker(path, tokens, study, Root("", "", path))
        source = decode_source(data)
        yield path, (maker.page(source, bridge) if is_page(path) else maker.stylesheet(source)).encode()
