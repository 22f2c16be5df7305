"""Whole sites: called otherwise, copied, put away, deleted with 30 days to think; what is swept up with time."""

from __future__ import annotations

from datetime import timedelta
from pathlib import Path

import pytest
from django.core.cache import cache
from django.db import connection
from django.utils import timezone

from glaucon.apps.bringing import sweeping
from glaucon.apps.sites.models import Site
from glaucon.apps.studies.models import Revision
from tests.apps.conftest import Api


def _shelf(api: Api) -> list[str]:
    return sorted(one["slug"] for one in api.get("/sites").json())


def test_renamed_copied_and_put_away(wren: Api, yard: str) -> None:
    wren.colour(yard, {"text": "#123456"})
    wren.release(yard)
    assert wren.post(f"/sites/{yard}/name", {"name": "  Top   lock "}).json()["name"] == "Top lock"
    assert wren.post(f"/sites/{yard}/name", {"name": " "}).status_code == 422
    made = wren.post(f"/sites/{yard}/copy").json()
    assert (made["name"], made["slug"], made["live_since"]) == ("Top lock, copy", "top-lock-copy", None)
    roles = {role["id"]: role["value"] for role in wren.get(f"/sites/{made['slug']}/study").json()["roles"]}
    assert roles["text"] == "#123456"
    # the two go their own ways
    wren.colour(made["slug"], {"text": "#654321"})
    assert wren.get(f"/sites/{yard}/study").json()["roles"] != wren.get(f"/sites/{made['slug']}/study").json()["roles"]
    assert wren.post(f"/sites/{made['slug']}/away", {"is_away": True}).json()["is_away"] is True
    assert _shelf(wren) == [yard, "top-lock-copy"]


def test_a_deleted_site_can_be_taken_back_for_thirty_days(wren: Api, stranger: Api, yard: str) -> None:
    wren.colour(yard, {"text": "#123456"})
    wren.release(yard)
    assert wren.delete(f"/sites/{yard}").status_code == 204
    assert _shelf(wren) == [] and wren.get(f"/sites/{yard}").status_code == 404
    assert wren.client.get(f"/live/{yard}/").status_code == 404
    assert [one["slug"] for one in wren.get("/gone").json()] == [yard] and stranger.get("/gone").json() == []
    # nobody gets its address meanwhile, and nobody else gets it back
    assert Site.objects.free_slug("Otterlock") == f"{yard}-2"
    assert stranger.post(f"/gone/{yard}/back").status_code == 404
    assert stranger.delete(f"/gone/{yard}").status_code == 404
    assert wren.post(f"/gone/{yard}/back").status_code == 204
    assert "glaucon-" in wren.client.get(f"/live/{yard}/").content.decode()
    wren.delete(f"/sites/{yard}")
    Site.objects.update(deleted=timezone.now() - timedelta(days=29))
    sweeping.sweep()
    assert Site.objects.count() == 1
    Site.objects.update(deleted=timezone.now() - timedelta(days=31))
    sweeping.sweep()
    assert Site.objects.count() == 0 and wren.post(f"/gone/{yard}/back").status_code == 404


@pytest.mark.parametrize("age", [timedelta(days=1), timedelta(days=40)], ids=["lately", "long ago"])
def test_old_revisions_are_thinned_and_undo_leads_past_them(
    wren: Api, yard: str, age: timedelta, otterlock: Path
) -> None:
    study = Site.objects.get(slug=yard).studies.get()
    first = study.current
    assert first is not None
    base, many = first, sweeping.LAST + 60
    start = timezone.now().replace(minute=0) - age
    for number in range(2, many + 2):
        base = Revision.objects.create(study=study, number=number, base=base, document=first.document, what=str(number))
        Revision.objects.filter(pk=base.pk).update(made=start + timedelta(minutes=10 * number))
    study.current = base
    study.save()
    gone = sweeping.thin(study)
    # of the 61 before the last 200, one an hour stays, later one a day; and the first
    kept = list(study.revisions.values_list("number", flat=True))
    last = list(range(many + 2 - sweeping.LAST, many + 2))
    assert gone == many + 1 - len(kept) and kept[0] == 1 and kept[-sweeping.LAST :] == last
    assert (len(kept) - sweeping.LAST) in (range(9, 15) if age.days == 1 else range(2, 5))
    base, walked = Revision.objects.get(pk=base.pk), 1
    while base.base is not None:
        base, walked = base.base, walked + 1
    assert walked == len(kept) and base.number == 1
    assert sweeping.thin(study) == 0


def test_counters_that_are_over_are_swept_up(wren: Api) -> None:
    cache.clear()
    cache.set("over", 1, 1)
    cache.set("holds", 1, 600)
    with connection.cursor() as cursor:
        past = (timezone.now() - timedelta(hours=1)).replace(tzinfo=None)
        cursor.execute("UPDATE glaucon_cache SET expires = %s WHERE cache_key LIKE '%%over'", [past])
        sweeping.sweep()
        cursor.execute("SELECT cache_key FROM glaucon_cache")
        assert [row[0].rpartition(":")[2] for row in cursor.fetchall()] == ["holds"]
