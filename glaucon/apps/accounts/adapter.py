"""How accounts by django-allauth are Glaucon's: letters in its own words, links to its own screens."""

from __future__ import annotations

from typing import Any

from allauth.account.adapter import DefaultAccountAdapter
from allauth.mfa.adapter import DefaultMFAAdapter
from django.http import HttpRequest


class AccountAdapter(DefaultAccountAdapter):
    """Django-allauth's, with subjects as they are written."""

    error_messages = {
        **DefaultAccountAdapter.error_messages,
        "email_password_mismatch": "That address and password do not go together. Try again, or set a new password.",
        "too_many_login_attempts": "That was tried too often. Wait ten minutes and try again.",
        "incorrect_code": "That is not the code of this moment. Type the one that your app shows now.",
        "incorrect_password": "That is not your password. Type it again.",
        "enter_current_password": "That is not your password now. Type it again.",
        "invalid_password_reset": "This page does not hold any more. Ask for another letter.",
        "email_taken": "Another account has this address already. Sign in with it instead.",
        "unverified_primary_email": "Confirm your address first: a letter is on its way.",
    }

    def format_email_subject(self, subject: str) -> str:
        return subject

    def get_client_ip(self, request: HttpRequest) -> str:
        # worked out by `proxies` already
        return str(request.META.get("REMOTE_ADDR", ""))

    def send_mail(self, template_prefix: str, email: str, context: dict[str, Any]) -> None:
        host = self.request.get_host() if self.request is not None else "Glaucon"
        super().send_mail(template_prefix, email, {**context, "host": host})


class SecondStepAdapter(DefaultMFAAdapter):
    """Django-allauth's second step, in Glaucon's words."""

    error_messages = {
        **DefaultMFAAdapter.error_messages,
        "incorrect_code": "That is not the code of this moment. Type the one that your app shows now.",
        "add_email_blocked": "Take the second step away before you change your address.",
        "unverified_email": "Confirm your address before you set up a second step.",
    }

    def get_public_key_credential_rp_entity(self) -> dict[str, str]:
        return {**super().get_public_key_credential_rp_entity(), "name": "Glaucon"}
