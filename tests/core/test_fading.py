"""Text that the page itself fades: which rule fades it, the least fading that is readable, and where that goes."""

from __future__ import annotations

import pytest

from glaucon.core.exchange.hand_back import hand_back
from glaucon.core.exchange.recolour import recolour_site
from glaucon.core.exchange.reports.audit import audit_site
from glaucon.core.known.site import KnownSite
from glaucon.core.mending.offers import Mender
from glaucon.core.study.fading import fades_of, with_fade
from glaucon.core.survey.site import SiteFiles
from glaucon.core.survey.survey import survey_site

CSS = b"""
body { background: #fff; color: #222 }
.fine { opacity: .9 }
footer .fine, .hire .fine { opacity: .4 }
.hire:hover { opacity: .3 }
"""
PAGE = b"""<!doctype html><link rel=stylesheet href=site.css><title>Hire</title>
<p>Boats by the week</p><footer><p class=fine>Moored at Otterlock</p></footer><p style="opacity: .3">By hand</p>
<div class=hire><p>Narrowboats</p></div>"""


@pytest.fixture(scope="module")
def known() -> KnownSite:
    return KnownSite(survey_site(SiteFiles({"index.html": PAGE, "site.css": CSS})))


def test_the_least_fading_is_readable_and_goes_out_with_the_site(known: KnownSite) -> None:
    site, study = SiteFiles({"index.html": PAGE, "site.css": CSS}), known.first_study("Faded")
    hard = [one for one in known.read(study).findings if one.verdict == "fail"]
    mender = Mender(known, study)
    offers = {fading.selector: fading for one in hard for fading in mender.fadings(one)}
    # what its style attribute fades no rule of a stylesheet is offered for
    assert set(offers) == {"footer .fine", ".hire:hover"}
    offer = offers["footer .fine"]
    assert offer.fixes == 1
    # black at N % over white: 4.5 comes between 0.55 and 0.65 for #222
    assert 0.5 < offer.opacity < 0.7
    less = with_fade(study, offer.selector, offer.opacity)
    footer = next(n for n, pairing in enumerate(known.survey.pairings) if known.index.fading(n) == 0.4)
    assert known.failing(study)[footer] and not known.failing(less)[footer]
    assert known.failing(with_fade(study, offer.selector, offer.opacity - 0.02))[footer]
    rule = f"footer .fine {{ opacity: {offer.opacity:g} !important }}"
    out = recolour_site(site, known.survey, less)
    assert any(rule in data.decode() for data in out.files.values()) and "site.css" not in out.files
    for way in ("addon", "variables"):
        assert rule in hand_back(site, known.survey, less, way).data.decode()
    of_audit = {run["text"]: run["ratio"] for run in audit_site(site, study=less)["runs"]}
    # the site as handed back, surveyed as any other site, says the same
    again = {run["text"]: run["ratio"] for run in audit_site(SiteFiles({**site.files, **out.files}))["runs"]}
    assert of_audit == again and of_audit["Moored at Otterlock"] >= 4.5


def test_fading_rules_live_beside_other_css(known: KnownSite) -> None:
    study = known.first_study("Faded").model_copy(update={"extra_css": "a { color: red }"})
    both = with_fade(with_fade(study, ".a > b", 0.8), ".c", 0.75)
    assert fades_of(both) == {".a > b": 0.8, ".c": 0.75} and both.extra_css.startswith("a { color: red }")
    assert with_fade(with_fade(both, ".a > b", None), ".c", None).extra_css == "a { color: red }"
