"""`glaucon palette`: whole readable studies for a site."""

from __future__ import annotations

import argparse
import sys

from glaucon.cli import palette_report
from glaucon.cli.files import as_json, read_bytes, read_measured, write_out
from glaucon.cli.parser import NOTHING_FAILS, SOMETHING_FAILS
from glaucon.core.backdrops.picture_colours import main_colours, seeds_of
from glaucon.core.colour.value import read_colour
from glaucon.core.known.site import KnownSite
from glaucon.core.making.making import DIRECTIONS, make_studies
from glaucon.core.survey.survey import survey_site


def run(options: argparse.Namespace) -> int:
    """Write the studies where that is asked for, and a report."""
    given = [read_colour(text) for text in options.colours or []]
    given = given or seeds_of(main_colours(read_bytes(options.picture)))
    site, layouts = read_measured(options.path, options.layout)
    known = KnownSite(survey_site(site, layouts=layouts))
    most = len(DIRECTIONS) if options.directions is None else options.directions
    made = make_studies(known, known.first_study("Proposed"), given, most)
    if options.out is not None:
        write_out(options.out, as_json([one.study.model_dump(mode="json") for one in made]).encode())
    sys.stdout.write(palette_report.as_json(made, given) if options.form == "json" else palette_report.as_table(made))
    return SOMETHING_FAILS if any(one.failing for one in made) else NOTHING_FAILS
