"""What is small to send never takes more than its share: 30 s of processor time, 600 MB, an answer of ours."""

from __future__ import annotations

import pytest

from tests.bombs import CASES, CPU_SECONDS, MEMORY_MB, happened
from tests.growing import grown, shapes

# each takes a second and more
SLOW = frozenset(
    name for name in CASES
    if name.startswith((
        "picture", "a list", "later", "has", "fonts", "bold", "texts", "very many", "svg: many", "braces",
        "a selector of 3,000 parts",
    ))
)  # fmt: skip


def hold(name: str) -> None:
    one = happened(name)
    assert one.is_ours, (name, one.said)
    assert one.cpu < CPU_SECONDS and one.memory < MEMORY_MB, (name, one)


@pytest.mark.parametrize("name", [name for name in CASES if name not in SLOW])
def test_what_is_small_to_send_is_small_to_work_on(name: str) -> None:
    hold(name)


@pytest.mark.prove
@pytest.mark.parametrize("name", sorted(SLOW))
def test_what_is_slow_to_work_on_keeps_to_its_share(name: str) -> None:
    hold(name)


@pytest.mark.prove
def test_what_is_grown_until_a_bound_is_met_keeps_to_its_share() -> None:
    """Sixty shapes of a seeded generator, each made larger until something of ours says stop."""
    for name, sized in shapes(1, 60):
        size, one = grown(name, sized)
        assert one.is_ours, (name, size, one.said)
        assert one.cpu < CPU_SECONDS and one.memory < MEMORY_MB, (name, size, one)
