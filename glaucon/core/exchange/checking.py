"""What is handed back, read again: does every text come out in the colours that were promised?"""

from __future__ import annotations

import io
import zipfile
from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from typing import Any

from glaucon.core.exchange.hand_back import HandedBack
from glaucon.core.exchange.reports.audit import context_report, read_verdicts
from glaucon.core.known.site import KnownSite
from glaucon.core.layout.document import Layouts
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import SiteFiles, read_archive
from glaucon.core.survey.survey import Surveyor

CHECKED = tuple(ContextKey(width, state) for width in (1280, 390) for state in ("rest", "hover"))
_EXAMPLES = 6


@dataclass(slots=True)
class Checked:
    """How many texts came out as promised, in all contexts looked at, and some that did not."""

    texts: int = 0
    right: int = 0
    examples: list[str] = field(default_factory=list)


def check_handed_back(
    site: SiteFiles, known: KnownSite, study: Study, way: str, handed: HandedBack, layouts: Layouts | None = None
) -> Checked:
    """Return how what was handed back reads, "site" or "addon", held against the study's own reading.

    `layouts` are those that the reading was made with: colours and backdrops move nothing.
    """
    if way == "site":
        new = read_archive(io.BytesIO(handed.data))
        new.origin, new.most_pages, new.stood = site.origin, site.most_pages, handed.stood
        return compare(promised(known, study), read_again(new, layouts=layouts))
    css, files = _unpacked(handed)
    with_files = replace(site, files={**site.files, **files}, notes=[])
    return compare(promised(known, study), read_again(with_files, css, layouts=layouts))


def _unpacked(handed: HandedBack) -> tuple[str, dict[str, bytes]]:
    """Return an add-on's stylesheet, and the files beside it where it is a zip."""
    if not handed.filename.endswith(".zip"):
        return handed.data.decode(), {}
    with zipfile.ZipFile(io.BytesIO(handed.data)) as archive:
        files = {name: archive.read(name) for name in archive.namelist()}
    return files.pop(handed.filename.replace(".zip", ".css")).decode(), files


def promised(known: KnownSite, study: Study, contexts: Iterable[ContextKey] = CHECKED) -> list[dict[str, Any]]:
    """Return the rows that a study promises in the contexts that its survey knows."""
    values = known.tokens.values(study)
    return _rows(known.survey, [c for c in contexts if c in known.survey.sightings], study.aim, values)


def read_again(
    site: SiteFiles, more_css: str = "", contexts: Iterable[ContextKey] = CHECKED, level: str = "AA",
    layouts: Layouts | None = None,
) -> list[dict[str, Any]]:  # fmt: skip
    """Return the rows of a site as it is, with a stylesheet after all that it has."""
    contexts = list(contexts)
    return _rows(Surveyor(site, more_css, layouts=layouts).survey(contexts), contexts, level, None)


def _rows(survey: Any, contexts: Iterable[ContextKey], level: str, values: Any) -> list[dict[str, Any]]:
    rows = []
    verdicts = read_verdicts(survey, level, values)
    for context in contexts:
        for row in context_report(survey, context, level, verdicts)["runs"]:
            rows.append({**row, "context": f"{context.width} px, {context.state}"})
    return rows


def compare(wanted: list[dict[str, Any]], found: list[dict[str, Any]]) -> Checked:
    """Return how found rows agree with wanted ones in text colour and background."""
    by_place = {(row["context"], row["page"], row["path"]): row for row in found}
    checked = Checked()
    for row in wanted:
        other = by_place.get((row["context"], row["page"], row["path"]))
        checked.texts += 1
        if other is not None and (row["colour"], row["background"]) == (other["colour"], other["background"]):
            checked.right += 1
        elif len(checked.examples) < _EXAMPLES:
            came = "is not there" if other is None else f"is {_words(other)}, not {_words(row)}"
            checked.examples.append(f"{row['page']} at {row['context']}: “{row['text'][:40]}” {came}")
    return checked


def _words(row: dict[str, Any]) -> str:
    ground = row["background"]
    on = ground.get("colour") or f"{ground.get('darkest', 'something unknown')} to {ground.get('lightest', 'unknown')}"
    return f"{row['colour']} on {on}"
