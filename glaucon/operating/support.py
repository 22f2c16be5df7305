"""Django's admin for support staff: owners, their limits, bring-ins and works. It shows no contents of sites."""

from __future__ import annotations

from typing import Any
from urllib.parse import quote

from allauth.mfa.adapter import get_adapter
from django.contrib.admin import AdminSite, ModelAdmin
from django.contrib.auth import get_user_model
from django.db.models import Model
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect

from glaucon.apps.accounts.models import Quota
from glaucon.apps.sites.models import Job, Site
from glaucon.apps.sites.room import taken_by
from glaucon.apps.work import queue
from glaucon.apps.work.models import Work

AT = "/admin/"


class SupportSite(AdminSite):  # type: ignore[misc]
    """Lets in those whom `glaucon-admin staff` has named and who sign in with a second step."""

    site_header = site_title = "Glaucon, support"
    index_title = "Owners and works"
    site_url = "/"

    def has_permission(self, request: HttpRequest) -> bool:
        user = request.user
        return bool(user.is_active and user.is_staff and get_adapter().is_mfa_enabled(user))

    def login(self, request: HttpRequest, extra_context: dict[str, Any] | None = None) -> HttpResponse:
        """Lead to the one place where people sign in: no second form that asks for less."""
        if request.user.is_authenticated:
            said = "This is for those who help owners here, with a second step or a passkey at their sign-in."
            return HttpResponse(said, status=403, content_type="text/plain; charset=utf-8")
        return HttpResponseRedirect(f"/sign-in?to={quote(AT)}")


class _Looked(ModelAdmin):  # type: ignore[misc]
    """A list to look at."""

    actions: Any = None
    list_per_page = 50

    def get_readonly_fields(self, request: HttpRequest, obj: Model | None = None) -> list[str]:
        return [name for name in self.fields or () if name not in self.changed]

    changed: tuple[str, ...] = ()

    def has_module_permission(self, request: HttpRequest) -> bool:
        return True

    def has_view_permission(self, request: HttpRequest, obj: Model | None = None) -> bool:
        return True

    def has_change_permission(self, request: HttpRequest, obj: Model | None = None) -> bool:
        return bool(self.changed)

    def has_add_permission(self, request: HttpRequest) -> bool:
        return False

    def has_delete_permission(self, request: HttpRequest, obj: Model | None = None) -> bool:
        return False


class OwnerAdmin(_Looked):
    """Owners: signed in when, with how much; kept out or let in again."""

    list_display = ("username", "email", "date_joined", "last_login", "is_active", "taken")
    search_fields = ("username", "email")
    fields = ("username", "email", "date_joined", "last_login", "is_active", "taken")
    changed = ("is_active",)

    def taken(self, user: Any) -> str:
        """Return how many sites, and how many MB."""
        has = taken_by(user)
        return f"{has.sites}, {has.bytes / 1e6:.1f}"


class QuotaAdmin(_Looked):
    """What one owner may have."""

    list_display = ("owner", "sites", "mb", "releases", "works_an_hour")
    search_fields = ("owner__username", "owner__email")
    autocomplete_fields = ("owner",)
    fields = changed = ("owner", "sites", "mb", "releases", "works_an_hour")

    def has_add_permission(self, request: HttpRequest) -> bool:
        return True

    def has_delete_permission(self, request: HttpRequest, obj: Model | None = None) -> bool:
        return True


class SiteAdmin(_Looked):
    """Sites by their names alone."""

    list_display = ("slug", "owner", "brought_in", "is_away", "deleted")
    search_fields = ("slug", "owner__username", "owner__email")
    fields = ("slug", "owner", "brought_in", "is_away", "deleted")


class JobAdmin(_Looked):
    """Bring-ins: how far, and how they ended."""

    list_display = ("started", "owner", "state", "doing", "done", "total", "message")
    list_filter = ("state",)
    fields = ("started", "owner", "state", "doing", "done", "total", "message")


class WorkAdmin(_Looked):
    """Heavy work that waits or runs, which can be stopped."""

    list_display = ("asked", "owner", "call", "state", "is_long", "is_outside")
    list_filter = ("state",)
    fields = ("asked", "owner", "call", "state", "is_long", "is_outside")
    actions = ("stop",)

    def stop(self, request: HttpRequest, works: Any) -> None:
        """Cancel what was chosen."""
        for work in works:
            queue.cancel(work)


support = SupportSite(name="admin")
for model, kind in (
    (get_user_model(), OwnerAdmin), (Quota, QuotaAdmin), (Site, SiteAdmin), (Job, JobAdmin), (Work, WorkAdmin),
):  # fmt: skip
    support.register(model, kind)
