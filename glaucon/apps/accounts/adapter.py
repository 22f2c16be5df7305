"""How accounts by django-allauth are Glaucon's: letters in its own words, links to its own screens."""

from __future__ import annotations

from typing import Any

from allauth.account.adapter import DefaultAccountAdapter
from django.http import HttpRequest


class AccountAdapter(DefaultAccountAdapter):
    """Django-allauth's, with subjects as they are written."""

    def format_email_subject(self, subject: str) -> str:
        return subject

    def get_client_ip(self, request: HttpRequest) -> str:
        # worked out by `proxies` already
        return str(request.META.get("REMOTE_ADDR", ""))

    def send_mail(self, template_prefix: str, email: str, context: dict[str, Any]) -> None:
        host = self.request.get_host() if self.request is not None else "Glaucon"
        super().send_mail(template_prefix, email, {**context, "host": host})
