"""The list of texts as files: a table to paste into a spreadsheet, CSV, and JSON."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Iterable, Mapping
from typing import Any, Literal

from glaucon.core.colour.value import Colour
from glaucon.core.reading.reading import Verdict
from glaucon.core.seeing.texts import TextRow

TextsFormat = Literal["table", "csv", "json"]
COLUMNS = ("page", "section", "part", "path", "text", "kind", "size_px", "weight", "large", "colour", "background",
           "ratio", "required", "verdict", "states", "widths", "why")  # fmt: skip


def texts_file(rows: Iterable[TextRow], form: TextsFormat) -> str:
    """Return a list of texts in one of the formats; a table has tabs between its columns."""
    told = [text_row(row) for row in rows]
    if form == "json":
        return json.dumps({"texts": told}, ensure_ascii=False, indent=1) + "\n"
    out = io.StringIO()
    dialect: dict[str, Any] = {"delimiter": "\t"} if form == "table" else {}
    writer = csv.writer(out, lineterminator="\n", **dialect)
    writer.writerow(COLUMNS)
    for row in told:
        writer.writerow([_cell(row[column]) for column in COLUMNS])
    return out.getvalue()


def text_row(row: TextRow) -> dict[str, Any]:
    """Return a text under the names of the audit report, with the states and widths it is so in."""
    return {
        "page": row.run.page,
        "section": row.section.label if row.section else None,
        "part": row.part.label if row.part else None,
        "path": row.run.path,
        "text": row.run.text,
        "kind": row.kind,
        "size_px": round(row.size_px, 4),
        "weight": row.weight,
        "large": row.is_large,
        "colour": _hex(row.verdict.colour),
        "background": background_of(row.verdict),
        "ratio": row.verdict.ratio,
        "required": row.verdict.required,
        "verdict": row.verdict.verdict,
        "states": list(row.states),
        "widths": list(row.widths),
        "why": row.verdict.why if row.verdict.verdict == "unsure" else "",
    }


def background_of(verdict: Verdict) -> dict[str, Any]:
    """Return what lies behind a text as the audit report says it."""
    if verdict.kind == "solid":
        return {"kind": "solid", "colour": _hex(verdict.background)}
    if verdict.kind == "varied":
        return {"kind": "varied", "darkest": _hex(verdict.darkest), "lightest": _hex(verdict.lightest)}
    return {"kind": "unknown"}


def background_words(background: Mapping[str, Any]) -> str:
    """Return the same in words."""
    if background["kind"] == "solid":
        return str(background["colour"])
    if background["kind"] == "varied":
        return f"{background['darkest']} to {background['lightest']}"
    return "unknown"


def plain_cell(text: str) -> str:
    """Return a text that no spreadsheet takes for a formula: what is brought in is hostile."""
    return f"'{text}" if text[:1] in ("=", "+", "-", "@", "\t", "\r") else text


def _cell(value: object) -> str:
    if isinstance(value, Mapping):
        return background_words(value)
    if isinstance(value, list):
        return " ".join(map(str, value))
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return f"{value:g}"
    return "" if value is None else plain_cell(str(value))


def _hex(colour: Colour | None) -> str | None:
    return colour.with_alpha(1.0).hex() if colour is not None else None
