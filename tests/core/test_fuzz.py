"""Malformed pages and stylesheets: no exception, no hang, nothing changed."""

from __future__ import annotations

import random
import time
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from glaucon.core.cascade import markup
from glaucon.core.cascade.tree import parse_document
from glaucon.core.exchange.reports.audit import audit_survey
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import SiteFiles
from glaucon.core.survey.survey import survey_site
from tests.oracle import corpus

CORPUS = Path(__file__).parent.parent / "data" / "sites"
CONTEXTS = [ContextKey(1280, "rest"), ContextKey(390, "hover")]
MOST_SECONDS = 2.0
SPLINTERS = [
    b"<", b">", b"</", b"<!--", b"-->", b"{", b"}", b"(", b")", b"[", b"]", b";", b":", b",", b"\"", b"'", b"\\", b"/*",
    b"*/", b"@media", b"@layer a;", b"@import url(style.css);", b"@supports (", b"@container (", b"var(--a", b"--a:var(--b);",
    b"calc(", b"#", b"!important", b"inherit", b"revert", b"revert-layer", b"&", b"::before", b":is(", b":not(", b":has(", b":nth-child(2n+1 of ",
    b"\0", b"\xff\xfe", b"\xef\xbb\xbf", b"&#x110000;", b"1e999px", b"-0", b"url(", b"<svg>", b"<math>", b"<table>",
    b"<template>", b"<select>", b"<plaintext>", b"<style>", b"</style>", b"<a>", b"<b>", b"<col span=99999999>",
    b"<td colspan=99999999>", b"background:", b"box-shadow: inset 0 0 0 9e9px", b"filter: hue-rotate(1e9turn)", b"color-mix(in",
    b"oklch(from red l c calc(h/0))", b"linear-gradient(", b"background-size:0/0", b"font-size:1e99em", b"transform:translate(",
]  # fmt: skip


def survive(page: bytes, sheet: bytes) -> None:
    """Read a made site; raise where it is not read within the time."""
    files = {"index.html": page, "style.css": sheet}
    before = dict(files)
    start = time.process_time()
    survey = survey_site(SiteFiles(files), CONTEXTS)
    for context in CONTEXTS:
        audit_survey(survey, context, "AA")
    assert time.process_time() - start < MOST_SECONDS
    assert files == before


def mutated(data: bytes, rng: random.Random, changes: int) -> bytes:
    """Return some bytes with pieces cut out, doubled, moved and splinters of syntax put in."""
    piece = bytearray(data)
    for _ in range(changes):
        at = rng.randrange(len(piece) + 1)
        length = min(rng.choice([1, 2, 5, 20, 80, 400]), len(piece) - at)
        kind = rng.randrange(5)
        if kind == 0:
            del piece[at : at + length]
        elif kind == 1:
            piece[at:at] = piece[at : at + length]
        elif kind == 2:
            cut = bytes(piece[at : at + length])
            del piece[at : at + length]
            to = rng.randrange(len(piece) + 1)
            piece[to:to] = cut
        elif kind == 3:
            piece[at:at] = rng.choice(SPLINTERS)
        elif piece:
            piece[min(at, len(piece) - 1)] = rng.randrange(256)
    return bytes(piece)


def mutants(number: int, seed: int) -> list[tuple[str, bytes, bytes]]:
    """Return that many mutants of the corpus: a name to find each again by, its page and its stylesheet."""
    sites = sorted(path for path in CORPUS.iterdir() if (path / "index.html").exists())
    made = []
    for index in range(number):
        rng = random.Random(seed * 1_000_003 + index)
        page_of, sheet_of = rng.choice(sites), rng.choice(sites)
        sheet = (sheet_of / "style.css").read_bytes() if (sheet_of / "style.css").exists() else b""
        changes = rng.choice([1, 3, 10, 40])
        page = mutated((page_of / "index.html").read_bytes(), rng, changes)
        made.append((f"seed {seed} number {index}", page, mutated(sheet, rng, changes)))
    return made


