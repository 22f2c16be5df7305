"""`glaucon sections`: the sections of a site's pages and the parts in them."""

from __future__ import annotations

import argparse
import sys

from glaucon.cli.files import as_json, read_measured, study_or_proposed
from glaucon.cli.parser import NOTHING_FAILS
from glaucon.core.exchange import sections
from glaucon.core.known.site import KnownSite
from glaucon.core.survey.survey import survey_site


def run(options: argparse.Namespace) -> int:
    """Write the report."""
    site, layouts = read_measured(options.path, options.layout)
    known = KnownSite(survey_site(site, layouts=layouts))
    report = sections.report_of(known, study_or_proposed(options.study, known))
    sys.stdout.write(as_json(report) if options.form == "json" else sections.as_table(report))
    return NOTHING_FAILS
