"""The sites application."""

from django.apps import AppConfig


class SitesConfig(AppConfig):
    """Configuration of sites."""

    name = "glaucon.apps.sites"
    label = "glaucon_sites"