def run(number: int, seed: int) -> None:
    for name, page, sheet in mutants(number, seed):
        try:
            survive(page, sheet)
        except Exception as error:
            raise AssertionError(name) from error


def test_mutants_of_the_corpus_are_survived() -> None:
    run(30, seed=1)


@settings(max_examples=60, deadline=None, suppress_health_check=list(HealthCheck))
@given(st.binary(max_size=400), st.binary(max_size=400))
def test_any_bytes_are_survived(page: bytes, sheet: bytes) -> None:
    survive(b"<link rel=stylesheet href=style.css>" + page, sheet)


DEEP = {
    "nested elements": (b"<div>" * 10_000 + b"words", b"div div { color: red }"),
    "nested rules": (b"<p>words", b"a{" * 3_000),
    "nested brackets": (b"<p>words", b"p { color: " + b"(" * 20_000),
    "nested functions": (b"<p>words", b"p { color: " + b"calc(" * 3_000),
    "nested media": (b"<p>words", b"@media all {" * 2_000 + b"p{color:red}"),
    "doubling variables": (b"<p>words", b":root{--a0:1;" + b"".join(b"--a%d:var(--a%d) var(--a%d);" % (i, i - 1, i - 1) for i in range(1, 60)) + b"} p{color:var(--a59)}"),
    "many columns": (b"<table><col span=99999999><tr><td colspan=99999999>words", b""),
    "circle of imports": (b"<link rel=stylesheet href=style.css><p>words", b"@import 'style.css'; p { color: red }"),
    "many selectors": (b"<p>words", b",".join(b".c%d > *:not(.x) + a" % i for i in range(4_000)) + b"{color:red}"),
    "long text": (b"<p>" + b"words " * 200_000, b"p{color:red}"),
    "numbers that are none": ("<table><col span=²><tr><td colspan=³ rowspan=-1>a<td colspan=".encode() + b"9" * 5000 + "><font size=++2>b<select size=²><option>c</select><p>words".encode(), b"p { color: red }"),
    "attributes that are none": (b"<p>words<b>x<i>y<u>z", b"p::before{content:attr()}b::before{content:attr( )}i::after{content:attr((x))}u::after{content:attr('x')}"),
    "many classes": (b"<p class='" + b"c " * 100_000 + b"'>words", b".c{color:red}"),
    "has over siblings": (b"<i></i>" * 2_000 + b"<p>words", b"i:has(~ p) { color: red } i:nth-last-child(2n) { color: blue }"),
}  # fmt: skip


def seconds(page: bytes, sheet: bytes) -> float:
    start = time.process_time()
    survey_site(SiteFiles({"index.html": page, "style.css": sheet}), CONTEXTS)
    return time.process_time() - start


@pytest.fixture(scope="module")
def flat() -> float:
    """What 4,000 plain elements take here: the measure of what is deep, so that a slow machine is no failure."""
    return seconds(b"<link rel=stylesheet href=style.css>" + b"<div>words</div>" * 4_000, b"div div { color: red }")


@pytest.mark.parametrize("name", DEEP)
def test_what_is_deep_or_long_is_survived(name: str, flat: float) -> None:
    page, sheet = DEEP[name]
    head = b"" if b"<link" in page else b"<link rel=stylesheet href=style.css>"
    assert seconds(head + page, sheet) < 8 * flat


@pytest.mark.prove
def test_thousands_of_mutants_are_survived() -> None:
    for seed in range(2, 12):
        run(500, seed)


def test_a_page_of_very_many_tags_is_the_same_tree(monkeypatch: pytest.MonkeyPatch) -> None:
    def trees() -> list[list[tuple[str, str, dict[str, str]]]]:
        pages = [page.read_bytes().decode("utf-8", "replace") for page in sorted(corpus.OWN.glob("*/*.html"))]
        return [[(e.path(), e.own_text, e.attributes) for e in parse_document(page).elements] for page in pages]

    before = trees()
    monkeypatch.setattr(markup, "_MANY_TAGS", -1)  # what is done to pages of so many
    assert trees() == before and sum(map(len, before)) > 1_000
