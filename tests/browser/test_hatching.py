"""The hatching of tracks and field is true: hatched exactly where the server's reading fails some counterpart."""

from __future__ import annotations

import random
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import bring

ROLES = ("heading", "link", "background", "quiet", "accent")


def _draft(page: Page, slug: str, values: dict[str, str], role: str) -> Any:
    return page.evaluate(
        """async ([slug, acts, role]) => {
          const token = document.cookie.match(/csrftoken=([^;]+)/)[1];
          const headers = { 'Content-Type': 'application/json', 'X-CSRFToken': token };
          const { base } = await (await fetch(`/api/sites/${slug}/study`)).json();
          const answer = await fetch(`/api/sites/${slug}/reading`,
            { method: 'POST', headers, body: JSON.stringify({ base, acts, role }) });
          return (await answer.json()).pairs;
        }""",
        [slug, [{"act": "set-colour", "role": of, "value": value} for of, value in values.items()], role],
    )


@pytest.mark.parametrize("points", [pytest.param(25, id="some"), pytest.param(500, id="all", marks=pytest.mark.prove)])
def test_hatched_exactly_where_the_reading_fails(desk: Page, few: Path, points: int) -> None:
    bring(desk, few)
    chance = random.Random(5)
    asked: list[dict[str, Any]] = []
    answers: list[str] = []
    desk.on("requestfinished", lambda request: _note(request, asked, answers))
    for role in ROLES:
        with desk.expect_response(lambda answer: _is_asked(answer.request)):
            desk.locator(f'[data-tile="{role}"]').click()
        expect(desk.locator(".ShadeField canvas")).to_be_visible()
    desk.wait_for_function("() => true")  # the last answer has been noted
    assert {one["role"] for one in asked} == set(ROLES)
    tried = hatched = 0
    for _ in range(points):
        which = chance.randrange(len(asked))
        colours, reads = asked[which]["colours"], answers[which]
        place = chance.randrange(len(colours))
        role = asked[which]["role"]
        pairs = _draft(desk, "otterlock", {role: colours[place]}, role)
        fails = any(pair["verdict"] == "fail" for pair in pairs)
        assert (reads[place] == "0") is fails, (role, colours[place])
        tried += 1
        hatched += fails
    assert tried == points and 0 < hatched < tried

    # what is drawn is what was answered: the first stretch of the lightness track
    role, body, reads = asked[-1]["role"], asked[-1]["colours"], answers[-1]
    assert desk.locator(f'[data-tile="{role}"]').is_visible() and len(body) == len(reads)
    shares = (
        desk.locator(".TrackSlider")
        .first.locator(".hatch")
        .evaluate_all(
            "all => all.map(e => [parseFloat(e.style.left), parseFloat(e.style.left) + parseFloat(e.style.width)])"
        )
    )
    for place in range(97):
        inside = any(start - 1e-6 <= 100 * place / 96 <= end + 1e-6 for start, end in shares)
        assert inside is (reads[place] == "0"), place


def _is_asked(request: Any) -> bool:
    return bool(request.url.endswith("/searches")) and request.post_data_json["search"] == "readable-among"


def _note(request: Any, asked: list[dict[str, Any]], answers: list[str]) -> None:
    if not _is_asked(request):
        return
    asked.append(request.post_data_json)
    answers.append(request.response().json()["reads"])
