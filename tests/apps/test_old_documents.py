"""Studies written before roles and coats: worked on, undone through the lift, released, gone back to."""

from __future__ import annotations

import json
import re

import pytest

from glaucon.apps.releases.models import Release, ReleaseFile
from glaucon.apps.sites.blobs import put_blob
from glaucon.apps.studies.models import Revision
from glaucon.apps.studies.models import Study as StudyRow
from tests.apps.conftest import Api
from tests.core.test_study_format import old


def _as_it_was(format_: int) -> Revision:
    """Put a document of an old format, with a changed background, under a site's only study."""
    document = old(format_)
    for role in document["roles"]:
        if role["name"] == "background":
            role["value"] = "#202a26"
    row = StudyRow.objects.get()
    assert row.current is not None
    kept = Revision.objects.create(study=row, number=2, base=row.current, document=document, what="Background changed")
    row.current = kept
    row.save()
    return kept


@pytest.mark.parametrize("format_", [1, 2])
def test_undo_through_the_lift(wren: Api, yard: str, format_: int) -> None:
    _as_it_was(format_)
    lifted = wren.get(f"/sites/{yard}/study").json()
    assert lifted["number"] == 2 and _value(lifted, "background") == "#202a26"
    changed = wren.post(f"/sites/{yard}/study", {"base": 2, "values": {"link": "#123456"}}).json()
    assert (_value(changed, "link"), _value(changed, "background")) == ("#123456", "#202a26")
    undone = wren.post(f"/sites/{yard}/undo", {"base": 3}).json()
    assert undone["roles"] == lifted["roles"] and undone["reading"] == lifted["reading"]
    start = wren.post(f"/sites/{yard}/undo", {"base": 2}).json()
    assert _value(start, "background") == "#fbf7ef"
    assert wren.post(f"/sites/{yard}/redo", {"base": 1}).json()["roles"] == lifted["roles"]
    # what is stored is never rewritten: the old document is as it was
    assert Revision.objects.get(number=2).document["format"] == format_
    assert json.loads(json.dumps(Revision.objects.get(number=3).document))["format"] == 3


@pytest.mark.parametrize("format_", [1, 2])
def test_a_release_made_before_serves_and_is_gone_back_to(wren: Api, yard: str, format_: int) -> None:
    """Its bytes were made by the code of then and are kept; only its colours are read from its document."""
    kept = _as_it_was(format_)
    wren.post(f"/sites/{yard}/release", {"base": 2})
    made = Release.objects.get(number=1)
    assert made.revision == kept
    # the names that the code of then gave its custom properties
    page = ReleaseFile.objects.get(release=made, path=made.stylesheet)
    page.blob = put_blob(b":root { --gl-ground-1: #14342b; --gl-background: #202a26 }")
    page.save()
    later = wren.post(f"/sites/{yard}/study", {"base": 2, "values": {"background": "#ffeedd"}}).json()
    plan = wren.post(f"/sites/{yard}/release", {"base": later["number"]}).json()
    assert [one["live"] for one in plan["releases"]] == [True, False, False]
    assert "#202a26" in plan["releases"][1]["colours"]
    back = wren.post(f"/sites/{yard}/releases/1/live").json()
    assert [change["role"] for change in back["changes"]] == ["background"]
    home = wren.client.get(f"/live/{yard}/").content.decode()
    sheet = re.search(r'href="(glaucon-[0-9a-f]{12}\.css)"', home)
    assert sheet is not None
    assert "--gl-ground-1: #14342b" in wren.client.get(f"/live/{yard}/{sheet[1]}").content.decode()


def _value(revision: dict[str, object], id_: str) -> str:
    roles = revision["roles"]
    assert isinstance(roles, list)
    return str(next(role["value"] for role in roles if role["id"] == id_))
