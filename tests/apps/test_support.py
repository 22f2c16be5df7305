"""Django's admin for support: who is let in, and that nothing of a site's contents is there."""

from __future__ import annotations

from typing import Any

import pytest
from allauth.mfa.models import Authenticator
from django.test import Client

from glaucon.apps.accounts.models import Quota
from glaucon.apps.work import queue
from glaucon.apps.work.models import Work
from glaucon.operating import admin
from tests.apps.conftest import Api

PAGES = ("", "auth/user/", "glaucon_accounts/quota/", "glaucon_sites/site/", "glaucon_sites/job/", "glaucon_work/work/")


@pytest.fixture
def helper(stranger: Api, capsys: Any) -> Client:
    """Return the browser of somebody who helps owners."""
    assert admin.main(["staff", "stranger"]) == 0
    Authenticator.objects.create(user=stranger.user, type=Authenticator.Type.TOTP, data={})
    return stranger.client


def test_only_those_named_with_a_second_step_are_let_in(wren: Api, stranger: Api, helper: Client) -> None:
    for page in PAGES:
        assert Client().get(f"/admin/{page}")["Location"].startswith(("/sign-in?to=", "/admin/login/"))
        led = wren.client.get(f"/admin/{page}", follow=True)
        assert led.status_code == 403 and "second step" in led.content.decode()
        assert helper.get(f"/admin/{page}").status_code == 200, page
    assert Client().get("/admin/login/")["Location"] == "/sign-in?to=/admin/"
    Authenticator.objects.all().delete()
    assert helper.get("/admin/auth/user/", follow=True).status_code == 403
    assert admin.main(["staff", "stranger", "--no"]) == 0
    assert helper.get("/admin/", follow=True).status_code == 403


def test_nothing_of_a_site_is_there_and_owners_are_helped(wren: Api, yard: str, helper: Client) -> None:
    wren.colour(yard, {"link": "#0b3c7a"})
    wren.release(yard)
    site = wren.user.sites.get()
    pages = [f"/admin/{page}" for page in PAGES]
    pages += [f"/admin/glaucon_sites/site/{site.pk}/change/", f"/admin/auth/user/{wren.user.pk}/change/"]
    said = "".join(helper.get(page).content.decode() for page in pages)
    assert yard in said and "wren" in said
    for secret in ("prices.html", "#0b3c7a", "Slow water", "--gl-", "css/site.css", site.content):
        assert secret not in said, secret
    for model in ("glaucon_sites/sitefile", "glaucon_studies/revision", "glaucon_releases/release", "sessions/session"):
        assert helper.get(f"/admin/{model}/").status_code == 404
    # sites can neither be changed nor deleted there
    assert helper.post(f"/admin/glaucon_sites/site/{site.pk}/change/", {"slug": "x"}).status_code == 403
    assert helper.post(f"/admin/glaucon_sites/site/{site.pk}/delete/", {"post": "yes"}).status_code == 403
    helper.post("/admin/glaucon_accounts/quota/add/", {"owner": wren.user.pk, "sites": 3, "mb": 40})
    assert Quota.objects.get(owner=wren.user).sites == 3
    work = queue.add(wren.user, "x", {})
    helper.post("/admin/glaucon_work/work/", {"action": "stop", "_selected_action": [work.pk]})
    assert Work.objects.get(pk=work.pk).state == Work.State.CANCELLED
    helper.post(f"/admin/auth/user/{wren.user.pk}/change/", {"is_staff": "on"})
    wren.user.refresh_from_db()
    assert (wren.user.is_active, wren.user.is_staff, wren.user.is_superuser) == (False, False, False)
    assert wren.get("/sites").status_code == 401
