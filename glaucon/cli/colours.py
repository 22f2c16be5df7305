"""`glaucon colours`: the colours a site uses and the palette proposed for them."""

from __future__ import annotations

import argparse
import sys

from glaucon.cli.files import as_json, read_measured, study_bytes, write_out
from glaucon.cli.parser import NOTHING_FAILS
from glaucon.core.exchange import colours
from glaucon.core.known.site import KnownSite
from glaucon.core.survey.survey import survey_site


def run(options: argparse.Namespace) -> int:
    """Write the report, and the proposed study where it is asked for."""
    site, layouts = read_measured(options.path, options.layout)
    known = KnownSite(survey_site(site, layouts=layouts))
    report = colours.report_of(known)
    if options.out_study is not None:
        write_out(options.out_study, study_bytes(known.first_study("Proposed")))
    sys.stdout.write(as_json(report) if options.form == "json" else colours.as_table(report))
    return NOTHING_FAILS
