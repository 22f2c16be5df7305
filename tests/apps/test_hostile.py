"""Every input made to do harm is refused with one sentence, or comes in and harms nobody."""

from __future__ import annotations

import re

import pytest

from tests.hostile import CASES, Case, happened


@pytest.mark.parametrize("case", CASES, ids=[f"{case.kind}: {case.name[:40]}" for case in CASES])
def test_hostile_input(case: Case) -> None:
    said = happened(case)
    assert case.expects in said, said
    if case.kind in ("address", "redirect"):
        assert said.startswith("refused: "), said
    if said.startswith("refused: "):
        assert said.endswith(".") and "\n" not in said.removesuffix(".")
        assert len(re.findall(r"\.(?:\s|$)", said)) <= 2, "one sentence and the way out"
