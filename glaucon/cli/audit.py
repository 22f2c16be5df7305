"""`glaucon audit`: can every text of a site be read?"""

from __future__ import annotations

import argparse
import datetime
import sys
from dataclasses import replace

from glaucon.cli.files import pictures_beside, read_json, read_measured
from glaucon.cli.parser import NOTHING_FAILS, SOMETHING_FAILS
from glaucon.core.acts.at_hand import ReadSite
from glaucon.core.exchange.backdrops import backdrops_of, survey_with, with_least_veils
from glaucon.core.exchange.reports.audit import as_csv, as_json, as_table, audit_study, audit_survey, with_beyond
from glaucon.core.exchange.reports.earl import earl_document
from glaucon.core.exchange.reports.paper import report_page
from glaucon.core.known.site import KnownSite
from glaucon.core.layout.document import Layouts
from glaucon.core.seeing.beyond import judged_things
from glaucon.core.seeing.summary import summary_of
from glaucon.core.seeing.texts import TextList, TextsWanted
from glaucon.core.study.study import Study, read_study
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import SiteFiles
from glaucon.core.survey.survey import survey_site

_WRITERS = {"table": as_table, "json": as_json, "csv": as_csv}
_OF_ALL = ("html", "earl")  # of every width and state, whatever is asked for


def run(options: argparse.Namespace) -> int:
    """Write the report; the exit status says whether something fails."""
    site, layouts = read_measured(options.path, options.layout, options.width)
    study = read_study(read_json(options.study, "study")) if options.study is not None else None
    if options.form in _OF_ALL:
        return _of_all(options, site, study, layouts)
    context = ContextKey(options.width, options.state, options.scheme)
    # what besides text has to be seen is looked at from rest
    contexts = list(dict.fromkeys((context, replace(context, state="rest")))) if options.beyond else [context]
    if study is not None and study.backdrops:
        pictures, regions = pictures_beside(options.study, site), survey_site(site, contexts).regions
        study = with_least_veils(site, study, regions, pictures, layouts)
        survey = survey_with(site, backdrops_of(study, regions, pictures), contexts, layouts)
    else:
        survey = survey_site(site, contexts, layouts)
    report = (
        audit_survey(survey, context, options.level) if study is None
        else audit_study(survey, context, options.level, study)
    )  # fmt: skip
    if options.beyond:
        known = KnownSite(survey)
        worn = study or known.first_study("As it came")
        report = with_beyond(report, judged_things(known, worn.model_copy(update={"aim": options.level})))
    sys.stdout.write(_WRITERS[options.form](report))
    fails = report["summary"]["fail"] or any(one["verdict"] == "fail" for one in report.get("beyond", ()))
    return SOMETHING_FAILS if fails else NOTHING_FAILS


def _of_all(options: argparse.Namespace, site: SiteFiles, study: Study | None, layouts: Layouts) -> int:
    """Write the report as a page to print, or the results as EARL."""
    pictures = pictures_beside(options.study, site) if study is not None and study.backdrops else None
    at_hand = ReadSite(site, layouts, pictures=pictures)
    worn = (study or at_hand.known.first_study("As it came")).model_copy(update={"aim": options.level})
    known = at_hand.under(worn)
    summary, now = summary_of(known, at_hand.known, worn), datetime.datetime.now().astimezone()
    if options.form == "earl":
        _, rows = TextList(known.read(worn)).rows(TextsWanted())
        sys.stdout.write(earl_document(rows, summary.things, worn.aim, now.replace(microsecond=0)))
    else:
        sys.stdout.write(report_page(options.path.stem, worn.name, summary, worn.labels, now.date()))
    fails = summary.hard or (options.beyond and any(one.verdict == "fail" for one in summary.things))
    return SOMETHING_FAILS if fails else NOTHING_FAILS
