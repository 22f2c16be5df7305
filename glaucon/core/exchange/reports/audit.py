"""The audit report, format 1: as data, as JSON, as CSV and as a table for people."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Iterable, Mapping, Sequence
from types import MappingProxyType
from typing import Any

from glaucon.core.colour.oklab import Floats
from glaucon.core.colour.value import Colour
from glaucon.core.exchange.reports.texts import background_of, background_words, plain_cell
from glaucon.core.known.site import KnownSite
from glaucon.core.layout.document import Layouts
from glaucon.core.reading.reading import CompiledPairings, Verdict, token_array
from glaucon.core.seeing.beyond import BeyondText
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey, Survey
from glaucon.core.survey.site import SiteFiles
from glaucon.core.survey.survey import survey_site
from glaucon.core.wording import counted

FORMAT, WITH_BEYOND = 1, 4
_AS_CAME: Mapping[str, float] = MappingProxyType({})


def audit_site(
    site: SiteFiles,
    width: int = 1280,
    state: str = "rest",
    level: str = "AA",
    scheme: str = "light",
    study: Study | None = None,
    layouts: Layouts | None = None,
) -> dict[str, Any]:
    """Return the audit report of a site in one context, as AUDIT_FORMAT describes it; under a study if one is given.

    `layouts` are what a browser measured of the pages.
    """
    context = ContextKey(width, state, scheme)
    survey = survey_site(site, [context], layouts)
    if study is None:
        return audit_survey(survey, context, level)
    return audit_study(survey, context, level, study)


def audit_study(survey: Survey, context: ContextKey, level: str, study: Study) -> dict[str, Any]:
    """Return the audit report of one context of a survey under a study, scopes and all."""
    known = KnownSite(survey)
    reading = known.read(study.model_copy(update={"aim": level}))
    return context_report(reading.index.survey, context, level, list(reading.readings))


def audit_survey(
    survey: Survey, context: ContextKey, level: str, values: Floats | None = None, fades: Mapping[str, float] = _AS_CAME
) -> dict[str, Any]:
    """Return the audit report of one context of a survey.

    `values` are the tokens' colours, shape (tokens, 4), r, g, b and alpha of 0 to 1; as brought in if left out.
    `fades` are the opacities given instead of the page's, by the selector of its rule.
    """
    return context_report(survey, context, level, read_verdicts(survey, level, values, fades))


def read_verdicts(
    survey: Survey, level: str, values: Floats | None = None, fades: Mapping[str, float] = _AS_CAME
) -> list[Verdict]:
    """Return the verdict of every pairing of a survey, once for all its contexts: compiling them is costly."""
    values = token_array(survey.tokens) if values is None else values
    return list(CompiledPairings(survey.pairings, survey.tokens).faded(fades).read(values, level))


def context_report(survey: Survey, context: ContextKey, level: str, verdicts: Sequence[Verdict]) -> dict[str, Any]:
    """Return the audit report of one context, given the verdicts of the survey's pairings."""
    runs = [_run_row(survey, sighting, verdicts) for sighting in survey.sightings[context]]
    pairings = _pairing_rows(runs)
    return {
        "format": FORMAT,
        "width": context.width,
        "state": context.state,
        "level": level,
        "pages": survey.pages,
        "runs": runs,
        "pairings": pairings,
        "summary": {
            "runs": len(runs),
            "pairings": len(pairings),
            "fail": sum(1 for run in runs if run["verdict"] == "fail"),
            "unsure": sum(1 for run in runs if run["verdict"] == "unsure"),
        },
    }


def _run_row(survey: Survey, sighting: Any, verdicts: Sequence[Verdict]) -> dict[str, Any]:
    run, verdict = survey.runs[sighting.run], verdicts[sighting.pairing]
    section = next((r.key for r in map(survey.regions.__getitem__, survey.chains[run.chain]) if r.is_section), None)
    row = {
        "page": run.page,
        "section": section,
        "path": run.path,
        "text": run.text,
        "size_px": round(sighting.size_px, 4),
        "weight": sighting.weight,
        "large": survey.pairings[sighting.pairing].large,
        "colour": _hex(verdict.colour),
        "background": background_of(verdict),
        "ratio": verdict.ratio,
        "required": verdict.required,
        "verdict": verdict.verdict,
    }
    if survey.pairings[sighting.pairing].icon:
        row["icon"] = True
    if verdict.why and verdict.verdict == "unsure":
        row["why"] = f"{verdict.why[0].upper()}{verdict.why[1:]}."
    return row


