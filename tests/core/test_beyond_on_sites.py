"""What is offered for fields, focus and links, on real sites: how much of it is gone, and no text harder to read."""

from __future__ import annotations

import pytest

from glaucon.core.acts.any_act import applied
from glaucon.core.acts.at_hand import ReadSite
from glaucon.core.acts.behind.mend_beyond import MendBeyond
from glaucon.core.seeing.beyond import beyond_findings
from glaucon.core.seeing.beyond_rules import rule_for
from glaucon.core.survey.site import read_site
from tests.oracle import corpus

SITES = ("clean-blog-6", "agency-7", "creative-7", "freelancer-7", "landing-page-6", "modern-business-5", "bamboo-css",
         "material-kit-2", "sb-admin-2", "admin-lte-3", "gentelella-1", "spectre-docs")  # fmt: skip
LEAST_GONE = 0.95
MOST_PAGES = 4


@pytest.mark.prove
@pytest.mark.parametrize("name", SITES)
def test_what_is_hard_to_see_goes_and_no_text_is_made_harder(name: str) -> None:
    folder = corpus.FETCHED / name
    if not folder.is_dir():
        pytest.skip(f"{name} is not on this machine")
    files = read_site(folder)
    for page in files.pages[MOST_PAGES:]:
        del files.files[page]
    site = ReadSite(files)
    study = site.known.first_study("As it came")
    failing = [one for one in beyond_findings(site.known, study) if one.first.verdict == "fail"]
    keys = tuple(one.key for one in failing if rule_for(one, study))[:60]
    mended = applied(site, study, [MendBeyond(act="mend-beyond", keys=keys)]) if keys else study
    after = beyond_findings(site.under(mended), mended)
    before_count = sum(len(one.things) for one in failing)
    left = sum(len(one.things) for one in after if one.first.verdict == "fail")
    print(f"{name}: {before_count} before, {left} left")
    assert left <= (1 - LEAST_GONE) * before_count, [one.key for one in after if one.first.verdict == "fail"]
    assert site.under(mended).read(mended).failing_texts() <= site.known.read(study).failing_texts()
