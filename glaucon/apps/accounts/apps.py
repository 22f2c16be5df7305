"""The accounts application."""

from django.apps import AppConfig


class AccountsConfig(AppConfig):
    """Configuration of accounts."""

    name = "glaucon.apps.accounts"
    label = "glaucon_accounts"
