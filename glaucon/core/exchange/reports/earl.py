"""The results as EARL in JSON-LD: the W3C's vocabulary for test results (Evaluation and Report Language 1.0 Schema)."""

from __future__ import annotations

import datetime
import json
from collections import defaultdict
from collections.abc import Iterable
from typing import Any

from glaucon.core.seeing.beyond import BeyondText
from glaucon.core.seeing.texts import TextRow

_CONTEXT = {
    "earl": "http://www.w3.org/ns/earl#", "dct": "http://purl.org/dc/terms/", "ptr": "http://www.w3.org/2009/pointers#",
    "doap": "http://usefulinc.com/ns/doap#", "xsd": "http://www.w3.org/2001/XMLSchema#",
}  # fmt: skip
_OUTCOMES = {"pass": "earl:passed", "fail": "earl:failed", "unsure": "earl:cantTell", "exempt": "earl:inapplicable"}
_CRITERIA = {"1.4.1": "use-of-color", "1.4.3": "contrast-minimum", "1.4.6": "contrast-enhanced",
             "1.4.11": "non-text-contrast", "2.4.7": "focus-visible", "2.4.13": "focus-appearance"}  # fmt: skip


def earl_document(texts: Iterable[TextRow], things: Iterable[BeyondText], aim: str, made: datetime.datetime) -> str:
    """Return the results of all texts and things as JSON-LD, an assertion for each page's element and criterion."""
    criterion = "1.4.6" if aim == "AAA" else "1.4.3"
    graph: list[dict[str, Any]] = [
        {"@id": "_:glaucon", "@type": ["earl:Assertor", "earl:Software"], "doap:name": "Glaucon"}
    ]
    pages: dict[str, str] = defaultdict(lambda: f"_:page{len(pages)}")
    for row in texts:
        icon = "1.4.11" if row.kind == "icon" else criterion
        said = row.verdict
        graph.append(_assertion(pages[row.run.page], row.run.path, icon, said.verdict, said.ratio, said.required, made))
    for one in things:
        verdict = _assertion(pages[one.page], one.path, one.criterion, one.verdict, one.ratio, one.required, made)
        graph.append(verdict)
    graph += [
        {"@id": name, "@type": "earl:TestSubject", "dct:source": {"@id": page}, "dct:title": page}
        for page, name in pages.items()
    ]
    return json.dumps({"@context": _CONTEXT, "@graph": graph}, ensure_ascii=False, indent=1) + "\n"


def _assertion(
    page: str, path: str, criterion: str, verdict: str, ratio: float | None, required: float | None,
    made: datetime.datetime,
) -> dict[str, Any]:  # fmt: skip
    said = "contrast not known" if ratio is None else f"contrast {ratio:g} : 1"
    return {
        "@type": "earl:Assertion",
        "earl:assertedBy": {"@id": "_:glaucon"},
        "earl:subject": {"@id": page},
        "earl:test": {"@id": f"https://www.w3.org/TR/WCAG22/#{_CRITERIA[criterion]}"},
        "earl:mode": {"@id": "earl:automatic"},
        "earl:result": {
            "@type": "earl:TestResult",
            "earl:outcome": {"@id": _OUTCOMES[verdict]},
            "dct:date": {"@type": "xsd:dateTime", "@value": made.isoformat()},
            "dct:description": said if required is None else f"{said}, needs {required:g} : 1",
            "earl:pointer": {"@type": "ptr:CSSSelectorPointer", "ptr:expression": path},
        },
    }