def _hex(colour: Colour | None) -> str | None:
    return colour.with_alpha(1.0).hex() if colour is not None else None


def _pairing_rows(runs: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Return what the runs share, the worst first."""
    groups: dict[str, list[dict[str, Any]]] = {}
    for run in runs:
        key = json.dumps([run["colour"], run["background"], run["large"], run["ratio"], run["verdict"]], sort_keys=True)
        groups.setdefault(key, []).append(run)
    rows = [
        {
            **{name: members[0][name] for name in ("colour", "background", "large", "ratio", "required", "verdict")},
            "runs": len(members),
            "pages": len({member["page"] for member in members}),
        }
        for members in groups.values()
    ]
    order = {"fail": 0, "unsure": 1, "pass": 2, "exempt": 3}
    rows.sort(key=lambda row: (order[str(row["verdict"])], row["ratio"] or 0, -int(row["runs"]), str(row["colour"])))
    return rows


def with_beyond(report: dict[str, Any], things: Iterable[BeyondText]) -> dict[str, Any]:
    """Return a report with what besides text has to be seen: format 4."""
    told = []
    for one in things:
        row: dict[str, Any] = {
            "page": one.page, "path": one.path, "what": one.what, "criterion": one.criterion, "state": one.state,
            "colour": one.colour or None, "against": one.against or None, "ratio": one.ratio,
            "required": one.required, "verdict": one.verdict,
        }  # fmt: skip
        if one.why:
            row["why"] = one.why
        if one.waiver is not None:
            row["waived"] = ": ".join(part for part in (one.waiver.said, one.waiver.why) if part)
        told.append(row)
    return {**report, "format": WITH_BEYOND, "beyond": told}


def as_json(report: dict[str, Any]) -> str:
    """Return the report as JSON, the same bytes for the same input."""
    return json.dumps(report, ensure_ascii=False, indent=1) + "\n"


def as_csv(report: dict[str, Any]) -> str:
    """Return the report's runs as CSV, one line a run."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(
        [
            "page",
            "path",
            "text",
            "size_px",
            "weight",
            "large",
            "colour",
            "background",
            "ratio",
            "required",
            "verdict",
            "why",
        ]
    )
    for run in report["runs"]:
        writer.writerow([
            run["page"], run["path"], plain_cell(run["text"]), run["size_px"], run["weight"],
            "yes" if run["large"] else "no", run["colour"] or "", background_words(run["background"]),
            "" if run["ratio"] is None else f"{run['ratio']:.2f}", run["required"] or "", run["verdict"],
            run.get("why", ""),
        ])  # fmt: skip
    return out.getvalue()


def as_table(report: dict[str, Any]) -> str:
    """Return the report as a table for people: what is hard to read first, with an example in its own words."""
    lines = [_headline(report), ""]
    for title, verdict in (("Hard to read", "fail"), ("Cannot tell", "unsure"), ("Readable", "pass")):
        rows = [row for row in report["pairings"] if row["verdict"] == verdict]
        if not rows:
            continue
        lines.append(f"{title} ({counted(sum(int(row['runs']) for row in rows), 'text')})")
        lines.append(
            f"  {'ratio':>6}  {'needs':>5}  {'text':<8} {'on':<20} {'size':<6} {'places':>6} {'pages':>5}  example"
        )
        lines.extend(_table_line(row, report["runs"]) for row in rows)
        lines.append("")
    return "\n".join(lines).rstrip() + "\n"


def _headline(report: dict[str, Any]) -> str:
    summary = report["summary"]
    return (
        f"{counted(summary['runs'], 'text')} on {counted(len(report['pages']), 'page')} at {report['width']} px, "
        f"{report['state']}, {report['level']}: {summary['fail']} hard to read, {summary['unsure']} unsure."
    )


def _table_line(row: dict[str, Any], runs: list[dict[str, Any]]) -> str:
    same = ("colour", "background", "large", "ratio", "verdict")
    example = next(run for run in runs if all(run[name] == row[name] for name in same))
    ratio = "?" if row["ratio"] is None else f"{row['ratio']:.2f}"
    text = example["text"] if len(example["text"]) <= 40 else example["text"][:39] + "…"
    why = f" ({example['why']})" if "why" in example else ""
    size = "large" if row["large"] else "normal"
    return (
        f"  {ratio:>6}  {row['required'] or '':>5}  {row['colour'] or '?':<8} "
        f"{background_words(row['background']):<20} {size:<6} {row['runs']:>6} {row['pages']:>5}  "
        f"{example['page']}: “{text}”{why}"
    )
