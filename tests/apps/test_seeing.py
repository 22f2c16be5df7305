"""Reading, as the API tells it: ladder, list, beyond text, eyes, comfort, and the papers that are taken away."""

from __future__ import annotations

import json
import re
from collections import Counter
from importlib.resources import files
from typing import Any

import jsonschema

from tests.apps.conftest import Api, zipped

SITE = "/sites/yard"
HOSTILE = "<script>alert(1)</script>"
PAGE = f"""<!doctype html><title>t</title><style>body{{color:#222}} .pale{{color:#bbb}} input{{border:1px solid #ddd}}
</style><body><h1>Moorings &lt;b&gt;</h1><p class=pale>{HOSTILE.replace("<", "&lt;")} by the week</p>
<form><input name=a></form>"""


def brought(wren: Api) -> None:
    assert wren.bring(zipped({"index.html": PAGE.encode()})).status_code == 200


def test_one_count_on_ladder_list_report_and_bench(wren: Api, yard: str) -> None:
    study = wren.get(f"/sites/{yard}/study").json()
    reading = study["reading"]
    ladder = wren.post(f"/sites/{yard}/ladder", {"base": study["base"]}).json()
    texts = wren.get(f"/sites/{yard}/texts").json()
    assert (ladder["texts"], ladder["hard_texts"]) == (reading["texts"], reading["hard_texts"])
    assert texts["total"] == reading["texts"] and texts["counts"]["fail"] == reading["hard_texts"]
    hard = sum(one["verdict"] == "fail" for lane in ladder["lanes"] for one in lane["standing"])
    assert hard == reading["hard"]
    report = wren.get(f"/sites/{yard}/report").content.decode()
    assert f"{reading['texts'] - reading['hard_texts']} of {reading['texts']} texts" in report
    some = wren.get(f"/sites/{yard}/texts", kind="heading", by="words", most="5").json()
    assert len(some["texts"]) == 5 and {one["kind"] for one in some["texts"]} == {"heading"}
    file = wren.get(f"/sites/{yard}/texts/file", verdict="fail", form="csv").content.decode()
    assert len(file.splitlines()) == reading["hard_texts"] + 1


def test_papers_say_what_was_found_and_let_nothing_of_the_site_run(wren: Api) -> None:
    brought(wren)
    for form in ("report", "statement"):
        answer = wren.get(f"{SITE}/report", form=form)
        page = answer.content.decode()
        assert HOSTILE not in page and "<b>&gt;" not in page
        assert "default-src 'none'" in answer["Content-Security-Policy"]
        assert not re.search(r"<(script|img|link|iframe)\b|url\(|https?://", page)
    report = wren.get(f"{SITE}/report").content.decode()
    assert "1 of 2 texts" in report and "&lt;script&gt;" in report and "Field (1.4.11)" in report
    statement = wren.get(f"{SITE}/report", form="statement").content.decode()
    assert "1 of 2 texts (50 %)" in statement and "1 text has less than that." in statement


def test_results_in_earl_keep_to_the_schema_and_count_as_the_list_does(wren: Api, yard: str) -> None:
    schema = json.loads(files("glaucon.core.exchange.reports").joinpath("earl.schema.json").read_text("utf-8"))
    answer = wren.get(f"/sites/{yard}/report", form="earl")
    assert answer["Content-Type"] == "application/ld+json"
    document: dict[str, Any] = answer.json()
    jsonschema.validate(document, schema)
    said: Counter[tuple[str, str]] = Counter()
    for one in document["@graph"]:
        if one["@type"] == "earl:Assertion":
            said[one["earl:test"]["@id"].rpartition("#")[2], one["earl:result"]["earl:outcome"]["@id"]] += 1
    counts = wren.get(f"/sites/{yard}/texts").json()["counts"]
    assert said["contrast-minimum", "earl:failed"] == counts["fail"]
    beyond = wren.get(f"/sites/{yard}/beyond").json()["findings"]
    fields = sum(one["count"] for one in beyond if one["criterion"] == "1.4.11" and one["verdict"] == "fail")
    assert said["non-text-contrast", "earl:failed"] == fields


def test_other_eyes_and_comfort_answer_and_refuse_in_a_sentence(wren: Api, yard: str) -> None:
    eyes = wren.get(f"/sites/{yard}/eyes", eye="protan", strength="0.5").json()
    assert len(eyes["matrix"]) == 12 and eyes["blur"] == 0
    assert wren.get(f"/sites/{yard}/eyes", eye="owl").status_code == 422
    assert wren.get(f"/sites/{yard}/eyes", eye="grey", strength="2").status_code == 422
    assert wren.get(f"/sites/{yard}/comfort").json() == []
    assert wren.get(f"/sites/{yard}/texts", verdict="perhaps").status_code == 422
    base = wren.base(yard)
    refused = wren.post(f"/sites/{yard}/acts", {"base": base, "acts": [{"act": "mend-beyond", "keys": ["nothing"]}]})
    assert refused.status_code == 422 and "Look at the list again" in refused.json()["message"]
