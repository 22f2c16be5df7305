"""`glaucon audit`: can every text of a site be read?"""

from __future__ import annotations

import argparse
import sys

from glaucon.cli.files import layouts_of, pictures_beside, read_json
from glaucon.cli.parser import NOTHING_FAILS, SOMETHING_FAILS
from glaucon.core.exchange.backdrops import backdrops_of, survey_with, with_least_veils
from glaucon.core.exchange.reports.audit import as_csv, as_json, as_table, audit_site, audit_study
from glaucon.core.study.study import read_study
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import read_site
from glaucon.core.survey.survey import survey_site

_WRITERS = {"table": as_table, "json": as_json, "csv": as_csv}


def run(options: argparse.Namespace) -> int:
    """Write the report; the exit status says whether something fails."""
    site = read_site(options.path)
    study = read_study(read_json(options.study, "study")) if options.study is not None else None
    layouts = layouts_of(options.layout, options.width)
    context = ContextKey(options.width, options.state, options.scheme)
    if study is not None and study.backdrops:
        pictures, regions = pictures_beside(options.study, site), survey_site(site, [context]).regions
        study = with_least_veils(site, study, regions, pictures, layouts)
        survey = survey_with(site, backdrops_of(study, regions, pictures), [context], layouts)
        report = audit_study(survey, context, options.level, study)
    else:
        report = audit_site(site, options.width, options.state, options.level, options.scheme, study, layouts)
    sys.stdout.write(_WRITERS[options.form](report))
    return SOMETHING_FAILS if report["summary"]["fail"] else NOTHING_FAILS
