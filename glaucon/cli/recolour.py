"""`glaucon recolour`: the site handed back in other colours."""

from __future__ import annotations

import argparse
import sys

from glaucon.cli.files import as_json, pictures_beside, read_measured, study_or_proposed, write_out
from glaucon.cli.parser import NOTHING_FAILS, SOMETHING_FAILS
from glaucon.core.errors import StudyError
from glaucon.core.exchange.backdrops import backdrops_of, survey_with, with_least_veils
from glaucon.core.exchange.hand_back import HandedBack, hand_back
from glaucon.core.known.site import KnownSite
from glaucon.core.study.study import Study
from glaucon.core.survey.survey import survey_site
from glaucon.core.wording import counted, hard_to_read, listed, plural


def run(options: argparse.Namespace) -> int:
    """Write what is handed back, and a report."""
    site, layouts = read_measured(options.path, options.layout)
    known = KnownSite(survey_site(site, layouts=layouts))
    study = study_or_proposed(options.study, known).with_values(_values(options.values))
    behind = None
    if study.backdrops:
        pictures = pictures_beside(options.study, site)
        study = with_least_veils(site, study, known.survey.regions, pictures, layouts)
        behind = backdrops_of(study, known.survey.regions, pictures)
    handed = hand_back(site, known.survey, study, options.way, backdrops=behind)
    write_out(options.out, handed.data)
    read = known if behind is None else KnownSite(survey_with(site, behind, None, layouts))
    failing = read.read(study).hard
    report = _report(options.way, study, handed, failing)
    sys.stdout.write(as_json(report) if options.form == "json" else _as_table(report))
    return SOMETHING_FAILS if failing else NOTHING_FAILS


def _values(pairs: list[str]) -> dict[str, str]:
    values = {}
    for pair in pairs:
        role, sign, value = pair.partition("=")
        if not sign or not role.strip() or not value.strip():
            raise StudyError(f"“{pair}” is not ROLE=VALUE. Write for example --set text=#223322.")
        values[role.strip()] = value.strip()
    return values


def _report(way: str, study: Study, handed: HandedBack, failing: int) -> dict[str, object]:
    return {
        "format": 1, "as": way,
        "changed": [{"role": r.id, "from": r.found, "to": r.value} for r in study.changed_roles()],
        "files": handed.changed,
        "unreached": [
            {"file": one.token.file, "line": one.token.line, "colour": one.token.text, "why": one.why}
            for one in handed.unreached
        ],
        "failing": failing,
    }  # fmt: skip


def _as_table(report: dict[str, object]) -> str:
    changed, files, unreached, failing = (report[name] for name in ("changed", "files", "unreached", "failing"))
    assert isinstance(changed, list) and isinstance(files, list) and isinstance(unreached, list)
    assert isinstance(failing, int)
    lines = [f"{one['role']}: {one['from']} → {one['to']}" for one in changed] or ["The palette is unchanged."]
    if files:
        lines.append(f"{counted(len(files), 'file')} {plural(len(files), 'differs')}: {listed(files)}")
    lines += [f"not reached: {u['file']}, line {u['line']}: {u['colour']}: {u['why']}" for u in unreached]
    sentence = hard_to_read(failing)
    lines.append(f"{sentence[:1].upper()}{sentence[1:]}.")
    return "\n".join(lines) + "\n"
