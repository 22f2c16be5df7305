"""The audit report: its schema, its three forms, its exit status, the same bytes for the same input."""

from __future__ import annotations

import csv
import io
import json
import subprocess
import sys
from importlib.resources import files
from pathlib import Path

import jsonschema
import pytest

from glaucon import cli

SCHEMA = json.loads(files("glaucon.core.exchange.reports").joinpath("audit.schema.json").read_text("utf-8"))
PAGE = "<!doctype html><title>t</title><p style='color:{}'>Moorings by the week</p>"


def audit(capsys: pytest.CaptureFixture[str], *arguments: str) -> tuple[int, str, str]:
    status = cli.main(["audit", *arguments])
    said = capsys.readouterr()
    return status, said.out, said.err


@pytest.mark.parametrize(
    "options",
    [(), ("--width", "390"), ("--state", "hover"), ("--state", "focus"), ("--state", "active"), ("--state", "visited"),
     ("--level", "AAA"), ("--scheme", "dark")],
    ids=" ".join,
)  # fmt: skip
def test_json_of_the_sample_fits_the_schema(
    capsys: pytest.CaptureFixture[str], otterlock: Path, options: tuple[str, ...]
) -> None:
    status, out, _ = audit(capsys, str(otterlock), "--format", "json", *options)
    report = json.loads(out)
    jsonschema.validate(report, SCHEMA)
    assert status == 1
    assert report["summary"]["runs"] == len(report["runs"]) == sum(row["runs"] for row in report["pairings"])
    assert report["summary"]["fail"] == sum(run["verdict"] == "fail" for run in report["runs"])
    assert audit(capsys, str(otterlock), "--format", "json", *options)[1] == out


def test_table_says_what_is_hard_to_read_in_the_sites_words(
    capsys: pytest.CaptureFixture[str], otterlock: Path
) -> None:
    _, out, _ = audit(capsys, str(otterlock))
    assert out.startswith("283 texts on 9 pages at 1280 px, rest, AA: ")
    assert "Hard to read" in out and "Readable" in out
    assert "2.91    4.5  #2f86a6  #143d33" in out


def test_csv_has_a_line_for_each_run_and_no_formulas(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    (tmp_path / "index.html").write_text("<p>=1+1</p><p>plain</p>")
    status, out, _ = audit(capsys, str(tmp_path), "--format", "csv")
    rows = list(csv.DictReader(io.StringIO(out)))
    assert status == 0
    assert [row["text"] for row in rows] == ["'=1+1", "plain"]


@pytest.mark.parametrize(("colour", "status"), [("#333", 0), ("#ccc", 1)])
def test_exit_status_says_whether_something_fails(
    capsys: pytest.CaptureFixture[str], tmp_path: Path, colour: str, status: int
) -> None:
    (tmp_path / "index.html").write_text(PAGE.format(colour))
    assert audit(capsys, str(tmp_path))[0] == status


@pytest.mark.parametrize(
    ("make", "sentence"),
    [
        (lambda p: p / "nowhere", "does not exist"),
        (lambda p: p, "no HTML page"),
        (lambda p: (p / "site.zip").write_bytes(b"no zip") and p / "site.zip", "is no website"),
    ],
)  # fmt: skip
def test_what_cannot_be_read_gets_one_line(capsys: pytest.CaptureFixture[str], tmp_path: Path, make, sentence) -> None:  # type: ignore[no-untyped-def]
    status, out, err = audit(capsys, str(make(tmp_path)))
    assert (status, out) == (2, "")
    assert sentence in err and err.count("\n") == 1


@pytest.mark.parametrize("wrong", [("--width", "wide"), ("--state", "asleep"), ("--level", "B"), ()])
def test_wrong_options_end_with_status_two(wrong: tuple[str, ...]) -> None:
    with pytest.raises(SystemExit) as ended:
        cli.main(["audit", *wrong])
    assert ended.value.code == 2


def test_core_loads_no_django() -> None:
    """The command line serves people who have no server: a fresh process that audits has not met Django."""
    code = "import sys, glaucon.cli; sys.exit(any(m.split('.')[0] in ('django', 'ninja') for m in sys.modules))"
    assert subprocess.run([sys.executable, "-c", code], check=False).returncode == 0


@pytest.mark.parametrize("form", ["html", "earl"])
def test_the_paper_and_earl_of_all_widths_and_states(
    capsys: pytest.CaptureFixture[str], otterlock: Path, form: str
) -> None:
    status = cli.main(["audit", str(otterlock), "--format", form])
    told = capsys.readouterr().out
    assert status == 1
    if form == "html":
        assert "of 301 texts" in told and "<script" not in told and "http" not in told.replace("http://www.w3.org", "")
    else:
        assert {one["@type"] for one in json.loads(told)["@graph"] if isinstance(one["@type"], str)} >= {
            "earl:Assertion"
        }
