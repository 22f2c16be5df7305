"""Two tabs on one site: whatever was worked out from another revision is refused, and nothing of it is written."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

import pytest
from django.db import OperationalError

from glaucon.apps.releases.models import Release
from glaucon.apps.studies.models import Revision, Study
from glaucon.core.acts.any_act import ACTS
from tests.apps.conftest import Api, colours

LINK = colours({"link": "#7a1f5c"})
Base = dict[str, int]
# each way that something is written to a study, or worked out from one, by a tab that stands on a base
ASKS: dict[str, Callable[[Api, str, Base], Any]] = {
    "an act": lambda tab, slug, base: tab.post(f"/sites/{slug}/acts", {"base": base, "acts": LINK}),
    "several acts": lambda tab, slug, base: tab.post(
        f"/sites/{slug}/acts", {"base": base, "acts": [*LINK, {"act": "write-css", "css": "p { color: red }"}]}
    ),
    "undo": lambda tab, slug, base: tab.post(f"/sites/{slug}/undo", {"base": base}),
    "redo": lambda tab, slug, base: tab.post(f"/sites/{slug}/redo", {"base": base}),
    "a copy": lambda tab, slug, base: tab.post(f"/sites/{slug}/studies", {"base": base, "acts": LINK}),
    "a release": lambda tab, slug, base: tab.post(f"/sites/{slug}/release", {"base": base, "live_number": None}),
    "a light search": lambda tab, slug, base: tab.post(
        f"/sites/{slug}/searches", {"base": base, "search": "nearest", "role": "link"}
    ),
    "fix all": lambda tab, slug, base: tab.post(f"/sites/{slug}/searches", {"base": base, "search": "fix-all"}),
    "a reading": lambda tab, slug, base: tab.post(f"/sites/{slug}/reading", {"base": base, "acts": LINK}),
}


def _others(tab: Api, slug: str, where: str) -> str:
    """Let another tab do something; return the name of what is open then."""
    if where == "the same study":
        tab.colour(slug, {"background": "#fdf6e3"})
    else:
        # a study of its own that counts as far as the first one
        made = tab.copy(slug, "Autumn", is_opened=True).json()
        tab.colour(slug, {"background": "#fdf6e3"})
        assert tab.base(slug) == {"study": made["base"]["study"], "revision": 2}
    return str(Study.objects.get(is_open=True).name)


def _written(slug: str) -> tuple[Any, ...]:
    return (
        list(Revision.objects.order_by("pk").values_list("study", "number", "document")),
        list(Study.objects.order_by("pk").values_list("pk", "current", "is_open")),
        Release.objects.count(),
    )


def _root(tab: Api, slug: str) -> str:
    """Return where previews of the current revision are."""
    page = tab.get(f"/sites/{slug}").json()["pages"][0]
    return str(page["preview"]).removesuffix(page["path"])


@pytest.mark.parametrize("where", ["the same study", "another study"])
def test_what_comes_from_another_revision_is_refused_and_writes_nothing(wren: Api, yard: str, where: str) -> None:
    wren.colour(yard, {"text": "#101820"})
    base = wren.base(yard)
    is_open = _others(wren, yard, where)
    now, before = wren.base(yard), _written(yard)
    assert now != base
    if where == "another study":
        assert now["revision"] == base["revision"]  # what a number alone would take for the same
    for name, ask in ASKS.items():
        answer = ask(wren, yard, base)
        said = answer.json()
        if name == "a copy" and where == "another study":
            # its origin is still what it was: a copy of that is what was asked for
            assert answer.status_code == 200 and Study.objects.filter(name__startswith="First study, copy").exists()
            before = _written(yard)
            continue
        assert (answer.status_code, said.get("code")) == (409, "stale"), (name, answer.status_code, said)
        if name not in ("a copy", "a release"):
            assert (said["details"]["base"], said["details"]["study"]) == (now, is_open), name
        assert _written(yard) == before, name


def test_every_act_is_done_by_the_route_that_refuses() -> None:
    assert len(ACTS) > 20  # one route, so one check: what is refused for one act is for all


def test_a_release_of_what_another_released_meanwhile_is_refused(wren: Api, yard: str) -> None:
    wren.colour(yard, {"text": "#101820"})
    seen = wren.get(f"/sites/{yard}/release").json()
    assert wren.release(yard).status_code == 200
    before = Release.objects.count()
    wren.colour(yard, {"text": "#202830"})
    late = wren.post(f"/sites/{yard}/release", {"base": wren.base(yard), "live_number": seen["live_number"]})
    assert (late.status_code, late.json()["code"], Release.objects.count()) == (409, "stale", before)


def test_a_lock_not_had_is_told_and_loses_nothing(wren: Api, yard: str, monkeypatch: pytest.MonkeyPatch) -> None:
    def locked(*_: object, **__: object) -> None:
        raise OperationalError("database is locked")

    before = _written(yard)
    with monkeypatch.context() as patched:
        patched.setattr(Revision.objects, "create", locked)
        answer = wren.act(yard, *LINK)
    assert (answer.status_code, answer.json()["code"]) == (503, "busy") and "Try again" in answer.json()["message"]
    assert _written(yard) == before
    assert wren.act(yard, *LINK).status_code == 200


def test_a_preview_shows_its_revision_however_late_it_is_asked_for(wren: Api, yard: str) -> None:
    def root() -> str:
        return _root(wren, yard)

    def css(at: str) -> bytes:
        return bytes(wren.client.get(f"{at}css/site.css").content)

    def move(to: str) -> dict[str, Any]:
        return {"act": "move-colours", "colours": ["#22302b"], "from_role": "text", "to": to}

    roots = [root()]
    wren.act(yard, move("heading"))
    roots.append(root())
    wren.act(yard, {**move("link"), "from_role": "heading"})
    roots.append(root())
    wren.move(yard, "undo")
    roots.append(root())
    assert len(set(roots[:3])) == 3
    # the last first, and the first once the study has gone on: each as a tab asks that was slow
    late = {at: css(at) for at in (roots[2], roots[0], roots[1], roots[3])}
    found = [re.search(rb"body \{[^}]*?[; ]color: var\(--gl-t\d+, var\(--gl-(\w+)", late[at]) for at in roots]
    assert [one and one.group(1) for one in found] == [b"text", b"heading", b"link", b"heading"]
    # and as those say that are asked at once
    wren.move(yard, "undo")
    assert css(root()) == late[roots[0]]
    wren.move(yard, "redo")
    assert css(root()) == late[roots[1]]


@pytest.mark.parametrize("path", ["..", "../../db.sqlite3", "a" * 400 + ".png", "%2e%2e/%2e%2e/x", "none.png"])
def test_what_no_backdrop_is_called_is_not_found(wren: Api, yard: str, path: str) -> None:
    assert wren.client.get(f"{_root(wren, yard)}backdrops/{path}").status_code == 404


def test_a_field_that_no_request_has_is_refused(wren: Api, yard: str) -> None:
    for path, body in (
        ("acts", {"acts": LINK, "colour": "#000"}),
        ("acts", {"acts": [{**LINK[0], "values": {}}]}),
        ("searches", {"search": "fix-all", "thorough": True}),
        ("release", {"live_number": None, "force": True}),
    ):
        answer = wren.post(f"/sites/{yard}/{path}", {"base": wren.base(yard), **body})
        assert answer.status_code == 422, (path, body, answer.json())
