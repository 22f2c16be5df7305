"""Fixtures that every test may use."""

from __future__ import annotations

import os
from pathlib import Path

import pytest

from tests import chromium

os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "1")  # Playwright's loop runs in the tests' thread

SAMPLES = Path(__file__).parent.parent / "samples"


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, object]:
    return {"executable_path": chromium.executable(), "args": chromium.ARGUMENTS, "headless": True}


@pytest.fixture(scope="session")
def otterlock() -> Path:
    return SAMPLES / "otterlock"


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Put the long ones first in each half: the halves go to two workers, which take short ones off each other."""
    long, short = [], []
    for item in items:
        (long if "browser" in item.path.parts else short).append(item)
    items[:] = [*long[::2], *short[::2], *long[1::2], *short[1::2]]
