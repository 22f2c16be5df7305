"""The short palette on sites nothing was built against: how few, how much of the painted text, how named."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Browser

from glaucon.core.known.site import KnownSite
from glaucon.core.survey.site import read_site
from glaucon.core.survey.survey import survey_site
from tests.oracle import corpus
from tests.oracle.fresh import FRESH
from tests.oracle.palette import MOST_COATS, MOST_SITE, measure

# icons set as words, in colours of their own (docs/palette.md)
LEAST = {"material-kit-2": 0.85}


@pytest.mark.prove
@pytest.mark.parametrize("site", FRESH, ids=lambda site: site.name)
def test_a_short_palette_colours_nine_tenths(browser: Browser, site: corpus.RealSite) -> None:
    cover = measure(browser, corpus.fetch(site))
    assert cover.site <= MOST_SITE and len(cover.coats) <= MOST_COATS
    assert cover.texts > 20
    assert cover.share >= LEAST.get(site.name, 0.9), cover.missed


@pytest.mark.prove
@pytest.mark.parametrize("site", FRESH, ids=lambda site: site.name)
def test_no_two_roles_are_told_apart_by_a_number(site: corpus.RealSite) -> None:
    study = KnownSite(survey_site(read_site(corpus.fetch(site)))).first_study("Proposed")
    labels = [role.label for role in study.roles if role.tier != "unseen"]
    assert len(set(labels)) == len(labels)
    numbered = [(label, re.sub(r"\s*\(?\d+\)?$", "", label)) for label in labels]
    assert [label for label, bare in numbered if bare != label and bare in labels] == []
